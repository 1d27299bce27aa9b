"""Signing in, being locked out, sessions, PINs."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tests.shop import PASSWORD, PINS, TestShop, new_id, shown, sign_off


def test_the_cookie_is_out_of_reach_of_scripts_and_other_sites(shop: TestShop) -> None:
    answer = shop.person().sign_in("orla")
    session = next(c for c in answer.headers.getlist("Set-Cookie") if c.startswith("incudo_session"))
    assert "HttpOnly" in session
    assert "SameSite=Strict" in session
    assert PASSWORD not in answer.get_data(as_text=True)


def test_the_name_is_read_without_regard_to_case_and_spaces(shop: TestShop) -> None:
    assert shop.person().sign_in("  Orla ").status_code == 200


@pytest.mark.parametrize(
    ("login", "password", "status", "field"),
    [
        ("orla", "wrong", 403, ""),
        ("nobody-here", PASSWORD, 403, ""),
        ("", PASSWORD, 422, "login"),
        ("x" * 61, PASSWORD, 422, "login"),
        ("x" * 50_000, PASSWORD, 422, "login"),
        ("orla", "", 422, "password"),
        ("orla", "x" * 201, 422, "password"),
        ("orla", 7, 422, "password"),
        (None, None, 422, "login"),
    ],
)
def test_bad_sign_ins(shop: TestShop, login: str, password: str, status: int, field: str) -> None:
    answer = shop.person().sign_in(login, password)
    assert answer.status_code == status
    problem = answer.get_json(force=True)
    if field:
        assert field in [e["field"] for e in problem["errors"]]
        assert all(e["bound"] for e in problem["errors"])
    else:
        assert problem["detail"] == "That name and password do not match."
    assert len(answer.get_data()) < 2000


def test_five_wrong_passwords_close_this_name_on_this_device_only(shop: TestShop) -> None:
    ours = shop.person("tam")
    guesser = shop.person()
    for _ in range(5):
        assert guesser.sign_in("tam", "guess").status_code == 403
    closed = guesser.sign_in("tam", PASSWORD)
    assert closed.status_code == 429, "even the right one"
    assert int(closed.headers["Retry-After"]) > 60
    assert ours.sign_in("tam").status_code == 200, "their own device still lets them in"
    shop.clock.ahead = timedelta(minutes=16)
    assert guesser.sign_in("tam", PASSWORD).status_code == 200


def test_a_forged_device_mark_is_no_new_device(shop: TestShop) -> None:
    guesser = shop.person()
    for i in range(5):
        guesser.client.set_cookie("incudo_device", f"made-up-{i}")
        assert guesser.sign_in("nell", "guess").status_code == 403
    guesser.client.set_cookie("incudo_device", "made-up-again")
    assert guesser.sign_in("nell", PASSWORD).status_code == 429


def test_sessions_end(shop: TestShop) -> None:
    someone = shop.person("orla")
    shop.clock.ahead = timedelta(hours=11, minutes=59)
    assert someone.get("/api/me")["name"] == "Orla Finnis"
    shop.clock.ahead = timedelta(hours=12, minutes=1)
    assert someone.ask("GET", "/api/me").status_code == 401


def test_signing_out_ends_the_session_on_the_server(shop: TestShop) -> None:
    someone = shop.person("orla")
    cookie = someone.client.get_cookie("incudo_session")
    assert cookie is not None
    someone.post("/api/sign-out", {})
    stranger = shop.person()
    stranger.client.set_cookie("incudo_session", cookie.value)
    assert stranger.ask("GET", "/api/me").status_code == 401


def sign(student: str, pin: str) -> dict[str, object]:
    return sign_off(student, pin, shown("person"))


def test_a_pin_confirms_one_act_and_five_wrong_ones_close_this_device(shop: TestShop) -> None:
    student = shop.can_show_person()
    mine, other = shop.person("selby"), shop.person("selby")
    for _ in range(5):
        assert "not your PIN" in mine.fails(403, "/api/sign-offs", sign(student.id, "0000"))["detail"]
    assert "on this device" in mine.fails(429, "/api/sign-offs", sign(student.id, PINS["selby"]))["detail"]
    other.post("/api/sign-offs", sign(student.id, PINS["selby"]))


@pytest.mark.parametrize("pin", ["", "12", "123456789", "12a4", "١٢٣٤", "1" * 50_000])
def test_a_pin_is_four_to_eight_digits(shop: TestShop, pin: str) -> None:
    problem = shop.haldane.fails(422, "/api/sign-offs", sign(new_id(), pin))
    assert [e["field"] for e in problem["errors"]] == ["pin"]


def test_another_assessors_pin_is_not_mine(shop: TestShop) -> None:
    student = shop.can_show_person()
    shop.haldane.fails(403, "/api/sign-offs", sign(student.id, PINS["selby"]))


def test_headers_that_keep_the_page_to_itself(shop: TestShop) -> None:
    page = shop.person().client.get("/")
    policy = page.headers["Content-Security-Policy"]
    assert "script-src 'self';" in policy
    assert "frame-ancestors 'none'" in policy
    assert page.headers["X-Content-Type-Options"] == "nosniff"
    assert shop.haldane.client.get("/api/me").headers["Cache-Control"] == "no-store"


def test_the_front_end_is_served_packed_and_long_lived(shop: TestShop) -> None:
    client = shop.person().client
    packed = client.get("/assets/a.js", headers={"Accept-Encoding": "br"})
    assert packed.headers["Content-Encoding"] == "br"
    assert "immutable" in packed.headers["Cache-Control"]
    assert client.get("/assets/a.js").get_data() == b"1"
    assert client.get("/assets/none.js").status_code == 404
    assert client.get("/job/anything").status_code == 200, "the page finds its own way"
    assert client.get("/api/nothing").status_code in (401, 404)
    assert client.get("/assets/../../etc/passwd").status_code in (200, 404)
    assert b"root:" not in client.get("/..%2f..%2fetc/passwd").get_data()
