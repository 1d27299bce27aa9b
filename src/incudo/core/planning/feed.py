"""Which way the table feeds a milling cut, and whether that is a conventional or a climb cut."""

from __future__ import annotations

from incudo.core.locating.climb import Milling, milling_at
from incudo.core.locating.dial import Turning
from incudo.core.planning.file import OperationKind
from incudo.core.planning.stages import Stage
from incudo.core.shop.machine import Way

#: Ways of the table while the cutter goes on along X and Y, by the sign of its coordinate; and where the work lies.
TABLE = {(0, 1): Way.LEFT, (0, -1): Way.RIGHT, (1, 1): Way.TOWARDS, (1, -1): Way.AWAY}
WORK = {(0, 1): Way.RIGHT, (0, -1): Way.LEFT, (1, 1): Way.AWAY, (1, -1): Way.TOWARDS}


def looks(stage: Stage, axis: str) -> int:
    """Which way the face that is milled by the cutter's side looks along a machine axis."""
    slab = stage.piece.slabs[stage.faces[0]]
    return stage.place.signs["xyz".index(axis)] * slab.out


def feed_of(stage: Stage, wanted: str) -> tuple[int, int, Milling | None]:
    """Along which axis it is fed (0 X, 1 Y), in which sense of the cutter, and what kind of cut that is; none where
    metal lies on both sides or on neither. What is closed at one end is come into from the open one.
    """
    run = stage.sizes[0]
    open_ends = [sign for sign in (1, -1) if stage.is_open(run, -sign)]
    arbor = stage.cutter is not None and stage.cutter.on_arbor
    # seen from the front the work lies below a cutter on an arbor as, seen from above, in front of one that stands
    side = -1 if arbor else _metal_side(stage, 1 - run)
    if side is None:
        return run, (open_ends or [1])[0], None
    kinds = {s: milling_at(Turning.CLOCKWISE, WORK[1 - run, side], TABLE[run, s]) for s in (1, -1)}
    for sign in open_ends:
        if kinds[sign].value == wanted:
            return run, sign, kinds[sign]
    sign = (open_ends or [1])[0]
    return run, sign, kinds[sign]


def conventional(run: int) -> tuple[int, int]:
    """The sense of the cutter's feed for a conventional cut with metal on the low side, and on the high side."""
    found = []
    for side in (-1, 1):
        kinds = {s: milling_at(Turning.CLOCKWISE, WORK[1 - run, side], TABLE[run, s]) for s in (1, -1)}
        found.append(next(s for s, kind in kinds.items() if kind is Milling.CONVENTIONAL))
    return found[0], found[1]


def _metal_side(stage: Stage, axis: int) -> int | None:
    """On which side of the cutter metal stays, across its run; none for what is open or closed on both."""
    if stage.kind is OperationKind.FACE:
        return None
    if stage.kind is OperationKind.SIDE:
        return -looks(stage, "xyz"[axis])
    low, high = stage.is_open(axis, -1), stage.is_open(axis, 1)
    if low == high:
        return None
    return 1 if low else -1
