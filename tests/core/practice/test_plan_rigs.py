"""The rigs of drawing and plan: the right answer is worked out again from the made-up part, another way round."""

from __future__ import annotations

import random
import re
from collections.abc import Callable
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, begin, do, result
from incudo.core.practice.rigs.plan.made_up import made_up
from incudo.core.practice.rigs.quiz import Question, QuizState

D = Decimal
seeds = st.text("abcdefgh0123456789", min_size=1, max_size=6)
units = st.sampled_from([Unit.MM, Unit.INCH])
levels = st.sampled_from([1, 2, 3])


def questions(rig: str, unit: LengthUnit, level: int, seed: str) -> tuple[Question[Any], ...]:
    s = begin(RIGS[rig], RigSetup(unit=unit), level, seed)
    assert isinstance(s, QuizState)
    return s.questions


def right(q: Question[Any]) -> str:
    return q.option(q.right).label


def number(label: str) -> Decimal:
    return D(label.split(maxsplit=1)[0])


# ── the drawing ───────────────────────────────────────────────────────────


class Sized:
    """The sizes of the made-up part from its features, never from the numbers on its drawing."""

    def __init__(self, unit: LengthUnit, level: int, seed: str) -> None:
        self.file = made_up(random.Random(f"{seed}:{level}:drawing"), unit).file
        of = {f.name: f for f in self.file.features}
        self.step, self.slot, self.pin, self.screw = (
            of[n].model_dump() for n in ("step", "slot", "pin hole", "screw hole")
        )

    def body(self, axis: str) -> Decimal:
        return D(self.file.body.model_dump()[axis])

    def tolerance(self, n: int) -> str:
        return str(next(c.tolerance for c in self.file.characteristics if c.number == n))

    def at(self, hole: dict[str, Any], axis: int) -> Decimal:
        return D(hole["layout"]["at"][axis])


SIZES: dict[str, Callable[[Sized], Decimal]] = {
    "How much may be left under the step at most?": lambda s: (
        s.body("z") - D(s.step["depth"]) + D(re.findall(r"\+([\d.]+)", s.tolerance(4))[0])
    ),
    "How deep is the step, from the top?": lambda s: D(s.step["depth"]),
    "How far from the left end does the slot end, at its right wall?": lambda s: (
        D(s.slot["at"]) + D(s.slot["width"]) / 2
    ),
    "How far apart are the two holes along the length?": lambda s: abs(s.at(s.screw, 0) - s.at(s.pin, 0)),
    "How long is the step, from its wall to the right end?": lambda s: D(s.step["length"]),
    "How far may the middle of the pin hole lie from its true place, in any direction?": lambda s: (
        D(s.tolerance(13)) / 2
    ),
    "No tolerance stands beside the depth of the slot. How far may it be off, each way?": lambda s: D(
        s.file.title_block[max(0, -int(D(s.slot["depth"]).as_tuple().exponent))]
    ),
}
IN_WORDS = {
    "From which face is the screw hole measured across the width?": "the front",
    "The slot runs from front to rear. In which view is its depth seen?": "in the front view",
    "What are the dashed lines in the front view?": "edges that lie behind metal: the holes",
    "From which faces does the frame measure the place of the pin hole?": "B and C: left end and front",
}


@settings(max_examples=30)
@given(units, levels, seeds)
def test_the_drawing_says_what_the_part_is(unit: LengthUnit, level: int, seed: str) -> None:
    sized = Sized(unit, level, seed)
    found = questions("drawing", unit, level, seed)
    assert len(found) == 6
    for q in found:
        if q.words in SIZES:
            assert number(right(q)) == SIZES[q.words](sized), q.words
            assert right(q).endswith(f" {unit}")
        elif q.words in IN_WORDS:
            assert right(q) == IN_WORDS[q.words]
        else:
            assert q.words.startswith("Which hole gets the thread M6" if unit is Unit.MM else "Which hole gets")
            assert right(q) == "the one that is countersunk"
        assert all(bool(o.slip) == (o.id != q.right) for o in q.options), "who errs is told how"
        assert 3 <= len({o.label for o in q.options}) == len(q.options)


@pytest.mark.parametrize("unit", [Unit.MM, Unit.INCH])
def test_the_drawing_has_what_the_work_needs(unit: LengthUnit) -> None:
    (svg,) = {q.picture.svg for q in questions("drawing", unit, 3, "harbour")}
    for words in ("Unmarked", "Datum A", "reamed", "countersunk", "M6" if unit is Unit.MM else "1/4-20"):
        assert words in svg


# ── the plan ──────────────────────────────────────────────────────────────

