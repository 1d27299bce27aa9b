"""The kinds of operation: what they are called, which cutters do them, which features they make, which skill."""

from __future__ import annotations

from collections.abc import Mapping

from incudo.core.kernel.say import say
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.holes import Circle, HoleFeature
from incudo.core.planning.file import OperationKind
from incudo.core.shop.cutter import CutterKind as C

#: What takes chips by milling, and what by feeding down.
MILLING = (
    OperationKind.FACE,
    OperationKind.SIDE,
    OperationKind.STEP,
    OperationKind.SLOT,
    OperationKind.POCKET,
    OperationKind.ANGLE,
    OperationKind.CHAMFER,
)
DRILLING = (
    OperationKind.SPOT,
    OperationKind.DRILL,
    OperationKind.REAM,
    OperationKind.BORE,
    OperationKind.COUNTERSINK,
    OperationKind.COUNTERBORE,
    OperationKind.TAP,
)
#: The order of what is done to one hole.
HOLE_ORDER = (
    OperationKind.SPOT,
    OperationKind.DRILL,
    OperationKind.BORE,
    OperationKind.REAM,
    OperationKind.COUNTERBORE,
    OperationKind.COUNTERSINK,
    OperationKind.TAP,
)

#: Cutters for each kind, those that one would reach for first in front.
CUTTERS: Mapping[OperationKind, tuple[C, ...]] = {
    OperationKind.FACE: (C.FACE, C.SHELL, C.FLY, C.END_MILL, C.ROUGHING, C.PLAIN, C.SIDE_AND_FACE),
    OperationKind.SIDE: (C.END_MILL, C.ROUGHING),
    OperationKind.STEP: (C.END_MILL, C.ROUGHING, C.SIDE_AND_FACE),
    OperationKind.SLOT: (C.END_MILL, C.ROUGHING, C.SIDE_AND_FACE),
    OperationKind.POCKET: (C.END_MILL, C.ROUGHING),
    OperationKind.ANGLE: (C.END_MILL,),
    OperationKind.CHAMFER: (C.COUNTERSINK, C.SPOT, C.ANGLE),
    OperationKind.SPOT: (C.SPOT, C.CENTRE),
    OperationKind.DRILL: (C.DRILL,),
    OperationKind.REAM: (C.REAMER,),
    OperationKind.BORE: (C.HEAD,),
    OperationKind.COUNTERSINK: (C.COUNTERSINK,),
    OperationKind.COUNTERBORE: (C.COUNTERBORE, C.END_MILL),
    OperationKind.TAP: (C.TAP,),
}


#: What a level arbor over the work can do: cuts straight through from one end to the other.
ON_ARBOR = (OperationKind.FACE, OperationKind.STEP, OperationKind.SLOT)


def kind_words() -> dict[OperationKind, str]:
    """Each kind as one says it."""
    return {
        OperationKind.FACE: say("Face"),
        OperationKind.SIDE: say("Mill the end"),
        OperationKind.STEP: say("Mill the step"),
        OperationKind.SLOT: say("Mill the slot"),
        OperationKind.POCKET: say("Mill the pocket"),
        OperationKind.ANGLE: say("Mill the angle"),
        OperationKind.CHAMFER: say("Chamfer"),
        OperationKind.SPOT: say("Spot"),
        OperationKind.DRILL: say("Drill"),
        OperationKind.REAM: say("Ream"),
        OperationKind.BORE: say("Bore"),
        OperationKind.COUNTERSINK: say("Countersink"),
        OperationKind.COUNTERBORE: say("Counterbore"),
        OperationKind.TAP: say("Tap"),
        OperationKind.DEBURR: say("Deburr"),
        OperationKind.MEASURE: say("Measure"),
    }


def stages_of(feature: Feature) -> tuple[OperationKind, ...]:
    """The operations that make a feature, in their order."""
    match feature.kind:
        case "step" | "flat":
            return (OperationKind.STEP,)
        case "slot":
            return (OperationKind.SLOT,)
        case "pocket":
            return (OperationKind.POCKET,)
        case "angled":
            return (OperationKind.ANGLE,)
        case "chamfer":
            return (OperationKind.CHAMFER,)
        case "hole":
            return _of_hole(feature)


def _of_hole(hole: HoleFeature) -> tuple[OperationKind, ...]:
    wanted = {OperationKind.SPOT, OperationKind.DRILL}
    wanted |= {
        "drilled": set(),
        "reamed": {OperationKind.REAM},
        "bored": {OperationKind.BORE},
        "tapped": {OperationKind.TAP},
    }[hole.made]
    wanted |= {OperationKind.COUNTERBORE} if hole.counterbore else set()
    wanted |= {OperationKind.COUNTERSINK} if hole.countersink else set()
    return tuple(k for k in HOLE_ORDER if k in wanted)


def skills_for(kind: OperationKind, feature: Feature | None) -> tuple[str, ...]:
    """The skills of the shipped ladder that an operation takes."""
    found = {
        OperationKind.FACE: "facing",
        OperationKind.SIDE: "side-milling",
        OperationKind.ANGLE: "side-milling",
        OperationKind.CHAMFER: "side-milling",
        OperationKind.STEP: "mill-steps",
        OperationKind.SLOT: "mill-slots",
        OperationKind.POCKET: "mill-pockets",
        OperationKind.SPOT: "drilling",
        OperationKind.DRILL: "drilling",
        OperationKind.COUNTERBORE: "drilling",
        OperationKind.REAM: "reaming",
        OperationKind.BORE: "boring",
        OperationKind.COUNTERSINK: "countersinking",
        OperationKind.TAP: "hand-tapping",
    }.get(kind)
    circle = isinstance(feature, HoleFeature) and isinstance(feature.layout, Circle) and kind in DRILLING
    return (*((found,) if found else ()), *(("bolt-circle",) if circle else ()))
