"""The run card: worked out from the plan, the machine's dials and what was read; kept step by step."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import AwareDatetime, StringConstraints

from incudo.app.cutting.views import (
    GoView,
    RemarkView,
    RunCardView,
    RunFrames,
    RunReading,
    RunStepView,
    SenseView,
    SignsView,
    SignView,
)
from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command, Named
from incudo.app.locating.moves import dials
from incudo.app.parts.attempts import (
    AttemptFile,
    load_attempt,
    missing_skills,
    own_attempt,
    own_only,
    station_machine,
    tick_by_itself,
)
from incudo.app.planning.looking import paced
from incudo.app.planning.made_with import course_of
from incudo.app.planning.views import FrameView
from incudo.app.session.calls import HoldView, holds_of
from incudo.app.shop.machines import spec_of
from incudo.core.cutting.card import run_card
from incudo.core.cutting.measure import Judged, judge_reading
from incudo.core.cutting.pace import card_time, expected, taken
from incudo.core.cutting.reached import reached
from incudo.core.cutting.slides import USED, Ring
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.cutting.trouble import sense_words, signs
from incudo.core.kernel.errors import Conflict, NotPermitted, Refused
from incudo.core.kernel.quantity import Length
from incudo.core.kernel.say import say
from incudo.core.planning.course import Course
from incudo.core.planning.file import read_plan
from incudo.core.planning.picture import frame_of
from incudo.core.planning.settle import Settled
from incudo.core.shop.machine import READOUT_OF, Axis
from incudo.store import schema as t
from incudo.store.cutting import run as store
from incudo.store.planning import plans

#: Steps at which one begins anew after something went wrong.
_BEGINS = (StepKind.HOLD, StepKind.CUTTER, StepKind.ZERO)
#: A turn of the handle where none is known, mm.
_A_TURN = Fraction(5)


class RunTickCommand(Command):
    """A step is done, something was read at it, or one goes back to it; ``at`` is when, by the device."""

    id: uuid.UUID
    step: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    kind: Literal["done", "reading", "back"]
    value: Annotated[str, StringConstraints(max_length=20, strip_whitespace=True)] = ""
    at: AwareDatetime


class RemarkCommand(Command):
    """Something said to whoever is cutting, at a step of their card."""

    id: uuid.UUID
    step: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    words: Annotated[str, StringConstraints(min_length=1, max_length=400, strip_whitespace=True)]


@dataclass
class Done:
    """What was done so far: steps with when and by whom, and the newest reading of each step."""

    steps: dict[str, tuple[datetime, str]] = field(default_factory=dict)
    readings: dict[str, t.RunTick] = field(default_factory=dict)
    order: list[str] = field(default_factory=list)

    def take(self, row: t.RunTick, by: str) -> None:
        if row.kind == "back":
            # from there on everything is to be done again
            later = self.order[self.order.index(row.step) :] if row.step in self.order else []
            for step in (*later, row.step):
                self.steps.pop(step, None)
                self.readings.pop(step, None)
            self.order = [s for s in self.order if s in self.steps]
            return
        if row.kind == "reading":
            self.readings[row.step] = row
        if row.kind == "done" or row.good:
            self.steps[row.step] = (row.done_at, by)
            self.order.append(row.step)


@dataclass(frozen=True)
class Card:
    """A run card that is being looked at."""

    file: AttemptFile
    version: t.PlanVersion
    machine: t.Machine
    course: Course
    rings: dict[Axis, Ring]
    rows: Sequence[tuple[t.RunTick, str]]

    def done(self) -> Done:
        found = Done()
        for row, by in self.rows:
            found.take(row, by)
        return found

    def steps(self, done: Done) -> tuple[RunStep, ...]:
        read = {s: Fraction(r.millimetres) for s, r in done.readings.items() if r.good}
        return run_card(self.course, self.rings, read)


def card_of(w: Work, who: Who, file: AttemptFile) -> Card:
    """Raises ``Refused`` or ``NotPermitted`` where there is nothing to go by yet."""
    rows = plans.of_card(w.db, file.assignment.id)
    if rows.version is None:
        raise NotPermitted(say("There is no plan yet: plan the work first."))
    if plans.unapproved(w.db, {file.assignment.id}):
        raise NotPermitted(say("The plan has to be approved first: hand it in."))
    plan = read_plan(json.loads(rows.version.content))
    course, _, machine = course_of(w, who, file.assignment.id, plan, rows.version.machine_id)
    return Card(file, rows.version, machine, course, rings_of(w, machine), store.ticks(w.db, file.attempt.id))


def rings_of(w: Work, machine: t.Machine) -> dict[Axis, Ring]:
    """The first handle of each axis with its dial as it was measured last."""
    spec = spec_of(machine)
    found: dict[Axis, Ring] = {}
    for handle, dial in zip(spec.handles, dials(w, machine), strict=True):
        found.setdefault(handle.axis, Ring(handle, dial, READOUT_OF[handle.axis] in spec.readout, spec.unit))
    return found


def run_page(w: Work, who: Who, assignment: uuid.UUID) -> RunCardView:
    """The run card of a job card. Raises ``NotFound`` for somebody else's."""
    file = own_attempt(w, who, assignment)
    try:
        card = card_of(w, who, file)
        done = card.done()
        return _view(w, file, card, card.steps(done), done)
    except (Refused, NotPermitted) as refused:
        return _bare(w, file, str(refused.words))


