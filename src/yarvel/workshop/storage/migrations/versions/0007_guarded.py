"""The store guards itself: checks on what may stand in it, secrets apart, who signed what; what breaks a check is
mended or put aside first, never dropped."""

import base64
import hashlib
import json
from datetime import UTC, datetime
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

_STATES = "'taken in', 'planned', 'in work', 'checking', 'ready', 'handed over', 'on hold'"
_KINDS = "'issued', 'returned', 'offcuts', 'filings', 'used', 'bought', 'sent to refiner', 'counted'"
_STOCK = "'head', 'bur', 'wire', 'sheet', 'tube', 'solder', 'plate'"
_ROLES = "'front desk', 'bench', 'lead', 'owner'"
_ALLOYS = ("18k-yellow", "18k-white", "14k-yellow", "9k-yellow", "sterling-silver", "platinum-950", "palladium-950")
_KEPT = ("changes", "photographs", "fine_entries")
_MEASURES = ("size_mm", "claw_mm", "opening_mm", "height_mm", "wall_mm")
_MASS = "mass_g <> 0 AND mass_g <= 20000 AND (mass_g > 0 OR (kind = 'counted' AND mass_g >= -20000))"
_NUMBER = {
    "sqlite": "number GLOB '[0-9][0-9]-[0-9][0-9][0-9][0-9]*' AND number NOT GLOB '*[^0-9/-]*' "
    "AND length(number) <= 15",
    "postgresql": "number ~ '^[0-9]{2}-[0-9]{4,8}(/[0-9]{1,3})?$'",
}


def _between(name: str, low: str, high: str) -> str:
    return f"({name} IS NULL OR ({name} >= {low} AND {name} <= {high}))"


def _time(name: str) -> str:
    """A time as SQLite keeps it, as text; PostgreSQL knows times itself."""
    return f"({name} IS NULL OR {name} GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9] [0-9][0-9]:[0-9][0-9]:*')"


def _checks(dialect: str) -> dict[str, dict[str, str]]:
    found = {
        "dockets": {
            "number": _NUMBER[dialect],
            "state": f"state IN ({_STATES})",
            "customer_kind": "customer_kind IN ('', 'shop', 'person')",
            "weight": _between("weight_in_g", "0", "100000"),
            "price": _between("stones_price", "0", "1000000000"),
        },
        "changes": {"field": "field <> ''"},
        "people": {"name": "name <> ''", "role": f"role IN ({_ROLES})"},
        "tasks": {
            "state": "state IN ('open', 'started', 'done')",
            "minutes": "standard_minutes >= 0 AND standard_minutes <= 100000",
            "operation": "operation <> ''",
        },
        "task_times": {"order": "stopped_at IS NULL OR stopped_at >= started_at"},
        "fine_entries": {"kind": f"kind IN ({_KINDS})", "mass": _MASS},
        "stock_items": {
            "kind": f"kind IN ({_STOCK})",
            "code": "length(code) <= 200",
            "claws": _between("claws", "1", "24"),
            "quantity": _between("quantity", "0", "1000000000"),
            "price": _between("price", "0", "1000000000"),
            "sizes": " AND ".join(_between(name, "0", "1000") for name in _MEASURES),
        },
    }
    if dialect == "sqlite":
        times = {
            "dockets": ("created_at", "updated_at"),
            "changes": ("at",),
            "tasks": ("dropped_at",),
            "task_times": ("started_at", "stopped_at"),
            "fine_entries": ("at",),
            "stock_items": ("added_at", "removed_at"),
        }
        for table, names in times.items():
            found[table]["times"] = " AND ".join(_time(name) for name in names)
    return found


