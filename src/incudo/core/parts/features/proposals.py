"""What follows from the features of a part: the operations in their order of work, what a student must have before,
and which skills the measured part is evidence for. An instructor can choose otherwise; this is where they begin.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from fractions import Fraction

from incudo.core.parts.features.file import Feature, PartFile
from incudo.core.parts.features.holes import Circle, HoleFeature
from incudo.core.parts.project import Characteristic, Gives, Project

#: The operations of the shipped ladder in the order in which a part is usually made.
ORDER = (
    "square-block",
    "facing",
    "mill-steps",
    "side-milling",
    "mill-slots",
    "mill-pockets",
    "drilling",
    "bolt-circle",
    "boring",
    "reaming",
    "countersinking",
    "hand-tapping",
)
ALWAYS = ("general-safety", "machine-familiarisation", "measure-caliper")
#: Limits so narrow, in mm, are measured with a micrometer. Rule of thumb: a caliper is good to some 0.03 mm.
MICROMETER = Fraction(16, 100)
#: Forms that an indicator shows on a plate.
INDICATOR = ("parallel", "square", "flat", "runout")


def skills_of(feature: Feature) -> tuple[str, ...]:
    """The operations that a feature takes."""
    match feature.kind:
        case "step" | "flat":
            return ("mill-steps",)
        case "slot":
            return ("mill-slots",)
        case "pocket":
            return ("mill-pockets",)
        case "chamfer" | "angled":
            return ("side-milling",)
        case "hole":
            return _of_hole(feature)


def _of_hole(hole: HoleFeature) -> tuple[str, ...]:
    found = ["drilling"]
    found += {"drilled": [], "reamed": ["reaming"], "bored": ["boring"], "tapped": ["hand-tapping"]}[hole.made]
    found += ["countersinking"] if hole.countersink else []
    found += ["bolt-circle"] if isinstance(hole.layout, Circle) else []
    return tuple(found)


def operations_of(file: PartFile) -> tuple[str, ...]:
    """The operations of a part, in the order of work; a block is squared first."""
    found = {s for f in file.features for s in skills_of(f)}
    if file.body.shape == "block":
        found.add("square-block")
    return tuple(s for s in ORDER if s in found)


def needs_of(file: PartFile, project: Project) -> tuple[str, ...]:
    """What a student must have besides what the operations rest on."""
    needs = list(ALWAYS)
    widths = [w for c in project.characteristics if (w := project.width(c)) is not None and not c.framed]
    if any(w < MICROMETER for w in widths):
        needs.append("measure-micrometer")
    if any(c.kind in INDICATOR for c in file.characteristics):
        needs.append("measure-indicator")
    if any(f.kind == "pocket" for f in file.features):
        needs.append("edge-finding")
    if file.body.shape == "bar":
        needs.append("parallels")
    return tuple(needs)


def gives_of(file: PartFile, asked: Iterable[tuple[Characteristic, frozenset[str]]]) -> tuple[Gives, ...]:
    """Which skills the part is evidence for: each by what is measured on its own features.

    What belongs to no feature (length, width, height, a parallel top) is evidence of a squared block. Of a hole, its
    place speaks for drilling, its diameter for reaming, boring or countersinking.
    """
    features: Mapping[str, Feature] = {f.name: f for f in file.features}
    found: dict[str, list[int]] = {}
    for c, names in asked:
        if not names and file.body.shape == "block":
            found.setdefault("square-block", []).append(c.number)
        for name in sorted(names):
            for skill in skills_of(features[name]):
                found.setdefault(skill, []).append(c.number)
    return tuple(Gives(skill=s, characteristics=tuple(dict.fromkeys(found[s]))) for s in ORDER if s in found)
