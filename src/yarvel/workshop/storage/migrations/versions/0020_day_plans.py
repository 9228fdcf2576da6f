"""Plans of the day as rows: each on top of the one that it was made from, with its cause."""

import json
import uuid

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

_UNNAMED = uuid.UUID("6f1d7c1e-0d0b-5c55-9a3e-0a6f1c2b7d20")
"""Where the names of plans that had none come from: every copy of a store gets the same."""


def upgrade() -> None:
    """The plan that stands becomes the first row; what was kept before it, nobody kept."""
    on_file = op.get_bind().dialect.name == "sqlite"
    op.create_table(
        "day_plans",
        sa.Column("seq", sa.Integer() if on_file else sa.BigInteger(), sa.Identity(), primary_key=True),
        sa.Column("id", sa.String(36), nullable=False, unique=True),
        sa.Column("replaces", sa.String(36), nullable=False, unique=True),
        sa.Column("cause", sa.Text(), nullable=False, server_default=""),
        sa.Column("after_act", sa.Integer() if on_file else sa.BigInteger(), nullable=False, server_default="0"),
        sa.Column("root", sa.String(36), nullable=False, server_default=""),
        sa.Column("root_before", sa.String(36), nullable=False, server_default=""),
        sa.Column("content", sa.JSON(), nullable=False, server_default="{}"),
        sa.Column("act", sa.String(36), nullable=False, server_default=""),
        sa.CheckConstraint("length(id) = 36", name="day_plans_id"),
    )
    connection = op.get_bind()
    value = connection.execute(sa.text("SELECT value FROM settings WHERE name = 'day_plan'")).scalar()
    held = json.loads(value) if isinstance(value, str) else value
    if isinstance(held, dict) and held.get("tasks"):
        named = str(held.get("id") or uuid.uuid5(_UNNAMED, json.dumps(held, sort_keys=True)))
        plans = sa.table(
            "day_plans",
            *(sa.column(name) for name in ("id", "replaces", "cause", "after_act", "root", "root_before")),
            sa.column("content", sa.JSON()),
        )
        connection.execute(
            plans.insert().values(
                id=named,
                replaces="",
                cause="",
                after_act=int(held.get("after") or 0),
                root=str(held.get("root") or ""),
                root_before=str(held.get("before") or ""),
                content={name: held[name] for name in ("on", "tasks", "minutes") if name in held},
            )
        )
    connection.execute(sa.text("DELETE FROM settings WHERE name = 'day_plan'"))
