"""The demo: database, Skerry Sound data, web server, interlock stand-in; and the same for work on it."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
from datetime import UTC, datetime

from incudo.demo import DATA
from incudo.launch.configuration import ROOT, Instance, home
from incudo.launch.processes import collect_seldom, die_with_parent
from incudo.launch.supervise import Supervisor, wipe

DEMO_PORT = 8420
DEMO_DATABASE_PORT = 33420
#: What ./incudo dev listens on, so that it can run beside the demo.
DEV_PORT = 8430
DEV_DATABASE_PORT = 33430
DEV_PAGE = 5173


def say(text: str) -> None:
    """One line of progress."""
    print(f"  {text}", flush=True)


def prepare(supervisor: Supervisor, *, fresh: bool) -> None:
    """Start the database, and load the demo data unless they are there; ``fresh`` forgets what was entered."""
    folder = supervisor.instance.folder
    loaded = folder / "loaded"
    older = loaded.exists() and loaded.read_text().strip() != str(DATA)
    if fresh or older or not loaded.exists():
        if older and not fresh:
            say("these demo data are of an older Incudo: starting over")
        else:
            say("starting over" if loaded.exists() else "first start: this takes a little longer")
        loaded.unlink(missing_ok=True)
        supervisor.instance.heads.unlink(missing_ok=True)
        wipe(folder / "mariadb")
    say("starting MariaDB")
    supervisor.start_database()
    if loaded.exists():
        return
    from incudo.demo.load import load
    from incudo.store.kernel.clock import server_zone

    say("loading Skerry Sound")
    collect_seldom()
    unit = supervisor.unit()
    load(unit, datetime.now(UTC), say, supervisor.instance.device_key, server_zone())
    unit.engine.dispose()
    loaded.write_text(str(DATA))


def run_demo(*, fresh: bool) -> None:
    """Start the demo and keep it running."""
    supervisor = Supervisor(Instance.at(home() / "demo", DEMO_PORT, DEMO_DATABASE_PORT), say)
    supervisor.hold()
    try:
        prepare(supervisor, fresh=fresh)
        say("starting the web server")
        # whoever sees the page answer may end it at once
        supervisor.listen()
        supervisor.start_web()
        say("starting the interlock stand-in")
        supervisor.start_interlock()
    except BaseException:
        supervisor.stop()
        raise
    tell(supervisor.address, supervisor.panel)
    supervisor.run()
    say("stopped; everything entered is kept")


def run_dev() -> None:
    """The same with demo data of its own, where server and front end follow every file that is saved."""
    supervisor = Supervisor(Instance.at(home() / "dev", DEV_PORT, DEV_DATABASE_PORT), say, workers=1)
    supervisor.hold()
    page: subprocess.Popen[bytes] | None = None
    try:
        prepare(supervisor, fresh=False)
        say("starting the web server; it starts again when a Python file is saved")
        supervisor.listen()
        supervisor.start_web(reload=True)
        supervisor.start_interlock()
        port = os.environ.get("INCUDO_DEV_PAGE", str(DEV_PAGE))
        page = subprocess.Popen(
            [shutil.which("npm") or "npm", "run", "--silent", "dev", "--", "--port", port, "--strictPort"],
            cwd=ROOT / "web",
            env=os.environ | {"INCUDO_DEV_SERVER": supervisor.address},
            start_new_session=True,
            preexec_fn=die_with_parent,
        )
        tell(f"http://127.0.0.1:{port}", supervisor.panel)
        supervisor.run()
    finally:
        if page is not None and page.poll() is None:
            os.killpg(page.pid, signal.SIGTERM)
            page.wait()
        supervisor.stop()


def tell(address: str, panel: str) -> None:
    """Where to go, and as whom."""
    from incudo.demo import people

    lines = [
        "",
        f"Incudo runs at {address}",
        f"The interlock stand-in's panel: {panel}",
        f"The view for a wall, without a sign-in: {address}/wall#{people.WALL_KEY}",
        f"Demo sign-ins, all with the password {people.PASSWORD}:",
    ]
    for login in ("haldane", "selby", "dacosta", "orla", "ines", "piet", "juno", "thorley"):
        p = people.PEOPLE[login]
        pin = f", PIN {p.pin}" if p.pin else ""
        lines.append(f"  {login:<9} {p.name}, {p.role}{pin}")
    lines += [
        "Everybody in it is invented. Ctrl-C stops it and keeps what was entered;",
        "./incudo demo --fresh starts over.",
    ]
    print("\n".join(lines), flush=True)
