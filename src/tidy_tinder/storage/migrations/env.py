"""Alembic's entry: runs on the connection that storage.layout.migrate opened."""

from alembic import context

from tidy_tinder.storage.models import Base

context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
with context.begin_transaction():
    context.run_migrations()
