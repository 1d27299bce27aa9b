"""A class list as CSV text: who is in a group. Documented in docs/formats/class-list.md."""

from __future__ import annotations

import csv
import io
import re
import unicodedata
from collections.abc import Collection
from dataclasses import dataclass, replace

from incudo.core.kernel.errors import Refused, shorten
from incudo.core.kernel.say import say

COLUMNS = ("name", "login")
MOST_LINES = 200
MOST_TEXT = 100_000
_LOGIN = re.compile(r"[a-z0-9][a-z0-9._-]{1,39}")


@dataclass(frozen=True)
class Line:
    """One line of the list: what it asks for, and what is wrong with it."""

    number: int
    name: str
    login: str
    faults: tuple[str, ...] = ()


def read_class_list(text: str, taken: Collection[str]) -> tuple[Line, ...]:
    """Read and judge every line; nothing is decided here about importing it.

    The first line names the columns: ``name``, and ``login`` if the list has
    sign-in names; without one it is made from the name. Comma, semicolon, or
    tabs as a spreadsheet copies them. A list of nothing but names, one in each
    line, needs no first line.
    ``taken`` are sign-in names that are in use. Raises ``Refused`` when the text
    is no such list at all.
    """
    if len(text) > MOST_TEXT:
        raise Refused.of("text", len(text), say("must have at most {most_text} characters", most_text=MOST_TEXT))
    first = text.lstrip("\ufeff").splitlines()[0] if text.strip() else ""
    delimiter = max(",;\t", key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text.lstrip("\ufeff"), newline=None), delimiter=delimiter))
    except csv.Error as error:
        raise Refused.of("text", "", say("is not CSV text: {error}", error=error)) from None
    header = [cell.strip().lower() for cell in rows[0]] if rows else []
    only_names = bool(header) and header[0] not in COLUMNS and all(len(row) <= 1 for row in rows)
    if only_names:
        header, rows = ["name"], [["name"], *rows]
    if "name" not in header:
        raise Refused.of(
            "text", first, say('the first line must name the columns: "name", and "login" if there is one')
        )
    unknown = [c for c in header if c and c not in COLUMNS]
    if unknown:
        raise Refused.of("text", ", ".join(unknown), say("columns may be: {listed}", listed=", ".join(COLUMNS)))
    numbered = enumerate(rows[1:], start=1 if only_names else 2)
    body = [(n, row) for n, row in numbered if any(cell.strip() for cell in row)]
    if not body:
        raise Refused.of("text", "", say("the list has no lines below its first"))
    if len(body) > MOST_LINES:
        raise Refused.of("text", len(body), say("must have at most {most_lines} lines", most_lines=MOST_LINES))
    return _judge(tuple(_line(n, header, row) for n, row in body), set(taken))


def _line(number: int, header: list[str], row: list[str]) -> Line:
    cells = {c: " ".join(row[i].split()) for i, c in enumerate(header) if c and i < len(row)}
    faults = []
    if len(row) > len(header):
        faults.append(say("has {count} cells, the first line has {count2}", count=len(row), count2=len(header)))
    name, login = cells.get("name", ""), cells.get("login", "").lower()
    for field, why in (("name", _name_fault(name)), ("login", _login_fault(login))):
        if why:
            faults.append(say("{field}: {why}", field=field, why=why))
    return Line(number, shorten(name), login or suggest_login(name), tuple(faults))


def _name_fault(name: str) -> str:
    if not 2 <= len(name) <= 80:
        return say("must have 2 to 80 characters")
    if not all(c.isprintable() for c in name) or not any(c.isalpha() for c in name):
        return say("must be a name")
    return ""


def _login_fault(login: str) -> str:
    return "" if not login or _LOGIN.fullmatch(login) else say("2 to 40 small letters, digits, dot, dash or underline")


def check_name(field: str, name: str) -> str:
    """A name with its spaces put right. Raises ``Refused`` at this field for what is none."""
    name = " ".join(name.split())
    if why := _name_fault(name):
        raise Refused.of(field, name, why)
    return name


def check_login(field: str, login: str, taken: Collection[str]) -> str:
    """A sign-in name that is free. Raises ``Refused`` at this field."""
    why = _login_fault(login) if login else say("none can be made from this name, give one")
    if not why and login in taken:
        why = say("is taken by somebody in the shop")
    if why:
        raise Refused.of(field, login, why)
    return login


def _judge(lines: tuple[Line, ...], taken: set[str]) -> tuple[Line, ...]:
    """Add what only shows against the others: a sign-in name that is used twice or taken."""
    seen: dict[str, int] = {}
    found = []
    for line in lines:
        faults = list(line.faults)
        if line.login and line.login in taken:
            faults.append(say("login: {login} is taken by somebody in the shop", login=line.login))
        elif line.login and line.login in seen:
            faults.append(say("login: {login} is in line {seen} already", login=line.login, seen=seen[line.login]))
        elif not line.login:
            faults.append(say("login: none can be made from this name, give one"))
        seen.setdefault(line.login, line.number)
        found.append(replace(line, faults=tuple(faults)))
    return tuple(found)


def suggest_login(name: str) -> str:
    """First name and first letter of the last, in plain small letters: "Ödön Vik" → "odon.v"."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    words: list[str] = re.findall(r"[a-z]+", plain)
    if not words:
        return ""
    return words[0][:30] + (f".{words[-1][0]}" if len(words) > 1 else "")
