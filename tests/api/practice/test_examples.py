"""An example of every calculation that questions are made of, worked by the calculation itself."""

from __future__ import annotations

from fractions import Fraction

import pytest

from incudo.core.kernel.quantity import Unit
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.reckoning.inputs import INCH_UNITS, UNITS
from tests.shop import TestShop


@pytest.mark.parametrize("name", sorted(MAKERS))
def test_an_example_is_worked_by_its_calculation(shop: TestShop, name: str) -> None:
    given = shop.haldane.get(f"/api/reckonings/{name}/example")["given"]
    inputs = {i.name: i for i in CALCULATIONS[name].inputs}
    assert {i.name for i in inputs.values() if not i.optional and not i.default} <= set(given) <= set(inputs)
    answer = shop.haldane.post(f"/api/reckonings/{name}", {"given": given})
    assert answer["results"]
    assert answer["working"]
    # the same one every time: it is an example, not a question
    assert shop.haldane.get(f"/api/reckonings/{name}/example")["given"] == given


def test_there_is_no_example_of_what_nobody_asks_about(shop: TestShop) -> None:
    silent = next(c for c in CALCULATIONS if c not in MAKERS)
    shop.haldane.fails(422, f"/api/reckonings/{silent}/example", None, "GET")
    shop.haldane.fails(422, "/api/reckonings/nothing/example", None, "GET")


def test_inputs_begin_in_the_unit_that_is_shown_and_choices_are_sent_as_declared(shop: TestShop) -> None:
    listed = shop.haldane.get("/api/reckonings")["calculations"]
    assert len(listed) == len(CALCULATIONS)
    for c in listed:
        for i in c["inputs"]:
            kind = next(x for x in CALCULATIONS[c["id"]].inputs if x.name == i["name"]).kind
            starts = [i["starts"][u] for u in (Unit.INCH, Unit.MM)]
            inch, mm = (s["unit"] for s in starts)
            if starts[0]["value"] and not i["choices"]:
                sizes = [Fraction(s["value"]) * UNITS[kind][s["unit"]] for s in starts]
                near = sizes[0] == sizes[1] or Fraction(2, 3) < sizes[0] / sizes[1] < Fraction(3, 2)
                assert near, (c["id"], i["name"], starts)
            units = tuple(UNITS[kind])
            assert {inch, mm} <= set(units)
            assert mm not in INCH_UNITS
            assert (inch in INCH_UNITS) == any(u in INCH_UNITS for u in units), (c["id"], i["name"])
            assert len(i["choices"]) == len(i["words"])
            assert starts[1]["value"] in ("", *i["choices"]) or not i["choices"]
