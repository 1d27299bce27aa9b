"""What several calculations of this group share."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.reckoning.calculation import Output
from incudo.core.reckoning.inputs import Input, Quantity, Values, length, tan

GROUP = "holes"


def angle(name: str, label: str, default: str, fills: str = "") -> Input:
    bounds = Fraction(10), Fraction(170)
    return Input(name, label, Quantity.ANGLE, *bounds, with_low=True, default=default, fills=fills)


POINT = angle("angle", say("Point angle"), "118", "cutter.angle")


def point_length(diameter: Fraction, angle: Fraction) -> Fraction:
    """How much deeper a drill's point goes than its full diameter: D/2 / tan(A/2)."""
    return diameter / 2 / tan(angle / 2)


THREAD = length("diameter", "Thread's diameter", 100, fills="cutter.thread")


PITCH = length("pitch", say("Pitch"), 10, fills="cutter.pitch")


LIST = dict(kind=Quantity.LENGTHS, low=Fraction(0), high=Fraction(100), optional=True)


def _near(value: Fraction) -> Fraction:
    """Places a float apart are the same place when they are put in order."""
    return Fraction(round(value * 10**6), 10**6)


def visits(places: Sequence[tuple[Fraction, Fraction]]) -> tuple[int, ...]:
    """The order in which each place is approached from low X and, in one row of X, from low Y."""
    return tuple(sorted(range(len(places)), key=lambda i: (_near(places[i][0]), _near(places[i][1]))))


def placed(places: Sequence[tuple[Fraction, Fraction]]) -> list[Output]:
    return [
        Output(f"{n}{i}", say("hole {i}, {n}", i=i, n=n.upper()), Quantity.LENGTH, value)
        for i, place in enumerate(places, 1)
        for n, value in zip("xy", place, strict=True)
    ]


def order_words(places: Sequence[tuple[Fraction, Fraction]]) -> str:
    order = ", ".join(str(i + 1) for i in visits(places))
    return say("Drill them in the order {order}: each from the same side, low X first.", order=order)


def draw_places(
    v: Values, places: Sequence[tuple[Fraction, Fraction]], reach: Fraction, circle: Fraction | None
) -> Picture:
    small = reach / 18
    xs, ys = [x for x, _ in places], [y for _, y in places]
    room = reach * Fraction(7, 20)
    shapes = [p.box(Ink.WORK, min(xs) - room, min(ys) - room, max(xs) + room, max(ys) + room)]
    if circle is not None:
        shapes += [p.ring(Ink.SCRIBE, (0, 0), circle, dashed=True), p.cross((0, 0), reach / 10)]
    order = visits(places)
    shapes += [p.line(Ink.ANSWER, *(places[i] for i in order), dashed=True)] if len(places) > 1 else []
    for i, (x, y) in enumerate(places):
        shapes += [
            p.disc(Ink.CUT, (x, y), small),
            p.cross((x, y), small),
            p.text((x + small * 2, y + small * 2), str(i + 1), Ink.ANSWER),
        ]
    return Picture(say("{count} holes from above with the order of going to them.", count=len(places)), tuple(shapes))
