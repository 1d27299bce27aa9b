"""What touches tell: a datum, or why there is none yet and what to do. Sources: docs/signs.md. Lengths in mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.working import Step
from incudo.core.locating.centre import (
    Centre,
    Sweep,
    agree,
    agreement,
    bar_clear,
    block,
    block_by_dial,
    edge,
    flat_is_circle,
    slot,
    slot_by_dial,
)
from incudo.core.locating.datum import Datum, Scale, counted, shown, touched, way_words
from incudo.core.locating.dial import Dial
from incudo.core.locating.finders import COMES, FACE_WORDS, Face, Finder, FinderKind
from incudo.core.shop.machine import Axis

#: How far distances that are measured by hand around a spot may be out together, in mm.
BY_HAND = Fraction(1, 5)


@dataclass(frozen=True)
class Reader:
    """How an axis is read: its dial, and whether a readout is used instead. ``division`` is the least step (mm)."""

    axis: Axis
    dial: Dial
    scale: Scale
    division: Fraction
    unit: Unit

    def words(self, mm: Fraction) -> str:
        return f"{shown(mm, self.unit)} {self.unit}"

    def places(self, touches: Sequence[Fraction]) -> tuple[Fraction, ...]:
        """Readings of one place as coordinates."""
        if self.scale is Scale.READOUT:
            return tuple(touches)
        for t in touches:
            counted(self.dial, t)
        return touched(self.dial, touches)

    @property
    def sign(self) -> int:
        """1 where what is read rises with the coordinate; a working is written in the numbers that are read."""
        return 1 if self.scale is Scale.READOUT else self.dial.sign

    def shows(self, coordinate: Fraction) -> Fraction:
        """What is read at a coordinate."""
        return coordinate if self.scale is Scale.READOUT else self.dial.reading(coordinate)


@dataclass(frozen=True)
class Found:
    """What comes of touches: datums when they hold; ``next`` in words; ``wrong`` says why they do not."""

    datums: tuple[Datum, ...] = ()
    next: tuple[str, ...] = ()
    wrong: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    steps: tuple[Step, ...] = ()
    off: dict[Axis, Fraction] = field(default_factory=dict)

    @property
    def good(self) -> bool:
        return bool(self.datums) and not self.wrong


def _span(places: Sequence[Fraction]) -> Fraction:
    return max(places) - min(places)


def find_edge(
    r: Reader, face: Face, finder: Finder, touches: Sequence[Fraction], part: Fraction, paper: Fraction = Fraction(0)
) -> Found:
    """An edge from touches that are come to in one sense; half a tip lies between contact and edge.

    With a pin the paper's thickness lies between both as well.
    """
    axis, towards = COMES[face]
    if axis is not r.axis:
        raise Refused.of("face", face, f"must be read on the {axis} axis")
    reach = finder.tip.mm + 2 * (paper if finder.kind is FinderKind.PIN else 0)
    half = r.words(reach / 2)
    sign = "+" if towards * r.sign > 0 else "−"
    come = f"Come to {FACE_WORDS[face]} turning {r.dial.turning(towards)}: {way_words(axis, towards)}."
    if not touches:
        return Found(next=(come, "Creep the last bit by single divisions. Enter what is shown at the touch."))
    places = r.places(touches)
    if len(touches) == 1:
        return Found(next=("One touch checks nothing. Back off a whole turn and come again, in the same sense.", come))
    mean = agree(places, r.division)
    if mean is None:
        return Found(
            next=("Back off a whole turn, come again in the same sense, and enter both anew.", come),
            wrong=_apart(r, places),
        )
    over = edge(mean, reach, towards)
    shows = r.shows(over)
    step = Step(
        "over the edge",
        f"touch {sign} half the tip{' and the paper' if paper and finder.kind is FinderKind.PIN else ''}",
        f"{shown(r.sign * mean, r.unit)} {sign} {shown(reach / 2, r.unit)}",
        r.words(shows) if r.sign * over == shows else f"{r.words(r.sign * over)}: the dial shows {r.words(shows)}",
    )
    where = "the readout" if r.scale is Scale.READOUT else "the dial"
    done = (
        "Raise the finder clear of the work before you move on.",
        f"Half the tip is {half}. Turn {r.dial.turning(towards)} by it: "
        f"then the spindle stands over the edge and {where} shows {r.words(shows)}.",
        "Take the finder out before the speed is raised.",
    )
    notes = (f"The touches agree within {r.words(_span(places))}; allowed {r.words(agreement(r.division))}.",)
    return Found((Datum(axis, r.scale, part, shows, towards),), done, (), notes, (_mean_step(r, places, mean), step))


def _mean_step(r: Reader, places: Sequence[Fraction], mean: Fraction) -> Step:
    put = " + ".join(shown(r.sign * p, r.unit) for p in places)
    return Step("the touch", "mean of the touches", f"({put}) / {len(places)}", r.words(r.sign * mean))


def _apart(r: Reader, places: Sequence[Fraction]) -> tuple[str, ...]:
    """Touches that disagree, and the tell-tale of backlash."""
    span, lost = _span(places), r.dial.backlash
    allowed = r.words(agreement(r.division))
    found = [
        f"The touches differ by {r.words(span)}; allowed {allowed}. "
        "A burr, dirt, the speed, or a touch that was overrun."
    ]
    if r.scale is Scale.DIAL and lost > agreement(r.division) and abs(span - lost) <= 2 * agreement(r.division):
        found.append(
            f"That is just this axis' backlash, {r.words(lost)}: "
            "one touch was come to from the other side, with the slack not taken up."
        )
    return tuple(found)


@dataclass(frozen=True)
class Between:
    """Both sides of a block, bar or slot, as read; with ``turns`` whole turns counted between both on a dial."""

    low: Fraction
    high: Fraction
    turns: int = 0
    inside: bool = False


def _contacts(r: Reader, b: Between) -> tuple[Fraction, Fraction]:
    """Both contacts as coordinates."""
    if r.scale is Scale.READOUT:
        return b.low, b.high
    low, high = counted(r.dial, b.low), counted(r.dial, b.high)
    return low, low + b.turns * r.dial.turn + (high - low) % r.dial.turn


def find_middle(r: Reader, b: Between, finder: Finder, width: Fraction, unsure: Fraction, part: Fraction) -> Found:
    """The middle between two sides, with the measured width as the check that finds a bad touch."""
    low, high = _contacts(r, b)
    tip, lost = finder.tip.mm, r.dial.backlash
    if r.scale is Scale.READOUT:
        c = (slot if b.inside else block)(low, high, tip, width)
        taken = Step("middle", "(low + high) / 2", f"({shown(low, r.unit)} + {shown(high, r.unit)}) / 2", r.words(c.at))
    else:
        c = (slot_by_dial if b.inside else block_by_dial)(low, high, tip, lost, width)
        first, sign = ("high", "−") if b.inside else ("low", "+")
        taken = Step(
            "middle, from one contact in one sense",
            f"{first} + tip/2 {sign} width/2",
            f"{shown(high if b.inside else low, r.unit)} + {shown(tip / 2, r.unit)} {sign} {shown(width / 2, r.unit)}",
            r.words(c.at),
        )
    check = _width_step(r, b, low, high, tip, c)
    if c.bad(r.division, unsure):
        out = c.out_by or Fraction(0)
        wrong = [f"The touches give a width of {r.words(c.width)}, measured is {r.words(width)}: one of them was bad."]
        if r.scale is Scale.DIAL and lost and abs(abs(out) - lost) <= agreement(r.division) + unsure:
            wrong.append(f"It is out by just the backlash, {r.words(lost)}: a contact was come to from the wrong side.")
        if r.scale is Scale.DIAL and abs(abs(out) - r.dial.turn) <= agreement(r.division) + unsure:
            wrong.append("It is out by just one turn of the dial: a whole turn was miscounted.")
        return Found(next=("Touch both sides again, each from its own outside.",), wrong=tuple(wrong), steps=(check,))
    side = 1
    shows = r.shows(c.at)
    notes = [f"Width by the touches {r.words(c.width)}, measured {r.words(width)}: they agree."]
    if r.scale is Scale.DIAL and lost:
        notes.append(
            f"The mean of both dial readings would be {r.words(lost / 2)} out, half the backlash: it is not used."
        )
    done = (
        f"Clear of the work go beyond, then come turning {r.dial.turning(side)} until "
        f"{'the readout' if r.scale is Scale.READOUT else 'the dial'} shows {r.words(shows)}: that is the middle.",
    )
    if r.sign < 0:
        notes.append("The working counts to the right or back; this dial's numbers fall that way, hence the minus.")
    return Found((Datum(r.axis, r.scale, part, shows, side),), done, (), tuple(notes), (check, taken))


def _width_step(r: Reader, b: Between, low: Fraction, high: Fraction, tip: Fraction, c: Centre) -> Step:
    u, lost = r.unit, r.dial.backlash
    dial = r.scale is Scale.DIAL
    if b.inside:
        formula = "high − low − backlash + tip" if dial else "high − low + tip"
        put = f"{shown(high, u)} − {shown(low, u)}{f' − {shown(lost, u)}' if dial else ''} + {shown(tip, u)}"
    else:
        formula = "high − low + backlash − tip" if dial else "high − low − tip"
        put = f"{shown(high, u)} − {shown(low, u)}{f' + {shown(lost, u)}' if dial else ''} − {shown(tip, u)}"
    return Step("width by the touches", formula, put, r.words(c.width))


def clearance_words(bar: Fraction, finder: Finder, above: Fraction, unit: Unit) -> tuple[bool, str]:
    """Whether the tip reaches a bar's widest line before the body touches the bar; ``above`` as in ``bar_clear``."""
    said = f"{shown(above, unit)} {unit}"
    if above >= finder.reach.mm:
        tip = f"The tip is only {shown(finder.reach.mm, unit)} {unit} long"
        return False, f"{tip}: with the body {said} above, it does not reach the widest line."
    if bar_clear(bar, finder.tip.mm, finder.body.mm, above):
        return True, f"With the body {said} above the widest line the tip touches first."
    words = f"With the body {said} above the widest line the body meets the bar before the tip does"
    return False, f"{words}: raise it, or take a finder with a longer tip."


