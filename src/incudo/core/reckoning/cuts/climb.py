"""Climb or conventional. From the side on which the work lies and the way the table goes; a right-hand cutter,
turning clockwise.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.working import Step
from incudo.core.locating import climb
from incudo.core.locating.dial import Turning
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
from incudo.core.reckoning.picture import Ink, Picture
from incudo.core.reckoning.question import Draw, Given, Question
from incudo.core.shop.machine import Way

WORDS = ("climb", "conventional")


def _climb(v: Values) -> Outcome:
    found = climb.milling(Turning.CLOCKWISE, v.choice("work") == "behind", Way(v.choice("table")))
    other = Way.RIGHT if v.choice("table") == "left" else Way.LEFT
    step = Step(
        "looking along the cutter's travel",
        "work on the right: climb; on the left: conventional",
        f"the table goes {v.choice('table')}, so the cutter travels {other}; the work lies {v.choice('work')} it",
        found.value,
    )
    value = Fraction(WORDS.index(found.value))
    said = []
    if found is climb.Milling.CLIMB:
        lost = v["backlash"]
        said.append(
            f"With {v.len(lost)} of lost motion the cutter can pull the table in: not here."
            if lost > Fraction(str(climb.MOST_LOST))
            else "Only a light one, the lock dragged: the cutter pulls the table in by the lost motion."
        )
    return Outcome((Output("which", "it is", Quantity.CHOICE, value, WORDS),), (step,), tuple(said))


def _draw_climb(v: Values, o: Outcome) -> Picture:
    behind = v.choice("work") == "behind"
    y = (12, 42) if behind else (-42, -12)
    right = v.choice("table") == "left"
    shapes = (
        p.box(Ink.WORK, -60, y[0], 60, y[1]),
        *p.cutter((Fraction(0), Fraction(0)), 40, 4),
        p.arrow(Ink.ANSWER, (26 if right else -26, 0), (58 if right else -58, 0)),
        p.text((70 if right else -70, 8), "cutter's travel", Ink.ANSWER),
        p.arrow(Ink.SCRIBE, (30, 30 if behind else -30), ((50 if not right else 10), 30 if behind else -30)),
        p.text((0, -52 if behind else 52), o.answer.word, Ink.ANSWER),
    )
    return Picture(f"Seen from above, the cutter turning clockwise: {o.answer.word}.", shapes)


CALCULATION = Calculation(
    "climb",
    "Climb or conventional",
    GROUP,
    "From the side on which the work lies and the way the table goes; a right-hand cutter, turning clockwise.",
    (
        choice("work", "The work lies", "behind", "in front of"),
        choice("table", "The table goes", "left", "right"),
        length("backlash", "Lost motion of that screw", 25, zero=True, default="0", fills="machine.backlash"),
    ),
    _climb,
    (Slip("the table's way was taken for the cutter's", answer=lambda _, o: 1 - o.answer.value),),
    _draw_climb,
    order=210,
)


def ask(d: Draw) -> Question:
    given: Given = {
        "work": {"value": d.pick("behind", "in front of"), "unit": ""},
        "table": {"value": d.pick("left", "right"), "unit": ""},
    }
    words = f"{d.name}. The work lies {given['work']['value']} the cutter, the table goes {given['table']['value']}."
    return Question("climb", words, given, "", Fraction(0), "")
