"""Climb or conventional. From the side on which the work lies and the way the table goes, along X or along Y; a
right-hand cutter, turning clockwise.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating import climb
from incudo.core.locating.dial import Turning
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
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
        beside = say("behind or in front of") if along_x else say("left of or right of")
        raise Refused.of(
            "work",
            v.choice("work"),
            say("must be {beside} the cutter where the table goes {table}", beside=beside, table=table),
        )
    found = climb.milling_at(Turning.CLOCKWISE, work, table)
    other = OPPOSITE[table]
    step = Step(
        say("looking along the cutter's travel"),
        say("work on the right: climb; on the left: conventional"),
        say(
            "the table goes {choice}, so the cutter travels {other}; the work lies {choice2} it",
            choice=v.choice("table"),
            other=other,
            choice2=v.choice("work"),
        ),
        found.value,
    )
    value = Fraction(WORDS.index(found.value))
    said = []
    if found is climb.Milling.CLIMB:
        lost = v["backlash"]
        said.append(
            say("With {size} of backlash the cutter can pull the table in: not here.", size=v.len(lost))
            if lost > Fraction(str(climb.MOST_LOST))
            else say("Only a light one, the lock dragged: the cutter pulls the table in by the backlash.")
        )
    return Outcome((Output("which", say("it is"), Quantity.CHOICE, value, WORDS),), (step,), tuple(said))


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
    return Picture(say("Seen from above, the cutter turning clockwise: {word}.", word=o.answer.word), shapes)


CALCULATION = Calculation(
    "climb",
    say("Climb or conventional"),
    GROUP,
    say("From the side on which the work lies and the way the table goes, along X or Y; a right-hand cutter."),
    (
        choice("work", say("The work lies"), *SIDES),
        choice("table", say("The table goes"), *OPPOSITE),
        length("backlash", say("Backlash of that screw"), 25, zero=True, default="0", fills="machine.backlash"),
    ),
    _climb,
    (Slip(say("the table's way was taken for the cutter's"), answer=lambda _, o: 1 - o.answer.value),),
    _draw_climb,
    order=210,
)


def ask(d: Draw) -> Question:
    along_x = d.pick("x", "y") == "x"
    sides = ("behind", say("in front of")) if along_x else (say("left of"), say("right of"))
    ways = ("left", "right") if along_x else ("away", "towards")
    given: Given = {
        "work": {"value": d.pick(*sides), "unit": ""},
        "table": {"value": d.pick(*ways), "unit": ""},
    }
    words = say(
        "{name}. The work lies {given} the cutter, the table goes {given2}.",
        name=d.name,
        given=given["work"]["value"],
        given2=given["table"]["value"],
    )
    return Question("climb", words, given, "", Fraction(0), "")
