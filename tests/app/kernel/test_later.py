"""What a use case leaves for afterwards: it may not be done just now, but a fault of ours is not hidden."""

from __future__ import annotations

import pytest
from sqlalchemy.exc import TimeoutError as PoolTimeout

from incudo.app.kernel.unit import Work
from incudo.store import schema as t
from tests.shop import TestShop


@pytest.mark.parametrize(("error", "hidden"), [(PoolTimeout(), True), (ValueError("ours"), False)])
def test_only_a_database_that_cannot_just_now_is_excused(shop: TestShop, error: Exception, hidden: bool) -> None:
    def fails(_: Work) -> None:
        raise error

    def use_case(w: Work) -> str:
        w.later.append(fails)
        row = w.db.get(t.Shop, 1)
        assert row is not None
        return str(row.name)

    if hidden:
        assert shop.unit.run(use_case) == "Skerry Sound"
    else:
        with pytest.raises(ValueError, match="ours"):
            shop.unit.run(use_case)
