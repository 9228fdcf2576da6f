"""The plan of the day: the station of a task, its wait without hands, where it is pinned; how pressing a docket is."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Columns that nobody has filled yet; all that is there stays as it is."""
    op.add_column("tasks", sa.Column("wait_minutes", sa.Float(), nullable=False, server_default="0"))
    op.add_column("tasks", sa.Column("station", sa.Text(), nullable=False, server_default=""))
    op.add_column("tasks", sa.Column("pinned_at", sa.DateTime(), nullable=True))
    op.add_column("dockets", sa.Column("importance", sa.Text(), nullable=False, server_default=""))
