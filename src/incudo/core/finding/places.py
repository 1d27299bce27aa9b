"""Where the places of a part are that a spindle is brought to: holes, and walls less half a cutter. Lengths in mm."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.project import Axis, Block, BoxCut, Hole, Project

Span = tuple[Fraction, Fraction]


@dataclass(frozen=True)
class Place:
    """A coordinate of the part that one axis is brought to; ``note`` warns."""

    name: str
    axis: Axis
    at: Fraction
    note: str = ""


def extents(p: Project) -> dict[Axis, Span]:
    """From where to where the finished part reaches along each of its axes."""
    if isinstance(p.solid, Block):
        sizes = {a: p.length(getattr(p.solid, a.value)).mm for a in Axis}
        return {a: (Fraction(0), size) for a, size in sizes.items()}
    half, length = p.length(p.solid.diameter).mm / 2, p.length(p.solid.length).mm
    return {Axis.X: (Fraction(0), length), Axis.Y: (-half, half), Axis.Z: (-half, half)}


def round_at(p: Project, name: str) -> tuple[Fraction, Fraction, Fraction] | None:
    """Centre and radius of a hole that is seen from above; None when the part has no such hole."""
    for cut in p.cuts:
        if isinstance(cut, Hole) and cut.name == name and cut.axis is Axis.Z:
            x, y = (p.length(v).mm for v in cut.at)
            return x, y, p.length(cut.diameter).mm / 2
    return None


def places(p: Project, cutter: Fraction) -> tuple[Place, ...]:
    """Everything that is come to from above: hole centres, walls less half the cutter's diameter, floors."""
    span = extents(p)
    found: list[Place] = []
    for cut in p.cuts:
        if isinstance(cut, Hole):
            if cut.axis is Axis.Z:
                found += _hole(p, cut, span[Axis.Z])
        else:
            found += _box(p, cut, span, cutter)
    return tuple(found)


def _hole(p: Project, cut: Hole, z: Span) -> Iterator[Place]:
    for axis, text in zip((Axis.X, Axis.Y), cut.at, strict=True):
        yield Place(cut.name, axis, p.length(text).mm)
    end = min(p.length(cut.start).mm, p.length(cut.end).mm)
    if end > z[0]:
        yield Place(f"{cut.name}, full depth", Axis.Z, end)


def _box(p: Project, cut: BoxCut, span: dict[Axis, Span], cutter: Fraction) -> Iterator[Place]:
    sides = {Axis.X: ("left", "right"), Axis.Y: ("front", "rear")}
    for axis, (below, above) in sides.items():
        low, high = (p.length(v).mm for v in getattr(cut, axis.value))
        walls = low > span[axis][0], high < span[axis][1]
        note = "the cutter is wider than this cut" if all(walls) and high - low < cutter else ""
        if walls[0]:
            yield Place(f"{cut.name}, {below} wall", axis, low + cutter / 2, note)
        if walls[1]:
            yield Place(f"{cut.name}, {above} wall", axis, high - cutter / 2, note)
    floor = p.length(cut.z[0]).mm
    if floor > span[Axis.Z][0]:
        yield Place(f"{cut.name}, floor", Axis.Z, floor)
