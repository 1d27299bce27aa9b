"""Alembic's entry: online only, with the address that the caller put into the settings.

MariaDB commits each change of a table by itself, so a migration that was killed has left some
of its steps behind. ``migration_begun`` remembers that; when migrations are run again, and
then only, a step that is found done is passed over. One at a time migrates.
"""

import os
from collections.abc import Iterator
from contextlib import contextmanager

from alembic import context
from alembic.ddl.mysql import MariaDBImpl
from sqlalchemy import Connection, create_engine, text
from sqlalchemy.exc import DBAPIError

from incudo.store.schema import Base

#: MariaDB's words for "that is so already": table, column, key, constraint, versioning there; gone.
DONE_ALREADY = {1050, 1060, 1061, 1091, 1051, 1826, 4135}
#: How long to wait for another one who migrates, in seconds.
PATIENCE = int(os.environ.get("INCUDO_MIGRATE_SECONDS", "300"))


class Guarded(MariaDBImpl):
    """Passes over what an interrupted run of the same migration had done."""

    __dialect__ = "mariadb"
    again = False

    def _exec(self, *args, **options):  # type: ignore[no-untyped-def]
        try:
            return super()._exec(*args, **options)
        except DBAPIError as error:
            if Guarded.again and error.orig is not None and error.orig.args[0] in DONE_ALREADY:
                return None
            raise


@contextmanager
def alone(connection: Connection) -> Iterator[None]:
    """Nobody else migrates meanwhile. A cluster knows no such lock: there the one who runs it sees to that."""
    if connection.scalar(text("SELECT @@wsrep_on")):
        yield
        return
    if not connection.scalar(text("SELECT GET_LOCK('incudo_migrate', :s)"), {"s": PATIENCE}):
        raise SystemExit(f"Another Incudo has been migrating this database for {PATIENCE} s; try again later.")
    try:
        yield
    finally:
        connection.rollback()
        connection.execute(text("DO RELEASE_LOCK('incudo_migrate')"))
        connection.commit()


def begin(connection: Connection) -> None:
    """Remember that migrations have begun, and whether earlier ones were interrupted."""
    connection.execute(text("SET system_versioning_alter_history = KEEP"))
    connection.execute(text("CREATE TABLE IF NOT EXISTS migration_begun (id INT PRIMARY KEY)"))
    Guarded.again = bool(connection.scalar(text("SELECT COUNT(*) FROM migration_begun")))
    connection.execute(text("REPLACE INTO migration_begun VALUES (1)"))
    connection.commit()


def end(connection: Connection) -> None:
    """All is done: a later migration passes over nothing."""
    connection.execute(text("DELETE FROM migration_begun"))
    connection.commit()


engine = create_engine(context.config.attributes["url"])
with engine.connect() as connection, alone(connection):
    begin(connection)
    context.configure(
        connection=connection,
        target_metadata=Base.metadata,
        include_name=lambda name, kind, _parents: kind != "table" or name != "migration_begun",
    )
    with context.begin_transaction():
        context.run_migrations()
    end(connection)
engine.dispose()
