"""Entering and changing a material by form, and what its ranges come to at the machine before they are saved."""

from __future__ import annotations

import hashlib
import re
import uuid
from collections.abc import Iterable, Iterator, Mapping
from fractions import Fraction
from typing import Annotated, TypeVar

from pydantic import Field, StringConstraints, ValidationError

from incudo.app.kernel.pictures import PictureView
from incudo.app.kernel.unit import Work, find_locked
from incudo.app.kernel.views import Command, View
from incudo.app.shop.stock_page import StockPage, stock_page
from incudo.app.shop.tooling import cutters, stock_of, stocks
from incudo.core.kernel.errors import Conflict, FieldError, Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.quantity import in_places
from incudo.core.kernel.say import say
from incudo.core.reckoning.bench import Bench, chip_chart, chip_in
from incudo.core.reckoning.inputs import shown
from incudo.core.reckoning.speed.shared import turns
from incudo.core.shop.chips import MOST_POINTS, read_chart
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.material import (
    CutterMaterial,
    Material,
    Operation,
    Range,
    Stock,
    carbide_is_faster,
    far_from_others,
)
from incudo.core.shop.table import Row, Source, field_errors
from incudo.store import schema as t
from incudo.store.shop import crib as store

Figure = Annotated[str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True)]
Sentence = Annotated[str, StringConstraints(min_length=1, max_length=300, strip_whitespace=True)]
Short = Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)]
R = TypeVar("R", bound=Row)


class ChartPoint(Command):
    """One point of a chart: the cutter's diameter and the chip from low to high, all in mm."""

    diameter: Figure
    low: Figure
    high: Figure


class RangeEntry(Command):
    """How fast the material is cut by cutters of one kind in one operation: m/min, and the chart of the chip load."""

    cutter: CutterMaterial
    operation: Operation
    v_low: Figure
    v_high: Figure
    chart: Annotated[tuple[ChartPoint, ...], Field(min_length=1, max_length=MOST_POINTS)]


