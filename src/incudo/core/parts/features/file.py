"""The file of a part, format ``incudo-project/2``: docs/formats/project.md."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from incudo.core.kernel.fields import Key, Line, Num, Strict, Word
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.frame import Body
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.features.milled import Flat, Pocket, Slot, Step
from incudo.core.parts.features.sloped import Angled, Chamfer
from incudo.core.parts.holds import Hold
from incudo.core.parts.project import Gives

FORMAT = "incudo-project/2"
#: Features and requirements of one part.
MOST_FEATURES = 30
MOST_ASKED = 60

Feature = Annotated[Step | Flat | Slot | Pocket | HoleFeature | Chamfer | Angled, Field(discriminator="kind")]
FaceName = Literal["left", "right", "front", "rear", "bottom", "top"]


class BlockStock(Strict):
    """A piece of bar as bought: its sizes along the part's axes, and which faces are sawn; the rest is as rolled."""

    form: Literal["block", "flat", "square"]
    x: Num
    y: Num
    z: Num
    sawn: tuple[FaceName, ...] = ("left", "right")


class RoundStock(Strict):
    """A piece of round bar as bought; its ends are sawn."""

    form: Literal["round"]
    diameter: Num
    length: Num


Stock = Annotated[BlockStock | RoundStock, Field(discriminator="form")]


class DatumFace(Strict):
    """A face that the drawing measures from."""

    letter: Annotated[str, StringConstraints(pattern=r"^[A-Z]$")]
    face: Annotated[str, StringConstraints(min_length=1, max_length=90)]


class PartFile(Strict):
    """A part as its file says it. ``None`` for needs, operations and gives: as Incudo proposes them.

    ``minutes`` are what whoever drew it expects a learner to take, from the sawn piece to the last reading.
    """

    format: Literal["incudo-project/2"]
    code: Key
    name: Word
    about: Line = ""
    minutes: Annotated[int, Field(ge=5, le=6000)] | None = None
    unit: LengthUnit
    material: Word
    stock: Stock
    body: Body
    features: Annotated[tuple[Feature, ...], Field(max_length=MOST_FEATURES)] = ()
    title_block: Annotated[dict[Annotated[int, Field(ge=0, le=6)], Num], Field(default_factory=dict)]
    datums: Annotated[tuple[DatumFace, ...], Field(max_length=12)] = ()
    characteristics: Annotated[tuple[Asked, ...], Field(max_length=MOST_ASKED)] = ()
    needs: Annotated[tuple[Key, ...], Field(max_length=40)] | None = None
    operations: Annotated[tuple[Key, ...], Field(max_length=20)] | None = None
    gives: Annotated[tuple[Gives, ...], Field(max_length=40)] | None = None
    hold_points: Annotated[tuple[Hold, ...], Field(max_length=3)] = ()
