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
