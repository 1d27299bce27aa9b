"""Registers as CSV: one header line, one row a line, and a report of every line that cannot be."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Generic, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, StringConstraints, ValidationError

from incudo.core.kernel.errors import FieldError, Refused, shorten
from incudo.core.kernel.fields import Num, bound_of, own_errors
from incudo.core.kernel.say import say, together

MOST_LINES = 2000


class Source(StrEnum):
    """Where a row's numbers come from."""

    STANDARD = "standard"
    GEOMETRY = "geometry"
    RANGE = "commonly published range"
    RULE = "rule of thumb"
    SHOP = "measured here"


class Row(BaseModel):
    """A row of a register; every field is a column."""

    model_config = ConfigDict(frozen=True, extra="forbid")


#: Several texts in one column stand with a semicolon between them.
def _several(value: object) -> object:
    return tuple(x.strip() for x in value.split(";") if x.strip()) if isinstance(value, str) else value


Text = Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)]
Name = Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
Texts = Annotated[tuple[Annotated[str, StringConstraints(max_length=300)], ...], BeforeValidator(_several)]
#: A number, or nothing.
Maybe = Annotated[Num | None, BeforeValidator(lambda v: None if v == "" else v)]
R = TypeVar("R", bound=Row)


@dataclass(frozen=True)
class Line(Generic[R]):
    """One line of a file, from 1 (the header): its row, or why it cannot be one."""

    number: int
    row: R | None
    errors: tuple[FieldError, ...] = ()


def header(model: type[Row]) -> tuple[str, ...]:
    """The columns of a register, in order."""
    return tuple(model.model_fields)


def read(model: type[R], text: str) -> tuple[Line[R], ...]:
    """Every line of a file. Raises ``Refused`` for a file that is no table of this register.

    Empty lines and those that begin with "# " are passed over.
    """
    plain = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    try:
        rows = list(csv.reader(io.StringIO(plain)))
    except csv.Error as error:
        raise Refused.of("file", "", say("is not a CSV file: {error}", error=error)) from None
    kept = [(i, r) for i, r in enumerate(rows, 1) if any(c.strip() for c in r) and not r[0].startswith("# ")]
    if not kept:
        raise Refused.of("file", "", say("is empty"))
    if len(kept) > MOST_LINES + 1:
        raise Refused.of("file", str(len(kept)), say("must have at most {most_lines} lines", most_lines=MOST_LINES))
    (_, first), *rest = kept
    columns = [c.strip() for c in first]
    known = header(model)
    needed = [n for n, f in model.model_fields.items() if f.is_required()]
    if missing := [n for n in needed if n not in columns]:
        raise Refused.of(
            "file", together(columns, ", ")[:80], say("lacks the columns: {listed}", listed=together(missing, ", "))
        )
    if strange := [c for c in columns if c not in known]:
        raise Refused.of(
            "file",
            together(strange, ", ")[:80],
            say("has columns that are not known; known are: {listed}", listed=together(known, ", ")),
        )
    return tuple(_line(model, columns, i, r) for i, r in rest)


def _line(model: type[R], columns: Sequence[str], at: int, cells: Sequence[str]) -> Line[R]:
    if len(cells) > len(columns):
        return Line(
            at, None, (FieldError("line", cells[-1][:40], say("has more than {count} columns", count=len(columns))),)
        )
    given = {c: v.strip() for c, v in zip(columns, cells, strict=False)}
    # a column left empty says what its default says
    defaults = {n for n, f in model.model_fields.items() if not f.is_required()}
    try:
        return Line(at, model.model_validate({k: v for k, v in given.items() if v or k not in defaults}))
    except ValidationError as error:
        return Line(at, None, tuple(field_errors(error)))


def field_errors(error: ValidationError) -> Iterable[FieldError]:
    """What pydantic says, in the product's own form."""
    for e in own_errors(error):
        words = bound_of(e)
        name = ".".join(str(x) for x in e["loc"] if not isinstance(x, int))
        if not name and ": " in words:
            name, _, words = words.partition(": ")
        yield FieldError(name or "line", "" if e["loc"] == () else shorten(e["input"]), words)


def write(model: type[R], rows: Iterable[R]) -> str:
    """The same as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header(model))
    for row in rows:
        writer.writerow(_cell(v) for v in row.model_dump(mode="json").values())
    return out.getvalue()


def _cell(value: object) -> str:
    if isinstance(value, (list, tuple)):
        return together(map(str, value), "; ")
    return "" if value is None else str(value)
