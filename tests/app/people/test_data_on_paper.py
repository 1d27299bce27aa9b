"""Somebody's data on paper: words, never a bare id."""

from __future__ import annotations

import re
from typing import Any

from incudo.app.administration.data_papers import MOST_LETTERS, _printed, _text
from incudo.app.kernel.unit import Who
from incudo.app.people.own_data import person_data
from incudo.core.people.roles import Role
from incudo.demo.story import key
from tests.shop import TestShop

ID = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")


def test_what_is_printed_says_something_to_a_reader(shop: TestShop) -> None:
    orla = key("person", "orla")

    def printed(w: Any) -> list[dict[str, Any]]:
        return [_printed(w, table) for table in person_data(w, Who(orla, "Orla Finnis", Role.STUDENT), orla).tables]

    values = [v for table in shop.unit.run(printed) for row in table["rows"] for _, v in row]
    assert "Orla Finnis" in values
    assert not [v for v in values if ID.fullmatch(v)]
    assert not {"", "null", "[]", "{}"} & set(values)


def test_a_long_text_is_cut_where_it_is_too_long(shop: TestShop) -> None:
    just, more = "x" * MOST_LETTERS, "x" * (MOST_LETTERS + 1)
    assert shop.unit.run(lambda w: [_text(w, just), _text(w, more)]) == [just, f"{just}…"]
