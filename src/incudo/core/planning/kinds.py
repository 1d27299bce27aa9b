"""The kinds of operation: what they are called, which cutters do them, which features they make, which skill they take."""

from __future__ import annotations

from collections.abc import Mapping

from incudo.core.kernel.say import say
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.holes import Circle, HoleFeature
from incudo.core.planning.file import Kind
from incudo.core.shop.cutter import CutterKind as C

#: What takes chips by milling, and what by feeding down.
MILLING = (Kind.FACE, Kind.SIDE, Kind.STEP, Kind.SLOT, Kind.POCKET, Kind.ANGLE, Kind.CHAMFER)
DRILLING = (Kind.SPOT, Kind.DRILL, Kind.REAM, Kind.BORE, Kind.COUNTERSINK, Kind.COUNTERBORE, Kind.TAP)
#: The order of what is done to one hole.
HOLE_ORDER = (Kind.SPOT, Kind.DRILL, Kind.BORE, Kind.REAM, Kind.COUNTERBORE, Kind.COUNTERSINK, Kind.TAP)

END_MILLS = (C.END_MILL, C.ROUGHING)
#: Cutters for each kind, those that one would reach for first in front.
CUTTERS: Mapping[Kind, tuple[C, ...]] = {
    Kind.FACE: (C.FACE, C.SHELL, C.FLY, C.END_MILL, C.ROUGHING),
    Kind.SIDE: (C.END_MILL, C.ROUGHING),
    Kind.STEP: (C.END_MILL, C.ROUGHING),
    Kind.SLOT: (C.END_MILL, C.ROUGHING),
    Kind.POCKET: (C.END_MILL, C.ROUGHING),
    Kind.ANGLE: (C.END_MILL,),
    Kind.CHAMFER: (C.COUNTERSINK, C.SPOT, C.ANGLE),
    Kind.SPOT: (C.SPOT, C.CENTRE),
    Kind.DRILL: (C.DRILL,),
    Kind.REAM: (C.REAMER,),
    Kind.BORE: (C.HEAD,),
    Kind.COUNTERSINK: (C.COUNTERSINK,),
    Kind.COUNTERBORE: (C.COUNTERBORE, C.END_MILL),
    Kind.TAP: (C.TAP,),
}


def kind_words() -> dict[Kind, str]:
    """Each kind as one says it."""
    return {
        Kind.FACE: say("Face"),
        Kind.SIDE: say("Mill the end"),
        Kind.STEP: say("Mill the step"),
        Kind.SLOT: say("Mill the slot"),
        Kind.POCKET: say("Mill the pocket"),
        Kind.ANGLE: say("Mill the angle"),
        Kind.CHAMFER: say("Chamfer"),
        Kind.SPOT: say("Spot"),
        Kind.DRILL: say("Drill"),
        Kind.REAM: say("Ream"),
        Kind.BORE: say("Bore"),
        Kind.COUNTERSINK: say("Countersink"),
        Kind.COUNTERBORE: say("Counterbore"),
        Kind.TAP: say("Tap"),
        Kind.DEBURR: say("Deburr"),
        Kind.MEASURE: say("Measure"),
    }


def stages_of(feature: Feature) -> tuple[Kind, ...]:
    """The operations that make a feature, in their order."""
    match feature.kind:
        case "step" | "flat":
            return (Kind.STEP,)
        case "slot":
            return (Kind.SLOT,)
        case "pocket":
            return (Kind.POCKET,)
        case "angled":
            return (Kind.ANGLE,)
        case "chamfer":
            return (Kind.CHAMFER,)
        case "hole":
            return _of_hole(feature)


def _of_hole(hole: HoleFeature) -> tuple[Kind, ...]:
    wanted = {Kind.SPOT, Kind.DRILL}
    wanted |= {"drilled": set(), "reamed": {Kind.REAM}, "bored": {Kind.BORE}, "tapped": {Kind.TAP}}[hole.made]
    wanted |= {Kind.COUNTERBORE} if hole.counterbore else set()
    wanted |= {Kind.COUNTERSINK} if hole.countersink else set()
    return tuple(k for k in HOLE_ORDER if k in wanted)


def last_stage(feature: Feature) -> Kind:
    """The operation that makes what the drawing asks a size of: the one that it is measured for."""
    if isinstance(feature, HoleFeature):
        return {"drilled": Kind.DRILL, "reamed": Kind.REAM, "bored": Kind.BORE, "tapped": Kind.TAP}[feature.made]
    return stages_of(feature)[-1]


def skills_for(kind: Kind, feature: Feature | None) -> tuple[str, ...]:
    """The skills of the shipped ladder that an operation takes."""
    found = {
        Kind.FACE: "facing",
        Kind.SIDE: "side-milling",
        Kind.ANGLE: "side-milling",
        Kind.CHAMFER: "side-milling",
        Kind.STEP: "mill-steps",
        Kind.SLOT: "mill-slots",
        Kind.POCKET: "mill-pockets",
        Kind.SPOT: "drilling",
        Kind.DRILL: "drilling",
        Kind.COUNTERBORE: "drilling",
        Kind.REAM: "reaming",
        Kind.BORE: "boring",
        Kind.COUNTERSINK: "countersinking",
        Kind.TAP: "hand-tapping",
    }.get(kind)
    circle = isinstance(feature, HoleFeature) and isinstance(feature.layout, Circle) and kind in DRILLING
    return (*((found,) if found else ()), *(("bolt-circle",) if circle else ()))
