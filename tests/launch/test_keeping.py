"""Keeping a shop: nights and what is kept of them, an older schema brought up after a backup, what the doctor says."""

from __future__ import annotations

import os
import re
import subprocess
import threading
from collections.abc import Callable
from datetime import UTC, datetime, time, timedelta
from pathlib import Path

import pytest
from alembic import command as alembic
from sqlalchemy import create_engine, text

from incudo.launch import doctor, nightly
from incudo.launch.backup import keys_file, read_manifest
from incudo.launch.configuration import Instance
from incudo.launch.doctor import Health
from incudo.launch.nightly import Nights, nights_from
from incudo.launch.supervise import Supervisor
from incudo.launch.upgrade import upgrade
from incudo.store.kernel.migrate import alembic_config, revision_of, steps_after
from tests.launch.test_backup import command

NOW = datetime(2026, 9, 8, 20, 15, tzinfo=UTC)


def made(nights: Nights, *times: datetime) -> None:
    for at in times:
        nights.file(at).write_text("")
        keys_file(nights.file(at)).write_text("")


def at(hour: int, minute: int = 0, day: int = 8) -> datetime:
    return datetime(2026, 9, day, hour, minute, tzinfo=UTC)


@pytest.mark.parametrize(
    ("last", "now", "due"),
    [
        (None, at(12), True),
        (at(3, 0), at(20), False),
        (at(2, 59), at(3, 0), True),
        (at(3, 5, day=7), at(2, 59), False),
        (at(3, 5, day=7), at(3, 0), True),
        (at(3, 5, day=1), at(1), True),  # nights in which nothing ran are made up for
    ],
)
def test_when_a_backup_is_due(tmp_path: Path, last: datetime | None, now: datetime, due: bool) -> None:
    nights = Nights(tmp_path, at=time(3))
    made(nights, *([last] if last else []))
    assert nights.due(now) is due


def test_the_oldest_are_taken_away_with_their_keys_and_nothing_else(tmp_path: Path) -> None:
    nights = Nights(tmp_path, keep=2)
    made(nights, at(3), at(3, day=6), at(3, day=7))
    (tmp_path / "nightly-of-mine.incudo").write_text("")
    (tmp_path / "holiday.incudo").write_text("")
    assert [f.name for f in nights.tidy()] == ["nightly-20260906-0300Z.incudo"]
    assert nights.tidy() == []
    left = {f.name for f in tmp_path.iterdir()}
    assert {"holiday.incudo", "nightly-of-mine.incudo", "nightly-20260907-0300Z.incudo.keys"} <= left
    assert "nightly-20260906-0300Z.incudo.keys" not in left


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"INCUDO_BACKUPS": "/nowhere/at/all"}, "INCUDO_BACKUPS"),
        ({"INCUDO_BACKUPS_KEEP": "0"}, "must be 1 to 400"),
        ({"INCUDO_BACKUPS_KEEP": "401"}, "must be 1 to 400"),
        ({"INCUDO_BACKUPS_KEEP": "a week"}, "must be 1 to 400"),
        ({"INCUDO_BACKUPS_AT": "25:00"}, "time of the day"),
        ({"INCUDO_BACKUPS_AT": "at night"}, "time of the day"),
    ],
)
def test_a_setting_that_cannot_be_is_said_by_its_name(tmp_path: Path, change: dict[str, str], why: str) -> None:
    fine = {"INCUDO_BACKUPS": str(tmp_path), "INCUDO_BACKUPS_KEEP": "400", "INCUDO_BACKUPS_AT": "22:30"}
    assert nights_from(fine) == Nights(tmp_path, 400, time(22, 30))
    assert nights_from({}) is None
    with pytest.raises(SystemExit, match=why):
        nights_from(fine | change)


