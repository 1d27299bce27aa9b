"""Saving a plan, handing it in, deciding about it; and the page that shows where it stands."""

from __future__ import annotations

import json
import uuid
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, Note
from incudo.app.parts.attempts import newest_attempt, own_attempt, station_machine, tick_by_itself
from incudo.app.planning.looking import costs_view, faces_of, look_at, pairs_of, ways_to_hold
from incudo.app.planning.made_with import course_of, piece_for
from incudo.app.planning.setting import Task, TaskCommand, is_kept_back, keep_task, read_task
from incudo.app.planning.views import KeyWords, OwnView, PlanDecided, PlanPage, PlanRemark, PlanSaved
from incudo.core.kernel.errors import Conflict, NotFound, NotPermitted, Refused
from incudo.core.kernel.say import packed, say
from incudo.core.parts.stations import Station
from incudo.core.people.roles import Role
from incudo.core.planning.compare import costs, differences
from incudo.core.planning.course import Course
from incudo.core.planning.file import Plan, read_plan
from incudo.core.planning.judge import judge
from incudo.core.planning.own import own_plan
from incudo.core.planning.rules.base import FaultWeight, Finding
from incudo.store import schema as t
from incudo.store.planning import plans as store
from incudo.store.shop import machines


class SavePlan(Command):
    """Save a plan. ``number`` is that of the saved plan it was made from, 0 for the first."""

    id: uuid.UUID
    number: Annotated[int, Field(ge=0)]
    plan: Plan
    machine: uuid.UUID | None = None


class HandInPlan(Command):
    """This saved plan is mine: judge it."""

    id: uuid.UUID
    number: Annotated[int, Field(ge=1)]


class RemarkAt(Command):
    """A remark at an operation."""

    operation: Annotated[str, StringConstraints(max_length=40)]
    words: Annotated[str, StringConstraints(min_length=1, max_length=400, strip_whitespace=True)]


class DecidePlan(Command):
    """Approve a plan, or send it back with remarks."""

    id: uuid.UUID
    approved: bool
    remark: Note = ""
    remarks: Annotated[tuple[RemarkAt, ...], Field(max_length=60)] = ()


class OwnCommand(Command):
    """The plan that Incudo's own is held against."""

    plan: Plan
    machine: uuid.UUID | None = None


def plan_page(w: Work, who: Who, assignment: uuid.UUID, machine: uuid.UUID | None = None) -> PlanPage:
    """Where the plan of a job card stands. Raises ``NotFound`` for somebody else's."""
    file = own_attempt(w, who, assignment)
    rows = store.of_card(w.db, assignment)
    task = read_task(rows.task)
    student = who.role is Role.STUDENT
    chosen = machine or (rows.version.machine_id if rows.version else None) or file.assignment.machine_id
    cannot, found = "", None
    try:
        plan = _plan_now(rows.version, task)
        if chosen is not None:
            planned, _, place = course_of(w, who, assignment, plan, chosen, complete=rows.hand_in is not None)
            found = planned, Named(id=place.id, name=place.name)
        else:
            piece_for(w, file.version.id)
    except Refused as refused:
        cannot = str(refused.words)
    handed_in = rows.hand_in is not None and rows.decision is None
    # what was judged at the end is seen when it was handed in
    judged = not student or not is_kept_back(w, assignment)
    look = look_at(*found, judged=judged) if found else None
    course = found[0] if found else None
    saved = store.versions(w.db, assignment)
    return PlanPage(
        assignment=assignment,
        name=file.project.name,
        student=Named(id=file.student.id, name=file.student.name),
        version=file.version.id,
        unit=file.project.unit,
        stock=file.project.stock,
        machine=station_machine(w, file),
        machines=tuple(Named(id=m.id, name=m.name) for m in machines.machines(w.db)),
        mode=task.mode,
        gaps=task.gaps,
        judged=task.judged,
        approval=task.approval,
        task=task.number,
        number=rows.version.number if rows.version else 0,
        saved=tuple(PlanSaved(number=v.number, by=by, at=v.at) for v, by in saved),
        changed=tuple(_changed(rows.version, course)) if course and rows.version else (),
        handed_in=rows.hand_in.at if rows.hand_in and handed_in else None,
        hand_in=rows.hand_in.id if rows.hand_in and handed_in else None,
        approved=_is_approved(rows),
        waiting=handed_in and task.approval,
        decisions=tuple(_decided(h, d, by, file.student.id) for h, d, by in store.decisions(w.db, assignment)),
        may_see_own=not student or rows.hand_in is not None,
        cannot=cannot,
        faces=faces_of(course) if course else (),
        things=_things(course) if course else (),
        ways=ways_to_hold(course) if course else (),
        parallels=pairs_of(course) if course else (),
        vises=tuple(v.name for v in course.shop.vises) if course else (),
        look=look,
    )


