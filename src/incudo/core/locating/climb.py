"""Climb or conventional: how a tooth meets the work, from rotation, side and feed. Seen from above."""

from __future__ import annotations

from enum import StrEnum

from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import say
from incudo.core.locating.dial import Turning
from incudo.core.shop.machine import Way


class Milling(StrEnum):
    """CLIMB: the tooth goes the way the work goes, and can pull it; CONVENTIONAL: against it."""

    CLIMB = "climb"
    CONVENTIONAL = "conventional"


#: Backlash up to which a light climbing last pass is taught at all, in mm; more lets the cutter pull the table.
MOST_LOST = 0.1


#: Ways on the table, seen from above: to the right and away from whoever stands in front.
_LEVEL = {Way.RIGHT: (1, 0), Way.LEFT: (-1, 0), Way.AWAY: (0, 1), Way.TOWARDS: (0, -1)}


def milling_at(rotation: Turning, work: Way, table: Way) -> Milling:
    """Which it is while the table feeds along X or Y; ``work`` says on which side of the cutter the work lies.

    Looking along the cutter's travel (the table's, turned round), work on the right is a climb cut for a
    cutter that turns clockwise seen from above. Raises ``ValueError`` when the work lies ahead or behind, or
    either is no way on the table.
    """
    if work not in _LEVEL or table not in _LEVEL:
        raise ValueError(say("work and table lie and go left, right, away or towards"))
    (wx, wy), (tx, ty) = _LEVEL[work], _LEVEL[table]
    # the cutter travels (-tx, -ty); to the right of that lies (-ty, tx)
    right = wx * -ty + wy * tx
    if not right:
        raise ValueError(say("the work lies beside the cutter's travel, not along it"))
    return Milling.CLIMB if (sense(right) == 1) == (rotation is Turning.CLOCKWISE) else Milling.CONVENTIONAL


def milling(rotation: Turning, work_behind: bool, table: Way) -> Milling:
    """The same for a table that feeds left or right; the work lies behind the cutter or in front of it."""
    return milling_at(rotation, Way.AWAY if work_behind else Way.TOWARDS, table)
