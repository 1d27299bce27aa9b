"""Adding people one by one: codes that are used once, who may change whom, groups and their terms."""

from __future__ import annotations

import threading
import uuid
from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Any

import pytest

from incudo.app.kernel.unit import Unit, Who
from incudo.app.people import everybody as people_of
from incudo.app.people.everybody import PersonCommand, change_person, people_list
from incudo.core.people.roles import Role
from tests.shop import PASSWORD, PINS, TUESDAY, Person, TestShop, new_id

OWN = "a password of one's own"


@pytest.fixture
def shop(shop_apart: TestShop) -> Iterator[TestShop]:
    """A shop that others do not look at: people, groups and machines are added to it."""
    yield shop_apart
    shop_apart.clock.ahead, shop_apart.clock.still = timedelta(0), None


def new(shop: TestShop, **change: Any) -> dict[str, Any]:
    """Somebody new with a slip; a sign-in name that nobody has."""
    body = {"id": new_id(), "name": "Ada Quist", "login": f"ada-{new_id()[-8:]}", "role": "student", "group": TUESDAY}
    answer: dict[str, Any] = shop.haldane.post("/api/people", {**body, "pin": PINS["haldane"], **change})
    return answer


def line(shop: TestShop, login: str, **query: str) -> dict[str, Any]:
    """How somebody stands in the list."""
    more = "".join(f"&{k}={v}" for k, v in query.items())
    (found,) = shop.haldane.get(f"/api/people?find={login}{more}")["people"]
    return dict(found)


def take(shop: TestShop, code: str, password: str = OWN, pin: str | None = None, by: Person | None = None) -> Any:
    return (by or shop.person()).ask("POST", "/api/codes/take", {"code": code, "password": password, "pin": pin})


def test_who_is_new_comes_in_by_the_code_and_by_it_once(shop: TestShop) -> None:
    slip = new(shop)
    for most, more in ((1, False), (0, True)):
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(people_of, "MOST", most)
            assert shop.haldane.get(f"/api/people?find={slip['login']}")["more"] is more
    assert line(shop, slip["login"])["code_until"]
    assert not line(shop, slip["login"])["joined"]
    stranger = shop.person()
    assert stranger.sign_in(slip["login"], "").status_code == 422
    assert stranger.sign_in(slip["login"], PASSWORD).status_code == 403, "no password fits before one is chosen"
    # typed as people type: capitals, spaces for dashes
    typed = slip["code"].upper().replace("-", "  ")
    whose = stranger.post("/api/codes/look", {"code": typed})
    assert (whose["name"], whose["login"], whose["wants_pin"]) == ("Ada Quist", slip["login"], False)
    assert take(shop, typed, by=stranger).status_code == 200
    assert take(shop, slip["code"]).status_code == 403, "used"
    assert shop.person(slip["login"], OWN).me["group"] == "Tuesday group"
    now = line(shop, slip["login"])
    assert now["joined"]
    assert now["code_until"] is None
    assert now["last_sign_in"]
    words = [a["words"] for a in shop.haldane.get(f"/api/people/{slip['person']['id']}/acts")["acts"]]
    assert words == ["Signed in with a code and chose a password.", f"Added as student, to sign in as {slip['login']}."]


def test_two_requests_at_once_use_a_code_once(shop: TestShop) -> None:
    slip = new(shop)
    found: list[int] = []
    threads = [
        threading.Thread(target=lambda n=n: found.append(take(shop, slip["code"], f"password {n} of two").status_code))
        for n in range(4)
    ]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert sorted(found) == [200, 403, 403, 403]


@pytest.mark.parametrize(("joined", "holds"), [(False, timedelta(days=14)), (True, timedelta(hours=1))])
def test_a_code_holds_for_two_weeks_or_for_an_hour(shop: TestShop, joined: bool, holds: timedelta) -> None:
    if not joined:
        shop.clock.stand()
    slip = new(shop)
    if joined:
        shop.clock.stand()
        assert take(shop, slip["code"]).status_code == 200
        path = f"/api/people/{slip['person']['id']}/codes"
        slip = shop.haldane.post(path, {"pin": PINS["haldane"]})
    login = slip["login"]
    shop.clock.ahead = holds - timedelta(seconds=1)
    shop.person().post("/api/codes/look", {"code": slip["code"]})
    assert code_until(shop, login)
    shop.clock.ahead = holds
    assert take(shop, slip["code"]).status_code == 403
    assert code_until(shop, login) is None


