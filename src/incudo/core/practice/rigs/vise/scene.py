"""What is drawn of the vise rig."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.say import Text
from incudo.core.practice.rigs.vise.state import ENDS, TRAVEL, ViseState
from incudo.core.setup.standard import ViseSchool


class ViseScene(BaseModel):
    """What is drawn of the vise rig. ``crooked`` is the angle as drawn, far too large, where it is shown at all."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["vise"] = "vise"
    jaw: float
    read_along: float
    bolts: float
    bolts_before: float
    grips: dict[str, int]
    table: float
    reading: float | None
    division: float
    travel: float
    turns: int
    shown: Text
    crooked: float
    hammer: Text
    pushed: bool
    sense: int
    long_parallel: bool


def now_of(s: ViseState) -> tuple[str, float] | None:
    """The end at which the table stands, with the reading there now."""
    if not s.touched:
        return None
    end = next((e for e in ENDS if abs(s.table - s.station(e)) < 0.5), None)
    return None if end is None else (end, s.reading(s.table))


def scene_of(s: ViseState) -> ViseScene:
    """What is drawn of the state; the real angle only when it may be seen."""
    shown = s.finished or s.level == 1
    reading = s.reading(s.table) if s.touched else None
    text = "" if reading is None else s.setup.words(reading)
    turn = float(s.setup.division.mm) * 60
    return ViseScene(
        jaw=s.setup.jaw,
        read_along=s.length,
        bolts=s.setup.bolts,
        bolts_before=s.setup.bolts_before,
        grips=dict(s.bolts),
        table=s.table,
        reading=reading,
        division=float(s.setup.division.mm),
        travel=TRAVEL,
        turns=0 if reading is None else math.floor(abs(reading) / turn),
        shown=text,
        crooked=max(-0.1, min(0.1, s.angle * 25)) if shown else 0.0,
        hammer=s.hammer,
        pushed=s.pushed,
        sense=s.sense if s.pushed or s.level == 1 else 0,
        long_parallel=s.school is ViseSchool.LONG_PARALLEL,
    )
