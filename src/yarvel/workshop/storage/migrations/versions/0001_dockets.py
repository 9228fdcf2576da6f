"""Dockets, their history, and settings."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "dockets",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("number", sa.String(20), nullable=False, unique=True),
        sa.Column("customer", sa.Text(), nullable=False),
        sa.Column("item", sa.Text(), nullable=False),
        sa.Column("promised_on", sa.Date(), nullable=True),
        sa.Column("state", sa.String(20), nullable=False),
        sa.Column("job_document", sa.JSON(), nullable=False),
        sa.Column("drafts", sa.JSON(), nullable=False),
        sa.Column("ticks", sa.JSON(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("updated_at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "changes",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("docket_id", sa.Integer(), sa.ForeignKey("dockets.id"), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("field", sa.String(40), nullable=False),
        sa.Column("before", sa.JSON(), nullable=False),
        sa.Column("after", sa.JSON(), nullable=False),
    )
    op.create_index("changes_by_docket", "changes", ["docket_id", "id"])
    op.create_table(
        "settings",
        sa.Column("name", sa.String(40), primary_key=True),
        sa.Column("value", sa.JSON(), nullable=False),
    )
