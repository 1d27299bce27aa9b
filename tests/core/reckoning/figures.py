"""Figures worked by hand, as they are written on paper: ``worked("edge", touch="10 mm", tip="5 mm")``."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from incudo.core.reckoning import CALCULATIONS
from incudo.core.reckoning.calculation import Outcome
from incudo.core.reckoning.inputs import LISTS, Quantity, Values

INCH = 25.4


def asked(name: str, **given: str) -> dict[str, Any]:
    """Inputs as a client sends them; values stand as "0.5 in", texts that are no numbers are choices or lists."""
    found: dict[str, Any] = {}
    kinds = {i.name: i.kind for i in CALCULATIONS[name].inputs}
    for key, text in given.items():
        if kinds[key] in (Quantity.CHOICE, Quantity.STEPS):
            found[key] = {"value": text}
        elif kinds[key] in LISTS:
            *sizes, unit = text.split() if text.endswith(("in", "mm", "min")) else (*text.split(), "")
            found[key] = {"value": " ".join(sizes), "unit": unit}
        else:
            value, _, unit = text.partition(" ")
            found[key] = {"value": value, "unit": unit}
    return found


def read(name: str, **given: str) -> Values:
    """The inputs, read."""
    return CALCULATIONS[name].read(asked(name, **given))


def worked(name: str, **given: str) -> Outcome:
    """What a calculation makes of them."""
    return CALCULATIONS[name].reckon(asked(name, **given))


def result(found: Outcome, name: str) -> float:
    """One result in its base unit (mm, m/min, rpm, s, W)."""
    return float(next(r.value for r in found.results if r.name == name))


def names(found: Outcome) -> list[str]:
    """Which results there are, in order."""
    return [r.name for r in found.results]


def slip(name: str, answer: float, near: float = 1e-6, **given: str) -> str:
    """What a wrong answer (in its base unit) is called; empty where nothing is known to lead to it, or it is right."""
    found = CALCULATIONS[name].slip_of(read(name, **given), Fraction(answer), Fraction(near))
    return found.words if found else ""
