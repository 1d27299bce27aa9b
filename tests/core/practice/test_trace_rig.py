"""Which act did it: the right answer explains the sizes by the machine's own numbers, each wrong one says others."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any

import pytest

from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, begin, do, practised, result
from incudo.core.practice.rigs.cut.trace import TracePicture
from incudo.core.practice.rigs.quiz import Question, QuizState

F = Fraction
RIG = RIGS["trace"]
#: What an answer says, and by which number of the machine the sizes are off then.
OFF_BY = (
    (r"half the tip of the edge finder was not", "tip", F(1, 2)),
    (r"the whole tip was allowed for", "tip", F(1, 2)),
    (r"half the tip was turned the wrong way", "tip", F(1)),
    (r"(?P<axis>[XYZ]) handle was miscounted by 1 whole turn", "turn", F(1)),
    (r"(?P<axis>[XYZ]) was approached from the other side", "backlash", F(1)),
)


def number(text: str) -> F:
    found = re.search(r"-?\d+(\.\d+)?", text)
    assert found, text
    return F(found[0])


def of_machine(picture: TracePicture, what: str, axis: str) -> F:
    """A turn, a backlash or the tip, as they stand beside the question."""
    if what == "tip":
        return number(next(f for f in picture.facts if f.startswith("Tip")))
    line = next(f for f in picture.facts if f.startswith("Knee" if axis == "Z" else f"{axis} "))
    return number(line.split("backlash")[1] if what == "backlash" else line)


def middle(limits: str) -> F:
    low, high = limits.split(" to ")
    return (number(low) + number(high)) / 2


def explains(q: Question[Any]) -> bool:
    right = q.option(q.right).label
    for pattern, what, share in OFF_BY:
        found = re.search(pattern, right)
        if not found:
            continue
        off = of_machine(q.picture, what, found.groupdict().get("axis") or "") * share
        out = [x for x in q.picture.lines if not x.good and " to " in x.limits]
        assert out
        for line in out:
            wide = number(line.limits.split(" to ")[1]) - number(line.limits)
            assert abs(abs(number(line.read) - middle(line.limits)) - off) <= wide / 2 + F(1, 100), (right, line)
        return True
    return False


def questions(unit: LengthUnit, level: int, seed: str) -> tuple[Question[Any], ...]:
    s = begin(RIG, RigSetup(unit=unit), level, seed)
    assert isinstance(s, QuizState)
    return s.questions


def test_the_answer_explains_what_was_measured() -> None:
    explained = 0
    for unit in (Unit.MM, Unit.INCH):
        for level in (1, 2, 3):
            for q in questions(unit, level, "gull"):
                assert any(not line.good for line in q.picture.lines), "something is out"
                assert len(q.options) == 4
                assert all(bool(o.slip) == (o.id != q.right) for o in q.options)
                explained += explains(q)
    assert explained >= 8


@pytest.mark.parametrize(("unit", "seed"), [(Unit.MM, "85b4bb6c"), (Unit.INCH, "7bf8bbdc")])
def test_a_small_part_with_few_kinds_of_slip_still_asks_five(unit: LengthUnit, seed: str) -> None:
    asked = questions(unit, 1, seed)
    assert len(asked) == 5
    assert len({q.option(q.right).label for q in asked}) == 5


@pytest.mark.parametrize("level", [1, 2, 3])
def test_a_practised_hand_reaches_the_standard_and_two_wrong_answers_do_not(level: int) -> None:
    setup = RigSetup(unit=Unit.INCH)
    assert result(RIG, practised(RIG, setup, level, "tern")).passed
    s = begin(RIG, setup, level, "tern")
    assert isinstance(s, QuizState)
    for n in range(5):
        assert s.now is not None
        wrong = next(o for o in s.now.options if o.id != s.now.right)
        do(RIG, s, Action(do="answer", on=wrong.id if n < 2 else s.now.right))
        assert s.warned == (n < 2)
        if n < 2:
            assert wrong.slip in s.said
    do(RIG, s, Action(do="finish"))
    assert not result(RIG, s).passed
