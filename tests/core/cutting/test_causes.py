"""Which act made an error, told from what was done and how far off it left the cutter: each sign alone, its bounds."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest

from incudo.core.cutting.dry.acts import Act, Do
from incudo.core.cutting.dry.causes import Code, at_place, at_zero
from incudo.core.cutting.slides import Ring
from incudo.core.cutting.step import RunStep, StepKind, Zero
from incudo.core.kernel.quantity import Unit
from incudo.core.locating.dial import Dial, Turning
from incudo.core.shop.machine import Handle

F = Fraction
#: 5 mm a turn, 100 divisions, 0.4 mm of backlash: a quarter of a division is 0.0125 mm.
DIAL = Dial(F(5), 100, F("0.4"), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
FINE = F("0.0125")
MORE = F("0.0001")
ROUND = {"name": "X", "axis": "x", "unit": "mm", "per_turn": "5", "graduations": 100, "clockwise": "left"}


def ring(axis: str = "x") -> Ring:
    handle = Handle.model_construct(**{**ROUND, "axis": axis})
    return Ring(handle, DIAL, readout=False, unit=Unit.MM)


def turn(by: str, reading: str | None = None) -> Act:
    return Act(Do.TURN, "x", 1 if F(by) > 0 else -1, abs(F(by)), None if reading is None else F(reading))


def step(zero: Zero | None = None) -> RunStep:
    return RunStep(id="o1.p", kind=StepKind.PASS, holding="h1", operation="o1", title="", zero=zero)


WHOLE, PART, BACK = turn("5", "0"), turn("3.2", "3.2"), turn("-3.2", "1.8")
PLACES: list[tuple[str, list[Act], list[Act], Fraction]] = [
    # a whole turn counted once too often, and the same turning done twice: both leave the cutter a turn further
    ("miscounted", [WHOLE], [turn("10", "0")], F(5)),
    ("twice", [WHOLE], [WHOLE, WHOLE], F(5)),
    ("miscounted", [PART], [turn("8.2", "3.2")], F(5)),
    ("miscounted", [PART], [turn("8.2", "3.2")], 5 + FINE),
    ("beside", [PART], [turn("8.2", "3.2")], 5 + FINE + MORE),
    ("miscounted", [PART], [turn("8.2", "3.2")], F(-10) - FINE),
    ("twice", [PART], [turn("6.4", "1.4")], F("3.2")),
    ("twice", [PART], [turn("6.4", "1.4")], F("3.2") + FINE),
    ("beside", [PART], [turn("6.4", "1.4")], F("3.2") + FINE + MORE),
    ("straight", [PART], [BACK], F("-0.4")),
    ("straight", [PART], [BACK], F("0.4") + FINE),
    ("wrong-way", [PART], [BACK], F("0.4") + FINE + MORE),
    ("not-turned", [PART], [], F("-3.2")),
    ("moved", [PART], [PART, Act(Do.MOVE, "x")], F("0.4")),
    ("crept", [PART], [PART, Act(Do.CREEP, "x")], F("0.4")),
    # 3.2 read from the other side of 0 is 1.8
    ("backwards", [PART], [turn("1.8", "1.8")], F("-1.4")),
    ("backwards", [PART], [turn("1.81", "1.8125")], F("-1.39")),
    ("beside", [PART], [turn("1.82", "1.8126")], F("-1.38")),
    ("beside", [PART], [turn("3.55", "3.55")], F("0.35")),
]


@pytest.mark.parametrize(("code", "told", "done", "off"), PLACES)
def test_why_a_cutter_stands_beside_its_place(code: str, told: list[Act], done: list[Act], off: Fraction) -> None:
    found = at_place(step(), ring(), told, done, off)
    assert (found.code, found.size, found.axis) == (Code(code), off, "x")


def test_what_moves_along_z_is_the_cutter_in_its_holder() -> None:
    done = [Act(Do.TURN, "z", -1, F(2), F(2)), Act(Do.MOVE, "z")]
    assert at_place(step(), ring("z"), done[:1], done, F("0.3")).code is Code.PULLED


#: A tip of 10 mm: half of it is allowed for, turned the way that the zero's side says.
TIP = [Act(Do.TOUCH, "x"), Act(Do.TURN, "x", 1, F(5)), Act(Do.RING, "x")]
ZEROS: list[tuple[str, dict[str, Any], Fraction]] = [
    ("half-tip", {"half": 0}, F(-5)),
    ("half-tip", {"half": FINE}, F(-5)),
    ("beside-zero", {"half": FINE + MORE}, F(-5)),
    ("tip-other-way", {"half": -5}, F(-10)),
    ("tip-other-way", {"half": -5 + FINE}, F(-10)),
    ("beside-zero", {"half": -5 + FINE + MORE}, F(-10)),
    ("whole-tip", {"half": 10}, F(5)),
    ("whole-tip", {"half": 10 + FINE}, F(5)),
    ("beside-zero", {"half": 10 + FINE + MORE}, F(5)),
    ("kept", {"touch": None}, F("0.5")),
    ("under", {"gap": FINE + MORE}, F("0.15")),
    ("beside-zero", {"gap": FINE}, F("0.15")),
    ("ring-slipped", {"slip": "0.2"}, F("0.2")),
    ("ring-slipped", {"slip": "0.2"}, F("0.2") + FINE),
    ("beside-zero", {"slip": "0.2"}, F("0.2") + FINE + MORE),
    ("beside-zero", {"slip": FINE}, FINE),
]


@pytest.mark.parametrize("side", [1, -1])
@pytest.mark.parametrize(("code", "done", "off"), ZEROS)
def test_why_a_zero_is_beside_its_face(code: str, done: dict[str, Any], off: Fraction, side: int) -> None:
    half = F(done.get("half", 5))
    acts = [
        Act(Do.TOUCH, "x", travel=F(done.get("gap", 0))),
        Act(Do.TURN, "x", side if half > 0 else -side, abs(half)),
        Act(Do.RING, "x", travel=F(done.get("slip", 0))),
    ]
    told = [TIP[0], Act(Do.TURN, "x", side, F(5)), TIP[2]]
    found = at_zero(
        step(Zero("x", F(0), side, "left", "tip")), ring(), told, acts[1:] if "touch" in done else acts, off
    )
    assert (found.code, found.size) == (Code(code), off)


def test_on_z_a_gap_is_the_paper() -> None:
    told = [Act(Do.TOUCH, "z", travel=F("0.1")), Act(Do.RING, "z")]
    zero = step(Zero("z", F(0), -1, "top", "end"))
    for gap, code in ((F("0.1") - FINE, Code.BESIDE_ZERO), (F("0.1") - FINE - MORE, Code.PAPER), (F(0), Code.PAPER)):
        done = [Act(Do.TOUCH, "z", travel=gap), Act(Do.RING, "z")]
        assert at_zero(zero, ring("z"), told, done, F("0.1")).code is code
