"""Which shops there are on this machine: one's own, and the demo; and doing something with the one that is meant."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from incudo.api.kernel.heads import HeadsFile
from incudo.app.kernel.unit import Unit
from incudo.launch.configuration import Instance, home
from incudo.launch.demo import DEMO_DATABASE_PORT, DEMO_PORT, say
from incudo.launch.supervise import Supervisor
from incudo.store.kernel.database import open_engine

#: Not those of the demo, so that both can run beside each other.
PORT, DATABASE_PORT = 8410, 33410


def own_shop_of_this_machine() -> Supervisor:
    """The shop of this machine: its folder, its database, its server."""
    return Supervisor(Instance.at(home() / "shop", PORT, DATABASE_PORT), say)


def shop_of_this_machine() -> Supervisor:
    """One's own shop where there is one, else the demo. Raises ``SystemExit`` where there is neither."""
    shop, demo = home() / "shop", home() / "demo"
    if (shop / "instance.json").exists():
        return own_shop_of_this_machine()
    if (demo / "instance.json").exists():
        return Supervisor(Instance.at(demo, DEMO_PORT, DEMO_DATABASE_PORT), say)
    raise SystemExit(f"There is no shop in {home()}; start one once, or set INCUDO_DATABASE.")


def with_shop(do: Callable[[Unit, HeadsFile], int]) -> int:
    """Do something with the shop of INCUDO_DATABASE, else of this machine, else with the demo."""
    if os.environ.get("INCUDO_DATABASE"):
        from incudo.api.server import Settings

        settings = Settings.from_environment()
        unit, heads = Unit(open_engine(settings.database), key=settings.register_key), HeadsFile(settings.heads)
        return do(unit, heads)
    with database_of(shop_of_this_machine()) as supervisor:
        return do(supervisor.unit(), HeadsFile(supervisor.instance.heads))


@contextmanager
def database_of(shop: Supervisor, *, migrated: bool = True) -> Iterator[Supervisor]:
    """A shop with its database running: the one that runs already, else started for this.

    ``migrated``: one that is started is brought to this program's schema.
    """
    own = not shop.database.answers()
    try:
        if own:
            shop.hold()
            shop.start_database(migrated=migrated)
        yield shop
    finally:
        if own:
            shop.stop()
