"""A private MariaDB keeps to its own folder, whatever else runs on the machine."""

from __future__ import annotations

from pathlib import Path

import pytest

from incudo.launch.mariadb import PrivateMariaDB, Secrets


def test_making_and_starting_a_server_leaves_the_temporary_tables_of_another(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """MariaDB removes everything named ``#sql…`` from its folder for temporary tables when it starts."""
    monkeypatch.setenv("TMPDIR", str(tmp_path))
    others = tmp_path / "#sql-temptable-1b20-1-20.MAI"
    others.touch()
    database = PrivateMariaDB(tmp_path / "mine", 0, Secrets("owner-secret", "app-secret"))
    database.install()
    assert others.exists()
    try:
        database.start()
    finally:
        database.stop()
    assert others.exists()
