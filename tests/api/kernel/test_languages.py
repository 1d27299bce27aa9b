"""Over HTTP: the language that a browser asks for, in pages, refusals, and what was kept earlier."""

from __future__ import annotations

from typing import Any

import pytest

from incudo.demo.story import who as demo_person
from tests.shop import TestShop, new_id

LOUD = {"Accept-Language": "en-XA, en;q=0.5"}


def asked(shop: TestShop, who: Any, path: str, headers: dict[str, str] | None = None) -> Any:
    return who.client.get(path, headers=headers or {})


def test_the_language_is_the_browser_s_and_english_otherwise(shop: TestShop) -> None:
    codes = {
        accepted: asked(shop, shop.haldane, "/api/language", {"Accept-Language": accepted}).get_json()["code"]
        for accepted in ("en-XA", "en-GB, fr", "fr", "", "en-US;q=0.2, en-XA;q=0.9")
    }
    assert codes == {"en-XA": "en-XA", "en-GB, fr": "en", "fr": "en", "": "en", "en-US;q=0.2, en-XA;q=0.9": "en-XA"}


def test_an_answer_in_another_language_is_another_answer(shop: TestShop, monkeypatch: pytest.MonkeyPatch) -> None:
    moment = shop.clock()
    monkeypatch.setattr(shop.unit, "clock", lambda: moment)
    english = asked(shop, shop.haldane, "/api/floor")
    mark = english.headers["ETag"]
    assert asked(shop, shop.haldane, "/api/floor", {"If-None-Match": mark}).status_code == 304
    loud = asked(shop, shop.haldane, "/api/floor", {**LOUD, "If-None-Match": mark})
    assert loud.status_code == 200
    assert loud.get_json()["line"][0]["what"].startswith("[")
    assert not english.get_json()["line"][0]["what"].startswith("[")


def test_a_refusal_is_spoken_and_its_fields_are_not(shop: TestShop) -> None:
    headers = {**LOUD, "X-Incudo-Token": shop.haldane.me["token"]}
    answer = shop.haldane.client.post("/api/tags", json={"id": new_id(), "what": ""}, headers=headers)
    problem = answer.get_json()
    assert answer.status_code == 422
    assert problem["type"] == "urn:incudo:refused-input"
    assert problem["title"].startswith("[")
    assert all(e["bound"].startswith("[") and not e["field"].startswith("[") for e in problem["errors"])


def test_what_was_kept_is_said_in_the_language_of_whoever_reads_it(shop: TestShop) -> None:
    """A standing is kept with its reasons; they are sentences again when they are read."""
    path = f"/api/students/{demo_person('orla').id}/skills"
    for headers, bracket in (({}, False), (LOUD, True), ({}, False)):
        skills = asked(shop, shop.haldane, path, headers).get_json()["skills"]
        reasons = [on["reason"] for s in skills for on in s["on"] if on["reason"]]
        assert reasons
        assert all(r.startswith("[") == bracket for r in reasons), reasons[:3]
