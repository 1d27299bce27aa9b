"""What helps a student to work here, for who teaches alone."""

from __future__ import annotations

import json
import uuid
from typing import Any

from incudo.store import schema as t
from tests.at_once import at_once
from tests.shop import Person, TestShop

WORDS = "Sits at the front.\nA light instead of the bell."


def of(student: Person) -> str:
    return f"/api/students/{student.id}/accommodation"


def put(who: Person, student: Person, words: str, based_on: Any = None) -> Any:
    return who.put(of(student), {"words": words, "based_on": based_on})


def test_it_is_written_changed_and_taken_out_and_only_that_is_kept(shop: TestShop) -> None:
    student = shop.student()
    assert shop.haldane.get(of(student)) == {
        "student": {"id": student.id, "name": student.me["name"]},
        "words": "",
        "by": "",
        "at": None,
    }
    first = put(shop.haldane, student, WORDS)
    assert (first["words"], first["by"]) == (WORDS, "Mara Haldane")
    assert shop.dacosta.get(of(student)) == first
    again = put(shop.person("selby"), student, "Sits at the front.", first["at"])
    assert (again["by"], again["words"]) == ("Corin Selby", "Sits at the front.")
    assert put(shop.haldane, student, "", again["at"])["at"] is None
    said = [a["words"] for a in shop.haldane.get(f"/api/people/{student.id}/acts")["acts"]]
    assert said == ["Accommodations removed.", *["Accommodations changed."] * 2]
    assert "front" not in json.dumps(said)
    assert shop.unit.run(lambda w: w.db.get(t.Accommodation, uuid.UUID(student.id))) is None


def test_a_page_that_is_older_changes_nothing(shop: TestShop) -> None:
    student = shop.student()
    first = put(shop.haldane, student, WORDS)
    put(shop.haldane, student, WORDS)
    refused = shop.haldane.fails(409, of(student), {"words": "Other words.", "based_on": None}, "PUT")
    assert "changed meanwhile" in refused["detail"]
    assert shop.haldane.get(of(student)) == first
    assert put(shop.haldane, student, "", first["at"])["words"] == ""


def test_of_two_at_once_one_is_told(shop: TestShop) -> None:
    student = shop.student()
    people = (shop.person("haldane"), shop.person("selby"))
    bodies = [{"words": f"Words of {n}.", "based_on": None} for n in range(2)]
    answers = at_once([lambda p=p, b=b: p.ask("PUT", of(student), b) for p, b in zip(people, bodies, strict=True)])  # type: ignore[misc]
    assert sorted(a.status_code for a in answers) == [200, 409]
    kept = next(b["words"] for a, b in zip(answers, bodies, strict=True) if a.status_code == 200)
    assert shop.haldane.get(of(student))["words"] == kept


def test_a_thousand_signs_and_only_for_students(shop: TestShop) -> None:
    student = shop.student()
    put(shop.haldane, student, "x" * 1000)
    too_many = shop.haldane.fails(422, of(student), {"words": "x" * 1001, "based_on": None}, "PUT")
    assert too_many["errors"][0]["field"].endswith("words")
    assert (
        shop.haldane.ask("PUT", f"/api/students/{shop.person('selby').id}/accommodation", {"words": "x"}).status_code
        == 404
    )


def test_it_is_in_their_own_data(shop: TestShop) -> None:
    student = shop.student()
    put(shop.haldane, student, WORDS)
    tables = shop.haldane.post(f"/api/people/{student.id}/data", {"pin": "1407"})["tables"]
    (row,) = next(x["rows"] for x in tables if x["table"] == "accommodation")
    assert row["words"] == WORDS


def test_who_teaches_sees_it_on_the_floor_of_who_is_here(shop_apart: TestShop) -> None:
    orla, dacosta, thorley = (shop_apart.person(x) for x in ("orla", "dacosta", "thorley"))
    put(shop_apart.person("haldane"), orla, WORDS)
    here = dacosta.get("/api/floor/accommodations")["people"]
    assert [p["student"]["name"] for p in here] == ["Kaia Lund", "Orla Finnis"]
    assert here[1]["words"] == WORDS
    for who in (orla, thorley):
        assert who.ask("GET", "/api/floor/accommodations").status_code == 403
        assert who.ask("GET", of(orla)).status_code == 403
    floor = thorley.ask("GET", "/api/floor")
    assert floor.status_code == 200
    assert "A light instead" not in floor.get_data(as_text=True)
