"""Holes: points, countersinks, tap drills, bolt circles, boring. Sources: geometry; the thread's own formula."""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.errors import Refused
from incudo.core.reckon.base import Calculation, Input, Outcome, Output, Quantity, Slip, Values, shown
from incudo.core.working import Step

#: More of the thread's height than this breaks the tap.
MOST_THREAD = Fraction(83)
#: Percent of thread in the usual short ways: metric D − P · % / 76.98, cutting; / 147.06, forming.
CUT, FORMED = Fraction(7698, 100), Fraction(14706, 100)
MOST_HOLES = 24


def _tan(degrees: Fraction) -> Fraction:
    return Fraction(math.tan(math.radians(degrees)))


def _length(name: str, label: str, high: int = 500, *, with_low: bool = False, default: str = "") -> Input:
    return Input(name, label, Quantity.LENGTH, Fraction(0), Fraction(high), with_low=with_low, default=default)


def _angle(name: str, label: str, default: str) -> Input:
    return Input(name, label, Quantity.ANGLE, Fraction(10), Fraction(170), with_low=True, default=default)


def _point(v: Values) -> Outcome:
    length = v["diameter"] / 2 / _tan(v["angle"] / 2)
    put = f"{shown(v['diameter'])} / 2 / tan({shown(v['angle'] / 2)}°)"
    step = Step("point length", "D / 2 / tan(A / 2)", put, shown(length, 3))
    return Outcome((Output("length", "point length", Quantity.LENGTH, length),), (step,))


