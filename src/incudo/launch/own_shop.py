"""``./incudo start``: a shop of one's own, empty at first; ``./incudo code``: somebody comes in again."""

from __future__ import annotations

import os
import threading

from incudo.app.administration.first_run import first_code
from incudo.app.kernel.unit import Unit
from incudo.app.people.accounts import CHEAP
from incudo.launch.demo import say
from incudo.launch.nightly import night_watch, nights_from
from incudo.launch.shops import own_shop_of_this_machine, with_shop
from incudo.launch.upgrade import upgrade


def first_code_words(unit: Unit, address: str) -> list[str]:
    """What is printed where there is no shop yet: where to go, and the code; nothing otherwise."""
    code = unit.run(first_code)
    if not code:
        return []
    return [
        "",
        "This installation is empty. Open",
        f"  {address}",
        "and set the shop up with this code, today:",
        f"  {code}",
    ]


def run_start() -> None:
    """Start the shop of this machine and keep it running; what is entered is kept in its folder."""
    if os.environ.get(CHEAP):
        raise SystemExit(f"{CHEAP} is for test runs alone: passwords would be kept almost in the open. Take it away.")
    nights = nights_from(os.environ)
    own = own_shop_of_this_machine()
    own.hold()
    try:
        say("starting MariaDB")
        own.start_database(migrated=False)
        upgrade(own)
        say("starting the web server")
        own.listen()
        own.start_web()
        unit = own.unit()
        words = first_code_words(unit, own.address)
        unit.engine.dispose()
    except BaseException:
        own.stop()
        raise
    print("\n".join(["", f"Incudo runs at {own.address}", f"What is entered is kept in {own.instance.folder}"]))
    print("\n".join([*words, "", "Ctrl-C stops it."]), flush=True)
    ended = threading.Event()
    watch = threading.Thread(target=night_watch, args=(own, nights, ended, say)) if nights else None
    if nights and watch:
        say(f"a backup every night at {nights.at:%H:%M} into {nights.folder}, {nights.keep} kept")
        watch.start()
    try:
        own.run()
    finally:
        ended.set()
        if watch:
            watch.join()
    say("stopped; everything entered is kept")


def run_code(login: str) -> int:
    """A new code for somebody, printed here; of INCUDO_DATABASE if it is set, else of the shop of this machine."""
    from incudo.app.people.everybody import code_by_server
    from incudo.core.kernel.errors import Refused

    def do(unit: Unit) -> int:
        try:
            slip = unit.run(lambda w: code_by_server(w, login))
        except Refused as refused:
            print(refused.errors[0].words)
            return 1
        print(f"{slip.person.name} signs in as {slip.login} after choosing a password with this code,")
        print(f"once, until {slip.ends_at:%d %B %Y, %H:%M} UTC:\n  {slip.code}")
        return 0

    return with_shop(lambda unit, _heads: do(unit))