def code_until(shop: TestShop, login: str) -> datetime | None:
    """Until when a code holds by the list that an instructor sees, at the shop's moment."""
    haldane = Who(uuid.UUID(shop.haldane.id), "Haldane", Role.INSTRUCTOR)
    found = shop.unit.run(lambda w: people_list(w, haldane, login, None, active=True))
    return found.people[0].code_until


def test_the_newest_code_counts_and_the_old_password_until_it_is_used(shop: TestShop) -> None:
    first = new(shop)
    assert take(shop, first["code"]).status_code == 200
    inside = shop.person(first["login"], OWN)
    path = f"/api/people/{first['person']['id']}/codes"
    one, two = (shop.haldane.post(path, {"pin": PINS["haldane"]})["code"] for _ in range(2))
    assert take(shop, one).status_code == 403
    assert inside.ask("GET", "/api/me").status_code == 200
    assert shop.person().sign_in(first["login"], OWN).status_code == 200
    assert take(shop, two, "another password").status_code == 200
    assert inside.ask("GET", "/api/me").status_code == 401, "whoever was signed in is out"
    assert shop.person().sign_in(first["login"], OWN).status_code == 403
    shop.person(first["login"], "another password")


def test_guessing_codes_is_stopped_on_this_device(shop: TestShop) -> None:
    slip, guesser = new(shop), shop.person("orla")
    for _ in range(5):
        guesser.fails(403, "/api/codes/look", {"code": "abcd-efgh-jkmn"})
    guesser.fails(429, "/api/codes/look", {"code": slip["code"]})
    shop.clock.ahead = timedelta(minutes=16)
    guesser.post("/api/codes/look", {"code": slip["code"]})
    shop.clock.ahead = timedelta(0)


def test_a_class_that_comes_in_is_not_closed_by_one_who_types_wrong_codes(shop: TestShop) -> None:
    """Nobody has signed in on their devices yet, and all have one address: forty wrong codes close it, not five."""
    slip = new(shop)

    def at_school() -> Person:
        found = shop.person()
        found.client.environ_base["REMOTE_ADDR"] = "10.1.2.3"
        return found

    for _ in range(39):
        at_school().fails(403, "/api/codes/look", {"code": "abcd-efgh-jkmn"})
    at_school().post("/api/codes/look", {"code": slip["code"]})
    at_school().fails(403, "/api/codes/look", {"code": "abcd-efgh-jkmn"})
    at_school().fails(429, "/api/codes/look", {"code": slip["code"]})
    shop.person().post("/api/codes/look", {"code": slip["code"]})


def test_who_confirms_acts_chooses_a_pin_and_nobody_else_does(shop: TestShop) -> None:
    slip = new(shop, role="assistant", group=None)
    stranger = shop.person()
    assert stranger.post("/api/codes/look", {"code": slip["code"]})["wants_pin"]
    body = {"code": slip["code"], "password": OWN}
    assert stranger.fails(422, "/api/codes/take", body)["errors"][0]["field"] == "pin"
    assert take(shop, slip["code"], pin="4711", by=stranger).status_code == 200
    assert shop.person(slip["login"], OWN).me["has_pin"]
    student = new(shop)
    body = {"code": student["code"], "password": OWN, "pin": "4711"}
    assert shop.person().fails(422, "/api/codes/take", body)["errors"][0]["field"] == "pin"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": "X"}, "name"),
        ({"name": "1234"}, "name"),
        ({"name": "  "}, "name"),
        ({"name": "Ö" * 81}, "name"),
        ({"login": "orla"}, "login"),
        ({"login": "Ada Quist"}, "login"),
        ({"login": "a"}, "login"),
        ({"login": "", "name": "李 明"}, "login"),
        ({"role": "owner"}, "role"),
        ({"role": "auditor"}, "group"),
        ({"role": "instructor"}, "group"),
        ({"pin": "12"}, "pin"),
        ({"id": "7"}, "id"),
    ],
)
def test_what_cannot_be_is_said_at_its_field(shop: TestShop, change: dict[str, str], field: str) -> None:
    body = {"id": new_id(), "name": "Ada Quist", "login": "ada-q", "role": "student", "group": TUESDAY}
    problem = shop.haldane.fails(422, "/api/people", {**body, "pin": PINS["haldane"], **change})
    assert [e["field"] for e in problem["errors"]] == [field]
    assert problem["errors"][0]["bound"]


