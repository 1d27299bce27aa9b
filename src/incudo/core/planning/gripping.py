"""How the work of a plan is held: its block, its cuts and its holes as the rules of holding ask for them. Exact mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import capital
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, OperationKind, PlanHolding
from incudo.core.planning.kinds import DRILLING, MILLING
from incudo.core.planning.piece import TINY, exact
from incudo.core.planning.shop import VisePlace
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.holes.shared import point_length
from incudo.core.setup.holding import Cut, Drilled, Held, JawVise, ParallelPair, Work, choose, hold
from incudo.core.shop.cutter import USUAL_POINT


@dataclass(frozen=True)
class Grip:
    """A holding in a vise: what is gripped, what is cut, with which pair of parallels."""

    vise: VisePlace
    work: Work
    pair: ParallelPair | None
    cuts: tuple[tuple[Stage, Cut], ...]
    holes: tuple[tuple[Stage, Drilled], ...]

    @property
    def top(self) -> Fraction:
        """How high the jaws reach above the work's bottom."""
        return self.vise.jaws.depth - (self.pair.height if self.pair else 0)


def vise_of(course: Course, holding: PlanHolding) -> VisePlace | None:
    """The vise that a holding names, or the first that one reaches for."""
    named = [v for v in course.shop.vises if not holding.vise or v.name == holding.vise]
    return named[0] if named else None


def grip_of(course: Course, holding: PlanHolding, stages: Sequence[Stage]) -> Grip | None:
    """The holding as the rules ask for it; none for what is not in a vise, or holds nothing that is cut."""
    vise = vise_of(course, holding)
    if holding.held is not HeldIn.VISE or vise is None or not stages:
        return None
    low, high = stages[0].block_at_start
    sizes = [exact(b - a) for a, b in zip(low, high, strict=True)]
    work = Work(sizes[1], sizes[0], sizes[2])
    cuts = tuple((s, c) for s in stages if (c := cut_of(course, s)) is not None and c.floor < work.height)
    holes = tuple((s, d) for s in stages for d in holes_of(course, s))
    return Grip(vise, work, _pair(course, holding, vise, work, cuts, holes), cuts, holes)


def _pair(
    course: Course,
    holding: PlanHolding,
    vise: VisePlace,
    work: Work,
    cuts: Sequence[tuple[Stage, Cut]],
    holes: Sequence[tuple[Stage, Drilled]],
) -> ParallelPair | None:
    if holding.parallels == "bed":
        return None
    named = course.pair_of(holding)
    if named is not None:
        return named
    drawn = tuple(c for _, c in cuts), tuple(h for _, h in holes)
    return chosen(work, vise.jaws, course.shop.drawer, *drawn, course.piece.unit).pair


@lru_cache(maxsize=4096)
def chosen(
    work: Work,
    jaws: JawVise,
    drawer: tuple[ParallelPair, ...],
    cuts: tuple[Cut, ...],
    holes: tuple[Drilled, ...],
    unit: Unit,
) -> Held:
    """The best pair of a drawer for a holding: the same is asked again and again while a plan is searched."""
    return choose(work, jaws, drawer, cuts, holes, unit)[0]


_held = lru_cache(maxsize=8192)(hold)


def held_with(course: Course, grip: Grip, stages: Sequence[Stage] | None = None) -> Held:
    """What the rules of holding say: with the cuts of these stages, or of none."""
    wanted = {s.index for s in stages or ()}
    cuts = tuple(c for s, c in grip.cuts if s.index in wanted)
    holes = tuple(h for s, h in grip.holes if s.index in wanted)
    return _held(grip.work, grip.vise.jaws, grip.pair, cuts, holes, course.piece.unit)


def cut_of(course: Course, stage: Stage) -> Cut | None:
    """A milling cut as it runs over the jaws; an end that stands out beside them runs over none."""
    if stage.kind not in MILLING or stage.kind is OperationKind.SIDE or not stage.taken:
        return None
    span, floor = stage.spans(1), stage.floor
    assert span is not None and floor is not None  # noqa: S101, PT018 (something is taken)
    low, high = stage.block_at_start
    near, far = exact(high[1] - span[1]), exact(high[1] - span[0])
    # a face that was milled in this holding already: the cut still runs out over the jaw there
    now = stage.block
    near = Fraction(0) if span[1] >= now[1][1] - TINY else near
    far = exact(high[1] - low[1]) if span[0] <= now[0][1] + TINY else far
    bottom = low[2]
    at = Fraction(0) if stage.through else exact(floor - bottom)
    return Cut(capital(course.words(stage)), near, far, at)


def holes_of(course: Course, stage: Stage) -> list[Drilled]:
    """The holes that come through the work's bottom; blind ones meet nothing."""
    if stage.kind not in DRILLING or stage.kind in (
        OperationKind.SPOT,
        OperationKind.COUNTERSINK,
        OperationKind.COUNTERBORE,
        OperationKind.TAP,
    ):
        return []
    low, high = stage.block_at_start
    found = []
    for feature in stage.features:
        if not isinstance(feature, HoleFeature) or not stage.through:
            continue
        d = Fraction(feature.diameter) * course.piece.unit.in_mm
        angle = stage.cutter.point if stage.cutter else Fraction(USUAL_POINT)
        point = point_length(d, angle) if stage.kind is OperationKind.DRILL else Fraction(0)
        for x, y, _ in stage.hole_spots():
            name = capital(course.words(stage))
            found.append(Drilled(name, exact(x - low[0]), exact(high[1] - y), d, point, Fraction(0)))
    return found
