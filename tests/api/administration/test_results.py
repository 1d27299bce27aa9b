"""A group's results: who held which skill since when, what was made and how often it was handed in, as files."""

from __future__ import annotations

import csv
import io
from datetime import date, datetime
from typing import Any

import pytest
from openpyxl import load_workbook

from incudo.app.kernel.spreadsheets import as_csv, as_workbook
from tests.shop import TUESDAY, TestShop, new_id

THURSDAY = "Thursday group"


def group_of(shop: TestShop, name: str) -> str:
    return str(next(g["id"] for g in shop.haldane.get("/api/people")["groups"] if g["name"] == name))


def book(shop: TestShop, group: str) -> Any:
    answer = shop.haldane.ask("GET", f"/api/groups/{group}/results.xlsx")
    assert answer.status_code == 200
    return load_workbook(io.BytesIO(answer.get_data()))


def table(shop: TestShop, group: str, sheet: str) -> list[list[str]]:
    text = shop.haldane.ask("GET", f"/api/groups/{group}/{sheet}.csv").get_data(as_text=True)
    return list(csv.reader(io.StringIO(text)))


def test_skills_held_stand_with_their_day_as_the_class_shows_them(shop: TestShop) -> None:
    group = group_of(shop, THURSDAY)
    sheet = book(shop, group)["Skills"]
    lines = [[c.value for c in row] for row in sheet.iter_rows()]
    head, rows = lines[0], {r[0]: r for r in lines[1:]}
    shown = shop.haldane.get(f"/api/class?group={group}")
    mine = {r["student"]["name"]: r for r in shown["rows"] if r["group"]}
    assert set(mine) <= set(rows)
    checked = 0
    for name, row in mine.items():
        for cell, skill in zip(row["cells"], shown["skills"], strict=True):
            said = rows[name][head.index(skill["name"])]
            if cell["machines"]:
                assert said == ", ".join(cell["machines"])
            elif cell["state"] in ("signed", "due_soon"):
                assert isinstance(said, datetime)
                checked += 1
            else:
                assert said is None or said.startswith("("), (name, skill["name"], said)
        held = sum(isinstance(x, datetime) or bool(x and not str(x).startswith("(")) for x in rows[name][5:])
        assert rows[name][4] == held
    assert checked > 10


def test_each_part_stands_with_how_often_and_how_it_ended(shop: TestShop) -> None:
    lines = table(shop, TUESDAY, "parts")
    sheet = [["" if c.value is None else c.value for c in row] for row in book(shop, TUESDAY)["Parts"].iter_rows()]
    assert [r[:2] for r in lines] == [r[:2] for r in sheet]
    assert lines[0][:5] == ["Student", "Part", "Given", "Handed in, times", "Decided"]
    kaia = [r for r in lines if r[0] == "Kaia Lund" and r[4] == "accepted"]
    assert kaia, "Kaia's block was accepted"
    assert int(kaia[0][3]) >= 1
    never = [r for r in lines[1:] if r[3] == "0"]
    assert never, "and there are parts that nobody has handed in"
    assert all(r[4:] == ["", "", "", ""] for r in never)


def test_a_part_that_was_reworked_stands_once_with_its_last_decision(shop: TestShop) -> None:
    lines = table(shop, TUESDAY, "parts")[1:]
    assert len({(r[0], r[1], r[2]) for r in lines}) == len(lines)
    entries = []
    page = shop.haldane.get("/api/registers/decisions")
    while True:
        entries += page["entries"]
        if not page["older"]:
            break
        page = shop.haldane.get(f"/api/registers/decisions?before={page['older']}")
    last: dict[tuple[str, str], tuple[str, str]] = {}
    for e in reversed(entries):
        last[e["student"], e["what"]] = (e["detail"], e["by"])
    for r in lines:
        if r[4] and sum(x[:2] == r[:2] for x in lines) == 1:
            detail, by = last[r[0], r[1]]
            assert detail.startswith(r[4]), r
            assert by == r[6], r


def test_who_left_the_group_stays_in_its_results(shop: TestShop) -> None:
    names = {r[0]: r for r in table(shop, TUESDAY, "skills")[1:]}
    today = date.today().isoformat()  # noqa: DTZ011 - as the sheet says it
    assert all(r[2] <= today for r in names.values())
    assert {s["student"]["name"] for s in shop.haldane.get(f"/api/class?group={TUESDAY}")["rows"] if s["group"]} <= set(
        names
    )


def test_no_cell_is_run_by_the_program_that_opens_it() -> None:
    rows: list[list[Any]] = [["=1+1", "-5", "@x", "+2", "fine", 3, date(2026, 9, 8), None]]
    assert as_csv(rows) == "'=1+1,'-5,'@x,'+2,fine,3,2026-09-08,\r\n"
    (row,) = load_workbook(io.BytesIO(as_workbook({"Sheet": rows})))["Sheet"].iter_rows()
    assert [c.value for c in row][:6] == ["=1+1", "-5", "@x", "+2", "fine", 3]
    assert row[0].data_type == "s", "a text, no formula"


@pytest.mark.parametrize("sheet", ["results.xlsx", "parts.csv", "skills.csv"])
def test_what_is_not_there_is_said(shop: TestShop, sheet: str) -> None:
    assert shop.haldane.ask("GET", f"/api/groups/{new_id()}/{sheet}").status_code == 404
    assert shop.haldane.ask("GET", f"/api/groups/{TUESDAY}/nothing.csv").status_code in (404, 422)
