"""What finding takes and shows: questions about edges, middles, centres, depths; datums; dial readings that follow."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from incudo.app.kernel.views import Command, Named, StepView, View
from incudo.app.locating.moves import HandleView, MoveLine, Number
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.locating.datum import Scale
from incudo.core.locating.finders import Face, FinderKind
from incudo.core.locating.places import PartAxis

Index = Annotated[int, Field(ge=0, le=9)]


class EdgeFind(Command):
    """Touches of one face, each come to in the same sense, as dial or readout showed them."""

    kind: Literal["edge"] = "edge"
    handle: Index
    scale: Scale
    face: Face
    finder: Annotated[str, Field(max_length=20)]
    touches: Annotated[tuple[Number, ...], Field(max_length=6)] = ()
    paper: Number = "0"


class MiddleFind(Command):
    """Both sides of a block, bar or slot; ``turns`` whole turns lie between the contacts on a dial.

    ``width`` is measured, in the part's unit, and is sure to ``unsure``. ``above`` is how high the finder's
    body stands over a bar's widest line.
    """

    kind: Literal["middle"] = "middle"
    handle: Index
    scale: Scale
    finder: Annotated[str, Field(max_length=20)]
    inside: bool = False
    low: Number
    high: Number
    turns: Annotated[int, Field(ge=0, le=400)] = 0
    width: Number
    unsure: Number = "0"
    above: Number = "0"


class FlatFind(Command):
    """A spot on a bar: measured from it to the lower flank and to the higher, in the part's unit."""

    kind: Literal["flat"] = "flat"
    handle: Index
    scale: Scale
    here: Number
    mill: Number
    depth: Number
    near: Number
    far: Number


class RoundFind(Command):
    """Four readings of an indicator that is turned in a bore or around a boss, and what the scales show there.

    ``feature`` is a hole of the part, or empty for the middle of the part.
    """

    kind: Literal["round"] = "round"
    x_handle: Index
    y_handle: Index
    scale: Scale
    boss: bool = False
    feature: Annotated[str, Field(max_length=80)] = ""
    unit: LengthUnit
    division: Number
    east: Number
    north: Number
    west: Number
    south: Number
    here_x: Number
    here_y: Number


class DepthFind(Command):
    """A touch on the part's top over paper or a gauge, or by the first chips."""

    kind: Literal["depth"] = "depth"
    handle: Index
    scale: Scale
    how: Literal["paper", "gauge", "chips"] = "paper"
    thickness: Number = "0"
    reading: Number


Find = Annotated[EdgeFind | MiddleFind | FlatFind | RoundFind | DepthFind, Field(discriminator="kind")]


class FindQuestion(Command):
    """What was touched; works it out and keeps nothing."""

    find: Find


class KeepFind(FindQuestion):
    """The same, kept in the datum record of the job card; ``zeroed`` when dial or readout was set to 0 there."""

    id: uuid.UUID
    zeroed: bool = False


class ClearanceView(View):
    """A finder beside a bar, all in mm: diameters, how far the tip reaches below the body, the body's height
    above the bar's widest line.
    """

    bar: float
    tip: float
    body: float
    reach: float
    above: float
    clear: bool


class FindAnswer(View):
    """What follows. ``off`` is how far the spindle is from a round's centre, X and Y in mm."""

    good: bool
    next: tuple[str, ...]
    wrong: tuple[str, ...]
    notes: tuple[str, ...]
    working: tuple[StepView, ...]
    off: tuple[float, float] | None
    clearance: ClearanceView | None


class FaceView(View):
    """A face that can be touched, by a picture of the part."""

    face: Face
    axis: PartAxis
    words: str
    come: str


class EnteredView(View):
    """What stands in the fields before anything is entered, in the drawing's unit."""

    unsure: str
    division: str
    paper: str


class FinderView(View):
    """A finder of the drawer."""

    id: str
    name: str
    kind: FinderKind
    tip: str
    tip_mm: float
    body: str
    speed: str
    tells: str


class FeatureView(View):
    """A hole of the part, in mm, for the picture."""

    name: str
    x: float
    y: float
    radius: float


class OutlineView(View):
    """The part from above, in mm: from where to where along X and Y; round for a bar."""

    x: tuple[float, float]
    y: tuple[float, float]
    bar: bool
    features: tuple[FeatureView, ...]


class DatumView(View):
    """One line of the datum record; ``part`` is the part's coordinate in mm."""

    axis: PartAxis
    scale: Scale
    part: float
    words: str
    by: str
    at: datetime
    stands: bool
    reason: str


class PlanLine(View):
    """One place of the part with how to come there."""

    name: str
    note: str
    move: MoveLine


class PlanAxis(View):
    """The places along one axis, in the order in which each is approached from the datum's side."""

    axis: PartAxis
    handle: str
    side: str
    scale: Scale
    lines: tuple[PlanLine, ...]


class FoundLine(View):
    """Something that was found."""

    id: uuid.UUID
    kind: str
    words: str
    by: str
    at: datetime


class FindPage(View):
    """What is needed to find the places of a job card's part, and what is found."""

    assignment: uuid.UUID
    name: str
    student: Named
    mine: bool
    machine: Named | None
    unit: LengthUnit
    scale_unit: LengthUnit
    outline: OutlineView
    handles: tuple[HandleView, ...]
    faces: tuple[FaceView, ...]
    finders: tuple[FinderView, ...]
    checks: dict[str, tuple[str, ...]]
    entered: EnteredView
    datums: tuple[DatumView, ...]
    plan: tuple[PlanAxis, ...]
    missing: tuple[PartAxis, ...]
    cutter: str
    history: tuple[FoundLine, ...]
