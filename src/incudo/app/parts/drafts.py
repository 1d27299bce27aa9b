"""A part while it is being made: its drawing after every change, what is wrong at which number, what follows from it.

Nothing is kept here: saving makes a version, and that is the library's.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from decimal import Decimal
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import Field

from incudo import shipped
from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.parts import library
from incudo.app.skills.graph import skill_graph
from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.kernel.say import say, together
from incudo.core.parts.drawing import render
from incudo.core.parts.drawing.picks import Pick, picks
from incudo.core.parts.drawing.sheet import found_sheet
from incudo.core.parts.features import kinds
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.asking import meant
from incudo.core.parts.features.frame import Frame, Plane, others
from incudo.core.parts.features.part import Drafted, allowances, drafted, read_part, shaped, stock_words
from incudo.core.parts.features.plate import LeftOut, plate_of
from incudo.core.parts.geometry.sections import volume
from incudo.core.parts.project import Project
from incudo.core.shop.tapping import tap_drill_of
from incudo.store.shop import crib as store

#: A DXF file may be this long as text.
MOST_DXF = 1_500_000
#: What the stock of a plate from a file is larger than the plate, by unit: a saw cut's worth all round.
OVER = {Unit.INCH: Decimal("0.125"), Unit.MM: Decimal(4)}
#: A thread of a new tapped hole has this share of its height; rule of thumb for hand tapping.
WANTED_THREAD = Fraction(75)


class AddFeature(Command):
    """A feature of a kind on a face, with numbers to begin with."""

    kind: Literal["add"]
    feature: str
    face: str


class VaryGroup(Command):
    """Another layout, a thread, a countersink of a feature."""

    kind: Literal["vary"]
    feature: Annotated[int, Field(ge=0, le=99)]
    group: Literal["layout", "thread", "countersink", "counterbore"]
    variant: str


class ChooseThread(Command):
    """The thread of a hole by its name, with the drill for it."""

    kind: Literal["thread"]
    feature: Annotated[int, Field(ge=0, le=99)]
    thread: str


class AskFor(Command):
    """A requirement of one or two named things."""

    kind: Literal["ask"]
    of: Annotated[tuple[str, ...], Field(min_length=1, max_length=2)]


class BeginPart(Command):
    """A new part from a piece of bar."""

    kind: Literal["begin"]
    unit: Unit
    form: Literal["block", "flat", "square", "round"]


class BeginPlate(Command):
    """A plate of this thickness from the outline in a DXF file."""

    kind: Literal["plate"]
    text: Annotated[str, Field(max_length=MOST_DXF)]
    thickness: str
    unit: Unit


DraftAct = Annotated[
    AddFeature | VaryGroup | ChooseThread | AskFor | BeginPart | BeginPlate, Field(discriminator="kind")
]


class DraftCommand(Command):
    """A part's file as it is, and what to do to it; empty for a new one."""

    file: Annotated[str, Field(max_length=library.MOST_TEXT)] = ""
    act: DraftAct | None = None


class PickView(View):
    """Something that can be touched on the drawing, in its own units."""

    name: str
    words: str
    kind: Literal["line", "field", "ring", "centre"]
    x1: float
    y1: float
    x2: float
    y2: float

    @classmethod
    def of(cls, p: Pick) -> PickView:
        (x1, y1), (x2, y2) = p.points
        return cls(name=p.name, words=p.words, kind=p.kind, x1=x1, y1=y1, x2=x2, y2=y2)  # type: ignore[arg-type]


class DraftFault(View):
    """What is wrong, and at which number of the file."""

    field: str
    value: str
    bound: str


class KeyedChoice(View):
    """A skill by its key and name."""

    id: str
    name: str


class Allowance(View):
    """How much is to come off, along an axis or of the diameter."""

    axis: str
    text: str


class LeftOutView(View):
    """Something of a DXF file that was not understood: what, where, why."""

    what: str
    layer: str
    x: float
    y: float
    why: str


