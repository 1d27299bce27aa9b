"""What a plan costs, and what differs between two: holdings, changes of cutter, errors of place."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.say import say, together
from incudo.core.planning.course import LOCATING, Course, axes_needed, drawing_datums
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import kind_words
from incudo.core.planning.rules.datum import chain, real_zero
from incudo.core.planning.stages import Stage

#: So many of the tightest requirements are named.
MOST_ERRORS = 3


@dataclass(frozen=True)
class PlaceError:
    """How far a requirement may be out by where it is measured from, against what the drawing allows, mm."""

    number: int
    name: str
    error: Fraction
    width: Fraction

    @property
    def share(self) -> Fraction:
        """Of the drawing's limits."""
        return self.error / self.width


@dataclass(frozen=True)
class Costs:
    """What a plan costs besides time, which its run card knows."""

    holdings: int
    operations: int
    changes: int
    errors: tuple[PlaceError, ...]


def costs(course: Course) -> Costs:
    """Holdings, operations, changes of cutter, and the places that are known worst."""
    tools = [s.operation.cutter for s in course.stages if s.operation.cutter]
    changes = sum(1 for n, t in enumerate(tools) if n == 0 or tools[n - 1] != t)
    return Costs(sum(1 for _, stages in course.held if stages), len(course.stages), changes, errors(course))


def errors(course: Course) -> tuple[PlaceError, ...]:
    """The requirements that may be out most, as a share of their limits, by the zeros of the plan."""
    found: dict[int, PlaceError] = {}
    for s in course.stages:
        for axis in axes_needed(s):
            if axis == "z":
                continue
            zero = real_zero(course, s, axis)
            for wanted, asked, width in drawing_datums(course, s, "xyz".index(axis)):
                if not zero or not width:
                    continue
                error = LOCATING * 2 if zero == wanted else chain(course, s, zero, wanted)
                name = course.piece.part.project.characteristic(asked.number).name
                found[asked.number] = PlaceError(asked.number, name, error, width)
    return tuple(sorted(found.values(), key=lambda e: (-e.share, e.number))[:MOST_ERRORS])


def differences(one: Course, two: Course) -> tuple[str, ...]:
    """What the first plan does otherwise than the second, in the order of the work."""
    found: list[str] = []
    words = kind_words()
    mine, other = _by_work(one), _by_work(two)
    for key, s in mine.items():
        o = other.get(key)
        kind, name = words[key[0]], together((one.piece.words(n) for n in s.operation.of), ", ")
        if o is None:
            found.append(say("{kind}, {name}: only here.", kind=kind, name=name))
            continue
        if s.operation.cutter != o.operation.cutter:
            found.append(
                say(
                    "{kind}, {name}: {cutter}; otherwise {other}.",
                    kind=kind,
                    name=name,
                    cutter=s.operation.cutter or say("no cutter"),
                    other=o.operation.cutter or say("no cutter"),
                )
            )
        if s.holding.up != o.holding.up:
            found.append(
                say(
                    "{kind}, {name}: with {up} up; otherwise with {other} up.",
                    kind=kind,
                    name=name,
                    up=one.piece.words(s.holding.up),
                    other=one.piece.words(o.holding.up),
                )
            )
        for axis in ("x", "y"):
            zero, instead = _zero(one, s, axis), _zero(two, o, axis)
            if zero != instead and s.holding.up == o.holding.up and s.holding.fixed == o.holding.fixed:
                found.append(
                    say(
                        "{kind}, {name}: {axis} from {zero}; otherwise from {other}.",
                        kind=kind,
                        name=name,
                        axis=axis.upper(),
                        zero=one.piece.words(zero) if zero else say("nothing"),
                        other=one.piece.words(instead) if instead else say("nothing"),
                    )
                )
    for key, o in other.items():
        if key not in mine:
            name = together((one.piece.words(n) for n in o.operation.of), ", ")
            found.append(say("{kind}, {name}: not here.", kind=words[key[0]], name=name))
    return tuple(found)


def _zero(course: Course, stage: Stage, axis: str) -> str:
    return real_zero(course, stage, axis) if axis in axes_needed(stage) else ""


def _by_work(course: Course) -> dict[tuple[OperationKind, tuple[str, ...]], Stage]:
    return {
        (s.kind, s.operation.of): s
        for s in course.stages
        if s.kind not in (OperationKind.DEBURR, OperationKind.MEASURE)
    }
