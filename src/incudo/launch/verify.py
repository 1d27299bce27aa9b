"""``./incudo verify``: whether the register of safety holds."""

from __future__ import annotations

import os

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit
from incudo.launch.configuration import Instance, home
from incudo.launch.demo import DEMO_DATABASE_PORT, DEMO_PORT, say
from incudo.launch.supervise import Supervisor
from incudo.store.kernel.database import open_engine


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
    supervisor = Supervisor(Instance.at(folder, DEMO_PORT, DEMO_DATABASE_PORT), say)
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
    say(f"{found.entries} entries, {found.taken_away or 'no'} taken away as heads")
    for line in found.breaks:
        say(f"BROKEN: {line}")
    say("the register holds" if found.holds else f"the register does NOT hold: {len(found.breaks)} places")
    return 0 if found.holds else 1
