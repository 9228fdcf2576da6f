"""Ready mounts, bezels and lots in the drawer: a ring's inside and band, lengths, grams, whose it is."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_MEASURES = ("inside_mm", "width_mm", "thickness_mm", "length_mm", "mass_g")
_KINDS = "'head', 'mount', 'bezel', 'lot', 'bur', 'wire', 'sheet', 'tube', 'solder', 'plate'"


def upgrade() -> None:
    """Columns that nobody has filled yet, and more kinds than before; all that is there stays as it is."""
    with op.batch_alter_table("stock_items") as batch:
        batch.drop_constraint("stock_items_kind", type_="check")
        batch.create_check_constraint("stock_items_kind", sa.text(f"kind IN ({_KINDS})"))
        for name in _MEASURES:
            batch.add_column(sa.Column(name, sa.Float(), nullable=True))
        batch.add_column(sa.Column("owner", sa.Text(), nullable=False, server_default=""))
        measured = " AND ".join(f"({name} IS NULL OR ({name} >= 0 AND {name} <= 20000))" for name in _MEASURES)
        batch.create_check_constraint("stock_items_more_sizes", sa.text(measured))
