"""From rows to the core's records: the graph, the banks, and what is recorded about students."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Iterable
from itertools import groupby

from incudo.app.kernel.unit import Work
from incudo.app.shop.events import event_of
from incudo.app.skills.graph import names_in_words, skill_graph
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.versions import project_of
from incudo.core.session.at_machine import hours
from incudo.core.skills.evidence import Act, ActKind, Evidence, EvidenceKind, Record
from incudo.core.skills.graph import DryRunParts, Hours
from incudo.core.skills.standing import Book
from incudo.store import schema as t
from incudo.store.cutting import run as run_store
from incudo.store.planning import plans as plan_store
from incudo.store.practice import exercises as exercise_store
from incudo.store.practice import rigs as rig_store
from incudo.store.session import sessions as session_store
from incudo.store.skills import acts as store
from incudo.store.skills import knowledge as knowledge_store


def skill_records(w: Work, students: Iterable[uuid.UUID]) -> dict[uuid.UUID, Record]:
    """What is recorded about the skills of several students, in a fixed number of queries."""
    wanted = list(students)
    if not wanted:
        return {}
    acts: dict[uuid.UUID, list[Act]] = defaultdict(list)
    for row, by, seq in store.sign_offs(w.db, wanted):
        acts[row.student_id].append(_act(ActKind.SIGN_OFF, row, by, row.note, seq))
    for gone, by, seq in store.withdrawals(w.db, wanted):
        acts[gone.student_id].append(_act(ActKind.WITHDRAWAL, gone, by, gone.reason, seq))
    for back, by, seq in store.restorations(w.db, wanted):
        acts[back.student_id].append(_act(ActKind.RESTORATION, back, by, back.reason, seq))
    evidence = _inspected(w, wanted)
    for student, bank, result in knowledge_store.results(w.db, wanted):
        words = say("{right} of {asked} right", right=result.right, asked=result.asked)
        evidence[student].append(Evidence(EvidenceKind.KNOWLEDGE, bank, result.at, words, passed=result.passed))
    for y in rig_store.results(w.db, wanted):
        words = say("level {level}, {passes} passes", level=y.level, passes=y.passes)
        evidence[y.student].append(Evidence(EvidenceKind.RIG, y.rig, y.at, words, passed=y.passed, level=y.level))
    for x in exercise_store.results(w.db, wanted):
        evidence[x.student].append(Evidence(EvidenceKind.EXERCISE, x.calculation, x.at, x.slip, passed=x.right))
    for p in plan_store.planned(w.db, wanted):
        name, times = project_of(p.content).name, p.number
        words = (
            say("{name}, good as it was first handed in", name=name)
            if times == 1
            else say("{name}, handed in {times} times until it was good", name=name, times=times)
        )
        evidence[p.student].append(Evidence(EvidenceKind.PLAN, str(p.project), p.at, words))
    if any(isinstance(r, DryRunParts) for s in skill_graph(w).skills for r in s.evidence):
        for d in run_store.without_a_slip(w.db, wanted):
            words = say("{name}, without a slip", name=project_of(d.content).name)
            evidence[d.student].append(Evidence(EvidenceKind.DRY_RUN, str(d.project), d.at, words))
    if any(isinstance(r, Hours) for s in skill_graph(w).skills for r in s.evidence):
        for student, worked in _hours(w, wanted).items():
            evidence[student] += worked
    presence = session_store.presences(w.db, wanted)
    return {s: Record(tuple(acts[s]), tuple(evidence[s]), tuple(presence[s])) for s in wanted}


def _inspected(w: Work, students: list[uuid.UUID]) -> dict[uuid.UUID, list[Evidence]]:
    found: dict[uuid.UUID, list[Evidence]] = defaultdict(list)
    for part in store.accepted_parts(w.db, students):
        project = project_of(part.content)
        for gives in project.gives:
            if set(gives.characteristics) <= part.counting:
                numbers = together((str(n) for n in gives.characteristics), ", ")
                words = say("{name}, characteristics {numbers}", name=project.name, numbers=numbers)
                found[part.student].append(Evidence(EvidenceKind.INSPECTED, gives.skill, part.at, words))
    return found


def _hours(w: Work, students: list[uuid.UUID]) -> dict[uuid.UUID, list[Evidence]]:
    found: dict[uuid.UUID, list[Evidence]] = defaultdict(list)
    rows = session_store.worked(w.db, students)
    for (_, machine), events in groupby(rows, key=lambda e: (e.meeting_id, e.machine_id)):
        for person, since, minutes in hours(event_of(e) for e in events):
            found[uuid.UUID(person)].append(
                Evidence(EvidenceKind.HOURS, "", since, machine=str(machine), minutes=minutes)
            )
    return found


def skill_books(w: Work, students: Iterable[uuid.UUID]) -> dict[uuid.UUID, Book]:
    """What follows from the records of several students now."""
    graph, names = skill_graph(w), names_in_words(w)
    records = skill_records(w, students)
    return {s: Book(graph, record, w.now, names, w.zone) for s, record in records.items()}


def skill_book(w: Work, student: uuid.UUID) -> Book:
    """What follows from the record of one student now."""
    return skill_books(w, [student])[student]


def _act(kind: ActKind, row: t.SignOff | t.Withdrawal | t.Restoration, by: str, words: str, seq: int) -> Act:
    machine = str(row.machine_id) if row.machine_id else None
    return Act(kind, row.skill, machine, row.at, by, words, seq=seq)
