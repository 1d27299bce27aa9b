"""What the launcher script hands over to, once everything is installed and built.

What only one command needs is imported there, so that a start is not slower for it.
"""

from __future__ import annotations

import argparse
import os
from datetime import UTC, datetime

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit
from incudo.demo import DATA
from incudo.launch.configuration import Instance, home
from incudo.launch.stats import print_stats
from incudo.launch.supervise import Supervisor, wipe
from incudo.store.kernel.database import open_engine

DEMO_PORT = 8420
DEMO_DATABASE_PORT = 33420


def main() -> None:
    """Read the command line and do it."""
    parser = argparse.ArgumentParser(prog="incudo")
    commands = parser.add_subparsers(dest="command", required=True)
    demo = commands.add_parser("demo", help="the Skerry Sound demo shop on this machine")
    demo.add_argument("--fresh", action="store_true", help="forget what was entered and start over")
    commands.add_parser("serve", help="production: configuration from the environment")
    commands.add_parser("verify", help="check the register of sign-offs, withdrawals, incidents and stops")
    reckon = commands.add_parser("reckon", help="a calculation, its inputs as JSON on standard input")
    reckon.add_argument("name", nargs="?", default="")
    reckon.add_argument("--list", action="store_true", help="every calculation with its inputs and bounds")
    reckon.add_argument("--json", action="store_true", help="the answer as JSON")
    commands.add_parser("stats", help="lines of code and of tests")
    shots = commands.add_parser("shots", help="make docs/screenshots anew from the demo data")
    shots.add_argument("--into", default="", help="another folder")
    shots.add_argument("names", nargs="*", help="only these pictures")
    args = parser.parse_args()
    match args.command:
        case "demo":
            run_demo(fresh=args.fresh)
        case "serve":
            from incudo.launch.production import serve

            serve()
        case "verify":
            raise SystemExit(run_verify())
        case "reckon":
            from incudo.launch.reckon import main as reckon_main

            raise SystemExit(reckon_main(args.name, listed=args.list, as_json=args.json))
        case "stats":
            print_stats()
        case "shots":
            from incudo.launch.shots import shoot

            shoot(args.into, args.names)


def _say(text: str) -> None:
    print(f"  {text}", flush=True)


def run_demo(*, fresh: bool) -> None:
    """Start the demo and keep it running."""
    folder = home() / "demo"
    supervisor = Supervisor(Instance.at(folder, DEMO_PORT, DEMO_DATABASE_PORT), _say)
    supervisor.hold()
    loaded = folder / "loaded"
    older = loaded.exists() and loaded.read_text().strip() != str(DATA)
    if fresh or older or not loaded.exists():
        if older and not fresh:
            _say("these demo data are of an older Incudo: starting over")
        else:
            _say("starting over" if loaded.exists() else "first start: this takes a little longer")
        loaded.unlink(missing_ok=True)
        supervisor.instance.heads.unlink(missing_ok=True)
        wipe(folder / "mariadb")
    try:
        _say("starting MariaDB")
        supervisor.start_database()
        if not loaded.exists():
            from incudo.demo.load import load

            _say("loading Skerry Sound")
            unit = supervisor.unit()
            load(unit, datetime.now(UTC), _say, supervisor.instance.device_key)
            unit.engine.dispose()
            loaded.write_text(str(DATA))
        _say("starting the web server")
        # whoever sees the page answer may end it at once
        supervisor.listen()
        supervisor.start_web()
        _say("starting the interlock stand-in")
        supervisor.start_interlock()
    except BaseException:
        supervisor.stop()
        raise
    _tell(supervisor)
    supervisor.run()
    _say("stopped; everything entered is kept")


def run_verify() -> int:
    """Check the register of an instance: of INCUDO_DATABASE if it is set, else of the demo."""
    if os.environ.get("INCUDO_DATABASE"):
        from incudo.api.server import Settings

        settings = Settings.from_environment()
        unit, heads = Unit(open_engine(settings.database), key=settings.register_key), HeadsFile(settings.heads)
        return _verify(unit, heads)
    folder = home() / "demo"
    if not (folder / "instance.json").exists():
        raise SystemExit(f"There is no demo in {folder}; start it once, or set INCUDO_DATABASE.")
    supervisor = Supervisor(Instance.at(folder, DEMO_PORT, DEMO_DATABASE_PORT), _say)
    own = not supervisor.database.answers()
    try:
        if own:
            supervisor.hold()
            supervisor.start_database()
        return _verify(supervisor.unit(), HeadsFile(supervisor.instance.heads))
    finally:
        if own:
            supervisor.stop()


def _verify(unit: Unit, heads: HeadsFile) -> int:
    from incudo.app.register.chain import state

    found = unit.run(lambda w: state(w, heads.read()))
    unit.engine.dispose()
    _say(f"{found.entries} entries, {found.taken_away or 'no'} taken away as heads")
    for line in found.breaks:
        _say(f"BROKEN: {line}")
    _say("the register holds" if found.holds else f"the register does NOT hold: {len(found.breaks)} places")
    return 0 if found.holds else 1


def _tell(supervisor: Supervisor) -> None:
    from incudo.demo import people

    lines = [
        "",
        f"Incudo runs at {supervisor.address}",
        f"The interlock stand-in's panel: {supervisor.panel}",
        f"Demo sign-ins, all with the password {people.PASSWORD}:",
    ]
    shown = ("haldane", "selby", "dacosta", "orla", "ines", "piet", "juno", "thorley")
    for login in shown:
        p = people.PEOPLE[login]
        pin = f", PIN {p.pin}" if p.pin else ""
        lines.append(f"  {login:<9} {p.name}, {p.role}{pin}")
    lines += [
        "Everybody in it is invented. Ctrl-C stops it and keeps what was entered;",
        "./incudo demo --fresh starts over.",
    ]
    print("\n".join(lines), flush=True)


if __name__ == "__main__":
    main()
