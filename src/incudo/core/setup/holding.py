"""Holding the work: parallels, grip, what the cutter or a drill would meet, clamps, squaring a block.

The section looks along the jaws: across is Y from the fixed jaw's face (0) to the moving
jaw's, up is Z from the vise's bed (0). All lengths in mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH, LengthUnit, Unit, in_places
from incudo.core.kernel.say import say, together

#: Grip at least a third of the height or 1/4 in, whichever is more.
LEAST_GRIP = MM_PER_INCH / 4
#: What a cut keeps clear of jaw and parallel, and a drill goes beyond the work: 1/16 in by habit.
CLEARANCE = MM_PER_INCH / 16


@dataclass(frozen=True)
class Work:
    """A block as it lies in the vise: across the jaws, along them, and its height."""

    across: Fraction
    along: Fraction
    height: Fraction

    def __post_init__(self) -> None:
        for name in ("across", "along", "height"):
            if getattr(self, name) <= 0:
                raise Refused.of(name, getattr(self, name), say("must be more than 0"))


@dataclass(frozen=True)
class Cut:
    """A cut from above: from ``near`` to ``far`` across the jaws, down to ``floor`` above the work's bottom.

    ``near`` 0 is the fixed jaw's side. A cut that reaches a side runs out over the jaw.
    """

    name: str
    near: Fraction
    far: Fraction
    floor: Fraction


@dataclass(frozen=True)
class Drilled:
    """A hole from above: its place, its diameter, the point's length, and how deep above the work's bottom it ends.

    ``floor`` 0 or less is a through hole.
    """

    name: str
    along: Fraction
    across: Fraction
    diameter: Fraction
    point: Fraction
    floor: Fraction

    @property
    def through(self) -> bool:
        """Whether it goes through the work."""
        return self.floor <= 0


@dataclass(frozen=True)
class JawVise:
    """A vise: the jaws' length and depth above the bed, the widest opening."""

    jaw: Fraction
    depth: Fraction
    opening: Fraction


@dataclass(frozen=True)
class ParallelPair:
    """Two parallels of one height."""

    height: Fraction
    thickness: Fraction
    length: Fraction


class Weight(StrEnum):
    """How much a finding weighs: it hits something; it is held badly; it is good to know."""

    HITS = "hits"
    WEAK = "weak"
    NOTE = "note"


@dataclass(frozen=True)
class Said:
    """One finding, and what it is about: jaw, parallel, bed, grip, opening, hole."""

    weight: Weight
    about: str
    words: str


@dataclass(frozen=True)
class Held:
    """Work in a vise on a pair of parallels (or on the bed), and how it is held."""

    pair: ParallelPair | None
    proud: Fraction
    grip: Fraction
    grip_wanted: Fraction
    said: tuple[Said, ...] = field(default=())

    @property
    def good(self) -> bool:
        """Whether nothing is said against it but notes."""
        return not any(s.weight is not Weight.NOTE for s in self.said)


def grip_wanted(height: Fraction) -> Fraction:
    """A third of the height or a quarter of an inch, whichever is more; never more than the height."""
    return min(height, max(height / 3, LEAST_GRIP))


def hold(
    work: Work,
    vise: JawVise,
    pair: ParallelPair | None,
    cuts: Sequence[Cut] = (),
    holes: Sequence[Drilled] = (),
    unit: LengthUnit = Unit.MM,
    clearance: Fraction = CLEARANCE,
) -> Held:
    """How the work holds when it is clamped like this. ``unit`` is that of the words only.

    Raises ``Refused`` for a cut whose floor does not lie below the work's top.
    """
    for c in cuts:
        if c.floor >= work.height:
            raise Refused.of(
                f"{c.name}.floor",
                sized(c.floor, unit),
                say("must lie below the top of the work, {sized}", sized=sized(work.height, unit)),
            )
    base = pair.height if pair else Fraction(0)
    top = base + work.height
    proud = top - vise.depth
    grip = min(max(vise.depth - base, Fraction(0)), work.height)
    wanted = grip_wanted(work.height)
    said = [
        *_fits(work, vise, pair, unit),
        *_gripped(grip, wanted, unit),
        *(x for c in cuts for x in _cut(c, work, vise, pair, unit, clearance)),
        *(x for h in holes for x in _drilled(h, work, pair, unit, clearance)),
        *_sunk(proud, unit),
    ]
    return Held(pair, proud, grip, wanted, tuple(said))


def sized(value: Fraction, unit: Unit) -> str:
    """A length in mm as it is read in this unit: three decimal places in inches, two in millimetres."""
    return f"{in_places(value / unit.in_mm, 3 if unit is Unit.INCH else 2)} {unit}"


