"""Moves by a dial: turned at a screw that really has backlash, never counted past a whole turn."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.locating.dial import Dial, Turning
from tests.core.reckoning.figures import INCH, names, result, slip, worked
from tests.mill import MillAxis

UP = Turning.CLOCKWISE


@given(
    st.integers(-30_000, 30_000).filter(bool),
    st.sampled_from((("2.54", 100), ("5", 250), ("5.08", 200), ("4", 80))),
    st.integers(0, 100),
    st.integers(0, 99),
    st.booleans(),
)
def test_the_dial_shows_what_was_said(
    hundredths: int, of: tuple[str, int], percent: int, ring: int, back: bool
) -> None:
    turn, graduations = Fraction(of[0]), of[1]
    lost = turn * percent / 100
    dial = Dial(turn, graduations, lost, UP, UP, Unit.MM)
    m, by = MillAxis(dial, lost), Fraction(hundredths, 100)
    sign = 1 if by > 0 else -1
    m.turn(dial.turning(-sign if back else sign), turn * 2)
    start = turn * ring / 100
    m.ring = m.screw - start
    stood = m.at
    found = worked(
        "dial-move",
        by=str(float(by)),
        per_turn=of[0],
        graduations=str(graduations),
        start=f"{float(start):.6f}",
        backlash=f"{float(lost):.6f}",
        last="the other way" if back else "the same way",
    )
    m.turn(dial.turning(sign), abs(by) + (lost if back else 0))
    assert m.at - stood == by
    assert result(found, "reading") % float(turn) == pytest.approx(float(m.shows), abs=1e-4)
    divisions = result(found, "divisions")
    assert 0 <= divisions < graduations
    counted = result(found, "turns") * turn + Fraction(divisions) * dial.division
    assert abs(float(counted - abs(by) - (lost if back else 0))) <= float(dial.division) / 4 + 1e-6


@pytest.mark.parametrize(
    ("by", "turns", "divisions"),
    [
        ("0.0999 in", 1, 0),
        ("0.09975 in", 1, 0),
        ("0.0997 in", 0, 99.5),
        ("0.0002 in", 0, 0),
        ("0.1 in", 1, 0),
        ("1.3435 in", 13, 43.5),
        ("1.3432 in", 13, 43),
    ],
)
def test_rounded_to_half_a_division_before_it_is_split(by: str, turns: int, divisions: float) -> None:
    found = worked("dial-move", by=by, per_turn="0.1 in", graduations="100")
    assert (result(found, "turns"), result(found, "divisions")) == (turns, divisions)


def test_turning_back_is_said_where_backlash_is_taken_up() -> None:
    given = {"by": "-1", "per_turn": "5", "graduations": "250", "backlash": "0.1"}
    back = worked("dial-move", last="the other way", **given)
    assert "turned away first" in back.said[1]
    assert back.steps[0].what == "travel of the screw"
    assert len(worked("dial-move", **given).said) == 1


@pytest.mark.parametrize(("backlash", "taken"), [("5", True), ("5.01", False), ("0", True)])
def test_backlash_is_at_most_a_turn(backlash: str, taken: bool) -> None:
    given = {"by": "1", "per_turn": "5", "graduations": "250", "backlash": backlash}
    if taken:
        worked("dial-move", **given)
        return
    with pytest.raises(Refused, match=r"backlash.*at most one turn, 5 mm"):
        worked("dial-move", **given)


def test_a_move_of_nothing_is_refused() -> None:
    with pytest.raises(Refused, match=r"by.*must not be 0"):
        worked("dial-move", by="0")


MOVE = {"by": "-1", "per_turn": "5", "graduations": "250", "start": "0.2", "backlash": "0.1", "last": "the other way"}


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (4.2, "the backlash was forgotten"),
        (4.3, "the backlash was taken the wrong way"),
        (1.3, "the dial was turned the wrong way"),
        (3.9, "the dial was taken to start from 0"),
        (4.1, ""),
    ],
)
def test_slips_of_a_move(answer: float, words: str) -> None:
    assert slip("dial-move", answer, **MOVE) == words


def test_backlash_added_though_nothing_turned_back_is_named() -> None:
    same = MOVE | {"last": "the same way"}
    assert slip("dial-move", 4.1, **same) == "the backlash was added though nothing turned back"


def test_a_series_comes_to_each_place_from_one_side() -> None:
    found = worked("dial-series", places="12 7 22", zero="5", per_turn="5", graduations="250")
    assert [r.label for r in found.results] == ["1. 7 mm: dial", "2. 12 mm: dial", "3. 22 mm: dial"]
    assert [float(r.value) for r in found.results] == [2, 2, 2]
    below = worked("dial-series", places="12 7 22", zero="5", per_turn="5", graduations="250", side="from above")
    assert [r.label.split()[1] for r in below.results] == ["22", "12", "7"]
    assert slip("dial-series", 7, places="12 7 22", zero="5") == "the place itself was taken for the reading"
    assert slip("dial-series", 3, places="13 7 22", zero="5") == "the order of the list was kept"


@pytest.mark.parametrize(
    ("size", "set_to", "off"),
    [("12.7 mm", 12.7, 0), ("12.704 mm", 12.7, -0.004), ("12.706 mm", 12.71, 0.004), ("0.5 in", 12.7, 0)],
)
def test_a_length_as_a_metric_dial_can_set_it(size: str, set_to: float, off: float) -> None:
    """250 divisions of a 5 mm turn are 0.02 mm: by halves of 0.01 mm."""
    found = worked("convert", size=size, per_turn="5 mm", graduations="250")
    assert result(found, "set") == pytest.approx(set_to)
    assert result(found, "off") == pytest.approx(off, abs=1e-9)
    assert names(found) == ["size", "set", "off"]


def test_slips_of_converting() -> None:
    assert slip("convert", 0.5, size="12.7 mm") == "it was multiplied by 25.4 where it is divided"
    assert slip("convert", 12.7 * INCH, size="12.7 mm") == "it was divided by 25.4 where it is multiplied"
    assert slip("convert", 12.5, size="12.7 mm") == "25 was taken for 25.4"
    assert slip("convert", 12.7, size="12.7 mm") == ""
