"""A college: ten years of evenings of sixty groups, as rows; its last evening is under way.

Made from the demo's own machines, parts and questions; the people are numbers. The same seed gives the same college.
"""

from __future__ import annotations

import json
import random
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from incudo import shipped
from incudo.app.kernel.unit import Unit
from incudo.app.people.accounts import hash_secret
from incudo.app.register.chain import SEALED, content_of
from incudo.core.parts.stations import TICKED
from incudo.core.people.notice import VERSION
from incudo.core.practice.rigs import RIGS
from incudo.core.register.chain import START, Entry, Head, seal
from incudo.demo import people as cast
from incudo.demo.opening import open_shop
from incudo.demo.story import Story, key, who
from incudo.launch.bench.bulk import Bulk, id_at
from incudo.store import schema as t
from incudo.store.schema import Base

YEARS, GROUPS, STUDENTS = 10, 60, 2000
#: A group stays together for two years and meets every week but for the holidays.
#: Parts that one student makes, and readings that are taken of each: by the student, and by who checks.
PARTS, OWN, CHECK = 24, 19, 13
MINUTES = timedelta(minutes=1)
PASSWORD = cast.PASSWORD
Say = Callable[[str], None]


@dataclass(frozen=True)
class Member:
    """A student: who they are, and the evenings of their group."""

    id: uuid.UUID
    login: str
    group: int
    evenings: tuple[datetime, ...]


