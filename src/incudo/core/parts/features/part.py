"""From a part's file to the part: solid, names, drawing's requirements, proposals. All faults are said together."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import read_model
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import capital, say, together
from incudo.core.parts.features import proposals
from incudo.core.parts.features.asked import Asked, Beside
from incudo.core.parts.features.checks import can_be_cut, pieces, what_is_left
from incudo.core.parts.features.file import BlockStock, Feature, PartFile, RoundStock
from incudo.core.parts.features.frame import SIDES, Frame, Plane, text_of
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.features.milled import Pocket, Step
from incudo.core.parts.features.resolving import Resolved, resolve
from incudo.core.parts.features.sloped import Angled, Chamfer
from incudo.core.parts.geometry.solid import Solid, bodies_of, body_of
from incudo.core.parts.project import (
    Axis,
    BetweenPlace,
    Block,
    Characteristic,
    Datum,
    PointedPlace,
    Project,
    RoundBar,
    ViewName,
)


@dataclass(frozen=True)
class Part:
    """A part that can be made: its file, what is named on it, its solid, and the drawing's requirements."""

    file: PartFile
    frame: Frame
    solid: Solid
    project: Project
    resolved: tuple[Resolved, ...]


@dataclass(frozen=True)
class Shaped:
    """The shape alone, while requirements may still be wrong."""

    frame: Frame
    solid: Solid
    cuts: tuple[Any, ...]
    faults: tuple[FieldError, ...]


def read_part(data: Any) -> PartFile:
    """A file's content, well-formed but not yet built. Raises ``Refused`` with one error for each place."""
    return read_model(PartFile, data, "part")


def shaped(file: PartFile) -> Shaped:
    """The solid of a file, feature by feature; one that cannot be made is left out and said at its number.

    Raises ``Refused`` when there is no body at all.
    """
    faults = _stock_faults(file)
    frame = Frame.of(file.body, file.unit)
    solid = body_of(file.body)
    made: list[Any] = []
    seen: set[str] = set()
    for n, feature in enumerate(file.features):
        at = f"features.{n}"
        if feature.name in seen or feature.name in SIDES or feature.name in ("axis", "round"):
            faults.append(FieldError(f"{at}.name", feature.name, say("is already the name of something on this part")))
            continue
        try:
            built = feature.build(frame)
        except Refused as refused:
            faults += [FieldError(f"{at}.{e.field}", e.value, e.bound) for e in refused.errors]
            continue
        bodies = bodies_of(built.cuts, len(made))
        wrong = can_be_cut(feature, bodies, solid, frame)
        after = Solid(solid.base, (*solid.cuts, *bodies))
        if not wrong and (count := pieces(after)) != 1:
            words = (
                say("would leave nothing") if not count else say("would cut the part into {count} pieces", count=count)
            )
            wrong = [FieldError(_deepest(feature), "", words)]
        if wrong:
            faults += [FieldError(f"{at}.{e.field}", e.value, e.bound) for e in wrong]
            continue
        seen.add(feature.name)
        frame.add(*built.named)
        solid, made = after, [*made, *built.cuts]
    return Shaped(frame, solid, tuple(made), tuple(faults))


def _deepest(feature: Feature) -> str:
    return "depth" if hasattr(feature, "depth") else "face"


@dataclass(frozen=True)
class Drafted:
    """A part while it is being made: what is right of it, and every fault at its number."""

    file: PartFile
    shape: Shaped
    resolved: tuple[Resolved, ...]
    faults: tuple[FieldError, ...]

    @property
    def project(self) -> Project:
        """The part as far as it is right, to be drawn; only without faults it may be given."""
        return _project(self.file, self.shape, self.resolved)