class DraftView(View):
    """A part while it is being made. Without a sheet the file could not be read: the last drawing stays."""

    file: str
    svg: str | None
    width: float
    height: float
    picks: tuple[PickView, ...]
    faults: tuple[DraftFault, ...]
    rows: tuple[library.RowView, ...]
    #: For each feature the two axes of its face.
    axes: tuple[tuple[str, str], ...]
    names: tuple[KeyedChoice, ...]
    faces: tuple[KeyedChoice, ...]
    stock: str
    allowances: tuple[Allowance, ...]
    volume: str
    left_out: tuple[LeftOutView, ...]
    operations: tuple[KeyedChoice, ...]
    needs: tuple[KeyedChoice, ...]
    gives: tuple[KeyedChoice, ...]


class FeatureField(View):
    path: str
    words: str
    of: str
    empty: str
    across: int | None
    choices: tuple[KeyedChoice, ...]


class FeatureVariant(View):
    key: str
    words: str
    fields: tuple[FeatureField, ...]


class FeatureGroup(View):
    path: str
    words: str
    variants: tuple[FeatureVariant, ...]


class FeatureKind(View):
    """A kind of feature with its fields."""

    key: str
    words: str
    help: str
    fields: tuple[FeatureField, ...]
    groups: tuple[FeatureGroup, ...]
    on: tuple[str, ...]


class PartChoices(View):
    """What a part is made from: kinds of feature, materials, threads, skills that are operations."""

    kinds: tuple[FeatureKind, ...]
    materials: tuple[str, ...]
    threads: tuple[KeyedChoice, ...]
    operations: tuple[KeyedChoice, ...]
    skills: tuple[KeyedChoice, ...]


def part_choices(w: Work) -> PartChoices:
    """What a page for making parts offers."""
    skills = skill_graph(w).skills
    return PartChoices(
        kinds=tuple(_kind(k) for k in kinds.kinds()),
        materials=tuple(m.name for m in store.materials(w.db)),
        threads=tuple(KeyedChoice(id=t.designation, name=str(t.unit)) for t in shipped.threads().values()),
        operations=tuple(KeyedChoice(id=s.id, name=s.name) for s in skills if s.operation),
        skills=tuple(KeyedChoice(id=s.id, name=s.name) for s in skills),
    )


def _fields(found: Iterable[kinds.FieldSpec]) -> tuple[FeatureField, ...]:
    return tuple(
        FeatureField(
            path=f.path,
            words=f.words,
            of=f.of,
            empty=f.empty,
            across=f.across,
            choices=tuple(KeyedChoice(id=key, name=words) for key, words in f.choices),
        )
        for f in found
    )


def _kind(k: kinds.KindSpec) -> FeatureKind:
    return FeatureKind(
        key=k.key,
        words=k.words,
        help=k.help,
        fields=_fields(k.fields),
        groups=tuple(
            FeatureGroup(
                path=g.path,
                words=g.words,
                variants=tuple(FeatureVariant(key=v.key, words=v.words, fields=_fields(v.fields)) for v in g.variants),
            )
            for g in k.groups
        ),
        on=k.on,
    )


def part_draft(w: Work, command: DraftCommand) -> DraftView:
    """A part as far as it can be made, after an act on it; keeps nothing.

    Raises ``Refused`` for an act that cannot be done; what is wrong with the file is in the answer.
    """
    left_out: tuple[LeftOut, ...] = ()
    if isinstance(command.act, BeginPart):
        data = _begun(command.act)
    elif isinstance(command.act, BeginPlate):
        data, left_out = _plate(command.act)
    else:
        data = parsed(command.file, most=library.MOST_TEXT)
        if command.act is not None:
            data = _done(data, command.act)
    text = json.dumps(data, indent=1)
    try:
        draft = drafted(read_part(data))
        view = _view(w, text, draft)
    except Refused as refused:
        view = _unread(text, refused.errors)
    found = tuple(LeftOutView(what=o.what, layer=o.layer, x=o.at[0], y=o.at[1], why=o.why) for o in left_out)
    return view.model_copy(update={"left_out": found})


