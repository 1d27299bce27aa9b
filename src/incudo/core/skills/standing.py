"""Where one student stands on each skill, at one moment.

Everything is a function of the record, the graph and the moment. Time never
runs backwards: the moment is at least as late as the newest act of the record,
and acts stand in the order of the register, so a clock that is moved back changes
nothing. The order in which records came in does not matter.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from enum import StrEnum
from typing import Protocol

from incudo.core.kernel.say import say, together
from incudo.core.skills.evidence import Act, ActKind, Evidence, EvidenceKind, Record
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
    Skill,
    SkillGraph,
)
from incudo.core.skills.streak import streak_of


class State(StrEnum):
    """Where a student stands on a skill."""

    LOCKED = "locked"
    OPEN = "open"
    READY = "ready"
    SIGNED = "signed"
    DUE_SOON = "due_soon"
    LAPSED = "lapsed"
    SUSPENDED = "suspended"
    WITHDRAWN = "withdrawn"

    @property
    def current(self) -> bool:
        """Whether the skill holds now."""
        return self in (State.SIGNED, State.DUE_SOON)

    @property
    def refreshed(self) -> bool:
        """Whether the next sign-off is a refresher, shorter than the first."""
        return self in (State.DUE_SOON, State.LAPSED, State.SIGNED)


#: Worst first, for summing several up.
WORST_FIRST = (
    State.WITHDRAWN,
    State.SUSPENDED,
    State.LAPSED,
    State.LOCKED,
    State.OPEN,
    State.READY,
    State.DUE_SOON,
    State.SIGNED,
)

DUE_SOON_DAYS = 30
#: What a student can do something about at once.
IN_REACH = (State.OPEN, State.READY, State.DUE_SOON, State.LAPSED)


@dataclass(frozen=True)
class Standing:
    """The state of one skill (on one machine), with its reason in words."""

    skill: str
    machine: str | None
    state: State
    reason: str
    until: date | None = None


@dataclass(frozen=True)
class Met:
    """Whether one kind of evidence is there, and how much of it, in words."""

    kind: str
    key: str
    ok: bool
    words: str


class Standings(Protocol):
    """One student's skills at one moment, worked out now or kept from before."""

    graph: SkillGraph
    moment: datetime

    def standing(self, skill_id: str, machine: str | None) -> Standing:
        """Where the student stands on a skill (on a machine)."""
        ...


