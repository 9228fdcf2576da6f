"""The drawer."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "stock_items",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("code", sa.Text(), nullable=False),
        sa.Column("metal", sa.Text(), nullable=False),
        sa.Column("size_mm", sa.Float(), nullable=True),
        sa.Column("claws", sa.Integer(), nullable=True),
        sa.Column("claw_mm", sa.Float(), nullable=True),
        sa.Column("opening_mm", sa.Float(), nullable=True),
        sa.Column("height_mm", sa.Float(), nullable=True),
        sa.Column("wall_mm", sa.Float(), nullable=True),
        sa.Column("shape", sa.Text(), nullable=False),
        sa.Column("grade", sa.Text(), nullable=False),
        sa.Column("quantity", sa.Float(), nullable=True),
        sa.Column("price", sa.Float(), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
    )
    op.create_index("stock_items_in_use", "stock_items", ["removed_at", "kind"])
