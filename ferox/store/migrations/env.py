"""Alembic's entry: migrate over the connection that Ferox opened."""

from alembic import context

from ferox.store.tables import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
with context.begin_transaction():
    context.run_migrations()
