"""A part that came out, as it is measured: each size as an instrument shows it, beside its limits."""

from __future__ import annotations

from dataclasses import replace

from pydantic import BaseModel, ConfigDict

from incudo.core.cutting.dry.dry_run import DryRun
from incudo.core.cutting.dry.workpiece import CameOut, seen
from incudo.core.cutting.slides import set_to
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import Text, say


class Measured(BaseModel):
    """One size of the drawing as it came out."""

    model_config = ConfigDict(frozen=True)
    number: int
    name: Text
    limits: Text
    read: Text
    good: bool


def measured(run: DryRun) -> tuple[CameOut, ...]:
    """What came out, as an instrument shows it."""
    unit = run.course.piece.unit
    return tuple(c if c.value is None else replace(c, value=seen(c.value, unit)) for c in run.came_out())


def line_of(c: CameOut, unit: Unit) -> Measured:
    """One size as a line of a measuring sheet."""
    low, high = (set_to(x, unit) if x is not None else "" for x in (c.low, c.high))
    limits = say("{low} to {high}", low=low.removesuffix(f" {unit}"), high=high) if low and high else ""
    if not limits:
        limits = say("at most {high}", high=high) if high else say("at least {low}", low=low)
    read = say("not there") if c.value is None else set_to(c.value, unit)
    return Measured(number=c.number, name=c.name, limits=limits, read=read, good=c.good)
