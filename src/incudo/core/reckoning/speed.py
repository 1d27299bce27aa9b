"""Speed, feed, time and load. Sources: geometry; the shop's schools of choosing a step; rules of thumb."""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.kernel.working import Step
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import (
    UNITS,
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
    root,
    shown,
)
from incudo.core.reckoning.picture import Ink, Picture

GROUP = "speed and feed"
PI = Fraction(math.pi)
FOOT = MM_PER_INCH * 12 / 1000
#: *Nearest* never goes further above the reckoned speed than this.
MOST_ABOVE = Fraction(11, 10)
#: A feed is never raised to more than this times for thin chips.
MOST_RAISE = Fraction(2)
#: What part of a drill's speed other tools in its place run at, and how often its feed (rules of thumb).
HOLE_TOOLS = {
    "drill": (Fraction(1), Fraction(1)),
    "reamer": (Fraction(1, 2), Fraction(2)),
    "countersink": (Fraction(1, 3), Fraction(1)),
}


def _surface(label: str = "Cutting speed", fills: str = "material.surface") -> Input:
    return Input("surface", label, Quantity.SURFACE, Fraction(0), Fraction(1000), fills=fills)


def _steps(*, optional: bool) -> Input:
    return Input("steps", "The machine's steps", Quantity.STEPS, optional=optional, fills="machine.steps")


#: Which step is taken: the highest not above, or the nearest.
_SCHOOL = choice("school", "Which step", "below", "nearest")


def turns(surface: Fraction, diameter: Fraction) -> Fraction:
    """Turns a minute: 1000 · v / (π · D), in m/min and mm."""
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


def turn_steps(v: Values, surface: Fraction, diameter: Fraction) -> tuple[Step, Step]:
    """The working of a spindle speed, and the short way with how far it is off."""
    speed, inch = turns(surface, diameter), v.unit is Unit.INCH
    put = f"{v.surface(surface)} / (π · {v.num(diameter)})"
    short = 4 * (surface / FOOT) / (diameter / MM_PER_INCH) if inch else 320 * surface / diameter
    off = (short / speed - 1) * 100
    return (
        Step(
            "turns a minute",
            "12 · V / (π · D)" if inch else "1000 · v / (π · D)",
            f"{12 if inch else 1000} · {put}",
            f"{shown(speed, 1)} per minute",
        ),
        Step(
            "by the shop's short way",
            "4 · V / D" if inch else "320 · v / D",
            f"{4 if inch else 320} · {v.surface(surface)} / {v.num(diameter)}",
            f"{shown(short, 0)} per minute, {shown(abs(off), 1)} % {'more' if off > 0 else 'less'}",
        ),
    )


def _at_step(v: Values, speed: Fraction, diameter: Fraction) -> tuple[list[Output], list[Step], list[str]]:
    """What a machine's steps make of a reckoned speed."""
    steps = v.list("steps")
    if not steps:
        return [], [], []
    found = step_at(speed, steps, v.choice("school"))
    if found is None:
        words = f"The slowest step, {steps[0]}, is too fast for this cutter: take a smaller one, or another machine."
        return [], [], [words]
    real = PI * diameter * found / 1000
    rule = "the highest step not above" if v.choice("school") == "below" else "the nearest step, at most a tenth above"
    working = [
        Step("step to set", rule, f"{shown(speed, 1)} among {' '.join(map(str, steps))}", f"{found} per minute"),
        Step(
            "cutting speed at that step",
            "π · D · n / 12" if v.unit is Unit.INCH else "π · D · n / 1000",
            f"π · {v.num(diameter)} · {found} / {12 if v.unit is Unit.INCH else 1000}",
            f"{v.surface(real)} {'ft/min' if v.unit is Unit.INCH else 'm/min'}",
        ),
    ]
    said = ["The machine has no faster step: slower than reckoned is safe, only slow."]
    outputs = [
        Output("step", "step to set", Quantity.TURNS, found),
        Output("real", "cutting speed at that step", Quantity.SURFACE, real),
    ]
    return outputs, working, said if found == steps[-1] and speed > found else []


