"""What is said of a study, where a figure lies just on a bound."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from incudo.app.practice.studies import _said
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring import study as rules
from incudo.core.measuring.instrument import Instrument, Measure

F = Fraction
GAUGE = Instrument(
    "Micrometer", *(Length(x, Unit.MM) for x in ("0", "25")), Measure.SIZE,
    Length("0.001", Unit.MM), Length("0.00390625", Unit.MM), Length("0", Unit.MM), date(2027, 1, 1),
)  # fmt: skip
NAMES = {"one": "Orla Finnis", "two": "Bram Tolquhon"}


def said(**of: object) -> str:
    plain: dict[str, object] = {
        "gauge": 0.001, "people": 0.0, "both": 0.001, "parts": 0.1, "share": None, "fit": None, "kinds": 9,
        "biases": {"one": F(0), "two": F(0)}, "pooled": True,
    }  # fmt: skip
    return " ".join(_said(rules.Study(**{**plain, **of}), "", GAUGE, NAMES))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("just", "beyond", "words"),
    [
        ({"people": 0.001}, {"people": 0.0011}, "The people differ more"),
        # the gauge is sure to 1/256 mm, a number that a double holds exactly
        ({"both": 2**-9}, {"both": 2**-9 + 2**-40}, "less sure than that"),
        ({"kinds": rules.KINDS}, {"kinds": rules.KINDS - 1}, "too much alike"),
        ({"biases": {"one": F("0.0009"), "two": F(0)}}, {"biases": {"one": F("0.001"), "two": F(0)}}, "reads highest"),
    ],
)
def test_just_on_a_bound_and_beyond(just: dict[str, object], beyond: dict[str, object], words: str) -> None:
    assert words not in said(**just)
    assert words in said(**beyond)
