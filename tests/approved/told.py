"""Any value of core in one line of text, the same on every machine."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Set
from dataclasses import fields, is_dataclass
from datetime import date
from decimal import Decimal
from enum import Enum
from fractions import Fraction
from typing import Any

from pydantic import BaseModel

from incudo.core.planning.course import Course
from incudo.core.planning.piece import Piece

#: Longer lines are cut.
LONG = 300
#: What is told elsewhere.
LEFT_OUT = (Course, Piece)


def told(x: Any) -> str:
    """A value in a line: names and numbers, nothing that chance or a machine's rounding decides."""
    match x:
        case None:
            return "-"
        case bool() | int():
            return str(x)
        case Enum():
            return str(x.value)
        case str():
            return '"' + x.replace("\n", " ⏎ ") + '"'
        case Fraction() | float() | Decimal():
            return number(float(x))
        case date():
            return x.isoformat()
        case BaseModel():
            return json.dumps(x.model_dump(mode="json", exclude_defaults=True), ensure_ascii=False, sort_keys=True)
        case Mapping():
            return "{" + ", ".join(f"{told(k)}: {told(v)}" for k, v in x.items()) + "}"
        case Set():
            return "{" + ", ".join(sorted(told(v) for v in x)) + "}"
        case list() | tuple():
            return "[" + ", ".join(told(v) for v in x) + "]"
    if isinstance(x, LEFT_OUT) or not is_dataclass(x):
        return type(x).__name__
    inside = (
        f"{f.name}={told(getattr(x, f.name))}" for f in fields(x) if f.repr and getattr(x, f.name) not in ("", ())
    )
    return f"{type(x).__name__}({', '.join(inside)})"


def number(x: float) -> str:
    """So many digits that the last ones of a float do not count, and no minus before 0.

    What lies just between two numbers of six digits (a 128th of an inch) is moved off the middle, so that no machine
    rounds it another way.
    """
    text = f"{x + 3.7e-10:.6f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def mark(*things: Any) -> str:
    """A few letters that stand for something long."""
    text = "\n".join(told(x) for x in things)
    return hashlib.sha256(text.encode()).hexdigest()[:12]


def short(line: str) -> str:
    """A line that can still be read; of a longer one its beginning and what stands for the whole."""
    return line if len(line) <= LONG else f"{line[: LONG - 20]} … {mark(line)}"
