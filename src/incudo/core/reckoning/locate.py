"""Dials, edges, centres, tilt: the rules of ``core.finding`` and ``core.setup`` as calculations of their own."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.working import Step
from incudo.core.locating import centre
from incudo.core.locating.dial import Dial, Turning, leg, series
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
    shown,
)
from incudo.core.reckoning.picture import Ink, Picture
from incudo.core.setup import tram

GROUP = "dials and finding"
_TURN = length("per_turn", "Travel of one turn", 25, default="5", fills="machine.turn")
_GRADUATIONS = count("graduations", "Divisions of the dial", 10, 1000, default="250", fills="machine.graduations")
_BACKLASH = length("backlash", "Lost motion", 25, zero=True, default="0", fills="machine.backlash")
_TIP = length("tip", "Finder's tip, a diameter", 50, default="5", fills="cutter.tip")


def _dial(v: Values) -> Dial:
    lost = v["backlash"] if "backlash" in v.of else Fraction(0)
    if lost > v["per_turn"]:
        raise Refused.of("backlash", v.num(lost), f"must be at most one turn, {v.len(v['per_turn'])}")
    clockwise = Turning.CLOCKWISE
    return Dial(v["per_turn"], int(v["graduations"]), lost, clockwise, clockwise, v.unit)


def _dial_picture(dial: Dial, reading: Fraction, words: str) -> Picture:
    """The whole dial with its reading at the top mark."""
    shapes = [p.disc(Ink.WORK, (0.0, 0.0), 50)]
    major = dial.graduations // 10 or 1
    for i in range(0, dial.graduations, max(1, dial.graduations // 50)):
        angle = 90 - 360 * float(i * dial.division / dial.turn) + 360 * float(reading / dial.turn)
        outer, inner = (
            p.arc((0.0, 0.0), 49, angle, angle, 1)[0],
            p.arc((0.0, 0.0), 41 if i % major == 0 else 45, angle, angle, 1)[0],
        )
        shapes.append(p.line(Ink.SCRIBE, outer, inner))
        if i % major == 0:
            value = shown(i * dial.division / dial.unit.in_mm, 3)
            shapes.append(p.text(p.arc((0.0, 0.0), 33, angle, angle, 1)[0], value))
    shapes.append(p.area(Ink.ANSWER, (0.0, 50.0), (-3.0, 58.0), (3.0, 58.0)))
    shapes.append(p.text((0.0, 64.0), words, Ink.ANSWER))
    return Picture(f"The dial at arrival: {words}.", tuple(shapes))


def _move(v: Values) -> Outcome:
    dial = _dial(v)
    by = v["by"]
    if not by:
        raise Refused.of("by", "0", "must not be 0")
    back = v.choice("last") == "the other way"
    start = v["start"] % dial.turn
    found = leg(dial, 1 if by > 0 else -1, abs(by), start, reversing=back)
    travel, turns, divisions = found.travel, found.turns, found.divisions
    rest = divisions * dial.division
    # the dial counts what the handle turns, lost motion included
    reading = (start + (travel if by > 0 else -travel)) % dial.turn
    half = round(divisions * 2) / Fraction(2)
    steps = (
        *(
            (
                Step(
                    "travel of the screw",
                    "move + lost motion",
                    f"{v.num(abs(by))} + {v.num(dial.backlash)}",
                    v.len(travel),
                ),
            )
            if back
            else ()
        ),
        Step(
            "whole turns",
            "travel / travel of a turn, rounded down",
            f"{v.num(travel)} / {v.num(dial.turn)}",
            str(int(turns)),
        ),
        Step(
            "divisions",
            "rest / travel of a division",
            f"{v.num(rest)} / {v.num(dial.division)}",
            f"{shown(divisions, 3)}, set as {shown(half, 1)}",
        ),
        Step(
            "dial at arrival",
            "reading ± rest, within one turn",
            f"{v.num(start)} {'+' if by > 0 else '−'} {v.num(rest)}",
            v.len(reading),
        ),
    )
    results = (
        Output("reading", "dial at arrival", Quantity.LENGTH, reading),
        Output("turns", "whole turns", Quantity.COUNT, Fraction(turns)),
        Output("divisions", "and divisions", Quantity.COUNT, half),
    )
    said = ["Stroke the turns, not only the dial: a whole turn lost is a classic error."]
    if back:
        said.append("Turning back, the lost motion is turned away first; end every move in the same direction.")
    return Outcome(results, steps, tuple(said))


DIAL_MOVE = Calculation(
    "dial-move",
    "Move by a dial",
    GROUP,
    "Whole turns, divisions and the dial's reading at arrival, with the lost motion where the handle turns back.",
    (
        length("by", "Move (minus: numbers fall)", 2000, low=-2000),
        _TURN,
        _GRADUATIONS,
        length("start", "Dial reads now", 25, zero=True, default="0"),
        _BACKLASH,
        choice("last", "The last turning was", "the same way", "the other way"),
    ),
    _move,
    (
        Slip(
            "the lost motion was forgotten",
            lambda v: v.but(last="the same way"),
        ),
        Slip(
            "the lost motion was taken the wrong way",
            lambda v: (
                v.but(by=v["by"] - (2 if v["by"] > 0 else -2) * v["backlash"])
                if v.choice("last") != "the same way"
                else v
            ),
        ),
        Slip("the lost motion was added though nothing turned back", lambda v: v.but(last="the other way")),
        Slip("the dial was turned the wrong way", lambda v: v.but(by=-v["by"])),
        Slip("the dial was taken to start from 0", lambda v: v.but(start=Fraction(0))),
    ),
    lambda v, o: _dial_picture(_dial(v), o.answer.value, v.len(o.answer.value)),
)


def _series(v: Values) -> Outcome:
    dial, side = _dial(v), 1 if v.choice("side") == "from below" else -1
    places = v.list("places")
    found = series(dial, v["zero"], places, side=side, last=side, zero=v["zero"])
    results, steps = [], []
    for i, (place, legs) in enumerate(found, 1):
        last = legs[-1] if legs else None
        reading = dial.reading(place, v["zero"])
        results.append(Output(f"at{i}", f"{i}. {v.len(place)}: dial", Quantity.LENGTH, reading))
        turns = f"{last.turns} turns and {shown(last.divisions, 1)} divisions" if last else "no move"
        steps.append(
            Step(
                f"to {v.len(place)}",
                "(place − zero) within one turn",
                f"{v.num(place)} − {v.num(v['zero'])}",
                f"{v.len(reading)}; {turns}",
            )
        )
    said = ("Sorted so that each is come to from the same side, and reckoned from the zero: nothing adds up.",)
    return Outcome(tuple(results), tuple(steps), said)


def _draw_series(v: Values, o: Outcome) -> Picture:
    places = sorted((*v.list("places"), v["zero"]))
    low, wide = places[0], max(places[-1] - places[0], Fraction(1))
    shapes = [p.line(Ink.SCRIBE, (0, 0), (100, 0))]
    for i, x in enumerate(sorted(set(v.list("places")))):
        at = 100 * float((x - low) / wide)
        shapes += [p.line(Ink.ANSWER, (at, -3), (at, 3)), p.text((at, 7 if i % 2 else 12), v.num(x), Ink.ANSWER)]
    zero = 100 * float((v["zero"] - low) / wide)
    shapes += [p.line(Ink.CUTTER, (zero, -6), (zero, 6)), p.text((zero, -10), "zero")]
    right = v.choice("side") == "from below"
    shapes.append(p.arrow(Ink.CUTTER, (20 if right else 80, -16), (80 if right else 20, -16)))
    return Picture("The places along the axis, and from which side each is come to.", tuple(shapes))


DIAL_SERIES = Calculation(
    "dial-series",
    "Series of moves by a dial",
    GROUP,
    "Several places in the order that comes to each from the same side, with the dial's reading at every one.",
    (
        Input("places", "Places", Quantity.LENGTHS, Fraction(-2000), Fraction(2000), with_low=True),
        length("zero", "The dial shows 0 at", 2000, low=-2000, default="0"),
        _TURN,
        _GRADUATIONS,
        _BACKLASH,
        choice("side", "Each is come to", "from below", "from above"),
    ),
    _series,
    (
        Slip("the order of the list was kept", answer=lambda v, _: _dial(v).reading(v.list("places")[0], v["zero"])),
        Slip("the place itself was taken for the reading", answer=lambda v, o: min(v.list("places"))),
    ),
    _draw_series,
)


def _edge(v: Values) -> Outcome:
    sign = 1 if v.choice("side") in ("left", "front") else -1
    found = centre.edge(v["touch"], v["tip"], sign)
    steps = (
        Step(
            "the edge",
            "contact + half the tip" if sign > 0 else "contact − half the tip",
            f"{v.num(v['touch'])} {'+' if sign > 0 else '−'} {v.num(v['tip'])} / 2",
            v.len(found),
        ),
    )
    said = ("Touch it twice at least; both must agree. Take the finder out before the speed is raised.",)
    return Outcome((Output("edge", "the edge stands at", Quantity.LENGTH, found),), steps, said)


def _draw_edge(v: Values, o: Outcome) -> Picture:
    tip, e, t = v["tip"], o.answer.value, v["touch"]
    far = tip * 4 * (1 if e > t else -1)
    shapes = (
        p.box(Ink.WORK, min(e, e + far), -tip * 2, max(e, e + far), tip * 2),
        p.disc(Ink.CUTTER, (t, 0), tip / 2),
        p.cross((t, 0), tip / 5),
        p.line(Ink.ANSWER, (e, -tip * 2), (e, tip * 5 / 2)),
        p.text((e, tip * 3), v.len(e), Ink.ANSWER),
        p.size((t, -tip), (e, -tip), v.len(tip / 2)),
    )
    return Picture(f"The tip touches at {v.len(t)}; the edge lies half a tip beyond, at {v.len(e)}.", shapes)


EDGE = Calculation(
    "edge",
    "Edge by a touch",
    GROUP,
    "The edge lies half a tip beyond the contact, to the side to which the finder went.",
    (
        length("touch", "Contact, coordinate of the spindle", 2000, low=-2000),
        _TIP,
        choice("side", "The finder stands on this side of the work", "left", "right", "front", "rear"),
    ),
    _edge,
    (
        Slip("half the tip was forgotten", answer=lambda v, _: v["touch"]),
        Slip("half the tip was taken to the wrong side", answer=lambda v, o: 2 * v["touch"] - o.answer.value),
        Slip("the whole tip was taken", lambda v: v.but(tip=v["tip"] * 2)),
    ),
    _draw_edge,
)


def _middle(v: Values) -> Outcome:
    low, high, tip = v["low"], v["high"], v["tip"]
    if high <= low:
        raise Refused.of("high", v.num(high), f"must be more than the low contact, {v.num(low)}")
    inside = v.choice("of") == "slot"
    lost = v["backlash"] if v.choice("by") == "dial" else Fraction(0)
    span = high - low + (-lost if inside else lost)
    # without lost motion it is what a readout gives
    by_dial = centre.slot_by_dial if inside else centre.block_by_dial
    width = by_dial(low, high, tip, lost, Fraction(0)).width
    if width <= 0:
        raise Refused.of("high", v.num(high), "must lie further from the low contact than the tip's diameter")
    middle = by_dial(low, high, tip, lost, width).at
    sign = "−" if inside else "+"
    steps = []
    if lost:
        steps.append(
            Step("true span", f"dial span {sign} lost motion", f"{v.num(high - low)} {sign} {v.num(lost)}", v.len(span))
        )
    steps.append(
        Step(
            "width",
            "span + tip" if inside else "span − tip",
            f"{v.num(span)} {'+' if inside else '−'} {v.num(tip)}",
            v.len(width),
        )
    )
    if lost:
        one = "high contact + tip/2 − width/2" if inside else "low contact + tip/2 + width/2"
        steps.append(
            Step(
                "the middle, from one contact",
                one,
                f"{v.num(high if inside else low)}, {v.num(tip)}, {v.num(width)}",
                v.len(middle),
            )
        )
    else:
        steps.append(Step("the middle", "(low + high) / 2", f"({v.num(low)} + {v.num(high)}) / 2", v.len(middle)))
    said = ["Hold the width against what you measured: if it does not agree, one contact was bad."]
    if lost:
        said.append("The contacts face opposite ways: the mean of the dials would be out by half the lost motion.")
        said.append("It holds when the middle is come to with rising numbers.")
    results = (
        Output("middle", "the middle stands at", Quantity.LENGTH, middle),
        Output("width", "width by the contacts", Quantity.LENGTH, width),
    )
    return Outcome(results, tuple(steps), tuple(said))


def _draw_middle(v: Values, o: Outcome) -> Picture:
    middle, width = (r.value for r in o.results)
    tip = min(v["tip"], width)
    a, b = middle - width / 2, middle + width / 2
    inside = v.choice("of") == "slot"
    tall = width / 2
    r = tip / 2
    shapes = (
        [p.box(Ink.WORK, a - tall, -tall, b + tall, tall), p.box(Ink.CUT, a, -tall, b, tall)]
        if inside
        else [p.box(Ink.WORK, a, -tall, b, tall)]
    )
    shapes += [
        p.disc(Ink.CUTTER, (a + r if inside else a - r, 0), r),
        p.disc(Ink.CUTTER, (b - r if inside else b + r, 0), r),
        p.line(Ink.ANSWER, (middle, -tall * Fraction(5, 4)), (middle, tall * Fraction(5, 4))),
        p.text((middle, tall * Fraction(7, 5)), v.len(middle), Ink.ANSWER),
        p.size((a, -tall * Fraction(4, 5)), (b, -tall * Fraction(4, 5)), v.len(width)),
    ]
    return Picture(f"Both contacts, {v.len(width)} between the sides, the middle at {v.len(middle)}.", tuple(shapes))


MIDDLE = Calculation(
    "middle",
    "Middle of a block, bar or slot",
    GROUP,
    "From a contact on each side; by a readout, or by a dial whose lost motion lies between the two.",
    (
        length("low", "Contact on the low side", 2000, low=-2000),
        length("high", "Contact on the high side", 2000, low=-2000),
        _TIP,
        choice("of", "It is a", "block", "slot"),
        choice("by", "Read on the", "readout", "dial"),
        _BACKLASH,
    ),
    _middle,
    (
        Slip("the mean of both dials was taken", lambda v: v.but(by="readout")),
        Slip("half the span was taken from 0", answer=lambda v, _: (v["high"] - v["low"]) / 2),
        Slip("the lost motion was taken the wrong way", lambda v: v.but(backlash=-v["backlash"])),
        Slip("the tip was taken into one side only", answer=lambda v, o: o.answer.value + v["tip"] / 2),
    ),
    _draw_middle,
)


def _jaw(v: Values) -> Outcome:
    sign = -1 if v.choice("jaw") == "at the rear" else 1
    found = v["face"] + sign * v["diameter"] / 2
    put = f"{v.num(v['face'])} {'−' if sign < 0 else '+'} {v.num(v['diameter'])} / 2"
    step = Step("middle of the bar", "face of the fixed jaw ∓ D / 2", put, v.len(found))
    return Outcome((Output("middle", "middle of the bar", Quantity.LENGTH, found),), (step,))


def _draw_jaw(v: Values, o: Outcome) -> Picture:
    d, m, f = v["diameter"], o.answer.value, v["face"]
    out = d * (1 if f > m else -1)
    shapes = (
        p.box(Ink.CUT, -d * 2, min(f, f + out), d * 2, max(f, f + out)),
        p.disc(Ink.WORK, (0, m), d / 2),
        p.line(Ink.ANSWER, (-d * 2, m), (d * 2, m)),
        p.text((d * Fraction(3, 2), m + d / 8), v.len(m), Ink.ANSWER),
        p.size((-d, f), (-d, m), v.len(d / 2)),
    )
    return Picture(f"A bar against the fixed jaw, seen along it; its middle at {v.len(m)}.", shapes)


BAR = Calculation(
    "bar-at-jaw",
    "Middle of a bar at the fixed jaw",
    GROUP,
    "A round bar gripped against the fixed jaw: half a diameter from the jaw's face.",
    (
        length("face", "Face of the fixed jaw", 2000, low=-2000, default="0"),
        length("diameter", "Bar"),
        choice("jaw", "The fixed jaw stands", "at the rear", "in front"),
    ),
    _jaw,
    (
        Slip("the whole diameter was taken", lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip("it was taken to the wrong side", lambda v: v.but(diameter=-v["diameter"])),
    ),
    _draw_jaw,
)


def _bore(v: Values) -> Outcome:
    s = centre.Sweep(v["east"], v["north"], v["west"], v["south"], boss=v.choice("of") == "boss")
    x, y = s.moves
    sense = "the lower" if s.boss else "the higher"
    flip = 1 if s.boss else -1
    steps = (
        Step(
            "along X",
            f"half the difference; the spindle is off towards {sense}",
            f"{'' if flip > 0 else '−'}({v.num(s.east)} − {v.num(s.west)}) / 2",
            v.len(x),
        ),
        Step("along Y", "the same", f"{'' if flip > 0 else '−'}({v.num(s.north)} − {v.num(s.south)}) / 2", v.len(y)),
        Step(
            "out of round, on the last pass only",
            "(E + W) − (N + S)",
            f"{v.num(s.east + s.west)} − {v.num(s.north + s.south)}",
            v.len(s.out_of_round),
        ),
    )
    results = (
        Output("x", "cutter moves along X", Quantity.LENGTH, x),
        Output("y", "cutter moves along Y", Quantity.LENGTH, y),
        Output("spread", "the needle's whole swing", Quantity.LENGTH, s.spread),
    )
    said = ("The spindle is isolated, out of gear, and turned by hand.",)
    return Outcome(results, steps, said)


def _draw_bore(v: Values, o: Outcome) -> Picture:
    x, y = float(o.results[0].value), float(o.results[1].value)
    most = max(abs(x), abs(y), 1e-9)
    dx, dy = 18 * x / most, 18 * y / most
    boss = v.choice("of") == "boss"
    base = [p.disc(Ink.WORK, (0, 0), 40)] if boss else [p.box(Ink.WORK, -55, -52, 55, 52), p.disc(Ink.CUT, (0, 0), 40)]
    marks = [
        p.text(at, f"{n} {v.num(v[k])}")
        for n, k, at in (
            ("E", "east", (70, 0)),
            ("N", "north", (0, 58)),
            ("W", "west", (-70, 0)),
            ("S", "south", (0, -60)),
        )
    ]
    shapes = (*base, p.cross((0, 0), 5), p.cross((-dx, -dy), 4), p.arrow(Ink.ANSWER, (-dx, -dy), (0, 0)), *marks)
    return Picture(
        f"The spindle moves by {v.len(o.results[0].value)} and {v.len(o.results[1].value)}; not to scale.",
        shapes,
    )


BORE_CENTRE = Calculation(
    "bore-centre",
    "Centre of a bore or boss by an indicator",
    GROUP,
    "Four readings of the needle, a higher one where it is pushed in more: by how much the cutter has to move.",
    (
        *(
            length(n, f"Reading at the {w}", 50, low=-50)
            for n, w in (("east", "right"), ("north", "rear"), ("west", "left"), ("south", "front"))
        ),
        choice("of", "It is a", "bore", "boss"),
    ),
    _bore,
    (
        Slip("the half was forgotten", answer=lambda _, o: o.answer.value * 2),
        Slip("it was taken the wrong way", answer=lambda _, o: -o.answer.value),
    ),
    _draw_bore,
)


def _tilt(v: Values) -> Outcome:
    s = tram.Sweep(tram.HeadAxis.TILT, v["left"], v["right"], v["span"])
    lean = Fraction(tram.lean(s.angle, v["deep"]))
    hollow = Fraction(tram.hollow(s.angle, v["diameter"], v["width"]))
    step = Fraction(tram.step(s.angle, v["width"]))
    put = f"({v.num(v['right'])} − {v.num(v['left'])}) / {v.num(v['span'])}"
    steps = (
        Step("tilt", "atan((right − left) / span)", put, f"{shown(s.degrees, 4)}°"),
        Step(
            "hollow of a facing cut",
            "(R − √(R² − (w/2)²)) · sin(tilt)",
            f"D {v.num(v['diameter'])}, w {v.num(v['width'])}",
            v.len(hollow, 5),
        ),
        Step("step between passes", "stepover · tan(tilt)", f"{v.num(v['width'])} · tan", v.len(step, 5)),
        Step("lean of a hole or wall", "depth · tan(tilt)", f"{v.num(v['deep'])} · tan", v.len(lean, 5)),
    )
    results = (
        Output("hollow", "hollow along the feed", Quantity.LENGTH, hollow),
        Output("step", "step across the feed", Quantity.LENGTH, step),
        Output("lean", "lean of a hole by the quill, of a wall", Quantity.LENGTH, lean),
        Output("tilt", "tilt", Quantity.ANGLE, Fraction(s.degrees)),
    )
    way = "The head is square." if not s.rise else f"The top of the head leans {'right' if s.rise > 0 else 'left'}."
    return Outcome(results, steps, (way,))


def _draw_tilt(v: Values, o: Outcome) -> Picture:
    lean = float(o.results[3].value)
    # drawn much more than it is
    seen = max(-8.0, min(8.0, lean * 60))
    a, b = p.arc((0, 0), 60, 180 - seen, 180 - seen, 1)[0], p.arc((0, 0), 60, -seen, -seen, 1)[0]
    top = p.arc((0, 0), 70, 90 - seen, 90 - seen, 1)[0]
    shapes = (
        p.box(Ink.WORK, -75, -20, 75, -10),
        p.line(Ink.CUTTER, a, b),
        p.line(Ink.CUTTER, (0, 0), top),
        p.line(Ink.SCRIBE, (0, -10), (0, 75), dashed=True),
        p.text((-60, 18), f"left {v.num(v['left'])}"),
        p.text((60, 18), f"right {v.num(v['right'])}"),
        p.text((30, 66), f"{shown(abs(o.results[3].value), 4)}°", Ink.ANSWER),
    )
    return Picture(f"The head from the front, its tilt of {shown(lean, 4)}° drawn much larger than it is.", shapes)


HEAD_TILT = Calculation(
    "head-tilt",
    "What a tilted head does to the part",
    GROUP,
    "Two readings of an indicator half a turn apart: the tilt, and the hollow, steps and lean it leaves.",
    (
        length("left", "Reading at the left", 50, low=-50),
        length("right", "Reading at the right", 50, low=-50),
        length("span", "Between the two stations", 1000, low=10),
        length("diameter", "Cutter", 300, fills="cutter.diameter"),
        length("width", "Width of the cut", 300),
        length("deep", "Depth of a hole or wall", 300),
    ),
    _tilt,
    (
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip("the lean was taken for the hollow", answer=lambda _, o: o.results[2].value),
        Slip("the step was taken for the hollow", answer=lambda _, o: o.results[1].value),
    ),
    _draw_tilt,
)


def _taper(v: Values) -> Outcome:
    over = v["high"] - v["low"]
    found = over * v["part"] / v["travel"]
    put = f"({v.num(v['high'])} − {v.num(v['low'])}) · {v.num(v['part'])} / {v.num(v['travel'])}"
    step = Step("taper over the part", "(right − left) · length of the part / travel", put, v.len(found, 5))
    angle = Fraction(tram.Sweep(tram.HeadAxis.TILT, v["low"], v["high"], v["travel"]).degrees)
    results = (
        Output("taper", "taper over the part", Quantity.LENGTH, found),
        Output("angle", "angle", Quantity.ANGLE, angle),
    )
    return Outcome(results, (step,))


def _draw_taper(v: Values, o: Outcome) -> Picture:
    rise = 6 if o.answer.value > 0 else -6 if o.answer.value < 0 else 0
    shapes = (
        p.area(Ink.CUT, (-60, 20 - rise), (60, 20 + rise), (60, 40), (-60, 40)),
        p.area(Ink.WORK, (-35, 20 - rise * 35 / 60), (35, 20 + rise * 35 / 60), (35, -10), (-35, -10)),
        p.line(Ink.SCRIBE, (-70, 20), (70, 20), dashed=True),
        p.text((0, -18), f"{v.len(o.answer.value, 5)} over {v.len(v['part'])}", Ink.ANSWER),
    )
    return Picture("The fixed jaw out of line, seen from above and drawn larger than it is.", shapes)


VISE_TAPER = Calculation(
    "vise-taper",
    "What a vise out of line does to the part",
    GROUP,
    "Two readings along the fixed jaw: the taper that it leaves over the part's length.",
    (
        length("low", "Reading at the left", 50, low=-50),
        length("high", "Reading at the right", 50, low=-50),
        length("travel", "Travel between the two", 1000, low=5),
        length("part", "Length of the part", 1000),
    ),
    _taper,
    (
        Slip("the whole difference was taken", answer=lambda v, _: v["high"] - v["low"]),
        Slip("the lengths were swapped", answer=lambda v, _: (v["high"] - v["low"]) * v["travel"] / v["part"]),
    ),
    _draw_taper,
)


def _convert(v: Values) -> Outcome:
    division = v["per_turn"] / v["graduations"]
    half = division / 2
    set_to = round(v["size"] / half) * half
    off = set_to - v["size"]
    other = v.unit.other
    both = f"{shown(v['size'] / other.in_mm, 6)} {other.value}"
    steps = (
        Step("in the other unit, exactly", "1 in = 25.4 mm", v.len(v["size"], 6), both),
        Step(
            "one division of the dial",
            "travel of a turn / divisions",
            f"{v.num(v['per_turn'])} / {shown(v['graduations'])}",
            v.len(division, 6),
        ),
        Step(
            "as it can be set",
            "rounded to half a division",
            f"{v.num(v['size'], 6)} by {v.num(half, 6)}",
            v.len(set_to, 6),
        ),
    )
    results = (
        Output("size", "the length", Quantity.LENGTH, v["size"]),
        Output("set", "as it can be set", Quantity.LENGTH, set_to),
        Output("off", "what the rounding costs", Quantity.LENGTH, off),
    )
    return Outcome(results, steps, ("Round each target, never each step: rounded steps add up.",))


CONVERT = Calculation(
    "convert",
    "Inches and millimetres on a dial",
    GROUP,
    "A length in both units, and what it costs to set it on a dial of one of them.",
    (length("size", "Length", 10_000, low=-10_000), _TURN, _GRADUATIONS),
    _convert,
    (
        Slip("it was multiplied by 25.4 where it is divided", lambda v: v.but(size=v["size"] / MM_PER_INCH)),
        Slip("it was divided by 25.4 where it is multiplied", lambda v: v.but(size=v["size"] * MM_PER_INCH)),
        Slip("25 was taken for 25.4", lambda v: v.but(size=v["size"] * 25 / MM_PER_INCH)),
    ),
    lambda v, o: _dial_picture(
        Dial(v["per_turn"], int(v["graduations"]), Fraction(0), Turning.CLOCKWISE, Turning.CLOCKWISE, v.unit),
        o.results[1].value % v["per_turn"],
        v.len(o.results[1].value),
    ),
)
