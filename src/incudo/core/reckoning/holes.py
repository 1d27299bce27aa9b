"""Holes: points, countersinks, threads, patterns, boring. Sources: geometry; the threads' own formulas."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.working import Step
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import (
    Calculation,
    Input,
    Outcome,
    Output,
    Quantity,
    Slip,
    Values,
    choice,
    count,
    length,
    numbered,
    shown,
    tan,
)
from incudo.core.reckoning.cuts import passes
from incudo.core.reckoning.picture import Ink, Picture

GROUP = "holes"
#: More of the thread's height than this breaks the tap; less than LEAST strips.
MOST_THREAD, LEAST_THREAD = Fraction(83), Fraction(50)
#: Percent of thread in the usual short ways: D − P · % / 76.98, cutting; / 147.06, forming. In inches they are
#: 0.01299 · % / TPI and 0.0068 · % / TPI.
PER_PERCENT = {"cutting": Fraction(7698, 100), "forming": Fraction(14706, 100)}
MOST_HOLES = 24


def _angle(name: str, label: str, default: str, fills: str = "") -> Input:
    bounds = Fraction(10), Fraction(170)
    return Input(name, label, Quantity.ANGLE, *bounds, with_low=True, default=default, fills=fills)


_POINT = _angle("angle", "Point angle", "118", "cutter.angle")


def point_length(diameter: Fraction, angle: Fraction) -> Fraction:
    """How much deeper a drill's point goes than its full diameter: D/2 / tan(A/2)."""
    return diameter / 2 / tan(angle / 2)


def _point(v: Values) -> Outcome:
    found = point_length(v["diameter"], v["angle"])
    steps = [
        Step(
            "point length",
            "D / 2 / tan(A / 2)",
            f"{v.num(v['diameter'])} / 2 / tan({shown(v['angle'] / 2)}°)",
            v.len(found),
        )
    ]
    results = [Output("length", "point length", Quantity.LENGTH, found)]
    if v.given("deep"):
        total = v["deep"] + found + v["through"]
        steps.append(
            Step(
                "to the tip",
                "full diameter + point + breakthrough",
                f"{v.num(v['deep'])} + {v.num(found)} + {v.num(v['through'])}",
                v.len(total),
            )
        )
        results.append(Output("tip", "depth to the tip", Quantity.LENGTH, total))
    said = ("What lies under the hole? Parallels, vise, table.",) if v["through"] else ()
    return Outcome(tuple(results), tuple(steps), said)


def _draw_hole(v: Values, o: Outcome) -> Picture:
    d, a = v["diameter"], v["angle"]
    point = o.answer.value
    deep = v["deep"] if v.given("deep") else d * Fraction(3, 2)
    tip = -deep - point
    shapes = (
        p.box(Ink.WORK, -d * 2, tip - d / 2, d * 2, 0),
        p.drill(Ink.CUT, 0, tip, d, 0, a),
        p.drill(Ink.CUTTER, 0, tip, d * Fraction(9, 10), d, a),
        p.size((d, -deep), (d, tip), v.len(point), Ink.ANSWER),
        p.size((-d * Fraction(3, 2), 0), (-d * Fraction(3, 2), -deep), v.len(deep)),
    )
    return Picture(f"A drill in section; its point is {v.len(point)} long.", shapes)


