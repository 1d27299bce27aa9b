"""The reckoner: every calculation of the trade declared once, with its bounds, its working, and its usual slips."""

from incudo.core.reckoning import cuts, holes, judging, locate, speed
from incudo.core.reckoning.calculation import Calculation

__all__ = ["CALCULATIONS"]

#: Every calculation, in the order of work.
CALCULATIONS: dict[str, Calculation] = {
    c.id: c
    for c in (
        speed.SPINDLE_SPEED,
        speed.TABLE_FEED,
        speed.HOLE_SPEED,
        speed.FACING,
        speed.CHIP_THINNING,
        speed.POWER,
        speed.CUTTING_TIME,
        speed.TAP_TURNS,
        locate.DIAL_MOVE,
        locate.DIAL_SERIES,
        locate.CONVERT,
        locate.EDGE,
        locate.MIDDLE,
        locate.BAR,
        locate.BORE_CENTRE,
        locate.HEAD_TILT,
        locate.VISE_TAPER,
        cuts.SIDE,
        cuts.SLOT,
        cuts.POCKET,
        cuts.CLIMB,
        cuts.PASSES,
        cuts.REPLAN,
        holes.DRILL_POINT,
        holes.COUNTERSINK,
        holes.TAP_DRILL,
        holes.BLIND,
        holes.CLEARANCE,
        holes.BOLT_CIRCLE,
        holes.GRID,
        holes.BORING,
        judging.LIMITS,
        judging.TITLE_BLOCK,
        judging.GENERAL,
        judging.FIT,
        judging.SUITABILITY,
        judging.VERDICT,
        judging.AGREEMENT,
        judging.POSITION,
        judging.GROWTH,
    )
}
