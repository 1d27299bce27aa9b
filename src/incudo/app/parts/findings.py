"""Readings and the verdict over them as they go out."""

from __future__ import annotations

import uuid
from fractions import Fraction

from incudo.app.kernel.views import Both, Named, StepView
from incudo.app.parts.attempts import AttemptFile, superseded
from incudo.app.parts.taken import YES, measured_of
from incudo.app.parts.views import BarView, FindingView, ReadingView
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.measuring.tolerance import Limits
from incudo.core.measuring.verdict import WORDS, Measured, Metal, School, Verdict, bar, judge
from incudo.core.parts.project import Characteristic, Project
from incudo.core.parts.requirement import ONLY, element_of
from incudo.store import schema as t


def reading_view(file: AttemptFile, r: t.Reading, names: dict[uuid.UUID, str]) -> ReadingView:
    """A reading with its verdict as it was judged when it was saved."""
    c = file.project.characteristic(r.characteristic)
    value, said, against, shown = _read(file.project, c, r)
    opened = file.opened_by(r.person_id, r.round) if r.checking else None
    return ReadingView(
        id=r.id,
        element=r.element,
        value=value,
        said=said,
        person=names.get(r.person_id, ""),
        instrument=Named(id=r.instrument_id, name=names.get(r.instrument_id, "")),
        sure=Both.of(Length(r.uncertainty, Unit(r.instrument_unit))),
        verdict=Verdict(r.verdict),
        words=WORDS[Verdict(r.verdict)],
        against=against,
        undecided=r.undecided,
        late=r.late,
        superseded=r.id in superseded(file.readings, file.round),
        round=r.round,
        blind=opened is None or r.saved_at <= opened.at,
        measured_at=r.measured_at,
        saved_at=r.saved_at,
        bar=shown,
    )


def _read(project: Project, c: Characteristic, r: t.Reading) -> tuple[Both | None, str, str, BarView | None]:
    """What was read: the value, or the words of a yes or no; what it was held against; where it lies on its bar."""
    element = element_of(project, c, r.element)
    if element is None or element.limits is None:
        words = (element.yes if r.text == YES else element.no) if element else r.text
        return None, words, "", None
    value = Both.of(Length(r.text, Unit(r.unit)))
    m = measured_of(r)
    if not element.alone:
        return value, "", _away(m, element.limits), None
    metal = c.metal if element.key == ONLY else Metal.INSIDE
    j = judge(m, element.limits, metal, School(r.school), Unit(r.unit))
    return value, "", j.against, BarView.of(bar(m.x, m.u, element.limits))


def _away(m: Measured, limits: Limits) -> str:
    """How far a value that decides with others only lies from where it should; nothing of an indicator's."""
    if limits.aim is None:
        return ""
    if m.x == limits.aim:
        return say("exactly {aim}", aim=limits.text(limits.aim))
    off = Both.exactly(abs(m.x - limits.aim), limits.unit, limits.places)
    amount = off.inch if limits.unit is Unit.INCH else off.mm
    side = say("above") if m.x >= limits.aim else say("under")
    return say("{amount} {unit} {side} {aim}", amount=amount, unit=limits.unit, side=side, aim=limits.text(limits.aim))


def finding_view(file: AttemptFile, c: Characteristic, readings: list[t.Reading]) -> FindingView:
    """The verdict over several readings with its working."""
    found = file.combined(c, readings)
    limits = found.limits or file.project.limits(c)
    size = found.size
    return FindingView(
        verdict=found.judgement.verdict,
        words=WORDS[found.judgement.verdict],
        against=found.judgement.against,
        value=_rounded(size.x, readings, limits.unit) if size else None,
        sure=Both.exactly(size.u, limits.unit) if size else None,
        bar=BarView.of(bar(size.x, size.u, limits)) if size else None,
        ask_again=found.ask_again,
        upper=None
        if found.limits is None or found.limits.upper is None
        else Both.exactly(found.limits.upper, limits.unit, limits.places),
        working=tuple(StepView.of(s) for s in found.judgement.working),
    )


def _rounded(value: Fraction, readings: list[t.Reading], unit: Unit) -> Both:
    """A lone reading as it was written; a mean in the drawing's unit with one more place."""
    same = [r for r in readings if r.unit and measured_of(r).x == value]
    if same and Length(same[0].zero_error, Unit(same[0].instrument_unit)).mm == 0:
        return Both.of(Length(same[0].text, Unit(same[0].unit)))
    return Both.exactly(value, unit)
