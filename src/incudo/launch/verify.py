"""``./incudo verify`` and ``./incudo standings``: whether what is kept is what was recorded."""

from __future__ import annotations

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit, Work
from incudo.launch.demo import say
from incudo.launch.shops import with_shop
from incudo.launch.supervise import Supervisor


def run_verify() -> int:
    """Check the register of an instance: of INCUDO_DATABASE if it is set, else of the demo. 1 when it does not hold."""
    return with_shop(_verify)


def run_standings() -> int:
    """Compare every kept standing with the record and keep what the record says. 1 when a kept one was wrong."""
    return with_shop(lambda unit, _heads: _standings(unit))


def verify_shop(supervisor: Supervisor) -> int:
    """Check the register of a shop whose database runs. 1 when it does not hold."""
    return _verify(supervisor.unit(), HeadsFile(supervisor.instance.heads))


def _standings(unit: Unit) -> int:
    from incudo.app.skills.standings import rebuild

    found = rebuild(unit, lambda done, of: say(f"{done} of {of} students compared"))
    unit.engine.dispose()
    say(f"{found.students} students: {found.held} as the record says, {found.outdated} outdated and not believed")
    for line in found.wrong:
        say(f"WRONG: {line}")
    say(f"{len(found.wrong)} kept standings were WRONG and are put right" if found.wrong else "none was wrong")
    return 1 if found.wrong else 0


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
