"""Migrations that are killed between any two steps are run again and end where an undisturbed run ends."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from sqlalchemy import Engine, create_engine, event, text

from incudo.launch.mariadb import APP_ACCOUNT, PrivateMariaDB, Secrets
from incudo.store.kernel.migrate import migrate

#: After so many statements a run is killed; the next one comes this much further.
STRIDE = 3


class Killed(BaseException):
    """The process is gone: nothing is tidied up."""


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[PrivateMariaDB]:
    database = PrivateMariaDB(tmp_path_factory.mktemp("empty") / "mariadb", 0, Secrets("owner-secret", "app-secret"))
    database.install()
    database.start()
    yield database
    database.stop()


def emptied(server: PrivateMariaDB) -> str:
    with create_engine(server.owner_url).begin() as connection:
        connection.execute(text("DROP DATABASE incudo"))
        connection.execute(text("CREATE DATABASE incudo"))
    return server.owner_url


def shape(url: str) -> list[Any]:
    """Everything about tables, columns, keys and rights that the database knows."""
    questions = (
        "SELECT table_name, table_type, engine FROM information_schema.tables WHERE table_schema = 'incudo'",
        "SELECT table_name, column_name, ordinal_position, column_type, is_nullable, column_default"
        " FROM information_schema.columns WHERE table_schema = 'incudo'",
        "SELECT table_name, index_name, seq_in_index, column_name, non_unique"
        " FROM information_schema.statistics WHERE table_schema = 'incudo'",
        "SELECT table_name, constraint_name, constraint_type FROM information_schema.table_constraints"
        " WHERE table_schema = 'incudo'",
        "SELECT * FROM alembic_version",
        "SELECT * FROM migration_begun",
    )
    engine = create_engine(url)
    with engine.connect() as connection:
        found = [sorted(map(repr, connection.execute(text(q)).all())) for q in questions]
    engine.dispose()
    return found


def killed_after(url: str, statements: int) -> bool:
    """Migrate, but die before the statement after so many that change something; False when it came to its end."""
    left = statements

    def count(_c: Any, _cursor: Any, statement: str, *_rest: Any) -> None:
        nonlocal left
        if statement.lstrip().upper().startswith(("CREATE", "ALTER", "DROP", "UPDATE", "INSERT", "GRANT", "DELETE")):
            left -= 1
            if left < 0:
                raise Killed

    event.listen(Engine, "before_cursor_execute", count)
    try:
        migrate(url, APP_ACCOUNT)
    except Killed:
        return True
    finally:
        event.remove(Engine, "before_cursor_execute", count)
    return False


@pytest.mark.long
def test_migrations_killed_again_and_again_end_as_undisturbed_ones_do(server: PrivateMariaDB) -> None:
    url = emptied(server)
    migrate(url, APP_ACCOUNT)
    whole = shape(url)
    url = emptied(server)
    kills, reach = 0, STRIDE
    while killed_after(url, reach):
        kills, reach = kills + 1, reach + STRIDE
    assert kills >= 20
    assert shape(url) == whole
    assert not killed_after(url, 10**6), "and once more changes nothing"
    assert shape(url) == whole


def test_a_step_that_is_there_without_an_interrupted_run_is_an_error(server: PrivateMariaDB) -> None:
    url = emptied(server)
    with create_engine(url).begin() as connection:
        connection.execute(text("CREATE TABLE pulse (other INT)"))
    with pytest.raises(Exception, match="already exists"):
        migrate(url, APP_ACCOUNT)


def test_two_who_migrate_at_once_wait_for_each_other(server: PrivateMariaDB, monkeypatch: pytest.MonkeyPatch) -> None:
    url = emptied(server)
    with create_engine(url).connect() as other:
        assert other.scalar(text("SELECT GET_LOCK('incudo_migrate', 0)")) == 1
        monkeypatch.setenv("INCUDO_MIGRATE_SECONDS", "0")
        with pytest.raises(SystemExit, match="Another Incudo"):
            migrate(url, APP_ACCOUNT)
        other.scalar(text("SELECT RELEASE_LOCK('incudo_migrate')"))
    migrate(url, APP_ACCOUNT)
    with create_engine(url).connect() as connection:
        assert connection.scalar(text("SELECT COUNT(*) FROM alembic_version")) == 1
