"""A spreadsheet's first sheet as CSV, and what is no spreadsheet or too large a one."""

from __future__ import annotations

import base64
import io
import zipfile
from collections.abc import Iterable
from datetime import date, datetime

import pytest
from openpyxl import Workbook

from incudo.app.kernel.spreadsheets import (
    MOST_COLUMNS,
    MOST_ROWS,
    MOST_UNPACKED,
    SpreadsheetCommand,
    _text,
    read_spreadsheet,
)
from incudo.core.kernel.errors import Refused
from incudo.core.people.class_list import read_class_list


def text_of(data: bytes) -> str:
    return read_spreadsheet(SpreadsheetCommand(data=base64.b64encode(data))).text


def sheet(rows: Iterable[Iterable[object]]) -> bytes:
    book = Workbook()
    assert book.active is not None
    for row in rows:
        book.active.append(list(row))
    book.create_sheet("another").append(["not", "this"])
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def packed(**files: bytes) -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as z:
        for name, data in files.items():
            z.writestr(name, data)
    return file.getvalue()


def test_cells_are_what_somebody_would_type() -> None:
    day = datetime(2026, 9, 7)  # noqa: DTZ001 - a cell has no time zone
    data = sheet(
        [["name", "size"], ['Quist, "A"', 6.0], [None, 6.35], [True, day], [date(2026, 9, 8), 1e300], [None, ""]]
    )
    assert text_of(data) == 'name,size\n"Quist, ""A""",6\n,6.35\nyes,2026-09-07\n2026-09-08,1e+300\n'


@pytest.mark.parametrize(("value", "text"), [(2.0**53 - 1, "9007199254740991"), (2.0**53, "9007199254740992.0")])
def test_a_number_is_whole_as_far_as_a_double_counts_whole_numbers(value: float, text: str) -> None:
    assert _text(value) == text


def test_a_class_list_is_read_from_a_spreadsheet() -> None:
    lines = read_class_list(text_of(sheet([["login", "name"], ["ada", "Ada Quist"], [None, "Ödön Vik"]])), ())
    assert [(x.login, x.name, x.faults) for x in lines] == [("ada", "Ada Quist", ()), ("odon.v", "Ödön Vik", ())]


@pytest.mark.parametrize(
    "data",
    [b"", b"name\nAda Quist\n", b"PK\x03\x04 and no more", packed(a=b"b"), sheet([["name"]])[:-40]],
    ids=["nothing", "text", "cut short", "another zip", "without its end"],
)
def test_what_is_no_spreadsheet_is_refused_at_its_field(data: bytes) -> None:
    with pytest.raises(Refused, match="data") as refused:
        text_of(data)
    assert ".xlsx" in str(refused.value)


def test_a_broken_sheet_is_refused() -> None:
    file = io.BytesIO(sheet([["name"], ["Ada Quist"]]))
    with zipfile.ZipFile(file) as z:
        files = {n: z.read(n) for n in z.namelist()}
    files["xl/worksheets/sheet1.xml"] = files["xl/worksheets/sheet1.xml"][:-30]
    with pytest.raises(Refused, match=r"\.xlsx"):
        text_of(packed(**files))


@pytest.mark.parametrize(
    ("rows", "columns", "fits"),
    [(MOST_ROWS, 1, True), (MOST_ROWS + 1, 1, False), (1, MOST_COLUMNS, True), (1, MOST_COLUMNS + 1, False)],
)
def test_how_large_a_sheet_may_be(rows: int, columns: int, fits: bool) -> None:
    data = sheet([["x"] * columns] * rows)
    if fits:
        assert text_of(data).count("x") == rows * columns
        return
    with pytest.raises(Refused, match="at most"):
        text_of(data)


def test_a_file_that_unpacks_without_end_is_not_unpacked() -> None:
    with pytest.raises(Refused, match="unpacked"):
        text_of(packed(a=bytes(MOST_UNPACKED + 1)))
    with pytest.raises(Refused, match=r"\.xlsx"):
        text_of(packed(a=bytes(MOST_UNPACKED)))
