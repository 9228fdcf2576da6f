"""Run migrations on the store that the caller names."""

from alembic import context
from sqlalchemy import URL, create_engine, text

from yarvel.workshop.schema import Base

location = context.config.attributes["location"]
engine = create_engine(location.url or URL.create("sqlite", database=str(location.path)))
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=not location.is_server)
    with context.begin_transaction():
        if location.is_server:
            connection.execute(text("SELECT pg_advisory_xact_lock(918273)"))  # two windows that start at once
        context.run_migrations()
engine.dispose()
