"""``./incudo erase LOGIN``: what is kept of a former student is deleted, except what must stay."""

from __future__ import annotations

import os

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit
from incudo.app.people.erasing import Erasure, erase
from incudo.core.kernel.errors import Refused
from incudo.launch.demo import say
from incudo.launch.shops import database_of, shop_of_this_machine
from incudo.store.kernel.database import open_engine


def run_erase(login: str, yes: bool) -> int:
    """Say what erasing comes to, or with ``yes`` do it: in the shop of INCUDO_DATABASE, else in that of this machine.

    Raises ``SystemExit`` where INCUDO_DATABASE is set and INCUDO_OWNER_DATABASE, the owner's address, is not.
    """
    if os.environ.get("INCUDO_DATABASE"):
        owner = os.environ.get("INCUDO_OWNER_DATABASE")
        if not owner:
            raise SystemExit("Set INCUDO_OWNER_DATABASE: the application's own account cannot delete records.")
        return erase_in(Unit(open_engine(owner), key=os.environ.get("INCUDO_REGISTER_KEY", "")), login, yes=yes)
    with database_of(shop_of_this_machine()) as shop:
        heads = HeadsFile(shop.instance.heads)
        unit = Unit(open_engine(shop.database.owner_url), key=shop.instance.register_key, on_head=heads.add)
        return erase_in(unit, login, yes=yes)


def erase_in(unit: Unit, login: str, *, yes: bool) -> int:
    """Do it in this shop. 1 where it cannot be done."""
    try:
        found = unit.run(lambda w: erase(w, login, really=yes))
    except Refused as refused:
        say(f"{login} {refused.errors[0].bound}")
        return 1
    finally:
        unit.engine.dispose()
    _tell(found, login, done=yes)
    return 0


def _tell(found: Erasure, login: str, *, done: bool) -> None:
    say(f"{found.name} {'is' if done else 'would be'} called “{found.stand_in}” in what stays")
    for words, tables in (
        ("deleted", found.deleted),
        ("kept: the register of safety must show who was signed for what and what happened", found.sealed),
        ("kept: records of machines, setups, gauges and the crib", found.of_the_shop),
    ):
        say(f"{words}: {', '.join(f'{n} {table}' for table, n in tables.items()) or 'nothing'}")
    for table, column, n in found.mentions:
        say(f"free text that {'still names' if done else 'names'} them: {n} in {table}.{column}; look at it yourself")
    if done:
        say("Backups made before today still have everything: delete them, or wait until they are rotated away.")
    else:
        say("Nothing was changed. It cannot be undone: give them their data first if they want them, then")
        say(f"  ./incudo erase {login} --yes")
