"""A plan in words: the numbers of its operations, what each holding is called, what is left to do."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from itertools import groupby

from incudo.app.kernel.views import Named, StepView
from incudo.app.planning.views import (
    CostsView,
    FromAbove,
    HeldView,
    KeyWords,
    LeftView,
    NeedView,
    NumberLine,
    PlaceErrorView,
    PlanFaultView,
    PlanLook,
    StageView,
    StrapsView,
    StrapView,
)
from incudo.core.cutting.pace import CardTime, plan_time
from incudo.core.kernel.quantity import Unit, in_places
from incudo.core.kernel.say import capital, say, together
from incudo.core.parts.features.frame import SIDES, Axle, Plane
from incudo.core.planning.compare import Costs, costs
from incudo.core.planning.course import Course, axes_needed
from incudo.core.planning.file import KEPT, OPPOSITE, STOP, HeldIn, OperationKind, PlanHolding
from incudo.core.planning.gripping import Grip, grip_of, held_with
from incudo.core.planning.judge import judge
from incudo.core.planning.kinds import DRILLING, MILLING, kind_words, stages_of
from incudo.core.planning.needs import Need, needs
from incudo.core.planning.pace import here
from incudo.core.planning.rules.base import weight_words
from incudo.core.planning.settle import Settled
from incudo.core.planning.shop import pair_label
from incudo.core.planning.stages import Stage
from incudo.core.planning.strapping import strapping
from incudo.core.practice.rigs.hold.scene import Section, section_of
from incudo.core.reckoning.inputs import shown
from incudo.core.setup.holding import Weight

_ENTRIES = {
    "outside": say("from outside"),
    "plunge": say("straight down"),
    "ramp": say("down a ramp"),
    "hole": say("in a drilled hole"),
}
_WAYS = {"conventional": say("conventional"), "climb": say("climb")}


def look_at(course: Course, machine: Named, *, judged: bool = True) -> PlanLook:
    """Everything that a page shows of a plan. Raises ``Refused`` for operations on what is not on the part."""
    heavy = weight_words()
    findings = judge(course) if judged else ()
    return PlanLook(
        plan=course.plan,
        machine=machine,
        holdings=tuple(_held(course, n, h, stages, judged) for n, (h, stages) in enumerate(course.held, 1)),
        stages=tuple(_stage(course, s, n) for s, n in course.each()),
        findings=tuple(PlanFaultView.of(f, heavy[f.weight]) for f in findings),
        judged=judged,
        costs=costs_view(course, costs(course)),
        left=tuple(_left(course)),
        needs=tuple(need_view(n) for n in needs(course)),
    )


def need_view(n: Need) -> NeedView:
    """Something that a plan needs."""
    return NeedView(
        what=n.what,
        name=n.name,
        holder=n.holder,
        place=n.place,
        left=n.left,
        wanted=n.wanted,
        why_not=n.why_not,
        short=n.short,
    )


def costs_view(course: Course, c: Costs) -> CostsView:
    """What a plan costs, in words."""
    time = plan_time(course)
    return CostsView(
        holdings=c.holdings,
        operations=c.operations,
        changes=c.changes,
        minutes=time.minutes,
        paced=paced(course, time),
        errors=tuple(
            PlaceErrorView(
                number=e.number,
                name=e.name,
                error=course.length(e.error),
                width=course.length(e.width),
                percent=round(e.share * 100),
            )
            for e in c.errors
        ),
    )


def paced(course: Course, time: CardTime) -> str:
    """Where the time of a plan comes from, if from the shop's own runs."""
    if not time.runs:
        return ""
    return say(
        "Time as {count} operations and holdings took on {machine} before; by the rules alone {reckoned} min.",
        count=time.runs,
        machine=course.shop.name,
        reckoned=time.reckoned,
    )


def faces_of(course: Course) -> tuple[KeyWords, ...]:
    """The faces of the body, to choose from."""
    return tuple(KeyWords(key=f, words=course.piece.words(f)) for f in SIDES)


def ways_to_hold(course: Course) -> tuple[KeyWords, ...]:
    """What holds the work here."""
    words = {HeldIn.VISE: say("vise"), HeldIn.V_BLOCK: say("V-block"), HeldIn.STRAPS: say("strap clamps")}
    return tuple(KeyWords(key=k, words=v) for k, v in words.items() if k is not HeldIn.STRAPS or course.shop.straps)


def pairs_of(course: Course) -> tuple[KeyWords, ...]:
    """The parallels of the drawer, the bed, and Incudo's choice."""
    first = (KeyWords(key="", words=say("the best pair")), KeyWords(key="bed", words=say("none: on the bed")))
    pairs = (KeyWords(key=pair_label(p), words=course.length(p.height)) for p in course.shop.drawer)
    return (*first, *pairs)


