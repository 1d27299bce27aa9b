"""Credentials: who gets them, what they are worth to a stranger, and when they stop."""

from __future__ import annotations

import json
from typing import Any

from tests.shop import Person, TestShop


def handed_out(by: Person, student: Person) -> dict[str, Any]:
    answer = by.ask("GET", f"/api/students/{student.id}/credentials.json")
    assert answer.status_code == 200, answer.get_data(as_text=True)
    assert "attachment" in answer.headers["Content-Disposition"]
    found: dict[str, Any] = json.loads(answer.data)
    return found


def looked_at(shop: TestShop, file: object) -> dict[str, Any]:
    """By a stranger: without a session."""
    answer = shop.app.test_client().post("/api/credentials/check", json={"file": json.dumps(file)})
    assert answer.status_code == 200, answer.get_data(as_text=True)
    found: dict[str, Any] = answer.get_json()
    return found


def of(found: dict[str, Any], name: str) -> dict[str, Any]:
    return next(c for c in found["credentials"] if c["name"].startswith(name))


def test_what_is_signed_goes_out_and_a_stranger_can_check_it(shop: TestShop) -> None:
    student = shop.ready_student()
    file = handed_out(student, student)
    found = looked_at(shop, file)
    assert found["credentials"], "a ready student is signed for something"
    assert all(c["proof"] == "ours" and c["holds"] for c in found["credentials"])
    facing = of(found, "Fac")
    assert facing["holder"] == student.me["name"]
    assert facing["shop"] == found["shop"]
    assert facing["key"] == found["key"]
    again = handed_out(shop.haldane, student)
    assert [c["id"] for c in again["verifiableCredential"]] == [c["id"] for c in file["verifiableCredential"]]


def test_it_stops_when_the_skill_is_withdrawn_and_never_says_why(shop: TestShop) -> None:
    student = shop.ready_student()
    file = handed_out(student, student)
    shop.withdraw(student, "facing")
    found = looked_at(shop, file)
    facing = of(found, "Fac")
    assert (facing["proof"], facing["holds"]) == ("ours", False)
    reason = shop.haldane.get(f"/api/students/{student.id}/skills")
    words = next(e["words"] for s in reason["skills"] for e in s["events"] if e["kind"] == "withdrawal")
    assert words
    assert words not in json.dumps(found)
    assert "facing" not in json.dumps(handed_out(student, student)["verifiableCredential"]), (
        "nor is it handed out again"
    )


def test_a_changed_one_says_nothing_and_one_of_another_shop_names_its_key(shop: TestShop) -> None:
    from datetime import UTC, datetime

    from incudo.core.skills.credential import SignedSkill, Signer, credential

    student = shop.ready_student()
    one = handed_out(student, student)["verifiableCredential"][0]
    one["credentialSubject"]["identifier"][0]["identityHash"] = "Somebody Else"
    (changed,) = looked_at(shop, one)["credentials"]
    assert (changed["proof"], changed["holds"], changed["holder"]) == ("changed", None, "")
    now, other = datetime.now(UTC), Signer("another shop's secret")
    signed = SignedSkill("x", "A Stranger", "facing", "Facing", "Signed elsewhere.", ("Shown.",), now, None)
    (foreign,) = looked_at(shop, credential(signed, "Fulmar Bay", other, now))["credentials"]
    assert (foreign["proof"], foreign["holds"], foreign["key"]) == ("elsewhere", None, other.did)
    ours = credential(signed, "Skerry Sound", Signer(shop.unit.key), now)
    (unknown,) = looked_at(shop, ours)["credentials"]
    assert (unknown["proof"], unknown["holds"]) == ("ours", False), "a sign-off that is not in the records"


def test_others_do_not_get_it_and_nothing_signed_is_no_file(shop: TestShop) -> None:
    student, other = shop.ready_student(), shop.student()
    path = f"/api/students/{student.id}/credentials.json"
    assert other.ask("GET", path).status_code == 404
    assert shop.person("dacosta").ask("GET", path).status_code == 404
    assert other.ask("GET", f"/api/students/{other.id}/credentials.json").status_code == 409


def test_a_file_that_is_none_is_said_at_the_field(shop: TestShop) -> None:
    answer = shop.app.test_client().post("/api/credentials/check", json={"file": "{}"})
    assert answer.status_code == 422
    assert [f["field"] for f in answer.get_json()["errors"]] == ["file"]