def _fits(work: Work, vise: JawVise, pair: ParallelPair | None, unit: Unit) -> list[Said]:
    found = []
    if work.across > vise.opening:
        words = say(
            "The vise opens to {sized}; the work is {sized2} wide.",
            sized=sized(vise.opening, unit),
            sized2=sized(work.across, unit),
        )
        found.append(Said(Weight.HITS, "opening", words))
    if pair and 2 * pair.thickness > work.across:
        words = say(
            "Two parallels of {sized} do not fit under {sized2} of work.",
            sized=sized(pair.thickness, unit),
            sized2=sized(work.across, unit),
        )
        found.append(Said(Weight.HITS, "parallel", words))
    if work.along > 2 * vise.jaw:
        words = say(
            "The work is more than twice as long as the jaws: its ends spring. Support them, or clamp it to the table."
        )
        found.append(Said(Weight.WEAK, "jaw", words))
    elif work.along < vise.jaw / 3:
        words = say(
            "Short work at one end of the jaws skews the moving jaw: keep it in the middle, or put a piece "
            "of its width at the other end."
        )
        found.append(Said(Weight.NOTE, "jaw", words))
    return found


def _gripped(grip: Fraction, wanted: Fraction, unit: Unit) -> list[Said]:
    if grip >= wanted:
        return []
    words = say(
        "Only {sized} is in the jaws, {sized2} is wanted: the cut can lift the work out.",
        sized=sized(grip, unit),
        sized2=sized(wanted, unit),
    )
    return [Said(Weight.WEAK, "grip", words)]


def _sunk(proud: Fraction, unit: Unit) -> list[Said]:
    if proud >= 0:
        return []
    words = say(
        "Its top lies {sized} below the top of the jaws: no side of it can be touched or measured, and the holder of a "
        "short cutter comes down on the jaws.",
        sized=sized(-proud, unit),
    )
    return [Said(Weight.NOTE, "top", words)]


def _cut(c: Cut, work: Work, vise: JawVise, pair: ParallelPair | None, unit: Unit, clearance: Fraction) -> list[Said]:
    base = pair.height if pair else Fraction(0)
    floor = base + c.floor
    over = floor - vise.depth
    runs_out = c.near <= 0 or c.far >= work.across
    if c.floor <= 0:
        # right through the work, and over its side into the jaw that stands there
        found = _through(c.name, "cutter", c.near, c.far, clearance, work, pair, unit)
        return found if not runs_out or over >= 0 else [*found, *_into_jaw(c, over, unit)]
    if not runs_out:
        return []
    if over < 0:
        return _into_jaw(c, over, unit)
    if over < clearance:
        words = say(
            "{name}: only {sized} between cutter and jaw; {sized2} is wanted.",
            name=c.name,
            sized=sized(over, unit),
            sized2=sized(clearance, unit),
        )
        return [Said(Weight.WEAK, "jaw", words)]
    return []


def _into_jaw(c: Cut, over: Fraction, unit: Unit) -> list[Said]:
    words = say(
        "{name}: the cutter goes {sized} below the top of the jaws and meets the jaw.",
        name=c.name,
        sized=sized(-over, unit),
    )
    return [Said(Weight.HITS, "jaw", words)]


def _drilled(h: Drilled, work: Work, pair: ParallelPair | None, unit: Unit, clearance: Fraction) -> list[Said]:
    if not h.through:
        return []
    r = h.diameter / 2
    return _through(h.name, "drill", h.across - r, h.across + r, h.point + clearance, work, pair, unit)


def _through(
    name: str,
    tool: str,
    near: Fraction,
    far: Fraction,
    below: Fraction,
    work: Work,
    pair: ParallelPair | None,
    unit: Unit,
) -> list[Said]:
    """What a tool that comes out ``below`` the work meets there."""
    if pair is None:
        return [
            Said(
                Weight.HITS, "bed", say("{name}: the {tool} comes out into the bed of the vise.", name=name, tool=tool)
            )
        ]
    found = []
    if near < pair.thickness or far > work.across - pair.thickness:
        found.append(
            Said(Weight.HITS, "parallel", say("{name}: the {tool} comes out into a parallel.", name=name, tool=tool))
        )
    if below > pair.height:
        deep, room = sized(below, unit), sized(pair.height, unit)
        words = say(
            "{name}: the {tool} goes {deep} below the work and the bed is {room} away.",
            name=name,
            tool=tool,
            deep=deep,
            room=room,
        )
        found.append(Said(Weight.HITS, "bed", words))
    return found


def choose(
    work: Work,
    vise: JawVise,
    drawer: Sequence[ParallelPair],
    cuts: Sequence[Cut] = (),
    holes: Sequence[Drilled] = (),
    unit: LengthUnit = Unit.MM,
    clearance: Fraction = CLEARANCE,
) -> tuple[Held, ...]:
    """Every pair of the drawer and the bare bed, the best first: nothing hit, enough in the jaws, held well, the top of
    the work not below that of the jaws, most grip.

    Enough grip goes before room between cutter and jaw: work that comes out hurts somebody, a close pass only has to
    be watched.
    """

    def rank(h: Held) -> tuple[int, bool, int, Fraction, Fraction]:
        hits = sum(s.weight is Weight.HITS for s in h.said)
        weak = sum(s.weight is Weight.WEAK for s in h.said)
        return hits, h.grip < h.grip_wanted, weak, max(-h.proud, Fraction(0)), -h.grip

    tried = [hold(work, vise, p, cuts, holes, unit, clearance) for p in (*drawer, None)]
    return tuple(sorted(tried, key=rank))