def _spindle(v: Values) -> Outcome:
    surface, d = v["surface"], v["diameter"]
    speed = turns(surface, d)
    outputs, working, said = _at_step(v, speed, d)
    reckoned = Output("speed", "reckoned speed", Quantity.TURNS, speed)
    results = (outputs[0], reckoned, *outputs[1:]) if outputs else (reckoned,)
    return Outcome(results, (*turn_steps(v, surface, d), *working), tuple(said))


def _draw_spindle(v: Values, o: Outcome) -> Picture:
    d = v["diameter"]
    n = shown(o.answer.value, 0)
    shapes = (
        p.box(Ink.WORK, -d * Fraction(9, 10), -d, d * 2, d * Fraction(1, 5)),
        *p.cutter((Fraction(0), Fraction(0)), d, 4),
        p.size((-d / 2, d * Fraction(7, 10)), (d / 2, d * Fraction(7, 10)), v.len(d)),
        p.text((d * Fraction(5, 4), d / 2), f"{n} turns a minute", Ink.ANSWER),
    )
    return Picture(f"A cutter of {v.len(d)} seen from above, turning clockwise {n} times a minute.", shapes)


def _plot_spindle(v: Values, o: Outcome) -> Picture | None:
    """Speed against diameter: the curve, this machine's steps as stairs, and where we stand."""
    steps, d, surface = v.list("steps"), v["diameter"], v["surface"]
    if not steps:
        return None
    wide, high = float(d) * 2.5, float(turns(surface, d)) * 2.5
    places = [float(d) * (0.3 + 2.2 * i / 60) for i in range(61)]
    per_mm = 1000 * float(surface) / math.pi

    def at(x: float, y: float) -> tuple[float, float]:
        return 100 * x / wide, 60 * min(y / high, 1.0)

    school = v.choice("school")
    curve = [at(x, per_mm / x) for x in places]
    stairs = [at(x, float(step_at(Fraction(int(per_mm / x * 10), 10), steps, school) or 0)) for x in places]
    here = at(float(d), float(o.answer.value))
    shapes = (
        p.line(Ink.SCRIBE, (0.0, 60.0), (0.0, 0.0), (100.0, 0.0)),
        p.line(Ink.SCRIBE, *curve, dashed=True),
        p.line(Ink.CUTTER, *stairs),
        p.disc(Ink.ANSWER, here, 1.1),
        p.text((here[0] + 4, here[1] + 5), f"{shown(o.answer.value, 0)} at {v.len(d)}", Ink.ANSWER),
        p.text((88.0, 3.0), "diameter →"),
        p.text((10.0, 62.0), "↑ turns a minute"),
    )
    return Picture("Speed against diameter: dashed as reckoned, drawn through as this machine's steps give it.", shapes)


