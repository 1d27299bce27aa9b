"""The dry run of one's own plan: on a simulated machine with the dials of the real one, before any metal is cut."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from incudo.app.cutting.dry_views import (
    BeginDryRun,
    DryActCommand,
    DryCause,
    DryOutcome,
    DryPlace,
    DryRunView,
    DryStep,
    SaidTurn,
)
from incudo.app.cutting.run import rings_of
from incudo.app.cutting.stood import MACHINE, Stood, stands_of, stood
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named
from incudo.app.parts.attempts import AttemptFile, own_attempt
from incudo.app.planning.made_with import course_of
from incudo.core.cutting.dry.acts import Act, Do, Hands, tip, told
from incudo.core.cutting.dry.causes import Cause
from incudo.core.cutting.dry.dry_run import DryRun
from incudo.core.cutting.dry.lie import Stands
from incudo.core.cutting.dry.measured import line_of, measured
from incudo.core.cutting.slides import USED, Ring, set_to
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.locating.datum import shown
from incudo.core.locating.dial import Dial
from incudo.core.locating.screw import dial_shown
from incudo.core.planning.file import read_plan
from incudo.core.shop.machine import Axis, Handle
from incudo.store import schema as t
from incudo.store.cutting import run as store
from incudo.store.planning import plans


@dataclass(frozen=True)
class _Dry:
    """A dry run that is being looked at."""

    row: t.DryRun
    version: t.PlanVersion
    machine: t.Machine
    run: DryRun
    acts: Sequence[t.DryAct]


def dry_page(w: Work, who: Who, assignment: uuid.UUID) -> DryRunView:
    """The dry run of a job card that was begun last. Raises ``NotFound`` for somebody else's."""
    file = own_attempt(w, who, assignment)
    rows = plans.of_card(w.db, assignment)
    if rows.version is None:
        return _bare(file, say("There is no plan yet: plan the work first."))
    newest = store.newest_dry_run(w.db, assignment)
    if newest is None:
        return _bare(file, "")
    return _view(file, _load(w, who, newest), rows.version.number)


def begin_dry_run(w: Work, who: Who, assignment: uuid.UUID, command: BeginDryRun) -> DryRunView:
    """Begin one with the newest plan, on the dials as they were measured last. Raises ``Refused``."""
    file = own_attempt(w, who, assignment)
    rows = plans.of_card(w.db, assignment)
    if rows.version is None:
        raise Conflict(say("There is no plan yet: plan the work first."))
    plan = read_plan(json.loads(rows.version.content))
    _, _, machine = course_of(w, who, assignment, plan, rows.version.machine_id)
    row = t.DryRun(
        id=command.id,
        assignment_id=assignment,
        plan_version_id=rows.version.id,
        person_id=who.id,
        dials=_kept(rings_of(w, machine), stood(w, machine.id)),
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "dials", "plan_version_id"))
    return _view(file, _load(w, who, find(w, t.DryRun, command.id, "run")), rows.version.number)


def dry_act(w: Work, who: Who, run: uuid.UUID, command: DryActCommand) -> DryRunView:
    """Do the next step of a dry run and see where it stands.

    Raises ``NotFound`` for somebody else's, ``Conflict`` for a step that is not the next one, ``Refused`` for a
    reading that this dial cannot show.
    """
    row = find(w, t.DryRun, run, "run")
    file = own_attempt(w, who, row.assignment_id)
    if who.id != row.person_id:
        raise NotFound(say("There is no such run."))
    dry = _load(w, who, row)
    known = next((a for a in dry.acts if a.id == command.id), None)
    content = command.model_dump_json(include={"places"})
    number, outcome, at_step = command.number, "", dry.run.now
    if known is None:
        if at_step is None or (number, command.step) != (len(dry.acts) + 1, at_step.id):
            raise Conflict(say("This step is done already, or not the next one: look again."))
        dry.run.do(_hands(dry.run, at_step, command.places))
        if dry.run.now is None:
            outcome = _outcome(dry.run).model_dump_json()
    act = t.DryAct(
        id=command.id,
        run_id=run,
        number=number,
        step=command.step,
        content=content,
        outcome=known.outcome if known else outcome,
        at=w.now,
    )
    insert_once(w, act, ignoring=("at",))
    acts = dry.acts if known else [*dry.acts, act]
    newest = plans.of_card(w.db, row.assignment_id).version
    return _view(file, replace(dry, acts=acts), newest.number if newest else 0)


