"""The reckoner: every calculation of the trade declared once, with its bounds, its working, and its usual slips."""

from incudo.core.reckon.base import Calculation
from incudo.core.reckon.cuts import GROWTH, PASSES, POSITION
from incudo.core.reckon.holes import BOLT_CIRCLE, BORING, COUNTERSINK, DRILL_POINT, TAP_DRILL
from incudo.core.reckon.speed import CHIP_THINNING, CUTTING_TIME, SPINDLE_SPEED, TABLE_FEED

__all__ = ["CALCULATIONS"]

#: Every calculation, in the order of work.
CALCULATIONS: dict[str, Calculation] = {
    c.id: c
    for c in (
        SPINDLE_SPEED,
        TABLE_FEED,
        CHIP_THINNING,
        CUTTING_TIME,
        PASSES,
        DRILL_POINT,
        COUNTERSINK,
        TAP_DRILL,
        BOLT_CIRCLE,
        BORING,
        POSITION,
        GROWTH,
    )
}
