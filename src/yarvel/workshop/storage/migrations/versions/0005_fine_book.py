"""The fine book: every gram of metal issued, returned, used and sent away."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "fine_entries",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("alloy", sa.Text(), nullable=False),
        sa.Column("mass_g", sa.Float(), nullable=False),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("people.id"), nullable=True),
        sa.Column("docket_id", sa.Integer(), sa.ForeignKey("dockets.id"), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
    )
    op.create_index("fine_entries_by_docket", "fine_entries", ["docket_id", "alloy"])
    op.create_index("fine_entries_by_person", "fine_entries", ["person_id", "alloy"])
    op.create_index("fine_entries_by_time", "fine_entries", ["at"])