class College:
    """Writes the rows of a college as of one moment."""

    def __init__(self, base: datetime, key_of_register: str, seed: str = "college") -> None:
        self.base, self.key, self.draw = base, key_of_register, random.Random(seed)  # noqa: S311 (invented data)
        self.members: list[Member] = []
        self._sealed: list[tuple[datetime, Base]] = []
        self._head = Head(0, START, "")
        self.bosses = [who("haldane").id, who("selby").id]
        self.machines = [key("machine", m) for m, _, _ in cast.MACHINES]
        self.graph, self.banks = shipped.graph(), sorted(shipped.banks())
        #: Students are signed on these, and their parts are made there.
        self.taught = self.machines[:2]
        self.versions = {code: key("version", code) for code in cast.PROJECTS}
        self.numbers = {code: [c["number"] for c in _project(code)["characteristics"]] for code in cast.PROJECTS}
        self.tonight = uuid.uuid5(uuid.NAMESPACE_OID, "the last evening")

    def set_up(self, unit: Unit, device_key: str = "") -> None:
        """The shop itself, through the use cases."""
        open_shop(Story(unit, self.base), device_key)

    def id(self, at: datetime) -> uuid.UUID:
        return id_at(at, self.draw.getrandbits(74))

    def write(self, bulk: Bulk, say: Say) -> None:
        """All rows."""
        secret = hash_secret(PASSWORD)
        starts = [self._begin(n) for n in range(GROUPS)]
        for n, start in enumerate(starts):
            group = uuid.uuid5(uuid.NAMESPACE_OID, f"group {n}")
            ends = (start + timedelta(days=700)).date()
            bulk.add(t.Group, id=group, name=f"Group {n + 1:02}", begins=start.date(), ends=ends)
            evenings = tuple(e for e in self._evenings(start) if e < self.base)
            now = n == GROUPS - 1
            meetings = [self._meeting(bulk, group, e, now=now and e == evenings[-1]) for e in evenings]
            size = STUDENTS // GROUPS + (n < STUDENTS % GROUPS)
            for place in range(size):
                member = self._member(bulk, group, n, place, evenings, secret, ends)
                self._life(bulk, member, meetings, now=now)
            if n % 10 == 9:
                say(f"{n + 1} of {GROUPS} groups")
        self._shop_events(bulk)
        self._seal(bulk)

    def _begin(self, n: int) -> datetime:
        """When a group begins: the last ones last year and this year, spread over the weekdays."""
        year = self.base.year - YEARS + 1 + (n * YEARS) // GROUPS
        first = datetime(year, 9, 1, 18, 0, tzinfo=UTC) + timedelta(days=n % 5)
        if n == GROUPS - 1:
            # this group meets tonight: its evenings are counted back from now
            weeks = (self.base - first).days // 7 + 52
            return self.base - MINUTES * 60 - timedelta(weeks=weeks)
        return first if first < self.base else first - timedelta(days=365)

    @staticmethod
    def _evenings(start: datetime) -> Iterator[datetime]:
        return (start + timedelta(weeks=w) for w in range(100) if w % 52 < 46 or w > 90)

    def _meeting(self, bulk: Bulk, group: uuid.UUID, at: datetime, *, now: bool) -> uuid.UUID:
        meeting, boss = (self.tonight if now else self.id(at)), self.draw.choice(self.bosses)
        ended = {} if now else {"ended_by": boss, "ended_at": at + 180 * MINUTES}
        bulk.add(
            t.Meeting,
            id=meeting,
            group_id=group,
            opened_by=boss,
            opened_at=at,
            duties="[]",
            open_slot=1 if now else None,
            **ended,
        )
        bulk.add(t.Supervision, id=self.id(at), meeting_id=meeting, person_id=boss, on=True, at=at)
        for machine in self.machines:
            bulk.add(
                t.MeetingMachine, id=self.id(at), meeting_id=meeting, machine_id=machine, open=True, by_id=boss, at=at
            )
        return meeting

    def _member(
        self,
        bulk: Bulk,
        group: uuid.UUID,
        n: int,
        place: int,
        evenings: tuple[datetime, ...],
        secret: str,
        ends: object,
    ) -> Member:
        person, login = uuid.uuid5(uuid.NAMESPACE_OID, f"member {n} {place}"), f"s{n + 1:02}.{place + 1:02}"
        name = f"Student {n + 1:02}-{place + 1:02}"
        bulk.add(t.Person, id=person, login=login, name=name, role="student", password_hash=secret, active=True)
        began = evenings[0]
        bulk.add(t.Enrolment, id=person, person_id=person, group_id=group, begins=began.date(), ends=ends)
        self._sealed.append((began, t.NoticeSigned(id=self.id(began), person_id=person, version=VERSION, at=began)))
        member = Member(person, login, n, evenings)
        self.members.append(member)
        return member

    def _life(self, bulk: Bulk, who_: Member, meetings: list[uuid.UUID], *, now: bool) -> None:
        draw, count = self.draw, len(who_.evenings)
        skills = [(s.id, m) for s in self.graph.skills for m in (self.taught if s.per_machine else [None])]
        parts: dict[int, tuple[str, uuid.UUID, uuid.UUID]] = {}
        for e, (at, meeting) in enumerate(zip(who_.evenings, meetings, strict=True)):
            here = draw.random() < 0.93 or e >= count - 3
            bulk.add(
                t.Roll,
                id=self.id(at),
                meeting_id=meeting,
                person_id=who_.id,
                presence="here" if here else "absent",
                by_id=self.bosses[0],
                at=at + 2 * MINUTES,
            )
            if not here:
                continue
            if e < len(skills):
                self._signed(bulk, who_.id, skills[e], at + 30 * MINUTES)
            if e % 8 == 0:
                self._check(bulk, who_.id, self.banks[e // 8 % len(self.banks)], at + 10 * MINUTES)
            if e % 2:
                self._rig(bulk, who_.id, at + 15 * MINUTES)
                self._call(bulk, who_.id, at + 25 * MINUTES)
                self._crib(bulk, who_.id, at + 5 * MINUTES, out=now and e == count - 1 and draw.random() < 0.3)
            if e == count - 3 and at > self.base - timedelta(days=60):
                # what would have lapsed was shown again a short while ago
                for what in skills:
                    self._signed(bulk, who_.id, what, at + 35 * MINUTES)
            self._exercise(bulk, who_.id, at + 20 * MINUTES)
            if draw.random() < 0.3:
                self._at_machine(bulk, who_.id, meeting, at + 40 * MINUTES, runs=now and e == count - 1)
            part = e // 3
            if e % 3 == 0 and part < PARTS:
                parts[part] = self._assign(bulk, who_.id, at)
            elif part in parts and e % 3 == 1:
                self._measure(bulk, who_.id, parts[part], at + 60 * MINUTES, OWN)
            elif part in parts and e % 3 == 2:
                waits = e >= count - 2 and draw.random() < 0.1
                self._hand_in(bulk, who_.id, parts.pop(part), at + 70 * MINUTES, decided=not waits)

    def _signed(self, bulk: Bulk, student: uuid.UUID, what: tuple[str, uuid.UUID | None], at: datetime) -> None:
        boss, (skill, machine) = self.draw.choice(self.bosses), what
        same = {"student_id": student, "skill": skill, "machine_id": machine, "assessor_id": boss, "at": at}
        batch = self.id(at)
        if self.graph.get(skill).demonstrated:
            shown = t.Demonstration(
                id=self.id(at), batch_id=batch, outcome="seen", seen="[]", repeat="", note="", **same
            )
            self._sealed.append((at, shown))
        self._sealed.append((at, t.SignOff(id=self.id(at), batch_id=batch, refresher=False, note="seen", **same)))
        if self.draw.random() < 0.02:
            gone = t.Withdrawal(
                id=self.id(at),
                reason="reached over the cutter",
                place="",
                witness="",
                done="",
                **same | {"at": at + MINUTES},
            )
            back = t.Restoration(
                id=self.id(at), reason="talked through and shown again", **same | {"at": at + 9 * MINUTES}
            )
            self._sealed += [(gone.at, gone), (back.at, back)]

    def _check(self, bulk: Bulk, student: uuid.UUID, bank: str, at: datetime) -> None:
        key_, names = self.id(at), [f"q{n}" for n in range(10)]
        bulk.add(
            t.CheckTry,
            id=key_,
            student_id=student,
            bank=bank,
            bank_number=1,
            seed="s",
            questions=json.dumps(names),
            at=at,
        )
        for name in names:
            bulk.add(t.CheckAnswer, try_id=key_, question=name, places="[0]", number="", right=True, at=at)
        bulk.add(t.CheckResult, try_id=key_, right=10, asked=10, critical_wrong=0, passed=True, at=at + 5 * MINUTES)

    def _rig(self, bulk: Bulk, student: uuid.UUID, at: datetime) -> None:
        run, rig = self.id(at), self.draw.choice(list(RIGS))
        bulk.add(
            t.RigRun,
            id=run,
            student_id=student,
            rig=rig,
            level=1,
            seed="s",
            setup="{}",
            guided=self.draw.random() < 0.3,
            at=at,
        )
        for n in range(1, 5):
            bulk.add(t.RigAction, run_id=run, number=n, content='{"control": "sweep"}', at=at + n * MINUTES)
        good = self.draw.random() < 0.8
        bulk.add(t.RigResult, run_id=run, passed=good, passes=3, practised=0, reasons="[]", at=at + 6 * MINUTES)

    def _call(self, bulk: Bulk, student: uuid.UUID, at: datetime) -> None:
        call = self.id(at)
        bulk.add(t.Call, id=call, student_id=student, kind="help", what="", words="", at=at)
        if at < self.base - 50 * MINUTES or self.draw.random() < 0.7:
            bulk.add(t.CallEnd, call_id=call, by_id=self.bosses[0], outcome="done", words="", at=at + 4 * MINUTES)

    def _crib(self, bulk: Bulk, student: uuid.UUID, at: datetime, *, out: bool) -> None:
        issue, tool = self.id(at), key("instrument", self.draw.choice(["cal", "m01", "m12"]))
        bulk.add(t.CribIssue, id=issue, instrument_id=tool, person_id=student, by_id=self.bosses[0], note="", at=at)
        if not out:
            bulk.add(
                t.CribReturn, issue_id=issue, by_id=self.bosses[0], condition="fine", note="", at=at + 170 * MINUTES
            )

    def _exercise(self, bulk: Bulk, student: uuid.UUID, at: datetime) -> None:
        question = self.id(at)
        name = self.draw.choice(["spindle-speed", "table-feed", "edge", "bolt-circle"])
        bulk.add(t.ExerciseQuestion, id=question, student_id=student, calculation=name, seed="s", content="{}", at=at)
        good = self.draw.random() < 0.8
        slip = "" if good else "the diameter was taken as the radius"
        bulk.add(t.ExerciseAnswer, question_id=question, answer="1", unit="", right=good, slip=slip, at=at + MINUTES)

    def _at_machine(self, bulk: Bulk, student: uuid.UUID, meeting: uuid.UUID, at: datetime, *, runs: bool) -> None:
        machine = self.draw.choice(self.machines)
        kinds = ("come", "handles", "start") if runs else ("come", "handles", "start", "end", "go")
        for n, kind in enumerate(kinds):
            bulk.add(
                t.MachineEvent,
                id=self.id(at + n * MINUTES),
                meeting_id=meeting,
                machine_id=machine,
                kind=kind,
                person_id=student,
                operation="facing" if kind == "start" else "",
                words="",
                at=at + n * 5 * MINUTES if not runs else at - MINUTES * 30 + n * MINUTES,
            )

    def _assign(self, bulk: Bulk, student: uuid.UUID, at: datetime) -> tuple[str, uuid.UUID, uuid.UUID]:
        code, assignment, attempt = self.draw.choice(list(self.versions)), self.id(at), self.id(at)
        machine = self.draw.choice(self.taught)
        bulk.add(
            t.Assignment,
            id=assignment,
            project_version_id=self.versions[code],
            student_id=student,
            machine_id=machine,
            not_before_signed=False,
            assigned_by=self.bosses[0],
            assigned_at=at,
        )
        bulk.add(t.Attempt, id=attempt, assignment_id=assignment, number=1, started_at=at)
        for n, station in enumerate(x.value for x in TICKED):
            when = at + 80 * MINUTES + n * MINUTES
            bulk.add(t.Progress, id=self.id(at), attempt_id=attempt, station=station, person_id=student, at=when)
        return code, assignment, attempt

    def _measure(
        self,
        bulk: Bulk,
        by: uuid.UUID,
        part: tuple[str, uuid.UUID, uuid.UUID],
        at: datetime,
        count: int,
        *,
        checking: bool = False,
    ) -> None:
        code, _, attempt = part
        numbers = self.numbers[code]
        for n in range(count):
            value = f"{0.998 + self.draw.random() * 0.004:.4f}"
            when = at + n * MINUTES
            bulk.add(
                t.Reading,
                id=self.id(when),
                attempt_id=attempt,
                characteristic=numbers[n % len(numbers)],
                round=1,
                checking=checking,
                late=False,
                person_id=by,
                text=value,
                unit="in",
                value_mm=f"{float(value) * 25.4:.7f}",
                instrument_id=key("instrument", "m01"),
                instrument_unit="in",
                resolution="0.0001",
                uncertainty="0.0002",
                zero_error="0",
                undecided="",
                school="guard_band",
                verdict="in",
                why="",
                measured_at=when,
                saved_at=when,
            )

    def _hand_in(
        self, bulk: Bulk, student: uuid.UUID, part: tuple[str, uuid.UUID, uuid.UUID], at: datetime, *, decided: bool
    ) -> None:
        code, _, attempt = part
        hand_in, boss = self.id(at), self.draw.choice(self.bosses)
        bulk.add(t.HandIn, id=hand_in, attempt_id=attempt, number=1, at=at)
        if not decided:
            return
        self._measure(bulk, boss, part, at + 5 * MINUTES, CHECK, checking=True)
        bulk.add(t.Comparison, id=self.id(at), hand_in_id=hand_in, assessor_id=boss, at=at + 20 * MINUTES)
        decision, when = self.id(at), at + 22 * MINUTES
        bulk.add(t.Decision, id=decision, hand_in_id=hand_in, assessor_id=boss, outcome="accepted", remark="", at=when)
        for number in self.numbers[code]:
            bulk.add(
                t.Finding,
                decision_id=decision,
                characteristic=number,
                verdict="in",
                by_check=True,
                agrees=True,
                disposition="accept",
                reason="",
                counts=True,
            )

    def _shop_events(self, bulk: Bulk) -> None:
        """Tags and near misses over the years."""
        for n in range(YEARS * 12):
            at = self.base - timedelta(days=30 * n + 2)
            tag = t.Tag(
                id=self.id(at),
                machine_id=self.draw.choice(self.machines),
                person_id=self.bosses[0],
                note="belt worn",
                at=at,
            )
            cleared = t.TagCleared(
                tag_id=tag.id, person_id=self.bosses[0], note="new belt", at=at + timedelta(hours=20)
            )
            miss = t.Incident(
                id=self.id(at),
                kind="near_miss",
                what="a chuck key was left in the chuck; seen before the start",
                place="",
                witness="",
                done="",
                at=at,
            )
            self._sealed += [(tag.at, tag), (cleared.at, cleared), (miss.at, miss)]

    def _seal(self, bulk: Bulk) -> None:
        """The register of safety over everything that belongs into it, in the order of time."""
        previous, sealed = START, None
        self._sealed.sort(key=lambda x: x[0])
        for seq, (at, row) in enumerate(self._sealed, 1):
            column, kind = SEALED[type(row)]
            name, row_id = (kind.value if kind else row.kind), getattr(row, column)  # type: ignore[attr-defined]
            content = content_of(row)
            sealed = seal(Entry(seq, str(row_id), name, at, content), previous, self.key)
            bulk.add(type(row), **{c.key: getattr(row, str(c.key)) for c in row.__table__.columns})
            bulk.add(
                t.RegisterEntry,
                seq=seq,
                entry_id=row_id,
                kind=name,
                at=at,
                content=json.dumps(content, sort_keys=True, ensure_ascii=False),
                previous=previous,
                digest=sealed.digest,
                seal=sealed.seal,
            )
            previous = sealed.digest
        if sealed is not None:
            self._head = Head(len(self._sealed), sealed.digest, sealed.seal)


def _project(code: str) -> Any:
    return shipped.parts()[code]
