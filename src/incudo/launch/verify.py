"""``./incudo verify``: whether the register of safety holds."""

from __future__ import annotations

import os

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit, Work
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
    from incudo.app.register.chain import PIECE, verify, words_of
    from incudo.store.register.chain import last_entry

    kept = heads.read()

    def check(w: Work) -> tuple[int, list[str]]:
        last = last_entry(w.db)
        total = last.seq if last else 0

        def tell(seq: int) -> None:
            if seq % (20 * PIECE) == 0:
                say(f"{seq} of {total} entries checked")

        return total, [words_of(b) for b in verify(w, kept, say=tell)]

    total, broken = unit.run(check)
    unit.engine.dispose()
    say(f"{total} entries, {len(kept) or 'no'} taken away as heads")
    for line in broken:
        say(f"BROKEN: {line}")
    say(f"the register does NOT hold: {len(broken)} places" if broken else "the register holds")
    return 1 if broken else 0
