"""Settings that several people change are a row for each thing; what was written before acts had names gets an act of
its own, made from what stands there, so that every copy of a store gets the same."""

import hashlib
import json

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None

_BY_KEY = ("own_hours", "former_hours", "errands", "stations", "absences", "pace", "told_to_look_again")
"""Documents that were one row, a key for each thing."""
_WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
_LINES = (("changes", "docket_id"), ("photographs", "id"), ("fine_entries", "id"), ("customers", "id"))
"""What has lines of before, and what tells the acts of one moment apart: an edit wrote several lines of a docket."""

_INSERT, _UPDATE = 4, 16
"""Bits of a trigger's type in PostgreSQL's catalogue (pg_trigger.h)."""


def upgrade() -> None:
    """What is there stays; it only gets names."""
    _split_settings()
    on_file = op.get_bind().dialect.name == "sqlite"
    opened = _opened_on_file() if on_file else _opened_on_server()
    _name_lines(on_file)
    for statement in opened:
        op.execute(sa.text(statement.replace(":", "\\:")))


def _split_settings() -> None:
    connection = op.get_bind()
    table = sa.table("settings", sa.column("name", sa.String()), sa.column("value", sa.JSON()))

    def put(kind: str, values: dict) -> None:
        rows = [{"name": f"{kind}/{key}", "value": value} for key, value in values.items() if value is not None]
        if rows:
            connection.execute(table.insert(), rows)

    def taken(name: str) -> dict:
        value = connection.execute(sa.select(table.c.value).where(table.c.name == name)).scalar()
        connection.execute(table.delete().where(table.c.name == name))
        held = json.loads(value) if isinstance(value, str) else value
        return held if isinstance(held, dict) else {}

    for kind in _BY_KEY:
        put(kind, taken(kind))
    hours = taken("hours")
    week = hours.get("week")
    put("hours", dict(zip(_WEEKDAYS, week, strict=True)) if isinstance(week, list) and len(week) == 7 else {})
    put("holidays", {str(day): True for day in hours.get("holidays") or ()})
    groups = taken("done_together").values()
    put("done_together", {str(task): str(min(group)) for group in groups if len(group) > 1 for task in group})


def _opened_on_file() -> list[str]:
    """Lines that are never altered are opened for their names; returns what closes them again."""
    closing = []
    for table, _key in _LINES:
        query = sa.text(
            "SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND tbl_name = :table ORDER BY rowid"
        )
        for name, sql in op.get_bind().execute(query, {"table": table}).all():
            if "UPDATE" in sql.split("BEGIN")[0]:
                op.execute(sa.text(f'DROP TRIGGER "{name}"'))
                closing.append(sql)
    return closing


def _opened_on_server() -> list[str]:
    """The same; and what looks at every act that is added lets those of before pass."""
    closing = []
    query = sa.text(
        "SELECT tgname, pg_get_triggerdef(oid) FROM pg_trigger WHERE NOT tgisinternal AND tgtype & :events <> 0 "
        "AND tgrelid = CAST(:table AS regclass) ORDER BY tgname"
    )
    for table, events in (*((table, _UPDATE) for table, _key in _LINES), ("acts", _INSERT)):
        for name, statement in op.get_bind().execute(query, {"table": table, "events": events}).all():
            op.execute(sa.text(f"DROP TRIGGER {name} ON {table}"))
            closing.append(statement)
    return closing


def _named(*parts: object) -> str:
    """A name made from what stands there (UUID of version 8, RFC 9562): the MD5 of it, as the server makes it."""
    digest = hashlib.md5("|".join(map(str, parts)).encode(), usedforsecurity=False).hexdigest()
    return f"{digest[:8]}-{digest[8:12]}-8{digest[13:16]}-8{digest[17:20]}-{digest[20:]}"


_ON_SERVER = (
    "regexp_replace(md5('{table}|' || {key} || '|' || to_char(at, 'YYYY-MM-DD HH24:MI:SS.US') || '|' || \"by\"), "
    "'^(.{{8}})(.{{4}}).(.{{3}}).(.{{3}})', '\\1-\\2-8\\3-8\\4-')"
)
_ACTS = """
INSERT INTO acts (seq, id, deed, stored_at, "by")
SELECT row_number() OVER (ORDER BY at, act) - count(*) OVER (), act, 'before acts had names', at, "by"
FROM (SELECT act, min(at) AS at, min("by") AS "by" FROM ({lines}) AS lines
      WHERE substr(act, 15, 1) = '8' GROUP BY act) AS made
"""
"""They are counted backwards from nought: before all that have a name of their own."""


def _name_lines(on_file: bool) -> None:
    connection = op.get_bind()
    if on_file:
        driver = connection.connection.driver_connection
        driver.create_function("named_by", 4, _named, deterministic=True)  # type: ignore[union-attr]
    for table, key in _LINES:
        if on_file:
            made = f"named_by('{table}', {key}, at, \"by\")"
            connection.exec_driver_sql(f"UPDATE {table} SET act = {made} WHERE act = ''")
            continue
        made = _ON_SERVER.format(table=table, key=key)
        connection.exec_driver_sql(  # the table is written anew once, its indices with it: a third of an UPDATE's time
            f"ALTER TABLE {table} ALTER COLUMN act TYPE varchar(36) USING CASE WHEN act = '' THEN {made} ELSE act END"
        )
    lines = " UNION ALL ".join(f'SELECT act, at, "by" FROM {table}' for table, _key in _LINES)
    connection.exec_driver_sql(_ACTS.format(lines=lines))
