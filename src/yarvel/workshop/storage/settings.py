"""Settings in the store: documents by name, and of what several people change a row for each thing, by kind and key.

Two who change two things both have them stand; of two who change one thing from one sight of it the second is asked.
"""

from __future__ import annotations

from typing import Any

from msgspec import UNSET, UnsetType
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.schema import ActRow, EffectRow, SettingRow

HOURS, HOLIDAYS, OWN_HOURS, FORMER_HOURS, ERRANDS, STATIONS, ABSENCES, TOGETHER, PACE, CUSTOMERS_TOLD = (
    "hours",
    "holidays",
    "own_hours",
    "former_hours",
    "errands",
    "stations",
    "absences",
    "done_together",
    "pace",
    "told_to_look_again",
)
"""Kinds of settings that are rows: one for each weekday, day, person, way out, station, absence, task, part of the work
and docket."""
FORMER_DOCUMENTS = frozenset(
    {HOURS, OWN_HOURS, FORMER_HOURS, ERRANDS, STATIONS, ABSENCES, TOGETHER, PACE, CUSTOMERS_TOLD}
) | {"day_plan"}
"""Names of what was one document up to layout 0020 (``day_plan``: up to 0019)."""
RULES, RULES_UNREAD, IDENTITY = "house_rules", "house_rules_unread", "store_id"
"""Settings that are one document each."""


def document(session: Session, name: str) -> dict[str, Any]:
    """The document kept under a name; an empty one where none is."""
    row = session.get(SettingRow, name)
    return dict(row.value) if row is not None and isinstance(row.value, dict) else {}


def document_to_change(session: Session, name: str) -> dict[str, Any]:
    """The same, to be changed in this transaction: whoever else changes it waits until this one is over, and goes on
    from what it left."""
    _wait_for(session, name)
    row = session.get(SettingRow, name, populate_existing=True)
    return dict(row.value) if row is not None and isinstance(row.value, dict) else {}


def entries(session: Session, kind: str) -> dict[str, Any]:
    """What is kept of a kind, by key; what was taken out again is not there."""
    query = select(SettingRow).where(SettingRow.name.startswith(f"{kind}/", autoescape=True)).order_by(SettingRow.name)
    return {row.name.partition("/")[2]: row.value for row in session.scalars(query) if row.value is not None}


def entry_to_change(session: Session, kind: str, key: str) -> Any:
    """What is kept under a key (None: nothing), to be changed in this transaction: whoever else changes it waits."""
    name = f"{kind}/{key}"
    _wait_for(session, name)
    row = session.get(SettingRow, name, populate_existing=True)
    return None if row is None else row.value


def keep_entry(
    session: Session,
    kind: str,
    key: str,
    value: Any,
    seen: Any | UnsetType = UNSET,
    what: str = "",
    usual: Any = None,
) -> bool:
    """Have this be kept under a key (None: nothing any more); whether that changes anything. ``seen`` is what stood
    there when it was looked at, ``what`` its name in words, ``usual`` what counts where nothing is kept.

    Raises
    ------
    StoreError : somebody else has changed it since it was seen, and not to this; with who that was.
    """
    held = entry_to_change(session, kind, key)
    held = usual if held is None else held
    if held == value:
        return False
    if seen is not UNSET and held != seen:
        last, mine = _changed_by(session, f"{kind}/{key}"), _author(session)
        if last != mine:  # nobody clashes with themselves
            raise StoreError(
                f"{what or f'{kind} {key}'}: changed meanwhile by {last or 'somebody else'}: look again, then change "
                "what should be otherwise"
            )
    session.merge(SettingRow(name=f"{kind}/{key}", value=value))
    return True


def alone(session: Session, kind: str) -> None:
    """Whoever else asks for this kind waits until this transaction is over: for what is counted up."""
    _wait_for(session, kind)


def _wait_for(session: Session, name: str) -> None:
    if session.get_bind().dialect.name == "postgresql":  # a file has one writer at a time anyhow
        session.execute(text("SELECT pg_advisory_xact_lock(hashtext(:name))"), {"name": f"yarvel setting {name}"})


def _changed_by(session: Session, name: str) -> str | None:
    """Whose act the last change of a setting was; None where nobody wrote it down."""
    query = (
        select(ActRow.by)
        .join(EffectRow, EffectRow.act == ActRow.id)
        .where(EffectRow.table_name == SettingRow.__tablename__, EffectRow.row_key == name)
        .order_by(EffectRow.id.desc())
    )
    return session.scalars(query.limit(1)).first()


def _author(session: Session) -> str:
    return session.scalars(select(ActRow.by).where(ActRow.id == session.info.get("act", ""))).first() or ""