# ── as it is kept ─────────────────────────────────────────────────────────


def _kept(rings: Mapping[Axis, Ring], at: Stood) -> str:
    """The dials of a machine and how it stands, to be used as they are now for as long as this run lasts."""
    return json.dumps(
        {_STANDS: {name: str(slope) for name, slope in at.slopes.items()}, _VISE: at.vise}
        | {
            axis: {
                "handle": r.handle.model_dump(mode="json"),
                "backlash": str(r.dial.backlash),
                "readout": r.readout,
                "unit": r.unit,
            }
            for axis, r in rings.items()
        }
    )


def _rings(kept: str) -> dict[Axis, Ring]:
    found = {}
    for axis, one in json.loads(kept).items():
        if axis in (_STANDS, _VISE):
            continue
        handle = Handle.model_validate(one["handle"])
        dial = replace(Dial.of(handle), backlash=Fraction(one["backlash"]))
        found[Axis(axis)] = Ring(handle, dial, one["readout"], Unit(one["unit"]))
    return found


def _stands(kept: str, unit: Unit) -> Stands:
    """How the machine stood; of a run that was begun before it was kept, true."""
    data = json.loads(kept)
    slopes = {name: Fraction(s) for name, s in data.get(_STANDS, {}).items()}
    return stands_of(Stood(slopes, data.get(_VISE, "")), unit)


def _load(w: Work, who: Who, row: t.DryRun) -> _Dry:
    """A dry run as far as it was played."""
    version = find(w, t.PlanVersion, row.plan_version_id, "plan")
    plan = read_plan(json.loads(version.content))
    course, _, machine = course_of(w, who, row.assignment_id, plan, version.machine_id)
    stands = _stands(row.dials, course.piece.unit)
    run, acts = DryRun(course, _rings(row.dials), stands=stands), store.dry_acts(w.db, row.id)
    for act in acts:
        step = run.now
        if step is None or step.id != act.step:
            raise Conflict(say("The shop's cutters were changed since: begin this dry run again."))
        run.do(_hands(run, step, DryActCommand.model_validate({**json.loads(act.content), **_FILL}).places))
    return _Dry(row, version, machine, run, acts)


#: Under what the machine's own errors are kept beside its dials.
_STANDS, _VISE = "stands", "vise"
#: What is not kept twice of an act.
_FILL = {"id": uuid.UUID(int=0), "number": 1, "step": "kept"}


def _hands(run: DryRun, step: RunStep, places: Sequence[Sequence[SaidTurn]]) -> Hands:
    """What was said, as hands. Raises ``Refused`` at the field of a reading that the dial does not have."""
    right = told(step, run.slides)
    if step.zero is not None and step.zero.by == "finder":
        said = _acts(run, step.zero.axis, places[0] if places else (), 0)
        touch, ring, *_ = right.first
        # nothing turned on: the ring is set to 0 where it touches
        return replace(right, first=(touch, ring, *said, ring) if said else (touch, ring))
    # what is left out at the end was not turned
    said_of = dict(enumerate(places))
    gos = tuple(_acts(run, go.axis, said_of.get(n, ()), n) for n, go in enumerate(step.go))
    return replace(right, gos=gos)


def _acts(run: DryRun, axis: str, said: Sequence[SaidTurn], place: int) -> tuple[Act, ...]:
    dial = run.slides.of[axis].ring.dial
    found = []
    for number, turn in enumerate(said):
        reading = None
        if turn.reading:
            at = f"places.{place}.{number}.reading"
            reading = Length.parse(turn.reading, dial.unit, at).mm
            if not 0 <= reading < dial.turn:
                most = set_to(dial.turn, dial.unit)
                raise Refused.of(at, turn.reading, say("must be on the dial: from 0 to less than {most}", most=most))
        sign = 1 if turn.turning is dial.grows else -1
        found.append(Act(Do.TURN, axis, sign, reading=reading, turns=turn.turns))
    return tuple(found)


# ── as it is shown ────────────────────────────────────────────────────────


