"""Ready mounts, bezels and lots in the drawer: a ring's inside and band, lengths, grams, whose it is. Lines of the fine
book that reverse one that was mistyped."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

_MEASURES = ("inside_mm", "width_mm", "thickness_mm", "length_mm", "mass_g")
_MASS = (
    "mass_g <> 0 AND mass_g >= -20000 AND mass_g <= 20000 AND (mass_g > 0 OR kind = 'counted' OR reverses IS NOT NULL)"
)
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
    with op.batch_alter_table("fine_entries") as batch:
        batch.drop_constraint("fine_entries_mass", type_="check")
        batch.add_column(sa.Column("reverses", sa.Integer(), nullable=True))
        batch.create_check_constraint("fine_entries_mass", sa.text(_MASS))
    op.create_index("fine_entries_reversed_once", "fine_entries", ["reverses"], unique=True)
    if op.get_context().dialect.name == "sqlite":  # a table that is made anew has lost its triggers
        for act in ("UPDATE", "DELETE"):
            op.execute(
                sa.text(
                    f"CREATE TRIGGER fine_entries_never_{act.lower()} BEFORE {act} ON fine_entries BEGIN "
                    "SELECT RAISE(ABORT, 'the history is never altered'); END"
                )
            )