def run_frames(w: Work, who: Who, assignment: uuid.UUID) -> RunFrames:
    """The part before every operation of the card, so that all of it is on the tablet before the first chip."""
    card = card_of(w, who, own_attempt(w, who, assignment))
    return RunFrames(
        plan=card.version.number,
        frames=tuple(
            FrameView.of(s.operation.id, frame_of(card.course, s, n, large=True)) for s, n in card.course.each()
        ),
        signs=(_signs(card, "", None), *(_signs(card, s.operation.id, n) for s, n in card.course.each() if n.speed)),
    )


def _signs(card: Card, operation: str, n: Settled | None) -> SignsView:
    return SignsView(
        operation=operation,
        groups=tuple(SenseView(by=by, words=words) for by, words in sense_words().items()),
        signs=tuple(SignView.of(s) for s in signs(card.course, n)),
    )


def _bare(w: Work, file: AttemptFile, cannot: str) -> RunCardView:
    return RunCardView(
        assignment=file.assignment.id,
        attempt=file.attempt.id,
        name=file.project.name,
        student=Named(id=file.student.id, name=file.student.name),
        machine=station_machine(w, file),
        unit=file.project.unit,
        plan=0,
        steps=(),
        remarks=(),
        at=0,
        minutes=0,
        paced="",
        spent=0,
        cannot=cannot,
        closed="",
        as_of=w.now,
    )


def _view(w: Work, file: AttemptFile, card: Card, steps: Sequence[RunStep], done: Done) -> RunCardView:
    holds, time = holds_of(w, file), card_time(card.course, steps)
    now = _now(steps, done)
    moments = [row.done_at for row, _ in card.rows]
    return _bare(w, file, "").model_copy(
        update={
            "machine": Named(id=card.machine.id, name=card.machine.name),
            "plan": card.version.number,
            "steps": tuple(_step(s, done, holds, _again(steps, n)) for n, s in enumerate(steps)),
            "remarks": tuple(
                RemarkView(step=r.step, words=r.words, by=by, at=r.at) for r, by in store.remarks(w.db, file.attempt.id)
            ),
            "at": now,
            "minutes": time.minutes,
            "paced": paced(card.course, time),
            "spent": round((max(moments) - min(moments)).total_seconds() / 60) if moments else 0,
            "closed": _closed(file),
        }
    )


def _again(steps: Sequence[RunStep], number: int) -> dict[str, str]:
    """From which step on it is done again when something went wrong here: the newest of each kind in this holding."""
    here = steps[number].holding
    return {s.kind.value: s.id for s in steps[: number + 1] if s.holding == here and s.kind in _BEGINS}


def _now(steps: Sequence[RunStep], done: Done) -> int:
    """Which step is to be done now; as many as there are when all are."""
    return next((n for n, s in enumerate(steps) if s.id not in done.steps), len(steps))


def _closed(file: AttemptFile) -> str:
    if file.over:
        return say("This part is decided.")
    return say("This part is handed in.") if file.pending else ""


def _step(s: RunStep, done: Done, holds: Sequence[HoldView], again: dict[str, str]) -> RunStepView:
    at, by = done.steps.get(s.id, (None, ""))
    row = done.readings.get(s.id)
    reading = RunReading(value=row.value, good=row.good, words=row.words, at=row.done_at) if row else None
    return RunStepView(
        id=s.id,
        kind=s.kind,
        holding=s.holding,
        operation=s.operation,
        head=s.head,
        title=s.title,
        do=s.do,
        go=tuple(GoView.of(g) for g in s.go),
        why=s.why,
        cautions=s.cautions,
        asks=s.check.words if s.check else "",
        starts=s.starts,
        skill=s.skill,
        per_turn=round(float(s.per_turn or 0), 1),
        seconds=round(s.seconds),
        again=again,
        held=tuple(h.words for h in holds if h.hold in s.holds and not h.released),
        done=at,
        by=by,
        reading=reading,
    )