def find_by_flat(
    r: Reader,
    here: Fraction,
    bar: Fraction,
    mill: Fraction,
    depth: Fraction,
    near: Fraction,
    far: Fraction,
    part: Fraction,
) -> Found:
    """The middle of a bar by a spot: measured from the spot to the lower flank (``near``) and the higher (``far``)."""
    if near < 0 or far < 0:
        raise Refused.of("near", shown(min(near, far), r.unit), "must be at least 0")
    off = (far - near) / 2
    if not flat_is_circle(bar, mill, depth, off):
        words = "That deep the spot runs out on a flank and is no full circle: it tells nothing."
        return Found(wrong=(words,), next=("Sink a little deeper, never beyond the middle, and measure again.",))
    if abs(near + far + mill - bar) > agreement(r.division) + BY_HAND:
        words = f"Both distances and the mill make {r.words(near + far + mill)}, the bar is {r.words(bar)}"
        return Found(wrong=(f"{words}: measure again, across the middle.",))
    (here,) = r.places((here,))
    at = here + off
    shows = r.shows(at)
    larger = way_words(r.axis, 1 if off > 0 else -1)
    step = Step(
        "off the middle", "(far − near) / 2", f"({shown(far, r.unit)} − {shown(near, r.unit)}) / 2", r.words(off)
    )
    move = f"Move {r.words(abs(off))} towards the larger side: {larger}." if off else "It stands in the middle."
    share = float(abs(off) / bar * 100)
    notes = (
        f"The spot is {r.words(abs(off))} off, {share:.1f} % of the diameter. "
        "The smaller the bar, the worse: on a thin one use both flanks.",
    )
    return Found(
        (Datum(r.axis, r.scale, part, shows, 1),),
        (move, f"There it shows {r.words(shows)}."),
        (),
        notes,
        (step,),
        {r.axis: off},
    )


