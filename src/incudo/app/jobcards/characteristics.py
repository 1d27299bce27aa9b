"""The characteristics of a job card: limits, readings, the verdict, the instruments that suit."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import date

from incudo.app.kernel.views import Both, View
from incudo.app.parts.attempts import AttemptFile
from incudo.app.parts.findings import finding_view, reading_view
from incudo.app.parts.views import FindingView, ReadingView
from incudo.core.kernel.quantity import Unit
from incudo.core.measuring.instrument import Instrument, Measure, Suitability, offered
from incudo.core.measuring.verdict import Metal, Spots, Verdict
from incudo.core.parts.project import Characteristic, Symbol
from incudo.core.parts.requirement import Element, elements


class Fit(View):
    """How well an instrument suits a characteristic."""

    instrument: uuid.UUID
    suitability: Suitability


class ElementView(View):
    """One thing that is read of a characteristic, with the instruments that suit it.

    Where ``yes`` and ``no`` are words it is answered so; an angle is typed in degrees.
    """

    key: str
    words: str
    yes: str
    no: str
    angle: bool
    #: Whether it may read below zero.
    signed: bool
    nominal: Both | None
    fits: tuple[Fit, ...]
    offers: uuid.UUID | None


class CharacteristicView(View):
    """A characteristic with its limits and all readings that may be seen."""

    number: int
    name: str
    where: str
    symbol: Symbol
    nominal: Both
    #: What the drawing says instead of a number.
    callout: str
    tolerance: tuple[str, ...]
    lower: Both | None
    upper: Both | None
    aim: Both | None
    metal: Metal
    spots: Spots
    wanted: int
    elements: tuple[ElementView, ...]
    wants: bool
    readings: tuple[ReadingView, ...]
    finding: FindingView
    rework: bool


def _element(
    e: Element, c: Characteristic, unit: Unit, tools: Mapping[uuid.UUID, Instrument], today: date
) -> ElementView:
    aim = e.limits.aim if e.limits and not e.alone else None
    return ElementView(
        key=e.key,
        words=e.words,
        yes=e.yes,
        no=e.no,
        angle=e.measure is Measure.ANGLE,
        signed=e.signed,
        nominal=None if aim is None or e.limits is None else Both.exactly(aim, e.limits.unit, e.limits.places),
        fits=tuple(
            Fit(instrument=x, suitability=tool.suitability(e.limits, e.measure, c.thread)) for x, tool in tools.items()
        ),
        offers=offered(tools, e.limits, unit, today, e.measure, c.thread),
    )


def characteristic_view(
    file: AttemptFile,
    c: Characteristic,
    tools: Mapping[uuid.UUID, Instrument],
    names: dict[uuid.UUID, str],
    visible: set[uuid.UUID],
    today: date,
) -> CharacteristicView:
    """One characteristic; only readings in ``visible`` take part in anything that goes out."""
    p = file.project
    limits = p.limits(c)
    rework = c.number in file.rework and file.pending is None
    finding = finding_view(file, c, [r for r in file.counting(c.number, file.round) if r.id in visible])
    return CharacteristicView(
        number=c.number,
        name=c.name,
        where=c.where,
        symbol=c.symbol,
        nominal=Both.of(p.nominal(c)),
        callout=c.callout,
        tolerance=tuple(line for line in p.tolerance_words(c) if line),
        lower=None if c.callout or limits.lower is None else Both.exactly(limits.lower, limits.unit, limits.places),
        upper=None if c.callout or limits.upper is None else Both.exactly(limits.upper, limits.unit, limits.places),
        aim=None if limits.aim is None else Both.exactly(limits.aim, limits.unit, limits.places),
        metal=c.metal,
        spots=c.spots,
        wanted=c.readings,
        elements=tuple(_element(e, c, p.unit, tools, today) for e in elements(p, c)),
        # a mean that is asked for again is no matter of a part that was given back
        wants=finding.verdict is Verdict.NOT_MEASURED or (not rework and finding.ask_again != ""),
        readings=tuple(
            reading_view(file, r, names)
            for r in file.readings
            if r.characteristic == c.number and r.id in visible and not r.checking
        ),
        finding=finding,
        rework=rework,
    )
