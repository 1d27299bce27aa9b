"""The registers of cutters, materials and other tables as CSV: out, checked, imported."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from enum import StrEnum
from typing import Annotated, Any

from pydantic import Field

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.shop.tooling import cutters, stock_of, stocks
from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.say import say, together
from incudo.core.shop.cutter import Cutter, Drill, Holder, Thread, implausible
from incudo.core.shop.material import Material, Range, Stock
from incudo.core.shop.table import Line, Row, read, write
from incudo.core.shop.workholding import LOOSE_WAYS, AnyHolding, HolderRow, ToolHolders, kept_holding
from incudo.store import schema as t
from incudo.store.shop import crib as store
from incudo.store.shop import machines

MOST_TEXT = 400_000


class TableName(StrEnum):
    """The tables. The last three are standards and rules of thumb: they can be exported but not imported."""

    CUTTERS = "cutters"
    MATERIALS = "materials"
    RANGES = "ranges"
    TOOLHOLDERS = "toolholders"
    THREADS = "threads"
    DRILLS = "drills"
    HOLDERS = "holders"


MODELS: dict[TableName, type[Row]] = {
    TableName.CUTTERS: Cutter,
    TableName.MATERIALS: Material,
    TableName.RANGES: Range,
    TableName.TOOLHOLDERS: HolderRow,
    TableName.THREADS: Thread,
    TableName.DRILLS: Drill,
    TableName.HOLDERS: Holder,
}


#: What can be imported.
CHANGING = (TableName.CUTTERS, TableName.MATERIALS, TableName.RANGES, TableName.TOOLHOLDERS)


class LineStatus(StrEnum):
    """What a line of a file would do."""

    NEW = "new"
    CHANGED = "changed"
    SAME = "same"
    REFUSED = "refused"


class TableLine(View):
    """What one line of a file would do, or why it cannot be."""

    number: int
    name: str
    status: LineStatus
    words: tuple[str, ...]


class TableReport(View):
    """Every line of a file. ``taken`` says whether it was imported; rows that it does not name stay as they are."""

    table: TableName
    lines: tuple[TableLine, ...]
    new: int
    changed: int
    refused: int
    taken: bool


class TableText(Command):
    """A table as CSV."""

    text: Annotated[str, Field(min_length=1, max_length=MOST_TEXT)]


class TableInfo(View):
    """A table that can be exported, and whether it can be imported again."""

    name: TableName
    columns: tuple[str, ...]
    rows: int
    changing: bool


def rows_of(w: Work, name: TableName) -> Sequence[Row]:
    """Every row of a table."""
    match name:
        case TableName.CUTTERS:
            return tuple(cutters(w).values())
        case TableName.MATERIALS:
            return tuple(s.material for s in stocks(w))
        case TableName.RANGES:
            return tuple(r for s in stocks(w) for r in s.ranges)
        case TableName.TOOLHOLDERS:
            return tuple(HolderRow.of(row.name, of) for row, of in _holding(w) if isinstance(of, ToolHolders))
        case TableName.THREADS:
            return tuple(shipped.threads().values())
        case TableName.DRILLS:
            return shipped.drills()
        case TableName.HOLDERS:
            return tuple(shipped.holders().values())


def table_file(w: Work, name: TableName) -> str:
    """A table as CSV, as it can be imported again."""
    return write(MODELS[name], rows_of(w, name))


def table_check(w: Work, name: TableName, command: TableText) -> TableReport:
    """What every line of a file would do; keeps nothing."""
    lines, _ = _looked_at(w, name, command.text)
    return _report(name, lines, taken=False)


def table_take(w: Work, name: TableName, command: TableText) -> TableReport:
    """Take a file in, all of it or nothing. Raises ``Refused`` with every line that cannot be."""
    lines, rows = _looked_at(w, name, command.text)
    if bad := [x for x in lines if x.status is LineStatus.REFUSED]:
        raise Refused(
            *(FieldError(say("line {number}", number=x.number), x.name, together(x.words, "; ")) for x in bad[:50])
        )
    keep(w, name, rows)
    return _report(name, lines, taken=True)


def _report(name: TableName, lines: Sequence[TableLine], *, taken: bool) -> TableReport:
    count = [x.status for x in lines].count
    return TableReport(
        table=name,
        lines=tuple(lines),
        new=count(LineStatus.NEW),
        changed=count(LineStatus.CHANGED),
        refused=count(LineStatus.REFUSED),
        taken=taken,
    )


def _key(row: Row) -> str:
    if isinstance(row, Cutter | HolderRow):
        return row.name
    return together(row.key, ", ") if isinstance(row, Range) else str(getattr(row, "key", ""))


def _looked_at(w: Work, name: TableName, text: str) -> tuple[list[TableLine], list[Row]]:
    if name not in CHANGING:
        raise Refused.of(
            "table",
            name,
            say(
                "is a standard and can only be exported; these can be imported: {listed}",
                listed=together(CHANGING, ", "),
            ),
        )
    here = {_key(row): row for row in rows_of(w, name)}
    known = {s.material.key for s in stocks(w)}
    names = {alike(row.name): row.key for row in store.materials(w.db, also_gone=True)}
    work = {alike(row.name) for row, of in _holding(w) if not isinstance(of, ToolHolders)}
    seen: set[str] = set()
    lines, rows = [], []
    for line in read(MODELS[name], text):
        words = _against(line, seen, known)
        if isinstance(line.row, Material) and names.setdefault(alike(line.row.name), line.row.key) != line.row.key:
            words = (*words, say("name: {name} is the name of another material", name=line.row.name))
        if isinstance(line.row, HolderRow) and alike(line.row.name) in work:
            words = (*words, say("name: {name} is the name of something that holds work", name=line.row.name))
        if line.row is None or words:
            lines.append(TableLine(number=line.number, name=_name(line), status=LineStatus.REFUSED, words=words))
            continue
        key = _key(line.row)
        seen.add(key)
        old = here.get(key)
        status = LineStatus.NEW if old is None else LineStatus.SAME if old == line.row else LineStatus.CHANGED
        lines.append(TableLine(number=line.number, name=key, status=status, words=_changes(old, line.row)))
        rows.append(line.row)
    return lines, rows


def _name(line: Line[Row]) -> str:
    return _key(line.row) if line.row else ""


def _against(line: Line[Row], seen: set[str], materials: set[str]) -> tuple[str, ...]:
    """Why a line cannot be: by itself, or beside the other tables and lines."""
    if line.row is None:
        return tuple(say("{field} {value}: {bound}", field=e.field, value=e.value, bound=e.bound) for e in line.errors)
    words = []
    if (key := _key(line.row)) in seen:
        words.append(say("{key} appears twice in the file", key=key))
    if isinstance(line.row, Cutter):
        words += implausible(line.row, shipped.threads(), shipped.holders())
    ways = shipped.holders().keys() - LOOSE_WAYS
    if isinstance(line.row, HolderRow) and line.row.way not in ways:
        words.append(say("way: must be one of {listed}", listed=together(sorted(ways), ", ")))
    if isinstance(line.row, Range) and line.row.material not in materials:
        words.append(
            say(
                "material: {material} is not in the register; there are: {listed}",
                material=line.row.material,
                listed=together(sorted(materials), ", "),
            )
        )
    return tuple(words)


def _changes(old: Row | None, new: Row) -> tuple[str, ...]:
    if old is None:
        return ()
    before, after = old.model_dump(mode="json"), new.model_dump(mode="json")
    return tuple(
        say("{k}: {short} → {short2}", k=k, short=_short(before[k]), short2=_short(v))
        for k, v in after.items()
        if before[k] != v
    )


def _short(value: Any) -> str:
    return (
        together(map(str, value), "; ") if isinstance(value, list) else "nothing" if value in (None, "") else str(value)
    )


def keep(w: Work, name: TableName, rows: Iterable[Row]) -> None:
    """Write rows into a register: new ones at its end, known ones in their place; what had left the shop is back."""
    if name is TableName.CUTTERS:
        _keep_cutters(w, [r for r in rows if isinstance(r, Cutter)])
        return
    if name is TableName.TOOLHOLDERS:
        _keep_holders(w, [r for r in rows if isinstance(r, HolderRow)])
        return
    there = {row.key: row for row in store.materials(w.db, also_gone=True)}
    place = store.last_place(w.db, t.Material)
    for row in rows:
        if isinstance(row, Material):
            kept = there.get(row.key)
            stock = Stock(material=row, ranges=stock_of(kept).ranges if kept else ())
            if kept is None:
                place += 1
                kept = t.Material(key=row.key, name=row.name, place=place, content="")
                w.db.add(kept)
                there[row.key] = kept
            kept.name, kept.content, kept.gone = row.name, stock.model_dump_json(), ""
        elif isinstance(row, Range):
            kept = there[row.material]
            stock = stock_of(kept)
            ranges = {r.key: r for r in stock.ranges} | {row.key: row}
            kept.content = Stock(material=stock.material, ranges=tuple(ranges.values())).model_dump_json()
    w.db.flush()


def _holding(w: Work) -> list[tuple[t.Workholding, AnyHolding]]:
    return [(row, kept_holding(row.spec)) for row in machines.workholding(w.db)]


def _keep_holders(w: Work, rows: Sequence[HolderRow]) -> None:
    all_of = machines.workholding(w.db, also_gone=True)
    there, place = {row.name: row for row in all_of}, len(all_of)
    for row in rows:
        spec = row.holders().model_dump_json()
        if kept := there.get(row.name):
            kept.spec, kept.gone = spec, ""
            continue
        made = uuid.uuid5(uuid.NAMESPACE_OID, f"holders {row.name}")
        w.db.add(t.Workholding(id=made, name=row.name, spec=spec, place=place))
        place += 1
    w.db.flush()


def _keep_cutters(w: Work, rows: Sequence[Cutter]) -> None:
    there = {row.name: row for row in store.cutters(w.db, also_gone=True)}
    place = store.last_place(w.db, t.Cutter)
    for c in rows:
        if kept := there.get(c.name):
            kept.content, kept.gone = c.model_dump_json(), ""
            continue
        place += 1
        # the same cutter gets the same id in every copy of a shop that is made from the same file
        made = uuid.uuid5(uuid.NAMESPACE_OID, f"cutter {c.name}")
        w.db.add(t.Cutter(id=made, name=c.name, place=place, content=c.model_dump_json()))
    w.db.flush()
    w.memo.pop("cutters", None)
