"""The kinds of feature as a page offers them: their fields in words, and numbers to begin with that fit the part.

A page draws its forms from this and keeps no list of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.frame import Frame, Plane, Spans, others, text_of


@dataclass(frozen=True)
class FieldSpec:
    """One field: where it is in the feature, what it is called, what may stand there.

    ``of`` is length, angle, count, face, axis, thread or choice; an optional one may be left empty: ``empty`` says what
    that means.
    """

    path: str
    words: str
    of: str
    empty: str = ""
    #: Which of the two axes of the feature's face it runs along, where it has one for each.
    across: int | None = None
    choices: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Variant:
    """One way that a group may be filled."""

    key: str
    words: str
    fields: tuple[FieldSpec, ...]


@dataclass(frozen=True)
class GroupSpec:
    """Fields that go together and come in variants, such as the layout of holes."""

    path: str
    words: str
    variants: tuple[Variant, ...]


@dataclass(frozen=True)
class KindSpec:
    """A kind of feature; ``on`` says whether it is for blocks, bars or both."""

    key: str
    words: str
    help: str
    fields: tuple[FieldSpec, ...]
    groups: tuple[GroupSpec, ...] = ()
    on: tuple[str, ...] = ("block", "bar")


def kinds() -> tuple[KindSpec, ...]:
    """All kinds, the most usual first."""
    face = FieldSpec("face", say("From face"), "face")
    side = FieldSpec("side", say("At side"), "face")
    depth = FieldSpec("depth", say("Depth"), "length")
    maybe_through = FieldSpec("depth", say("Depth"), "length", empty=say("through"))
    along = FieldSpec("along", say("Along"), "axis")
    return (
        KindSpec(
            "step",
            say("Step"),
            say("A shoulder along one side, open at two faces."),
            (face, side, FieldSpec("length", say("In from the side"), "length"), depth),
        ),
        KindSpec(
            "slot",
            say("Slot"),
            say("Runs along one axis. An end that you give is round by the cutter; one left empty runs out."),
            (
                face,
                along,
                FieldSpec("at", say("Middle at"), "length"),
                FieldSpec("width", say("Width"), "length"),
                maybe_through,
                FieldSpec("start", say("From"), "length", empty=say("runs out")),
                FieldSpec("end", say("To"), "length", empty=say("runs out")),
            ),
        ),
        KindSpec(
            "pocket",
            say("Pocket"),
            say("Closed all round, its corners as round as the cutter."),
            (
                face,
                FieldSpec("at.0", say("Middle"), "length", across=0),
                FieldSpec("at.1", say("Middle"), "length", across=1),
                FieldSpec("size.0", say("Size"), "length", across=0),
                FieldSpec("size.1", say("Size"), "length", across=1),
                FieldSpec("radius", say("Corner radius"), "length"),
                maybe_through,
            ),
            on=("block",),
        ),
        KindSpec(
            "hole",
            say("Hole"),
            say("One hole or a pattern of equal holes: drilled, reamed, bored or tapped."),
            (
                face,
                FieldSpec(
                    "made",
                    say("Made by"),
                    "choice",
                    choices=(
                        ("drilled", say("drilling")),
                        ("reamed", say("reaming")),
                        ("bored", say("boring")),
                        ("tapped", say("tapping")),
                    ),
                ),
                FieldSpec("diameter", say("Diameter (of a thread: the tap drill)"), "length"),
                maybe_through,
                FieldSpec("tip", say("Drill point, degrees"), "angle", empty=say("flat bottom")),
            ),
            (_layouts(), _thread(), *_mouths()),
        ),
        KindSpec(
            "chamfer",
            say("Chamfer"),
            say("Breaks the edge between two faces at 45 degrees."),
            (face, side, FieldSpec("size", say("Size along each face"), "length")),
            on=("block",),
        ),
        KindSpec(
            "angled",
            say("Angled face"),
            say("Falls away from a face to a side, by the head or the vise set over."),
            (
                face,
                side,
                FieldSpec("length", say("Begins in from the side"), "length"),
                FieldSpec("angle", say("Angle to the face, degrees"), "angle"),
            ),
            on=("block",),
        ),
        KindSpec(
            "flat",
            say("Flat on a bar"),
            say("From one end of a round bar, or all along it."),
            (
                FieldSpec("face", say("At"), "choice", choices=tuple((f, w) for f, w in _around())),
                FieldSpec(
                    "end", say("From end"), "choice", choices=(("left", say("left end")), ("right", say("right end")))
                ),
                FieldSpec("length", say("Length"), "length", empty=say("all along")),
                FieldSpec("across", say("From the flat to the opposite side"), "length"),
            ),
            on=("bar",),
        ),
    )


def _around() -> tuple[tuple[str, str], ...]:
    return ("top", say("top")), ("bottom", say("bottom")), ("front", say("front")), ("rear", say("rear"))


def _layouts() -> GroupSpec:
    at = (
        FieldSpec("layout.at.0", say("Place"), "length", across=0),
        FieldSpec("layout.at.1", say("Place"), "length", across=1),
    )
    count = FieldSpec("layout.count", say("How many"), "count")
    return GroupSpec(
        "layout",
        say("Layout"),
        (
            Variant("single", say("One"), at),
            Variant(
                "row",
                say("Row"),
                (
                    *at,
                    FieldSpec("layout.along", say("Along"), "axis"),
                    count,
                    FieldSpec("layout.pitch", say("Pitch"), "length"),
                ),
            ),
            Variant(
                "grid",
                say("Grid"),
                (
                    *at,
                    FieldSpec("layout.counts.0", say("How many"), "count", across=0),
                    FieldSpec("layout.counts.1", say("How many"), "count", across=1),
                    FieldSpec("layout.pitches.0", say("Pitch"), "length", across=0),
                    FieldSpec("layout.pitches.1", say("Pitch"), "length", across=1),
                ),
            ),
            Variant(
                "circle",
                say("Bolt circle"),
                (
                    *at,
                    FieldSpec("layout.diameter", say("Circle, diameter"), "length"),
                    count,
                    FieldSpec("layout.start", say("First hole at, degrees"), "angle"),
                ),
            ),
        ),
    )


def _thread() -> GroupSpec:
    return GroupSpec(
        "thread",
        say("Thread"),
        (
            Variant("", say("No thread"), ()),
            Variant(
                "given",
                say("Thread"),
                (
                    FieldSpec("thread.designation", say("Thread"), "thread"),
                    FieldSpec("thread.depth", say("Thread, depth"), "length", empty=say("as deep as the hole")),
                ),
            ),
        ),
    )


def _mouths() -> tuple[GroupSpec, GroupSpec]:
    return (
        GroupSpec(
            "countersink",
            say("Countersink"),
            (
                Variant("", say("No countersink"), ()),
                Variant(
                    "given",
                    say("Countersink"),
                    (
                        FieldSpec("countersink.diameter", say("Countersink, diameter"), "length"),
                        FieldSpec("countersink.angle", say("Countersink, degrees"), "angle"),
                    ),
                ),
            ),
        ),
        GroupSpec(
            "counterbore",
            say("Counterbore"),
            (
                Variant("", say("No counterbore"), ()),
                Variant(
                    "given",
                    say("Counterbore"),
                    (
                        FieldSpec("counterbore.diameter", say("Counterbore, diameter"), "length"),
                        FieldSpec("counterbore.depth", say("Counterbore, depth"), "length"),
                    ),
                ),
            ),
        ),
    )


def round_number(value: Decimal, unit: Unit) -> str:
    """A number to begin with, as one would draw it: eighths of an inch, or whole millimetres; never 0."""
    if unit is Unit.INCH:
        eighths = max(round(value * 8), 1 if value > 0 else -1)
        return text_of((Decimal(eighths) / 8).quantize(Decimal("0.001")))
    whole = round(value)
    return text_of(Decimal(whole)) if whole else text_of(value.quantize(Decimal("0.1")) or Decimal("0.5"))


def begin(kind: str, face: str, frame: Frame, name: str) -> dict[str, Any]:
    """A feature of this kind on this face with numbers to begin with. Raises ``Refused`` for a kind or face unknown."""
    makers: Mapping[str, Callable[[Plane, Frame], dict[str, Any]]] = {
        "step": _step,
        "slot": _slot,
        "pocket": _pocket,
        "hole": _hole,
        "chamfer": _chamfer,
        "angled": _angled,
        "flat": _flat,
    }
    if kind not in makers:
        raise Refused.of("kind", kind, say("must be one of: {kinds}", kinds=together(makers, ", ")))
    return {"kind": kind, "name": name, **makers[kind](frame.plane(face, "face"), frame)}


def _of(spans: Spans, axis: int, share: str, unit: Unit) -> str:
    return round_number((spans[axis][1] - spans[axis][0]) * Decimal(share), unit)


def _middle(face: Plane, axis: int, unit: Unit) -> str:
    low, high = face.spans[axis]
    middle = (low + high) / 2
    return text_of(middle) if middle == 0 else round_number(middle, unit)


def _third(face: Plane, frame: Frame) -> str:
    return round_number(frame.thickness(face) / 3, frame.unit)


def _beside(face: Plane) -> tuple[int, str]:
    """A side beside a face, to begin with: the right end, of an end the top."""
    return (2, "top") if face.axis == 0 else (0, "right")


def _step(face: Plane, frame: Frame) -> dict[str, Any]:
    axis, side = _beside(face)
    return {
        "face": face.name,
        "side": side,
        "length": _of(face.spans, axis, "0.3", frame.unit),
        "depth": _third(face, frame),
    }


def _slot(face: Plane, frame: Frame) -> dict[str, Any]:
    a, b = others(face.axis)
    long, cross = (a, b) if face.spans[a][1] - face.spans[a][0] >= face.spans[b][1] - face.spans[b][0] else (b, a)
    return {
        "face": face.name,
        "along": "xyz"[long],
        "at": _middle(face, cross, frame.unit),
        "width": _of(frame.spans, cross, "0.2", frame.unit),
        "depth": _third(face, frame),
        "start": None,
        "end": None,
    }


def _pocket(face: Plane, frame: Frame) -> dict[str, Any]:
    a, b = others(face.axis)
    narrow = min(face.spans[a][1] - face.spans[a][0], face.spans[b][1] - face.spans[b][0])
    depth = _third(face, frame)
    step = Decimal("0.001" if frame.unit is Unit.INCH else "1")
    radius = max(narrow / 10, Decimal(depth) / 6).quantize(step, rounding="ROUND_CEILING")
    return {
        "face": face.name,
        "at": [_middle(face, a, frame.unit), _middle(face, b, frame.unit)],
        "size": [_of(face.spans, a, "0.5", frame.unit), _of(face.spans, b, "0.5", frame.unit)],
        "radius": text_of(radius),
        "depth": depth,
    }


def _hole(face: Plane, frame: Frame) -> dict[str, Any]:
    a, b = others(face.axis)
    narrow = min(face.spans[a][1] - face.spans[a][0], face.spans[b][1] - face.spans[b][0]) or frame.thickness(face)
    return {
        "face": face.name,
        "made": "drilled",
        "diameter": round_number(narrow / 6, frame.unit),
        "depth": None,
        "tip": "118",
        "layout": {"layout": "single", "at": [_middle(face, a, frame.unit), _middle(face, b, frame.unit)]},
        "thread": None,
        "countersink": None,
        "counterbore": None,
    }


def _chamfer(face: Plane, frame: Frame) -> dict[str, Any]:
    return {"face": face.name, "side": _beside(face)[1], "size": "0.060" if frame.unit is Unit.INCH else "1.5"}


def _angled(face: Plane, frame: Frame) -> dict[str, Any]:
    axis, side = _beside(face)
    return {"face": face.name, "side": side, "length": _of(face.spans, axis, "0.15", frame.unit), "angle": "30"}


def _flat(face: Plane, frame: Frame) -> dict[str, Any]:
    at = face.name if face.name in ("top", "bottom", "front", "rear") else "top"
    across = frame.thickness(frame.plane(at, "face")) * Decimal("0.85")
    return {
        "face": at,
        "end": "left",
        "length": _of(frame.spans, 0, "0.25", frame.unit),
        "across": round_number(across, frame.unit),
    }


def vary(feature: dict[str, Any], group: str, variant: str, frame: Frame) -> dict[str, Any]:
    """A feature with one group begun anew in another variant, keeping what both have."""
    made = dict(feature)
    diameter = Decimal(str(feature.get("diameter") or "1"))
    if group == "layout":
        made["layout"] = _layout(variant, feature, frame)
    elif not variant:
        made[group] = None
        if group == "thread" and made.get("made") == "tapped":
            made["made"] = "drilled"
    elif group == "thread":
        made["made"] = "tapped"
        made["thread"] = {"designation": "", "diameter": "", "pitch": "", "depth": None}
    elif group == "countersink":
        made |= {
            "counterbore": None,
            "countersink": {"diameter": text_of(diameter * 2), "angle": "82" if frame.unit is Unit.INCH else "90"},
        }
    else:
        wide = (diameter * Decimal("1.6")).quantize(Decimal("0.001" if frame.unit is Unit.INCH else "1"))
        made |= {"countersink": None, "counterbore": {"diameter": text_of(wide), "depth": text_of(diameter)}}
    return made


def _layout(variant: str, feature: dict[str, Any], frame: Frame) -> dict[str, Any]:
    at = list(feature["layout"]["at"])
    face = frame.plane(feature["face"], "face")
    a, b = others(face.axis)
    made: dict[str, Any] = {"layout": variant, "at": at}
    if variant == "row":
        made |= {"along": "xyz"[a], "count": 3, "pitch": _of(face.spans, a, "0.2", frame.unit)}
    elif variant == "grid":
        made |= {
            "counts": [2, 2],
            "pitches": [_of(face.spans, a, "0.3", frame.unit), _of(face.spans, b, "0.3", frame.unit)],
        }
    elif variant == "circle":
        narrow = min(face.spans[a][1] - face.spans[a][0], face.spans[b][1] - face.spans[b][0])
        made |= {"diameter": round_number(narrow * Decimal("0.5"), frame.unit), "count": 4, "start": "0"}
    return made


def free_name(words: str, taken: set[str]) -> str:
    """A name that is not taken yet: slot, slot 2, slot 3."""
    name, n = words, 2
    while name in taken:
        name, n = f"{words} {n}", n + 1
    return name
