"""What an older shop kept as one pair for all diameters becomes a chart, and back."""

from __future__ import annotations

import json
from importlib.util import module_from_spec, spec_from_file_location
from typing import Any

from incudo import shipped
from incudo.core.shop.material import Stock
from tests.paths import ROOT

_SPEC = spec_from_file_location("chip_charts", ROOT / "src/incudo/store/migrations/versions/0006_chip_charts.py")


def migration() -> Any:
    assert _SPEC
    assert _SPEC.loader
    found = module_from_spec(_SPEC)
    _SPEC.loader.exec_module(found)
    return found


def old() -> dict[str, Any]:
    """A material as it was kept before, with a pair of its own in each range."""
    stock = shipped.materials()[0].model_dump(mode="json")
    for one in stock["ranges"]:
        del one["chart"]
        one |= {"f_low": "0.03", "f_high": "0.1"}
    return stock


def test_a_pair_becomes_a_chart_that_a_small_cutter_bears() -> None:
    m = migration()
    text = m._rewritten(json.dumps(old()), m._to_chart)
    stock = Stock.model_validate_json(text)
    for one in stock.ranges:
        low, high = one.chip(m.MEANT_FOR[one.operation.value])
        assert (float(low), float(high)) == (0.03, 0.1)
        small = one.chip(m.MEANT_FOR[one.operation.value] / 16)
        assert float(small[1]) < 0.01
    assert m._rewritten(text, m._to_chart) == text, "run again it changes nothing"


def test_and_back() -> None:
    m = migration()
    again = json.loads(m._rewritten(m._rewritten(json.dumps(old()), m._to_chart), m._to_pair))
    assert again == old()
