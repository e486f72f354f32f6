"""Alembic's entry: runs on the engine that ``store.migrate`` hands over."""

from alembic import context

from kumpan.store.tables.base import Base

engine = context.config.attributes["engine"]
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
    connection.commit()