def _is_approved(rows: store.PlanRows) -> bool:
    """Whether the plan as it is saved now was approved: one that was changed since is not."""
    approved = rows.hand_in if rows.decision is not None and rows.decision.approved else None
    return approved is not None and rows.version is not None and approved.version_id == rows.version.id


def _plan_now(version: t.PlanVersion | None, task: Task) -> Plan:
    """The plan that counts: the saved one, else what was given, else an empty one."""
    if version is not None:
        return read_plan(json.loads(version.content))
    return task.given or Plan()


def _things(course: Course) -> tuple[KeyWords, ...]:
    """What can be touched to do something with it: faces that have to be milled, and features."""
    raw = (KeyWords(key=f, words=course.piece.words(f)) for f in sorted(course.piece.raw))
    return (*raw, *(KeyWords(key=f, words=f) for f in course.piece.features))


def _decided(h: t.PlanHandIn, d: t.PlanDecision, by: str, student: uuid.UUID) -> PlanDecided:
    """What was decided; where nobody had to, it was the judge."""
    by = say("Incudo") if d.by_id == student else by
    remarks = tuple(PlanRemark(operation=r["operation"], words=r["words"]) for r in json.loads(d.remarks))
    return PlanDecided(number=h.number, approved=d.approved, remark=d.remark, remarks=remarks, by=by, at=d.at)


def _numbers(course: Course) -> dict[str, dict[str, str]]:
    """What is set at the machine, so that it is seen later what has changed."""
    found = {}
    for s, n in course.each():
        made = {"cutter": s.operation.cutter}
        if n.speed:
            made["speed"] = str(round(n.speed))
        if n.feed:
            made["feed"] = f"{float(n.feed):.1f}"
        found[s.operation.id] = made
    return found


def _changed(version: t.PlanVersion, course: Course) -> list[str]:
    """Numbers that come out otherwise than when the plan was saved: a reground cutter, another belt, other rules."""
    then, now = json.loads(version.numbers), _numbers(course)
    found = []
    for s, _ in course.each():
        was, is_ = then.get(s.operation.id, {}), now[s.operation.id]
        if was.get("speed") and was.get("speed") != is_.get("speed"):
            found.append(
                say(
                    "{name}: {was} rpm when it was saved, {now} rpm now.",
                    name=course.words(s),
                    was=was["speed"],
                    now=is_.get("speed", "0"),
                )
            )
        elif was.get("feed") and was.get("feed") != is_.get("feed"):
            found.append(say("{name}: the feed works out differently than when it was saved.", name=course.words(s)))
    return found


def save_plan(w: Work, who: Who, assignment: uuid.UUID, command: SavePlan) -> PlanPage:
    """Save a plan and see the page."""
    keep_plan(w, who, assignment, command)
    return plan_page(w, who, assignment)


def keep_plan(w: Work, who: Who, assignment: uuid.UUID, command: SavePlan) -> t.PlanVersion:
    """Save a plan of one's own job card, or as an instructor of anybody's.

    Raises ``Conflict`` when it was saved from somewhere else meanwhile, or is handed in; the plan on the page stays.
    """
    own = own_attempt(w, who, assignment)
    course, file, machine = course_of(w, who, assignment, command.plan, command.machine)
    # nothing is kept that cannot be read again
    numbers = json.dumps(_numbers(course))
    if w.db.get(t.PlanVersion, command.id) is None:
        rows = store.of_card(w.db, assignment)
        if (rows.version.number if rows.version else 0) != command.number:
            raise Conflict(say("This plan was saved from another device meanwhile: look at that first."))
        if rows.hand_in is not None and rows.decision is None:
            raise Conflict(say("This plan is handed in: wait for the decision."))
        if own.over:
            raise Conflict(say("This piece is finished: its plan stays as it was."))
    row = t.PlanVersion(
        id=command.id,
        assignment_id=file.assignment.id,
        number=command.number + 1,
        machine_id=machine.id,
        person_id=who.id,
        content=command.plan.model_dump_json(),
        numbers=numbers,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "numbers"))
    return row


def hand_in_plan(w: Work, who: Who, assignment: uuid.UUID, command: HandInPlan) -> PlanPage:
    """Hand the saved plan in and see the page."""
    keep_plan_hand_in(w, who, assignment, command)
    return plan_page(w, who, assignment)


