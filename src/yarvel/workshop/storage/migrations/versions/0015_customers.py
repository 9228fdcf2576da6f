"""Records of customers, only ever added to; dockets are found by whose they are."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

_CHECKS = {
    "customers_name": "name <> ''",
    "customers_kind": "kind IN ('', 'shop', 'person')",
}


def upgrade() -> None:
    """A table that nobody has filled yet, and an index; all that is there stays as it is."""
    op.create_table(
        "customers",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("by", sa.Text(), nullable=False, server_default=""),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False, server_default=""),
        sa.Column("contact", sa.Text(), nullable=False, server_default=""),
        sa.Column("terms", sa.Text(), nullable=False, server_default=""),
        sa.Column("note", sa.Text(), nullable=False, server_default=""),
        sa.Column("other_names", sa.JSON(), nullable=False, server_default="[]"),
        sa.Column("gone", sa.Boolean(), nullable=False, server_default=sa.false()),
        *(sa.CheckConstraint(text, name=name) for name, text in _CHECKS.items()),
    )
    op.create_index("customers_by_key", "customers", ["key", "id"])
    on_file = op.get_context().dialect.name == "sqlite"
    # what is written as a customer may be longer than a tree of a server takes
    columns = ["customer", "withdrawn", "state", "updated_at"] if on_file else ["customer"]
    op.create_index("dockets_by_customer", "dockets", columns, postgresql_using="hash")
    if on_file:
        for act in ("UPDATE", "DELETE"):
            op.execute(
                sa.text(
                    f"CREATE TRIGGER customers_never_{act.lower()} BEFORE {act} ON customers BEGIN "
                    "SELECT RAISE(ABORT, 'the history is never altered'); END"
                )
            )
    else:
        for statement in (
            "CREATE TRIGGER customers_never BEFORE UPDATE OR DELETE ON customers FOR EACH ROW "
            "EXECUTE FUNCTION yarvel_never()",
            "CREATE TRIGGER customers_signed BEFORE INSERT ON customers FOR EACH ROW EXECUTE FUNCTION yarvel_signed()",
            "CREATE TRIGGER customers_told AFTER INSERT ON customers FOR EACH STATEMENT EXECUTE FUNCTION yarvel_tell()",
        ):
            op.execute(sa.text(statement))
