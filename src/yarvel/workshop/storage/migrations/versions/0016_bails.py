"""Bought bails in the drawer: a kind beside those that there were."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

_KINDS = "'head', 'mount', 'bezel', 'bail', 'lot', 'bur', 'wire', 'sheet', 'tube', 'solder', 'plate'"


def upgrade() -> None:
    """One kind more; all that is there stays as it is."""
    with op.batch_alter_table("stock_items") as batch:
        batch.drop_constraint("stock_items_kind", type_="check")
        batch.create_check_constraint("stock_items_kind", sa.text(f"kind IN ({_KINDS})"))
