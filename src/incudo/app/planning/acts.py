"""What is done to a plan while it is built; nothing is kept here."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Command, Named
from incudo.app.parts.drafts import PickView
from incudo.app.parts.drawings import projection_of
from incudo.app.planning.looking import look_at
from incudo.app.planning.made_with import course_of, piece_for
from incudo.app.planning.setting import is_kept_back
from incudo.app.planning.views import (
    CutterChoice,
    FrameView,
    OfferList,
    OfferView,
    PlanFrames,
    PlanLook,
    TouchDrawing,
)
from incudo.core.kernel.errors import NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.parts.drawing import render
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.picks import picks
from incudo.core.parts.features.file import FaceName
from incudo.core.people.roles import Role
from incudo.core.planning import change, offer
from incudo.core.planning.course import Course
from incudo.core.planning.file import MOST_HOLDINGS, OPPOSITE, HeldIn, OperationKind, Plan, PlanHolding
from incudo.core.planning.judge import judge
from incudo.core.planning.picture import bare_frame, frame_of

Ref = Annotated[str, StringConstraints(max_length=90)]


class AddOperation(Command):
    """One operation more in a holding; without a cutter the one that one would reach for."""

    act: Literal["add"]
    holding: Ref
    operation: OperationKind
    of: Annotated[tuple[Ref, ...], Field(max_length=30)] = ()
    cutter: Ref | None = None


class AddHolding(Command):
    """One holding more; without a face at the fixed jaw the best one there is."""

    act: Literal["hold"]
    up: FaceName
    fixed: FaceName | None = None


class CureFault(Command):
    """Let Incudo change what a finding says."""

    act: Literal["cure"]
    code: Ref
    holding: Ref = ""
    operation: Ref = ""


PlanAct = Annotated[AddOperation | AddHolding | CureFault, Field(discriminator="act")]


class LookCommand(Command):
    """A plan as it is on the page, and what to do to it."""

    plan: Plan
    machine: uuid.UUID | None = None
    act: PlanAct | None = None


class FramesCommand(Command):
    """A plan, and which of its operations is shown large."""

    plan: Plan
    machine: uuid.UUID | None = None
    large: Ref = ""


class OffersCommand(Command):
    """What was touched, and in which holding something is to be done with it."""

    plan: Plan
    machine: uuid.UUID | None = None
    holding: Ref
    name: Ref


def plan_look(w: Work, who: Who, assignment: uuid.UUID, command: LookCommand) -> PlanLook:
    """A plan after an act on it, as it comes out; keeps nothing.

    Raises ``Refused`` for an act that cannot be done, ``NotPermitted`` for a cure while the plan is judged at the end.
    """
    course, file, machine = course_of(w, who, assignment, command.plan, command.machine, complete=False)
    hidden = who.role is Role.STUDENT and is_kept_back(w, file.assignment.id)
    if command.act is not None:
        if hidden and isinstance(command.act, CureFault):
            raise NotPermitted(say("This plan is judged when it is handed in."))
        plan = _done(course, command.act)
        course = Course(course.piece, plan, course.shop, complete=False)
    return look_at(course, Named(id=machine.id, name=machine.name), judged=not hidden)


def _done(course: Course, act: AddOperation | AddHolding | CureFault) -> Plan:
    match act:
        case AddOperation():
            cutter = act.cutter
            if cutter is None:
                cutter = offer.best_of(course, act.operation, act.of[0]) if act.of else ""
            return offer.with_operation(course.plan, act.holding, act.operation, act.of, cutter)
        case AddHolding():
            return _one_more(course, act)
        case CureFault():
            return _cured(course, act)


def _one_more(course: Course, act: AddHolding) -> Plan:
    plan = course.plan
    if len(plan.holdings) >= MOST_HOLDINGS:
        raise Refused.of("holdings", len(plan.holdings), say("must be at most {most}", most=MOST_HOLDINGS))
    if act.fixed in (act.up, OPPOSITE[act.up]):
        raise Refused.of("fixed", str(act.fixed), say("must be a face beside the one that looks up"))
    faces: tuple[FaceName, ...] = ("rear", "bottom", "front", "left", "top", "right")
    beside = [f for f in faces if f not in (act.up, OPPOSITE[act.up])]
    last = course.stages[-1] if course.stages else None
    true = [f for f in beside if f not in course.piece.raw or (last is not None and last.true(f))]
    fixed = act.fixed or (true or beside)[0]
    held = HeldIn.V_BLOCK if course.piece.bar else HeldIn.VISE
    new = PlanHolding(id=change.new_id(plan, f"h{len(plan.holdings) + 1}"), held=held, up=act.up, fixed=fixed)
    return plan.model_copy(update={"holdings": (*plan.holdings, new)})


def _cured(course: Course, act: CureFault) -> Plan:
    for f in judge(course):
        if (f.code, f.holding, f.operation) == (act.code, act.holding, act.operation) and f.fix is not None:
            return f.fix(course.plan)
    raise Refused.of("code", act.code, say("is not said of this plan any more, or only a person can cure it"))


def plan_frames(w: Work, who: Who, assignment: uuid.UUID, command: FramesCommand) -> PlanFrames:
    """The part before every operation with what it takes, and one of them large."""
    course, _, _ = course_of(w, who, assignment, command.plan, command.machine)
    frames, large = [], None
    for s, n in course.each():
        frames.append(FrameView.of(s.operation.id, frame_of(course, s, n)))
        if s.operation.id == command.large:
            large = FrameView.of(s.operation.id, frame_of(course, s, n, large=True))
    if large is None:
        held = next((h for h in command.plan.holdings if h.id == command.large), None)
        large = FrameView.of(command.large, bare_frame(course, held))
    return PlanFrames(frames=tuple(frames), large=large)


def plan_offers(w: Work, who: Who, assignment: uuid.UUID, command: OffersCommand) -> OfferList:
    """What can be done in a holding with what was touched, and with which cutters."""
    course, _, _ = course_of(w, who, assignment, command.plan, command.machine)
    held = next((h for h in command.plan.holdings if h.id == command.holding), None)
    if held is None:
        raise Refused.of("holding", command.holding, say("there is no such holding in this plan"))
    of = offer.touched(course.piece, command.name)
    found = offer.offers(course, held, command.name)
    return OfferList(
        name=of,
        words=course.piece.words(of),
        offers=tuple(
            OfferView(
                kind=o.kind,
                words=o.words,
                of=o.of,
                why_not=o.why_not,
                cutters=tuple(CutterChoice(name=c.name, place=c.place, why_not=c.why_not) for c in o.cutters),
            )
            for o in found
        ),
    )


def touch_drawing(w: Work, version: uuid.UUID) -> TouchDrawing:
    """The drawing of a part to touch. Raises ``Refused`` for one without features."""
    part = piece_for(w, version).part
    drawing, placed = found_sheet(part.project, speak, projection_of(w))
    return TouchDrawing(
        svg=render(drawing),
        width=drawing.width,
        height=drawing.height,
        picks=tuple(PickView.of(p) for p in picks(part.frame, placed)),
    )
