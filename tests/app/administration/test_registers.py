"""Registers as files: nothing in them is taken for a formula by whoever opens them."""

from __future__ import annotations

import csv
import io
import uuid
from datetime import date, timedelta
from itertools import chain
from typing import Any

import pytest

from incudo.app.administration.registers import PAGE, RegisterName, Wanted, register, register_file
from incudo.app.people import groups
from incudo.app.people.groups import MOST_FOUND, find_students
from incudo.app.register.chain import record
from incudo.core.kernel.errors import Refused
from incudo.store import schema as t
from tests.shop import PETREL, TestShop


def reported(shop: TestShop, words: str) -> None:
    def add(w: Any) -> None:
        row = t.Incident(
            id=uuid.uuid4(),
            kind="near_miss",
            what=words,
            machine_id=uuid.UUID(PETREL),
            done="",
            place="",
            witness="",
            person_id=None,
            at=w.now,
        )
        w.db.add(row)
        w.db.flush()
        record(w, row)

    shop.unit.run(add)


@pytest.mark.parametrize("first", ["=", "+", "-", "@", "\t", "\r"])
def test_what_a_table_program_would_reckon_is_kept_as_text(shop: TestShop, first: str) -> None:
    words = f"{first}1+1 {uuid.uuid4().hex}"
    reported(shop, words)
    text = shop.unit.run(lambda w: "".join(register_file(w, RegisterName.SAFETY, None)))
    cells = [c for row in csv.reader(io.StringIO(text)) for c in row if words.strip() in c]
    assert cells
    assert all(not c.startswith(("=", "+", "-", "@", "\t", "\r")) for c in cells), cells


def page(shop: TestShop, name: RegisterName, **wanted: Any) -> Any:
    return shop.unit.run(lambda w: register(w, name, Wanted(**wanted), None))


def whole(shop: TestShop, name: RegisterName) -> list[str]:
    text = shop.unit.run(lambda w: "".join(register_file(w, name, None)))
    return [row[0] for row in list(csv.reader(io.StringIO(text)))[1:]]


@pytest.mark.parametrize("name", list(RegisterName))
def test_pages_by_key_are_the_whole_in_its_order(shop: TestShop, name: RegisterName) -> None:
    """Walked through by its keys, forwards and back, a register is what its file says; no line twice, none left out."""
    wanted, found, back, at = whole(shop, name), [], [], page(shop, name)
    assert at.newer == ""
    while True:
        found.append([str(e.id) for e in at.entries])
        if not at.older:
            break
        at = page(shop, name, before=at.older)
        assert at.newer
    assert list(chain.from_iterable(found)) == wanted
    assert all(len(x) == PAGE for x in found[:-1])
    while at.newer:
        at = page(shop, name, after=at.newer)
        back.append([str(e.id) for e in at.entries])
    assert list(chain.from_iterable(back[::-1])) == wanted[: sum(map(len, back))]
    assert len(back) == len(found) - 1


@pytest.mark.parametrize("name", list(RegisterName))
def test_a_day_is_found_and_one_student(shop: TestShop, name: RegisterName) -> None:
    first = page(shop, name)
    day = (first.entries[-1].at - timedelta(days=3)).date()
    of_day = page(shop, name, on=day)
    assert all(e.at.date() <= day for e in of_day.entries)
    after = page(shop, name, after=of_day.newer) if of_day.newer else None
    assert after is None or after.entries[-1].at.date() > day
    student = next(e.student for e in first.entries if e.student)
    (found,) = [s for s in find_all(shop, student) if s.student.name == student]
    mine = page(shop, name, student=found.student.id)
    assert mine.entries
    assert {e.student for e in mine.entries} - {""} == {student}
    assert page(shop, name, on=date(1990, 1, 1)).entries == ()


def find_all(shop: TestShop, words: str) -> Any:
    return shop.unit.run(lambda w: find_students(w, words)).students


@pytest.mark.parametrize(
    "key", ["x", "2026-01-01_", "_", "2026-01-01T00:00:00+00:00_7", "9999-12-31T23:59:59-23:59_" + "0" * 32]
)
def test_a_key_that_no_page_gave_is_refused(shop: TestShop, key: str) -> None:
    for field in ("before", "after"):
        with pytest.raises(Refused) as refused:
            page(shop, RegisterName.READINGS, **{field: key})
        assert refused.value.errors[0].field == field


def test_there_is_nothing_behind_the_last_day_of_all(shop: TestShop) -> None:
    assert page(shop, RegisterName.READINGS, on=date.max - timedelta(days=1)) is not None
    with pytest.raises(Refused, match="before 31 December 9999"):
        page(shop, RegisterName.READINGS, on=date.max)


def test_students_are_found_by_every_word_who_is_here_first(shop: TestShop, monkeypatch: pytest.MonkeyPatch) -> None:
    mark = uuid.uuid4().hex[:6]

    def add(w: Any) -> None:
        for n in range(MOST_FOUND + 2):
            row = {"login": f"{mark}{n}", "name": f"Ove {mark} {n:02}_%", "role": "student", "active": n != 1}
            w.db.add(t.Person(id=uuid.uuid4(), password_hash="", pin_hash=None, **row))

    shop.unit.run(add)
    found = shop.unit.run(lambda w: find_students(w, f"{mark} ove"))
    assert [f.student.name for f in found.students][:2] == [f"Ove {mark} 00_%", f"Ove {mark} 02_%"]
    assert (len(found.students), found.more) == (MOST_FOUND, True)
    monkeypatch.setattr(groups, "MOST_FOUND", MOST_FOUND + 2)
    assert not shop.unit.run(lambda w: find_students(w, f"{mark} ove")).more, "as many as are shown"
    # what stands for any letter in a query stands for itself in a name
    assert len(shop.unit.run(lambda w: find_students(w, f"{mark} 07_%")).students) == 1
    assert shop.unit.run(lambda w: find_students(w, f"{mark} 0%7")).students == ()
    assert shop.unit.run(lambda w: find_students(w, "  ")).students == ()