def _bare(file: AttemptFile, cannot: str) -> DryRunView:
    return DryRunView(
        assignment=file.assignment.id,
        name=file.project.name,
        student=Named(id=file.student.id, name=file.student.name),
        machine="",
        unit=file.project.unit,
        run=None,
        plan=0,
        newer=False,
        at=0,
        of=0,
        step=None,
        said="",
        outcome=None,
        cannot=cannot,
    )


def _view(file: AttemptFile, dry: _Dry, newest: int) -> DryRunView:
    run = dry.run
    ended = next((a.outcome for a in dry.acts if a.outcome), "")
    return _bare(file, "").model_copy(
        update={
            "machine": dry.machine.name,
            "run": dry.row.id,
            "plan": dry.version.number,
            "newer": newest > dry.version.number,
            "at": run.at,
            "of": len(run.steps),
            "step": _step(run, run.now) if run.now else None,
            "said": _said(run),
            "outcome": DryOutcome.model_validate_json(ended) if ended else None,
        }
    )


def _said(run: DryRun) -> str:
    """What the last step told: a reading, and what was made of it."""
    found = run.read.get(run.steps[run.at - 1].id) if run.at else None
    if found is None:
        return ""
    read, judged = found
    return say("You measure {read}. {words}", read=set_to(read, run.course.piece.unit), words=judged.words)


def _step(run: DryRun, step: RunStep) -> DryStep:
    # what the work is put into, and under, is said where it is put in
    stood_so: list[Cause] = []
    if step.kind is StepKind.HOLD:
        s = run.stands_in(next(h for h in run.course.plan.holdings if h.id == step.holding))
        stood_so = [c for off in (s.jaw, s.tilt, s.nod) for c in off.causes]
    return DryStep(
        id=step.id,
        kind=step.kind,
        operation=step.operation,
        head=step.head,
        title=step.title,
        do=step.do,
        why=(*step.why, *(c.words for c in stood_so)),
        places=tuple(_places(run, step)),
    )


def _places(run: DryRun, step: RunStep) -> list[DryPlace]:
    if step.zero is not None and step.zero.by == "finder":
        return [_finder(run, step.zero.axis)]
    found = []
    for go in step.go:
        unit = run.slides.of[go.axis].ring.unit
        away = go.place - run.zero_at.get(go.axis, Fraction(0))
        found.append(
            DryPlace(
                axis=go.axis.upper(),
                handle=go.handle,
                place=say("{axis} to {away} {unit}", axis=go.axis.upper(), away=shown(away, unit), unit=unit),
                dial=dial_shown(_handle(run, go.axis), run.screws[go.axis]),
                zero=False,
                told=go.told,
            )
        )
    return found


def _finder(run: DryRun, axis: str) -> DryPlace:
    ring = run.slides.of[axis].ring
    return DryPlace(
        axis=axis.upper(),
        handle=say("{axis} handle, {place}", axis=axis.upper(), place=ring.handle.place),
        place=say("The edge finder touches; its tip is {tip} across.", tip=set_to(tip(ring.unit), ring.unit)),
        dial=dial_shown(_handle(run, axis), replace(run.screws[axis], ring=run.screws[axis].screw)),
        zero=True,
        told=(
            say(
                "Half the tip, {half}, the way you came; then the ring to 0.",
                half=set_to(tip(ring.unit) / 2, ring.unit),
            ),
        ),
    )


def _handle(run: DryRun, axis: str) -> Axis:
    return next(a for a in USED[axis] if a in run.rings)


def _outcome(run: DryRun) -> DryOutcome:
    """The part as it is measured, and the acts behind what is out, in the order in which they were done."""
    unit = run.course.piece.unit
    out = measured(run)
    titles = {s.id: say("{head}: {title}", head=s.head, title=s.title) if s.head else s.title for s in run.steps}
    titles[MACHINE] = say("The machine as set up")
    causes = []
    # what stands out of true before anybody does anything is said where it spoils something
    stood_so = (c for o in out if not o.good for c in o.causes if c.step == MACHINE)
    for cause in dict.fromkeys((*stood_so, *run.causes)):
        numbers = tuple(c.number for c in out if not c.good and cause in c.causes)
        causes.append(DryCause(step=titles.get(cause.step, cause.step), words=cause.words, numbers=numbers))
    causes.sort(key=lambda c: not c.numbers)
    return DryOutcome(lines=tuple(line_of(c, unit) for c in out), causes=tuple(causes), right=not run.causes)