def drafted(file: PartFile) -> Drafted:
    """A part as far as it can be made. Raises ``Refused`` when there is no body at all."""
    shape = shaped(file)
    faults = list(shape.faults)
    resolved: list[Resolved] = []
    letters = [d.letter for d in file.datums]
    for n, d in enumerate(file.datums):
        faults += _datum_faults(n, letters, shape.frame, d.face)
    numbers: set[int] = set()
    cut_away = _trim(
        shape, {name for asked in file.characteristics for name in asked.of} | {d.face for d in file.datums}
    )
    for n, asked in enumerate(file.characteristics):
        at = f"characteristics.{n}"
        if asked.number in numbers:
            faults.append(FieldError(f"{at}.number", str(asked.number), say("each number may appear only once")))
            continue
        numbers.add(asked.number)
        if asked.datum and asked.datum not in letters:
            faults.append(FieldError(f"{at}.datum", asked.datum, say("there is no datum of this letter")))
            continue
        if any(_of_missing(name, file, shape.frame) for name in asked.of):
            continue
        gone = [n for n, name in enumerate(asked.of) if name in cut_away]
        if gone:
            words = say("is not on the part any more: a later feature has cut it away")
            faults += [FieldError(f"{at}.of.{n}", asked.of[n], words) for n in gone]
            continue
        found = resolved_or_faults(asked, shape.frame, file, at)
        if isinstance(found, Resolved):
            resolved.append(found)
        else:
            faults += found
    if not file.characteristics:
        faults.append(FieldError("characteristics", "", say("a drawing asks for at least one thing")))
    return Drafted(file, shape, tuple(resolved), tuple(faults))


def _trim(shape: Shaped, wanted: set[str]) -> set[str]:
    """Faces that are asked of, cut down to what later features have left of them; gives those of which nothing is."""
    gone = set()
    for face in shape.frame.faces:
        if face.name in wanted:
            left = what_is_left(face, shape.solid)
            if left is None:
                gone.add(face.name)
            else:
                shape.frame.add(left)
    return gone


def part_of(file: PartFile) -> Part:
    """The whole part. Raises ``Refused`` with every fault, each at its number."""
    draft = drafted(file)
    if draft.faults:
        raise Refused(*draft.faults)
    return Part(file, draft.shape.frame, draft.shape.solid, draft.project, draft.resolved)


def _datum_faults(n: int, letters: list[str], frame: Frame, face: str) -> list[FieldError]:
    if letters.index(letters[n]) != n:
        return [FieldError(f"datums.{n}.letter", letters[n], say("each letter may appear only once"))]
    try:
        frame.plane(face, f"datums.{n}.face")
    except Refused as refused:
        return list(refused.errors)
    return []


def _of_missing(name: str, file: PartFile, frame: Frame) -> bool:
    """Whether this would be on a feature that could not be made: that has been said at the feature."""
    of = name.rpartition(".")[0]
    there = {n.feature for n in frame.named.values()}
    return any(of == f.name or of.startswith(f"{f.name} ") for f in file.features if f.name not in there)


def resolved_or_faults(asked: Asked, frame: Frame, file: PartFile, at: str) -> Resolved | list[FieldError]:
    """A requirement, or what is wrong with it, limits included."""
    try:
        beside = Beside({d.letter: d.face for d in file.datums}, file.characteristics)
        found = resolve(asked, frame, beside)
        bare = Project.model_construct(unit=file.unit, title_block=file.title_block)
        bare.limits(found.characteristic)
    except Refused as refused:
        return [FieldError(f"{at}.{_field(e.field)}", e.value, e.bound) for e in refused.errors]
    return found


def _field(field: str) -> str:
    """Limits name their own fields; on a part's page they are all of the tolerance."""
    return "tolerance" if field.startswith(("tolerance", "nominal")) else field


