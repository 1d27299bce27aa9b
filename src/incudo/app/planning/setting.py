"""How the planning of a job card is set by the instructor: free, with gaps, given; judged at once or at the end."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass
from typing import cast

from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command
from incudo.app.parts.attempts import AttemptFile, newest_attempt
from incudo.app.planning.made_with import machine_for, piece_for, plan_shop
from incudo.app.planning.views import Gap, Judged, Mode
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.say import say, together
from incudo.core.planning.file import Plan, read_plan
from incudo.core.planning.offer import emptied
from incudo.core.planning.own import own_plan
from incudo.store import schema as t
from incudo.store.planning import plans as store


@dataclass(frozen=True)
class Task:
    """How a job card is planned; ``given`` is what the student begins with."""

    number: int = 0
    mode: Mode = "free"
    gaps: tuple[Gap, ...] = ()
    judged: Judged = "built"
    approval: bool = False
    given: Plan | None = None


class TaskCommand(Command):
    """Set how a job card is planned. ``number`` is that of the setting it takes the place of.

    For a plan that is given, or given with gaps, ``plan`` is the instructor's own; without one Incudo's is taken.
    """

    id: uuid.UUID
    number: int
    mode: Mode
    gaps: tuple[Gap, ...] = ()
    judged: Judged = "built"
    approval: bool = False
    plan: Plan | None = None
    machine: uuid.UUID | None = None


def is_kept_back(w: Work, assignment: uuid.UUID) -> bool:
    """Whether the judge says nothing to the student yet: judged at the end, and nothing is handed in."""
    rows = store.of_card(w.db, assignment)
    return read_task(rows.task).judged == "end" and rows.hand_in is None


def read_task(row: t.PlanTask | None) -> Task:
    """A kept setting."""
    if row is None:
        return Task()
    return Task(
        row.number,
        cast(Mode, row.mode),
        cast(tuple[Gap, ...], tuple(g for g in row.gaps.split(" ") if g)),
        cast(Judged, row.judged),
        row.approval,
        read_plan(json.loads(row.given)) if row.given else None,
    )


def keep_task(w: Work, who: Who, assignment: uuid.UUID, command: TaskCommand) -> AttemptFile:
    """Set how a job card is planned.

    Raises ``Conflict`` when somebody else has set it meanwhile or a plan waits for approval, ``Refused`` where there
    is no plan to give.
    """
    file = newest_attempt(w, assignment)
    if w.db.get(t.PlanTask, command.id) is None:
        rows = store.of_card(w.db, assignment)
        if (rows.task.number if rows.task else 0) != command.number:
            raise Conflict(say("This was changed meanwhile: look at it again."))
        if rows.hand_in is not None and rows.decision is None:
            raise Conflict(say("A plan is handed in: decide on it first."))
    if command.mode == "gaps" and not command.gaps:
        raise Refused.of("gaps", "", say("must name what is left open"))
    given = _given(w, file, command)
    row = t.PlanTask(
        id=command.id,
        assignment_id=assignment,
        number=command.number + 1,
        mode=command.mode,
        gaps=" ".join(command.gaps) if command.mode == "gaps" else "",
        judged=command.judged,
        approval=command.approval,
        given=given.model_dump_json() if given else "",
        by_id=who.id,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))
    return file


def _given(w: Work, file: AttemptFile, command: TaskCommand) -> Plan | None:
    if command.mode == "free":
        return None
    plan = command.plan
    if plan is None:
        piece = piece_for(w, file.version.id)
        machine = machine_for(w, file, command.machine)
        own = own_plan(piece, plan_shop(w, machine, file.student.id, piece))
        if own.plan is None:
            raise Refused.of("mode", command.mode, together(own.reasons, " "))
        plan = own.plan
    return emptied(plan, command.gaps) if command.mode == "gaps" else plan
