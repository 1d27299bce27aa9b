"""Alembic's entry: online only, with the address that the caller put into the settings."""

from alembic import context
from sqlalchemy import create_engine, text

from incudo.store.schema import Base

engine = create_engine(context.config.attributes["url"])
with engine.connect() as connection:
    connection.execute(text("SET system_versioning_alter_history = KEEP"))
    connection.commit()
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