#: What is said of a step when something is wrong there, and the name of the fault.
SAID = {
    r"climb cut": "A climb cut with play in the screw",
    r"depth set in the work": "The depth is set in the work",
    r"; Drill chuck;.*(conventional|depth set)": "The wrong holder",
    r"not measured before": "No measurement before the last pass",
    r"locked: nothing": "An axis is not locked",
    r"locked: X, Y": "The axis that feeds is locked",
    r"full feed to the end": "Full feed at the breakthrough",
    r"2800 rpm": "Far too fast",
    r"zero along X: none": "No zero along an axis",
}
ORDERS = [
    ("Spot", "Drill"),
    ("Drill", "Ream"),
    ("Drill", "Tap"),
    ("Drill", "Countersink"),
]


def checks_order(q: Question[Any]) -> None:
    """Every answer but the right one lacks a step or has two the wrong way round."""
    whole = set(right(q).split(", then "))
    for o in q.options:
        steps = o.label.split(", then ")
        turned = any(a in steps and b in steps and steps.index(a) > steps.index(b) for a, b in ORDERS)
        assert (turned or set(steps) != whole or steps != right(q).split(", then ")) == (o.id != q.right)


def checks_cutter(q: Question[Any], unit: LengthUnit) -> None:
    mm = unit is Unit.MM
    size = D(re.findall(r"\d+\.?\d*", right(q))[0])
    if q.words.startswith("Ream"):
        assert right(q) == ("Reamer 8 mm" if mm else "Reamer 0.3125 in")
    elif q.words.startswith("Drill: pin"):
        # to be reamed: a little is left
        assert D("0.01") < (D(8) if mm else D("0.3125")) / size - 1 < D("0.04")
    elif q.words.startswith("Drill: screw"):
        assert size == (D(6) - D(1) if mm else D("0.201"))
    else:
        assert q.words.startswith("Mill the slot")
        assert right(q).startswith("End mill")
        assert size <= (D(12) if mm else D("0.5"))


def checks_parallels(q: Question[Any], unit: LengthUnit) -> None:
    """Jaws 36 mm deep: at least a third of the height, and 6.35 mm, is between them."""
    height = D({Unit.MM: "20", Unit.INCH: "19.05"}[unit])
    per = D(1) if unit is Unit.MM else D("25.4")
    gripped = 36 - number(right(q)) * per
    assert gripped >= D("6.35")
    assert gripped <= height - 4 + D("0.1") * per, "the shallowest cut is 4 mm or 0.15 in deep"


def checks_fault(q: Question[Any]) -> None:
    said = {title for pattern, title in SAID.items() if re.search(pattern, q.words)}
    assert len(said & {o.label for o in q.options}) == 1, (q.words, said, [o.label for o in q.options])
    assert right(q) in said


@settings(max_examples=12)
@given(units, levels, seeds)
def test_the_plan_is_as_a_practised_hand_would_make_it(unit: LengthUnit, level: int, seed: str) -> None:
    found = questions("planning", unit, level, seed)
    assert len(found) == 6
    for q in found:
        if q.words.startswith("In which order"):
            checks_order(q)
        elif q.words.endswith("Which cutter?"):
            checks_cutter(q, unit)
        elif q.words.startswith("Which parallels"):
            checks_parallels(q, unit)
        elif "is zero set along" in q.words:
            assert right(q) == ("Left end" if q.words.endswith("along X?") else "Front"), "the drawing begins there"
        else:
            checks_fault(q)
        assert all(bool(o.slip) == (o.id != q.right) for o in q.options)
        assert q.picture.part
        assert "<svg" in q.picture.sheet or "<g" in q.picture.sheet


@pytest.mark.parametrize("rig", ["drawing", "planning"])
def test_a_wrong_answer_to_what_matters_is_told_and_ends_it(rig: str) -> None:
    """All right but the first critical one: that run is not to standard, whatever the rest."""
    s = begin(RIGS[rig], RigSetup(unit=Unit.MM), 2, "quay")
    assert isinstance(s, QuizState)
    missed = next(q for q in s.questions if q.critical)
    while (q := s.now) is not None:
        chosen = next(o.id for o in q.options if (o.id == q.right) == (q is not missed))
        slip = q.option(chosen).slip
        do(RIGS[rig], s, Action(do="answer", on=chosen))
        assert s.warned == (q is missed)
        assert (slip.rstrip(".").lower() in s.said.lower()) if slip else s.said.startswith("Right. ")
    do(RIGS[rig], s, Action(do="finish"))
    assert not result(RIGS[rig], s).passed
