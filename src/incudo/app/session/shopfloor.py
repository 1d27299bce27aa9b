"""The shop at one moment: what a start depends on besides skills, and what runs."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import AttemptFile
from incudo.app.people.names import names_of
from incudo.app.session.calls import holds_of, load_holds
from incudo.app.session.now import states_at_machines, supervisors
from incudo.app.shop.machines import machine_names
from incudo.app.shop.tags import closed_words, stop_words
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.standings import standing_of, standings
from incudo.app.skills.views import CautionView, caution_views
from incudo.core.kernel.say import say, together
from incudo.core.parts.holds import BEFORE_START, WORDS
from incudo.core.people.notice import VERSION
from incudo.core.people.roles import Role
from incudo.core.session.at_machine import AtMachine, Run
from incudo.core.skills.permission import Answer, Assessor, Confirmation, Decision, Here, decide
from incudo.core.skills.standing import Standings
from incudo.store import schema as t
from incudo.store.people import people as people_store
from incudo.store.planning import plans
from incudo.store.session import sessions as store
from incudo.store.shop import devices as device_store


class RunView(View):
    """What runs here, and whether it may still."""

    person: Named
    operation: str
    since: datetime
    beside: str
    still_may: bool
    reasons: tuple[str, ...]
    cautions: tuple[CautionView, ...]


@dataclass(frozen=True)
class Shop:
    """What holds for everybody at this moment, read once."""

    meeting: t.Meeting | None
    supervisors: tuple[Named, ...]
    open: frozenset[uuid.UUID]
    present: frozenset[uuid.UUID]
    states: Mapping[uuid.UUID, AtMachine]
    closed: Mapping[uuid.UUID, str]
    stopped: str
    staff: tuple[tuple[t.Person, Assessor], ...]
    names: Mapping[str, str]


def shop_now(w: Work, *, only_reads: bool = False) -> Shop:
    """The shop at this moment: session, roll, machines, tags, stop.

    ``only_reads``: nothing is written in this use case, so that who is here may come from its memory.
    """
    meeting, open_, present = _session(w, only_reads=only_reads)
    return Shop(
        meeting=meeting,
        supervisors=supervisors(w, meeting) if meeting else (),
        open=open_,
        present=present,
        states=states_at_machines(w, meeting) if meeting else {},
        closed=closed_words(w),
        stopped=stop_words(w),
        staff=_staff(w),
        names=machine_names(w),
    )


def _session(w: Work, *, only_reads: bool) -> tuple[t.Meeting | None, frozenset[uuid.UUID], frozenset[uuid.UUID]]:
    """The session that is open, the machines that are opened in it, and who is here."""
    if not only_reads or "session" not in w.memo:
        meeting = store.open_meeting(w.db)
        roll = store.roll(w.db, meeting.id) if meeting else {}
        here = frozenset(p for p, r in roll.items() if r.presence in ("here", "late"))
        found = meeting, frozenset(store.open_machines(w.db, meeting.id)) if meeting else frozenset[uuid.UUID](), here
        if not only_reads:
            return found
        w.memo["session"] = found
    kept: tuple[t.Meeting | None, frozenset[uuid.UUID], frozenset[uuid.UUID]] = w.memo["session"]
    return kept


def _staff(w: Work) -> tuple[tuple[t.Person, Assessor], ...]:
    """Who may assess, with what an assistant may sign; read once in a use case."""
    if "staff" not in w.memo:
        delegated, nothing = people_store.delegations(w.db), frozenset[str]()
        w.memo["staff"] = tuple(
            (p, Assessor(str(p.id), Role(p.role), delegated.get(p.id, nothing))) for p in people_store.staff(w.db)
        )
    found: tuple[tuple[t.Person, Assessor], ...] = w.memo["staff"]
    return found


def here(
    w: Work,
    shop: Shop,
    student: uuid.UUID,
    machine: uuid.UUID,
    operation: str,
    files: Sequence[AttemptFile] = (),
) -> Here:
    """What the decision about a start needs to know besides skills: ``files`` are the parts whose holds count."""
    state = shop.states.get(machine, AtMachine())
    closed = [shop.stopped] if shop.stopped else []
    if tag := shop.closed.get(machine):
        closed.append(say("{names} is tagged out: {tag}", names=shop.names[str(machine)], tag=tag))
    unapproved = plans.unapproved(w.db, {f.assignment.id for f in files})
    closed += [
        say("The plan of {part} has to be approved before the first start.", part=f.project.name)
        for f in files
        if f.assignment.id in unapproved
    ]
    load_holds(w, files)
    waiting = (h.hold for f in files for h in holds_of(w, f) if h.hold in BEFORE_START and not h.released)
    holds = tuple(dict.fromkeys(WORDS[h] for h in waiting))
    return Here(
        closed=tuple(closed),
        session=shop.meeting is not None,
        supervisor=together((s.name for s in shop.supervisors), ", "),
        machine_open=machine in shop.open,
        present=student in shop.present,
        notice_signed=_notice_signed(w, shop, student),
        at_handles=state.handles == str(student),
        listed=state.listed,
        holds=holds,
        assessors=assessors_for(w, shop, student, operation),
        confirmed=_confirmation(w, state, student),
    )


def _notice_signed(w: Work, shop: Shop, student: uuid.UUID) -> bool:
    """Whether a student has signed the notice of now; read once for everybody who runs a machine."""
    known: dict[uuid.UUID, bool] = w.memo.setdefault("notices", {})
    if student not in known:
        asked = {student} | {uuid.UUID(s.run.person) for s in shop.states.values() if s.run}
        signed = store.notices(w.db, asked)
        known |= {p: (p, VERSION) in signed for p in asked}
    return known[student]


def assessors_for(w: Work, shop: Shop, student: uuid.UUID, operation: str) -> tuple[str, ...]:
    """Who may stand beside a student for an operation, by name."""
    skill = skill_graph(w).get(operation)
    return tuple(p.name for p, a in shop.staff if p.id != student and not a.may_assess(skill))


def _confirmation(w: Work, state: AtMachine, student: uuid.UUID) -> Confirmation | None:
    e = state.confirmed
    if e is None or e.until is None or e.person != str(student):
        return None
    by = names_of(w, [uuid.UUID(e.by)])
    return Confirmation(e.operation, by.get(uuid.UUID(e.by), ""), e.until)


def run_decision(w: Work, shop: Shop, machine: uuid.UUID, book: Standings | None = None) -> Decision | None:
    """The decision for whoever runs this machine, asked again now; ``None`` when nothing runs.

    Hold points belong to the start and are not asked again.
    """
    run = shop.states.get(machine, AtMachine()).run
    return None if run is None else _decision_on(w, shop, machine, run, book)


def _decision_on(w: Work, shop: Shop, machine: uuid.UUID, run: Run, book: Standings | None) -> Decision:
    student = uuid.UUID(run.person)
    facts = here(w, shop, student, machine, run.operation)
    return decide(book or standing_of(w, student), (run.operation,), str(machine), facts)


def as_listed(facts: Here) -> Here:
    """The same, the list taken as done: it stands on the page beside the answers."""
    return replace(facts, listed=True)


#: A device that was silent for so long has lost its link.
SILENT = timedelta(seconds=10)


def device_of(w: Work, machine: uuid.UUID) -> t.DeviceState | None:
    """What the interlock of a machine reported last, if it did so just now."""
    if "devices" not in w.memo:
        w.memo["devices"] = device_store.device_states(w.db)
    found: t.DeviceState | None = w.memo["devices"].get(machine)
    return found if found is not None and w.now - found.at < SILENT else None


def run_view(w: Work, shop: Shop, machine: uuid.UUID, book: Standings | None = None) -> RunView | None:
    """What runs at a machine, and whether it may still."""
    run = shop.states.get(machine, AtMachine()).run
    if run is None:
        return None
    decision = _decision_on(w, shop, machine, run, book)
    ids = [uuid.UUID(p) for p in (run.person, run.beside) if p]
    names = names_of(w, ids)
    return RunView(
        person=Named(id=uuid.UUID(run.person), name=names[uuid.UUID(run.person)]),
        operation=skill_graph(w).get(run.operation).name,
        since=run.since,
        beside=names.get(uuid.UUID(run.beside), "") if run.beside else "",
        still_may=decision.starts,
        reasons=why_not_still(decision),
        cautions=caution_views(skill_graph(w), run.operation),
    )


def why_not_still(decision: Decision) -> tuple[str, ...]:
    """Why a run may not go on, in words; empty when it may."""
    if decision.starts:
        return ()
    if decision.answer is Answer.WITH_ASSESSOR:
        return (say("The time with an assessor beside you is over."), *decision.reasons)
    return decision.reasons


def runs_now(w: Work, shop: Shop) -> dict[uuid.UUID, Decision]:
    """The decision for every run, in a fixed number of queries for all who run."""
    running = {m: s.run for m, s in shop.states.items() if s.run}
    books = standings(w, {uuid.UUID(r.person) for r in running.values()}) if running else {}
    found = {}
    for machine, run in running.items():
        decision = run_decision(w, shop, machine, books[uuid.UUID(run.person)])
        if decision is not None:
            found[machine] = decision
    return found
