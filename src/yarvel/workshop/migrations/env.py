"""Run migrations on the store that the caller names."""

from alembic import context
from sqlalchemy import URL, create_engine

from yarvel.workshop.schema import Base

engine = create_engine(URL.create("sqlite", database=str(context.config.attributes["path"])))
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