def _plate(act: BeginPlate) -> tuple[dict[str, Any], tuple[LeftOut, ...]]:
    """A plate from an outline, its stock a little larger all round."""
    Length.parse(act.thickness, act.unit, "thickness")
    if Decimal(act.thickness) <= 0:
        raise Refused.of("thickness", act.thickness, say("must be above 0"))
    found = plate_of(act.text, act.thickness, act.unit)
    unit = Unit(found.data["unit"])
    made = _begun(BeginPart(kind="begin", unit=unit, form="flat"))
    sizes = {a: str(found.data[a]) for a in "xyz"}
    made["body"] = {"shape": "block", **sizes}
    made["stock"] = {
        "form": "flat",
        "sawn": ["left", "right"],
        **{a: str(Decimal(v) + OVER[unit]) for a, v in sizes.items()},
    }
    made["features"] = found.data["features"]
    return made, found.left_out


def _begun(act: BeginPart) -> dict[str, Any]:
    """A new part to begin with: a piece that fits a small vise, its sizes a little under the bar's."""
    inch = act.unit is Unit.INCH
    long, stock_long = ("3.000", "3.125") if inch else ("80.0", "84")
    made: dict[str, Any] = {
        "format": "incudo-project/2",
        "code": "new-part",
        "name": say("New part"),
        "about": "",
        "unit": act.unit,
        "material": "Low-carbon steel",
        "features": [],
        "title_block": {"2": "0.010", "3": "0.005"} if inch else {"0": "0.5", "1": "0.2", "2": "0.05"},
        "characteristics": [],
        "datums": [],
        "needs": None,
        "operations": None,
        "gives": None,
        "hold_points": ["last_pass"],
    }
    if act.form == "round":
        wide = "1.000" if inch else "25"
        made["stock"] = {"form": "round", "diameter": wide, "length": stock_long}
        made["body"] = {"shape": "bar", "diameter": wide, "length": long}
        return made
    y, z = ("2.000", "1.000") if inch else ("50.0", "25.0")
    stock_y, stock_z = ("2.125", "1.125") if inch else ("55", "28")
    if act.form == "square":
        z, stock_z = y, stock_y
    made["stock"] = {"form": act.form, "x": stock_long, "y": stock_y, "z": stock_z, "sawn": ["left", "right"]}
    made["body"] = {"shape": "block", "x": long, "y": y, "z": z}
    made["datums"] = [
        {"letter": "A", "face": "bottom"},
        {"letter": "B", "face": "left"},
        {"letter": "C", "face": "front"},
    ]
    return made


def _done(data: Any, act: DraftAct) -> Any:
    """A file's content after an act."""
    file = read_part(data)
    frame = shaped(file).frame
    made = file.model_dump(mode="json")
    match act:
        case AddFeature(feature=kind, face=face):
            words = {k.key: k.words for k in kinds.kinds()}
            taken = {f.name for f in file.features}
            name = kinds.free_name(str(words.get(kind, kind)).lower(), taken)
            made["features"].append(kinds.begin(kind, face, frame, name))
        case VaryGroup(feature=n, group=group, variant=variant):
            made["features"][n] = kinds.vary(_feature(made, n), group, variant, frame)
            if group == "thread" and variant:
                first = next(t for t in shipped.threads().values() if t.unit is file.unit and t.diameter_mm >= 6)
                made["features"][n] = _threaded(made["features"][n], first.designation, file.unit)
        case ChooseThread(feature=n, thread=thread):
            made["features"][n] = _threaded(_feature(made, n), thread, file.unit)
        case AskFor(of=of):
            number = max((a.number for a in file.characteristics), default=0) + 1
            asked = meant(of, frame, {d.letter: d.face for d in file.datums}, number)
            made["characteristics"].append(Asked.model_validate(asked).model_dump(mode="json"))
    return made


def _feature(made: dict[str, Any], n: int) -> dict[str, Any]:
    if n >= len(made["features"]) or made["features"][n]["kind"] != "hole":
        raise Refused.of("feature", n, say("must be a hole of this part"))
    found: dict[str, Any] = made["features"][n]
    return found


