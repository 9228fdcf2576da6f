"""What a docket comes to beside its work: outside work, a deposit, and the price that was approved."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Columns that nobody has filled yet; all that is there stays as it is."""
    op.add_column("dockets", sa.Column("outside_price", sa.Float(), nullable=True))
    op.add_column("dockets", sa.Column("deposit", sa.Float(), nullable=True))
    op.add_column("dockets", sa.Column("approved", sa.JSON(), nullable=False, server_default="{}"))
