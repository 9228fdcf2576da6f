"""Bought heads of every cut, as they are sold: width beside length, foot to tip, foot and rail, notched or not."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

_MEASURES = ("made_for_width_mm", "height_tip_mm", "foot_mm", "rail_mm", "label_ct")


def upgrade() -> None:
    """Columns that nobody has filled yet; all that is there stays as it is."""
    for name in _MEASURES:
        op.add_column("stock_items", sa.Column(name, sa.Float(), nullable=True))
    op.add_column("stock_items", sa.Column("cut", sa.Text(), nullable=False, server_default=""))
    op.add_column("stock_items", sa.Column("state", sa.Text(), nullable=False, server_default=""))