def _breaking(dialect: str) -> list[tuple[str, str, str, str]]:
    """Table, what is wrong in SQL, in words, and how a row of that ``id`` is mended; "" puts it aside."""
    checks = _checks(dialect)

    def no(table: str, name: str) -> str:
        return f"NOT COALESCE(({checks[table][name]}), {'0' if dialect == 'sqlite' else 'FALSE'})"

    def orphan(name: str, of: str) -> str:
        return f"{name} IS NOT NULL AND {name} NOT IN (SELECT id FROM {of})"

    rows = [
        ("tasks", orphan("docket_id", "dockets"), "of no docket", ""),
        ("tasks", orphan("person_id", "people"), "of nobody", "person_id = NULL"),
        ("tasks", no("tasks", "state"), "a state that does not exist", "state = 'open'"),
        ("tasks", no("tasks", "minutes"), "minutes that cannot be", "standard_minutes = 0"),
        ("tasks", no("tasks", "operation"), "no operation", "operation = '?'"),
        ("task_times", orphan("task_id", "tasks"), "of no task", ""),
        ("task_times", orphan("person_id", "people"), "of nobody", ""),
        ("task_times", no("task_times", "order"), "stopped before it was started", "stopped_at = started_at"),
        ("changes", orphan("docket_id", "dockets"), "of no docket", ""),
        ("changes", no("changes", "field"), "of no field", "field = '?'"),
        ("photographs", orphan("docket_id", "dockets"), "of no docket", ""),
        ("fine_entries", orphan("person_id", "people"), "of nobody", "person_id = NULL"),
        ("fine_entries", orphan("docket_id", "dockets"), "of no docket", "docket_id = NULL"),
        ("fine_entries", "alloy NOT IN (SELECT key FROM alloys)", "an alloy that does not exist", ""),
        ("fine_entries", no("fine_entries", "kind"), "a kind that does not exist", ""),
        ("fine_entries", no("fine_entries", "mass"), "a mass that cannot be", ""),
        ("dockets", no("dockets", "state"), "a state that does not exist", "state = 'on hold'"),
        ("dockets", no("dockets", "customer_kind"), "a customer of no kind", "customer_kind = ''"),
        ("dockets", no("dockets", "weight"), "a weight that cannot be", "weight_in_g = NULL"),
        ("dockets", no("dockets", "price"), "a price that cannot be", "stones_price = NULL"),
        ("people", no("people", "role"), "a role that does not exist", "role = 'bench'"),
        ("people", no("people", "name"), "no name", "name = 'Nobody ' || id"),
        ("stock_items", no("stock_items", "kind"), "a kind that does not exist", ""),
        ("stock_items", no("stock_items", "code"), "a code too long", "code = substr(code, 1, 200)"),
        ("stock_items", no("stock_items", "claws"), "claws that cannot be", "claws = NULL"),
        ("stock_items", no("stock_items", "quantity"), "a quantity that cannot be", "quantity = NULL"),
        ("stock_items", no("stock_items", "price"), "a price that cannot be", "price = NULL"),
    ]
    rows += [
        ("stock_items", f"NOT {_between(name, '0', '1000')}", f"{name} that cannot be", f"{name} = NULL")
        for name in _MEASURES
    ]
    if dialect == "sqlite":
        now = "strftime('%Y-%m-%d %H:%M:%S.000000', 'now')"
        rows += [
            ("dockets", no("dockets", "times"), "a time that is none", f"created_at = {now}, updated_at = {now}"),
            ("tasks", no("tasks", "times"), "a time that is none", f"dropped_at = {now}"),
            ("stock_items", no("stock_items", "times"), "a time that is none", f"added_at = {now}, removed_at = NULL"),
        ]
        rows += [
            (table, no(table, "times"), "a time that is none", "")
            for table in ("task_times", "changes", "fine_entries")
        ]
    return rows


def upgrade() -> None:
    bind = op.get_bind()
    dialect = bind.dialect.name
    _new_tables()
    _unlock(dialect)
    _mend(bind, dialect)
    _mend_numbers(bind, dialect)
    _pins_apart(bind)
    for table, checks in _checks(dialect).items():
        with op.batch_alter_table(table) as batch:
            for name, text in checks.items():
                batch.create_check_constraint(f"{table}_{name}", sa.text(text))
            if table == "fine_entries":
                batch.create_foreign_key("fine_entries_alloy_fkey", "alloys", ["alloy"], ["key"])
            if table == "people":
                for name in ("pin_hash", "wrong_pins", "locked_until"):
                    batch.drop_column(name)
    op.create_index("fine_entries_by_alloy", "fine_entries", ["alloy", "at"])
    op.create_index("tasks_in_work", "tasks", ["state", "dropped_at", "docket_id"])
    op.create_index("dockets_by_state", "dockets", ["state", "promised_on"])
    op.create_index("dockets_by_creation", "dockets", ["created_at"])
    for statement in _file_triggers() if dialect == "sqlite" else _server_guards():
        op.execute(sa.text(statement))


