"""Which way round. A profile or a pocket is milled once round: which way is a climb cut, and what the table does on
each side.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step
from incudo.core.locating import climb
from incudo.core.locating.dial import Turning
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.climb import OPPOSITE, WORDS
from incudo.core.reckoning.cuts.shared import GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice
from incudo.core.reckoning.question import Draw, Given, Question
from incudo.core.shop.machine import Way

OUTSIDE, POCKET = say("the outside of the work"), say("the wall of a pocket")
FROM_YOU = {Way.AWAY: say("away from you"), Way.TOWARDS: say("towards you")}
#: Going round clockwise, seen from above: the side that is milled, and the cutter's way along it.
_CLOCKWISE = (
    ("rear", Way.AWAY, Way.RIGHT),
    ("right", Way.RIGHT, Way.TOWARDS),
    ("front", Way.TOWARDS, Way.LEFT),
    ("left", Way.LEFT, Way.AWAY),
)


def sides(outside: bool, clockwise: bool) -> tuple[tuple[str, Way, Way], ...]:
    """Each side in turn: its name, where the work lies from the cutter there, and the way of the table."""
    found = []
    for name, out, way in _CLOCKWISE if clockwise else _CLOCKWISE[::-1]:
        cutter = way if clockwise else OPPOSITE[way]
        # at the rear of a block the cutter lies behind the work; at the rear wall of a pocket, before it
        work = OPPOSITE[out] if outside else out
        found.append((name, work, OPPOSITE[cutter]))
    return tuple(found)


def _round(v: Values) -> Outcome:
    outside, clockwise = v.choice("of") == OUTSIDE, v.choice("way") == "clockwise"
    each = sides(outside, clockwise)
    ((_, work, table), *_) = each
    found = climb.milling_at(Turning.CLOCKWISE, work, table)
    side = "right" if found is climb.Milling.CLIMB else "left"
    step = Step(
        say("looking along the cutter's travel"),
        say("work on the right: climb; on the left: conventional"),
        say(
            "{choice} round {choice2}: the work is always on the {side}",
            choice=v.choice("way"),
            choice2=v.choice("of"),
            side=side,
        ),
        found.value,
    )
    said = [
        say(
            "The table goes {ways}.",
            ways=together((say("{get} at the {name}", get=FROM_YOU.get(t, t), name=name) for name, _, t in each), ", "),
        )
    ]
    if found is climb.Milling.CLIMB:
        said.append(
            say("Round the other way it is conventional: rough that way, and wherever the screws have backlash.")
        )
    value = Fraction(WORDS.index(found.value))
    return Outcome((Output("which", say("it is"), Quantity.CHOICE, value, WORDS),), (step,), tuple(said))


def _draw_round(v: Values, o: Outcome) -> Picture:
    outside, clockwise = v.choice("of") == OUTSIDE, v.choice("way") == "clockwise"
    a = 52 if outside else 28
    work = (
        (p.box(Ink.WORK, -40, -40, 40, 40),)
        if outside
        else (
            p.box(Ink.WORK, -70, -70, 70, 70),
            p.box(Ink.CUT, -40, -40, 40, 40),
        )
    )
    corners = [(-a, a), (a, a), (a, -a), (-a, -a)]
    if not clockwise:
        corners = [corners[0], *corners[:0:-1]]
    legs = zip(corners, [*corners[1:], corners[0]], strict=True)
    shapes = (
        *work,
        *p.cutter((Fraction(corners[0][0]), Fraction(corners[0][1])), 24, 4),
        *(p.arrow(Ink.ANSWER, (x1, y1), (x2, y2)) for (x1, y1), (x2, y2) in legs),
        p.text((0, 0), o.answer.word, Ink.ANSWER),
    )
    return Picture(
        say(
            "Seen from above, {choice} round {choice2}: {word}.",
            choice=v.choice("way"),
            choice2=v.choice("of"),
            word=o.answer.word,
        ),
        shapes,
    )


CALCULATION = Calculation(
    "climb-round",
    say("Which way round"),
    GROUP,
    say("A profile or a pocket milled once round: climb or conventional, and what the table does on each side."),
    (
        choice("of", say("The cutter goes round"), OUTSIDE, POCKET),
        choice("way", say("Seen from above it goes"), "clockwise", "anticlockwise"),
    ),
    _round,
    (Slip(say("inside and outside were mixed up"), answer=lambda _, o: 1 - o.answer.value),),
    _draw_round,
    order=212,
)


def ask(d: Draw) -> Question:
    given: Given = {
        "of": {"value": d.pick(OUTSIDE, POCKET), "unit": ""},
        "way": {"value": d.pick("clockwise", "anticlockwise"), "unit": ""},
    }
    words = say(
        "A right-hand cutter goes {given} round {given2}, seen from above.",
        given=given["way"]["value"],
        given2=given["of"]["value"],
    )
    return Question("climb-round", words, given, "", Fraction(0), "")
