"""Alembic runs on the connection that open_engine hands over."""

from alembic import context

from yellowbath.store.tables import metadata

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=metadata)
with context.begin_transaction():
    context.run_migrations()
