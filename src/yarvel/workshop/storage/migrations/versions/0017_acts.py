"""Each thing done has a name of its own, and stands in the store once; the server's clock is no window's to set."""

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
    if on_file:
        for act in ("UPDATE", "DELETE"):
            op.execute(
                sa.text(
                    f"CREATE TRIGGER acts_never_{act.lower()} BEFORE {act} ON acts BEGIN "
                    "SELECT RAISE(ABORT, 'the history is never altered'); END"
                )
            )
        return
    for statement in (
        "CREATE TRIGGER acts_never BEFORE UPDATE OR DELETE ON acts FOR EACH ROW EXECUTE FUNCTION yarvel_never()",
        "CREATE TRIGGER acts_signed BEFORE INSERT ON acts FOR EACH ROW EXECUTE FUNCTION yarvel_signed()",
        *_functions(),
    ):
        op.execute(sa.text(statement.replace(":", "\\:")))


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
