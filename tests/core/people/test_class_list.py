"""Class lists: judged line by line, and any text is read or refused."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.people.class_list import MOST_LINES, MOST_TEXT, read_class_list, suggest_login


@pytest.mark.parametrize(
    ("text", "faults"),
    [
        ("name,login\nAda Quist,ada\nBo Renn,bo", ["", ""]),
        ("name;login\nAda Quist;ada", [""]),
        ("\ufeffname\nÖdön Vik\n\n", [""]),
        ("name,login\nAda Quist,orla", ["taken"]),
        ("name,login\nAda Quist,ada\nAda Quast,ada", ["", "is in line 2"]),
        ("name,login\nA,ada\n1234,x1\n李,\nFine Name,UP CASE", ["name", "must be a name", "name", "login"]),
        ("name\nAda Quist,more,cells", ["cells"]),
        ("Ada Quist\n\nBo Renn\n", ["", ""]),
        ("login\tname\nada\tAda Quist\n\tBo Renn", ["", ""]),
    ],
)
def test_a_class_list_is_judged_line_by_line(text: str, faults: list[str]) -> None:
    lines = read_class_list(text, {"orla"})
    assert len(lines) == len(faults)
    for line, words in zip(lines, faults, strict=True):
        assert words in "; ".join(line.faults) if words else not line.faults, line


@pytest.mark.parametrize(
    "text", ["", "Ada Quist,ada", "name", "login\nada", "name,size\nAda,4", "name\n" + "Ada Quist\n" * 201]
)
def test_what_is_no_class_list_is_refused(text: str) -> None:
    with pytest.raises(Refused):
        read_class_list(text, ())


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        lines: Any = read_class_list("name\n" + text, ())
    except Refused:
        return
    assert all(line.faults or (line.name and line.login) for line in lines)


def test_sign_in_names_are_plain() -> None:
    assert suggest_login("Ödön Vik") == "odon.v"
    assert suggest_login("Ada") == "ada"
    assert suggest_login("李") == ""


@pytest.mark.parametrize(("count", "taken"), [(MOST_LINES, True), (MOST_LINES + 1, False)])
def test_how_many_lines_a_list_may_have(count: int, taken: bool) -> None:
    text = "name,login\n" + "".join(f"Ada Quist,ada{n}\n" for n in range(count))
    if taken:
        assert len(read_class_list(text, ())) == count
        return
    with pytest.raises(Refused, match=rf"at most {MOST_LINES} lines"):
        read_class_list(text, ())


def test_a_line_may_end_early() -> None:
    (line,) = read_class_list("name,login\nAda Quist\n", ())
    assert (line.name, line.login, line.faults) == ("Ada Quist", "ada.q", ())


def test_how_long_a_list_may_be() -> None:
    text = "name\nAda Quist\n"
    assert read_class_list(text + "\n" * (MOST_TEXT - len(text)), ())
    with pytest.raises(Refused, match="at most 100000 characters"):
        read_class_list(text + "\n" * (MOST_TEXT - len(text) + 1), ())


@pytest.mark.parametrize(
    ("name", "fine"), [("A", False), ("Al", True), ("x" * 80, True), ("x" * 81, False), ("A\u0000b", False)]
)
def test_names_that_can_be(name: str, fine: bool) -> None:
    (line,) = read_class_list(f"name,login\n{name},ada", ())
    assert (line.faults == ()) is fine


@pytest.mark.parametrize(
    ("login", "fine"),
    [("a", False), ("ab", True), ("a" * 40, True), ("a" * 41, False), ("-ab", False), ("a.b_c-1", True), ("a b", False),
     ("ABC", True)],
)  # fmt: skip
def test_sign_in_names_that_can_be(login: str, fine: bool) -> None:
    (line,) = read_class_list(f"name,login\nAda Quist,{login}", ())
    assert (line.faults == ()) is fine
    if fine:
        assert line.login == login.lower()


def test_the_same_name_twice_names_the_line_that_has_it() -> None:
    lines = read_class_list("name\nAda Quist\nAda Quill\nBo Renn\n", ())
    assert [line.login for line in lines] == ["ada.q", "ada.q", "bo.r"]
    assert lines[0].faults == ()
    assert lines[1].faults == ("login: ada.q is in line 2 already",)
    assert [line.number for line in lines] == [2, 3, 4]


def test_a_list_of_nothing_but_names_keeps_its_line_numbers() -> None:
    lines = read_class_list("Ada Quist\n\nBo Renn\n", ())
    assert [(x.number, x.login) for x in lines] == [(1, "ada.q"), (3, "bo.r")]
