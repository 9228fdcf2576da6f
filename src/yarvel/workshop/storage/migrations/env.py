"""Run migrations in the transaction that the caller has begun; nothing is kept unless the caller keeps it all."""

from alembic import context

connection = context.config.attributes["connection"]
context.configure(
    connection=connection,
    render_as_batch=connection.dialect.name == "sqlite",
    transactional_ddl=True,
    transaction_per_migration=False,
)
with context.begin_transaction():
    context.run_migrations()