def _held(course: Course, number: int, h: PlanHolding, stages: tuple[Stage, ...], judged: bool) -> HeldView:
    ways = {k.key: k.words for k in ways_to_hold(course)}
    grip = grip_of(course, h, stages)
    said = [ways.get(h.held, h.held), say("{face} up", face=course.piece.words(h.up))]
    if grip is not None:
        said.insert(
            1,
            say("parallels {height}", height=course.length(grip.pair.height)) if grip.pair else say("on the bed"),
        )
    if h.stop:
        said.append(say("stop left") if h.stop == "left" else say("stop right"))
    words = ""
    if grip is not None:
        proud = grip.work.height - grip.top
        sits = {
            "fixed": course.piece.words(h.fixed),
            "grip": course.length(max(min(grip.top, grip.work.height), Fraction(0))),
            "proud": course.length(abs(proud)),
        }
        words = (
            say("{fixed} at the fixed jaw, {grip} gripped, {proud} above the jaws", **sits)
            if proud >= 0
            else say("{fixed} at the fixed jaw, {grip} gripped, its top {proud} below that of the jaws", **sits)
        )
    straps = _straps(course, stages) if h.held is HeldIn.STRAPS and stages and judged else None
    if straps is not None:
        places = together((x.words for x in straps.places), say("; "))
        words = say("Straps {places}", places=places) if places else say("No strap finds room beside the cuts.")
    fixed = (f for f in SIDES if f not in (h.up, OPPOSITE[h.up]))
    return HeldView(
        id=h.id,
        title=say("Holding {number}: {said}", number=number, said=together(said, " · ")),
        words=capital(words),
        operations=tuple(o.id for o in h.operations),
        fixed=tuple(KeyWords(key=f, words=course.piece.words(f)) for f in fixed),
        section=_section(h, grip) if grip else None,
        hits=_hits(course, grip, stages) if grip and judged else (),
        straps=straps,
    )


def _straps(course: Course, stages: tuple[Stage, ...]) -> StrapsView:
    """The work under its straps from above."""
    s = strapping(course, stages)
    return StrapsView(
        work=FromAbove.of((*s.low, *s.high)),
        metal=s.metal,
        way=s.way,
        places=tuple(
            StrapView(nose=FromAbove.of(p.nose), strap=FromAbove.of(p.strap), words=p.words(course)) for p in s.places
        ),
    )


def _section(h: PlanHolding, grip: Grip) -> Section:
    """Across the jaws: what is gripped, every cut that goes below the top, the holes that go through."""
    cuts = tuple(replace(c, name="") for _, c in grip.cuts)
    holes = tuple(replace(d, name="") for _, d in grip.holes)
    return section_of(grip.work, grip.vise.jaws, grip.pair, cuts, holes, h.soft_bar)


def _hits(course: Course, grip: Grip, stages: tuple[Stage, ...]) -> tuple[str, ...]:
    said = held_with(course, grip, stages).said
    return tuple(dict.fromkeys(s.about for s in said if s.weight is Weight.HITS))


def _stage(course: Course, s: Stage, n: Settled) -> StageView:
    axes = axes_needed(s)
    return StageView(
        id=s.operation.id,
        holding=s.holding.id,
        kind=s.kind,
        title=kind_words()[s.kind],
        on=course.words(s) if s.operation.of else "",
        cutter=s.operation.cutter,
        lines=tuple(_numbers(course, s, n)),
        axes=axes,
        zeros=tuple(_zeros(course, s, a) for a in axes),
        minutes=in_places(here(course.shop.paces, s.kind.value, n.seconds) / 60, 1),
    )


def _zeros(course: Course, s: Stage, axis: str) -> tuple[KeyWords, ...]:
    """What may be the zero along an axis of the machine: faces and axes that lie across it."""
    number = "xyz".index(axis)
    part_axis = s.place.axes[number]
    found = []
    for name, thing in course.piece.part.frame.named.items():
        match thing:
            case Plane(axis=a) if a == part_axis and (number != 2 or thing.out == s.place.signs[2]):
                found.append(KeyWords(key=name, words=thing.words))
            case Axle(axis=a) if a != part_axis and number != 2:
                found.append(KeyWords(key=name, words=thing.words))
    found.append(KeyWords(key=KEPT, words=say("as before")))
    if axis == "x":
        found.append(KeyWords(key=STOP, words=say("the work stop")))
    return tuple(found)


