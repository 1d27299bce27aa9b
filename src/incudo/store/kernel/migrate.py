"""Bring a database to the newest schema and hold the application's account to its grants."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, create_engine, text

from incudo.store.schema import Base

_GRANTS = {
    "append": "SELECT, INSERT",
    "versioned": "SELECT, INSERT, UPDATE, DELETE",
    "working": "SELECT, INSERT, UPDATE, DELETE",
}


def alembic_config(url: str) -> Config:
    """Alembic's settings, without an ini file."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parents[1] / "migrations"))
    config.attributes["url"] = url
    return config


@dataclass(frozen=True)
class Migration:
    """One migration: its number and what it is for."""

    revision: str
    about: str


def revision_of(owner_url: str) -> str:
    """Which schema a database has; empty before its first."""
    engine = create_engine(owner_url)
    try:
        with engine.connect() as connection:
            return MigrationContext.configure(connection).get_current_revision() or ""
    finally:
        engine.dispose()


def steps_after(revision: str) -> tuple[Migration, ...]:
    """The migrations that a schema lacks, in their order. Raises ``LookupError`` for one of a newer Incudo."""
    steps = list(ScriptDirectory.from_config(alembic_config("")).walk_revisions())[::-1]
    known = [s.revision for s in steps]
    if revision and revision not in known:
        raise LookupError(revision)
    missing = steps[known.index(revision) + 1 :] if revision else steps
    return tuple(Migration(s.revision, (s.doc or "").strip()) for s in missing)


def migrate(owner_url: str, app_account: str) -> None:
    """Run all migrations as the owner, then grant the application exactly what it may do.

    ``app_account`` is written ``'name'@'host'``. Append-only tables get no
    UPDATE and no DELETE; nobody but the owner may TRUNCATE, DROP or ALTER.
    """
    command.upgrade(alembic_config(owner_url), "head")
    engine = create_engine(owner_url)
    with engine.begin() as connection:
        _grant(connection, app_account)
    engine.dispose()


def _grant(connection: Connection, account: str) -> None:
    for table in Base.metadata.sorted_tables:
        rights = _GRANTS[table.info["writes"]]
        connection.execute(text(f"GRANT {rights} ON `{table.name}` TO {account}"))
