"""Speed, feed and time. Sources: geometry; the shop's schools of choosing a step; commonly taught rules of thumb."""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.errors import Refused
from incudo.core.reckon.base import Calculation, Input, Outcome, Output, Quantity, Slip, Values, shown
from incudo.core.working import Step

PI = Fraction(math.pi)
#: *Nearest* never goes further above the reckoned speed than this.
MOST_ABOVE = Fraction(11, 10)
#: A feed is never raised to more than this times for thin chips.
MOST_RAISE = Fraction(2)


def _root(value: Fraction) -> Fraction:
    return Fraction(math.sqrt(value))


def step_at(speed: Fraction, steps: tuple[int, ...], school: str) -> int | None:
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


def _spindle(v: Values) -> Outcome:
    surface, d = v["surface"], v["diameter"]
    speed = 1000 * surface / (PI * d)
    steps = [
        Step(
            "turns a minute", "1000 · v / (π · D)", f"1000 · {shown(surface)} / (π · {shown(d)})", f"{shown(speed, 0)}"
        ),
        Step(
            "by the shop's short way",
            "320 · v / D",
            f"320 · {shown(surface)} / {shown(d)}",
            shown(320 * surface / d, 0),
        ),
    ]
    results = [Output("speed", "reckoned speed", Quantity.TURNS, speed)]
    said: list[str] = []
    machine = v.steps("steps")
    if machine:
        set_to = step_at(speed, machine, v.choice("school"))
        if set_to is None:
            said.append(
                f"The slowest step, {machine[0]}, is too fast for this cutter: take a smaller one, or another machine."
            )
        else:
            real = PI * d * set_to / 1000
            results.append(Output("step", "step to set", Quantity.TURNS, Fraction(set_to)))
            results.append(Output("real", "cutting speed that results", Quantity.SURFACE, real))
            steps.append(
                Step(
                    "cutting speed at that step",
                    "π · D · n / 1000",
                    f"π · {shown(d)} · {set_to} / 1000",
                    shown(real, 1),
                )
            )
            if set_to == machine[-1] and speed > set_to:
                said.append("It is the machine's fastest step: slower than reckoned is safe, only slow.")
    return Outcome(tuple(results), tuple(steps), tuple(said))


