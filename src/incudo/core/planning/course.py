"""A plan that is being looked at: its stages with their numbers, and what the drawing asks of each."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property

from incudo.core.kernel.quantity import MM_PER_INCH, Unit, in_places
from incudo.core.kernel.say import together
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.frame import SIDES, Axle, Named, Plane, RoundWall
from incudo.core.planning.file import OperationKind, Plan, PlanHolding
from incudo.core.planning.kinds import DRILLING, MILLING
from incudo.core.planning.piece import Piece
from incudo.core.planning.settle import Settled, settle
from incudo.core.planning.shop import PlanShop
from incudo.core.planning.stages import Stage, walk
from incudo.core.setup.holding import ParallelPair

#: How surely an edge is found: half a thou each time.
LOCATING = MM_PER_INCH / 2000


@dataclass(frozen=True)
class Course:
    """Everything that a rule looks at. ``complete``: the plan is handed in, so that what is missing counts."""

    piece: Piece
    plan: Plan
    shop: PlanShop
    complete: bool = True
    #: What several rules ask for and is worked out once: how each holding grips.
    memo: dict[str, object] = field(default_factory=dict, compare=False, repr=False)

    @cached_property
    def stages(self) -> tuple[Stage, ...]:
        """The part after every operation."""
        return walk(self.piece, self.plan, self.shop)

    @cached_property
    def settled(self) -> tuple[Settled, ...]:
        """The numbers of every operation, in the order of the stages."""
        return tuple(settle(s, self.shop) for s in self.stages)

    def each(self, *kinds: OperationKind) -> Iterator[tuple[Stage, Settled]]:
        """Stages with their numbers; of these kinds, if any are named."""
        for s, n in zip(self.stages, self.settled, strict=True):
            if not kinds or s.kind in kinds:
                yield s, n

    @cached_property
    def milled(self) -> tuple[tuple[Stage, Settled], ...]:
        """The stages that mill something that is there, with a cutter."""
        return tuple((s, n) for s, n in self.each(*MILLING) if s.taken and s.cutter)

    @cached_property
    def held(self) -> tuple[tuple[PlanHolding, tuple[Stage, ...]], ...]:
        """Each holding with its stages."""
        return tuple((h, tuple(s for s in self.stages if s.holding.id == h.id)) for h in self.plan.holdings)

    @cached_property
    def asked(self) -> tuple[tuple[Asked, Fraction | None], ...]:
        """What the drawing asks, with the width of its limits in mm (none for what is no length)."""
        project = self.piece.part.project
        return tuple((a, project.width(project.characteristic(a.number))) for a in self.piece.part.file.characteristics)

    def named(self, name: str) -> Named | None:
        """A face, an axis or a round wall of the part by its name."""
        return self.piece.part.frame.named.get(name)

    def asked_of(self, stage: Stage) -> list[tuple[Asked, Fraction | None]]:
        """What the drawing asks of what an operation makes."""
        found = []
        for a, width in self.asked:
            things = [self.named(n) for n in a.of]
            if any(n in stage.faces for n in a.of) or any(t and t.feature in stage.operation.of for t in things):
                found.append((a, width))
        return found

    def tightest(self, stage: Stage) -> Fraction | None:
        """The narrowest limits of a length that a cut makes, mm."""
        widths = [w for a, w in self.asked_of(stage) if w is not None and a.kind == "distance"]
        return min(widths, default=None)

    def length(self, mm: Fraction | float) -> str:
        """A length as the part's drawing would say it, rounded to what can be set."""
        unit = self.piece.unit
        return f"{in_places(Fraction(mm) / unit.in_mm, 3 if unit is Unit.INCH else 2)} {unit}"

    def words(self, stage: Stage) -> str:
        """What an operation works on, as one says it."""
        return together((self.piece.words(n) for n in stage.operation.of), ", ")

    def pair_of(self, holding: PlanHolding) -> ParallelPair | None:
        """The parallels that a holding names; none for the bed and for those that are not there."""
        return next((p for p in self.shop.drawer if matches(p, holding.parallels)), None)


def matches(pair: ParallelPair, text: str) -> bool:
    """Whether a text such as "0.625 in" or "16 mm" is the height of a pair."""
    number, _, unit = text.partition(" ")
    try:
        return Fraction(number) * Unit(unit).in_mm == pair.height
    except ValueError:
        return False


def axes_needed(stage: Stage) -> tuple[str, ...]:
    """Along which axes of the machine an operation must know where it is."""
    if not stage.taken and stage.kind is not OperationKind.TAP:
        return ()
    if stage.kind in (
        OperationKind.TAP,
        OperationKind.REAM,
        OperationKind.COUNTERSINK,
        OperationKind.DEBURR,
        OperationKind.MEASURE,
    ):
        # these come to a hole that is there, or are set where the spindle is
        return ("x", "y") if stage.kind is not OperationKind.TAP else ()
    if stage.kind is OperationKind.FACE:
        return ()
    if stage.kind is OperationKind.SIDE:
        axis = stage.place.along(stage.piece.slabs[stage.faces[0]].axis)
        return ("xyz"[axis],) if stage.true(_across(stage.faces[0])) else ()
    deep = () if stage.through or stage.kind is OperationKind.SPOT else ("z",)
    if stage.kind in DRILLING or stage.kind is OperationKind.POCKET:
        return ("x", "y", *deep)
    run = stage.sizes[0]
    along = stage.kind is OperationKind.SLOT and not _whole(stage, run)
    both = along or (stage.kind is OperationKind.STEP and stage.piece.bar and not _whole(stage, run))
    return ("x", "y", *deep) if both else ("xy"[1 - run], *deep)


def _whole(stage: Stage, run: int) -> bool:
    return stage.is_open(run, -1) and stage.is_open(run, 1)


def _across(face: str) -> str:
    axis, out = SIDES[face]
    return next(n for n, side in SIDES.items() if side == (axis, -out))


def drawing_datums(course: Course, stage: Stage, axis: int) -> list[tuple[str, Asked, Fraction]]:
    """From what the drawing measures the thing that a cut makes, along a machine axis, with the limits there."""
    part_axis = stage.place.axes[axis]
    found = []
    for a, width in course.asked_of(stage):
        if width is None or a.kind != "distance" or len(a.of) != 2:
            continue
        one, two = (course.named(n) for n in a.of)
        if one is None or two is None or runs_along(a, one, two) != part_axis:
            continue
        for mine, other, name in ((one, two, a.of[1]), (two, one, a.of[0])):
            there = name in SIDES or other.feature in stage.made or (not other.feature and name not in SIDES)
            if _belongs(mine, stage) and not _belongs(other, stage) and there:
                # what is cut later is measured from this one, not this one from it
                found.append((name, a, width))
    return found


def _belongs(thing: Named, stage: Stage) -> bool:
    return thing.feature in stage.operation.of if thing.feature else thing.name in stage.faces


def runs_along(a: Asked, one: Named, two: Named) -> int | None:
    """The part's axis along which a distance runs."""
    if a.along:
        return "xyz".index(a.along)
    for thing in (one, two):
        if isinstance(thing, Plane):
            return thing.axis
    if isinstance(one, (Axle, RoundWall)) and isinstance(two, (Axle, RoundWall)):
        apart = [abs(one.centre[i] - two.centre[i]) for i in range(3)]
        return apart.index(max(apart))
    return None
