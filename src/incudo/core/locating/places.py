"""Where the places of a part are that a spindle is brought to: holes, and walls less half a cutter. Lengths in mm."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.parts.project import Axis as DrawnAxis
from incudo.core.parts.project import Block, BoxCut, Hole, Project

Span = tuple[Fraction, Fraction]


class PartAxis(StrEnum):
    """An axis of the part as it lies under the spindle; Z is moved by knee or quill."""

    X = "x"
    Y = "y"
    Z = "z"


@dataclass(frozen=True)
class Place:
    """A coordinate of the part that one axis is brought to; ``note`` warns."""

    name: str
    axis: PartAxis
    at: Fraction
    note: str = ""


def extents(p: Project) -> dict[PartAxis, Span]:
    """From where to where the finished part reaches along each of its axes."""
    if isinstance(p.solid, Block):
        sizes = {a: p.length(getattr(p.solid, a.value)).mm for a in PartAxis}
        return {a: (Fraction(0), size) for a, size in sizes.items()}
    half, length = p.length(p.solid.diameter).mm / 2, p.length(p.solid.length).mm
    return {PartAxis.X: (Fraction(0), length), PartAxis.Y: (-half, half), PartAxis.Z: (-half, half)}


def round_at(p: Project, name: str) -> tuple[Fraction, Fraction, Fraction] | None:
    """Centre and radius of a hole that is seen from above; None when the part has no such hole."""
    for cut in p.cuts:
        if isinstance(cut, Hole) and cut.name == name and cut.axis is DrawnAxis.Z:
            x, y = (p.length(v).mm for v in cut.at)
            return x, y, p.length(cut.diameter).mm / 2
    return None


def places(p: Project, cutter: Fraction) -> tuple[Place, ...]:
    """Everything that is approached from above: hole centres, walls less half the cutter's diameter, floors."""
    span = extents(p)
    found: list[Place] = []
    for cut in p.cuts:
        if not p.is_from_above(cut):
            continue
        if isinstance(cut, Hole):
            found += _hole(p, cut, span[PartAxis.Z])
        elif isinstance(cut, BoxCut):
            found += _box(p, cut, span, cutter)
    return tuple(found)


def _hole(p: Project, cut: Hole, z: Span) -> Iterator[Place]:
    for axis, text in zip((PartAxis.X, PartAxis.Y), cut.at, strict=True):
        yield Place(cut.name, axis, p.length(text).mm)
    end = min(p.length(cut.start).mm, p.length(cut.end).mm)
    if end > z[0]:
        yield Place(say("{name}, full depth", name=cut.name), PartAxis.Z, end)


def _box(p: Project, cut: BoxCut, span: dict[PartAxis, Span], cutter: Fraction) -> Iterator[Place]:
    sides = {PartAxis.X: ("left", "right"), PartAxis.Y: ("front", "rear")}
    for axis, (below, above) in sides.items():
        low, high = (p.length(v).mm for v in getattr(cut, axis.value))
        walls = low > span[axis][0], high < span[axis][1]
        note = say("the cutter is wider than this cut") if all(walls) and high - low < cutter else ""
        if walls[0]:
            yield Place(say("{name}, {below} wall", name=cut.name, below=below), axis, low + cutter / 2, note)
        if walls[1]:
            yield Place(say("{name}, {above} wall", name=cut.name, above=above), axis, high - cutter / 2, note)
    floor = p.length(cut.z[0]).mm
    if floor > span[PartAxis.Z][0]:
        yield Place(say("{name}, floor", name=cut.name), PartAxis.Z, floor)