def test_a_sign_in_name_is_made_from_the_name(shop: TestShop) -> None:
    assert new(shop, name="Ödön  Vik", login="")["login"] == "odon.v"
    body = {"id": new_id(), "name": "Odon Vesk", "login": "", "role": "student", "group": None, "pin": PINS["haldane"]}
    problem = shop.haldane.fails(422, "/api/people", body)
    assert problem["errors"][0]["bound"] == "is taken by somebody in the shop"


def test_the_same_request_again_adds_nobody_and_shows_no_code(shop: TestShop) -> None:
    ident, login = new_id(), f"ada-{new_id()[-8:]}"
    new(shop, id=ident, login=login)
    body = {"id": ident, "name": "Ada Quist", "login": login, "role": "student", "group": TUESDAY}
    assert "make a new one" in shop.haldane.fails(409, "/api/people", {**body, "pin": PINS["haldane"]})["detail"]
    shop.haldane.fails(403, "/api/people", {**body, "id": new_id(), "pin": "0001"})
    assert len(shop.haldane.get(f"/api/people?find={login}")["people"]) == 1


# ---- changing


def change(shop: TestShop, slip: dict[str, Any], **fields: Any) -> dict[str, Any]:
    body = {"name": "Ada Quist", "role": "student", "group": TUESDAY, "active": True, "pin": PINS["haldane"], **fields}
    (found,) = shop.haldane.put(f"/api/people/{slip['person']['id']}", body)["people"]
    return dict(found)


def joined(shop: TestShop) -> dict[str, Any]:
    slip = new(shop)
    assert take(shop, slip["code"]).status_code == 200
    return slip


def test_who_leaves_is_out_at_once_and_comes_back_with_the_same_password(shop: TestShop) -> None:
    slip = joined(shop)
    inside = shop.person(slip["login"], OWN)
    assert not change(shop, slip, active=False, group=None)["active"]
    assert inside.ask("GET", "/api/me").status_code == 401
    assert shop.person().sign_in(slip["login"], OWN).status_code == 403
    shop.haldane.fails(409, f"/api/people/{slip['person']['id']}/codes", {"pin": PINS["haldane"]})
    assert line(shop, slip["login"], active="false")["group"] is None
    assert shop.haldane.get(f"/api/people?find={slip['login']}")["people"] == []
    assert change(shop, slip)["group"]["name"] == "Tuesday group"
    shop.person(slip["login"], OWN)
    words = [a["words"] for a in shop.haldane.get(f"/api/people/{slip['person']['id']}/acts")["acts"]]
    assert {"Marked as away or left.", "Came back.", "Group: Tuesday group became none."} <= set(words)


def test_a_group_holds_from_today_and_what_was_before_stays(shop: TestShop) -> None:
    slip = joined(shop)
    ident = new_id()
    shop.haldane.post("/api/groups", {"id": ident, "name": f"Evening {ident[-6:]}", "begins": None, "ends": None})
    assert change(shop, slip, group=ident)["group"]["id"] == ident
    # three days on, by the use case itself: a clock that is put forward signs everybody out
    later = Unit(shop.unit.engine, lambda: shop.clock() + timedelta(days=3))
    who = Who(uuid.UUID(shop.haldane.id), "", Role.INSTRUCTOR)
    back = PersonCommand(
        name="Ada Quist", role=Role.STUDENT, group=uuid.UUID(TUESDAY), active=True, pin=PINS["haldane"]
    )
    for _ in range(2):
        found = later.run(lambda w: change_person(w, who, uuid.UUID(slip["person"]["id"]), back))
        assert [str(p.group.id) for p in found.people if p.group] == [TUESDAY]
    assert line(shop, slip["login"])["group"]["id"] == ident, "today it is still as it was"