def _new_tables() -> None:
    alloys = op.create_table("alloys", sa.Column("key", sa.Text(), primary_key=True))
    op.bulk_insert(alloys, [{"key": key} for key in _ALLOYS])
    op.create_table(
        "put_aside",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("at", sa.DateTime(), nullable=False, server_default=sa.func.current_timestamp()),
        sa.Column("table_name", sa.Text(), nullable=False),
        sa.Column("row_id", sa.Integer(), nullable=False),
        sa.Column("why", sa.Text(), nullable=False),
        sa.Column("done", sa.Text(), nullable=False),
        sa.Column("held", sa.JSON(), nullable=False),
    )
    op.add_column("people", sa.Column("pin_salt", sa.Text(), nullable=False, server_default=""))
    op.add_column("people", sa.Column("database_role", sa.Text(), nullable=False, server_default=""))
    op.create_table(
        "pins",
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("people.id"), primary_key=True, autoincrement=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("wrong", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("tried_at", sa.DateTime(), nullable=True),
        sa.Column("locked_until", sa.DateTime(), nullable=True),
    )
    op.create_table(
        "sessions",
        sa.Column("token_digest", sa.Text(), primary_key=True),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("people.id"), nullable=False),
        sa.Column("since", sa.DateTime(), nullable=False),
    )


def _unlock(dialect: str) -> None:
    """What is never altered is opened for the mending; it is closed again at the end of this very transaction."""
    for table in _KEPT:
        if dialect == "sqlite":
            for act in ("update", "delete"):
                op.execute(sa.text(f"DROP TRIGGER {table}_never_{act}"))
        else:
            op.execute(sa.text(f"DROP TRIGGER {table}_never ON {table}"))


def _mend(bind: sa.Connection, dialect: str) -> None:
    aside = sa.table(
        "put_aside",
        *(sa.column(name) for name in ("table_name", "row_id", "why", "done")),
        sa.column("held", sa.JSON()),
    )
    for table, wrong, why, mended in _breaking(dialect):
        found = [dict(row) for row in bind.execute(sa.text(f"SELECT * FROM {table} WHERE {wrong}")).mappings()]
        for row in found:
            done = f"mended: {mended}" if mended else "put aside"
            held = json.loads(
                json.dumps({name: value for name, value in row.items() if name != "pin_hash"}, default=_plain)
            )
            bind.execute(
                sa.insert(aside).values(table_name=table, row_id=row["id"], why=why, done=done, held=_finite(held))
            )
            if mended:
                bind.execute(sa.text(f"UPDATE {table} SET {mended} WHERE id = :id"), {"id": row["id"]})
            else:
                bind.execute(sa.text(f"DELETE FROM {table} WHERE id = :id"), {"id": row["id"]})


def _finite(held: Any) -> Any:
    """JSON knows no NaN: it stands as a word."""
    if isinstance(held, dict):
        return {name: _finite(value) for name, value in held.items()}
    if isinstance(held, float) and not abs(held) < float("inf"):
        return str(held)
    return held


def _plain(value: Any) -> str:
    if isinstance(value, bytes | memoryview):
        return base64.b64encode(bytes(value)).decode()
    return str(value)


def _mend_numbers(bind: sa.Connection, dialect: str) -> None:
    """A docket whose number is none gets one of the year 00, and its history says which it had."""
    wrong = f"SELECT id, number FROM dockets WHERE NOT ({_NUMBER[dialect]})"
    changes = sa.table(
        "changes",
        *(sa.column(name) for name in ("docket_id", "by", "field")),
        sa.column("at", sa.DateTime()),
        *(sa.column(name, sa.JSON()) for name in ("before", "after")),
    )
    for count, (docket_id, number) in enumerate(bind.execute(sa.text(wrong)).fetchall(), start=1):
        made = f"00-{docket_id:04d}" if docket_id < 10**8 else f"00-{count:04d}"
        bind.execute(
            sa.text("UPDATE dockets SET number = :made, words = words || :word WHERE id = :id"),
            {"made": made, "word": f" {made}", "id": docket_id},
        )
        line = {"docket_id": docket_id, "at": datetime.now(UTC).replace(tzinfo=None), "by": "Yarvel", "field": "number"}
        bind.execute(sa.insert(changes).values(**line, before=number, after=made))


