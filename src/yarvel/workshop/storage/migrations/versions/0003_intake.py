"""Dockets in full: what is taken in, who did what, photographs, claw charts, measured checks."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name in (
        "customer_kind",
        "metal",
        "mark",
        "reported",
        "condition",
        "earlier_number",
        "released_by",
        "release_reason",
    ):
        op.add_column("dockets", sa.Column(name, sa.Text(), nullable=False, server_default=""))
    op.add_column("dockets", sa.Column("weight_in_g", sa.Float(), nullable=True))
    for name in ("claw_chart", "measured"):
        op.add_column("dockets", sa.Column(name, sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("changes", sa.Column("by", sa.Text(), nullable=False, server_default=""))
    op.create_table(
        "photographs",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("docket_id", sa.Integer(), sa.ForeignKey("dockets.id"), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("caption", sa.Text(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
    )
    op.create_index("photographs_by_docket", "photographs", ["docket_id", "id"])
