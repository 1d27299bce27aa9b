"""``./incudo upgrade``: an older shop is brought to this program's schema, after it was backed up."""

from __future__ import annotations

from datetime import UTC, datetime

from incudo.launch.backup import back_up
from incudo.launch.configuration import home
from incudo.launch.demo import say
from incudo.launch.shops import own_shop_of_this_machine
from incudo.launch.supervise import Supervisor
from incudo.launch.verify import verify_shop
from incudo.store.kernel.migrate import revision_of, steps_after


def run_upgrade() -> int:
    """Bring the shop of this machine to this program's schema. Raises ``SystemExit`` while it runs or is newer."""
    if not (home() / "shop" / "instance.json").exists():
        raise SystemExit(f"There is no shop in {home() / 'shop'}: ./incudo start makes one.")
    shop = own_shop_of_this_machine()
    shop.hold()
    try:
        shop.start_database(migrated=False)
        if not upgrade(shop):
            say("nothing to do: the shop has this program's schema already")
        return verify_shop(shop)
    finally:
        shop.stop()


def upgrade(shop: Supervisor) -> bool:
    """Migrate a shop whose database runs; one with an older schema is backed up first. Says whether it had one.

    Raises ``SystemExit`` for the schema of a newer program.
    """
    before = revision_of(shop.database.owner_url)
    try:
        steps = steps_after(before)
    except LookupError:
        raise SystemExit(
            f"This shop was made by a newer Incudo (schema {before}). Run that one; nothing was changed."
        ) from None
    if before and steps:
        folder = home() / "backups"
        folder.mkdir(exist_ok=True)
        file = folder / f"before-{steps[-1].revision}-{datetime.now(UTC):%Y%m%d-%H%M%S}.incudo"
        say(f"from schema {before} to {steps[-1].revision}; first a backup")
        back_up(shop, file)
        for step in steps:
            say(f"  {step.revision}: {step.about}")
    shop.migrate()
    if before and steps:
        say(f"done; what was before is in {file}")
    return bool(before and steps)
