"""The demo shop, loaded once for a whole test run; everybody works on a copy of its folder.

It is loaded as a person would do it, by the first start of the demo.
``INCUDO_TEST_SHOP`` names a folder that several pytest processes share. Without it
each process makes one for itself.
"""

from __future__ import annotations

import atexit
import fcntl
import itertools
import json
import os
import random
import secrets
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from typing import Any
from unittest.mock import patch

from incudo.app.kernel.unit import Unit, Work
from incudo.demo.load import load
from incudo.launch.configuration import Instance
from incudo.launch.processes import die_with_parent, free_port
from incudo.launch.supervise import Supervisor
from tests.shop import DEVICE_KEY

FIRST_START = 600
"""Seconds that loading may take; generous, for a slow machine under load."""


@cache
def _shared() -> Path:
    given = os.environ.get("INCUDO_TEST_SHOP")
    if given:
        return Path(given)
    folder = Path(tempfile.mkdtemp(prefix="incudo-test-shop-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


def _instance(folder: Path) -> Instance:
    return Instance.at(folder, free_port(), free_port(), free_port())


def demo_environment(home: Path) -> dict[str, str]:
    """What the demo needs to run in a folder and on ports of its own."""
    ports = ("INCUDO_PORT", "INCUDO_PANEL_PORT", "INCUDO_DATABASE_PORT")
    return (
        os.environ
        | {"INCUDO_HOME": str(home), "INCUDO_CHEAP_SECRETS": "1", "TZ": "UTC"}
        | {name: str(free_port()) for name in ports}
    )


def _make(home: Path) -> None:
    """Start the demo for the first time, wait until it says that it runs, and stop it."""
    shutil.rmtree(home, ignore_errors=True)
    (home / "demo").mkdir(parents=True)
    (home / "demo" / "instance.json").write_text(json.dumps({"device_key": DEVICE_KEY}))
    said = home / "out.txt"
    with said.open("wb") as out:
        command = [sys.executable, "-m", "incudo.launch", "demo"]
        process = subprocess.Popen(
            command, env=demo_environment(home), stdout=out, stderr=subprocess.STDOUT, preexec_fn=die_with_parent
        )
    end = time.monotonic() + FIRST_START
    while "Incudo runs at" not in said.read_text():
        if process.poll() is not None or time.monotonic() > end:
            process.kill()
            raise RuntimeError(f"the demo did not start:\n{said.read_text()}")
        time.sleep(0.2)
    process.send_signal(signal.SIGTERM)
    if process.wait(60):
        raise RuntimeError(f"the demo did not stop clean:\n{said.read_text()}")


def loaded_home(home: Path) -> None:
    """A copy of the loaded demo, ready to be started by the launcher."""
    shutil.copytree(_made() / "demo", home / "demo")


def _made() -> Path:
    shared = _shared()
    with (shared / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not (shared / "done").exists():
            _make(shared / "home")
            (shared / "done").touch()
    return shared / "home"


def empty_shop(into: Path) -> Instance:
    """An installation that nobody has set up, on ports of its own."""
    into.mkdir(parents=True, exist_ok=True)
    return _instance(into)


def loaded_shop(into: Path) -> Instance:
    """A copy of the loaded demo in ``into``, on ports of its own; its database is not started."""
    source = _made() / "demo"
    into.mkdir(parents=True, exist_ok=True)
    kept = json.loads((source / "instance.json").read_text())
    for port in ("web_port", "panel_port", "database_port"):
        del kept[port]
    (into / "instance.json").write_text(json.dumps(kept))
    loaded = _instance(into)
    loaded_records(loaded)
    return loaded


#: The moment at which the standing shop stands: a Tuesday evening.
STANDING = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


def standing_shop(into: Path) -> Instance:
    """A copy of the demo as it is loaded at a moment that never changes, with ids that never change."""
    made = _stands()
    into.mkdir(parents=True, exist_ok=True)
    kept = json.loads((made / "instance.json").read_text())
    for port in ("web_port", "panel_port", "database_port"):
        del kept[port]
    (into / "instance.json").write_text(json.dumps(kept))
    shutil.copytree(made / "mariadb", into / "mariadb")
    return _instance(into)


def _stands() -> Path:
    shared = _shared()
    made = shared / "standing"
    with (shared / "standing-lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not (shared / "stands").exists():
            shutil.rmtree(made, ignore_errors=True)
            _stand(empty_shop(made))
            (shared / "stands").touch()
    return made


@contextmanager
def steady_ids(word: str) -> Iterator[None]:
    """Ids and codes that are the same whenever it is done: each use case draws its own, tried again the same ones."""
    ids, count, now = random.Random(word), itertools.count(), [-1]
    run, once = Unit.run, Unit._once

    def counted(unit: Unit, use_case: Callable[[Work], Any]) -> Any:
        if not unit.key:
            # what is read again now and then, and draws nothing
            return run(unit, use_case)
        now.append(next(count))
        try:
            return run(unit, use_case)
        finally:
            ids.seed(f"{word} after {now.pop()}")

    def seeded(unit: Unit, use_case: Callable[[Work], Any]) -> Any:
        if unit.key:
            ids.seed(f"{word} {now[-1]}")
        return once(unit, use_case)

    with (
        patch.object(uuid, "uuid4", lambda: uuid.UUID(int=ids.getrandbits(128), version=4)),
        patch.object(secrets, "choice", ids.choice),
        patch.object(Unit, "run", counted),
        patch.object(Unit, "_once", seeded),
    ):
        yield


def _stand(instance: Instance) -> None:
    supervisor = Supervisor(instance, workers=1)
    try:
        supervisor.start_database()
        unit = supervisor.unit()
        with steady_ids("shop"):
            load(unit, STANDING, device_key=DEVICE_KEY)
        unit.engine.dispose()
    finally:
        supervisor.stop()


def loaded_records(into: Instance) -> None:
    """The records of an installation as they were loaded; its database does not run."""
    source = _made() / "demo"
    shutil.rmtree(into.folder / "mariadb", ignore_errors=True)
    shutil.copytree(source / "mariadb", into.folder / "mariadb")
    shutil.copy(source / "register-heads.jsonl", into.heads)


if __name__ == "__main__":
    _made()
    _stands()