def _numbers(course: Course, s: Stage, n: Settled) -> Iterator[NumberLine]:
    def line(name: str, label: str, value: str, field: str = "") -> NumberLine:
        working = tuple(StepView.of(x) for x in n.working.get(name, ()))
        return NumberLine(name=name, label=label, value=value, field=field, working=working)

    machine = course.shop.machine.unit
    if n.speed:
        said = say("{speed} rpm", speed=shown(n.speed, 0))
        if n.wanted not in (None, n.speed):
            said = say("{speed} rpm (calculated {wanted})", speed=shown(n.speed, 0), wanted=shown(n.wanted, 0))
        yield line("speed", say("Speed"), said, "speed")
    elif s.kind is OperationKind.TAP:
        yield line("speed", say("Speed"), say("by hand, guided from the spindle; spindle off"))
    if n.feed:
        yield line("feed", say("Feed"), _feed(n, machine, drilling=s.kind in DRILLING), "feed")
    if n.depths:
        yield line("passes", say("Passes down"), _passes(course, n), "depth")
        if n.across > 1:
            yield line("across", say("Side by side"), say("{count} passes", count=n.across), "width")
    if n.direction:
        yield line("direction", say("Direction"), _WAYS[n.direction], "direction")
    if n.entry and s.kind in MILLING:
        yield line("entry", say("Way in"), _ENTRIES[n.entry], "entry")
    if n.lock:
        yield line("lock", say("Locked"), together((a.upper() for a in n.lock), ", "), "lock")
    if s.kind in MILLING and s.cutter and not s.operation.leave:
        value = say("before the last pass") if n.measure else say("not before the last pass")
        yield line("measure", say("Measure"), value, "measure")
    if n.watts:
        watts = say("{watts} W of {motor} W", watts=round(n.watts), motor=course.shop.machine.spindle.watts)
        yield line("power", say("Power"), watts)
    if n.seconds:
        yield line("time", say("Time"), _time(course, s, n))


def _time(course: Course, s: Stage, n: Settled) -> str:
    reckoned = in_places(n.seconds / 60, 1)
    pace = course.shop.paces.get(s.kind.value)
    if pace is None:
        return say("{minutes} min", minutes=reckoned)
    return say(
        "{minutes} min here, by {runs} runs; {reckoned} by the rules",
        minutes=in_places(n.seconds * pace.ratio / 60, 1),
        runs=pace.runs,
        reckoned=reckoned,
    )


def _feed(n: Settled, unit: Unit, *, drilling: bool) -> str:
    assert n.feed is not None  # noqa: S101 (asked for by the caller)
    places = 1 if unit is Unit.INCH else 0
    rate = f"{in_places(n.feed / unit.in_mm, places)} {unit}/min"
    if drilling and n.chip:
        turn = f"{shown(n.chip / unit.in_mm, 4 if unit is Unit.INCH else 3)} {unit}"
        return say("{turn} a turn, {rate}", turn=turn, rate=rate)
    if n.per_turn:
        return say("{rate}, {seconds} s for a turn of the handle", rate=rate, seconds=in_places(n.per_turn, 1))
    return rate


def _passes(course: Course, n: Settled) -> str:
    """Passes as one says them: like ones together, the finishing pass by name."""
    *rough, last = n.depths
    finish = len(n.depths) > 1 and n.finish and last == n.finish
    if not finish:
        rough = list(n.depths)
    unit = course.piece.unit
    parts = []
    for depth, group in groupby(rough):
        count = len(list(group))
        text = in_places(depth / unit.in_mm, 3 if unit is Unit.INCH else 2)
        parts.append(f"{count} × {text}" if count > 1 else text)
    said = together(parts, " · ")
    if finish:
        return say("{rough} + finish {last}", rough=said, last=course.length(last))
    return f"{said} {unit}"


def _left(course: Course) -> Iterator[LeftView]:
    """Faces and features that no operation makes yet."""
    words = kind_words()
    faced = {
        f
        for s in course.stages
        if s.kind in (OperationKind.FACE, OperationKind.SIDE) and not s.operation.leave
        for f in s.faces
    }
    for face in SIDES:
        if face in course.piece.raw and face not in faced:
            kinds: tuple[KeyWords, ...] = (
                KeyWords(key=OperationKind.FACE, words=words[OperationKind.FACE]),
                KeyWords(key=OperationKind.SIDE, words=words[OperationKind.SIDE]),
            )
            up = KeyWords(key=face, words=course.piece.words(face))
            yield LeftView(of=face, words=course.piece.words(face), ups=(up,), kinds=kinds)
    done: dict[str, set[OperationKind]] = {}
    for s in course.stages:
        for f in s.features:
            done.setdefault(f.name, set()).add(s.kind)
    for f in course.piece.part.file.features:
        lacking = [k for k in stages_of(f) if k not in done.get(f.name, set())]
        if lacking:
            ups = tuple(KeyWords(key=u, words=course.piece.words(u)) for u in sorted(course.piece.ups[f.name]))
            kinds = tuple(KeyWords(key=k, words=words[k]) for k in lacking)
            yield LeftView(of=f.name, words=f.name, ups=ups, kinds=kinds)
