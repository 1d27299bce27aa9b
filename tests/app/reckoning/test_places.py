"""Results are shown as finely as the unit can be worked to, and no finer."""

from __future__ import annotations

from itertools import chain

import pytest

from incudo import shipped
from incudo.app.reckoning.reckoner import reckon
from incudo.core.practice import exercise
from incudo.core.practice.exercise import ShopFacts
from incudo.core.reckoning import MAKERS
from incudo.demo.setting import cutter_entries, machine_entries

FACTS = ShopFacts(machine_entries(), shipped.materials(), cutter_entries(), shipped.threads())
#: A tenth of a thousandth of an inch, a thousandth of a millimetre; a speed in whole turns, a power in whole watts.
WANTED = {
    **{"in": 4, "mm": 3, "in/min": 2, "mm/min": 1, "m/min": 1, "ft/min": 0, "rpm": 0, "s": 0, "min": 1},
    **{"W": 0, "hp": 2, "cm³/min": 1, "in³/min": 2},
}


def _shown(name: str, seed: str) -> list[tuple[str, str]]:
    given = exercise.ask(name, seed, FACTS).given
    return [(v.unit, v.value) for r in reckon(name, given).results for v in r.values]


_LENGTH = {"value": "7.31", "unit": "mm"}
_POWER = {
    **{"engaged": _LENGTH, "deep": _LENGTH, "feed": {"value": "313", "unit": "mm/min"}},
    **{"unit_power": {"value": "47", "unit": "W·min/cm³"}, "motor": {"value": "1130", "unit": "W"}},
}
ALL = {
    **{(name, seed): _shown(name, seed) for name in MAKERS for seed in ("one", "two", "three")},
    ("power", ""): [(v.unit, v.value) for r in reckon("power", _POWER).results for v in r.values],
}


def test_every_unit_with_places_of_its_own_comes_up_somewhere() -> None:
    assert set(WANTED) <= {unit for unit, _ in chain(*ALL.values())}


@pytest.mark.parametrize("unit", WANTED)
def test_so_many_decimal_places_are_shown(unit: str) -> None:
    values = [v for u, v in chain(*ALL.values()) if u == unit]
    places = {len(v.partition(".")[2]) for v in values}
    assert max(places) == WANTED[unit], values
