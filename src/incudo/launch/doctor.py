"""``./incudo doctor``: what of the shop of this machine is well, what is not, and what to do about it."""

from __future__ import annotations

import os
import shutil
import ssl
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from pathlib import Path

from sqlalchemy import create_engine, text
from sqlalchemy.exc import SQLAlchemyError

from incudo.app.administration.health import beat
from incudo.launch.configuration import home
from incudo.launch.nightly import FOLDER, nights_from
from incudo.launch.shops import database_of, shop_of_this_machine
from incudo.launch.supervise import Supervisor
from incudo.launch.verify import verify_shop
from incudo.store.kernel.migrate import revision_of, steps_after

#: Less free space is scarce, and less than this too little to go on.
SCARCE, TOO_LITTLE = 5_000_000_000, 1_000_000_000
#: A backup that is older is late, and one that is older than this is none.
LATE, NONE = timedelta(hours=36), timedelta(days=7)
#: Entries that are so far ahead of the clock say that it runs behind; so many days before its end a certificate is due.
AHEAD, DUE = timedelta(minutes=1), timedelta(days=21)
#: The end of the server's log that is read, in bytes.
_TAIL = 400_000


class Health(StrEnum):
    """How a thing stands."""

    WELL = "well"
    LOOK = "look at it"
    BAD = "BAD"


@dataclass(frozen=True)
class Noted:
    """One thing: how it stands, and what to do where it is not well."""

    what: str
    state: Health
    words: str
    do: str = ""


def run_doctor() -> int:
    """Look at the shop of this machine, running or not, and say what is found. 1 where something is bad."""
    shop = shop_of_this_machine()
    print(f"{shop.instance.folder}, {shop.address}")
    found = [*look(shop)]
    for x in found:
        print(f"  {x.state:<10}  {x.what}: {x.words}")
        if x.do:
            print(f"{'':14}→ {x.do}")
    bad = sum(x.state is Health.BAD for x in found)
    print(f"{bad} of {len(found)} are bad" if bad else f"{len(found)} looked at, none is bad")
    return 1 if bad else 0


def look(shop: Supervisor) -> Iterator[Noted]:
    """Everything, one after the other; a database that does not start ends it."""
    now = datetime.now(UTC)
    yield disk(shutil.disk_usage(shop.instance.folder).free)
    yield backups(now)
    yield errors(_tail(shop.log), shop.log)
    if certificate := os.environ.get("INCUDO_TLS_CERT"):
        yield tls(Path(certificate), now)
    running = shop.answers()
    words = f"answers at {shop.address}" if running else "is not running"
    yield Noted("The web server", Health.WELL if running else Health.LOOK, words, "" if running else "./incudo start")
    try:
        with database_of(shop, migrated=False):
            yield from _look_inside(shop, now)
    except (SystemExit, OSError, SQLAlchemyError) as error:
        log = shop.instance.folder / "mariadb"
        yield Noted(
            "The database", Health.BAD, f"does not start: {str(error).splitlines()[0]}", f"see the logs in {log}"
        )


def _look_inside(shop: Supervisor, now: datetime) -> Iterator[Noted]:
    version = schema(revision_of(shop.database.owner_url))
    yield version
    if version.state is not Health.WELL:
        return
    unit = shop.unit()
    try:
        unit.run(beat)
        yield Noted("The database", Health.WELL, "can be read and written")
    finally:
        unit.engine.dispose()
    yield clock(now, _newest(shop))
    holds = verify_shop(shop) == 0
    yield Noted(
        "The register of safety",
        Health.WELL if holds else Health.BAD,
        "holds" if holds else "does not hold",
        "" if holds else "./incudo verify names the places; keep the newest backup that holds, and ask for help",
    )


def disk(free: int) -> Noted:
    """Free bytes where the shop lies."""
    state = Health.BAD if free < TOO_LITTLE else Health.LOOK if free < SCARCE else Health.WELL
    do = "make room: a database that cannot write stops" if state is not Health.WELL else ""
    return Noted("Disk", state, f"{free / 1e9:.1f} GB free", do)


def backups(now: datetime) -> Noted:
    """The newest backup of the nightly setting's folder and of the upgrades."""
    nights = nights_from(os.environ)
    made = [*nights.made().values()] if nights else []
    made += (home() / "backups").glob("*.incudo")
    newest = max((datetime.fromtimestamp(f.stat().st_mtime, UTC) for f in made), default=None)
    return backup_age(now - newest if newest else None)


