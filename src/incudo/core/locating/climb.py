"""Climb or conventional: how a tooth meets the work, from rotation, side and feed. Seen from above."""

from __future__ import annotations

from enum import StrEnum

from incudo.core.locating.dial import Turning
from incudo.core.shop.machine import Way


class Milling(StrEnum):
    """CLIMB: the tooth goes the way the work goes, and can pull it; CONVENTIONAL: against it."""

    CLIMB = "climb"
    CONVENTIONAL = "conventional"


#: Lost motion up to which a light climbing last pass is taught at all, in mm; more lets the cutter pull the table.
MOST_LOST = 0.1


def milling(rotation: Turning, work_behind: bool, table: Way) -> Milling:
    """Which it is while the table feeds left or right; the work lies behind the cutter or in front of it.

    Seen from above a cutter that turns clockwise has its rear teeth going right, its front teeth left.
    """
    if table not in (Way.LEFT, Way.RIGHT):
        raise ValueError("the table feeds left or right here")
    tooth_right = (rotation is Turning.CLOCKWISE) == work_behind
    return Milling.CLIMB if tooth_right == (table is Way.RIGHT) else Milling.CONVENTIONAL
