"""For a team: PINs, found words in an index, history that nothing alters, changes told to other windows; prices."""

from collections.abc import Iterator, Mapping
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

_KEPT = ("changes", "photographs", "fine_entries")
_TOLD = ("dockets", "tasks", "task_times", "people", "fine_entries", "stock_items", "settings", "photographs")


def upgrade() -> None:
    on_server = op.get_bind().dialect.name == "postgresql"
    op.add_column("dockets", sa.Column("words", sa.Text(), nullable=False, server_default=""))
    op.add_column("dockets", sa.Column("stones_price", sa.Float(), nullable=True))
    op.add_column("dockets", sa.Column("estimate", sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("people", sa.Column("pin_hash", sa.Text(), nullable=False, server_default=""))
    op.add_column("people", sa.Column("wrong_pins", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("people", sa.Column("locked_until", sa.DateTime(), nullable=True))
    op.add_column("tasks", sa.Column("ticks", sa.JSON(), nullable=False, server_default="[]"))
    op.create_index("dockets_by_change", "dockets", ["updated_at", "id"])
    _fill_words()
    for statement in _server_statements() if on_server else _file_statements():
        op.execute(sa.text(statement))


def _fill_words() -> None:
    dockets = sa.table(
        "dockets",
        *(
            sa.column(name)
            for name in ("id", "number", "customer", "item", "state", "metal", "mark", "reported", "words")
        ),
        sa.column("promised_on", sa.Date()),
        sa.column("job_document", sa.JSON()),
    )
    bind = op.get_bind()
    for row in bind.execute(sa.select(dockets)).mappings().all():
        bind.execute(sa.update(dockets).where(dockets.c.id == row["id"]).values(words=_words_of(row)))


def _words_of(docket: Mapping[str, Any]) -> str:
    """The words of this layout, as they were: a migration is frozen history."""
    columns = ("number", "customer", "item", "state", "metal", "mark", "reported")
    parts = [str(docket[name]) for name in columns if docket[name]]
    if docket["promised_on"] is not None:
        parts.append(docket["promised_on"].isoformat())
    parts += _leaves(docket["job_document"])
    return " ".join(" ".join(parts).casefold().split())[:4000]


def _leaves(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        for name, inner in value.items():
            if name != "format":
                yield from _leaves(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from _leaves(inner)
    elif isinstance(value, str):
        yield value
    elif isinstance(value, int | float) and not isinstance(value, bool):
        yield f"{value:g}"


def _file_statements() -> list[str]:
    # The index of words names its own triggers; colons are kept from being taken for parameters.
    made = [
        "CREATE VIRTUAL TABLE docket_words USING fts5(words, content='dockets', content_rowid='id', "
        "tokenize='trigram', detail='full')",
        "INSERT INTO docket_words(docket_words) VALUES ('rebuild')",
        "CREATE TRIGGER dockets_words_added AFTER INSERT ON dockets BEGIN "
        "INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END",
        "CREATE TRIGGER dockets_words_changed AFTER UPDATE OF words ON dockets BEGIN "
        "INSERT INTO docket_words(docket_words, rowid, words) VALUES ('delete', old.id, old.words); "
        "INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END",
    ]
    for table in _KEPT:
        for act in ("UPDATE", "DELETE"):
            made.append(
                f"CREATE TRIGGER {table}_never_{act.lower()} BEFORE {act} ON {table} BEGIN "
                f"SELECT RAISE(ABORT, 'the history is never altered'); END"
            )
    return made


def _server_statements() -> list[str]:
    made = [
        "CREATE EXTENSION IF NOT EXISTS pg_trgm",
        "CREATE INDEX dockets_by_words ON dockets USING gin (words gin_trgm_ops)",
        "CREATE INDEX dockets_by_number_start ON dockets (number text_pattern_ops)",
        "CREATE FUNCTION yarvel_never() RETURNS trigger LANGUAGE plpgsql AS "
        "$$ BEGIN RAISE EXCEPTION 'the history is never altered'; END $$",
        "CREATE FUNCTION yarvel_tell() RETURNS trigger LANGUAGE plpgsql AS "
        "$$ BEGIN PERFORM pg_notify('yarvel', TG_TABLE_NAME); RETURN NULL; END $$",
    ]
    made += [
        f"CREATE TRIGGER {table}_never BEFORE UPDATE OR DELETE ON {table} FOR EACH ROW EXECUTE FUNCTION yarvel_never()"
        for table in _KEPT
    ]
    made += [
        f"CREATE TRIGGER {table}_told AFTER INSERT OR UPDATE OR DELETE ON {table} FOR EACH STATEMENT "
        "EXECUTE FUNCTION yarvel_tell()"
        for table in _TOLD
    ]
    return made