def find_round(
    x: Reader,
    y: Reader,
    sweep: Sweep,
    here: tuple[Fraction, Fraction],
    part: tuple[Fraction, Fraction],
    allowed: Fraction,
    radius: Fraction,
) -> Found:
    """The centre of a bore or boss by an indicator in the spindle: four readings, then how far each axis has to go."""
    ox, oy = sweep.off
    ex, ey = sweep.moves
    sx, sy = (("W", sweep.west, "E", sweep.east), ("S", sweep.south, "N", sweep.north))
    if not sweep.boss:
        sx, sy = (*sx[2:], *sx[:2]), (*sy[2:], *sy[:2])
    steps = tuple(
        Step(
            f"spindle off along {r.axis.upper()}",
            f"({first} − {second}) / 2",
            f"({shown(a, r.unit)} − {shown(b, r.unit)}) / 2",
            r.words(off),
        )
        for r, (first, a, second, b), off in ((x, sx, ox), (y, sy, oy))
    )
    off = {Axis.X: ox, Axis.Y: oy}
    sense = (
        "On a boss it stands off towards the lower reading."
        if sweep.boss
        else "In a bore it stands off towards the higher reading."
    )
    if max(abs(ox), abs(oy)) > radius:
        raise Refused.of(
            "readings",
            shown(max(abs(ox), abs(oy)), x.unit),
            "are off by more than the radius: centre roughly with a pin first",
        )
    (at_x,), (at_y,) = x.places((here[0],)), y.places((here[1],))
    if max(abs(ox), abs(oy)) > allowed:
        moves = tuple(
            f"{r.axis.upper()}: {r.words(abs(e))}, {way_words(r.axis, 1 if e > 0 else -1)}; "
            f"turn {r.dial.turning(1 if e > 0 else -1)}, to {r.words(r.shows(at + e))}{_past(r, e)}."
            for r, e, at in ((x, ex, at_x), (y, ey, at_y))
            if abs(e) > allowed / 2
        )
        return Found(next=(sense, *moves, "Then read all four again."), steps=steps, off=off)
    datums = (
        Datum(Axis.X, x.scale, part[0], here[0], 1),
        Datum(Axis.Y, y.scale, part[1], here[1], 1),
    )
    oor = sweep.out_of_round
    notes = [f"(E + W) − (N + S) = {x.words(oor)}."]
    if abs(oor) > allowed * 2:
        notes.append(
            "It is out of round: what is centred is the mean of it. An oval at 45° or three lobes do not show here."
        )
    else:
        notes.append(
            "Nothing out of round shows; an oval at 45° or three lobes would not. For tilt compare two depths."
        )
    return Found(datums, ("The spindle stands over the centre.",), (), tuple(notes), steps, off)