def _pins_apart(bind: sa.Connection) -> None:
    """Each PIN stays what it was: the salt can be read, of the secret only a digest is kept, elsewhere."""
    rows = bind.execute(sa.text("SELECT id, pin_hash FROM people WHERE pin_hash <> ''")).fetchall()
    for person_id, hashed in rows:
        parts = hashed.split("$")
        if len(parts) != 6:
            continue  # no hash that this program ever made: whoever had it gets a new PIN of the owner
        raw = base64.b64decode(parts[5] + "=" * (-len(parts[5]) % 4))
        bind.execute(
            sa.text("UPDATE people SET pin_salt = :salt WHERE id = :id"),
            {"salt": "$".join(parts[1:5]), "id": person_id},
        )
        bind.execute(
            sa.text("INSERT INTO pins (person_id, digest) VALUES (:id, :digest)"),
            {"id": person_id, "digest": hashlib.sha256(raw.hex().encode()).hexdigest()},
        )


def _file_triggers() -> list[str]:
    made = [
        "INSERT INTO docket_words(docket_words) VALUES ('rebuild')",
        "CREATE TRIGGER dockets_words_added AFTER INSERT ON dockets BEGIN "
        "INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END",
        "CREATE TRIGGER dockets_words_changed AFTER UPDATE OF words ON dockets BEGIN "
        "INSERT INTO docket_words(docket_words, rowid, words) VALUES ('delete', old.id, old.words); "
        "INSERT INTO docket_words(rowid, words) VALUES (new.id, new.words); END",
    ]
    for table in (*_KEPT, "put_aside"):
        for act in ("UPDATE", "DELETE"):
            made.append(
                f"CREATE TRIGGER {table}_never_{act.lower()} BEFORE {act} ON {table} BEGIN "
                f"SELECT RAISE(ABORT, 'the history is never altered'); END"
            )
    return made


_DEFINER = "LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS"


def _server_guards() -> list[str]:
    kept = [
        f"CREATE TRIGGER {table}_never BEFORE UPDATE OR DELETE ON {table} FOR EACH ROW EXECUTE FUNCTION yarvel_never()"
        for table in (*_KEPT, "put_aside")
    ]
    signed = [
        f"CREATE TRIGGER {table}_signed BEFORE INSERT ON {table} FOR EACH ROW EXECUTE FUNCTION yarvel_signed()"
        for table in _KEPT
    ]
    made = [*kept, *_who_functions(), *_pin_functions(), *_signing_functions(), *signed]
    return [statement.replace(":", "\\:") for statement in made]


def _who_functions() -> list[str]:
    return [
        # Who a window says it is, by the token that signing in gave it; or by the role of the database it came as.
        "CREATE FUNCTION yarvel_me() RETURNS integer LANGUAGE sql STABLE SECURITY DEFINER "
        "SET search_path = public, pg_temp AS $$ SELECT COALESCE("
        "(SELECT id FROM people WHERE database_role <> '' AND database_role = session_user AND left_at IS NULL), "
        "(SELECT s.person_id FROM sessions s JOIN people p ON p.id = s.person_id WHERE p.left_at IS NULL "
        "AND s.since > localtimestamp - interval '14 days' AND s.token_digest = "
        "encode(sha256(convert_to(COALESCE(current_setting('yarvel.token', true), ''), 'UTF8')), 'hex'))) $$",
        f"CREATE FUNCTION yarvel_wanted() RETURNS boolean {_DEFINER} $$ BEGIN "
        "RETURN EXISTS (SELECT 1 FROM pins p JOIN people w ON w.id = p.person_id WHERE w.left_at IS NULL); END $$",
    ]


