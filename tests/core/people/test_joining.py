"""Codes by which people come in, and who may change whom: every role against every other."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.people import joining as rules
from incudo.core.people.class_list import check_login, check_name
from incudo.core.people.roles import Role

NOW = datetime(2026, 9, 1, 18, 0, tzinfo=UTC)
ME, OTHER = uuid.UUID(int=1), uuid.UUID(int=2)


@given(st.text(rules.ALPHABET, min_size=12, max_size=12))
def test_what_is_typed_from_a_slip_is_the_code(signs: str) -> None:
    slip = rules.written(signs)
    assert [len(part) for part in slip.split("-")] == [rules.SIGNS] * rules.PARTS
    for typed in (slip, slip.upper(), slip.replace("-", " "), slip.replace("-", ""), f"  {slip}. "):
        assert rules.as_typed(typed) == signs


def test_no_two_signs_of_a_code_are_taken_for_each_other() -> None:
    assert not set("il1o0") & set(rules.ALPHABET)
    assert len(set(rules.ALPHABET)) == len(rules.ALPHABET) == 31


@pytest.mark.parametrize(("joined", "holds"), [(False, timedelta(days=14)), (True, timedelta(hours=1))])
def test_how_long_a_code_holds(joined: bool, holds: timedelta) -> None:
    assert rules.until(NOW, joined=joined) == NOW + holds


@pytest.mark.parametrize("by", Role)
@pytest.mark.parametrize("role", Role)
def test_who_may_change_whom(by: Role, role: Role) -> None:
    """An instructor changes everybody but other instructors; nobody else changes anybody."""
    other = rules.why_not_change(rules.Someone(ME, by), rules.Someone(OTHER, role))
    own = rules.why_not_change(rules.Someone(ME, by), rules.Someone(ME, by))
    assert (other == "") is (by is Role.INSTRUCTOR and role is not Role.INSTRUCTOR)
    assert (own == "") is (by is Role.INSTRUCTOR)


@pytest.mark.parametrize(
    ("person", "role", "active", "may"),
    [
        (ME, Role.INSTRUCTOR, True, True),
        (ME, Role.STUDENT, True, False),
        (ME, Role.INSTRUCTOR, False, False),
        (OTHER, Role.ASSISTANT, True, True),
        (OTHER, Role.STUDENT, False, True),
    ],
)
def test_nobody_takes_their_own_role_away(person: uuid.UUID, role: Role, active: bool, may: bool) -> None:
    was = Role.INSTRUCTOR if person == ME else Role.STUDENT
    why = rules.why_not_become(rules.Someone(ME, Role.INSTRUCTOR), rules.Someone(person, was), role=role, active=active)
    assert (why == "") is may


@pytest.mark.parametrize("role", Role)
def test_who_confirms_acts_has_a_pin(role: Role) -> None:
    assert (role in rules.WITH_PIN) is (role in (Role.INSTRUCTOR, Role.ASSISTANT))


@pytest.mark.parametrize(
    ("name", "read"), [("Ada Quist", "Ada Quist"), ("  Ödön \t Vik ", "Ödön Vik"), ("李 明", "李 明"), ("Al", "Al")]
)
def test_a_name_is_a_name(name: str, read: str) -> None:
    assert check_name("name", name) == read


@pytest.mark.parametrize("name", ["", "A", "   B ", "12 34", "Ada\x00Quist", "x" * 81])
def test_what_is_no_name(name: str) -> None:
    with pytest.raises(Refused) as refused:
        check_name("name", name)
    assert refused.value.errors[0].field == "name"


@pytest.mark.parametrize(
    ("login", "fits"),
    [
        ("ada", True),
        ("ada.q", True),
        ("7-up_x", True),
        ("ab", True),
        ("a", False),
        ("Ada", False),
        (".ada", False),
        ("ada q", False),
        ("x" * 40, True),
        ("x" * 41, False),
        ("orla", False),
        ("", False),
    ],
)
def test_a_sign_in_name_is_short_plain_and_free(login: str, fits: bool) -> None:
    if fits:
        assert check_login("login", login, {"orla"}) == login
    else:
        with pytest.raises(Refused) as refused:
            check_login("login", login, {"orla"})
        assert refused.value.errors[0].field == "login"