class MaterialEntry(Command):
    """A material as it is entered. ``unit_power`` in W·min/cm³, ``expansion`` in millionths per °C."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
    unit_power: Figure
    expansion: Figure
    fluid: Short
    cautions: tuple[Sentence, ...] = ()
    note: Short = ""
    ranges: Annotated[tuple[RangeEntry, ...], Field(max_length=len(CutterMaterial) * len(Operation))]


class MaterialLook(MaterialEntry):
    """A material to look at; ``key`` is that of the one that it is a change of."""

    key: Annotated[str, Field(max_length=60)] = ""


class NewMaterial(MaterialEntry):
    """A material that the shop has not had."""

    id: uuid.UUID


class MaterialChange(MaterialEntry):
    """What a material shall be. ``based_on`` is the mark of what the page showed."""

    based_on: Annotated[str, Field(max_length=64)]


class RangeAtWork(View):
    """What a range comes to for cutters of the crib, in words, and its chart with one of them in it."""

    cutter: CutterMaterial
    operation: Operation
    lines: tuple[str, ...]
    chart: PictureView | None


class MaterialAtWork(View):
    """What an entry comes to; ``doubts`` are what looks implausible in it."""

    doubts: tuple[str, ...]
    ranges: tuple[RangeAtWork, ...]


class MaterialForm(View):
    """A material as it can be changed, with the mark of what it is now."""

    key: str
    mark: str
    entry: MaterialEntry


class MaterialForms(View):
    """Every material as a form; what cutters are made of and what is done with them; most points of a chart."""

    materials: tuple[MaterialForm, ...]
    made_of: tuple[CutterMaterial, ...]
    operations: tuple[Operation, ...]
    most_points: int


def material_forms(w: Work) -> MaterialForms:
    """The materials as they can be changed, and what another one can be begun from."""
    return MaterialForms(
        materials=tuple(
            MaterialForm(key=row.key, mark=_mark(row), entry=_entry(stock_of(row))) for row in store.materials(w.db)
        ),
        made_of=tuple(CutterMaterial),
        operations=tuple(Operation),
        most_points=MOST_POINTS,
    )


def material_look(w: Work, entry: MaterialLook) -> MaterialAtWork:
    """What an entry comes to at the machine; keeps nothing. Raises ``Refused`` at the field that cannot be."""
    stock = _stock(entry, _key(entry.name), None)
    others = [r for s in stocks(w) if s.material.key not in (stock.material.key, entry.key) for r in s.ranges]
    crib = tuple(cutters(w).values())
    return MaterialAtWork(
        doubts=(
            *carbide_is_faster(stock.ranges),
            *far_from_others(stock.ranges, others),
        ),
        ranges=tuple(_at_work(stock, r, crib) for r in stock.ranges),
    )


def material_add(w: Work, command: NewMaterial) -> StockPage:
    """Enter a material. Sent again, it adds nothing. Raises ``Conflict`` for a name that is there."""
    rows = store.materials(w.db, also_gone=True)
    key = _key(command.name)
    stock = _stock(command, key, None)
    there = next((row for row in rows if key == row.key or alike(stock.material.name) == alike(row.name)), None)
    if there is None:
        place = store.last_place(w.db, t.Material)
        w.db.add(t.Material(key=key, name=stock.material.name, place=place + 1, content=stock.model_dump_json()))
        w.db.flush()
    elif there.gone:
        raise Conflict(
            say("{name} was removed from the shop: put it back under How we work, then change it.", name=there.name)
        )
    elif stock_of(there) != stock:
        raise Conflict(say("There is a material called {name} already.", name=there.name))
    return stock_page(w)


def material_change(w: Work, key: str, command: MaterialChange) -> StockPage:
    """Change a material; what was reckoned and planned before stays as it was.

    Raises ``Conflict`` when somebody else has changed it since it was looked at, unless it is the same change again.
    """
    row = find_locked(w, t.Material, key, "material")
    name = alike(command.name)
    if any(name == alike(other.name) and other.key != key for other in store.materials(w.db, also_gone=True)):
        raise Refused.of("name", command.name, say("another material has this name"))
    old = stock_of(row)
    stock = _stock(command, key, old)
    if stock == old:
        return stock_page(w)
    if command.based_on != _mark(row):
        raise Conflict(say("{name} was changed meanwhile: look at it again.", name=row.name))
    row.name, row.content = stock.material.name, stock.model_dump_json()
    w.db.flush()
    return stock_page(w)


def _mark(row: t.Material) -> str:
    return hashlib.sha256(row.content.encode()).hexdigest()[:32]


def _key(name: str) -> str:
    """What a material is known by in files: its name in small letters, with hyphens."""
    found = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60].strip("-")
    if not found:
        raise Refused.of("name", name, say("must have a letter from a to z or a figure in it"))
    return found


def _entry(stock: Stock) -> MaterialEntry:
    m = stock.material
    return MaterialEntry(
        name=m.name,
        unit_power=m.unit_power,
        expansion=m.expansion,
        fluid=m.fluid,
        cautions=m.cautions,
        note=m.note,
        ranges=tuple(
            RangeEntry(cutter=r.cutter, operation=r.operation, v_low=r.v_low, v_high=r.v_high, chart=tuple(_points(r)))
            for r in stock.ranges
        ),
    )


def _points(r: Range) -> Iterator[ChartPoint]:
    for part in r.chart.split():
        diameter, _, chips = part.partition(":")
        low, _, high = chips.partition("-")
        yield ChartPoint(diameter=diameter, low=low, high=high)


def _stock(entry: MaterialEntry, key: str, old: Stock | None) -> Stock:
    """The entry as it is kept. Whoever changes numbers has measured them here; the others keep where they are from."""
    before = {r.key: r for r in old.ranges} if old else {}
    ranges = tuple(_range(n, r, key, before) for n, r in enumerate(entry.ranges))
    for n, r in enumerate(ranges):
        if r.key in {x.key for x in ranges[:n]}:
            raise Refused.of(f"ranges.{n}.operation", r.operation, say("stands twice for this kind of cutter"))
    numbers = {"unit_power": entry.unit_power, "expansion": entry.expansion, "fluid": entry.fluid}
    same = old is not None and all(getattr(old.material, k) == v for k, v in numbers.items())
    source = old.material.source if old is not None and same else Source.SHOP
    said = {"key": key, "name": entry.name, "cautions": entry.cautions, "note": entry.note, "source": source}
    material = _made(Material, {**said, **numbers})
    return Stock(material=material, ranges=ranges)


def _range(n: int, entry: RangeEntry, key: str, before: dict[tuple[str, str, str], Range]) -> Range:
    for i, point in enumerate(entry.chart):
        try:
            read_chart(f"{point.diameter}:{point.low}-{point.high}".replace(" ", "_"), entry.operation.value)
        except ValueError as error:
            words = str(error).partition(": ")[2]
            raise Refused.of(f"ranges.{n}.chart.{i}", point.diameter, words) from None
    chart = " ".join(f"{x.diameter}:{x.low}-{x.high}" for x in entry.chart)
    numbers = {"v_low": entry.v_low, "v_high": entry.v_high, "chart": chart}
    old = before.get((key, entry.cutter.value, entry.operation.value))
    same = old is not None and all(getattr(old, k) == v for k, v in numbers.items())
    of = {"material": key, "cutter": entry.cutter, "operation": entry.operation}
    source = old.source if old is not None and same else Source.SHOP
    return _made(Range, of | numbers | {"source": source}, f"ranges.{n}.")


def _made(model: type[R], data: Mapping[str, object], where: str = "") -> R:
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise Refused(*(FieldError(where + e.field, e.value, e.bound) for e in field_errors(error))) from None


def _at_work(stock: Stock, r: Range, crib: Iterable[Cutter]) -> RangeAtWork:
    """The smallest, the middle and the largest cutter of the crib that this range holds for."""
    fit = sorted((c for c in crib if Bench(stock=stock, cutter=c).range == r), key=lambda c: c.real)
    some = list({c.real: c for c in (fit[0], fit[len(fit) // 2], fit[-1])}.values()) if fit else []
    middle = fit[len(fit) // 2] if fit else None
    return RangeAtWork(
        cutter=r.cutter,
        operation=r.operation,
        lines=tuple(_line(r, c) for c in some),
        chart=PictureView.of(drawn) if middle and (drawn := chip_chart(Bench(stock=stock, cutter=middle))) else None,
    )


def _line(r: Range, c: Cutter) -> str:
    slow, fast = (shown(turns(Fraction(v), c.real), 0) for v in (r.v_low, r.v_high))
    places = 4 if c.unit.in_mm > 1 else 3
    least, most = (in_places(x / c.unit.in_mm, places) for x in chip_in(r, c))
    said = {"name": c.name, "slow": slow, "fast": fast, "least": least, "most": most, "unit": c.unit}
    if r.operation is Operation.DRILLING:
        return say("{name}: {slow} to {fast} rpm, {least} to {most} {unit} per turn", **said)
    return say("{name}: {slow} to {fast} rpm, {least} to {most} {unit} per tooth", **said)
