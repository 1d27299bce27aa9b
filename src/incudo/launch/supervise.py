"""Keeps the database and the web server of one instance running until asked to stop.

A part that dies is started again; nothing that was acknowledged is lost by it,
because the database commits to disk before the server answers.
"""

from __future__ import annotations

import fcntl
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path
from types import FrameType

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit
from incudo.launch.configuration import WEB, Instance
from incudo.launch.mariadb import APP_ACCOUNT, PrivateMariaDB, Secrets
from incudo.launch.processes import die_with_parent
from incudo.launch.web import Front, WebServer, listen_from, patience_from, proxies_from
from incudo.store.kernel.database import open_engine
from incudo.store.kernel.migrate import migrate

Say = Callable[[str], None]
#: How often a part is started again at once, and then the longest wait between two starts, in seconds.
QUICK, LONGEST = 20, 30
#: Seconds after which a server that neither answers nor has ended hangs; a busy machine needs more than a minute.
PATIENCE = 300


class Supervisor:
    """One instance: MariaDB, migrations, the web server, the interlock stand-in."""

    def __init__(self, instance: Instance, say: Say = print, workers: int = 2) -> None:
        self.instance, self.say, self.workers = instance, say, workers
        self.database = PrivateMariaDB(
            instance.folder / "mariadb",
            instance.database_port,
            Secrets(instance.owner_password, instance.app_password),
        )
        self.web: WebServer | None = None
        self.interlock: subprocess.Popen[bytes] | None = None
        self._not_before: dict[str, float] = {}
        self._started_again: dict[str, list[float]] = {}
        self.log = instance.folder / "web.log"
        self._lock: int | None = None
        self._ending = self._reload = False

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.instance.web_port}"

    def hold(self) -> None:
        """Take the folder for this process. Ends with a message when another one has it."""
        self._lock = os.open(self.instance.folder / "lock", os.O_CREAT | os.O_RDWR, 0o600)
        try:
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            where = f"{self.instance.folder} is in use: Incudo runs already at {self.address}"
            raise SystemExit(f"{where}\nStop it first, or set INCUDO_HOME and INCUDO_PORT to others.") from None

    def start_database(self, *, migrated: bool = True) -> None:
        """Install and start the database, and (unless told not to) migrate it."""
        self.database.install()
        self.database.start()
        if migrated:
            self.migrate()

    def migrate(self) -> None:
        """Bring the database to this program's schema."""
        migrate(self.database.owner_url, APP_ACCOUNT)

    def start_web(self, *, reload: bool = False) -> None:
        """Start the web server and wait until it answers; with ``reload`` it follows every saved file."""
        self._reload = reload
        if self.web is None:
            patience = patience_from(os.environ.get("INCUDO_PATIENCE", "1"))
            proxies = proxies_from(os.environ.get("INCUDO_PROXIES", "0"))
            bind = f"{listen_from(os.environ.get('INCUDO_LISTEN', '127.0.0.1'), proxies)}:{self.instance.web_port}"
            front = Front(bind, proxies=proxies, patience=patience)
            self.web = WebServer(front, self.log, self.workers)
        self.web.start(self._environment(), reload=reload)
        self._wait_for_web()

    def _environment(self) -> dict[str, str]:
        """What the application reads its settings from."""
        # a proxy that stands before it has TLS
        secure = {"INCUDO_SECURE_COOKIES": "1"} if os.environ.get("INCUDO_PROXIES", "0") != "0" else {}
        return (
            os.environ
            | secure
            | {
                "INCUDO_DATABASE": self.database.app_url,
                "INCUDO_SECRET": self.instance.secret,
                "INCUDO_REGISTER_KEY": self.instance.register_key,
                "INCUDO_HEADS": str(self.instance.heads),
                "INCUDO_WEB": str(WEB),
            }
        )

    @property
    def panel(self) -> str:
        return f"http://127.0.0.1:{self.instance.panel_port}"

    def unit(self) -> Unit:
        """The way to the use cases, with this instance's register key and heads."""
        engine = open_engine(self.database.app_url)
        return Unit(engine, key=self.instance.register_key, on_head=HeadsFile(self.instance.heads).add)

    def start_interlock(self) -> None:
        """Start the stand-in for the interlock devices; Incudo works without it as well."""
        environment = os.environ | {
            "INCUDO_ADDRESS": self.address,
            "INCUDO_DEVICE_KEY": self.instance.device_key,
            "INCUDO_PANEL_PORT": str(self.instance.panel_port),
        }
        with (self.instance.folder / "interlock.log").open("ab") as log:
            self.interlock = subprocess.Popen(
                [sys.executable, "-m", "incudo.devices.interlock"],
                env=environment,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                preexec_fn=die_with_parent,
            )

    def _wait_for_web(self) -> None:
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            if self.web and self.web.dead:
                tail = "\n".join(self.log.read_text(errors="replace").splitlines()[-12:])
                raise SystemExit(
                    f"The web server stopped while starting (port {self.instance.web_port} taken?).\n{tail}"
                )
            if self.answers():
                return
            time.sleep(0.1)
        raise SystemExit(f"The web server did not answer at {self.address}; see {self.log}")

    def answers(self) -> bool:
        """Whether the server answers and reaches its database."""
        try:
            with urllib.request.urlopen(f"{self.address}/api/health", timeout=2) as response:  # noqa: S310
                return bool(response.status == 200)
        except (urllib.error.URLError, OSError):
            return False

    def watch_once(self) -> None:
        """Start again whatever has died. What cannot be started now is tried again later, for ever."""
        parts = (
            ("MariaDB", self._database_died, self._restart_database),
            ("The web server", self._web_died, self._restart_web),
            ("The interlock stand-in", self._interlock_died, self.start_interlock),
        )
        for name, died, restart in parts:
            if self._ending or time.monotonic() < self._not_before.get(name, 0) or not died():
                continue
            self.say(f"{name} ended unexpectedly: starting it again")
            try:
                restart()
            except (SystemExit, OSError) as error:
                self.say(f"{name} does not start: {error}")
            self._wait_longer(name)

    def _wait_longer(self, name: str) -> None:
        """A part that dies again and again is started at growing distances, at most LONGEST seconds."""
        now = time.monotonic()
        times = [t for t in self._started_again.get(name, []) if now - t < 10 * LONGEST] + [now]
        self._started_again[name] = times
        self._not_before[name] = now + (0 if len(times) <= QUICK else min(2 ** (len(times) - QUICK), LONGEST))

    def _database_died(self) -> bool:
        return self.database.process is not None and self.database.process.poll() is not None

    def _restart_database(self) -> None:
        self.database.tidy()
        self.database.start()

    def _web_died(self) -> bool:
        return self.web is not None and bool(self.web.dead)

    def _restart_web(self) -> None:
        if self.web is not None:
            self.web.start(self._environment(), reload=self._reload)

    def _interlock_died(self) -> bool:
        return self.interlock is not None and self.interlock.poll() is not None

    def listen(self) -> None:
        """From here on SIGINT and SIGTERM end everything in good order, also while the web server still starts."""
        signal.signal(signal.SIGINT, self._end)
        signal.signal(signal.SIGTERM, self._end)

    def run(self) -> None:
        """Watch until SIGINT or SIGTERM, then stop everything."""
        self.listen()
        try:
            while not self._ending:
                self.watch_once()
                time.sleep(0.2)
        finally:
            self.stop()

    def _end(self, _signal: int, _frame: FrameType | None) -> None:
        self._ending = True

    def stop(self) -> None:
        """End the web server gracefully, then the database, and wait for both."""
        self._ending = True
        if self.interlock and self.interlock.poll() is None:
            self.interlock.terminate()
            self.interlock.wait()
        if self.web:
            self.web.stop()
        self.database.stop()
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None


def wipe(folder: Path) -> None:
    """Forget an instance's data (its database and its secrets)."""
    shutil.rmtree(folder, ignore_errors=True)
