"""The demo shop, loaded once for a whole test run; everybody works on a copy of its folder.

``INCUDO_TEST_SHOP`` names a folder that several pytest processes share. Without it
each process makes one for itself.
"""

from __future__ import annotations

import atexit
import fcntl
import json
import os
import shutil
import tempfile
from datetime import UTC, datetime
from functools import cache
from pathlib import Path

from incudo.demo.load import load
from incudo.launch.configuration import Instance
from incudo.launch.processes import free_port
from incudo.launch.supervise import Supervisor
from tests.shop import DEVICE_KEY


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


def _make(folder: Path) -> None:
    folder.mkdir()
    (folder / "instance.json").write_text(json.dumps({"device_key": DEVICE_KEY}))
    supervisor = Supervisor(_instance(folder), say=lambda _: None)
    try:
        supervisor.start_database()
        unit = supervisor.unit()
        load(unit, datetime.now(UTC), device_key=supervisor.instance.device_key)
        unit.engine.dispose()
    finally:
        supervisor.stop()


def loaded_shop(into: Path) -> Instance:
    """A copy of the loaded demo in ``into``, on ports of its own; its database is not started."""
    shared = _shared()
    with (shared / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not (shared / "done").exists():
            _make(shared / "shop")
            (shared / "done").touch()
    into.mkdir(parents=True, exist_ok=True)
    source = shared / "shop"
    kept = json.loads((source / "instance.json").read_text())
    for port in ("web_port", "panel_port", "database_port"):
        del kept[port]
    (into / "instance.json").write_text(json.dumps(kept))
    shutil.copytree(source / "mariadb", into / "mariadb")
    shutil.copy(source / "register-heads.jsonl", into)
    return _instance(into)
