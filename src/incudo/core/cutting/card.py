"""The run card: every step of a plan at one machine, in the order of the hands.

Steps are worked out from the plan and the dials at the moment they are shown; what was measured on the way goes into
the passes that follow it. Lengths in mm.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from fractions import Fraction

from incudo.core.cutting import holes, milled
from incudo.core.cutting.at_work import AtWork
from incudo.core.cutting.slides import Ring, Slides
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.kernel.say import capital, say, together
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, OperationKind, PlanHolding
from incudo.core.planning.gripping import grip_of
from incudo.core.planning.kinds import MILLING, kind_words
from incudo.core.planning.limits import DEBURRING, HOLDING, MEASURING
from incudo.core.planning.stages import Stage
from incudo.core.planning.strapping import strapping
from incudo.core.shop.machine import Axis


def run_card(course: Course, rings: Mapping[Axis, Ring], readings: Mapping[str, Fraction]) -> tuple[RunStep, ...]:
    """All steps of a plan. ``readings`` are what was measured so far, in mm, by the step that asked for it."""
    work = AtWork(course, Slides.on(rings), readings)
    found: list[RunStep] = []
    for number, (holding, stages) in enumerate(course.held, 1):
        if not stages:
            continue
        work.held_anew()
        found.append(_hold(course, number, holding, stages))
        for stage in stages:
            head = work.title(stage)
            found += (replace(s, head=head if s.title != head else "") for s in _operation(work, stage))
    return tuple(found)


def _operation(work: AtWork, stage: Stage) -> Iterator[RunStep]:
    numbers = work.course.settled[stage.index]
    if stage.kind in (OperationKind.DEBURR, OperationKind.MEASURE):
        yield _by_hand(work, stage)
    elif stage.kind in MILLING:
        yield from milled.steps(work, stage, numbers)
    else:
        yield from holes.steps(work, stage, numbers)


def _hold(course: Course, number: int, holding: PlanHolding, stages: tuple[Stage, ...]) -> RunStep:
    """How the work is put in: what lies where, how much is gripped, in the order in which one does it."""
    words, length = course.piece.words, course.length
    do = [say("{up} up, {fixed} to the fixed jaw.", up=capital(words(holding.up)), fixed=words(holding.fixed))]
    grip = grip_of(course, holding, stages)
    if holding.held is HeldIn.V_BLOCK:
        do = [say("In the V-block, {up} up.", up=words(holding.up))]
    elif holding.held is HeldIn.STRAPS:
        ways = {"up": words(holding.up), "rear": words(holding.fixed)}
        do = [
            say("On the table under {count} strap clamps, {up} up, {rear} at the rear.", count=holding.straps, **ways)
        ]
        found = strapping(course, stages)
        places = [p.words(course) for p in found.places]
        if len(places) > 1:
            long, where = f"{found.long.text} {found.long.unit}", together(places, say("; "))
            do.append(say("Straps {long} long, clear of the cutter: {places}.", long=long, places=where))
    elif grip is not None:
        under = (
            say("On parallels {height} high.", height=length(grip.pair.height))
            if grip.pair
            else say("On the bed of the vise, without parallels.")
        )
        do.append(under)
        proud = grip.work.height - grip.top
        if proud > 0:
            do.append(say("{proud} above the jaws.", proud=length(proud)))
        if holding.soft_bar:
            do.append(say("Soft round bar between the moving jaw and the rough face."))
        if float(holding.out) > 0:
            out = f"{holding.out} {course.piece.unit}"
            do.append(say("The right end sticks out {out} past the jaws.", out=out))
    if holding.stop:
        do.append(
            say("Against the work stop on the left.")
            if holding.stop == "left"
            else say("Against the work stop on the right.")
        )
    return RunStep(
        id=f"{holding.id}.hold",
        kind=StepKind.HOLD,
        holding=holding.id,
        operation="",
        title=say("Holding {number}: clamp the work", number=number),
        do=tuple(do),
        why=(say("Deburr the edges, clean the jaws, tap the work down until the parallels do not slide."),),
        cautions=(say("Spindle stopped. Remove the vise handle before you start."),),
        seconds=Fraction(HOLDING),
    )


def _by_hand(work: AtWork, stage: Stage) -> RunStep:
    deburr = stage.kind is OperationKind.DEBURR
    of = together((work.course.piece.words(n) for n in stage.operation.of), ", ")
    kind = kind_words()[stage.kind]
    return RunStep(
        id=f"{stage.operation.id}.do",
        kind=StepKind.HAND,
        holding=stage.holding.id,
        operation=stage.operation.id,
        title=say("{kind}: {of}", kind=kind, of=of) if of else kind,
        do=(
            say("File or scrape every edge you cut until a fingernail does not catch.")
            if deburr
            else say("Clean the faces, let the part cool, measure it."),
        ),
        cautions=(say("Spindle stopped, cutter covered or removed. Clear chips with a brush, never by hand."),),
        seconds=Fraction(DEBURRING if deburr else MEASURING),
    )
