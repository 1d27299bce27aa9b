"""The counter over any evening: what is out and what is in always make up what is owned."""

from __future__ import annotations

import random
import uuid
from collections import Counter
from typing import Any

import pytest

from tests.at_once import at_once
from tests.shop import TestShop, new_id


def thing(shop: TestShop, name: str = "") -> dict[str, Any]:
    """A cutter of the counter, by its name or one of which more than one is in."""
    lines = [x for x in shop.dacosta.get("/api/crib")["things"] if not x["gauge"]]
    return dict(next(x for x in lines if (x["name"] == name if name else x["inside"] > 1 and not x["closed"])))


def state(shop: TestShop, name: str) -> tuple[int, int]:
    """How many are owned and how many are out."""
    line = thing(shop, name)
    return line["owned"], line["owned"] - line["inside"]


@pytest.mark.parametrize("seed", ["tide", "ebb", "slack"])
def test_out_and_in_make_up_what_is_owned(shop_apart: TestShop, seed: str) -> None:
    shop, chance = shop_apart, random.Random(seed)
    name = thing(shop)["name"]
    ident = thing(shop, name)["id"]
    people = [shop.haldane.id, shop.person("orla").id, shop.person("tavish").id]
    owned, out = state(shop, name)
    mine: list[str] = []
    for _ in range(25):
        if chance.random() < 0.55:
            issue = new_id()
            body = {"id": issue, "person": chance.choice(people), "cutter": ident}
            status = shop.dacosta.ask("POST", "/api/crib/issues", body).status_code
            assert status == (200 if out < owned else 409), "the last one goes out, and no more"
            if status == 200:
                out, mine = out + 1, [*mine, issue]
        elif mine:
            issue = mine.pop(chance.randrange(len(mine)))
            condition = chance.choice(["fine", "fine", "worn", "broken", "missing"])
            body = {"condition": condition, "note": "found so at the counter"}
            for _twice in range(2):
                shop.dacosta.post(f"/api/crib/issues/{issue}/return", body)
            out -= 1
            owned -= condition in ("broken", "missing")
        assert state(shop, name) == (owned, out)


@pytest.mark.parametrize("condition", ["worn", "broken", "missing"])
def test_what_comes_back_changed_says_how(shop_apart: TestShop, condition: str) -> None:
    shop = shop_apart
    line = thing(shop)
    issue = new_id()
    shop.dacosta.post("/api/crib/issues", {"id": issue, "person": shop.haldane.id, "cutter": line["id"]})
    path = f"/api/crib/issues/{issue}/return"
    for note in ("", "ab", "   "):
        refused = shop.dacosta.fails(422, path, {"condition": condition, "note": note})
        assert refused["errors"][0]["field"] == "note"
    shop.dacosta.post(path, {"condition": condition, "note": "abc"})
    shop.dacosta.fails(409, path, {"condition": "fine"})


def test_one_return_by_two_counters_at_once_takes_one_off(shop_apart: TestShop) -> None:
    from incudo.app.kernel.unit import Who
    from incudo.app.shop.crib import Condition, GiveBackCommand, give_back
    from incudo.core.people.roles import Role

    shop = shop_apart
    line = thing(shop)
    owned, out = state(shop, line["name"])
    issue = new_id()
    shop.dacosta.post("/api/crib/issues", {"id": issue, "person": shop.haldane.id, "cutter": line["id"]})
    who = Who(uuid.UUID(shop.dacosta.id), "", Role.ASSISTANT)
    broken = GiveBackCommand(condition=Condition.BROKEN, note="both edges chipped")
    found = at_once([lambda: shop.unit.run(lambda w: give_back(w, who, uuid.UUID(issue), broken))] * 6)
    assert Counter(isinstance(f, Exception) for f in found) == {False: 6}
    assert state(shop, line["name"]) == (owned - 1, out)


def test_who_is_not_here_any_more_is_given_nothing(shop_apart: TestShop) -> None:
    shop = shop_apart
    line = thing(shop)
    body = {"id": new_id(), "cutter": line["id"], "person": new_id()}
    shop.dacosta.fails(404, "/api/crib/issues", body)
    for wrong in ({"cutter": None}, {"instrument": new_id()}):
        refused = shop.dacosta.fails(422, "/api/crib/issues", body | {"person": shop.haldane.id} | wrong)
        assert refused["errors"][0]["field"] in ("cutter", "instrument")