def _project(file: PartFile, shape: Shaped, resolved: tuple[Resolved, ...]) -> Project:
    asked = tuple(r.characteristic for r in resolved)
    bare: dict[str, Any] = {
        "format": "incudo-project/1",
        "code": file.code,
        "name": file.name,
        "about": file.about,
        "minutes": file.minutes,
        "unit": file.unit,
        "material": file.material,
        "stock": stock_words(file),
        "solid": file.body,
        "cuts": shape.cuts,
        "views": _views(file, asked),
        "datums": tuple(
            _datum(d.letter, face)
            for d in file.datums
            if isinstance(face := shape.frame.named.get(d.face), Plane) and face.out
        ),
        "title_block": file.title_block,
        "characteristics": asked,
        "hold_points": file.hold_points,
        "notes": tuple(n for f in file.features if (n := note_of(f, file.unit))),
    }
    first = Project.model_validate(bare) if asked else Project.model_construct(**bare)
    return first.model_copy(
        update={
            # a model keeps plain text only: here it stays a sentence that can be spoken
            "stock": stock_words(file),
            "operations": proposals.operations_of(file) if file.operations is None else file.operations,
            "needs": proposals.needs_of(file, first) if file.needs is None else file.needs,
            "gives": proposals.gives_of(file, ((r.characteristic, r.features) for r in resolved))
            if file.gives is None
            else file.gives,
        }
    )


def _hole_words(hole: HoleFeature) -> list[str]:
    """How a hole is made, as a drawing notes it, in the order of the work."""
    said: list[str] = []
    if hole.thread is not None:
        thread, far, drill = hole.thread.designation, hole.thread.depth or hole.depth, hole.diameter
        said.append(
            say("{thread} through, drill {drill}", thread=thread, drill=drill)
            if far is None
            else say("{thread}, {deep} deep, drill {drill}", thread=thread, deep=far, drill=drill)
        )
    elif hole.made == "reamed":
        said.append(say("reamed"))
    elif hole.counterbore is not None:
        said.append(say("through {hole}", hole=hole.diameter))
    if hole.counterbore is not None:
        said.append(
            say("counterbored {wide}, {deep} deep", wide=hole.counterbore.diameter, deep=hole.counterbore.depth)
        )
    if hole.countersink is not None:
        said.append(say("countersunk {angle}° to {wide}", angle=hole.countersink.angle, wide=hole.countersink.diameter))
    return said


def note_of(feature: Feature, unit: Unit) -> str:
    """What the drawing says in words of a feature that its lines do not say; nothing when they say all."""
    match feature:
        case HoleFeature():
            said = _hole_words(feature)
            return say("{name}: {said}.", name=capital(feature.name), said=together(said, ", ")) if said else ""
        case Pocket():
            return say(
                "{name}: corners {radius} {unit} in radius.",
                name=capital(feature.name),
                radius=feature.radius,
                unit=unit,
            )
        case Chamfer():
            return say("{name}: {size} x 45°.", name=capital(feature.name), size=feature.size)
        case Angled():
            return say(
                "{name}: {angle}° to {face}.", name=capital(feature.name), angle=feature.angle, face=feature.face
            )
    return ""


def _views(file: PartFile, asked: Iterable[Characteristic]) -> tuple[ViewName, ...]:
    """Front and top always; the right one where something is best seen or worked from the ends."""
    bar = isinstance(file.body, RoundBar)
    if bar or any(_shows_right(f) for f in file.features) or any(_best_right(c) for c in asked):
        return ViewName.FRONT, ViewName.TOP, ViewName.RIGHT
    return ViewName.FRONT, ViewName.TOP


def _shows_right(feature: Feature) -> bool:
    """Whether the shape of a feature is seen from the right only."""
    if isinstance(feature, (Step, Chamfer, Angled)):
        return not {feature.face, feature.side} & {"left", "right"}
    return feature.face in ("left", "right") or feature.face in ("front", "rear")


def _best_right(c: Characteristic) -> bool:
    match c.place:
        case BetweenPlace(seen=seen):
            return seen[:1] == (Axis.X,)
        case PointedPlace(axis=axis, edge=None):
            return axis is Axis.X
    return False


