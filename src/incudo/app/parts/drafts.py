"""A part while it is being made: its drawing after every change, what is wrong at which number, what follows from it.

Nothing is kept here: saving makes a version, and that is the library's.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from incudo import shipped
from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.parts import library
from incudo.app.parts.choices import KeyedChoice
from incudo.app.parts.drawings import projection_of
from incudo.app.skills.graph import skill_graph
from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.kernel.say import say
from incudo.core.parts.drawing import render
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.picks import Pick, picks
from incudo.core.parts.features import kinds
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.asking import kinds_for, meant, specs, touched
from incudo.core.parts.features.beginning import begin_part, begin_plate, threaded
from incudo.core.parts.features.frame import Frame, Plane, others
from incudo.core.parts.features.part import Drafted, allowances, drafted, read_part, shaped, stock_words
from incudo.core.parts.features.plate import LeftOut
from incudo.core.parts.geometry.sections import volume

#: A DXF file may be this long as text.
MOST_DXF = 1_500_000


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
    of: Annotated[tuple[str, ...], Field(min_length=1, max_length=3)]


class AskAs(Command):
    """A requirement becomes one of another kind, of the same things."""

    kind: Literal["ask_as"]
    characteristic: Annotated[int, Field(ge=0, le=59)]
    as_kind: Annotated[str, StringConstraints(max_length=20)]


class BeginPart(Command):
    """A new part from a piece of bar."""

    kind: Literal["begin"]
    unit: LengthUnit
    form: Literal["block", "flat", "square", "round"]


class BeginPlate(Command):
    """A plate of this thickness from the outline in a DXF file."""

    kind: Literal["plate"]
    text: Annotated[str, Field(max_length=MOST_DXF)]
    thickness: str
    unit: LengthUnit


DraftAct = Annotated[
    AddFeature | VaryGroup | ChooseThread | AskFor | AskAs | BeginPart | BeginPlate, Field(discriminator="kind")
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
    #: For each requirement the kinds that it could be.
    kinds: tuple[tuple[KeyedChoice, ...], ...]
    left_out: tuple[LeftOutView, ...]
    operations: tuple[KeyedChoice, ...]
    needs: tuple[KeyedChoice, ...]
    gives: tuple[KeyedChoice, ...]


def part_draft(w: Work, command: DraftCommand) -> DraftView:
    """A part as far as it can be made, after an act on it; keeps nothing.

    Raises ``Refused`` for an act that cannot be done; what is wrong with the file is in the answer.
    """
    left_out: tuple[LeftOut, ...] = ()
    if isinstance(command.act, BeginPart):
        data = begin_part(command.act.unit, command.act.form)
    elif isinstance(command.act, BeginPlate):
        data, left_out = begin_plate(command.act.text, command.act.thickness, command.act.unit)
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
                made["features"][n] = threaded(made["features"][n], "", file.unit, shipped.threads(), shipped.drills())
        case ChooseThread(feature=n, thread=thread):
            made["features"][n] = threaded(_feature(made, n), thread, file.unit, shipped.threads(), shipped.drills())
        case AskFor(of=of):
            number = max((a.number for a in file.characteristics), default=0) + 1
            asked = meant(of, frame, {d.letter: d.face for d in file.datums}, number)
            made["characteristics"].append(Asked.model_validate(asked).model_dump(mode="json"))
        case AskAs(characteristic=n, as_kind=kind):
            if n >= len(file.characteristics):
                raise Refused.of("characteristic", n, say("must be a requirement of this part"))
            old = file.characteristics[n]
            asked = meant(touched(old.of), frame, {d.letter: d.face for d in file.datums}, old.number, kind)
            made["characteristics"][n] = Asked.model_validate(asked).model_dump(mode="json")
    return made


def _feature(made: dict[str, Any], n: int) -> dict[str, Any]:
    if n >= len(made["features"]) or made["features"][n]["kind"] != "hole":
        raise Refused.of("feature", n, say("must be a hole of this part"))
    found: dict[str, Any] = made["features"][n]
    return found


def _view(w: Work, text: str, draft: Drafted) -> DraftView:
    project = draft.project
    drawing, views = found_sheet(project, speak, projection_of(w))
    frame, file = draft.shape.frame, draft.file
    faults = [*draft.faults, *library.skill_faults(w, project)]
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
        kinds=tuple(_kinds(a.of, frame) for a in file.characteristics),
        left_out=(),
        operations=named(project.operations),
        needs=named(project.needs),
        gives=named(g.skill for g in project.gives),
    )


def _kinds(of: tuple[str, ...], frame: Frame) -> tuple[KeyedChoice, ...]:
    words = {s.key: s.words for s in specs()}
    return tuple(KeyedChoice(id=k, name=words[k]) for k in kinds_for(touched(of), frame))


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


def _faults(found: Iterable[FieldError]) -> tuple[DraftFault, ...]:
    return tuple(DraftFault(field=e.field, value=e.value, bound=e.bound) for e in found)


def _unread(text: str, errors: Iterable[FieldError]) -> DraftView:
    return DraftView(
        file=text, svg=None, width=0, height=0, picks=(), faults=_faults(errors), rows=(),
        axes=(), names=(), faces=(), stock="",
        allowances=(), volume="", kinds=(), left_out=(), operations=(), needs=(), gives=(),
    )  # fmt: skip
