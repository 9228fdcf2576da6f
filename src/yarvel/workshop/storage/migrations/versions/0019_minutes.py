"""What a task really took, where somebody corrected its clock: minutes up to a moment."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """No task is corrected yet."""
    op.add_column("tasks", sa.Column("corrected_minutes", sa.Float()))
    op.add_column("tasks", sa.Column("corrected_at", sa.DateTime()))
