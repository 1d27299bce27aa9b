"""What touches tell: a datum, or why there is none yet and what to do. Sources: docs/signs.md. Lengths in mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import LengthUnit, Unit, sense
from incudo.core.kernel.say import say
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
    unit: LengthUnit

    def words(self, mm: Fraction) -> str:
        """A length, given in mm, in the unit of the scale it was read on."""
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
    """What touches give: datums when they hold; ``next`` in words; ``wrong`` says why they do not."""

    datums: tuple[Datum, ...] = ()
    next: tuple[str, ...] = ()
    wrong: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    steps: tuple[Step, ...] = ()
    off: dict[Axis, Fraction] = field(default_factory=dict)

    @property
    def good(self) -> bool:
        """Whether there is a datum and nothing speaks against it."""
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
        raise Refused.of("face", face, say("must be read on the {axis} axis", axis=axis))
    between = paper if finder.kind is FinderKind.PIN else Fraction(0)
    reach = finder.tip.mm + 2 * between
    half = r.words(reach / 2)
    sign = "+" if towards * r.sign > 0 else "−"
    come = say(
        "Approach {face_words} turning {turning}: {way_words}.",
        face_words=FACE_WORDS[face],
        turning=r.dial.turning(towards),
        way_words=way_words(axis, towards),
    )
    if not touches:
        return Found(next=(come, say("Creep the last bit by single divisions. Enter what is shown at the touch.")))
    places = r.places(touches)
    if len(touches) == 1:
        return Found(
            next=(say("One touch checks nothing. Back off a whole turn and approach again, the same way."), come)
        )
    mean = agree(places, r.division)
    if mean is None:
        return Found(
            next=(say("Back off a whole turn, approach again the same way, and enter both readings again."), come),
            wrong=_apart(r, places),
        )
    over = edge(mean, reach, towards)
    shows = r.shows(over)
    step = Step(
        say("over the edge"),
        say("touch {sign} half the tip and the paper", sign=sign)
        if between
        else say("touch {sign} half the tip", sign=sign),
        f"{shown(r.sign * mean, r.unit)} {sign} {shown(reach / 2, r.unit)}",
        r.words(shows)
        if r.sign * over == shows
        else say("{sign}: the dial shows {shows}", sign=r.words(r.sign * over), shows=r.words(shows)),
    )
    where = say("the readout") if r.scale is Scale.READOUT else say("the dial")
    done = (
        say("Raise the finder clear of the work before you move on."),
        say(
            "Half the tip is {half}. Turn {turning} by it: the spindle is then over the edge and {where} "
            "shows {shows}.",
            half=half,
            turning=r.dial.turning(towards),
            where=where,
            shows=r.words(shows),
        ),
        say("Take the finder out before the speed is raised."),
    )
    notes = (
        say(
            "The touches agree within {span}; allowed {agreement}.",
            span=r.words(_span(places)),
            agreement=r.words(agreement(r.division)),
        ),
    )
    return Found((Datum(axis, r.scale, part, shows, towards),), done, (), notes, (_mean_step(r, places, mean), step))


def _mean_step(r: Reader, places: Sequence[Fraction], mean: Fraction) -> Step:
    put = " + ".join(shown(r.sign * p, r.unit) for p in places)
    return Step(say("the touch"), say("mean of the touches"), f"({put}) / {len(places)}", r.words(r.sign * mean))


def _apart(r: Reader, places: Sequence[Fraction]) -> tuple[str, ...]:
    """Touches that disagree, and the tell-tale of backlash."""
    span, lost = _span(places), r.dial.backlash
    allowed = r.words(agreement(r.division))
    found = [
        say(
            "The touches differ by {span}; allowed {allowed}. A burr, dirt, the speed, or a touch that was overrun.",
            span=r.words(span),
            allowed=allowed,
        )
    ]
    if r.scale is Scale.DIAL and lost > agreement(r.division) and abs(span - lost) <= 2 * agreement(r.division):
        found.append(
            say(
                "That is just this axis' backlash, {lost}: one touch was approached from the other side, with the "
                "slack not taken up.",
                lost=r.words(lost),
            )
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
            say("middle, from one contact in one sense"),
            say("{first} + tip/2 {sign} width/2", first=first, sign=sign),
            f"{shown(high if b.inside else low, r.unit)} + {shown(tip / 2, r.unit)} {sign} {shown(width / 2, r.unit)}",
            r.words(c.at),
        )
    check = _width_step(r, b, low, high, tip, c)
    if c.bad(r.division, unsure):
        out = c.out_by or Fraction(0)
        wrong = [
            say(
                "The touches give a width of {width}, measured is {width2}: one of them was bad.",
                width=r.words(c.width),
                width2=r.words(width),
            )
        ]
        if r.scale is Scale.DIAL and lost and abs(abs(out) - lost) <= agreement(r.division) + unsure:
            wrong.append(
                say(
                    "It is out by exactly the backlash, {lost}: one contact was approached from the wrong side.",
                    lost=r.words(lost),
                )
            )
        if r.scale is Scale.DIAL and abs(abs(out) - r.dial.turn) <= agreement(r.division) + unsure:
            wrong.append(say("It is out by just one turn of the dial: a whole turn was miscounted."))
        return Found(
            next=(say("Touch both sides again, each from its own outside."),), wrong=tuple(wrong), steps=(check,)
        )
    side = 1
    shows = r.shows(c.at)
    notes = [
        say(
            "Width by the touches {width}, measured {width2}: they agree.",
            width=r.words(c.width),
            width2=r.words(width),
        )
    ]
    if r.scale is Scale.DIAL and lost:
        notes.append(
            say(
                "The mean of both dial readings would be {lost} out, half the backlash: it is not used.",
                lost=r.words(lost / 2),
            )
        )
    done = (
        say(
            "Clear of the work go past it, then back turning {turning} until {where} shows {shows}: "
            "that is the middle.",
            turning=r.dial.turning(side),
            where=say("the readout") if r.scale is Scale.READOUT else say("the dial"),
            shows=r.words(shows),
        ),
    )
    if r.sign < 0:
        notes.append(
            say("The working counts to the right or back; this dial's numbers fall that way, hence the minus.")
        )
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
    return Step(say("width by the touches"), formula, put, r.words(c.width))


def clearance_words(bar: Fraction, finder: Finder, above: Fraction, unit: Unit) -> tuple[bool, str]:
    """Whether the tip reaches a bar's widest line before the body touches the bar; ``above`` as in ``bar_clear``."""
    said = f"{shown(above, unit)} {unit}"
    if above >= finder.reach.mm:
        tip = say("The tip is only {mm} {unit} long", mm=shown(finder.reach.mm, unit), unit=unit)
        return False, say("{tip}: with the body {said} above, it does not reach the widest line.", tip=tip, said=said)
    if bar_clear(bar, finder.tip.mm, finder.body.mm, above):
        return True, say("With the body {said} above the widest line the tip touches first.", said=said)
    words = say("With the body {said} above the widest line the body meets the bar before the tip does", said=said)
    return False, say("{words}: raise it, or take a finder with a longer tip.", words=words)


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
        raise Refused.of("near", shown(min(near, far), r.unit), say("must be at least 0"))
    off = (far - near) / 2
    if not flat_is_circle(bar, mill, depth, off):
        words = say("That deep the spot runs out on a flank and is no full circle: it tells nothing.")
        return Found(wrong=(words,), next=(say("Sink a little deeper, never beyond the middle, and measure again."),))
    if abs(near + far + mill - bar) > agreement(r.division) + BY_HAND:
        words = say(
            "Both distances and the mill make {near}, the bar is {bar}",
            near=r.words(near + far + mill),
            bar=r.words(bar),
        )
        return Found(wrong=(say("{words}: measure again, across the middle.", words=words),))
    (here,) = r.places((here,))
    at = here + off
    shows = r.shows(at)
    larger = way_words(r.axis, 1 if off > 0 else -1)
    step = Step(
        say("off the middle"), "(far − near) / 2", f"({shown(far, r.unit)} − {shown(near, r.unit)}) / 2", r.words(off)
    )
    move = (
        say("Move {off} towards the larger side: {larger}.", off=r.words(abs(off)), larger=larger)
        if off
        else say("It is in the middle.")
    )
    share = float(abs(off) / bar * 100)
    notes = (
        say(
            "The spot is {off} off, {share} % of the diameter. The smaller the bar, the worse: on a thin one "
            "use both flanks.",
            off=r.words(abs(off)),
            share=f"{share:.1f}",
        ),
    )
    return Found(
        (Datum(r.axis, r.scale, part, shows, 1),),
        (move, say("There it shows {shows}.", shows=r.words(shows))),
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
            say("spindle off along {axis}", axis=r.axis.upper()),
            f"({first} − {second}) / 2",
            f"({shown(a, r.unit)} − {shown(b, r.unit)}) / 2",
            r.words(off),
        )
        for r, (first, a, second, b), off in ((x, sx, ox), (y, sy, oy))
    )
    off = {Axis.X: ox, Axis.Y: oy}
    about = (
        say("On a boss it is off towards the lower reading.")
        if sweep.boss
        else say("In a bore it is off towards the higher reading.")
    )
    if max(abs(ox), abs(oy)) > radius:
        raise Refused.of(
            "readings",
            shown(max(abs(ox), abs(oy)), x.unit),
            say("are off by more than the radius: centre roughly with a pin first"),
        )
    (at_x,), (at_y,) = x.places((here[0],)), y.places((here[1],))
    if max(abs(ox), abs(oy)) > allowed:
        moves = tuple(
            say(
                "{axis}: {e}, {way_words}; turn {turning}, to {shows}{past}.",
                axis=r.axis.upper(),
                e=r.words(abs(e)),
                way_words=way_words(r.axis, sense(e)),
                turning=r.dial.turning(sense(e)),
                shows=r.words(r.shows(at + e)),
                past=_past(r, e),
            )
            for r, e, at in ((x, ex, at_x), (y, ey, at_y))
            if abs(e) > allowed / 2
        )
        return Found(next=(about, *moves, say("Then read all four again.")), steps=steps, off=off)
    datums = (
        Datum(Axis.X, x.scale, part[0], here[0], 1),
        Datum(Axis.Y, y.scale, part[1], here[1], 1),
    )
    oor = sweep.out_of_round
    notes = [f"(E + W) − (N + S) = {x.words(oor)}."]
    if abs(oor) > allowed * 2:
        notes.append(
            say(
                "It is out of round: what is centred is the mean of it. An oval at 45° or three lobes do not show here."
            )
        )
    else:
        notes.append(
            say("Nothing out of round shows; an oval at 45° or three lobes would not. For tilt compare two depths.")
        )
    return Found(datums, (say("The spindle is over the centre."),), (), tuple(notes), steps, off)