DRILL_POINT = Calculation(
    "drill-point",
    "Length of a drill's point",
    GROUP,
    "How much deeper the point goes than the full diameter, and the depth to the tip.",
    (
        length("diameter", "Drill", 100, fills="cutter.diameter"),
        _POINT,
        length("deep", "Full-diameter depth", 300, optional=True),
        length("through", "Breakthrough allowance", 20, zero=True, default="0"),
    ),
    _point,
    (
        Slip("the diameter was taken for the radius", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("the whole angle was taken", answer=lambda v, _: abs(v["diameter"] / 2 / tan(v["angle"]))),
        Slip("a third of the diameter was taken, whatever the angle", answer=lambda v, _: v["diameter"] / 3),
    ),
    _draw_hole,
)


def _countersink(v: Values) -> Outcome:
    wide, hole = v["wide"], v["hole"]
    if wide <= hole:
        raise Refused.of("wide", v.num(wide), f"must be more than the hole, {v.len(hole)}")
    depth = (wide - hole) / 2 / tan(v["angle"] / 2)
    put = f"({v.num(wide)} − {v.num(hole)}) / 2 / tan({shown(v['angle'] / 2)}°)"
    step = Step("depth from the first touch", "(Dc − Dh) / 2 / tan(A / 2)", put, v.len(depth))
    said = ("Zero where it first touches the hole's edge; a burr there falsifies it.",)
    return Outcome((Output("depth", "depth", Quantity.LENGTH, depth),), (step,), said)


def _draw_countersink(v: Values, o: Outcome) -> Picture:
    wide, hole, depth = v["wide"], v["hole"], o.answer.value
    w, h = wide / 2, hole / 2
    low = -depth - wide
    shapes = (
        p.box(Ink.WORK, -wide, low, wide, 0),
        p.area(Ink.CUT, (-w, 0), (w, 0), (h, -depth), (h, low), (-h, low), (-h, -depth)),
        p.area(Ink.CUTTER, (-w, 0), (w, 0), (0, -w / tan(v["angle"] / 2))),
        p.box(Ink.CUTTER, -w, 0, w, wide / 2),
        p.size((wide * Fraction(4, 5), 0), (wide * Fraction(4, 5), -depth), v.len(depth), Ink.ANSWER),
        p.size((-w, wide * Fraction(3, 4)), (w, wide * Fraction(3, 4)), v.len(wide)),
        p.size((-h, low), (h, low), v.len(hole)),
    )
    return Picture(f"A countersink in section, {v.len(depth)} deep from the first touch.", shapes)


COUNTERSINK = Calculation(
    "countersink-depth",
    "Depth of a countersink",
    GROUP,
    "From the first touch on the hole's edge to the diameter that is wanted.",
    (
        length("wide", "Countersink's diameter", 100),
        length("hole", "Hole", 100),
        _angle("angle", "Angle of the countersink", "90", "cutter.angle"),
    ),
    _countersink,
    (
        Slip("the half was forgotten", answer=lambda _, o: o.answer.value * 2),
        Slip("the hole was forgotten", answer=lambda v, _: v["wide"] / 2 / tan(v["angle"] / 2)),
        Slip("82° and 90° were mixed up", lambda v: v.but(angle=Fraction(90 if v["angle"] == 82 else 82))),
        Slip("the whole angle was taken", answer=lambda v, _: abs((v["wide"] - v["hole"]) / 2 / tan(v["angle"]))),
    ),
    _draw_countersink,
)


def percent_of(diameter: Fraction, pitch: Fraction, hole: Fraction, tap: str) -> Fraction:
    """The percent of thread that a hole leaves."""
    return (diameter - hole) * PER_PERCENT[tap] / pitch


@dataclass(frozen=True)
class Choice:
    """A drill of the shop for a thread, and the percent of thread it really gives."""

    drill: Fraction
    percent: Fraction


def tap_drill_of(
    diameter: Fraction, pitch: Fraction, wanted: Fraction, tap: str, own: Sequence[Fraction], others: Sequence[Fraction]
) -> Choice | None:
    """The nearest usable drill of the thread's own series, else the nearest other; None where none is usable."""
    hole = diameter - pitch * wanted / PER_PERCENT[tap]
    for series in (own, others):
        usable = [
            Choice(d, share)
            for d in series
            if LEAST_THREAD <= (share := percent_of(diameter, pitch, d, tap)) <= MOST_THREAD
        ]
        if usable:
            # of two as near the larger: it is easier on the tap
            return min(usable, key=lambda c: (abs(c.drill - hole), -c.drill))
    return None


def _tap(v: Values) -> Outcome:
    d, pitch, percent, tap = v["diameter"], v["pitch"], v["percent"], v.choice("tap")
    by = PER_PERCENT[tap]
    hole = d - pitch * percent / by
    if hole <= 0:
        raise Refused.of("pitch", v.num(pitch), "must leave a hole: it is too coarse for this diameter")
    steps = [
        Step(
            "hole",
            f"D − P · % / {shown(by)}",
            f"{v.num(d)} − {v.num(pitch)} · {shown(percent)} / {shown(by)}",
            v.len(hole),
        )
    ]
    reckoned = Output("hole", "hole as reckoned", Quantity.LENGTH, hole)
    results = [reckoned]
    said = ["By hand, guided from the spindle, never under power. Eye protection: taps shatter."]
    own, others = v.list("drills"), v.list("others")
    if own or others:
        found = tap_drill_of(d, pitch, percent, tap, own, others)
        if found is None:
            raise Refused.of(
                "drills", "", f"none of these drills leaves {shown(LEAST_THREAD)} to {shown(MOST_THREAD)} % of thread"
            )
        steps.append(
            Step(
                "drill of the shop",
                "the nearest that leaves 50 to 83 %, own series first",
                v.len(hole),
                v.len(found.drill),
            )
        )
        steps.append(
            Step(
                "percent it gives",
                f"(D − drill) · {shown(by)} / P",
                f"({v.num(d)} − {v.num(found.drill)}) · {shown(by)} / {v.num(pitch)}",
                f"{shown(found.percent, 1)} %",
            )
        )
        results = [
            Output("drill", "drill to take", Quantity.LENGTH, found.drill),
            reckoned,
            Output("percent", "percent of thread that it gives", Quantity.PERCENT, found.percent),
        ]
        if found.drill not in own:
            said.append("None of the thread's own series is usable: this is one of the other.")
    return Outcome(tuple(results), tuple(steps), tuple(said))


def _draw_tap(v: Values, o: Outcome) -> Picture:
    d, pitch, hole = v["diameter"], v["pitch"], o.answer.value
    r, h = d / 2, hole / 2
    deep = d * Fraction(3, 2)
    teeth = max(1, min(20, int(deep / pitch)))
    right = [(h, -pitch * i) if k == 0 else (r, -pitch * (i + Fraction(1, 2))) for i in range(teeth) for k in (0, 1)]
    left = [(-x, y) for x, y in reversed(right)]
    low = -pitch * teeth
    shapes = (
        p.box(Ink.WORK, -d * Fraction(3, 2), low - d / 2, d * Fraction(3, 2), 0),
        p.area(Ink.CUT, *right, (h, low), (h, low - d / 4), (-h, low - d / 4), (-h, low), *left),
        p.size((-h, low - d / 4), (h, low - d / 4), v.len(hole), Ink.ANSWER),
        p.size((-r, d / 4), (r, d / 4), v.len(d)),
    )
    return Picture(f"A thread in section in a hole of {v.len(hole)}.", shapes)


_THREAD = length("diameter", "Thread's diameter", 100, fills="cutter.thread")
_PITCH = length("pitch", "Pitch", 10, fills="cutter.pitch")
_LIST = dict(kind=Quantity.LENGTHS, low=Fraction(0), high=Fraction(100), optional=True)

TAP_DRILL = Calculation(
    "tap-drill",
    "Tap drill",
    GROUP,
    "The hole for a thread of so many percent of its height, and the drill of this shop that comes nearest.",
    (
        _THREAD,
        _PITCH,
        Input("percent", "Percent of thread", Quantity.PERCENT, Fraction(40), MOST_THREAD, with_low=True, default="75"),
        choice("tap", "Tap", "cutting", "forming", fills="cutter.tap"),
        Input("drills", "Drills of the thread's own series", fills="crib.own", **_LIST),  # type: ignore[arg-type]
        Input("others", "Other drills", fills="crib.others", **_LIST),  # type: ignore[arg-type]
    ),
    _tap,
    (
        Slip("the pitch was taken off in full", answer=lambda v, _: v["diameter"] - v["pitch"]),
        Slip("a forming tap's hole", lambda v: v.but(tap="cutting" if v.choice("tap") == "forming" else "forming")),
        Slip("twice the pitch was taken off", lambda v: v.but(pitch=v["pitch"] * 2)),
        Slip("the thread's own diameter was drilled", answer=lambda v, _: v["diameter"]),
    ),
    _draw_tap,
)


def _blind(v: Values) -> Outcome:
    lead = v["lead"] * v["pitch"]
    full = v["thread"] + lead + v["room"]
    point = point_length(v["drill"], v["angle"])
    steps = (
        Step("lead of the tap", "pitches · P", f"{shown(v['lead'])} · {v.num(v['pitch'])}", v.len(lead)),
        Step(
            "full-diameter depth",
            "full thread + lead + chip room",
            f"{v.num(v['thread'])} + {v.num(lead)} + {v.num(v['room'])}",
            v.len(full),
        ),
        Step(
            "point length",
            "D / 2 / tan(A / 2)",
            f"{v.num(v['drill'])} / 2 / tan({shown(v['angle'] / 2)}°)",
            v.len(point),
        ),
        Step("to the tip", "full-diameter depth + point", f"{v.num(full)} + {v.num(point)}", v.len(full + point)),
    )
    results = (
        Output("full", "full-diameter depth", Quantity.LENGTH, full),
        Output("tip", "depth to the tip", Quantity.LENGTH, full + point),
    )
    return Outcome(results, steps, ("Is there enough work under it?",))


def _draw_blind(v: Values, o: Outcome) -> Picture:
    d, full, tip = v["drill"], o.results[0].value, o.results[1].value
    t = d * Fraction(13, 20)
    shapes = (
        p.box(Ink.WORK, -d * 2, -tip - d / 2, d * 2, 0),
        p.drill(Ink.CUT, 0, -tip, d, 0, v["angle"]),
        p.line(Ink.CUTTER, (-t, 0), (-t, -v["thread"]), (t, -v["thread"]), (t, 0)),
        p.size((d * Fraction(6, 5), 0), (d * Fraction(6, 5), -v["thread"]), v.len(v["thread"])),
        p.size((-d * Fraction(6, 5), 0), (-d * Fraction(6, 5), -full), v.len(full), Ink.ANSWER),
    )
    return Picture(f"A blind hole in section: {v.len(full)} at full diameter, {v.len(tip)} to the tip.", shapes)


BLIND = Calculation(
    "blind-depth",
    "Depth of a blind tapped hole",
    GROUP,
    "Full thread, lead of the tap and room for chips; to the tip the drill's point comes on top.",
    (
        length("thread", "Full thread", 200),
        _PITCH,
        Input(
            "lead", "Lead of the tap, in pitches", Quantity.COUNT, Fraction(0), Fraction(12), with_low=True, default="4"
        ),
        length("room", "Room for chips", 50, zero=True, default="2"),
        length("drill", "Tap drill", 100),
        _POINT,
    ),
    _blind,
    (
        Slip("the lead was forgotten", lambda v: v.but(lead=Fraction(0))),
        Slip("the room for chips was forgotten", lambda v: v.but(room=Fraction(0))),
        Slip("the point was counted into the full diameter", answer=lambda _, o: o.results[1].value),
        Slip("the point was taken off", answer=lambda _, o: 2 * o.answer.value - o.results[1].value),
    ),
    _draw_blind,
)


def _clearance(v: Values) -> Outcome:
    close = v.choice("fit") == "close"
    table = "close" if close else "free"
    steps = []
    if v.given(table):
        hole = v[table]
        if hole <= v["diameter"]:
            raise Refused.of(table, v.num(hole), f"must be more than the thread, {v.len(v['diameter'])}")
        steps.append(Step("hole", f"table of {table} clearance holes", v.len(v["diameter"]), v.len(hole)))
        said = ""
    else:
        more = Fraction(105 if close else 110, 100)
        hole = v["diameter"] * more
        steps.append(
            Step("hole", f"D · {shown(more)} (rule of thumb, no table value given)", v.num(v["diameter"]), v.len(hole))
        )
        said = "By a rule of thumb: give the table's value where there is one."
    results = [Output("hole", "clearance hole", Quantity.LENGTH, hole)]
    if drills := sorted(v.list("drills")):
        larger = [d for d in drills if d >= hole - Fraction(1, 100)]
        if not larger:
            raise Refused.of("drills", "", f"none is as large as the hole, {v.len(hole)}")
        steps.append(Step("drill of the shop", "the smallest not below the hole", v.len(hole), v.len(larger[0])))
        results.insert(0, Output("drill", "drill to take", Quantity.LENGTH, larger[0]))
    return Outcome(tuple(results), tuple(steps), (said,) if said else ())


def _draw_clearance(v: Values, o: Outcome) -> Picture:
    d, hole = v["diameter"], o.answer.value
    shapes = (
        p.box(Ink.WORK, -d * 2, -d, d * 2, d),
        p.disc(Ink.CUT, (0, 0), hole / 2),
        p.disc(Ink.CUTTER, (0, 0), d / 2),
        p.size((-hole / 2, d * Fraction(5, 4)), (hole / 2, d * Fraction(5, 4)), v.len(hole), Ink.ANSWER),
        p.text((0, 0), v.len(d)),
    )
    return Picture(f"A screw of {v.len(d)} in its hole of {v.len(hole)}.", shapes)


CLEARANCE = Calculation(
    "clearance-drill",
    "Clearance hole",
    GROUP,
    "The hole through which a screw passes: close where it also places the part, else free.",
    (
        _THREAD,
        choice("fit", "Fit", "close", "free"),
        length("close", "Close hole, of the table", 110, optional=True, fills="thread.close"),
        length("free", "Free hole, of the table", 110, optional=True, fills="thread.free"),
        Input("drills", "Drills of the shop", fills="crib.own", **_LIST),  # type: ignore[arg-type]
    ),
    _clearance,
    (
        Slip("the screw's own diameter was drilled", answer=lambda v, _: v["diameter"]),
        Slip("close and free were mixed up", lambda v: v.but(fit="free" if v.choice("fit") == "close" else "close")),
    ),
    _draw_clearance,
)


def bolt_circle(radius: Fraction, holes: int, first: Fraction) -> tuple[tuple[Fraction, Fraction], ...]:
    """Places from the circle's middle, anticlockwise from +X: first + 360 · i / n degrees."""
    found = []
    for i in range(holes):
        a = math.radians(float(first) + 360 * i / holes)
        found.append((Fraction(float(radius) * math.cos(a)), Fraction(float(radius) * math.sin(a))))
    return tuple(found)


def _near(value: Fraction) -> Fraction:
    """Places a float apart are the same place when they are put in order."""
    return Fraction(round(value * 10**6), 10**6)


def visits(places: Sequence[tuple[Fraction, Fraction]]) -> tuple[int, ...]:
    """The order in which each place is come to from low X and, in one row of X, from low Y."""
    return tuple(sorted(range(len(places)), key=lambda i: (_near(places[i][0]), _near(places[i][1]))))


def _placed(places: Sequence[tuple[Fraction, Fraction]]) -> list[Output]:
    return [
        Output(f"{n}{i}", f"hole {i}, {n.upper()}", Quantity.LENGTH, value)
        for i, place in enumerate(places, 1)
        for n, value in zip("xy", place, strict=True)
    ]


def _order_words(places: Sequence[tuple[Fraction, Fraction]]) -> str:
    return "Go to them as " + ", ".join(str(i + 1) for i in visits(places)) + ": each from the same side, low X first."


def _circle(v: Values) -> Outcome:
    r, n = v["diameter"] / 2, int(v["holes"])
    places = bolt_circle(r, n, v["first"])
    chord = 2 * r * Fraction(math.sin(math.pi / n))
    results = [Output("chord", "from hole to hole, for checking", Quantity.LENGTH, chord), *_placed(places)]
    angle = Step(
        "angles", "a0 + 360° · i / n", f"{shown(v['first'])}° + 360° · i / {n}", f"every {shown(Fraction(360, n), 3)}°"
    )
    x, y = places[0]
    first = Step("hole 1", "R · cos a, R · sin a", f"{v.num(r)}, {shown(v['first'])}°", f"{v.num(x)}, {v.len(y)}")
    step = Step("chord", "2 · R · sin(180° / n)", f"2 · {v.num(r)} · sin(180° / {n})", v.len(chord))
    return Outcome(tuple(results), (angle, first, step), (_order_words(places),))


def _draw_places(
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
    return Picture(f"{len(places)} holes from above with the order of going to them.", tuple(shapes))


BOLT_CIRCLE = Calculation(
    "bolt-circle",
    "Bolt circle",
    GROUP,
    "Places of holes on a circle, and the chord that checks them.",
    (
        length("diameter", "Circle's diameter", 1000),
        count("holes", "Holes", 2, MOST_HOLES),
        Input(
            "first", "First hole at, from +X", Quantity.ANGLE, Fraction(-360), Fraction(360), with_low=True, default="0"
        ),
    ),
    _circle,
    (
        Slip("the diameter was taken for the radius", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("a hole was forgotten", lambda v: v.but(holes=v["holes"] - 1) if v["holes"] > 2 else v),
        Slip("the arc was taken for the chord", answer=lambda v, _: Fraction(math.pi) * v["diameter"] / v["holes"]),
        Slip(
            "the whole angle was taken, not its half",
            answer=lambda v, _: v["diameter"] * abs(Fraction(math.sin(2 * math.pi / int(v["holes"])))),
        ),
    ),
    lambda v, _: _draw_places(
        v, bolt_circle(v["diameter"] / 2, int(v["holes"]), v["first"]), v["diameter"], v["diameter"] / 2
    ),
)


def _grid_places(v: Values) -> tuple[tuple[Fraction, Fraction], ...]:
    nx, ny = int(v["columns"]), int(v["rows"])
    return tuple((v["x"] + i * v["dx"], v["y"] + j * v["dy"]) for j in range(ny) for i in range(nx))


def _grid(v: Values) -> Outcome:
    places = _grid_places(v)
    if len(places) > 60:
        raise Refused.of("rows", shown(v["rows"]), "makes more than 60 holes")
    x, y = places[-1]
    steps = (
        Step(
            "last column",
            "first + (n − 1) · spacing",
            f"{v.num(v['x'])} + {shown(v['columns'] - 1)} · {v.num(v['dx'])}",
            v.len(x),
        ),
        Step("last row", "the same", f"{v.num(v['y'])} + {shown(v['rows'] - 1)} · {v.num(v['dy'])}", v.len(y)),
    )
    last = Output("last", "X of the last column", Quantity.LENGTH, x)
    return Outcome((last, *_placed(places)), steps, (_order_words(places),))


GRID = Calculation(
    "hole-grid",
    "Grid of holes",
    GROUP,
    "Places of holes in rows and columns, each reckoned from the datum so that no rounding adds up.",
    (
        length("x", "First hole, X", 2000, low=-2000, default="0"),
        length("y", "First hole, Y", 2000, low=-2000, default="0"),
        count("columns", "Columns", 1, 30),
        count("rows", "Rows", 1, 30, default="1"),
        length("dx", "Spacing along X", 500),
        length("dy", "Spacing along Y", 500, default="10"),
    ),
    _grid,
    (
        Slip("a spacing too many was counted", lambda v: v.but(columns=v["columns"] + 1)),
        Slip("the first hole's place was forgotten", lambda v: v.but(x=Fraction(0))),
        Slip("a spacing was forgotten", lambda v: v.but(columns=max(v["columns"] - 1, Fraction(1)))),
    ),
    lambda v, _: _draw_places(v, _grid_places(v), max(v["dx"] * v["columns"], v["dy"] * v["rows"]), None),
)


def _bore(v: Values) -> Outcome:
    left = v["target"] - v["measured"]
    if left < 0:
        raise Refused.of("measured", v.num(v["measured"]), f"must be at most the target, {v.len(v['target'])}")
    on_radius = v.choice("dial") == "radius"
    dial = left / 2 if on_radius else left
    steps = [
        Step(
            "left on the diameter", "target − measured", f"{v.num(v['target'])} − {v.num(v['measured'])}", v.len(left)
        ),
        Step(
            "in all on the dial",
            "half of it" if on_radius else "the whole",
            f"{v.num(left)}{' / 2' if on_radius else ''}",
            v.len(dial),
        ),
    ]
    results = [Output("dial", "in all on the dial", Quantity.LENGTH, dial)]
    if left and v.given("limit"):
        if left / v["limit"] > 100:
            raise Refused.of("limit", v.num(v["limit"]), f"would make more than 100 cuts of {v.len(left)}")
        cuts = passes(left, v["limit"], v["finish"])
        set_to = [c / 2 if on_radius else c for c in cuts]
        steps.append(
            Step(
                "cuts, on the diameter",
                "remainder first, then the limit, then the finish",
                " + ".join(v.num(c) for c in cuts),
                v.len(left),
            )
        )
        results += [
            Output("cuts", "cuts", Quantity.COUNT, Fraction(len(cuts))),
            *numbered("cut", "on the dial, cut", Quantity.LENGTH, set_to),
        ]
    said = (
        "Does this head's dial read on the diameter or on the radius? Check it with an indicator, and write it down.",
        "Measure before the last cut; then a spring pass at the same setting.",
        "Shortest, stiffest bar; screws tight; mind the swing of the head.",
    )
    return Outcome(tuple(results), tuple(steps), said)


def _draw_bore(v: Values, o: Outcome) -> Picture:
    target, now = v["target"], v["measured"]
    reach = target * Fraction(4, 5)
    shapes = (
        p.box(Ink.WORK, -reach, -reach, reach, reach),
        p.disc(Ink.CUT, (0, 0), target / 2),
        p.disc(Ink.WORK, (0, 0), target / 2) if now < target else p.cross((0, 0), 1),
        p.disc(Ink.CUT, (0, 0), now / 2),
        p.ring(Ink.ANSWER, (0, 0), target / 2, dashed=True),
        p.line(Ink.CUTTER, (0, 0), (now / 2, 0)),
        p.rotation((0, 0), now / 2),
        p.size(
            (-target / 2, reach * Fraction(11, 10)), (target / 2, reach * Fraction(11, 10)), v.len(target), Ink.ANSWER
        ),
        p.size((-now / 2, -reach * Fraction(11, 10)), (now / 2, -reach * Fraction(11, 10)), v.len(now)),
    )
    return Picture(f"A bore of {v.len(now)} that should come to {v.len(target)}.", shapes)


BORING = Calculation(
    "boring-head",
    "Boring by a head",
    GROUP,
    "What is left, what to set on a dial that reads on the diameter or on the radius, and the cuts.",
    (
        length("target", "Diameter that is wanted", 300),
        length("measured", "Measured now", 300),
        choice("dial", "The head's dial reads on", "diameter", "radius", fills="cutter.dial"),
        length("limit", "At most in one cut, on the diameter", 10, low=0.01, optional=True),
        length("finish", "Last cut, on the diameter", 2, zero=True, default="0.1"),
    ),
    _bore,
    (
        Slip("half was set on a dial that reads on the diameter", lambda v: v.but(dial="radius")),
        Slip("the whole was set on a dial that reads on the radius", lambda v: v.but(dial="diameter")),
        Slip("the difference was doubled", answer=lambda _, o: o.answer.value * 2),
        Slip("inches were taken for millimetres", answer=lambda _, o: o.answer.value / MM_PER_INCH),
    ),
    _draw_bore,
)