def _threaded(feature: dict[str, Any], name: str, unit: Unit) -> dict[str, Any]:
    """A tapped hole with its thread and the drill for it. Raises ``Refused`` for a thread no table or drill has."""
    thread = shipped.threads().get(name)
    if thread is None or thread.unit is not unit:
        known = together((t.designation for t in shipped.threads().values() if t.unit is unit), ", ")
        raise Refused.of("thread", name, say("must be one of: {known}", known=known))
    drills = [Length(d.diameter, d.unit).mm for d in shipped.drills() if d.unit is unit]
    found = tap_drill_of(thread.diameter_mm, thread.pitch_mm, WANTED_THREAD, "cutting", drills, ())
    if found is None:
        raise Refused.of("thread", name, say("has no drill in the table that suits it"))
    hole = in_places(found.drill / unit.in_mm, 4 if unit is Unit.INCH else 2).rstrip("0").rstrip(".")
    deep = (feature.get("thread") or {}).get("depth")
    spec = {"designation": name, "diameter": thread.diameter, "pitch": thread.pitch, "depth": deep}
    return {**feature, "made": "tapped", "diameter": hole, "thread": spec}


def _view(w: Work, text: str, draft: Drafted) -> DraftView:
    project = draft.project
    drawing, views = found_sheet(project, speak)
    frame, file = draft.shape.frame, draft.file
    faults = [*draft.faults, *_unknown(w, project)]
    graph = skill_graph(w)
    known = {s.id: s.name for s in graph.skills}

    def named(ids: Iterable[str]) -> tuple[KeyedChoice, ...]:
        return tuple(KeyedChoice(id=i, name=known.get(i, i)) for i in ids)

    return DraftView(
        file=text,
        svg=render(drawing),
        width=drawing.width,
        height=drawing.height,
        picks=tuple(PickView.of(p) for p in picks(frame, views)),
        faults=_faults(faults),
        rows=library.rows_of(project),
        axes=tuple(_axes(frame, getattr(f, "face", "top")) for f in file.features),
        names=tuple(KeyedChoice(id=n.name, name=n.words) for n in frame.named.values()),
        faces=tuple(KeyedChoice(id=n.name, name=n.words) for n in frame.faces),
        stock=stock_words(file),
        allowances=tuple(
            Allowance(axis=axis, text=f"{amount} {file.unit}") for axis, amount in allowances(file).items() if amount
        ),
        volume=_volume(draft, file.unit),
        left_out=(),
        operations=named(project.operations),
        needs=named(project.needs),
        gives=named(g.skill for g in project.gives),
    )


def _axes(frame: Frame, face: str) -> tuple[str, str]:
    """The two axes in a face, as a person calls them; of a face that is not there those of the top."""
    plane = frame.named.get(face)
    a, b = others(plane.axis if isinstance(plane, Plane) else 2)
    return "XYZ"[a], "XYZ"[b]


def _volume(draft: Drafted, unit: Unit) -> str:
    cubic = volume(draft.shape.solid)
    if unit is Unit.INCH:
        return say("{volume} cubic inches", volume=f"{cubic:.2f}")
    return say("{volume} cm³", volume=f"{cubic / 1000:.1f}")


def _unknown(w: Work, project: Project) -> list[FieldError]:
    """Skills that the part names and the shop does not have."""
    known = {s.id for s in skill_graph(w).skills}
    named = [("needs", n) for n in project.needs] + [("gives", g.skill) for g in project.gives]
    named += [("operations", o) for o in project.operations]
    return [FieldError(f, s, say("there is no such skill in this shop")) for f, s in named if s not in known]


def _faults(found: Iterable[FieldError]) -> tuple[DraftFault, ...]:
    return tuple(DraftFault(field=e.field, value=e.value, bound=e.bound) for e in found)


def _unread(text: str, errors: Iterable[FieldError]) -> DraftView:
    return DraftView(
        file=text, svg=None, width=0, height=0, picks=(), faults=_faults(errors), rows=(),
        axes=(), names=(), faces=(), stock="",
        allowances=(), volume="", left_out=(), operations=(), needs=(), gives=(),
    )  # fmt: skip
