"""A shop as one file: made while it is written to, restored elsewhere, the same; a bad file changes nothing."""

from __future__ import annotations

import contextlib
import io
import json
import os
import shutil
import subprocess
import sys
import tarfile
import threading
import uuid
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from sqlalchemy import create_engine, inspect, text

from incudo.app.kernel.unit import DatabaseAway
from incudo.launch import backup
from incudo.launch.configuration import Instance
from incudo.launch.processes import free_port
from incudo.launch.supervise import Supervisor
from incudo.store import schema as t
from tests.loaded import demo_environment, loaded_home


def command(home: Path, *words: str) -> subprocess.CompletedProcess[str]:
    """A command of the launcher on the shop of a folder."""
    ports = ("INCUDO_PORT", "INCUDO_PANEL_PORT", "INCUDO_DATABASE_PORT")
    environment = {k: v for k, v in os.environ.items() if k not in ports} | {"INCUDO_HOME": str(home)}
    if not (home / "shop" / "instance.json").exists() and not (home / "demo").exists():
        environment |= {name: str(free_port()) for name in ports}
    return subprocess.run(
        [sys.executable, "-m", "incudo.launch", *words],
        env=environment, capture_output=True, text=True, timeout=300, check=False,
    )  # fmt: skip


@contextlib.contextmanager
def running(folder: Path) -> Iterator[Supervisor]:
    """The database of a shop's folder."""
    shop = Supervisor(Instance.at(folder, 0, 0))
    shop.start_database()
    try:
        yield shop
    finally:
        shop.stop()