def _past(r: Reader, by: Fraction) -> str:
    if r.scale is Scale.READOUT or sense(by) == 1:
        return ""
    return say("; go a whole turn past and come back {turning}", turning=r.dial.turning(1))


def find_depth(r: Reader, reading: Fraction, thickness: Fraction, part: Fraction, how: str) -> Found:
    """The surface from a touch over paper or a gauge of a thickness; chips have none. ``part``: the surface's Z."""
    if thickness < 0:
        raise Refused.of("thickness", shown(thickness, r.unit), say("must be at least 0"))
    (at,) = r.places((reading,))
    over = at - thickness
    shows = r.shows(over)
    down = way_words(r.axis, -1)
    sign = "−" if r.sign > 0 else "+"
    put = f"{shown(reading, r.unit)} {sign} {shown(thickness, r.unit)}"
    step = Step(say("on the surface"), say("touch {sign} thickness", sign=sign), put, r.words(shows))
    tail = say("the readout") if r.scale is Scale.READOUT else say("the dial")
    lines = [say("On the surface {tail} shows {shows}.", tail=tail, shows=r.words(shows))]
    if thickness:
        deeper = say(
            "the surface lies that much deeper ({down}; turn {turning})", down=down, turning=r.dial.turning(-1)
        )
        lines.insert(
            0, say("The {how} is {thickness} thick: {deeper}.", how=how, thickness=r.words(thickness), deeper=deeper)
        )
    lines.append(say("After facing, the new surface is a new zero."))
    return Found((Datum(r.axis, r.scale, part, shows, -1),), tuple(lines), (), (), (step,))
