"""Why Incudo's own plan is as it is, and what the crib lacks for any plan at all."""

from __future__ import annotations

from collections.abc import Sequence

from incudo.core.kernel.quantity import plain
from incudo.core.kernel.say import capital, say, together
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import fitting, unfit
from incudo.core.planning.file import OperationKind, PlanHolding
from incudo.core.planning.kinds import CUTTERS, kind_words, stages_of
from incudo.core.planning.piece import Piece
from incudo.core.planning.shop import PlanShop
from incudo.core.planning.stages import Stage


def lacking(piece: Piece, shop: PlanShop) -> list[str]:
    """Operations for which there is no cutter, with what speaks against the nearest one."""
    found: list[str] = []
    words = kind_words()
    wanted = [(k, f) for f in piece.part.file.features for k in stages_of(f)]
    for kind, feature in wanted:
        if kind is OperationKind.ANGLE and not shop.machine.head.tilt:
            found.append(say("The head of {machine} does not tilt for {name}.", machine=shop.name, name=feature.name))
        if kind in shop.beyond:
            name = say("{kind}, {name}", kind=words[kind], name=feature.name)
            found.append(say("{name}: no cutter comes from above on {machine}.", name=name, machine=shop.name))
            continue
        if fitting(piece, shop, kind, feature):
            continue
        near = [c.cutter for c in shop.crib.values() if c.cutter.kind in CUTTERS[kind]]
        why = sorted(
            (
                (next(unfit(piece, shop, kind, feature, c)), c)
                for c in near
                if any(unfit(piece, shop, kind, feature, c))
            ),
            key=lambda x: (x[0].code != "too-fast", abs(float(x[1].real))),
        )
        said = say("{kind}, {name}: the crib has no cutter for it.", kind=words[kind], name=feature.name)
        if why:
            tail = say("{cutter}: {why}", cutter=why[0][1].name, why=why[0][0].words)
            said = say("{said} {tail}", said=said, tail=tail)
        found.append(said)
    if piece.bar and shop.v_block(piece.across) is None:
        size = plain(piece.across, piece.unit)
        found.append(say("The shop has no V-block that takes a bar of {size} {unit}.", size=size, unit=piece.unit))
    if piece.raw and not fitting(piece, shop, OperationKind.FACE, None):
        found.append(say("{machine} turns too fast for every cutter that faces.", machine=shop.name))
    return found


def reasons(course: Course) -> tuple[str, ...]:
    """Why each holding is as it is: what it does, and what it stands on."""
    words, piece = kind_words(), course.piece
    found = []
    for h, stages in course.held:
        does = together(
            (
                say("{kind}: {names}", kind=words[s.kind], names=course.words(s))
                for s in stages
                if s.operation.of and s.kind is not OperationKind.SPOT
            ),
            "; ",
        )
        found.append(
            say(
                "{up} up, {fixed} at the fixed jaw. {why} {does}.",
                up=capital(piece.words(h.up)),
                fixed=piece.words(h.fixed),
                why=_why(course, h, stages),
                does=does,
            )
        )
    return tuple(found)


def _why(course: Course, h: PlanHolding, stages: Sequence[Stage]) -> str:
    if course.piece.bar:
        return say("The bar lies in the V-block, found by its axis.")
    if not stages[0].true_at_start(h.fixed):
        return say("Nothing is milled yet that could lie there.")
    if any(s.kind is OperationKind.SIDE for s in stages):
        return say("It is milled, so that all becomes square to it; the end stands free and comes with it.")
    return say("It is milled, so that all becomes square to it.")
