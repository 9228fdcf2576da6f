"""Each thing done has a name of its own, and stands in the store once; a month that is signed off is sealed; the
server's clock is no window's to set."""

import json
import time
from datetime import UTC, datetime

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

_NAMED = ("changes", "fine_entries", "photographs", "customers")
_DEFINER = "LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp"
_NOW = "(clock_timestamp() AT TIME ZONE 'UTC')"


def upgrade() -> None:
    """A table that nobody has filled yet, and a column beside what it names; all that is there stays as it is."""
    on_file = op.get_context().dialect.name == "sqlite"
    op.create_table(
        "acts",
        sa.Column("seq", sa.Integer() if on_file else sa.BigInteger(), sa.Identity(), primary_key=True),
        sa.Column("id", sa.String(36), nullable=False, unique=True),
        sa.Column("deed", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False, server_default=""),
        sa.Column("pressed_at", sa.DateTime(), nullable=True),
        sa.Column("stored_at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False, server_default=""),
        sa.Column("follows", sa.String(36), nullable=False, server_default=""),
        sa.CheckConstraint("length(id) = 36", name="acts_id"),
    )
    for table in _NAMED:
        op.add_column(table, sa.Column("act", sa.String(36), nullable=False, server_default=""))
    # a docket that was taken in is found by the act that took it in
    named = sa.text("act <> ''")
    op.create_index("changes_by_act", "changes", ["act"], sqlite_where=named, postgresql_where=named)
    _seals()
    if on_file:
        for table in ("acts", "month_seals"):
            for act in ("UPDATE", "DELETE"):
                op.execute(
                    sa.text(
                        f"CREATE TRIGGER {table}_never_{act.lower()} BEFORE {act} ON {table} BEGIN "
                        "SELECT RAISE(ABORT, 'the history is never altered'); END"
                    )
                )
        op.execute(
            sa.text(
                "CREATE TRIGGER fine_entries_sealed BEFORE INSERT ON fine_entries "
                "WHEN NEW.at < (SELECT max(until) FROM month_seals) BEGIN "
                "SELECT RAISE(ABORT, 'its month is signed off'); END"
            )
        )
        return
    for statement in (
        "CREATE TRIGGER acts_never BEFORE UPDATE OR DELETE ON acts FOR EACH ROW EXECUTE FUNCTION yarvel_never()",
        "CREATE TRIGGER acts_signed BEFORE INSERT ON acts FOR EACH ROW EXECUTE FUNCTION yarvel_signed()",
        "CREATE TRIGGER month_seals_never BEFORE UPDATE OR DELETE ON month_seals FOR EACH ROW "
        "EXECUTE FUNCTION yarvel_never()",
        "CREATE TRIGGER month_seals_signed BEFORE INSERT ON month_seals FOR EACH ROW EXECUTE FUNCTION yarvel_signed()",
        "CREATE FUNCTION yarvel_sealed() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN "
        "IF yarvel_owns() OR NOT EXISTS (SELECT 1 FROM month_seals WHERE until > NEW.at) THEN RETURN NEW; END IF; "
        "RAISE EXCEPTION 'its month is signed off'; END $$",
        "CREATE TRIGGER fine_entries_sealed BEFORE INSERT ON fine_entries FOR EACH ROW "
        "EXECUTE FUNCTION yarvel_sealed()",
        *_functions(),
    ):
        op.execute(sa.text(statement.replace(":", "\\:")))


def _seals() -> None:
    """A row for each month that is signed off, in their order. Those of before have neither sums nor digest: what was
    in them then, nobody wrote down; they say so."""
    op.create_table(
        "month_seals",
        sa.Column("month", sa.String(7), primary_key=True),
        sa.Column("until", sa.DateTime(), nullable=False),
        sa.Column("zone", sa.Text(), nullable=False, server_default=""),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False, server_default=""),
        sa.Column("last_entry", sa.Integer(), sa.ForeignKey("fine_entries.id"), nullable=True),
        sa.Column("lines", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("sums", sa.JSON(), nullable=False, server_default="{}"),
        sa.Column("digest", sa.Text(), nullable=False, server_default=""),
        sa.Column("note", sa.Text(), nullable=False, server_default=""),
        sa.Column("act", sa.String(36), nullable=False, server_default=""),
    )
    connection = op.get_bind()
    held = connection.execute(sa.text("SELECT value FROM settings WHERE name = 'closed_months'")).scalar()
    months = json.loads(held) if isinstance(held, str) else held or {}
    seals = sa.table(
        "month_seals",
        *(sa.column(name) for name in ("month", "zone", "by", "note")),
        sa.column("until", sa.DateTime()),
        sa.column("at", sa.DateTime()),
    )
    for month in sorted(months):
        year, number = (int(part) for part in month.split("-"))
        signed = datetime.fromisoformat(str(months[month].get("on") or f"{month}-01"))
        connection.execute(
            seals.insert().values(
                month=month,
                until=_utc(datetime(year + number // 12, number % 12 + 1, 1)),
                zone=time.tzname[0],
                at=_utc(signed),
                by=str(months[month].get("by", "")),
                note="signed off before months were sealed, as it stood",
            )
        )


def _utc(moment: datetime) -> datetime:
    """A moment of this machine's wall as it is kept."""
    return moment.astimezone(UTC).replace(tzinfo=None)


def _functions() -> list[str]:
    """Those of 0007 that read a clock, by UTC: ``localtimestamp`` follows the zone that a window sets for itself, and
    with it a lock could be had open, and a token old. Zones of before are forgotten with the locks and tokens."""
    return [
        "UPDATE pins SET wrong = 0, locked_until = NULL",
        f"UPDATE sessions SET since = {_NOW} WHERE since > {_NOW}",
        "CREATE OR REPLACE FUNCTION yarvel_me() RETURNS integer LANGUAGE sql STABLE SECURITY DEFINER "
        "SET search_path = public, pg_temp AS $$ SELECT COALESCE("
        "(SELECT id FROM people WHERE database_role <> '' AND database_role = session_user AND left_at IS NULL), "
        "(SELECT s.person_id FROM sessions s JOIN people p ON p.id = s.person_id WHERE p.left_at IS NULL "
        "AND s.since > (now() AT TIME ZONE 'UTC') - interval '14 days' AND s.token_digest = "
        "encode(sha256(convert_to(COALESCE(current_setting('yarvel.token', true), ''), 'UTF8')), 'hex'))) $$",
        f"CREATE OR REPLACE FUNCTION yarvel_proved(who integer, proof text) RETURNS text {_DEFINER} AS $$ "
        f"DECLARE held pins%ROWTYPE; moment timestamp := {_NOW}; BEGIN "
        "SELECT * INTO held FROM pins WHERE person_id = who FOR UPDATE; "
        "IF NOT FOUND THEN RETURN 'wrong'; END IF; "
        "IF held.locked_until > moment THEN "
        "RETURN 'locked ' || ceil(extract(epoch FROM held.locked_until - moment))::text; END IF; "
        "IF held.digest = encode(sha256(convert_to(proof, 'UTF8')), 'hex') THEN "
        "UPDATE pins SET wrong = 0, locked_until = NULL, tried_at = moment WHERE person_id = who; "
        "RETURN 'right'; END IF; "
        "UPDATE pins SET wrong = CASE WHEN held.wrong >= 4 THEN 0 ELSE held.wrong + 1 END, tried_at = moment, "
        "locked_until = CASE WHEN held.wrong >= 4 THEN moment + interval '5 minutes' END WHERE person_id = who; "
        "RETURN CASE WHEN held.wrong >= 4 THEN 'locked 300' ELSE 'wrong' END; END $$",
        f"CREATE OR REPLACE FUNCTION yarvel_sign_in(who integer, proof text, token text) RETURNS text {_DEFINER} AS $$ "
        f"DECLARE said text; moment timestamp := {_NOW}; BEGIN said := yarvel_proved(who, proof); "
        "IF said = 'right' THEN "
        "DELETE FROM sessions WHERE since < moment - interval '14 days'; "
        "INSERT INTO sessions (token_digest, person_id, since) VALUES "
        "(encode(sha256(convert_to(token, 'UTF8')), 'hex'), who, moment); END IF; "
        "RETURN said; END $$",
    ]