def test_another_role_is_another_start(shop: TestShop) -> None:
    slip = joined(shop)
    inside = shop.person(slip["login"], OWN)
    found = change(shop, slip, role="assistant", group=None)
    assert found["role"] == "assistant"
    assert not found["joined"], "what confirms acts is chosen anew"
    assert inside.ask("GET", "/api/me").status_code == 401
    assert shop.person().sign_in(slip["login"], OWN).status_code == 403
    found = change(shop, slip, role="student")
    assert found["group"]["id"] == TUESDAY


def test_nobody_locks_an_instructor_out(shop: TestShop) -> None:
    selby = line(shop, "selby", role="instructor")
    assert "nobody but themselves" in selby["why_not"]
    path = f"/api/people/{selby['person']['id']}"
    body = {"name": "Selby", "role": "student", "group": None, "active": False, "pin": PINS["haldane"]}
    shop.haldane.fails(403, path, body, method="PUT")
    shop.haldane.fails(403, f"{path}/codes", {"pin": PINS["haldane"]})
    mine = line(shop, "haldane", role="instructor")
    own = {**body, "name": mine["person"]["name"], "role": "instructor"}
    path = f"/api/people/{mine['person']['id']}"
    assert shop.haldane.fails(422, path, own, method="PUT")["errors"][0]["field"] == "role"
    assert shop.haldane.fails(422, path, {**own, "role": "student", "active": True}, method="PUT")["errors"]
    # their own name they may put right
    shop.haldane.put(path, {**own, "active": True})


def test_the_server_gives_an_instructor_a_new_code(shop: TestShop) -> None:
    from incudo.app.people.everybody import code_by_server
    from incudo.core.kernel.errors import Refused

    slip = new(shop, role="instructor", group=None)
    made = shop.unit.run(lambda w: code_by_server(w, slip["login"].upper()))
    assert take(shop, slip["code"], pin="4711").status_code == 403
    assert take(shop, made.code, pin="4711").status_code == 200
    acts = shop.haldane.get(f"/api/people/{slip['person']['id']}/acts")["acts"]
    assert "the server" in [a["by"] for a in acts]
    with pytest.raises(Refused, match="sign-in name"):
        shop.unit.run(lambda w: code_by_server(w, "nobody-here"))


# ---- groups


def test_a_group_has_a_name_of_its_own_and_a_term_in_order(shop: TestShop) -> None:
    ident = new_id()
    body = {"id": ident, "name": f"Autumn {ident[-6:]}", "begins": "2026-09-01", "ends": "2026-12-18"}
    shop.haldane.post("/api/groups", body)
    shop.haldane.post("/api/groups", body)
    again = {**body, "id": new_id()}
    assert shop.haldane.fails(422, "/api/groups", again)["errors"][0]["field"] == "name"
    late = {**again, "name": "Winter", "ends": "2026-08-31"}
    assert shop.haldane.fails(422, "/api/groups", late)["errors"][0]["field"] == "ends"
    one_day = {**again, "name": f"Day {ident[-6:]}", "ends": "2026-09-01"}
    shop.haldane.post("/api/groups", one_day)
    for missing in ("begins", "ends", "name"):
        left_out = {k: v for k, v in body.items() if k not in ("id", missing)}
        shop.haldane.fails(422, f"/api/groups/{ident}", left_out, method="PUT")


def test_when_its_term_is_over_nobody_is_put_into_a_group(shop: TestShop) -> None:
    slip, ident, today = joined(shop), new_id(), shop.clock().date()
    term = {"name": f"Short {ident[-6:]}", "begins": None, "ends": str(today)}
    shop.haldane.post("/api/groups", {"id": ident, **term})
    assert change(shop, slip, group=ident)["group"]["id"] == ident, "its last day counts"
    found = shop.haldane.put(f"/api/groups/{ident}", {**term, "ends": str(today - timedelta(days=1))})
    (mine,) = (g for g in found["groups"] if g["id"] == ident)
    assert mine["over"]
    assert line(shop, slip["login"])["group"] is None
    other = joined(shop)
    body = {"name": "Ada Quist", "role": "student", "group": ident, "active": True, "pin": PINS["haldane"]}
    problem = shop.haldane.fails(422, f"/api/people/{other['person']['id']}", body, method="PUT")
    assert problem["errors"][0]["field"] == "group"
