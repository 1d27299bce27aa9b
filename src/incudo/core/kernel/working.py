"""The working that is shown with every computed answer."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Step:
    """One line of the working: what is worked out, how, with which values."""

    what: str
    formula: str
    put_in: str
    result: str


def squared(number: str) -> str:
    """A number as it was put in, squared; one below 0 in brackets."""
    return f"({number})²" if number.startswith(("-", "−")) else f"{number}²"
