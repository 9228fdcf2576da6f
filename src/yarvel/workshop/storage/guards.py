"""What a database holds itself to, whoever writes: nothing changes without an act that says so, and what an act came to
is written down by the database (``effects``; for dockets on a server, the history).

Put on anew after each change of the layout, from what the database has by then; a migration works without them. On a
server they also hold every window to the rights of the person whose token it shows (``touches``); its owner is free.
On a file they only write down: whoever can write the file can write past them.
"""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from yarvel.workshop.storage.settings import IDENTITY

if TYPE_CHECKING:
    from sqlalchemy import Connection

TOLD = ("tasks", "task_times", "settings", "stock_items", "people")
"""Tables of whose rows every change is written down as an effect."""
BEGUN = "dockets"
"""The table of whose rows it is written down with what they began: what becomes of them stands in their history."""
_LINES = ("changes", "photographs", "customers", "fine_entries", "month_seals")

WRITTEN = ("dockets", *TOLD, *_LINES, "alloys", "day_plans")
"""Tables in which windows write, and only with an act."""
SILENT_COLUMNS = ("id", "number", "version", "created_at", "updated_at", "words", "drafts", "estimate")
"""Columns of a docket whose becoming the history does not tell."""
DOCUMENT_COLUMNS = ("job_document", "claw_chart", "measured", "approved")
"""Columns of a docket of which the history tells what is different inside."""
SEVERAL = "edit"
"""The field of a line of history that tells several."""
_KEYS = {"settings": "name", "alloys": "key", "month_seals": "month"}
_PREFIX = "kept_by_act"


def put_on(connection: Connection) -> None:
    """Guard a database of the newest layout, in its transaction."""
    take_off(connection)
    made = _on_server(connection) if _is_server(connection) else _on_file(connection)
    driver: Any = connection.connection.driver_connection  # past what would take a percent sign for a parameter
    for statement in made:
        driver.execute(statement)


def take_off(connection: Connection) -> None:
    """Let a migration or a move work: nothing is written down of what it does."""
    if _is_server(connection):
        query = (
            "SELECT tgname, tgrelid::regclass::text FROM pg_trigger "
            f"WHERE NOT tgisinternal AND starts_with(tgname, '{_PREFIX}') ORDER BY 1, 2"
        )
        for name, table in connection.exec_driver_sql(query).fetchall():
            connection.exec_driver_sql(f"DROP TRIGGER {name} ON {table}")
        return
    query = f"SELECT name FROM sqlite_master WHERE type = 'trigger' AND name LIKE '{_PREFIX}%' ORDER BY name"
    for (name,) in connection.exec_driver_sql(query).fetchall():
        connection.exec_driver_sql(f'DROP TRIGGER "{name}"')


def _is_server(connection: Connection) -> bool:
    return connection.dialect.name == "postgresql"


# --- on a file -----------------------------------------------------------------------------------------------------


def _on_file(connection: Connection) -> list[str]:
    made = []
    for table in (*TOLD, BEGUN):
        columns = {
            row[1]: str(row[2]).upper() == "JSON"
            for row in connection.exec_driver_sql(f"PRAGMA table_info({table})")
            if table != BEGUN or row[1] not in SILENT_COLUMNS
        }
        key = _KEYS.get(table, "id")
        differs = " OR ".join(f'OLD."{name}" IS NOT NEW."{name}"' for name in columns)
        head = (
            "INSERT INTO effects (act, table_name, row_key, before, after) VALUES "
            f"(COALESCE((SELECT id FROM acts ORDER BY seq DESC LIMIT 1), ''), '{table}', NEW.{key}"
        )
        made.append(
            f"CREATE TRIGGER {_PREFIX}_{table}_insert AFTER INSERT ON {table} BEGIN {head}, 'null', "
            f"{_object('NEW', columns, always=True)}); END"
        )
        if table == BEGUN:
            continue
        made.append(
            f"CREATE TRIGGER {_PREFIX}_{table}_update AFTER UPDATE ON {table} WHEN {differs} BEGIN {head}, "
            f"{_object('OLD', columns)}, {_object('NEW', columns)}); END"
        )
    return made


def _object(side: str, columns: dict[str, bool], always: bool = False) -> str:
    """The columns that are different, as JSON; all of them where a row is new."""
    parts = []
    for name, is_json in columns.items():
        value = f"COALESCE({side}.\"{name}\", 'null')" if is_json else f'json_quote({side}."{name}")'
        where = "" if always else f' WHERE OLD."{name}" IS NOT NEW."{name}"'
        parts.append(f"SELECT '{name}' AS name, {value} AS held{where}")
    return f"(SELECT json_group_object(name, json(held)) FROM ({' UNION ALL '.join(parts)}))"


# --- on a server ---------------------------------------------------------------------------------------------------

_ROWS = {
    "acts": "yarvel_act_row",
    "dockets": "yarvel_docket_row",
    **dict.fromkeys(_LINES, "yarvel_line_row"),
}
"""What is set or refused row by row, before a table has it."""


def _on_server(connection: Connection) -> list[str]:
    columns = [
        name
        for (name,) in connection.exec_driver_sql(
            "SELECT column_name FROM information_schema.columns WHERE table_name = 'dockets' ORDER BY ordinal_position"
        )
        if name not in SILENT_COLUMNS
    ]
    lines = [*("job" if name == "job_document" else name for name in columns), SEVERAL]
    script = Path(__file__).with_suffix(".sql").read_text(encoding="utf-8")
    for name, words in (
        ("silent", SILENT_COLUMNS),
        ("documents", DOCUMENT_COLUMNS),
        ("told", TOLD),
        ("lines", lines),
    ):
        script = script.replace(f"{{{name}}}", ", ".join(f"'{word}'" for word in words))
    script = script.replace("{several}", SEVERAL).replace("{identity}", IDENTITY).replace("{begun}", BEGUN)
    made = [script]
    for table in WRITTEN:
        for event, seen in (("INSERT", "NEW TABLE AS fresh"), ("UPDATE", "OLD TABLE AS was NEW TABLE AS fresh")):
            made.append(
                f"CREATE TRIGGER {_PREFIX}_{event.lower()} AFTER {event} ON {table} REFERENCING {seen} "
                f"FOR EACH STATEMENT EXECUTE FUNCTION yarvel_kept_by_act('{_KEYS.get(table, 'id')}')"
            )
    made += [
        f"CREATE TRIGGER {_PREFIX}_row BEFORE INSERT{' OR UPDATE' if table == 'dockets' else ''} ON {table} "
        f"FOR EACH ROW EXECUTE FUNCTION {function}()"
        for table, function in _ROWS.items()
    ]
    made.append(
        f"CREATE CONSTRAINT TRIGGER {_PREFIX}_taken_in AFTER INSERT ON dockets DEFERRABLE INITIALLY DEFERRED "
        "FOR EACH ROW EXECUTE FUNCTION yarvel_taken_in()"
    )
    return made