def backup_age(age: timedelta | None) -> Noted:
    """How old the newest backup is; ``None``: there is none."""
    if age is None:
        words, state = "none is known here", Health.BAD
    else:
        words = f"the newest is {age.total_seconds() / 3600:.0f} hours old"
        state = Health.BAD if age > NONE else Health.LOOK if age > LATE else Health.WELL
    do = f"set {FOLDER} to a folder on another disk, or call ./incudo backup every night"
    return Noted("Backup", state, words, "" if state is Health.WELL else do)


def errors(log: str, file: Path) -> Noted:
    """Tracebacks in the end of the server's log."""
    lines = log.splitlines()
    starts = [n for n, line in enumerate(lines) if line.startswith("Traceback")]
    if not starts:
        return Noted("Errors", Health.WELL, "none in the end of the server's log")
    last = next((x for x in lines[starts[-1] + 1 :] if x and not x.startswith((" ", "\t"))), "")
    return Noted("Errors", Health.LOOK, f"{len(starts)} in the end of the log, the last: {last[:160]}", f"see {file}")


def schema(revision: str) -> Noted:
    """Whether the database has this program's schema."""
    try:
        steps = steps_after(revision)
    except LookupError:
        return Noted("Schema", Health.BAD, f"{revision} is of a newer Incudo", "run that one")
    if steps:
        return Noted("Schema", Health.LOOK, f"{len(steps)} steps behind this program", "./incudo upgrade")
    return Noted("Schema", Health.WELL, f"{revision}, this program's")


def clock(now: datetime, newest: datetime | None) -> Noted:
    """Whether this machine's clock is behind what was written by it before."""
    if newest and newest - now > AHEAD:
        words = f"the newest entry is of {newest:%Y-%m-%d %H:%M} UTC, now it is {now:%Y-%m-%d %H:%M}"
        return Noted("Clock", Health.BAD, words, "correct the clock before anything is entered")
    if _synchronised() is False:
        return Noted("Clock", Health.LOOK, "is not synchronized over the network", "timedatectl set-ntp true")
    return Noted("Clock", Health.WELL, "is not behind the newest entry")


def tls(certificate: Path, now: datetime) -> Noted:
    """Until when the server's certificate holds."""
    try:
        ends = _ends(certificate)
    except (OSError, ValueError) as error:
        return Noted("Certificate", Health.BAD, f"{certificate} cannot be read: {error}", "put the right file there")
    left = ends - now
    state = Health.BAD if left <= timedelta(0) else Health.LOOK if left < DUE else Health.WELL
    words = f"valid until {ends:%Y-%m-%d}" if left > timedelta(0) else f"expired on {ends:%Y-%m-%d}"
    return Noted("Certificate", state, words, "" if state is Health.WELL else "renew it and start the server again")


def _ends(certificate: Path) -> datetime:
    """When the server's own certificate ends: the first of its file."""
    command = ["openssl", "x509", "-noout", "-enddate", "-in", str(certificate)]
    said = subprocess.run(command, capture_output=True, text=True, check=False)
    if said.returncode:
        raise ValueError(said.stderr.strip().splitlines()[0])
    return datetime.fromtimestamp(ssl.cert_time_to_seconds(said.stdout.strip().partition("=")[2]), UTC)


def _synchronised() -> bool | None:
    """Whether the machine says that its clock is kept right; ``None`` where it does not say."""
    if not shutil.which("timedatectl"):
        return None
    said = subprocess.run(
        ["timedatectl", "show", "-p", "NTPSynchronized", "--value"], capture_output=True, text=True, check=False
    ).stdout.strip()
    return {"yes": True, "no": False}.get(said)


def _newest(shop: Supervisor) -> datetime | None:
    """When the newest entry of the register was made."""
    engine = create_engine(shop.database.owner_url)
    try:
        with engine.connect() as connection:
            at = connection.execute(text("SELECT MAX(at) FROM register_entry")).scalar()
    finally:
        engine.dispose()
    return at.replace(tzinfo=UTC) if at else None


def _tail(log: Path) -> str:
    if not log.exists():
        return ""
    with log.open("rb") as file:
        file.seek(max(0, log.stat().st_size - _TAIL))
        return file.read().decode(errors="replace")
