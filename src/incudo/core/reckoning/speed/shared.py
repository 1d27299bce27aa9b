"""What several calculations of this group share."""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Outcome, Output
from incudo.core.reckoning.inputs import Input, Quantity, Values, choice, shown

GROUP = say("speed and feed")


PI = Fraction(math.pi)


FOOT = MM_PER_INCH * 12 / 1000


#: *Nearest* never goes further above the reckoned speed than this.
MOST_ABOVE = Fraction(11, 10)


def surface(label: str = say("Cutting speed"), fills: str = "material.surface") -> Input:
    return Input("surface", label, Quantity.SURFACE, Fraction(0), Fraction(1000), fills=fills)


def steps(*, optional: bool) -> Input:
    return Input("steps", say("The machine's steps"), Quantity.STEPS, optional=optional, fills="machine.steps")


RANGES = Input("ranges", say("Its ranges, from to"), Quantity.STEPS, optional=True, fills="machine.ranges")


#: Which step is taken: the highest not above, or the nearest.
SCHOOL = choice("school", say("Which step"), "below", "nearest")


def turns(surface: Fraction, diameter: Fraction) -> Fraction:
    """rpm: 1000 · v / (π · D), in m/min and mm."""
    return 1000 * surface / (PI * diameter)


def step_at(speed: Fraction, steps: tuple[Fraction, ...], school: str) -> Fraction | None:
    """The machine's step for a reckoned speed; None when its lowest is already too fast.

    *Below*: the highest not above it. *Nearest*: the nearest by ratio, ties low, never more
    than a tenth above. Above the top step it is the top.
    """
    below = [s for s in steps if s <= speed]
    if not below:
        return None
    low = below[-1]
    above = next((s for s in steps if s > speed), None)
    if school == "nearest" and above is not None and above <= speed * MOST_ABOVE and above * low < speed * speed:
        return above
    return low


def within(speed: Fraction, ranges: tuple[Fraction, ...]) -> Fraction | None:
    """The highest speed not above a reckoned one that ranges (from, to, from, to ...) give; None below the lowest.

    Raises ``Refused`` where a range has no end.
    """
    if len(ranges) % 2:
        raise Refused.of(
            "ranges", " ".join(map(str, ranges)), say("must be pairs: each range from its lowest to its highest")
        )
    reached = [min(speed, high) for low, high in zip(ranges[::2], ranges[1::2], strict=True) if low <= speed]
    return max(reached, default=None)


def turn_steps(v: Values, surface: Fraction, diameter: Fraction) -> tuple[Step, Step]:
    """The working of a spindle speed, and the short way with how far it is off."""
    speed, inch = turns(surface, diameter), v.unit is Unit.INCH
    put = f"{v.surface(surface)} / (π · {v.num(diameter)})"
    short = 4 * (surface / FOOT) / (diameter / MM_PER_INCH) if inch else 320 * surface / diameter
    off = (short / speed - 1) * 100
    return (
        Step(
            "rpm",
            "12 · V / (π · D)" if inch else "1000 · v / (π · D)",
            f"{12 if inch else 1000} · {put}",
            say("{speed} rpm", speed=shown(speed, 1)),
        ),
        Step(
            say("by the shop's short way"),
            "4 · V / D" if inch else "320 · v / D",
            f"{4 if inch else 320} · {v.surface(surface)} / {v.num(diameter)}",
            say("{short} rpm, {off} % more", short=shown(short, 0), off=shown(abs(off), 1))
            if off > 0
            else say("{short} rpm, {off} % less", short=shown(short, 0), off=shown(abs(off), 1)),
        ),
    )


def at_step(v: Values, speed: Fraction, diameter: Fraction) -> tuple[list[Output], list[Step], list[str]]:
    """What a machine's steps, or its ranges, make of a reckoned speed."""
    steps, ranges = v.list("steps"), v.list("ranges")
    if not steps and not ranges:
        return [], [], []
    found = step_at(speed, steps, v.choice("school")) if steps else within(speed, ranges)
    slowest, fastest = (steps[0], steps[-1]) if steps else (ranges[0], ranges[-1])
    if found is None:
        words = say(
            "The slowest speed, {slowest}, is too fast for this cutter: take a smaller one, or another machine.",
            slowest=slowest,
        )
        return [], [], [words]
    real = PI * diameter * found / 1000
    rule = (
        say("the highest step not above")
        if v.choice("school") == "below"
        else say("the nearest step, at most a tenth above")
    )
    among = say("{speed} among {listed}", speed=shown(speed, 1), listed=" ".join(map(str, steps)))
    if not steps:
        pairs = zip(ranges[::2], ranges[1::2], strict=True)
        rule, among = (
            say("within the ranges"),
            say("{speed} in {listed}", speed=shown(speed, 1), listed=together((f"{a} to {b}" for a, b in pairs), ", ")),
        )
    name = say("step to set") if steps else say("speed to set")
    working = [
        Step(name, rule, among, say("{found} rpm", found=shown(found, 1))),
        Step(
            say("cutting speed at that step"),
            "π · D · n / 12" if v.unit is Unit.INCH else "π · D · n / 1000",
            f"π · {v.num(diameter)} · {shown(found, 1)} / {12 if v.unit is Unit.INCH else 1000}",
            f"{v.surface(real)} {'ft/min' if v.unit is Unit.INCH else 'm/min'}",
        ),
    ]
    said = [say("The machine has no faster speed: slower than reckoned is safe, only slow.")]
    outputs = [
        Output("step", name, Quantity.TURNS, found),
        Output("real", say("cutting speed at that step"), Quantity.SURFACE, real),
    ]
    return outputs, working, said if found == fastest and speed > found else []


def next_step(v: Values, o: Outcome) -> Fraction:
    """The step above the right one. Raises ``ValueError`` where there is none."""
    above = [s for s in v.list("steps") if s > o.answer.value]
    if not above:
        raise ValueError(say("no step above"))
    return above[0]


def draw_side(v: Values, ae: Fraction) -> Picture:
    d = v["diameter"]
    shapes = (
        p.box(Ink.WORK, -d, -d * Fraction(7, 4), d * Fraction(7, 4), -d / 2 + ae),
        p.box(Ink.CUT, -d, -d / 2, 0, -d / 2 + ae),
        *p.cutter((Fraction(0), Fraction(0)), d, 4),
        p.size((d * Fraction(5, 4), -d / 2), (d * Fraction(5, 4), -d / 2 + ae), v.len(ae)),
        p.arrow(Ink.ANSWER, (d * Fraction(3, 5), d * Fraction(2, 5)), (d * Fraction(3, 2), d * Fraction(2, 5))),
    )
    return Picture(
        say(
            "A cutter of {size} takes {size2} off the side of the work, seen from above.",
            size=v.len(d),
            size2=v.len(ae),
        ),
        shapes,
    )
