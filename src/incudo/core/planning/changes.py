"""The order of the operations of one holding with the fewest changes of cutter.

Breadth first over what is done: with a cutter in the spindle everything is done that it can do then, since doing more
with it never costs a change.
"""

from __future__ import annotations

from collections.abc import Sequence

from incudo.core.planning.file import OperationKind, PlanOperation
from incudo.core.planning.kinds import DRILLING, HOLE_ORDER
from incudo.core.planning.piece import Piece


def must_follow(piece: Piece, one: PlanOperation, two: PlanOperation) -> bool:
    """Whether ``one`` has to come after ``two`` in a holding."""
    if two.kind is OperationKind.FACE:
        return one.kind is not OperationKind.FACE
    if one.kind is OperationKind.FACE:
        return False
    if two.kind is OperationKind.SIDE:
        return one.kind is not OperationKind.SIDE
    if one.kind is OperationKind.SIDE:
        return False
    shared = set(one.of) & set(two.of)
    if shared and one.kind in DRILLING and two.kind in DRILLING:
        return HOLE_ORDER.index(one.kind) > HOLE_ORDER.index(two.kind)
    stands_on = {
        face.partition(".")[0]
        for n in one.of
        if n in piece.features
        for face in (piece.features[n].face, getattr(piece.features[n], "side", ""))
        if "." in face
    }
    if stands_on & set(two.of):
        return True
    return one.kind is OperationKind.CHAMFER and two.kind in (
        OperationKind.STEP,
        OperationKind.SLOT,
        OperationKind.POCKET,
    )


def grouped(piece: Piece, operations: Sequence[PlanOperation], before: str = "") -> list[PlanOperation]:
    """The operations with the fewest changes; ``before`` is the cutter that is in the spindle.

    Among orders with as few changes the one that comes first in the order given.
    """
    after = {
        i: frozenset(j for j, two in enumerate(operations) if i != j and must_follow(piece, one, two))
        for i, one in enumerate(operations)
    }
    everything = frozenset(range(len(operations)))
    level: dict[tuple[frozenset[int], str], tuple[int, ...]] = {_closed(operations, after, (), before): ()}
    level = {key: _order(operations, after, (), before) for key in level}
    while level:
        for (done, _), order in sorted(level.items(), key=lambda x: x[1]):
            if done == everything:
                return [operations[i] for i in order]
        following: dict[tuple[frozenset[int], str], tuple[int, ...]] = {}
        for (done, cutter), order in level.items():
            ready = [i for i in sorted(everything - done) if after[i] <= done]
            for next_cutter in dict.fromkeys(operations[i].cutter for i in ready):
                if next_cutter == cutter:
                    continue
                new = _order(operations, after, order, next_cutter)
                key = frozenset(new), next_cutter
                following[key] = min(new, following.get(key, new))
        level = following
    return list(operations)


def _closed(
    operations: Sequence[PlanOperation], after: dict[int, frozenset[int]], order: tuple[int, ...], cutter: str
) -> tuple[frozenset[int], str]:
    return frozenset(_order(operations, after, order, cutter)), cutter


def _order(
    operations: Sequence[PlanOperation], after: dict[int, frozenset[int]], order: tuple[int, ...], cutter: str
) -> tuple[int, ...]:
    """What is done next with a cutter in the spindle: all that it can do."""
    done = list(order)
    again = True
    while again:
        again = False
        for i, op in enumerate(operations):
            if i not in done and op.cutter == cutter and after[i] <= set(done):
                done.append(i)
                again = True
    return tuple(done)