def keep_run_tick(w: Work, who: Who, attempt: uuid.UUID, command: RunTickCommand) -> RunCardView:
    """Keep what was done and see the card.

    Steps are done one after the other; two devices that say the same are heard once. Raises ``Conflict`` for a step
    that is not the next one, ``NotPermitted`` at a hold point that is not released.
    """
    file = load_attempt(w, attempt)
    own_only(file, who)
    card = card_of(w, who, file)
    done = card.done()
    steps = card.steps(done)
    known = w.db.get(t.RunTick, command.id)
    if known is None:
        judged = _may(w, file, steps, done, command, card)
        if judged is None and command.kind == "done" and command.step in done.steps:
            return _view(w, file, card, steps, done)
    else:
        judged = None
    row = t.RunTick(
        id=command.id,
        attempt_id=attempt,
        number=known.number if known else len(card.rows) + 1,
        step=command.step,
        kind=command.kind,
        value=command.value,
        millimetres=known.millimetres if known else _mm(file, command),
        good=known.good if known else bool(judged and judged.good),
        words=known.words if known else (judged.words if judged else ""),
        place=0,
        places=0,
        title="",
        planned=0,
        plan_version_id=card.version.id,
        person_id=who.id,
        done_at=min(command.at, w.now),
        at=w.now,
    )
    if known is None:
        done.take(row, file.student.name)
        card = Card(file, card.version, card.machine, card.course, card.rings, [*card.rows, (row, file.student.name)])
        steps = card.steps(done)
        _stand(row, card.course, steps, done)
    insert_once(w, row, ignoring=("at", "done_at", "number", "plan_version_id", "place", "places", "title", "planned"))
    if known is None:
        _keep_time(w, card, steps, row)
    fresh = [s for s in reached(steps, done.steps) if s not in file.ticked]
    if fresh and not missing_skills(w, file):
        for station in fresh:
            tick_by_itself(w, file, station, who.id)
    return _view(w, file, card, steps, done)


def keep_remark(w: Work, who: Who, attempt: uuid.UUID, command: RemarkCommand) -> RunCardView:
    """Say something on a run card that is going on. Raises ``Conflict`` for a step that is not on it."""
    file = load_attempt(w, attempt)
    card = card_of(w, who, file)
    done = card.done()
    steps = card.steps(done)
    if command.step not in {s.id for s in steps}:
        raise Conflict(say("The plan was changed meanwhile: this step is not on the card any more."))
    row = t.RunRemark(
        id=command.id, attempt_id=attempt, person_id=who.id, step=command.step, words=command.words, at=w.now
    )
    insert_once(w, row, ignoring=("at",))
    return _view(w, file, card, steps, done)


def _stand(row: t.RunTick, course: Course, steps: Sequence[RunStep], done: Done) -> None:
    """Where the card stands after this, for who looks at all of them at once."""
    now = _now(steps, done)
    step = next(iter(steps[now:]), None)
    row.place, row.places = now, len(steps)
    row.title = (
        "" if step is None else say("{head}: {title}", head=step.head, title=step.title) if step.head else step.title
    )
    row.planned = round(expected(course, steps[: now + 1]))


def _keep_time(w: Work, card: Card, steps: Sequence[RunStep], row: t.RunTick) -> None:
    """Keep how long an operation took whose last step was done just now, if it was done in one go."""
    if any(r.kind == "back" or (r.step == row.step and r.id != row.id and r.kind == "done") for r, _ in card.rows):
        return
    if row.kind == "done" or row.good:
        times = {step: at for step, (at, _) in card.done().steps.items()}
        time = taken(card.course, steps, times, row.step)
        if time is not None:
            w.db.add(
                t.OperationTime(
                    id=row.id,
                    machine_id=card.machine.id,
                    work=time.work,
                    reckoned=time.reckoned,
                    taken=time.taken,
                    at=w.now,
                )
            )


def _mm(file: AttemptFile, command: RunTickCommand) -> str:
    return str(Length.parse(command.value, file.project.unit, "value").mm) if command.kind == "reading" else ""


def _may(
    w: Work, file: AttemptFile, steps: Sequence[RunStep], done: Done, command: RunTickCommand, card: Card
) -> Judged | None:
    """Whether this can be done now, and what a reading says. Raises ``Conflict``, ``NotPermitted``, ``Refused``."""
    if closed := _closed(file):
        raise Conflict(closed)
    ids = [s.id for s in steps]
    if command.step not in ids:
        raise Conflict(say("The plan was changed meanwhile: this step is not on the card any more."))
    number, now = ids.index(command.step), _now(steps, done)
    step = steps[number]
    if command.kind == "back":
        if number > now:
            raise Conflict(say("You are not there yet."))
        return None
    if command.step in done.steps and command.kind == "done":
        return None
    if number != now:
        raise Conflict(say("Steps are done one after the other: look at the card again."))
    waits = [h.words for h in holds_of(w, file) if h.hold in step.holds and not h.released]
    if waits:
        raise NotPermitted(*(say("Hold point {x}: call your instructor.", x=x) for x in waits))
    if step.kind is StepKind.MEASURE:
        if command.kind != "reading":
            raise Refused.of("value", "", say("must be what you measured"))
        assert step.check is not None  # noqa: S101 (a step that measures says what)
        ring = next((card.rings[a] for a in USED[step.check.axis] if a in card.rings), None)
        reading = Length.parse(command.value, file.project.unit, "value").mm
        return judge_reading(step.check, reading, ring.dial.turn if ring else _A_TURN, file.project.unit)
    if command.kind == "reading":
        raise Refused.of("kind", command.kind, say("must be done: nothing is measured at this step"))
    return None
