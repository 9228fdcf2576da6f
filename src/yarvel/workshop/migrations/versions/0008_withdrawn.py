"""Dockets taken in by mistake: kept, with the reason, and out of every list."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("dockets", sa.Column("withdrawn", sa.Text(), nullable=False, server_default=""))