SPINDLE_SPEED = Calculation(
    "spindle-speed",
    "Spindle speed",
    "speed and feed",
    "Turns a minute from cutting speed and diameter, and the machine's step for it.",
    (
        Input("surface", "Cutting speed", Quantity.SURFACE, Fraction(0), Fraction(1000)),
        Input("diameter", "Diameter that cuts", Quantity.LENGTH, Fraction(0), Fraction(500)),
        Input("steps", "The machine's steps", Quantity.STEPS, optional=True),
        Input("school", "Which step", Quantity.CHOICE, choices=("below", "nearest"), default="below"),
    ),
    _spindle,
    (
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip("the diameter was doubled", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("π was forgotten", answer=lambda _, o: o.answer.value * PI),
        Slip("inches were taken for millimetres", lambda v: v.but(diameter=v["diameter"] / Fraction(254, 10))),
        Slip("metres were taken for feet", lambda v: v.but(surface=v["surface"] * Fraction(3048, 10_000))),
    ),
)


def _feed(v: Values) -> Outcome:
    n, z, fz = v["speed"], v["teeth"], v["chip"]
    feed = n * z * fz
    step = Step("table feed", "n · z · fz", f"{shown(n)} · {shown(z)} · {shown(fz)}", shown(feed, 2))
    results = [Output("feed", "table feed", Quantity.FEED, feed)]
    turn = v["per_turn"]
    seconds = 60 * turn / feed
    by_hand = Step(
        "seconds for one handle turn",
        "60 · travel per turn / feed",
        f"60 · {shown(turn)} / {shown(feed, 2)}",
        shown(seconds, 1),
    )
    results.append(Output("seconds", "by hand: seconds for one turn", Quantity.TIME, seconds))
    said = ("It follows from the speed that is really set: another step, another feed.",)
    return Outcome(tuple(results), (step, by_hand), said)


TABLE_FEED = Calculation(
    "table-feed",
    "Table feed",
    "speed and feed",
    "From the speed that is set, the teeth and the feed per tooth; by hand, seconds for a turn.",
    (
        Input("speed", "Speed that is set", Quantity.TURNS, Fraction(0), Fraction(20_000)),
        Input("teeth", "Teeth", Quantity.COUNT, Fraction(1), Fraction(40), with_low=True),
        Input("chip", "Feed per tooth", Quantity.LENGTH, Fraction(0), Fraction(2)),
        Input("per_turn", "Travel of one handle turn", Quantity.LENGTH, Fraction(0), Fraction(20), default="5"),
    ),
    _feed,
    (
        Slip("the teeth were forgotten", lambda v: v.but(teeth=Fraction(1))),
        Slip("one tooth was forgotten", lambda v: v.but(teeth=v["teeth"] - 1)),
        Slip("inches were taken for millimetres", lambda v: v.but(chip=v["chip"] / Fraction(254, 10))),
    ),
)


def _thinning(v: Values) -> Outcome:
    d, ae, fz = v["diameter"], v["engaged"], v["chip"]
    if ae > d:
        raise Refused.of("engaged", shown(ae), f"must be at most the diameter, {shown(d)} mm")
    k = ae / d
    if k >= Fraction(1, 2):
        step = Step("thickest chip", "from half the diameter on the chip is fz", f"{shown(k, 3)} ≥ 0.5", shown(fz))
        return Outcome((Output("feed", "feed per tooth to set", Quantity.LENGTH, fz),), (step,))
    thin = 2 * _root(k - k * k)
    raised = min(fz / thin, fz * MOST_RAISE)
    steps = (
        Step("share engaged", "ae / D", f"{shown(ae)} / {shown(d)}", shown(k, 4)),
        Step(
            "thickest chip",
            "2 · fz · √(k − k²)",
            f"2 · {shown(fz)} · √({shown(k, 4)} − {shown(k * k, 4)})",
            shown(thin * fz),
        ),
        Step(
            "feed per tooth for a full chip",
            "fz / (2 · √(k − k²)), at most twice",
            f"{shown(fz)} / {shown(thin, 4)}",
            shown(raised),
        ),
    )
    said = ("It would be more than twice: not above that.",) if fz / thin > fz * MOST_RAISE else ()
    return Outcome((Output("feed", "feed per tooth to set", Quantity.LENGTH, raised),), steps, said)


CHIP_THINNING = Calculation(
    "chip-thinning",
    "Chip thinning",
    "speed and feed",
    "With less than half the diameter engaged the chip is thinner than the feed per tooth: raise it.",
    (
        Input("diameter", "Cutter", Quantity.LENGTH, Fraction(0), Fraction(500)),
        Input("engaged", "Engaged sideways", Quantity.LENGTH, Fraction(0), Fraction(500)),
        Input("chip", "Chip that is wanted", Quantity.LENGTH, Fraction(0), Fraction(2)),
    ),
    _thinning,
    (
        Slip("nothing was raised", answer=lambda v, _: v["chip"]),
        Slip("it was lowered instead of raised", answer=lambda v, o: v["chip"] * v["chip"] / o.answer.value),
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
    ),
)


def approach(diameter: Fraction, engaged: Fraction) -> Fraction:
    """How far before the work a side cut begins to be whole: √(ae · (D − ae)) up to half the diameter, R above."""
    if engaged > diameter:
        raise Refused.of("engaged", shown(engaged), f"must be at most the diameter, {shown(diameter)} mm")
    if engaged <= diameter / 2:
        return _root(engaged * (diameter - engaged))
    return diameter / 2


def _time(v: Values) -> Outcome:
    before = approach(v["diameter"], v["engaged"])
    way = v["length"] + before + v["overrun"]
    seconds = v["passes"] * way / v["feed"] * 60 + v["handling"]
    steps = (
        Step(
            "approach",
            "√(ae · (D − ae)), R above half",
            f"D {shown(v['diameter'])}, ae {shown(v['engaged'])}",
            shown(before, 2),
        ),
        Step(
            "way of one pass",
            "length + approach + overrun",
            f"{shown(v['length'])} + {shown(before, 2)} + {shown(v['overrun'])}",
            shown(way, 2),
        ),
        Step(
            "time",
            "passes · way / feed + handling",
            f"{shown(v['passes'])} · {shown(way, 2)} / {shown(v['feed'])}",
            f"{shown(seconds, 0)} s",
        ),
    )
    return Outcome((Output("time", "time", Quantity.TIME, seconds),), steps)


CUTTING_TIME = Calculation(
    "cutting-time",
    "Time of a side cut",
    "speed and feed",
    "All passes with approach and overrun, and the handling once.",
    (
        Input("length", "Length of the cut", Quantity.LENGTH, Fraction(0), Fraction(2000)),
        Input("diameter", "Cutter", Quantity.LENGTH, Fraction(0), Fraction(500)),
        Input("engaged", "Engaged sideways", Quantity.LENGTH, Fraction(0), Fraction(500)),
        Input("overrun", "Overrun", Quantity.LENGTH, Fraction(0), Fraction(500), with_low=True, default="2"),
        Input("passes", "Passes", Quantity.COUNT, Fraction(1), Fraction(200), with_low=True, default="1"),
        Input("feed", "Table feed", Quantity.FEED, Fraction(0), Fraction(10_000)),
        Input(
            "handling",
            "Handling, once in all",
            Quantity.TIME,
            Fraction(0),
            Fraction(36_000),
            with_low=True,
            default="0",
        ),
    ),
    _time,
    (
        Slip("a pass was forgotten", lambda v: v.but(passes=v["passes"] - 1)),
        Slip("only one pass was counted", lambda v: v.but(passes=Fraction(1))),
        Slip(
            "approach and overrun were forgotten",
            answer=lambda v, _: v["passes"] * v["length"] / v["feed"] * 60 + v["handling"],
        ),
    ),
)
