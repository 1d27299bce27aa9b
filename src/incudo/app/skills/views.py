"""Skills as they go out: a skill, a cell, one student's standing on it."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import date, datetime

from incudo.app.kernel.views import Named, View
from incudo.core.kernel.say import say, together
from incudo.core.skills.graph import (
    Demonstration,
    DryRunParts,
    ExerciseStandard,
    Hours,
    InspectedParts,
    Knowledge,
    OtherSkills,
    PlannedParts,
    Requirement,
    RigStandard,
    SkillGraph,
)
from incudo.core.skills.permission import Answer
from incudo.core.skills.standing import Met, State


class GroupView(View):
    """Skills that belong together."""

    id: str
    name: str


class PointView(View):
    """One point of an assessor's checklist."""

    number: int
    text: str
    critical: bool
    refresher: bool


class CautionView(View):
    """What can happen, and what to do."""

    happens: str
    do: str


class SkillView(View):
    """A skill of the graph."""

    id: str
    name: str
    group: str
    per_machine: bool
    operation: bool
    demonstrated: bool
    signed_by: str
    prerequisites: tuple[str, ...]
    evidence: tuple[str, ...]
    points: tuple[PointView, ...]
    mistakes: tuple[str, ...]
    cautions: tuple[CautionView, ...]
    after_days: int | None
    absence_days: int | None


class SkillName(View):
    """A skill in a table's head."""

    id: str
    name: str
    group: str


class CellView(View):
    """Where a student stands on a skill, over all machines if it is signed per machine."""

    skill: str
    state: State
    reason: str
    until: date | None
    machines: tuple[str, ...]


class GroupCell(View):
    """A group of skills of one student: how many hold, and the one that tells most."""

    group: str
    held: int
    count: int
    skill: str
    state: State
    reason: str


class EventView(View):
    """Something recorded about a skill: a sign-off, a withdrawal, a demonstration, evidence."""

    kind: str
    at: datetime
    by: str
    machine: str
    words: str


class MetView(View):
    """One kind of evidence that a skill asks for, and whether it is there."""

    kind: str
    key: str
    ok: bool
    words: str

    @classmethod
    def of(cls, m: Met) -> MetView:
        return cls(kind=m.kind, key=m.key, ok=m.ok, words=m.words)


class OnMachine(View):
    """A skill on one machine (or on all), with what may be done about it now."""

    machine: Named | None
    state: State
    reason: str
    until: date | None
    refresher: bool
    met: tuple[MetView, ...]
    may_sign: bool
    why_not: tuple[str, ...]
    called: uuid.UUID | None


class CheckToTake(View):
    """A knowledge check that is still to be passed."""

    bank: str
    words: str


class ExerciseToDo(View):
    """An exercise that is still to be done for a skill."""

    calculation: str
    name: str


class SkillStep(View):
    """A skill in reach and what can be done about it at once: a check, a rig, an exercise, a call to show it."""

    skill: str
    name: str
    state: State
    reason: str
    machine: Named | None
    checks: tuple[CheckToTake, ...]
    rig: str
    exercise: ExerciseToDo | None
    to_show: bool
    called: uuid.UUID | None


class StudentSkill(View):
    """One skill of one student with its evidence."""

    skill: SkillView
    on: tuple[OnMachine, ...]
    events: tuple[EventView, ...]


class MayView(View):
    """May they do this operation on this machine now?"""

    operation: str
    machine: str
    answer: Answer
    reasons: tuple[str, ...]


class StudentSkills(View):
    """All skills of one student, and what they may do now."""

    student: Named
    group: str
    groups: tuple[GroupView, ...]
    skills: tuple[StudentSkill, ...]
    may: tuple[MayView, ...]


def evidence_words(graph: SkillGraph, r: Requirement, names: Mapping[str, str]) -> str:
    """A kind of evidence that a skill asks for, in words."""
    match r:
        case Knowledge():
            return say("knowledge check: {get}", get=names.get(r.bank, r.bank))
        case Demonstration():
            return say("seen by an assessor")
        case InspectedParts():
            return say("one inspected part") if r.parts == 1 else say("{parts} inspected parts", parts=r.parts)
        case RigStandard():
            level = say(", level {level}", level=r.level) if r.level > 1 else ""
            return say(
                "{get}{level}, to standard {times} times in a row",
                get=names.get(r.rig, r.rig),
                level=level,
                times=r.times,
            )
        case ExerciseStandard():
            return say(
                "exercise {get}, {times} right in a row", get=names.get(r.calculation, r.calculation), times=r.times
            )
        case PlannedParts():
            return (
                say("one part planned alone, nothing wrong in the plan")
                if r.parts == 1
                else say("{parts} parts planned alone, nothing wrong in the plan", parts=r.parts)
            )
        case DryRunParts():
            return (
                say("one part cut in the dry run without a slip")
                if r.parts == 1
                else say("{parts} parts cut in the dry run without a slip", parts=r.parts)
            )
        case Hours():
            return say("{hours} hours at the machine", hours=r.hours)
        case OtherSkills():
            return say("{count} of: {listed}", count=r.count, listed=together((graph.get(s).name for s in r.of), ", "))
    raise AssertionError(r)


def caution_views(graph: SkillGraph, skill: str) -> tuple[CautionView, ...]:
    """What can happen, and what to do about it."""
    return tuple(CautionView(happens=c.happens, do=c.do) for c in graph.get(skill).cautions)


def skill_view(graph: SkillGraph, skill: str, names: Mapping[str, str]) -> SkillView:
    """A skill as it goes out; ``names`` are those of question banks and rigs."""
    s = graph.get(skill)
    short = {p.number for p in s.points(refresher=True)}
    return SkillView(
        id=s.id,
        name=s.name,
        group=s.group,
        per_machine=s.per_machine,
        operation=s.operation,
        demonstrated=s.demonstrated,
        signed_by=s.signed_by,
        prerequisites=s.prerequisites,
        evidence=tuple(evidence_words(graph, r, names) for r in s.evidence),
        points=tuple(
            PointView(number=p.number, text=p.text, critical=p.critical, refresher=p.number in short)
            for p in s.points()
        ),
        mistakes=s.mistakes,
        cautions=caution_views(graph, skill),
        after_days=s.lapses.after_days,
        absence_days=s.lapses.absence_days,
    )


def group_views(graph: SkillGraph) -> tuple[GroupView, ...]:
    """The groups of skills in the order of work."""
    return tuple(GroupView(id=g.id, name=g.name) for g in graph.groups)
