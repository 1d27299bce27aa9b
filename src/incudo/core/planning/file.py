"""A plan as it is written: holdings, and in each the operations in their order. Format: docs/formats/plan.md.

Lengths are text in the part's unit, a feed in the machine's unit per minute. What is left out, Incudo fills in.
"""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, model_validator

from incudo.core.kernel.fields import Line, Num, Strict, read_model
from incudo.core.kernel.say import say
from incudo.core.parts.features.file import FaceName

#: Most holdings of a plan, and operations of one holding.
MOST_HOLDINGS, MOST_OPERATIONS = 12, 40


class OperationKind(StrEnum):
    """What an operation does."""

    FACE = "face"
    SIDE = "side"
    STEP = "step"
    SLOT = "slot"
    POCKET = "pocket"
    ANGLE = "angle"
    CHAMFER = "chamfer"
    SPOT = "spot"
    DRILL = "drill"
    REAM = "ream"
    BORE = "bore"
    COUNTERSINK = "countersink"
    COUNTERBORE = "counterbore"
    TAP = "tap"
    DEBURR = "deburr"
    MEASURE = "measure"


class HeldIn(StrEnum):
    """What holds the work."""

    VISE = "vise"
    V_BLOCK = "v-block"
    STRAPS = "straps"


Id = Annotated[str, StringConstraints(pattern=r"^[a-zA-Z0-9-]{1,40}$")]
Name = Annotated[str, StringConstraints(max_length=90)]
#: The same zero as the operation before.
KEPT = "kept"
#: The corner of fixed jaw and work stop, without finding it again.
STOP = "stop"


class PlanOperation(Strict):
    """One operation: what it makes with which cutter, from which zero, how far.

    ``of`` are features, for facing and sides the faces of the body; ``x``, ``y`` and ``z`` the zero along each axis of
    the machine as the work lies. ``leave`` is what a roughing cut leaves everywhere; without it the cut goes to size.
    ``lock`` are the axes that are locked. ``None`` or an empty choice: as Incudo fills it in.
    """

    id: Id
    kind: OperationKind
    of: Annotated[tuple[Name, ...], Field(max_length=30)] = ()
    cutter: Name = ""
    holder: Name = ""
    x: Name = ""
    y: Name = ""
    z: Name = ""
    approach: Literal["", "low", "high"] = ""
    leave: Num | None = None
    speed: Annotated[int, Field(ge=0, le=20_000)] | None = None
    feed: Num | None = None
    depth: Num | None = None
    width: Num | None = None
    finish: Num | None = None
    direction: Literal["", "conventional", "climb"] = ""
    entry: Literal["", "outside", "plunge", "ramp", "hole"] = ""
    lock: tuple[Literal["x", "y", "z"], ...] | None = None
    measure: bool | None = None
    clear: bool = True
    easing: bool = True
    dubbed: bool = True
    note: Line = ""

    @model_validator(mode="after")
    def _of_something(self) -> PlanOperation:
        if not self.of and self.kind not in (OperationKind.DEBURR, OperationKind.MEASURE):
            raise ValueError(say("of: must name what it makes"))
        return self


class PlanHolding(Strict):
    """How the work is held for some operations: the face that looks up, the one at the fixed jaw (at the rear).

    ``parallels`` is the height of the pair as the drawer has it with its unit, "bed" for none, empty for the best
    one. ``out`` is how far the work stands out beyond the jaws at the right. ``found`` is the side from which edges
    are touched. ``soft_bar`` is the round bar between the moving jaw and a rough face.
    """

    id: Id
    held: HeldIn = HeldIn.VISE
    up: FaceName
    fixed: FaceName
    vise: Name = ""
    parallels: Annotated[str, StringConstraints(max_length=20)] = ""
    stop: Literal["", "left", "right"] = ""
    soft_bar: bool = False
    spacer: bool = False
    straps: Annotated[int, Field(ge=0, le=8)] = 2
    out: Num = "0"
    found: Literal["low", "high"] = "low"
    operations: Annotated[tuple[PlanOperation, ...], Field(max_length=MOST_OPERATIONS)] = ()

    @model_validator(mode="after")
    def _beside(self) -> PlanHolding:
        if OPPOSITE[self.up] == self.fixed or self.up == self.fixed:
            raise ValueError(say("fixed: must be a face beside the one that looks up"))
        return self


OPPOSITE: dict[str, FaceName] = {
    "left": "right",
    "right": "left",
    "front": "rear",
    "rear": "front",
    "bottom": "top",
    "top": "bottom",
}


class Plan(Strict):
    """A plan from the sawn piece to the part."""

    format: Literal["incudo-plan/1"] = "incudo-plan/1"
    holdings: Annotated[tuple[PlanHolding, ...], Field(max_length=MOST_HOLDINGS)] = ()

    @model_validator(mode="after")
    def _ids(self) -> Plan:
        ids = [h.id for h in self.holdings] + [o.id for _, o in self.each()]
        if len(set(ids)) != len(ids):
            raise ValueError(say("holdings: every id may appear only once"))
        return self

    def each(self) -> list[tuple[PlanHolding, PlanOperation]]:
        """All operations in order, each with its holding."""
        return [(h, o) for h in self.holdings for o in h.operations]


def read_plan(data: Any) -> Plan:
    """A plan from a file's content. Raises ``Refused`` with one error for each place."""
    return read_model(Plan, data, "plan")
