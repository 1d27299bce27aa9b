"""Plans of the demo: one that is good, one that waits for approval, one that was sent back, one begun."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Sequence
from functools import partial

from incudo.app.kernel.unit import Work
from incudo.app.parts.attempts import newest_attempt
from incudo.app.planning.keeping import HandInPlan, SavePlan, keep_plan, keep_plan_hand_in
from incudo.app.planning.made_with import machine_for, piece_for, plan_shop
from incudo.app.planning.setting import TaskCommand, keep_task
from incudo.core.planning.file import OperationKind, Plan, PlanOperation
from incudo.core.planning.own import own_plan
from incudo.core.planning.pace import HOLDING
from incudo.demo.story import Story, key, who
from incudo.store import schema as t

Spoil = Callable[[PlanOperation], PlanOperation]


def own_of(w: Work, assignment: uuid.UUID) -> Plan:
    """Incudo's own plan for a job card; an empty one where there is none."""
    file = newest_attempt(w, assignment)
    piece = piece_for(w, file.version.id)
    machine = machine_for(w, file, None)
    return own_plan(piece, plan_shop(w, machine, file.student.id, piece)).plan or Plan()


def planned(
    story: Story,
    login: str,
    assignment: uuid.UUID,
    spoil: Spoil = lambda o: o,
    *,
    holdings: int | None = None,
    hand_in: bool = True,
    approval: bool = False,
) -> None:
    """A student saves a plan, made of Incudo's and spoilt, and hands it in."""
    student, boss = who(login), who("haldane")
    if approval:
        task = TaskCommand(id=key("plan task", login), number=0, mode="free", approval=True)
        story.run(lambda w: keep_task(w, boss, assignment, task))

    def save(w: Work) -> None:
        plan = own_of(w, assignment)
        held = [
            h.model_copy(update={"operations": tuple(spoil(o) for o in h.operations)}) for h in plan.holdings[:holdings]
        ]
        made = plan.model_copy(update={"holdings": tuple(held)})
        keep_plan(w, student, assignment, SavePlan(id=key("plan", login), number=0, plan=made))

    story.run(save)
    if hand_in:
        command = HandInPlan(id=key("plan hand-in", login), number=1)
        story.run(lambda w: keep_plan_hand_in(w, student, assignment, command))


def timed(story: Story) -> None:
    """What operations took at Petrel in the weeks before: the card's numbers against the clock."""
    petrel = key("machine", "petrel")
    for days, work, reckoned, taken in TIMES:
        story.at(days)
        row = t.OperationTime(
            id=key("time", days, work), machine_id=petrel, work=work, reckoned=reckoned, taken=taken, at=story.now
        )
        story.run(lambda w, r=row: w.db.add(r))  # type: ignore[misc]


#: Days ago, what, seconds as reckoned, seconds as taken.
TIMES = (
    (34, HOLDING, 600, 890),
    (34, "face", 170, 265),
    (34, "side", 240, 330),
    (27, HOLDING, 600, 720),
    (27, "face", 190, 240),
    (27, "step", 610, 920),
    (27, "drill", 75, 70),
    (20, HOLDING, 600, 655),
    (20, "face", 170, 210),
    (20, "side", 250, 365),
    (20, "step", 540, 745),
    (20, "drill", 90, 105),
    (13, HOLDING, 600, 700),
    (13, "face", 170, 225),
    (13, "side", 230, 300),
    (13, "step", 580, 860),
    (13, "drill", 60, 65),
    (6, HOLDING, 600, 610),
    (6, "face", 200, 250),
)


def _changed(op: PlanOperation, kinds: Sequence[OperationKind], **changes: object) -> PlanOperation:
    return op.model_copy(update=changes) if op.kind in kinds else op


#: What is wrong with each of them: nothing said of where the steps are and climb cutting; an end mill in a chuck.
STEPS = (OperationKind.STEP,)
BLIND = partial(_changed, kinds=STEPS, x="", direction="climb")
IN_CHUCK = partial(_changed, kinds=(OperationKind.SIDE,), holder="chuck")