def _pin_functions() -> list[str]:
    return [
        # Compares, counts and locks by the server's clock; what is wrong is an answer, so that the count is kept.
        f"CREATE FUNCTION yarvel_proved(who integer, proof text) RETURNS text {_DEFINER} $$ "
        "DECLARE held pins%ROWTYPE; BEGIN "
        "SELECT * INTO held FROM pins WHERE person_id = who FOR UPDATE; "
        "IF NOT FOUND THEN RETURN 'wrong'; END IF; "
        "IF held.locked_until > localtimestamp THEN "
        "RETURN 'locked ' || ceil(extract(epoch FROM held.locked_until - localtimestamp))::text; END IF; "
        "IF held.digest = encode(sha256(convert_to(proof, 'UTF8')), 'hex') THEN "
        "UPDATE pins SET wrong = 0, locked_until = NULL, tried_at = localtimestamp WHERE person_id = who; "
        "RETURN 'right'; END IF; "
        "UPDATE pins SET wrong = CASE WHEN held.wrong >= 4 THEN 0 ELSE held.wrong + 1 END, "
        "tried_at = localtimestamp, "
        "locked_until = CASE WHEN held.wrong >= 4 THEN localtimestamp + interval '5 minutes' END "
        "WHERE person_id = who; "
        "RETURN CASE WHEN held.wrong >= 4 THEN 'locked 300' ELSE 'wrong' END; END $$",
        f"CREATE FUNCTION yarvel_sign_in(who integer, proof text, token text) RETURNS text {_DEFINER} $$ "
        "DECLARE said text; BEGIN said := yarvel_proved(who, proof); "
        "IF said = 'right' THEN "
        "DELETE FROM sessions WHERE since < localtimestamp - interval '14 days'; "
        "INSERT INTO sessions (token_digest, person_id, since) VALUES "
        "(encode(sha256(convert_to(token, 'UTF8')), 'hex'), who, localtimestamp); END IF; "
        "RETURN said; END $$",
        f"CREATE FUNCTION yarvel_set_pin(who integer, salt text, proof text, old text) RETURNS text {_DEFINER} $$ "
        "DECLARE me integer := yarvel_me(); mine text; theirs text; said text; BEGIN "
        "SELECT role INTO mine FROM people WHERE id = me; SELECT role INTO theirs FROM people WHERE id = who; "
        "IF theirs IS NULL THEN RETURN 'nobody'; END IF; "
        "IF NOT yarvel_wanted() THEN "
        "IF theirs <> 'owner' THEN RETURN 'first'; END IF; "
        "ELSIF me IS NULL THEN RETURN 'unsigned'; "
        "ELSIF mine <> 'owner' THEN "
        "IF me <> who THEN RETURN 'not allowed'; END IF; "
        "said := yarvel_proved(who, old); IF said <> 'right' THEN RETURN said; END IF; END IF; "
        "INSERT INTO pins (person_id, digest) VALUES (who, encode(sha256(convert_to(proof, 'UTF8')), 'hex')) "
        "ON CONFLICT (person_id) DO UPDATE SET digest = EXCLUDED.digest, wrong = 0, locked_until = NULL; "
        "UPDATE people SET pin_salt = salt WHERE id = who; "
        "DELETE FROM sessions WHERE person_id = who AND me IS DISTINCT FROM who; RETURN 'right'; END $$",
        f"CREATE FUNCTION yarvel_drop_pin(who integer) RETURNS text {_DEFINER} $$ "
        "DECLARE mine text; BEGIN SELECT role INTO mine FROM people WHERE id = yarvel_me(); "
        "IF yarvel_wanted() AND mine IS DISTINCT FROM 'owner' THEN RETURN 'not allowed'; END IF; "
        "DELETE FROM pins WHERE person_id = who; DELETE FROM sessions WHERE person_id = who; "
        "UPDATE people SET pin_salt = '' WHERE id = who; RETURN 'right'; END $$",
    ]


def _signing_functions() -> list[str]:
    return [
        # Not SECURITY DEFINER: whose statement it is, is the question. The owner's own (moving, migrating) are theirs.
        "CREATE FUNCTION yarvel_owns() RETURNS boolean LANGUAGE sql STABLE AS $$ SELECT current_user = "
        "(SELECT tableowner FROM pg_tables WHERE schemaname = 'public' AND tablename = 'people') "
        "OR (SELECT rolsuper FROM pg_roles WHERE rolname = current_user) $$",
        "CREATE FUNCTION yarvel_signed() RETURNS trigger LANGUAGE plpgsql AS $$ DECLARE name text; BEGIN "
        "IF yarvel_owns() OR NOT yarvel_wanted() THEN RETURN NEW; END IF; "
        "SELECT people.name INTO name FROM people WHERE id = yarvel_me(); "
        "IF name IS NULL THEN RAISE EXCEPTION 'nobody is signed in'; END IF; "
        'IF NEW."by" = name OR NEW."by" LIKE \'%, brought in by \' || name THEN RETURN NEW; END IF; '
        "RAISE EXCEPTION 'signed as %, by %', NEW.\"by\", name; END $$",
        "CREATE FUNCTION yarvel_people() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN "
        "IF yarvel_owns() OR NOT yarvel_wanted() OR EXISTS "
        "(SELECT 1 FROM people WHERE id = yarvel_me() AND role = 'owner') THEN RETURN NEW; END IF; "
        "RAISE EXCEPTION 'people are changed by an owner'; END $$",
        "CREATE TRIGGER people_guarded BEFORE INSERT OR UPDATE ON people FOR EACH ROW EXECUTE FUNCTION yarvel_people()",
    ]
