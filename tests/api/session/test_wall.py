"""The wall and its key: what it shows to everybody, what it never shows, and who is let in."""

from __future__ import annotations

import json
from typing import Any

import pytest
from werkzeug.test import TestResponse

from tests.at_once import at_once
from tests.shop import DEVICE_KEY, PETREL, PINS, TestShop, new_id

FACING = "facing"


def look(shop: TestShop, key: str, mark: str = "") -> TestResponse:
    headers = {"Authorization": f"Bearer {key}", **({"If-None-Match": mark} if mark else {})}
    answer = shop.app.test_client().get("/api/wall", headers=headers)
    if answer.status_code != 304:
        shop.checked.check("GET", "/api/wall", answer)
    return answer


def asked(**more: Any) -> dict[str, Any]:
    return {"id": new_id(), "name": f"Wall {new_id()}", "purpose": "wall", "pin": PINS["haldane"], **more}


def made(shop: TestShop, **more: Any) -> tuple[str, str]:
    """A new device: its id and its key."""
    body = asked(**more)
    return body["id"], shop.haldane.post("/api/devices", body)["key"]


def petrel(shop: TestShop, key: str) -> Any:
    return next(m for m in look(shop, key).get_json()["machines"] if m["name"] == "Petrel")


def test_each_key_opens_what_it_was_made_for_and_nothing_else(shop: TestShop) -> None:
    _, key = made(shop)
    assert look(shop, key).status_code == 200
    for wrong in ("", "wrong", DEVICE_KEY, key.upper()):
        assert look(shop, wrong).status_code == 401, wrong
    answer = shop.app.test_client().post("/api/interlock", json={}, headers={"Authorization": f"Bearer {key}"})
    assert answer.status_code == 401
    page = shop.app.test_client().get("/api/floor", headers={"Authorization": f"Bearer {key}"})
    assert page.status_code == 401, "it opens no other page"


def test_the_key_is_shown_once_and_kept_nowhere(shop: TestShop) -> None:
    body = asked()
    key = shop.haldane.post("/api/devices", body)["key"]
    assert len(key) == 16
    assert shop.haldane.fails(409, "/api/devices", body)["detail"].startswith("This device was made already.")
    listed = shop.haldane.get("/api/devices")
    assert listed["key"] == ""
    assert key not in json.dumps(listed)


def test_of_the_same_act_sent_twice_at_once_one_key_opens(shop: TestShop) -> None:
    body = asked()
    answers = at_once([lambda: shop.haldane.ask("POST", "/api/devices", body) for _ in range(2)])
    assert sorted(a.status_code for a in answers) == [200, 409]
    key = next(a.get_json()["key"] for a in answers if a.status_code == 200)
    assert look(shop, key).status_code == 200


@pytest.mark.parametrize(
    ("change", "status", "words"),
    [
        ({"pin": "0000"}, 403, "That is not your PIN"),
        ({"name": "x"}, 422, "at least 2 characters"),
        ({"name": "interlock STAND-IN"}, 409, "There is a device called"),
        ({"purpose": "door"}, 422, "purpose"),
    ],
)
def test_what_cannot_be_let_in_is_refused(shop: TestShop, change: dict[str, str], status: int, words: str) -> None:
    assert words in shop.haldane.fails(status, "/api/devices", asked(**change))["detail"]


def test_who_is_switched_off_is_refused_even_where_nothing_is_new(shop: TestShop) -> None:
    device, key = made(shop)
    mark = look(shop, key).headers["ETag"]
    assert look(shop, key, mark).status_code == 304
    off = {"pin": PINS["haldane"]}
    for _ in range(2):
        found = shop.haldane.post(f"/api/devices/{device}/off", off)["devices"]
        assert [d["active"] for d in found if d["id"] == device] == [False]
    assert look(shop, key, mark).status_code == 401
    shop.haldane.fails(404, f"/api/devices/{new_id()}/off", off)


def test_it_shows_who_is_where_and_what_runs_and_no_reason_for_a_stop(shop: TestShop) -> None:
    _, key = made(shop)
    student = shop.ready_student()
    shop.session(student)
    shop.at_machine(student)
    shop.interlock(PETREL, spindle=False)
    assert (petrel(shop, key)["state"], petrel(shop, key)["people"]) == ("in-use", [student.me["name"]])
    assert shop.start(student, FACING)["started"]
    shop.interlock(PETREL, spindle=True)
    runs = petrel(shop, key)
    assert (runs["state"], runs["operation"]) == ("runs", "Facing")
    shop.withdraw(student, FACING)
    shown = petrel(shop, key)
    assert shown == {"name": "Petrel", "state": "alarm", "people": [student.me["name"]], "operation": "", "since": None}
    told = look(shop, key).get_data(as_text=True)
    assert "left the key" not in told, "the reason of the withdrawal"
    assert "withdr" not in told
    shop.haldane.post("/api/stops", {"id": new_id(), "reason": "smoke from the head"})
    told = look(shop, key).get_data(as_text=True)
    assert json.loads(told)["stopped"]
    assert "smoke" not in told
    shop.haldane.post("/api/stops/clear", {"note": "a rag on the motor", "pin": PINS["haldane"]})
    shop.interlock(PETREL, spindle=False)


def test_who_waits_is_shown_and_not_what_went_wrong_before(shop: TestShop) -> None:
    _, key = made(shop)
    student = shop.ready_student()
    shop.session(student)
    call = {"id": new_id(), "kind": "help", "words": "my bore is oversize"}
    student.post("/api/calls", call)
    mine = [x for x in look(shop, key).get_json()["line"] if x["student"] == student.me["name"]]
    assert [(x["what"], x["machine"]) for x in mine] == [("calls", "")]
    assert "oversize" not in look(shop, key).get_data(as_text=True)
