"""Registers as files: nothing in them is taken for a formula by whoever opens them."""

from __future__ import annotations

import csv
import io
import uuid
from typing import Any

import pytest

from incudo.app.administration.registers import RegisterName, register, register_file
from incudo.app.register.chain import record
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
    text = shop.unit.run(lambda w: register_file(w, RegisterName.SAFETY, None))
    cells = [c for row in csv.reader(io.StringIO(text)) for c in row if words.strip() in c]
    assert cells
    assert all(not c.startswith(("=", "+", "-", "@", "\t", "\r")) for c in cells), cells


def test_a_page_has_fifty_lines_and_the_file_all(shop: TestShop) -> None:
    first = shop.unit.run(lambda w: register(w, RegisterName.SAFETY, 1, None))
    second = shop.unit.run(lambda w: register(w, RegisterName.SAFETY, 2, None))
    assert first.total > 100
    assert (len(first.entries), len(second.entries)) == (50, 50)
    assert not {e.id for e in first.entries} & {e.id for e in second.entries}
    text = shop.unit.run(lambda w: register_file(w, RegisterName.SAFETY, None))
    assert len(list(csv.reader(io.StringIO(text)))) == first.total + 1