DRILL_POINT = Calculation(
    "drill-point",
    "Length of a drill's point",
    "holes",
    "How much deeper the point goes than the full diameter.",
    (_length("diameter", "Drill", 100), _angle("angle", "Point angle", "118")),
    _point,
    (
        Slip("the diameter was taken for the radius", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("the whole angle was taken", answer=lambda v, _: abs(v["diameter"] / 2 / _tan(v["angle"]))),
    ),
)


def _countersink(v: Values) -> Outcome:
    wide, hole = v["wide"], v["hole"]
    if wide <= hole:
        raise Refused.of("wide", shown(wide), f"must be more than the hole, {shown(hole)} mm")
    depth = (wide - hole) / 2 / _tan(v["angle"] / 2)
    put = f"({shown(wide)} − {shown(hole)}) / 2 / tan({shown(v['angle'] / 2)}°)"
    step = Step("depth from the first touch", "(Dc − Dh) / 2 / tan(A / 2)", put, shown(depth, 3))
    said = ("Zero where it first touches the hole's edge; a burr there falsifies it.",)
    return Outcome((Output("depth", "depth", Quantity.LENGTH, depth),), (step,), said)


COUNTERSINK = Calculation(
    "countersink-depth",
    "Depth of a countersink",
    "holes",
    "From the first touch on the hole's edge to the diameter that is wanted.",
    (
        _length("wide", "Countersink's diameter", 100),
        _length("hole", "Hole", 100),
        _angle("angle", "Angle of the countersink", "90"),
    ),
    _countersink,
    (
        Slip("the half was forgotten", answer=lambda _, o: o.answer.value * 2),
        Slip("the hole was forgotten", answer=lambda v, _: v["wide"] / 2 / _tan(v["angle"] / 2)),
        Slip("82° and 90° were mixed up", lambda v: v.but(angle=Fraction(90 if v["angle"] == 82 else 82))),
    ),
)


def _tap(v: Values) -> Outcome:
    d, pitch, percent = v["diameter"], v["pitch"], v["percent"]
    by = FORMED if v.choice("tap") == "forming" else CUT
    hole = d - pitch * percent / by
    if hole <= 0:
        raise Refused.of("pitch", shown(pitch), "must leave a hole: it is too coarse for this diameter")
    step = Step(
        "tap drill",
        f"D − P · % / {shown(by)}",
        f"{shown(d)} − {shown(pitch)} · {shown(percent)} / {shown(by)}",
        shown(hole, 3),
    )
    return Outcome((Output("hole", "tap drill", Quantity.LENGTH, hole),), (step,))


TAP_DRILL = Calculation(
    "tap-drill",
    "Tap drill",
    "holes",
    "The hole for a thread of so many percent of its height; at most 83.",
    (
        _length("diameter", "Thread's diameter", 100),
        _length("pitch", "Pitch", 10),
        Input("percent", "Percent of thread", Quantity.PERCENT, Fraction(40), MOST_THREAD, with_low=True, default="75"),
        Input("tap", "Tap", Quantity.CHOICE, choices=("cutting", "forming"), default="cutting"),
    ),
    _tap,
    (
        Slip("the pitch was taken off in full", answer=lambda v, _: v["diameter"] - v["pitch"]),
        Slip("a forming tap's hole", lambda v: v.but(tap="cutting" if v.choice("tap") == "forming" else "forming")),
        Slip("twice the pitch was taken off", lambda v: v.but(pitch=v["pitch"] * 2)),
    ),
)


def bolt_circle(radius: Fraction, holes: int, first: Fraction) -> tuple[tuple[Fraction, Fraction], ...]:
    """Places from the circle's middle, anticlockwise from +X: first + 360 · i / n degrees."""
    found = []
    for i in range(holes):
        a = math.radians(float(first) + 360 * i / holes)
        found.append((Fraction(float(radius) * math.cos(a)), Fraction(float(radius) * math.sin(a))))
    return tuple(found)


def _circle(v: Values) -> Outcome:
    r, n = v["diameter"] / 2, int(v["holes"])
    places = bolt_circle(r, n, v["first"])
    chord = 2 * r * Fraction(math.sin(math.pi / n))
    results = [Output("chord", "from hole to hole, for checking", Quantity.LENGTH, chord)]
    for i, (x, y) in enumerate(places, 1):
        results.append(Output(f"x{i}", f"hole {i}, X", Quantity.LENGTH, x))
        results.append(Output(f"y{i}", f"hole {i}, Y", Quantity.LENGTH, y))
    step = Step("chord", "2 · R · sin(180° / n)", f"2 · {shown(r)} · sin(180° / {n})", shown(chord, 3))
    angle = Step(
        "angles", "a0 + 360° · i / n", f"{shown(v['first'])}° + 360° · i / {n}", f"every {shown(Fraction(360, n), 3)}°"
    )
    said = ("Come to each from the same side: sort them by X, and come back for the others.",)
    return Outcome(tuple(results), (angle, step), said)


BOLT_CIRCLE = Calculation(
    "bolt-circle",
    "Bolt circle",
    "holes",
    "Places of holes on a circle, and the chord that checks them.",
    (
        _length("diameter", "Circle's diameter"),
        Input("holes", "Holes", Quantity.COUNT, Fraction(2), Fraction(MOST_HOLES), with_low=True),
        Input(
            "first", "First hole at, from +X", Quantity.ANGLE, Fraction(-360), Fraction(360), with_low=True, default="0"
        ),
    ),
    _circle,
    (
        Slip("the diameter was taken for the radius", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("a hole was forgotten", lambda v: v.but(holes=v["holes"] - 1) if v["holes"] > 2 else v),
        Slip("the arc was taken for the chord", answer=lambda v, _: Fraction(math.pi) * v["diameter"] / v["holes"]),
    ),
)


def _bore(v: Values) -> Outcome:
    left = v["target"] - v["measured"]
    if left < 0:
        raise Refused.of("measured", shown(v["measured"]), f"must be at most the target, {shown(v['target'])} mm")
    dial = left if v.choice("dial") == "diameter" else left / 2
    formula = "target − measured" if v.choice("dial") == "diameter" else "(target − measured) / 2"
    put = f"{shown(v['target'])} − {shown(v['measured'])}"
    steps = (
        Step("left on the diameter", "target − measured", put, shown(left)),
        Step("to set on the dial", formula, put, shown(dial)),
    )
    said = ("Does this head's dial read on the diameter or the radius? Check it with an indicator and write it down.",)
    return Outcome((Output("dial", "to set on the dial", Quantity.LENGTH, dial),), steps, said)


BORING = Calculation(
    "boring-head",
    "Boring head",
    "holes",
    "What is left, and what to set on a dial that reads on the diameter or on the radius.",
    (
        _length("target", "Diameter that is wanted", 300),
        _length("measured", "Measured now", 300),
        Input("dial", "The head's dial reads on", Quantity.CHOICE, choices=("diameter", "radius"), default="diameter"),
    ),
    _bore,
    (
        Slip("half was set on a dial that reads on the diameter", lambda v: v.but(dial="radius")),
        Slip("the whole was set on a dial that reads on the radius", lambda v: v.but(dial="diameter")),
    ),
)