def content(shop: Supervisor) -> dict[str, list[str]]:
    """Every row of every table with its history, in an order of its own."""
    engine = create_engine(shop.database.owner_url)
    found: dict[str, list[str]] = {}
    with engine.connect() as db:
        for name in inspect(engine).get_table_names():
            table = t.Base.metadata.tables.get(name)
            versioned = table is not None and table.info["writes"] == "versioned"
            history = " FOR SYSTEM_TIME ALL" if versioned else ""
            columns = "*, ROW_START, ROW_END" if versioned else "*"
            found[name] = sorted(str(tuple(r)) for r in db.execute(text(f"SELECT {columns} FROM `{name}`{history}")))
    engine.dispose()
    return found


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The home of a demo shop that is not running."""
    home = tmp_path_factory.mktemp("shop")
    loaded_home(home)
    ports = demo_environment(home)
    kept = json.loads((home / "demo" / "instance.json").read_text())
    kept |= {"web_port": int(ports["INCUDO_PORT"]), "panel_port": int(ports["INCUDO_PANEL_PORT"])}
    kept |= {"database_port": int(ports["INCUDO_DATABASE_PORT"])}
    (home / "demo" / "instance.json").write_text(json.dumps(kept))
    return home


@pytest.fixture(scope="module")
def made(shop: Path, tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, list[uuid.UUID], dict[str, list[str]]]:
    """A backup that was made while thirty wrote; what was acknowledged before it began, and what was there then."""
    file = tmp_path_factory.mktemp("backup") / "tuesday.incudo"
    acknowledged: list[uuid.UUID] = []
    ending = threading.Event()
    with running(shop / "demo") as supervisor:
        unit = supervisor.unit()
        before = content(supervisor)

        def write() -> None:
            while not ending.is_set():
                row = uuid.uuid4()
                try:
                    unit.run(lambda w, row=row: w.db.add(t.Group(id=row, name=f"Group {row}")))
                except DatabaseAway:
                    # thirty share sixteen connections: whoever waits too long is told, and tries again
                    continue
                acknowledged.append(row)

        writers = [threading.Thread(target=write) for _ in range(30)]
        for each in writers:
            each.start()
        while len(acknowledged) < 60:
            ending.wait(0.05)
        already = list(acknowledged)
        done = command(shop, "backup", str(file))
        ending.set()
        for each in writers:
            each.join()
        unit.engine.dispose()
    assert done.returncode == 0, done.stdout + done.stderr
    assert len(acknowledged) > len(already), "it was worked in meanwhile"
    return file, already, before


@pytest.mark.timeout(600)
def test_what_was_acknowledged_before_is_there_and_everything_else_is_the_same(
    made: tuple[Path, list[uuid.UUID], dict[str, list[str]]], tmp_path: Path
) -> None:
    file, already, before = made
    done = command(tmp_path, "restore", str(file))
    assert done.returncode == 0, done.stdout + done.stderr
    assert "the register holds" in done.stdout
    with running(tmp_path / "shop") as restored:
        after = content(restored)
        engine = create_engine(restored.database.app_url)
        with engine.connect() as db:
            groups = {uuid.UUID(str(i)) for i in db.execute(text("SELECT id FROM class_group")).scalars()}
            with pytest.raises(Exception, match="denied"):
                db.execute(text("DELETE FROM reading"))
        engine.dispose()
    assert set(already) <= groups
    written = {"class_group", "change_count", t.Change.__tablename__, t.Pending.__tablename__}
    assert after.keys() == before.keys()
    for name in after.keys() - written:
        assert after[name] == before[name], name
    assert set(before["class_group"]) <= set(after["class_group"])
    # a shop that is there is not filled a second time
    again = command(tmp_path, "restore", str(file))
    assert again.returncode == 1
    assert "There is a shop" in again.stderr


def remade(file: Path, into: Path, change: Callable[[dict[str, bytes]], None]) -> Path:
    """The same backup with something in it otherwise, its keys beside it."""
    with tarfile.open(file) as tar:
        members = {m.name: tar.extractfile(m).read() for m in tar.getmembers()}  # type: ignore[union-attr]
    change(members)
    with tarfile.open(into, "w") as tar:
        for name, data in members.items():
            entry = tarfile.TarInfo(name)
            entry.size = len(data)
            tar.addfile(entry, io.BytesIO(data))
    shutil.copy(backup.keys_file(file), backup.keys_file(into))
    return into


def manifest(**changes: str) -> Callable[[dict[str, bytes]], None]:
    def change(members: dict[str, bytes]) -> None:
        members[backup.MANIFEST] = json.dumps({**json.loads(members[backup.MANIFEST]), **changes}).encode()

    return change


def without(name: str) -> Callable[[dict[str, bytes]], None]:
    return lambda members: members.pop(name) and None


def spoilt(members: dict[str, bytes]) -> None:
    dump = bytearray(members[backup.DUMP])
    dump[len(dump) // 2] ^= 1
    members[backup.DUMP] = bytes(dump)


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (manifest(format="something/9"), "its format is"),
        (manifest(revision="9999"), "a newer Incudo"),
        (manifest(sha256="0" * 64), "not what was written"),
        (spoilt, "not what was written"),
        (without(backup.MANIFEST), "no backup of Incudo"),
        (without(backup.DUMP), "no backup of Incudo"),
    ],
)
def test_a_broken_or_foreign_file_is_refused_with_its_reason_and_changes_nothing(
    made: tuple[Path, list[uuid.UUID], dict[str, list[str]]],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    change: Callable[[dict[str, bytes]], None],
    why: str,
) -> None:
    monkeypatch.setenv("INCUDO_HOME", str(tmp_path))
    file = remade(made[0], tmp_path / "other.incudo", change)
    with pytest.raises(SystemExit, match=why) as refused:
        backup.run_restore(str(file))
    assert "Nothing was changed" in str(refused.value)
    assert not (tmp_path / "shop").exists()


def test_what_is_no_backup_or_has_no_keys_is_refused(
    made: tuple[Path, list[uuid.UUID], dict[str, list[str]]], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("INCUDO_HOME", str(tmp_path))
    letter = tmp_path / "letter.txt"
    letter.write_text("Dear shop")
    alone = tmp_path / "alone.incudo"
    shutil.copy(made[0], alone)
    for file, why in ((letter, "no backup"), (tmp_path / "nowhere", "not there"), (alone, "put alone.incudo.keys")):
        with pytest.raises(SystemExit, match=why):
            backup.run_restore(str(file))
    backup.keys_file(alone).write_text("{}")
    with pytest.raises(SystemExit, match="does not hold its keys"):
        backup.run_restore(str(alone))
    assert not (tmp_path / "shop").exists()


def test_the_keys_stand_apart_and_nobody_else_reads_them(
    made: tuple[Path, list[uuid.UUID], dict[str, list[str]]], shop: Path
) -> None:
    file = made[0]
    keys = json.loads(backup.keys_file(file).read_text())
    assert set(keys) == set(backup.KEYS)
    assert [oct(f.stat().st_mode & 0o777) for f in (file, backup.keys_file(file))] == ["0o600", "0o600"]
    with tarfile.open(file) as tar:
        names = tar.getnames()
        packed = b"".join(tar.extractfile(n).read() for n in names if n != backup.DUMP)  # type: ignore[union-attr]
    assert sorted(names) == sorted([backup.MANIFEST, backup.DUMP, backup.HEADS])
    assert not any(k.encode() in packed for k in keys.values())


def test_a_backup_writes_over_nothing(made: tuple[Path, list[uuid.UUID], dict[str, list[str]]], tmp_path: Path) -> None:
    with pytest.raises(SystemExit, match="is there already"):
        backup.run_backup(str(made[0]))
    with pytest.raises(SystemExit, match="no folder"):
        backup.run_backup(str(tmp_path / "none" / "x.incudo"))
