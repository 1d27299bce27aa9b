"""Climb or conventional. From the side on which the work lies and the way the table goes, along X or along Y; a
right-hand cutter, turning clockwise.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
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


SIDES = {"behind": Way.AWAY, "in front of": Way.TOWARDS, "left of": Way.LEFT, "right of": Way.RIGHT}
OPPOSITE = {Way.LEFT: Way.RIGHT, Way.RIGHT: Way.LEFT, Way.AWAY: Way.TOWARDS, Way.TOWARDS: Way.AWAY}
_AT = {Way.RIGHT: (1, 0), Way.LEFT: (-1, 0), Way.AWAY: (0, 1), Way.TOWARDS: (0, -1)}


def _climb(v: Values) -> Outcome:
    table, work = Way(v.choice("table")), SIDES[v.choice("work")]
    along_x = table in (Way.LEFT, Way.RIGHT)
    if along_x == (work in (Way.LEFT, Way.RIGHT)):
        beside = "behind or in front of" if along_x else "left of or right of"
        raise Refused.of("work", v.choice("work"), f"must be {beside} the cutter where the table goes {table}")
    found = climb.milling_at(Turning.CLOCKWISE, work, table)
    other = OPPOSITE[table]
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
            f"With {v.len(lost)} of backlash the cutter can pull the table in: not here."
            if lost > Fraction(str(climb.MOST_LOST))
            else "Only a light one, the lock dragged: the cutter pulls the table in by the backlash."
        )
    return Outcome((Output("which", "it is", Quantity.CHOICE, value, WORDS),), (step,), tuple(said))


def _draw_climb(v: Values, o: Outcome) -> Picture:
    (wx, wy), (cx, cy) = _AT[SIDES[v.choice("work")]], _AT[OPPOSITE[Way(v.choice("table"))]]
    # the work beside the cutter, long the way the cutter travels
    low = (wx * 27 - (15 if wx else 60), wy * 27 - (15 if wy else 60))
    high = (wx * 27 + (15 if wx else 60), wy * 27 + (15 if wy else 60))
    shapes = (
        p.box(Ink.WORK, *low, *high),
        *p.cutter((Fraction(0), Fraction(0)), 40, 4),
        p.arrow(Ink.ANSWER, (cx * 26, cy * 26), (cx * 58, cy * 58)),
        p.text((cx * 70 - wx * 24, cy * 66 + (8 if cx else 0)), "cutter's travel", Ink.ANSWER),
        p.arrow(Ink.SCRIBE, (wx * 30 + cx * 40, wy * 30 + cy * 40), (wx * 30 + cx * 10, wy * 30 + cy * 10)),
        p.text((-wx * 58, -wy * 52), o.answer.word, Ink.ANSWER),
    )
    return Picture(f"Seen from above, the cutter turning clockwise: {o.answer.word}.", shapes)


CALCULATION = Calculation(
    "climb",
    "Climb or conventional",
    GROUP,
    "From the side on which the work lies and the way the table goes, along X or Y; a right-hand cutter.",
    (
        choice("work", "The work lies", *SIDES),
        choice("table", "The table goes", *OPPOSITE),
        length("backlash", "Backlash of that screw", 25, zero=True, default="0", fills="machine.backlash"),
    ),
    _climb,
    (Slip("the table's way was taken for the cutter's", answer=lambda _, o: 1 - o.answer.value),),
    _draw_climb,
    order=210,
)


def ask(d: Draw) -> Question:
    along_x = d.pick("x", "y") == "x"
    sides = ("behind", "in front of") if along_x else ("left of", "right of")
    ways = ("left", "right") if along_x else ("away", "towards")
    given: Given = {
        "work": {"value": d.pick(*sides), "unit": ""},
        "table": {"value": d.pick(*ways), "unit": ""},
    }
    words = f"{d.name}. The work lies {given['work']['value']} the cutter, the table goes {given['table']['value']}."
    return Question("climb", words, given, "", Fraction(0), "")
