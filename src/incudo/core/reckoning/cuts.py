"""Passes, and where the cutter's axis runs. Sources: geometry, the shop's rules of thumb."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.working import Step
from incudo.core.locating import climb
from incudo.core.locating.dial import Turning
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import (
    Calculation,
    Outcome,
    Output,
    Quantity,
    Slip,
    Values,
    choice,
    length,
    numbered,
)
from incudo.core.reckoning.picture import Ink, Picture
from incudo.core.shop.machine import Way

GROUP = "cuts"
_LIMIT = length("limit", "At most in one pass", 50, low=0.01)
_FINISH = length("finish", "Finishing allowance", 5, zero=True, default="0.25")
_CUTTER = length("diameter", "Cutter", 300, fills="cutter.diameter")
#: Limits may not meet: this far apart their middle is either of them.
_HAIR = Fraction(1, 10**9)


def passes(stock: Fraction, limit: Fraction, finish: Fraction) -> tuple[Fraction, ...]:
    """Depths of the passes: an awkward remainder first, then full ones, the finish last; their sum is the stock.

    Stock not above the finishing allowance is one finishing pass.
    """
    if stock <= finish:
        return (stock,)
    rough = stock - finish
    full, rest = divmod(rough, limit)
    return (*((rest,) if rest else ()), *([limit] * int(full)), *((finish,) if finish else ()))


def _check_number(v: Values, stock: Fraction) -> None:
    if stock / v["limit"] > 200:
        raise Refused.of("limit", v.num(v["limit"]), f"would make more than 200 passes of {v.len(stock)}")


def _pass_outcome(v: Values, stock: Fraction, first: tuple[Step, ...], before: tuple[Output, ...]) -> Outcome:
    _check_number(v, stock)
    found = passes(stock, v["limit"], v["finish"])
    rough = max(stock - v["finish"], Fraction(0))
    steps = (
        *first,
        Step("to rough", "stock − finishing allowance", f"{v.num(stock)} − {v.num(v['finish'])}", v.len(rough)),
        Step(
            "passes",
            "remainder first, then the limit, then the finish",
            " + ".join(v.num(x) for x in found),
            v.len(stock),
        ),
    )
    depths = numbered("pass", "pass", Quantity.LENGTH, found)
    said = ("Measure before the last pass and plan again from there: more can be taken, none put back.",)
    return Outcome((*before, Output("passes", "passes", Quantity.COUNT, Fraction(len(found))), *depths), steps, said)


def _passes(v: Values) -> Outcome:
    return _pass_outcome(v, v["stock"], (), ())


def _draw_passes(v: Values, o: Outcome) -> Picture:
    depths = [r.value for r in o.results if r.name.startswith("pass") and r.kind is Quantity.LENGTH]
    total = sum(depths, Fraction(0)) or Fraction(1)
    shapes = [p.box(Ink.WORK, 0, -30, 100, 0)]
    top = Fraction(60)
    for i, d in enumerate(depths):
        low = top - 60 * d / total
        last = i == len(depths) - 1
        shapes.append(p.box(Ink.ANSWER if last else Ink.CUT, 0, low, 100, top))
        if len(depths) <= 14:
            shapes.append(p.text((118, (low + top) / 2), v.num(d), Ink.ANSWER if last else Ink.SCRIBE))
        top = low
    shapes.append(p.size((-12, 0), (-12, 60), v.len(total)))
    words = ", ".join(v.num(d) for d in depths[:14])
    return Picture(f"{len(depths)} passes from the top: {words}.", tuple(shapes), free=True)


PASSES = Calculation(
    "passes",
    "Passes",
    GROUP,
    "How stock is shared out: an awkward remainder first, then full passes, the finish last.",
    (length("stock", "Stock to take off", 100), _LIMIT, _FINISH),
    _passes,
    (
        Slip("the finishing pass was forgotten", answer=lambda _, o: o.answer.value - 1),
        Slip("one pass too many was counted", answer=lambda _, o: o.answer.value + 1),
    ),
    _draw_passes,
)


def _replan(v: Values) -> Outcome:
    low, high = v["lower"], v["upper"]
    if low >= high:
        raise Refused.of("upper", v.num(high), f"must be more than the lower limit, {v.num(low)}")
    aim = (low + high) / 2
    kind = v.choice("of")
    left = v["measured"] - aim if kind == "outside" else aim - v["measured"]
    share = left / 2 if kind == "slot on both walls" else left
    formula = "measured − aim" if kind == "outside" else "aim − measured"
    put = f"{v.num(v['measured'])} − {v.num(aim)}" if kind == "outside" else f"{v.num(aim)} − {v.num(v['measured'])}"
    steps = [
        Step("aim", "middle of the limits", f"({v.num(low)} + {v.num(high)}) / 2", v.len(aim)),
        Step("left to take", formula, put, v.len(left)),
    ]
    if kind == "slot on both walls":
        steps.append(Step("on each wall", "half", f"{v.num(left)} / 2", v.len(share)))
    first = Output(
        "left", "left on each wall" if kind == "slot on both walls" else "left to take", Quantity.LENGTH, share
    )
    if share <= 0:
        inside = low <= v["measured"] <= high
        said = "It is in: leave it." if inside else "More is gone than the limits allow. Stop, and ask."
        return Outcome((first,), tuple(steps), (said,))
    return _pass_outcome(v, share, tuple(steps), (first,))


REPLAN = Calculation(
    "replan",
    "Plan again from a measurement",
    GROUP,
    "Before the last pass: what is left to the middle of the limits, and how it is shared out from here.",
    (
        length("measured", "Measured now", 1000),
        length("lower", "Lower limit", 1000, zero=True),
        length("upper", "Upper limit", 1000),
        choice("of", "It is", "outside", "inside or depth", "slot on both walls"),
        _LIMIT,
        _FINISH,
    ),
    _replan,
    (
        Slip("the aim was the lower limit, not the middle", lambda v: v.but(upper=v["lower"] + _HAIR)),
        Slip("the aim was the upper limit, not the middle", lambda v: v.but(lower=v["upper"] - _HAIR)),
        Slip("half was forgotten: both walls are cut", lambda v: v.but(of="inside or depth")),
        Slip("it was halved though only one side is cut", answer=lambda v, o: o.answer.value / 2),
        Slip("it was taken the wrong way round", answer=lambda _, o: -o.answer.value),
    ),
    _draw_passes,
)


def _side(v: Values) -> Outcome:
    sign = 1 if v.choice("cutter") in ("right", "rear") else -1
    axis = v["edge"] + sign * (v["diameter"] / 2 + v["leave"])
    op = "+" if sign > 0 else "−"
    step = Step(
        "axis of the cutter",
        f"edge {op} (R + what is left on)",
        f"{v.num(v['edge'])} {op} ({v.num(v['diameter'])} / 2 + {v.num(v['leave'])})",
        v.len(axis),
    )
    return Outcome((Output("axis", "axis of the cutter at", Quantity.LENGTH, axis),), (step,))


def _draw_side(v: Values, o: Outcome) -> Picture:
    d, e, a = v["diameter"], v["edge"], o.answer.value
    back = d * 2 * (-1 if a > e else 1)
    shapes = (
        p.box(Ink.WORK, min(e, e + back), -d * Fraction(3, 2), max(e, e + back), d * Fraction(3, 2)),
        *p.cutter((a, Fraction(0)), d, 4),
        p.line(Ink.SCRIBE, (e, -d * 2), (e, d * 2), dashed=True),
        p.line(Ink.ANSWER, (a, -d * 2), (a, d * 2)),
        p.text((a, d * Fraction(11, 5)), v.len(a), Ink.ANSWER),
        p.text((e, -d * Fraction(11, 5)), v.len(e)),
    )
    return Picture(
        f"The cutter's axis at {v.len(a)}, half a cutter beyond the edge at {v.len(e)}; seen from above.", shapes
    )


SIDE = Calculation(
    "cutter-at-edge",
    "Cutter at a side or step",
    GROUP,
    "The axis runs one radius outside the edge that it makes.",
    (
        length("edge", "The edge to be made, from the datum", 2000, low=-2000),
        _CUTTER,
        choice("cutter", "The cutter runs on this side of the edge", "left", "right", "front", "rear"),
        length("leave", "Left on for later", 10, zero=True, default="0"),
    ),
    _side,
    (
        Slip("the cutter's radius was forgotten", lambda v: v.but(diameter=Fraction(0))),
        Slip("the whole diameter was taken", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("the radius was taken to the wrong side", answer=lambda v, o: 2 * v["edge"] - o.answer.value),
        Slip("what is left on was forgotten", lambda v: v.but(leave=Fraction(0))),
    ),
    _draw_side,
)


def _pocket(v: Values) -> Outcome:
    d, leave = v["diameter"], v["leave"]
    if d + 2 * leave > min(v["x"], v["y"]):
        raise Refused.of(
            "diameter", v.num(d), f"must fit the pocket with what is left on, {v.len(min(v['x'], v['y']) - 2 * leave)}"
        )
    if v["corner"] and v["corner"] < d / 2:
        raise Refused.of(
            "diameter", v.num(d), f"leaves its own radius in the corners: at most {v.len(2 * v['corner'])}"
        )
    half_x, half_y = (v["x"] - d) / 2 - leave, (v["y"] - d) / 2 - leave
    results = (
        Output("x", "axis to each side along X, from the middle", Quantity.LENGTH, half_x),
        Output("y", "axis to each side along Y, from the middle", Quantity.LENGTH, half_y),
    )
    steps = tuple(
        Step(
            f"along {n.upper()}",
            "half the size − R − left on",
            f"{v.num(v[n])} / 2 − {v.num(d)} / 2 − {v.num(leave)}",
            v.len(a),
        )
        for n, a in (("x", half_x), ("y", half_y))
    )
    said = ("Leave a little on each wall, clear the middle, then take the walls in one go round at full depth.",)
    return Outcome(results, steps, said)


def _draw_pocket(v: Values, o: Outcome) -> Picture:
    x, y, d = v["x"] / 2, v["y"] / 2, v["diameter"]
    a, b = o.results[0].value, o.results[1].value
    edge = max(x, y) / 4
    shapes = (
        p.box(Ink.WORK, -x - edge, -y - edge, x + edge, y + edge),
        p.box(Ink.CUT, -x, -y, x, y),
        p.line(Ink.ANSWER, (-a, -b), (a, -b), (a, b), (-a, b), (-a, -b), dashed=True),
        *p.cutter((a, b), d, 4),
        p.cross((0, 0), d / 4),
        p.size((0, -b), (a, -b), v.len(a), Ink.ANSWER),
    )
    return Picture(f"A pocket from above; the axis goes {v.len(a)} and {v.len(b)} from its middle.", shapes)


POCKET = Calculation(
    "pocket",
    "Cutter in a pocket or wide slot",
    GROUP,
    "How far the axis goes from the middle to each wall.",
    (
        length("x", "Size along X", 1000),
        length("y", "Size along Y", 1000),
        _CUTTER,
        length("leave", "Left on each wall", 10, zero=True, default="0"),
        length("corner", "Radius of the corners, 0 where any will do", 150, zero=True, default="0"),
    ),
    _pocket,
    (
        Slip("the cutter's radius was forgotten", lambda v: v.but(diameter=Fraction(0))),
        Slip("the whole diameter was taken off", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("the half of the size was forgotten", answer=lambda v, o: o.answer.value + v["x"] / 2),
        Slip("what is left on was forgotten", lambda v: v.but(leave=Fraction(0))),
    ),
    _draw_pocket,
)


def _slot(v: Values) -> Outcome:
    d = v["diameter"]
    centre = v.choice("ends") == "centre of the end"
    end = v["length"] if centre else v["length"] - d / 2
    if end <= v["start"]:
        raise Refused.of(
            "length", v.num(v["length"]), f"must end beyond its start, {v.num(v['start'])}, by more than the radius"
        )
    formula = "as dimensioned" if centre else "tangent of the end − R"
    put = v.num(v["length"]) if centre else f"{v.num(v['length'])} − {v.num(d)} / 2"
    step = Step("axis at the end", formula, put, v.len(end))
    way = Step("way of the axis", "end − start", f"{v.num(end)} − {v.num(v['start'])}", v.len(end - v["start"]))
    results = (
        Output("end", "axis at the slot's end", Quantity.LENGTH, end),
        Output("way", "way of the axis", Quantity.LENGTH, end - v["start"]),
    )
    return Outcome(
        results,
        (step, way),
        ("A slot is cut by its centre line. It has both sides: climb on one, conventional on the other.",),
    )


def _draw_slot(v: Values, o: Outcome) -> Picture:
    d, a, b = v["diameter"], v["start"], o.answer.value
    r = d / 2
    shapes = (
        p.box(Ink.WORK, a, -d * Fraction(3, 2), b + d * Fraction(3, 2), d * Fraction(3, 2)),
        p.area(Ink.CUT, (a, -r), (b, -r), *p.arc((b, 0), r, -90, 90, 24), (a, r)),
        p.line(Ink.SCRIBE, (a - d, 0), (b + d, 0), dashed=True),
        *p.cutter((b, Fraction(0)), d, 4),
        p.line(Ink.ANSWER, (b, -d * 2), (b, d * 2)),
        p.text((b, d * Fraction(11, 5)), v.len(b), Ink.ANSWER),
    )
    return Picture(f"A slot from above; the axis stops at {v.len(b)}.", shapes)


SLOT = Calculation(
    "slot-end",
    "End of a slot",
    GROUP,
    "Where the axis stops: the drawing may mean the centre of the round end, or its tangent.",
    (
        length("start", "The axis starts at", 2000, low=-2000, default="0"),
        length("length", "The slot ends at", 2000),
        _CUTTER,
        choice("ends", "The drawing means the", "tangent of the end", "centre of the end"),
    ),
    _slot,
    (
        Slip("the tangent was taken for the centre", lambda v: v.but(ends="centre of the end")),
        Slip("the centre was taken for the tangent", lambda v: v.but(ends="tangent of the end")),
        Slip("the whole diameter was taken off", lambda v: v.but(length=v["length"] - v["diameter"] / 2)),
        Slip("the radius was added", lambda v: v.but(length=v["length"] + v["diameter"])),
    ),
    _draw_slot,
)

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


CLIMB = Calculation(
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
)
