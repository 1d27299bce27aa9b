"""Use cases without HTTP: the loaded shop, and a moment that stands still."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

import pytest

from incudo.app.kernel.unit import Unit
from tests.api.conftest import shop, shop_apart, whole_shop
from tests.shop import TestShop

__all__ = ["at", "moment", "shop", "shop_apart", "whole_shop"]


@pytest.fixture
def moment() -> datetime:
    """Now, as far as a test is concerned."""
    return datetime.now(UTC)


@pytest.fixture
def at(shop: TestShop) -> Callable[[datetime], Unit]:
    """The way to the use cases at a moment that stands still."""
    return lambda when: Unit(shop.unit.engine, lambda: when, shop.unit.key)