def keep_plan_hand_in(w: Work, who: Who, assignment: uuid.UUID, command: HandInPlan) -> None:
    """The student hands the saved plan in; what the judge says of it is kept with it.

    A plan that would hurt somebody, break something or spoil the part is kept as such and sent back at once, by
    nobody's decision; a sound one that nobody has to approve ticks the station. Raises ``Conflict``.
    """
    file = own_attempt(w, who, assignment)
    rows = store.of_card(w.db, assignment)
    fresh = w.db.get(t.PlanHandIn, command.id) is None
    if fresh:
        if rows.version is None or rows.version.number != command.number:
            raise Conflict(say("Another plan was saved meanwhile: look at that first."))
        if rows.hand_in is not None and rows.decision is None:
            raise Conflict(say("This plan is handed in already."))
        if file.over:
            raise Conflict(say("This piece is finished: its plan stays as it was."))
    version = rows.version
    if version is None:
        raise NotFound(say("There is no saved plan."))
    course, _, _ = course_of(w, who, assignment, read_plan(json.loads(version.content)), version.machine_id)
    findings = [f for f in judge(course) if f.weight is not FaultWeight.PERSON]
    number = rows.hand_in.number if rows.hand_in else 0
    row = t.PlanHandIn(
        id=command.id,
        assignment_id=assignment,
        number=number + 1 if fresh else number,
        version_id=version.id,
        findings=json.dumps([_kept(f) for f in findings], ensure_ascii=False),
        at=w.now,
    )
    if not insert_once(w, row, ignoring=("at", "number", "findings", "version_id")):
        return
    task, sound = read_task(rows.task), not any(f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS) for f in findings)
    if sound and not task.approval:
        _decide(w, row, who.id, approved=True, remark="", remarks=())
        tick_by_itself(w, file, Station.PLAN, who.id)
    elif not sound and not task.approval:
        _decide(w, row, who.id, approved=False, remark="", remarks=())


def _kept(f: Finding) -> dict[str, str]:
    return {"code": f.code, "weight": f.weight, "operation": f.operation, "words": packed(f.words)}


def _decide(
    w: Work, hand_in: t.PlanHandIn, by: uuid.UUID, *, approved: bool, remark: str, remarks: tuple[RemarkAt, ...]
) -> None:
    # nobody had to decide: the decision has its id from the hand-in, so that it is made once
    row = t.PlanDecision(
        id=uuid.uuid5(hand_in.id, "decision"),
        plan_hand_in_id=hand_in.id,
        by_id=by,
        approved=approved,
        remark=remark,
        remarks=json.dumps([r.model_dump() for r in remarks], ensure_ascii=False),
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))


def decide_plan(w: Work, who: Who, hand_in: uuid.UUID, command: DecidePlan) -> PlanPage:
    """An instructor approves a plan or sends it back, with remarks at its operations.

    Raises ``Conflict`` for one that is decided already, ``Refused`` for a remark at what is not in it and for one that
    is sent back without a word.
    """
    row = find(w, t.PlanHandIn, hand_in, "plan")
    known = w.db.get(t.PlanDecision, command.id)
    rows = store.of_card(w.db, row.assignment_id)
    if known is None and rows.decision is not None and rows.hand_in is not None and rows.hand_in.id == hand_in:
        raise Conflict(say("This plan is decided already."))
    plan = read_plan(json.loads(find(w, t.PlanVersion, row.version_id, "plan").content))
    ids = {o.id for _, o in plan.each()}
    for n, r in enumerate(command.remarks):
        if r.operation not in ids:
            raise Refused.of(f"remarks.{n}.operation", r.operation, say("must be an operation of this plan"))
    if not command.approved and not command.remark and not command.remarks:
        raise Refused.of("remark", "", say("must say what to do instead"))
    decision = t.PlanDecision(
        id=command.id,
        plan_hand_in_id=hand_in,
        by_id=who.id,
        approved=command.approved,
        remark=command.remark,
        remarks=json.dumps([r.model_dump() for r in command.remarks], ensure_ascii=False),
        at=w.now,
    )
    if insert_once(w, decision, ignoring=("at",)) and command.approved:
        file = newest_attempt(w, row.assignment_id)
        tick_by_itself(w, file, Station.PLAN, file.student.id)
    return plan_page(w, who, row.assignment_id)


def set_plan_task(w: Work, who: Who, assignment: uuid.UUID, command: TaskCommand) -> PlanPage:
    """Set how a job card is planned and see the page."""
    keep_task(w, who, assignment, command)
    return plan_page(w, who, assignment, command.machine)


def own_beside(w: Work, who: Who, assignment: uuid.UUID, command: OwnCommand) -> OwnView:
    """Incudo's own plan beside another. A student sees it after their own try.

    Raises ``NotPermitted`` before that.
    """
    rows = store.of_card(w.db, assignment)
    course, _, machine = course_of(w, who, assignment, command.plan, command.machine)
    if who.role is Role.STUDENT and rows.hand_in is None:
        raise NotPermitted(say("Hand your own plan in first: then you see Incudo's beside it."))
    mine = costs_view(course, costs(course))
    own = own_plan(course.piece, course.shop)
    if own.plan is None:
        return OwnView(look=None, reasons=own.reasons, mine=mine, own=None, differences=())
    other = Course(course.piece, own.plan, course.shop)
    return OwnView(
        look=look_at(other, Named(id=machine.id, name=machine.name)),
        reasons=own.reasons,
        mine=mine,
        own=costs_view(other, costs(other)),
        differences=differences(course, other),
    )