class Book:
    """One student's skills at one moment: the graph, their record, and what follows from them.

    ``names`` gives question banks and rigs their names in words; days begin and end where the shop's ``zone`` has
    midnight. Answers are kept, so asking again costs nothing.
    """

    def __init__(
        self,
        graph: SkillGraph,
        record: Record,
        now: datetime,
        names: Mapping[str, str] | None = None,
        zone: tzinfo = UTC,
    ) -> None:
        self.graph, self.record, self.names, self.zone = graph, record, names or {}, zone
        self.moment = max([now, *(a.at for a in record.acts)])
        self._acts: dict[tuple[str, str | None], list[Act]] = {}
        for act in record.acts:
            self._acts.setdefault((act.skill, act.machine), []).append(act)
        self._evidence: dict[tuple[EvidenceKind, str], list[Evidence]] = {}
        for e in sorted(record.evidence, key=lambda e: (e.at, e.passed)):
            self._evidence.setdefault((e.kind, e.key), []).append(e)
        self._seen = record.seen
        self._known: dict[tuple[str, str | None], Standing] = {}
        self._turns: set[datetime] = set()

    @property
    def turns(self) -> frozenset[datetime]:
        """The moments at which what was asked so far is another by time alone, past ones and coming ones."""
        return frozenset(self._turns)

    def standing(self, skill_id: str, machine: str | None) -> Standing:
        """Where the student stands on a skill.

        For a skill signed per machine, ``machine`` names it; ``None`` asks for
        the best over all machines. Raises ``Refused`` for an unknown skill.
        """
        key = (skill_id, machine)
        if key not in self._known:
            self._known[key] = self._work_out(self.graph.get(skill_id), machine)
        return self._known[key]

    def _work_out(self, skill: Skill, machine: str | None) -> Standing:
        if skill.per_machine and machine is None:
            places = {m for s, m in self._acts if s == skill.id and m is not None}
            each = [self.standing(skill.id, m) for m in sorted(places)]
            if each:
                return max(each, key=lambda s: WORST_FIRST.index(s.state))
        on = machine if skill.per_machine else None
        needs = [self.standing(p, machine) for p in skill.prerequisites]
        acts = sorted(self._acts.get((skill.id, on), []), key=lambda a: a.order)
        last = acts[-1] if acts else None
        if last is not None and last.kind is ActKind.WITHDRAWAL:
            words = say("withdrawn on {day} by {by}: {words}", day=self._day(last.at), by=last.by, words=last.words)
            return Standing(skill.id, on, State.WITHDRAWN, words)
        signed = next((a for a in reversed(acts) if a.kind is ActKind.SIGN_OFF), None)
        if signed is None:
            return self._unsigned(skill, on, needs)
        return self._signed(skill, on, needs, signed)

    def _signed(self, skill: Skill, on: str | None, needs: Sequence[Standing], signed: Act) -> Standing:
        until, why = self._end(skill, signed)
        if until is not None:
            soon = datetime.combine(self._day(until) - timedelta(days=DUE_SOON_DAYS), time(), self.zone)
            self._turns |= {until, soon.astimezone(UTC)}
        if until is not None and self.moment >= until:
            words = say("lapsed on {day}{why}; ask for the refresher", day=self._day(until), why=why)
            return Standing(skill.id, on, State.LAPSED, words, self._day(until))
        ends = self._day(until) if until else None
        broken = [n for n in needs if not n.state.current]
        if broken:
            words = say("rests on {name}: {reason}", name=self.graph.get(broken[0].skill).name, reason=broken[0].reason)
            return Standing(skill.id, on, State.SUSPENDED, words, ends)
        words = say("signed on {day} by {by}", day=self._day(signed.at), by=signed.by)
        if ends and (ends - self._day(self.moment)).days <= DUE_SOON_DAYS:
            return Standing(
                skill.id,
                on,
                State.DUE_SOON,
                say("{words}, lapses on {day}{why}", words=words, day=ends, why=why),
                ends,
            )
        return Standing(skill.id, on, State.SIGNED, words, ends)

    def _day(self, moment: datetime) -> date:
        return moment.astimezone(self.zone).date()

    def _end(self, skill: Skill, signed: Act) -> tuple[datetime | None, str]:
        """When the sign-off ends and why: by its age, or at the first absence that was too long."""
        ends: list[tuple[datetime, str]] = []
        if skill.lapses.after_days is not None:
            ends.append((signed.at + timedelta(days=skill.lapses.after_days), ""))
        if skill.lapses.absence_days is not None:
            away = timedelta(days=skill.lapses.absence_days)
            last = signed.at
            for seen in self._seen:
                if seen > last + away:
                    break
                last = max(last, seen)
            ends.append((last + away, say(" after {absence_days} days away", absence_days=skill.lapses.absence_days)))
        return min(ends, default=(None, ""))

    def _unsigned(self, skill: Skill, on: str | None, needs: Sequence[Standing]) -> Standing:
        missing = [n for n in needs if not n.state.current]
        if missing:
            names = together((self.graph.get(n.skill).name for n in missing), ", ")
            return Standing(skill.id, on, State.LOCKED, say("first: {names}", names=names))
        met = self.evidence(skill, on)
        short = [m.words for m in met if not m.ok]
        if short:
            return Standing(skill.id, on, State.OPEN, together(short, "; "))
        have = [m.words for m in met]
        what = say("ready to be shown to an assessor") if skill.demonstrated else say("ready to be signed")
        return Standing(skill.id, on, State.READY, together([*have, what], "; "))

    def evidence(self, skill: Skill, machine: str | None) -> tuple[Met, ...]:
        """Each kind of evidence that the skill asks for, but for the demonstration itself."""
        asked = (r for r in skill.evidence if not isinstance(r, Demonstration))
        return tuple(self._met(skill, r, machine) for r in asked)

    def _met(self, skill: Skill, r: Requirement, machine: str | None) -> Met:
        match r:
            case Knowledge():
                passed = any(e.passed for e in self._evidence.get((EvidenceKind.KNOWLEDGE, r.bank), ()))
                name = self.names.get(r.bank, r.bank)
                words = (
                    say("knowledge check passed: {name}", name=name)
                    if passed
                    else say("pass the knowledge check: {name}", name=name)
                )
                return Met(r.kind, r.bank, passed, words)
            case InspectedParts():
                have = len(self.inspected(skill.id))
                ok = have >= r.parts
                words = (
                    say("inspected parts: {have}", have=have)
                    if ok
                    else say("inspected parts: {have} of {parts}", have=have, parts=r.parts)
                )
                return Met(r.kind, skill.id, ok, words)
            case RigStandard():
                tries = self._evidence.get((EvidenceKind.RIG, r.rig), ())
                row = streak_of(e.passed for e in tries if e.level >= r.level)
                name = self.names.get(r.rig, r.rig)
                level = say(", level {level}", level=r.level) if r.level > 1 else ""
                words = say(
                    "{name}{level}, to standard in a row: {toward} of {times}",
                    name=name,
                    level=level,
                    toward=row.toward(r.times),
                    times=r.times,
                )
                return Met(r.kind, r.rig, row.reached(r.times), words)
            case ExerciseStandard():
                row = streak_of(e.passed for e in self._evidence.get((EvidenceKind.EXERCISE, r.calculation), ()))
                name = self.names.get(r.calculation, r.calculation)
                words = say(
                    "exercise {name}, right in a row: {toward} of {times}",
                    name=name,
                    toward=row.toward(r.times),
                    times=r.times,
                )
                return Met(r.kind, r.calculation, row.reached(r.times), words)
            case PlannedParts():
                have = len(self.planned())
                words = say("parts planned alone, nothing wrong: {have} of {parts}", have=have, parts=r.parts)
                return Met(r.kind, "", have >= r.parts, words)
            case DryRunParts():
                have = len(self.dry_runs())
                words = say("parts cut in the dry run without a slip: {have} of {parts}", have=have, parts=r.parts)
                return Met(r.kind, "", have >= r.parts, words)
            case Hours():
                worked = self._evidence.get((EvidenceKind.HOURS, ""), ())
                minutes = sum(e.minutes for e in worked if not skill.per_machine or e.machine == machine)
                words = say("hours at the machine: {minutes} of {hours}", minutes=minutes // 60, hours=r.hours)
                return Met(r.kind, "", minutes >= 60 * r.hours, words)
            case OtherSkills():
                held = sum(self.standing(s, machine).state.current for s in dict.fromkeys(r.of))
                names = together((self.graph.get(s).name for s in r.of), ", ")
                return Met(
                    r.kind,
                    "",
                    held >= r.count,
                    say("{held} of {count} signed: {names}", held=held, count=r.count, names=names),
                )
        raise AssertionError(r)

    def inspected(self, skill: str) -> tuple[Evidence, ...]:
        """The inspected parts that count for a skill, oldest first."""
        return tuple(e for e in self._evidence.get((EvidenceKind.INSPECTED, skill), ()) if e.passed)

    def planned(self) -> tuple[Evidence, ...]:
        """The plans that count, one for each part: the first good one, oldest first."""
        return self._one_each(EvidenceKind.PLAN)

    def dry_runs(self) -> tuple[Evidence, ...]:
        """The dry runs that count, likewise."""
        return self._one_each(EvidenceKind.DRY_RUN)

    def _one_each(self, wanted: EvidenceKind) -> tuple[Evidence, ...]:
        good = [e for (kind, _), of in self._evidence.items() if kind is wanted for e in of if e.passed]
        first = {e.key: e for e in sorted(good, key=lambda e: e.at, reverse=True)}
        return tuple(sorted(first.values(), key=lambda e: e.at))


def book_at(
    graph: SkillGraph,
    record: Record,
    as_of: datetime,
    known_at: datetime,
    names: Mapping[str, str] | None = None,
    zone: tzinfo = UTC,
) -> Book:
    """The book as it stood at ``as_of``, by what was known at ``known_at``."""
    return Book(graph, record.of(as_of, known_at), as_of, names, zone)


def worst(states: Iterable[State]) -> State:
    """The state that a group of skills is shown with."""
    return min(states, key=WORST_FIRST.index)


#: What a group of skills is shown by: first what somebody must see to, then what can be done next.
TELLING = (
    State.WITHDRAWN,
    State.SUSPENDED,
    State.LAPSED,
    State.DUE_SOON,
    State.READY,
    State.OPEN,
    State.LOCKED,
    State.SIGNED,
)


def most_telling(standings: Iterable[Standing]) -> Standing:
    """The standing that a group of skills is shown by; the first of its kind in the order of work."""
    return min(standings, key=lambda s: TELLING.index(s.state))
