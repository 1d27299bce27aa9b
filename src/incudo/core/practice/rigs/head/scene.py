"""What is drawn of the head rig."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.say import Text
from incudo.core.practice.rigs.head.state import BOLTS, DEGREES, TRAVEL, HeadState


class HeadScene(BaseModel):
    """What is drawn of the head rig. ``lean`` and ``bow`` are angles as drawn, far too large, where shown at all."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["head"] = "head"
    at: Text
    degrees: float
    down: bool
    reading: float | None
    division: float
    travel: float
    turns: int
    shown: Text
    grips: dict[str, int]
    isolated: bool
    clamped: bool
    parallels: bool
    nods: bool
    lean: float
    bow: float
    slots: tuple[Text, ...]


def scene_of(s: HeadState) -> HeadScene:
    """What is drawn of the state; the real tilt only when it may be seen."""
    shown = s.finished or s.level == 1
    reading = s.reading(s.at) if s.down else None
    turn = float(s.setup.division.mm) * 60
    return HeadScene(
        at=s.at,
        degrees=DEGREES[s.at],
        down=s.down,
        reading=reading,
        division=float(s.setup.division.mm),
        travel=TRAVEL,
        turns=0 if reading is None else math.floor(abs(reading) / turn),
        shown="" if reading is None else s.setup.words(reading),
        grips={b: s.bolts[b] for a in s.axes for b in BOLTS[a]},
        isolated=s.isolated,
        clamped=s.clamped,
        parallels=s.parallels,
        nods=s.level > 1,
        lean=max(-0.2, min(0.2, s.tilt * 80)) if shown else 0.0,
        bow=max(-0.2, min(0.2, s.nod * 80)) if shown else 0.0,
        slots=(s.slot,) if s.slot else (),
    )
