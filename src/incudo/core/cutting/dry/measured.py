"""A part that came out, as it is measured: each size as an instrument shows it, beside its limits."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from incudo.core.cutting.dry.came_out import CameOut, seen
from incudo.core.cutting.dry.dry_run import DryRun
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
    out = run.came_out()
    return tuple(c if c.value is None or c.kind else replace(c, value=seen(c.value, unit)) for c in out)


def line_of(c: CameOut, unit: Unit) -> Measured:
    """One size as a line of a measuring sheet."""
    if c.kind == "thread":
        limits = say("go and no-go gauge")
        return Measured(number=c.number, name=c.name, limits=limits, read=read_of(c, unit), good=c.good)
    low, high = (_shown(c, x, unit) if x is not None else "" for x in (c.low, c.high))
    limits = say("{low} to {high}", low=low.removesuffix(f" {unit}"), high=high) if low and high else ""
    if not limits:
        limits = say("at most {high}", high=high) if high else say("at least {low}", low=low)
    return Measured(number=c.number, name=c.name, limits=limits, read=read_of(c, unit), good=c.good)


def read_of(c: CameOut, unit: Unit) -> str:
    """What an instrument shows, or a gauge says."""
    if c.kind == "thread":
        return _gauged(c)
    if c.value is None:
        return say("not there")
    return _shown(c, c.value, unit)


def _shown(c: CameOut, value: Fraction, unit: Unit) -> str:
    return f"{float(value):g}°" if c.kind == "angle" else set_to(value, unit)


def _gauged(c: CameOut) -> str:
    """What a thread gauge says of a hole that was tapped, by how far it was drilled off its size."""
    if c.value is None:
        return say("no thread")
    if c.good:
        return say("go enters, no-go does not")
    return say("drilled too wide: thin thread") if c.value > 0 else say("drilled too small: the tap sticks")
