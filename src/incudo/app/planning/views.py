"""What goes out of a plan: its operations with their numbers, findings, costs, frames."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Literal

from incudo.app.kernel.views import Named, StepView, View
from incudo.app.parts.drafts import PickView
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.planning.file import OperationKind, Plan
from incudo.core.planning.picture import Frame
from incudo.core.planning.rules.base import FaultWeight, Finding
from incudo.core.practice.rigs.hold.scene import Section

Gap = Literal["order", "cutters", "speeds", "datums", "holdings"]
Mode = Literal["free", "gaps", "given"]
Judged = Literal["built", "end"]


class KeyWords(View):
    """Something to choose, by its key, as one says it."""

    key: str
    words: str


class NumberLine(View):
    """One number of an operation with its working; ``field`` is what of the operation it can be changed by."""

    name: str
    label: str
    value: str
    field: str
    working: tuple[StepView, ...]


class StageView(View):
    """An operation as it comes out: what it is called, its numbers, along which axes it needs a zero."""

    id: str
    holding: str
    kind: OperationKind
    title: str
    on: str
    cutter: str
    lines: tuple[NumberLine, ...]
    axes: tuple[str, ...]
    #: What may be the zero along each of them.
    zeros: tuple[tuple[KeyWords, ...], ...]
    minutes: str


class FromAbove(View):
    """A box in machine X and Y, mm."""

    left: float
    front: float
    right: float
    rear: float

    @classmethod
    def of(cls, box: tuple[float, float, float, float]) -> FromAbove:
        left, front, right, rear = box
        return cls(left=left, front=front, right=right, rear=rear)


class StrapView(View):
    """A strap from above: its nose, all of it, where it stands."""

    nose: FromAbove
    strap: FromAbove
    words: str


class StrapsView(View):
    """Work under straps from above, mm: its box, rings of its top and of the cutter's way, the straps."""

    work: FromAbove
    metal: tuple[tuple[tuple[float, float], ...], ...]
    way: tuple[tuple[tuple[float, float], ...], ...]
    places: tuple[StrapView, ...]


class HeldView(View):
    """A holding as it comes out: what it is called, and how the work sits in the vise, with a section across the jaws,
    or under straps from above.

    ``hits`` says what of the vise a cut or a hole meets: jaw, parallel, bed; nothing while findings are kept back, and
    no straps then.
    """

    id: str
    title: str
    words: str
    operations: tuple[str, ...]
    fixed: tuple[KeyWords, ...]
    section: Section | None
    hits: tuple[str, ...]
    straps: StrapsView | None


class PlanFaultView(View):
    """One finding: what would happen, why, what cures it, and whether Incudo can change it itself."""

    code: str
    weight: FaultWeight
    heavy: str
    title: str
    words: str
    why: str
    cure: str
    holding: str
    operation: str
    button: bool

    @classmethod
    def of(cls, f: Finding, heavy: str) -> PlanFaultView:
        return cls(
            code=f.code,
            weight=f.weight,
            heavy=heavy,
            title=f.rule.title,
            words=f.words,
            why=f.rule.why,
            cure=f.cure,
            holding=f.holding,
            operation=f.operation,
            button=f.fix is not None,
        )


class PlaceErrorView(View):
    """A requirement that may be out most by where it is measured from."""

    number: int
    name: str
    error: str
    width: str
    percent: int


class CostsView(View):
    """What a plan costs. ``paced`` says where its time comes from, if from the shop's own runs."""

    holdings: int
    operations: int
    changes: int
    minutes: int
    paced: str
    errors: tuple[PlaceErrorView, ...]


class LeftView(View):
    """Something of the part that the plan does not make yet, with the operations that make it, in their order."""

    of: str
    words: str
    ups: tuple[KeyWords, ...]
    kinds: tuple[KeyWords, ...]


class NeedView(View):
    """Something that the plan needs, and whether it is to be had."""

    what: str
    name: str
    holder: str
    place: str
    left: int
    wanted: int
    why_not: str
    short: bool


class PlanLook(View):
    """A plan as it comes out. ``judged`` is false where findings are kept until the plan is handed in."""

    plan: Plan
    machine: Named
    holdings: tuple[HeldView, ...]
    stages: tuple[StageView, ...]
    findings: tuple[PlanFaultView, ...]
    judged: bool
    costs: CostsView
    left: tuple[LeftView, ...]
    needs: tuple[NeedView, ...]


class FrameView(View):
    """One frame in paths of SVG: the part, the metal that goes, the jaws behind and before it, cutter, feed."""

    operation: str
    view: tuple[float, float, float, float]
    part: str
    metal: str
    behind: str
    before: str
    cutter: str
    feed: str
    table: str
    words: str

    @classmethod
    def of(cls, operation: str, f: Frame) -> FrameView:
        return cls(
            operation=operation,
            view=f.view,
            part=f.part,
            metal=f.metal,
            behind=f.behind,
            before=f.before,
            cutter=f.cutter,
            feed=f.feed,
            table=f.table,
            words=f.words,
        )


class PlanFrames(View):
    """The strip of frames, and one of them large."""

    frames: tuple[FrameView, ...]
    large: FrameView | None


class CutterChoice(View):
    """A cutter that could be taken, or why it cannot."""

    name: str
    place: str
    why_not: str


class OfferView(View):
    """What can be done with what was touched."""

    kind: OperationKind
    words: str
    of: str
    why_not: str
    cutters: tuple[CutterChoice, ...]


class OfferList(View):
    """Everything that can be done with it in this holding."""

    name: str
    words: str
    offers: tuple[OfferView, ...]


class PlanRemark(View):
    """A remark at an operation."""

    operation: str
    words: str


class PlanDecided(View):
    """What was decided about a plan that was handed in."""

    number: int
    approved: bool
    remark: str
    remarks: tuple[PlanRemark, ...]
    by: str
    at: datetime


class PlanSaved(View):
    """A plan as it was saved: by whom and when."""

    number: int
    by: str
    at: datetime


class PlanPage(View):
    """The planning of a job card: how it is set, the plan that counts, what was decided, what can be chosen."""

    assignment: uuid.UUID
    name: str
    student: Named
    version: uuid.UUID
    unit: LengthUnit
    stock: str
    machine: Named | None
    machines: tuple[Named, ...]
    mode: Mode
    gaps: tuple[Gap, ...]
    judged: Judged
    approval: bool
    task: int
    number: int
    saved: tuple[PlanSaved, ...]
    #: Speeds and feeds that have changed since the plan was saved.
    changed: tuple[str, ...]
    handed_in: datetime | None
    hand_in: uuid.UUID | None
    approved: bool
    waiting: bool
    decisions: tuple[PlanDecided, ...]
    may_see_own: bool
    cannot: str
    faces: tuple[KeyWords, ...]
    things: tuple[KeyWords, ...]
    ways: tuple[KeyWords, ...]
    parallels: tuple[KeyWords, ...]
    vises: tuple[str, ...]
    look: PlanLook | None


class TouchDrawing(View):
    """The part's drawing with what can be touched on it, in its own units."""

    svg: str
    width: float
    height: float
    picks: tuple[PickView, ...]


class OwnView(View):
    """Incudo's own plan beside this one: what differs, and what each costs; or why there is none."""

    look: PlanLook | None
    reasons: tuple[str, ...]
    mine: CostsView
    own: CostsView | None
    differences: tuple[str, ...]
