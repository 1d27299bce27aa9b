"""The demo shop, loaded once, behind the real application."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path

import pytest

from incudo.api.kernel.heads import HeadsFile
from incudo.api.server import Settings, create_app
from incudo.app.kernel.unit import Unit
from incudo.launch.supervise import Supervisor
from incudo.store.kernel.database import open_engine
from tests.loaded import loaded_shop
from tests.shop import Clock, TestShop


def behind_the_application(
    started: Supervisor, web: Path, replica: str = "", clock: Clock | None = None
) -> Iterator[TestShop]:
    """The application over a started database, with a clock of its own; ``replica``: where registers are read."""
    instance, url = started.instance, started.database.app_url
    engine = open_engine(url)
    clock = clock or Clock()
    heads = HeadsFile(instance.heads)
    unit = Unit(engine, clock, instance.register_key, heads.add)
    (web / "index.html").write_text("<!doctype html><title>Incudo</title>")
    (web / "assets").mkdir()
    (web / "assets" / "a.js").write_text("1")
    Path(web / "assets" / "a.js.br").write_bytes(b"packed")
    settings = Settings(
        database=url,
        secret=instance.secret,
        web=web,
        register_key=instance.register_key,
        heads=heads.path,
        replica=replica,
    )
    yield TestShop(create_app(settings, unit), unit, clock, started.database.owner_url)
    engine.dispose()


@pytest.fixture(scope="session")
def whole_shop(loaded: Supervisor, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestShop]:
    yield from behind_the_application(loaded, tmp_path_factory.mktemp("web"))


@pytest.fixture(scope="module")
def shop_apart(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestShop]:
    """A copy of the shop that a test may leave in any state."""
    started = Supervisor(loaded_shop(tmp_path_factory.mktemp("apart")))
    try:
        started.start_database()
        yield from behind_the_application(started, tmp_path_factory.mktemp("web-apart"))
    finally:
        started.stop()


@pytest.fixture
def shop(whole_shop: TestShop, caplog: pytest.LogCaptureFixture) -> Iterator[TestShop]:
    """The shop; the clock is put back afterwards, and nothing may have broken on the server."""
    with caplog.at_level(logging.ERROR):
        yield whole_shop
    whole_shop.clock.ahead, whole_shop.clock.still = timedelta(), None
    broken = [r.getMessage() for r in caplog.records if r.getMessage().startswith("broken")]
    assert not broken, broken