def stop_words(left_out: Sequence[str], right_out: Sequence[str]) -> str:
    """Where the work stop goes: at the fixed jaw, on a side where no cut runs out (the cuts that do, by name)."""
    corner = say("Against the fixed jaw and the stop is the corner that repeats for every part.")
    if not left_out:
        why = say(", since {listed} runs out at the right", listed=together(right_out, ", ")) if right_out else ""
        return say("Stop at the left{why}. {corner}", why=why, corner=corner)
    if not right_out:
        return say(
            "Stop at the right, since {listed} runs out at the left. {corner}",
            listed=together(left_out, ", "),
            corner=corner,
        )
    return say(
        "Cuts run out at both sides ({listed}): set the stop below the cutter's lowest path, or take it "
        "away before the cut.",
        listed=together(dict.fromkeys((*left_out, *right_out)), ", "),
    )


@dataclass(frozen=True)
class Strap:
    """A strap clamp: bolt at ``work_arm`` from the work's end, ``heel_arm`` from the heel (mm).

    ``heel_rise`` is how much higher the heel stands than the work.
    """

    work_arm: Fraction
    heel_arm: Fraction
    heel_rise: Fraction = Fraction(0)

    def __post_init__(self) -> None:
        for name in ("work_arm", "heel_arm"):
            if getattr(self, name) <= 0:
                raise Refused.of(name, getattr(self, name), say("must be more than 0"))

    @property
    def share(self) -> Fraction:
        """The part of the bolt's force that holds the work: c / (a + c)."""
        return self.heel_arm / (self.work_arm + self.heel_arm)

    def said(self) -> tuple[Said, ...]:
        """What is wrong with it."""
        found = []
        percent = round(self.share * 100)
        if self.share < Fraction(1, 2):
            words = say(
                "Only {percent} % of the bolt's force holds the work: move the bolt towards the work.", percent=percent
            )
            found.append(Said(Weight.WEAK, "bolt", words))
        reach = self.work_arm + self.heel_arm
        if self.heel_rise < 0:
            words = say("The heel is lower than the work: the strap bears on the work's edge and slides off. Raise it.")
            found.append(Said(Weight.HITS, "heel", words))
        elif self.heel_rise > reach / 20:
            words = say("The heel is much higher than the work: the strap's tip slips. A hair higher is enough.")
            found.append(Said(Weight.WEAK, "heel", words))
        return tuple(found)


@dataclass(frozen=True)
class Squaring:
    """One step of squaring a block: which face lies where, what is cut, what it is checked against."""

    number: int
    up: int
    fixed: int
    down: int
    moving: int
    bar: bool
    parallels: bool
    words: str
    check: str


#: Faces: 1 and 4, 2 and 3, 5 and 6 are opposite. Faces 5 and 6 are the ends.
SQUARING: tuple[Squaring, ...] = (
    Squaring(
        1,
        1,
        3,
        4,
        2,
        True,
        True,
        say(
            "The best rough face against the fixed jaw, a soft round bar between the moving jaw and the "
            "rough face opposite. Face the top just clean: this is face 1."
        ),
        say("Face 1 flat: a straight edge, or the indicator run over it."),
    ),
    Squaring(
        2,
        2,
        1,
        3,
        4,
        True,
        True,
        say(
            "Deburr. Face 1 against the fixed jaw, the round bar at the moving jaw, at half the gripped "
            "height. Face the top: face 2."
        ),
        say(
            "Face 2 square to face 1: a square, or the indicator up the side. Out of square here is the jaw "
            "or a chip, not the head."
        ),
    ),
    Squaring(
        3,
        3,
        1,
        2,
        4,
        True,
        True,
        say(
            "Deburr. Face 1 stays on the fixed jaw, face 2 down on the parallels, the round bar still at the "
            "moving jaw. Tap down until the slips hold. Face the top to size: face 3."
        ),
        say("Face 3 parallel to face 2, measured at both ends, and the width."),
    ),
    Squaring(
        4,
        4,
        2,
        1,
        3,
        False,
        True,
        say(
            "Deburr. Face 1 down on the parallels, faces 2 and 3 in the jaws without the bar: they are "
            "parallel now. Face the top to size: face 4."
        ),
        say("Face 4 parallel to face 1, measured at both ends, and the height."),
    ),
    Squaring(
        5,
        5,
        1,
        6,
        4,
        False,
        False,
        say(
            "Deburr. Stand the block up, face 1 against the fixed jaw, and set it upright by a square on the "
            "bed or by the indicator along face 2. Little overhang. Face the end: face 5."
        ),
        say("Face 5 square to face 1 and to face 2."),
    ),
    Squaring(
        6,
        6,
        1,
        5,
        4,
        False,
        True,
        say(
            "Deburr. Turn it over, face 5 down on the parallels, face 1 against the fixed jaw. Face the "
            "other end to length: face 6."
        ),
        say("Face 6 parallel to face 5, and the length."),
    ),
)
