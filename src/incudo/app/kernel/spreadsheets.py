"""A spreadsheet as people keep one: its first sheet becomes the CSV text that every list here is read from."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Mapping
from datetime import date, datetime, time
from typing import Annotated

from openpyxl import Workbook, load_workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.utils.exceptions import InvalidFileException
from pydantic import Base64Bytes, Field

from incudo.app.kernel.views import Command, View
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say

#: A file may be so long, and unpacked so long; a sheet may have so many lines and columns.
MOST_BYTES, MOST_UNPACKED = 1_000_000, 20_000_000
MOST_ROWS, MOST_COLUMNS = 5_000, 60


#: What a cell of a list that is taken away can be.
Cell = str | int | date | None
#: Cells that begin so would be run by a table program.
RUN = ("=", "+", "-", "@", "\t", "\r")


class SpreadsheetCommand(Command):
    """A file of a spreadsheet program (Office Open XML, .xlsx), base64."""

    data: Annotated[Base64Bytes, Field(max_length=MOST_BYTES)]


class SpreadsheetText(View):
    """What stands on its first sheet, as CSV."""

    text: str


def read_spreadsheet(command: SpreadsheetCommand) -> SpreadsheetText:
    """The first sheet of a file as CSV with commas: values, not formulas; empty lines at the end left out.

    Raises ``Refused`` at ``data`` for a file that is none, or too large: lines, columns, or unpacked.
    """
    file = io.BytesIO(command.data)
    try:
        with zipfile.ZipFile(file) as packed:
            unpacked = sum(x.file_size for x in packed.infolist())
        if unpacked > MOST_UNPACKED:
            raise Refused.of("data", unpacked, say("must be at most {most} bytes unpacked", most=MOST_UNPACKED))
        book = load_workbook(file, read_only=True, data_only=True)
        rows = [[_text(x) for x in row] for row in _bounded(book.worksheets[0].iter_rows(values_only=True))]
    except Refused:
        raise
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, IndexError, SyntaxError, EOFError):
        # whatever a file that only looks like one makes the reader stumble over; SyntaxError is broken XML
        raise Refused.of("data", "", say("must be an .xlsx file; or paste the lines as text")) from None
    while rows and not any(rows[-1]):
        rows.pop()
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(rows)
    return SpreadsheetText(text=out.getvalue())


def _bounded(rows: Iterable[tuple[object, ...]]) -> Iterable[tuple[object, ...]]:
    for n, row in enumerate(rows):
        if n >= MOST_ROWS:
            raise Refused.of("data", n, say("must have at most {most} lines", most=MOST_ROWS))
        if len(row) > MOST_COLUMNS:
            raise Refused.of("data", len(row), say("must have at most {most} columns", most=MOST_COLUMNS))
        yield row


def _text(value: object) -> str:
    """A cell as somebody would type it: whole numbers without a point, days as year-month-day."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float) and value.is_integer() and abs(value) < 2**53:
        return str(int(value))
    if isinstance(value, datetime) and value.time() == time():
        return value.date().isoformat()
    return value.isoformat() if isinstance(value, date) else str(value)


def unrun(text: str) -> str:
    """A cell of CSV text that no table program runs."""
    return f"'{text}" if text.startswith(RUN) else text


def as_csv(rows: Iterable[Iterable[Cell]]) -> str:
    """Rows as CSV text; cells that a table program would run are quoted."""
    out = io.StringIO()
    writer = csv.writer(out)
    for row in rows:
        writer.writerow([unrun(x) if isinstance(x, str) else _text(x) for x in row])
    return out.getvalue()


def as_workbook(sheets: Mapping[str, Iterable[Iterable[Cell]]]) -> bytes:
    """Sheets by their name as an .xlsx file: the first line stands still, texts are texts whatever they begin with."""
    book = Workbook(write_only=True)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        sheet.freeze_panes = "B2"
        for row in rows:
            cells = [WriteOnlyCell(sheet, x) for x in row]
            for cell in cells:
                if isinstance(cell.value, str):
                    cell.data_type = "s"
            sheet.append(cells)
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()