def _past(r: Reader, by: Fraction) -> str:
    if r.scale is Scale.READOUT or by > 0:
        return ""
    return f"; go a whole turn past and come back {r.dial.turning(1)}"


def find_depth(r: Reader, reading: Fraction, thickness: Fraction, part: Fraction, how: str) -> Found:
    """The surface from a touch over paper or a gauge of a thickness; chips have none. ``part``: the surface's Z."""
    if thickness < 0:
        raise Refused.of("thickness", shown(thickness, r.unit), "must be at least 0")
    (at,) = r.places((reading,))
    over = at - thickness
    shows = r.shows(over)
    down = way_words(r.axis, -1)
    sign = "−" if r.sign > 0 else "+"
    put = f"{shown(reading, r.unit)} {sign} {shown(thickness, r.unit)}"
    step = Step("on the surface", f"touch {sign} thickness", put, r.words(shows))
    tail = "the readout" if r.scale is Scale.READOUT else "the dial"
    lines = [f"On the surface {tail} shows {r.words(shows)}."]
    if thickness:
        deeper = f"the surface lies that much deeper ({down}; turn {r.dial.turning(-1)})"
        lines.insert(0, f"The {how} is {r.words(thickness)} thick: {deeper}.")
    lines.append("After facing, the new surface is a new zero.")
    return Found((Datum(r.axis, r.scale, part, shows, -1),), tuple(lines), (), (), (step,))
