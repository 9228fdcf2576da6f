"""Ready mounts, bezels and lots in the drawer: a ring's inside and band, lengths, grams, whose it is."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_MEASURES = ("inside_mm", "width_mm", "thickness_mm", "length_mm", "mass_g")


def upgrade() -> None:
    """Columns that nobody has filled yet; all that is there stays as it is."""
    for name in _MEASURES:
        op.add_column("stock_items", sa.Column(name, sa.Float(), nullable=True))
    op.add_column("stock_items", sa.Column("owner", sa.Text(), nullable=False, server_default=""))
