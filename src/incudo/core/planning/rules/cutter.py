"""What can be wrong with the choice of a cutter, its holder, its speed and its feed."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from functools import partial

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import best_cutter, fitting, unfit, why_not_there
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import DRILLING, MILLING
from incudo.core.planning.rules.base import FaultWeight, Hit, Rule, Rules, fit_for, rule
from incudo.core.planning.settle import opens_sideways
from incudo.core.planning.shop import cuts_to_middle
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.inputs import shown
from incudo.core.shop.cutter import CutterKind

RULES: Rules = []

#: A speed so far above or below the reckoned one says something.
MOST_SPEED, BURNS, LEAST_SPEED = Fraction(11, 10), Fraction(3, 2), Fraction(2, 5)
#: A chip below so much of its band rubs; above its band the cutter breaks.
RUBS = Fraction(1, 2)


def _instead(course: Course, stage: Stage) -> tuple[str, change.Fix | None]:
    """Another cutter that does it, as a cure."""
    best = next(iter(fit_for(course, stage)), None)
    if best is None:
        return say("The crib has none that does: ask, or make it another way."), None
    fix = change.operation(stage.operation.id, cutter=best.name, holder="", speed=None, feed=None)
    return say("Use {name}.", name=best.name), fix


def _with_cutter(course: Course) -> Iterator[Stage]:
    for s in course.stages:
        if s.kind not in (OperationKind.DEBURR, OperationKind.MEASURE):
            yield s


@rule(
    RULES, "no-cutter", FaultWeight.SPOILS, say("No cutter chosen"), say("The cutter decides speed, passes and path.")
)
def no_cutter(course: Course) -> Iterator[Hit]:
    for s in _with_cutter(course):
        if not s.operation.cutter:
            words, fix = _instead(course, s)
            yield Hit(s, say("Nothing is said about the cutter."), words, fix)


@rule(
    RULES,
    "not-in-crib",
    FaultWeight.BREAKS,
    say("The cutter is not available"),
    say("A tagged cutter is tagged for a reason, and one that is out stops the work in the middle."),
)
def not_in_crib(course: Course) -> Iterator[Hit]:
    for s in _with_cutter(course):
        name = s.operation.cutter
        why = why_not_there(course.shop.crib.get(name), name) if name else ""
        if why:
            words, fix = _instead(course, s)
            yield Hit(s, why, words, fix)


def _fits(code: str, course: Course) -> Iterator[Hit]:
    for s in _with_cutter(course):
        if s.cutter is None or (not s.taken and s.kind is not OperationKind.TAP):
            continue
        deep = s.sizes[3] if s.kind in MILLING else None
        for f in s.features or (None,):
            found = next(
                (u for u in unfit(course.piece, course.shop, s.kind, f, s.cutter, deep) if u.code == code), None
            )
            if found and s.kind not in course.shop.beyond:
                words, fix = _instead(course, s)
                yield Hit(s, say("{name}: {why}", name=s.operation.cutter, why=found.words), words, fix)
                break


#: Rules that say what speaks against a cutter: code, weight, title, reason.
_AGAINST = (
    (
        "wrong-cutter",
        FaultWeight.BREAKS,
        say("This kind of cutter does not do it"),
        say("A drill has no edges on its side, a fly cutter none at its end."),
    ),
    (
        "other-spindle",
        FaultWeight.BREAKS,
        say("Not for this spindle"),
        say("Some cutters sit on a level arbor between collars, the others in a spindle over the work."),
    ),
    (
        "arbor-low",
        FaultWeight.BREAKS,
        say("Deeper than the arbor lets it"),
        say("Beside the cutter come its collars, all the way across: the metal beside the cut must end below them."),
    ),
    ("too-wide", FaultWeight.SPOILS, say("Wider than the slot"), say("A slot is never narrower than its cutter.")),
    ("corner", FaultWeight.SPOILS, say("Larger than the corner"), say("A corner keeps the cutter's radius.")),
    (
        "flute-short",
        FaultWeight.BREAKS,
        say("Deeper than the cutter cuts"),
        say("Above its flutes a cutter is as thick and cuts nothing: it rubs, heats and breaks."),
    ),
    (
        "drill-size",
        FaultWeight.SPOILS,
        say("The wrong drill"),
        say("A hole is as large as its drill; what is reamed, bored or tapped needs what is left for that."),
    ),
    ("reamer-size", FaultWeight.SPOILS, say("The wrong reamer"), say("A reamer makes its own size.")),
    ("tap-size", FaultWeight.SPOILS, say("The wrong tap"), say("A tap makes its own thread.")),
    ("sink-angle", FaultWeight.SPOILS, say("The wrong countersink"), say("A screw's head sits in its own angle only.")),
    ("bore-size", FaultWeight.SPOILS, say("The wrong counterbore"), say("A counterbore is as wide as its cutter.")),
    (
        "too-fast",
        FaultWeight.BREAKS,
        say("The machine does not go slow enough"),
        say("Above its cutting speed an edge is gone within seconds."),
    ),
)
RULES += [Rule(code, weight, title, why, partial(_fits, code)) for code, weight, title, why in _AGAINST]


@rule(
    RULES,
    "no-way-in",
    FaultWeight.BREAKS,
    say("No way in for this cutter"),
    say("Four flutes usually stop before the middle: such a cutter cannot go straight down."),
)
def no_way_in(course: Course) -> Iterator[Hit]:
    for s, n in course.milled:
        if n.entry not in ("plunge", "ramp") or s.cutter is None or cuts_to_middle(s.cutter):
            continue
        fit = fitting(course.piece, course.shop, s.kind, s.features[0] if s.features else None, deep=s.sizes[3])
        best = next((c for c in fit if cuts_to_middle(c)), None)
        words = say("{name} has {teeth} flutes and is to go straight down.", name=s.cutter.name, teeth=s.cutter.teeth)
        if opens_sideways(s):
            cure, fix = say("Come in from outside."), change.operation(s.operation.id, entry="outside")
        elif best:
            cure = say("Use {name}.", name=best.name)
            fix = change.operation(s.operation.id, cutter=best.name, holder="", speed=None, feed=None)
        else:
            cure, fix = say("Drill a hole to begin in."), None
        yield Hit(s, words, cure, fix)


@rule(
    RULES,
    "entry-closed",
    FaultWeight.BREAKS,
    say("It cannot come in from outside"),
    say("A slot or pocket with walls all round has no side to come in by."),
)
def entry_closed(course: Course) -> Iterator[Hit]:
    for s, n in course.milled:
        drilled = any(k is OperationKind.DRILL and set(s.made) for ks in s.made.values() for k, _ in ks)
        if n.entry == "outside" and not opens_sideways(s) and s.kind in (OperationKind.SLOT, OperationKind.POCKET):
            can = cuts_to_middle(s.cutter) if s.cutter else False
            fix = change.operation(s.operation.id, entry="plunge") if can else None
            yield Hit(s, say("It has walls all round."), say("Plunge with a cutter that cuts to its middle."), fix)
        elif n.entry == "hole" and not drilled and not opens_sideways(s):
            cure, fix = _plunging(course, s)
            yield Hit(s, say("No hole is drilled there to begin in."), cure, fix)


def _plunging(course: Course, s: Stage) -> tuple[str, change.Fix | None]:
    if s.cutter is not None and cuts_to_middle(s.cutter):
        return say("Plunge."), change.operation(s.operation.id, entry="plunge")
    feature = s.features[0] if s.features else None
    best = next((c for c in fitting(course.piece, course.shop, s.kind, feature) if cuts_to_middle(c)), None)
    if best is None:
        return say("Drill a hole first."), None
    fix = change.operation(s.operation.id, cutter=best.name, entry="plunge", holder="", speed=None, feed=None)
    return say("Use {name} and plunge.", name=best.name), fix


@rule(
    RULES,
    "wrong-holder",
    FaultWeight.BREAKS,
    say("The wrong holder"),
    say("A drill chuck does not stand a push from the side: an end mill in it works loose and comes down."),
)
def wrong_holder(course: Course) -> Iterator[Hit]:
    for s in _with_cutter(course):
        holder = course.shop.holders.get(s.operation.holder)
        if s.cutter is None or not s.operation.holder:
            continue
        if holder is None or s.cutter.kind.value not in holder.kinds:
            right = course.shop.holders.get(s.cutter.holder)
            words = say(
                "{name} in a {holder}.",
                name=s.cutter.name,
                holder=(holder.name if holder else s.operation.holder).lower(),
            )
            cure = say("Use the {holder}.", holder=right.name.lower()) if right else say("Use its own holder.")
            yield Hit(s, words, cure, change.operation(s.operation.id, holder=""))


@rule(
    RULES,
    "creeps-out",
    FaultWeight.SPOILS,
    say("A roughing cutter in a split collet"),
    say("Under a heavy cut it creeps out of the collet, deeper and deeper: a holder with a screw keeps it."),
)
def creeps_out(course: Course) -> Iterator[Hit]:
    for s in _with_cutter(course):
        if s.cutter is None or s.cutter.kind is not CutterKind.ROUGHING:
            continue
        if (s.operation.holder or s.cutter.holder) == "collet":
            words = say("{name} is held in a split collet.", name=s.cutter.name)
            cure = say("Use the end-mill holder.")
            yield Hit(s, words, cure, change.operation(s.operation.id, holder="end-mill-holder"))


def _faster(course: Course) -> Iterator[tuple[Stage, Fraction, Fraction]]:
    for s, n in course.each():
        if s.operation.speed and n.wanted and s.kind is not OperationKind.TAP and s.cutter:
            yield s, Fraction(s.operation.speed), n.wanted


@rule(
    RULES,
    "burns",
    FaultWeight.BREAKS,
    say("Far too fast"),
    say("At half as much again as its cutting speed a cutter turns blue and is blunt within a few turns."),
)
def burns(course: Course) -> Iterator[Hit]:
    for s, speed, wanted in _faster(course):
        if speed > wanted * BURNS:
            yield Hit(s, _speed_words(speed, wanted), _speed_cure(), change.operation(s.operation.id, speed=None))


@rule(
    RULES,
    "fast",
    FaultWeight.COSTS,
    say("Too fast"),
    say("A little above its cutting speed an edge lasts a fraction of the time."),
)
def fast(course: Course) -> Iterator[Hit]:
    for s, speed, wanted in _faster(course):
        if wanted * MOST_SPEED < speed <= wanted * BURNS:
            yield Hit(s, _speed_words(speed, wanted), _speed_cure(), change.operation(s.operation.id, speed=None))


@rule(
    RULES,
    "slow",
    FaultWeight.COSTS,
    say("Very slow"),
    say("Far below its cutting speed a cutter lasts no longer, and the work takes twice the time."),
)
def slow(course: Course) -> Iterator[Hit]:
    for s, speed, wanted in _faster(course):
        if speed < wanted * LEAST_SPEED:
            yield Hit(s, _speed_words(speed, wanted), _speed_cure(), change.operation(s.operation.id, speed=None))


def _speed_words(speed: Fraction, wanted: Fraction) -> str:
    return say("{speed} rpm; calculated: {wanted} rpm.", speed=shown(speed, 0), wanted=shown(wanted, 0))


def _speed_cure() -> str:
    return say("Use the machine's step at or below the calculated speed.")


@rule(
    RULES,
    "no-such-speed",
    FaultWeight.COSTS,
    say("The machine has no such speed"),
    say("Belts and gears give steps, and the feed follows from the step that is set."),
)
def no_such_speed(course: Course) -> Iterator[Hit]:
    spindle = course.shop.machine.spindle
    for s, speed, _ in _faster(course):
        there = speed in spindle.steps if spindle.steps else any(a <= speed <= b for a, b in spindle.ranges)
        if not there:
            words = say("{machine} has no {speed} rpm.", machine=course.shop.name, speed=shown(speed, 0))
            yield Hit(s, words, _speed_cure(), change.operation(s.operation.id, speed=None))


@rule(
    RULES,
    "breaks-teeth",
    FaultWeight.BREAKS,
    say("Too thick a chip"),
    say("A chip load goes by the cutter's diameter: what a large one takes in its stride breaks a small one."),
)
def breaks_teeth(course: Course) -> Iterator[Hit]:
    for s, n in course.each():
        if s.operation.feed is not None and n.chip and n.band and n.chip > n.band[1]:
            yield Hit(
                s, _chip_words(course, s, n.chip, n.band), _chip_cure(), change.operation(s.operation.id, feed=None)
            )


@rule(
    RULES,
    "rubs",
    FaultWeight.COSTS,
    say("Too thin a chip"),
    say("An edge that does not bite rubs: it gets hot and blunt, and the finish is poor."),
)
def rubs(course: Course) -> Iterator[Hit]:
    for s, n in course.each():
        if s.operation.feed is not None and n.chip and n.band and n.chip < n.band[0] * RUBS:
            yield Hit(
                s, _chip_words(course, s, n.chip, n.band), _chip_cure(), change.operation(s.operation.id, feed=None)
            )


def _chip_words(course: Course, s: Stage, chip: Fraction, band: tuple[Fraction, Fraction]) -> str:
    unit = course.shop.machine.unit
    places = 4 if unit is Unit.INCH else 3
    values = {k: f"{shown(v / unit.in_mm, places)}" for k, v in (("chip", chip), ("low", band[0]), ("high", band[1]))}
    if s.kind in DRILLING:
        return say("{chip} {unit} a turn; {low} to {high} at this diameter.", unit=unit, **values)
    return say("{chip} {unit} a tooth; {low} to {high} at this diameter.", unit=unit, **values)


def _chip_cure() -> str:
    return say("Take the feed that follows from the speed.")


@rule(
    RULES,
    "power",
    FaultWeight.COSTS,
    say("More than the motor gives"),
    say("The rate of removal times what this metal takes, against the motor."),
)
def power(course: Course) -> Iterator[Hit]:
    for s, n in course.each(*MILLING):
        watts = course.shop.machine.spindle.watts
        if n.watts and n.watts > watts:
            words = say("It takes {watts} W and the motor has {motor} W.", watts=round(n.watts), motor=watts)
            yield Hit(s, words, say("Less depth, less width, or less feed."))


@rule(
    RULES,
    "flutes",
    FaultWeight.COSTS,
    say("Too many flutes for a slot here"),
    say("In aluminium and brass four flutes clog in a slot: two leave room for the chips."),
)
def flutes(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.SLOT, OperationKind.POCKET):
        if s.cutter and s.taken and course.shop.soft and s.cutter.kind is CutterKind.END_MILL and s.cutter.teeth > 3:
            best = best_cutter(course.piece, course.shop, s.kind, s.features[0])
            few = best is not None and best.teeth <= 3
            words = say("{name} has {teeth} flutes.", name=s.cutter.name, teeth=s.cutter.teeth)
            fix = (
                change.operation(s.operation.id, cutter=best.name, speed=None, feed=None, entry="")
                if few and best
                else None
            )
            yield Hit(s, words, say("Use one with two or three."), fix)