def _datum(letter: str, face: Plane) -> Datum:
    a, b = (i for i in range(3) if i != face.axis)
    ends = []
    for n in (0, 1):
        spot = [face.at] * 3
        spot[a], spot[b] = face.spans[a][n], face.spans[b][n]
        ends.append(tuple(text_of(v) for v in spot))
    made = Datum.model_validate(
        {
            "letter": letter,
            "name": face.words,
            "at": ends[0],
            "axis": "xyz"[face.axis],
            "out": face.out,
            "edge": tuple(ends),
        }
    )
    return made.model_copy(update={"name": face.words})


def stock_words(file: PartFile) -> str:
    """The stock as one asks for it at the saw: flat 12 x 60, sawn 90 long."""
    s = file.stock
    if isinstance(s, RoundStock):
        return say("round bar {diameter}, sawn {length} long", diameter=s.diameter, length=s.length)
    thin, wide = sorted((s.y, s.z), key=Decimal)
    match s.form:
        case "square":
            return say("square bar {size}, sawn {length} long", size=thin, length=s.x)
        case "flat":
            return say("flat bar {thin} x {wide}, sawn {length} long", thin=thin, wide=wide, length=s.x)
        case "block":
            return say("block {x} x {y} x {z}", x=s.x, y=s.y, z=s.z)


def _stock_faults(file: PartFile) -> list[FieldError]:
    """A piece of stock that the part comes out of: nowhere smaller, and larger where a face is sawn."""
    s, body = file.stock, file.body
    faults = []
    if isinstance(s, RoundStock):
        sizes = {"diameter": s.diameter, "length": s.length}
        least = {"diameter": body.diameter, "length": body.length} if isinstance(body, RoundBar) else {}
        if isinstance(body, Block):
            corner = (
                (Decimal(body.y) ** 2 + Decimal(body.z) ** 2)
                .sqrt()
                .quantize(Decimal("0.001"), rounding="ROUND_CEILING")
            )
            least = {"diameter": text_of(corner), "length": body.x}
        sawn = {"length"}
    elif isinstance(body, RoundBar):
        return [FieldError("stock.form", s.form, say("must be round: the part is a bar"))]
    else:
        sizes = {"x": s.x, "y": s.y, "z": s.z}
        least = {"x": body.x, "y": body.y, "z": body.z}
        sawn = {"xyz"[SIDES[f][0]] for f in s.sawn}
        if s.form == "square" and Decimal(s.y) != Decimal(s.z):
            faults.append(FieldError("stock.z", s.z, say("must be {y}: a square bar is as high as it is wide", y=s.y)))
    for name, text in sizes.items():
        have, want = Decimal(text), Decimal(least[name])
        if have < want:
            faults.append(
                FieldError(f"stock.{name}", text, say("must be at least {want}, the part's own size", want=least[name]))
            )
        elif have == want and name in sawn:
            words = say("must be more than {want}: a sawn face has to be milled clean", want=least[name])
            faults.append(FieldError(f"stock.{name}", text, words))
    return faults


def allowances(file: PartFile) -> dict[str, Decimal]:
    """How much there is to come off along each axis (or of the diameter), both faces together."""
    s, body = file.stock, file.body
    if isinstance(s, BlockStock) and isinstance(body, Block):
        return {a: Decimal(getattr(s, a)) - Decimal(getattr(body, a)) for a in "xyz"}
    if isinstance(s, RoundStock) and isinstance(body, RoundBar):
        return {a: Decimal(getattr(s, a)) - Decimal(getattr(body, a)) for a in ("diameter", "length")}
    assert isinstance(s, RoundStock)  # noqa: S101 (a block from round bar is all that is left)
    return {"x": Decimal(s.length) - Decimal(body.x if isinstance(body, Block) else body.length)}


def code_for(name: str) -> str:
    """The short name of a new part, from its name: lower case, hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "part"
