"""The page on which a part is found."""

from __future__ import annotations

import uuid
from dataclasses import asdict

from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Named
from incudo.app.locating.datums import OF, Bench, datum_views, newest_of, plan_axis
from incudo.app.locating.moves import handle_views
from incudo.app.locating.views import (
    EnteredView,
    FaceView,
    FeatureView,
    FinderView,
    FindPage,
    FoundLine,
    OutlineView,
)
from incudo.app.parts.attempts import own_attempt, station_machine
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.locating.checks import BEFORE, ENTERED
from incudo.core.locating.datum import way_words
from incudo.core.locating.finders import COMES, FACE_WORDS, FINDERS, Face, Finder
from incudo.core.locating.places import PartAxis, places, round_at
from incudo.core.parts.project import Hole, RoundBar
from incudo.core.people.roles import Role
from incudo.store.locating import found as store


def find_page(w: Work, who: Who, assignment: uuid.UUID, cutter: str) -> FindPage:
    """The datum record of a job card, and every place of the part by dial and readout from it."""
    file = own_attempt(w, who, assignment)
    b = Bench(w, file)
    cutter = cutter or CUTTER[b.project.unit]
    across = b.length(cutter, "cutter")
    if not 0 < across <= 500:
        raise Refused.of("cutter", cutter, say("must be more than 0 and at most 500 mm"))
    rows = store.found(w.db, assignment)
    newest = newest_of(rows, b)
    wanted = places(b.project, across)
    plan = tuple(
        plan_axis(b, axis, *newest[axis][:2], [(p.name, p.note, p.at) for p in wanted if p.axis is axis])
        for axis in PartAxis
        if axis in newest
    )
    return FindPage(
        assignment=assignment,
        name=b.project.name,
        student=Named(id=file.student.id, name=file.student.name),
        mine=who.role is not Role.AUDITOR,
        machine=station_machine(w, file),
        unit=b.project.unit,
        scale_unit=b.spec.unit,
        outline=_outline(b),
        handles=handle_views(b.spec, b.dials),
        faces=tuple(_face_view(f) for f in Face),
        checks=BEFORE,
        entered=EnteredView(**asdict(ENTERED[b.project.unit])),
        finders=tuple(_finder_view(f) for f in FINDERS.values()),
        datums=datum_views(w, file, b, newest),
        plan=plan,
        missing=tuple(a for a in PartAxis if a not in newest),
        cutter=cutter,
        history=tuple(FoundLine(id=f.id, kind=f.kind, words=f.words, by=by, at=f.at) for f, by in rows[:20]),
    )


def _outline(b: Bench) -> OutlineView:
    p = b.project
    holes = [(c.name, round_at(p, c.name)) for c in p.cuts if isinstance(c, Hole)]
    (x0, x1), (y0, y1) = b.span[PartAxis.X], b.span[PartAxis.Y]
    return OutlineView(
        x=(float(x0), float(x1)),
        y=(float(y0), float(y1)),
        bar=isinstance(p.solid, RoundBar),
        features=tuple(
            FeatureView(name=name, x=float(r[0]), y=float(r[1]), radius=float(r[2])) for name, r in holes if r
        ),
    )


def _face_view(face: Face) -> FaceView:
    axis, towards = COMES[face]
    return FaceView(face=face, axis=OF[axis], words=FACE_WORDS[face], come=way_words(axis, towards))


def _finder_view(f: Finder) -> FinderView:
    speed = say("{speed} to {speed2} rpm", speed=f.speed[0], speed2=f.speed[1]) if f.speed else say("spindle stopped")
    return FinderView(
        id=f.id,
        name=f.name,
        kind=f.kind,
        tip=f"{f.tip.text} {f.tip.unit}",
        tip_mm=float(f.tip.mm),
        body=f"{f.body.text} {f.body.unit}",
        speed=speed,
        tells=f.tells,
    )


#: The cutter that walls are reckoned with until another is given.
CUTTER = {Unit.INCH: "0.500", Unit.MM: "12"}
