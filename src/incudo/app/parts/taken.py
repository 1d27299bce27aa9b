"""Stored readings as the core takes them."""

from __future__ import annotations

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.verdict import Measured, corrected
from incudo.core.parts.requirement import Reading
from incudo.store import schema as t

#: How a yes and a no are stored.
YES, NO = "yes", "no"


def reading_of(r: t.Reading) -> Reading:
    """A stored reading as the core takes it."""
    if not r.unit:
        return Reading(r.element, answer=r.text == YES)
    return Reading(r.element, measured_of(r))


def measured_of(r: t.Reading) -> Measured:
    """The measured value of a stored reading that is not a yes or no."""
    unit = Unit(r.instrument_unit)
    x, _ = corrected(Length(r.text, Unit(r.unit)), Length(r.zero_error, unit))
    return Measured(x, Length(r.uncertainty, unit).mm, Length(r.resolution, unit).mm)