SPINDLE_SPEED = Calculation(
    "spindle-speed",
    "Spindle speed",
    GROUP,
    "From the cutting speed of the material and the cutter's diameter, to the step that the machine has.",
    (_surface(), length("diameter", "Cutter", fills="cutter.diameter"), _steps(optional=True), _SCHOOL),
    _spindle,
    (
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip("the diameter was doubled", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("π was forgotten", lambda v: v.but(surface=v["surface"] * PI)),
        Slip("inches were taken for millimetres", lambda v: v.but(diameter=v["diameter"] / MM_PER_INCH)),
        Slip("feet were taken for metres", lambda v: v.but(surface=v["surface"] / FOOT)),
        Slip("metres were taken for feet", lambda v: v.but(surface=v["surface"] * FOOT)),
        Slip("it was rounded up to the machine's next step", answer=lambda v, o: _next_step(v, o)),
    ),
    _draw_spindle,
    _plot_spindle,
)


def _next_step(v: Values, o: Outcome) -> Fraction:
    """The step above the right one. Raises ``ValueError`` where there is none."""
    above = [s for s in v.list("steps") if s > o.answer.value]
    if not above:
        raise ValueError("no step above")
    return above[0]


def _feed(v: Values) -> Outcome:
    n, z, fz = v["speed"], v["teeth"], v["chip"]
    feed = n * z * fz
    turn = v["per_turn"]
    seconds = 60 * turn / feed
    steps = (
        Step("table feed", "n · z · fz", f"{shown(n, 1)} · {shown(z)} · {v.num(fz)}", v.feed(feed)),
        Step(
            "seconds for one handle turn",
            "60 · travel per turn / feed",
            f"60 · {v.num(turn)} / {v.feed(feed)}",
            f"{shown(seconds, 1)} s",
        ),
    )
    said = ["It follows from the speed that is really set: another step, another feed."]
    results = (
        Output("feed", "table feed", Quantity.FEED, feed),
        Output("seconds", "by hand: seconds for one turn", Quantity.TIME, seconds),
    )
    if v.given("reckoned"):
        off = (v["reckoned"] / n - 1) * 100
        said.append(f"At the reckoned speed it would be {v.feed(v['reckoned'] * z * fz)}: {shown(off, 0)} % too fast.")
    return Outcome(results, steps, tuple(said))


def _draw_feed(v: Values, o: Outcome) -> Picture:
    r, teeth = Fraction(10), int(v["teeth"])
    bite = Fraction(2)
    tooth_marks = [p.arc((-bite * i, Fraction(0)), r, -60, 60) for i in range(1, 5)]
    shapes = (
        p.box(Ink.WORK, -12, -18, 34, 6),
        p.box(Ink.CUT, -34, -10, 0, 6),
        *(p.line(Ink.SCRIBE, *m) for m in tooth_marks),
        *p.cutter((Fraction(0), Fraction(0)), 2 * r, min(teeth, 12)),
        p.arrow(Ink.ANSWER, (14, 10), (30, 10)),
        p.text((23, 13), v.feed(o.answer.value), Ink.ANSWER),
    )
    return Picture(f"A cutter with {teeth} teeth goes into the work at {v.feed(o.answer.value)}.", shapes)


TABLE_FEED = Calculation(
    "table-feed",
    "Table feed",
    GROUP,
    "From the speed that is set, the teeth and the feed per tooth; by hand, seconds for a turn.",
    (
        Input("speed", "Speed that is set", Quantity.TURNS, Fraction(0), Fraction(20_000)),
        count("teeth", "Teeth", 1, 40, fills="cutter.teeth"),
        length("chip", "Feed per tooth", 2, fills="material.chip"),
        length("per_turn", "Travel of one handle turn", 20, default="5", fills="machine.turn"),
        Input(
            "reckoned", "Speed as reckoned, to compare", Quantity.TURNS, Fraction(0), Fraction(100_000), optional=True
        ),
    ),
    _feed,
    (
        Slip("the calculated speed was used, not the one that is set", lambda v: v.but(speed=v["reckoned"])),
        Slip("the teeth were forgotten", lambda v: v.but(teeth=Fraction(1))),
        Slip("one tooth was forgotten", lambda v: v.but(teeth=v["teeth"] - 1)),
        Slip("one tooth too many was counted", lambda v: v.but(teeth=v["teeth"] + 1)),
        Slip("inches were taken for millimetres", lambda v: v.but(chip=v["chip"] / MM_PER_INCH)),
        Slip("a place of the feed per tooth slipped", lambda v: v.but(chip=v["chip"] * 10)),
    ),
    _draw_feed,
)


def _hole_speed(v: Values) -> Outcome:
    share, more = HOLE_TOOLS[v.choice("tool")]
    surface, d = v["surface"] * share, v["diameter"]
    speed = turns(surface, d)
    outputs, working, said = _at_step(v, speed, d)
    reckoned = Output("speed", "reckoned speed", Quantity.TURNS, speed)
    results = [outputs[0], reckoned, *outputs[1:]] if outputs else [reckoned]
    first = Step(
        f"cutting speed of a {v.choice('tool')}",
        f"{shown(share, 2)} of a drill's (rule of thumb)",
        f"{v.surface(v['surface'])} · {shown(share, 2)}",
        f"{v.surface(surface)}",
    )
    if v.given("feed"):
        feed = v["feed"] * more
        results.append(Output("feed", "feed in one turn", Quantity.LENGTH, feed))
        working.append(
            Step("feed in one turn", "a drill's · factor", f"{v.num(v['feed'])} · {shown(more)}", v.len(feed))
        )
    if v.choice("tool") == "reamer":
        said.append("A reamer is never turned backwards: it goes out turning forwards.")
    return Outcome(tuple(results), (first, *turn_steps(v, surface, d), *working), tuple(said))


def _draw_hole_speed(v: Values, o: Outcome) -> Picture:
    d = v["diameter"]
    shapes = (
        p.box(Ink.WORK, -d * 2, -d * 2, d * 2, 0),
        p.box(Ink.CUT, -d / 2, -d, d / 2, 0),
        p.drill(Ink.CUTTER, 0, -d * Fraction(5, 4), d, d * 2),
        p.size((-d / 2, d * Fraction(9, 4)), (d / 2, d * Fraction(9, 4)), v.len(d)),
        p.text((d * Fraction(7, 4), d), f"{shown(o.answer.value, 0)} turns a minute", Ink.ANSWER),
    )
    return Picture(f"A {v.choice('tool')} of {v.len(d)} from the side.", shapes)


HOLE_SPEED = Calculation(
    "hole-speed",
    "Speed of a drill, reamer or countersink",
    GROUP,
    "A reamer at about half a drill's speed and twice its feed, a countersink at a third. Taps are turned by hand.",
    (
        _surface("Cutting speed of a drill", "material.drill"),
        length("diameter", "Tool", 100, fills="cutter.diameter"),
        choice("tool", "What turns", *HOLE_TOOLS, fills="cutter.tool"),
        length("feed", "A drill's feed in one turn", 2, optional=True, fills="material.turn"),
        _steps(optional=True),
        _SCHOOL,
    ),
    _hole_speed,
    (
        Slip("the drill's own speed was taken", lambda v: v.but(tool="drill")),
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip("π was forgotten", lambda v: v.but(surface=v["surface"] * PI)),
        Slip("a countersink's factor was taken", lambda v: v.but(tool="countersink")),
        Slip("a reamer's factor was taken", lambda v: v.but(tool="reamer")),
        Slip("it was rounded up to the machine's next step", answer=lambda v, o: _next_step(v, o)),
    ),
    _draw_hole_speed,
)


def _tap_turns(v: Values) -> Outcome:
    deep = v["thread"] + v["lead"] * v["pitch"]
    found = deep / v["pitch"]
    steps = (
        Step(
            "how deep the tap goes",
            "full thread + lead",
            f"{v.num(v['thread'])} + {shown(v['lead'])} · {v.num(v['pitch'])}",
            v.len(deep),
        ),
        Step("turns by hand", "depth / pitch", f"{v.num(deep)} / {v.num(v['pitch'])}", shown(found, 1)),
    )
    said = (
        "By hand, guided from the spindle; the spindle never under power, its guide spring not fully pressed.",
        "Eye protection: taps shatter. When it stops, stop; clear the chips; again.",
    )
    results = (
        Output("turns", "turns by hand", Quantity.COUNT, found),
        Output("deep", "how deep the tap goes", Quantity.LENGTH, deep),
    )
    return Outcome(results, steps, said)


TAP_TURNS = Calculation(
    "tap-turns",
    "Turns of a tap by hand",
    GROUP,
    "How many turns a thread takes. A tap has no cutting speed here: it is turned by hand.",
    (
        length("thread", "Full thread", 200),
        length("pitch", "Pitch", 10, fills="cutter.pitch"),
        Input("lead", "Lead of the tap, in pitches", Quantity.COUNT, Fraction(0), Fraction(12), default="4"),
    ),
    _tap_turns,
    (
        Slip("the lead was forgotten", lambda v: v.but(lead=Fraction(0))),
        Slip("the pitch was multiplied, not divided", answer=lambda v, o: o.results[1].value * v["pitch"]),
    ),
)


def _thinning(v: Values) -> Outcome:
    d, ae, fz = v["diameter"], v["engaged"], v["chip"]
    if ae > d:
        raise Refused.of("engaged", v.num(ae), f"must be at most the diameter, {v.len(d)}")
    k = ae / d
    if k >= Fraction(1, 2):
        step = Step("thickest chip", "from half the diameter on the chip is fz", f"{shown(k, 3)} ≥ 0.5", v.len(fz))
        return Outcome((Output("feed", "feed per tooth to set", Quantity.LENGTH, fz),), (step,))
    thin = 2 * root(k - k * k)
    raised = min(fz / thin, fz * MOST_RAISE)
    steps = (
        Step("share engaged", "ae / D", f"{v.num(ae)} / {v.num(d)}", shown(k, 4)),
        Step(
            "thickest chip without raising",
            "2 · fz · √(k − k²)",
            f"2 · {v.num(fz)} · √({shown(k, 4)} − {shown(k * k, 4)})",
            v.len(thin * fz),
        ),
        Step(
            "feed per tooth for a full chip",
            "fz / (2 · √(k − k²)), at most twice",
            f"{v.num(fz)} / {shown(thin, 4)}",
            v.len(raised),
        ),
    )
    said = ("It would be more than twice: not above that.",) if fz / thin > fz * MOST_RAISE else ()
    return Outcome((Output("feed", "feed per tooth to set", Quantity.LENGTH, raised),), steps, said)


def _draw_side(v: Values, ae: Fraction) -> Picture:
    d = v["diameter"]
    shapes = (
        p.box(Ink.WORK, -d, -d * Fraction(7, 4), d * Fraction(7, 4), -d / 2 + ae),
        p.box(Ink.CUT, -d, -d / 2, 0, -d / 2 + ae),
        *p.cutter((Fraction(0), Fraction(0)), d, 4),
        p.size((d * Fraction(5, 4), -d / 2), (d * Fraction(5, 4), -d / 2 + ae), v.len(ae)),
        p.arrow(Ink.ANSWER, (d * Fraction(3, 5), d * Fraction(2, 5)), (d * Fraction(3, 2), d * Fraction(2, 5))),
    )
    return Picture(f"A cutter of {v.len(d)} takes {v.len(ae)} off the side of the work, seen from above.", shapes)


CHIP_THINNING = Calculation(
    "chip-thinning",
    "Chip thinning",
    GROUP,
    "With less than half the diameter engaged the chip is thinner than the feed per tooth: raise it.",
    (
        length("diameter", "Cutter", fills="cutter.diameter"),
        length("engaged", "Engaged sideways"),
        length("chip", "Chip that is wanted", 2, fills="material.chip"),
    ),
    _thinning,
    (
        Slip("nothing was raised", answer=lambda v, _: v["chip"]),
        Slip("it was lowered instead of raised", answer=lambda v, o: v["chip"] * v["chip"] / o.answer.value),
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
    ),
    lambda v, _: _draw_side(v, v["engaged"]),
)


def approach(diameter: Fraction, engaged: Fraction) -> Fraction:
    """How far before the work a side cut begins to be whole: √(ae · (D − ae)) up to half the diameter, R above."""
    if engaged > diameter:
        raise Refused.of("engaged", shown(engaged), f"must be at most the diameter, {shown(diameter)} mm")
    if engaged <= diameter / 2:
        return root(engaged * (diameter - engaged))
    return diameter / 2


def _time(v: Values) -> Outcome:
    before = approach(v["diameter"], v["engaged"])
    way = v["length"] + before + v["overrun"]
    seconds = v["passes"] * way / v["feed"] * 60 + v["handling"]
    steps = (
        Step(
            "approach",
            "√(ae · (D − ae)), R above half",
            f"D {v.num(v['diameter'])}, ae {v.num(v['engaged'])}",
            v.len(before, 3),
        ),
        Step(
            "way of one pass",
            "length + approach + overrun",
            f"{v.num(v['length'])} + {v.num(before, 3)} + {v.num(v['overrun'])}",
            v.len(way, 3),
        ),
        Step(
            "time",
            "passes · way / feed + handling",
            f"{shown(v['passes'])} · {v.num(way, 3)} / {v.feed(v['feed'])} + {shown(v['handling'])} s",
            f"{shown(seconds, 0)} s",
        ),
    )
    return Outcome((Output("time", "time", Quantity.TIME, seconds),), steps)


CUTTING_TIME = Calculation(
    "cutting-time",
    "Time of a side cut",
    GROUP,
    "All passes with approach and overrun, and the handling once.",
    (
        length("length", "Length of the cut", 2000),
        length("diameter", "Cutter", fills="cutter.diameter"),
        length("engaged", "Engaged sideways"),
        length("overrun", "Overrun", zero=True, default="2"),
        count("passes", "Passes", 1, 200, default="1"),
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
        Slip("the handling was forgotten", lambda v: v.but(handling=Fraction(0))),
        Slip(
            "the handling was counted with every pass",
            lambda v: v.but(handling=v["handling"] * v["passes"]),
        ),
    ),
    lambda v, _: _draw_side(v, v["engaged"]),
)


def _face(v: Values) -> Outcome:
    d, w = v["diameter"], v["width"]
    if w > d:
        raise Refused.of("width", v.num(w), f"must be at most the cutter's swing, {v.len(d)}: face it in two passes")
    speed = turns(v["surface"], d)
    enter = d / 2 - root(d * d / 4 - w * w / 4)
    full = v["length"] + enter
    clean = v["length"] + d
    way = clean if v.choice("exit") == "clean" else full
    feed = speed * v["teeth"] * v["chip"]
    seconds = way / feed * 60
    formula = "length + D" if v.choice("exit") == "clean" else "length + R − √(R² − (w/2)²)"
    steps = (
        turn_steps(v, v["surface"], d)[0],
        Step(
            "table feed",
            "n · z · fz",
            f"{shown(speed, 1)} · {shown(v['teeth'])} · {v.num(v['chip'])}",
            v.feed(feed),
        ),
        Step("way", formula, f"length {v.num(v['length'])}, D {v.num(d)}, w {v.num(w)}", v.len(way, 3)),
        Step("time of one pass", "way / feed", f"{v.num(way, 3)} / {v.feed(feed)}", f"{shown(seconds, 0)} s"),
    )
    said = (
        "The speed goes by the swing, over the tips. A fly cutter has one tooth and knocks: start clear of the work.",
        "It swings wider than it looks: look round the whole circle, and have every screw tight.",
    )
    results = (
        Output("time", "time of one pass", Quantity.TIME, seconds),
        Output("speed", "reckoned speed", Quantity.TURNS, speed),
        Output("feed", "table feed at that speed", Quantity.FEED, feed),
        Output("enter", "way to full engagement", Quantity.LENGTH, enter),
    )
    return Outcome(results, steps, said)


def _draw_face(v: Values, o: Outcome) -> Picture:
    d, w = v["diameter"], v["width"]
    along = d * 2
    enter = o.results[3].value
    shapes = (
        p.box(Ink.WORK, enter - d / 2, -w / 2, along, w / 2),
        p.box(Ink.CUT, enter - d / 2, -w / 2, 0, w / 2),
        *p.cutter((Fraction(0), Fraction(0)), d, int(v["teeth"])),
        p.arrow(Ink.ANSWER, (d * Fraction(3, 5), 0), (d * Fraction(6, 5), 0)),
        p.size((along, -w / 2), (along, w / 2), v.len(w)),
        p.size((-d / 2, d * Fraction(3, 5)), (d / 2, d * Fraction(3, 5)), v.len(d)),
    )
    return Picture(f"A facing cut {v.len(w)} wide, centred under a swing of {v.len(d)}, seen from above.", shapes)


FACING = Calculation(
    "facing",
    "Face mill and fly cutter",
    GROUP,
    "Speed by the swing, feed, and the time of a centred pass: to full engagement, or until it is clear behind.",
    (
        _surface(),
        length("diameter", "Swing over the tips", fills="cutter.diameter"),
        count("teeth", "Teeth", 1, 20, default="1", fills="cutter.teeth"),
        length("chip", "Feed per tooth", 2, fills="material.chip"),
        length("width", "Width of the work"),
        length("length", "Length of the work", 2000),
        choice("exit", "The pass ends", "clean", "full"),
    ),
    _face,
    (
        Slip("the way over the end was forgotten", lambda v: v.but(exit="full")),
        Slip("only the length of the work was counted", answer=lambda v, o: v["length"] / o.results[2].value * 60),
        Slip("the radius was taken for the diameter", lambda v: v.but(surface=v["surface"] * 2)),
        Slip("the teeth were forgotten", lambda v: v.but(teeth=Fraction(1))),
    ),
    _draw_face,
)


def _power(v: Values) -> Outcome:
    removed = v["engaged"] * v["deep"] * v["feed"] / 1000
    need = removed * v["unit_power"]
    at_motor = need / (v["efficiency"] / 100)
    inch = v.unit is Unit.INCH
    cubic = shown(removed / UNITS[Quantity.REMOVAL]["in³/min"], 2) + " in³" if inch else shown(removed, 2) + " cm³"
    steps = (
        Step(
            "rate of removal",
            "ae · ap · feed",
            f"{v.num(v['engaged'])} · {v.num(v['deep'])} · {v.feed(v['feed'])}",
            f"{cubic}/min",
        ),
        Step("at the cutter", "rate · unit power", f"{cubic}/min · unit power", f"{shown(need, 0)} W"),
        Step(
            "at the motor",
            "power / efficiency",
            f"{shown(need, 0)} / {shown(v['efficiency'])} %",
            f"{shown(at_motor, 0)} W",
        ),
    )
    said = []
    if v.given("motor"):
        share = at_motor / v["motor"] * 100
        said.append(
            f"{shown(share, 0)} % of the motor."
            + (" Too much: less depth, less feed." if share > 100 else " Near its end: listen." if share > 80 else "")
        )
    results = (
        Output("motor", "power at the motor", Quantity.POWER, at_motor),
        Output("removed", "rate of removal", Quantity.REMOVAL, removed),
    )
    return Outcome(results, steps, tuple(said))


def _draw_power(v: Values, o: Outcome) -> Picture:
    need = float(o.answer.value)
    motor = float(v["motor"]) if v.given("motor") else need * 1.5
    most = max(need, motor)
    shapes = [
        p.box(Ink.WORK, 0, 0, 100 * motor / most, 9),
        p.box(Ink.CUTTER, 0, 2, 100 * need / most, 7),
        p.text(
            (50.0, 13.0),
            f"{shown(o.answer.value, 0)} W" + (f" of {shown(v['motor'], 0)} W" if v.given("motor") else ""),
        ),
    ]
    return Picture(f"The cut takes {shown(o.answer.value, 0)} W of the motor.", tuple(shapes))


POWER = Calculation(
    "power",
    "Power of a cut",
    GROUP,
    "Rate of removal times the material's unit power, against the motor. It warns, it forbids nothing.",
    (
        length("engaged", "Engaged sideways"),
        length("deep", "Depth of cut", 200),
        Input("feed", "Table feed", Quantity.FEED, Fraction(0), Fraction(10_000)),
        Input(
            "unit_power",
            "Unit power of the material",
            Quantity.UNIT_POWER,
            Fraction(0),
            Fraction(1000),
            fills="material.power",
        ),
        Input("efficiency", "Efficiency", Quantity.PERCENT, Fraction(20), Fraction(100), with_low=True, default="80"),
        Input("motor", "Motor", Quantity.POWER, Fraction(0), Fraction(50_000), optional=True, fills="machine.watts"),
    ),
    _power,
    (
        Slip("the efficiency was forgotten", lambda v: v.but(efficiency=Fraction(100))),
        Slip(
            "the efficiency was multiplied, not divided",
            answer=lambda v, o: o.answer.value * (v["efficiency"] / 100) ** 2,
        ),
        Slip("the width was forgotten", lambda v: v.but(engaged=Fraction(1) * v.unit.in_mm)),
    ),
    _draw_power,
)
