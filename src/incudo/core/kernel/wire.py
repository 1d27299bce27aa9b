"""JSON from outside: how much of it is looked at, how deep it may go, and which letters it may hold.

The three are looked at before anything is made of it, because what a parser makes of a few
megabytes can cost a hundred times as much as reading them.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say

#: How many values and names one piece of JSON may hold (a whole file, if nothing else is said), and how deep it may go.
MOST_PARTS, MOST_DEPTH = 20_000, 40
# a text that is not closed ends with the whole, so that no beginning is looked at twice
_MARK = re.compile(r'"(?:[^"\\]|\\.)*+(?:"|\\?\Z)|[\[\]{},:]', re.DOTALL)
#: What no text can be kept or drawn with: half a pair, control characters other than tab and line ends.
_UNWRITABLE = re.compile("[\ud800-\udfff\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufffe\uffff]")


def weigh(text: str, field: str = "body", most: int = MOST_PARTS) -> None:
    """Raises ``Refused`` when there is more in it, or it goes deeper, than may be looked at."""
    parts = depth = 0
    for match in _MARK.finditer(text):
        mark = match[0]
        if mark in "[{":
            depth += 1
        elif mark in "]}":
            depth -= 1
        elif mark in ",:":
            parts += 1
        if depth > MOST_DEPTH:
            raise Refused.of(field, "", say("must not be nested more than {most_depth} deep", most_depth=MOST_DEPTH))
        if parts > most:
            raise Refused.of(field, "", say("must have at most {most} values", most=most))


def unwritable(value: Any, where: str = "") -> Iterator[str]:
    """The places (names and numbers with dots between) whose text no record or drawing can hold."""
    if isinstance(value, str):
        if _UNWRITABLE.search(value):
            yield where
    elif isinstance(value, dict):
        for name, inner in value.items():
            if _UNWRITABLE.search(name):
                yield f"{where}.*".lstrip(".")
            yield from unwritable(inner, f"{where}.{_plain(name)}".lstrip("."))
    elif isinstance(value, list):
        for number, inner in enumerate(value):
            yield from unwritable(inner, f"{where}.{number}".lstrip("."))


def _plain(name: str) -> str:
    return _UNWRITABLE.sub("\ufffd", name)[:60]


def read_json(text: str, field: str = "body", most: int = MOST_PARTS) -> Any:
    """JSON as data. Raises ``Refused`` naming the place: not JSON, too much, too deep, letters that cannot be kept."""
    weigh(text, field, most)
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise Refused.of(field, "", say("is not JSON: {error}", error=str(error)[:120])) from None
    for place in unwritable(data):
        raise Refused.of(place or field, "", say("must not have control characters"))
    return data