def test_a_night_that_fails_is_said_and_the_watch_ends_when_told(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    ended, said = threading.Event(), []

    def fails(_shop: object, _file: Path) -> None:
        raise SystemExit("the disk is full")

    def say(words: str) -> None:
        said.append(words)
        ended.set()

    monkeypatch.setattr(nightly, "back_up", fails)
    nightly.night_watch(Supervisor(Instance.at(tmp_path / "shop", 1, 2)), Nights(tmp_path), ended, say)
    assert said == ["no backup: the disk is full"]


@pytest.fixture(scope="module")
def older(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The home of a shop that an older program made: its schema ends three steps before this one's."""
    home = tmp_path_factory.mktemp("older")
    shop = Supervisor(Instance.at(home / "shop", 0, 0), workers=1)
    shop.start_database(migrated=False)
    before = steps_after("")[-4].revision
    alembic.upgrade(alembic_config(shop.database.owner_url), before)
    engine = create_engine(shop.database.owner_url)
    with engine.begin() as db:
        db.execute(text("INSERT INTO class_group (id, name) VALUES (UNHEX(MD5('a')), 'Tuesday group')"))
    engine.dispose()
    shop.stop()
    return home


def inside(home: Path, do: Callable[[Supervisor], None]) -> None:
    shop = Supervisor(Instance.at(home / "shop", 0, 0), workers=1)
    shop.start_database(migrated=False)
    try:
        do(shop)
    finally:
        shop.stop()


def test_an_older_shop_is_backed_up_then_brought_up_and_only_once(older: Path) -> None:
    missing = steps_after(steps_after("")[-4].revision)
    said = command(older, "doctor")
    assert f"{len(missing)} steps behind this program" in said.stdout, said.stdout + said.stderr
    first = command(older, "upgrade")
    assert first.returncode == 0, first.stdout + first.stderr
    assert all(f"{s.revision}: {s.about}" in first.stdout for s in missing)
    (file,) = (older / "backups").glob("*.incudo")
    assert read_manifest(file).revision == steps_after("")[-4].revision, "what was before is in it"
    again = command(older, "upgrade")
    assert "nothing to do" in again.stdout
    assert len([*(older / "backups").glob("*.incudo")]) == 1

    def kept(shop: Supervisor) -> None:
        assert steps_after(revision_of(shop.database.owner_url)) == ()
        engine = create_engine(shop.database.owner_url)
        with engine.connect() as db:
            assert db.execute(text("SELECT name FROM class_group")).scalars().all() == ["Tuesday group"]
        engine.dispose()

    inside(older, kept)


def test_the_backup_of_before_is_restored_into_this_programs_schema(older: Path, tmp_path: Path) -> None:
    (file,) = (older / "backups").glob("*.incudo")
    restored = command(tmp_path, "restore", str(file))
    assert restored.returncode == 0, restored.stdout + restored.stderr
    inside(tmp_path, lambda shop: None if not steps_after(revision_of(shop.database.owner_url)) else pytest.fail("old"))


def test_a_shop_of_a_newer_program_is_left_alone(older: Path) -> None:
    def newer(shop: Supervisor) -> None:
        engine = create_engine(shop.database.owner_url)
        with engine.begin() as db:
            mine = db.execute(text("SELECT version_num FROM alembic_version")).scalar_one()
            db.execute(text("UPDATE alembic_version SET version_num = '9999'"))
        with pytest.raises(SystemExit, match="newer Incudo"):
            upgrade(shop)
        assert doctor.schema("9999").state is Health.BAD
        with engine.begin() as db:
            db.execute(text("UPDATE alembic_version SET version_num = :mine"), {"mine": mine})
        engine.dispose()

    inside(older, newer)


def test_the_doctor_says_what_is_well_and_what_to_do(older: Path) -> None:
    said = command(older, "doctor")
    assert said.returncode == 0, said.stdout + said.stderr
    assert "is not running" in said.stdout
    assert re.search(r"well +The database: can be read and written", said.stdout)
    assert re.search(r"well +Backup", said.stdout), "the one before the upgrade"
    for file in (older / "backups").iterdir():
        os.utime(file, (0, 0))
    late = command(older, "doctor")
    assert late.returncode == 1
    assert "INCUDO_BACKUPS" in late.stdout


@pytest.mark.parametrize(
    ("found", "state"),
    [
        (doctor.disk(doctor.SCARCE), Health.WELL),
        (doctor.disk(doctor.SCARCE - 1), Health.LOOK),
        (doctor.disk(doctor.TOO_LITTLE), Health.LOOK),
        (doctor.disk(doctor.TOO_LITTLE - 1), Health.BAD),
        (doctor.backup_age(None), Health.BAD),
        (doctor.backup_age(timedelta(hours=36)), Health.WELL),
        (doctor.backup_age(timedelta(hours=36, seconds=1)), Health.LOOK),
        (doctor.backup_age(timedelta(days=7)), Health.LOOK),
        (doctor.backup_age(timedelta(days=7, seconds=1)), Health.BAD),
        (doctor.clock(NOW, NOW + timedelta(seconds=61)), Health.BAD),
        (doctor.errors("fine\n", Path("web.log")), Health.WELL),
        (doctor.errors("Traceback (most recent call last):\n  File\nValueError: no\n", Path("web.log")), Health.LOOK),
    ],
)
def test_what_is_well_and_what_is_not(found: doctor.Noted, state: Health) -> None:
    assert found.state is state
    assert bool(found.do) is (state is not Health.WELL)


def test_a_clock_that_is_not_behind_is_not_called_so() -> None:
    assert doctor.clock(NOW, NOW + timedelta(seconds=60)).state is not Health.BAD
    assert doctor.clock(NOW, None).state is not Health.BAD


def test_a_certificate_is_read_and_its_end_is_told_before_it_comes(tmp_path: Path) -> None:
    key, cert = tmp_path / "key.pem", tmp_path / "cert.pem"
    make = f"openssl req -x509 -newkey rsa:2048 -nodes -days 30 -subj /CN=skerry -keyout {key} -out {cert}"
    subprocess.run(make.split(), check=True, capture_output=True)
    now = datetime.now(UTC)
    states = [doctor.tls(cert, now + timedelta(days=d)).state for d in (0, 8, 10, 31)]
    assert states == [Health.WELL, Health.WELL, Health.LOOK, Health.BAD]
    assert doctor.tls(key, now).state is Health.BAD
    assert doctor.tls(tmp_path / "none.pem", now).state is Health.BAD
