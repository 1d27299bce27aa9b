"""What is drawn of the edge rig."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.say import Text, say
from incudo.core.locating.finders import Face
from incudo.core.locating.screw import DialShown
from incudo.core.practice.rigs.edge.state import SWING, EdgeState, said_in


class PartShown(BaseModel):
    """One part of the error of the zero."""

    model_config = ConfigDict(frozen=True)
    words: Text
    off: Text


class EdgeScene(BaseModel):
    """What is drawn: the tip beside the work. ``gap`` in mm as one sees it; ``parts`` only after the run."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["edge"] = "edge"
    dial: DialShown
    face: Face
    side: int
    tip: float
    body: float
    finder: Text
    holder: Text
    speed: int
    right_speed: bool
    gap: float
    swing: float
    look: Literal["away", "swings", "nears", "true", "kicked", "raised"]
    burr: bool
    touches: tuple[Text, ...]
    zeroed: bool
    parts: tuple[PartShown, ...]


def parts_of(s: EdgeState, at: Fraction) -> tuple[tuple[str, Fraction], ...]:
    """What the error of a zero set here is made of, along the sense in which the edge was come to."""
    found = []
    if s.burr:
        found.append((say("the burr held the tip off"), s.burr))
    if s.holder == "chuck":
        found.append((say("the chuck runs out, so it kicked early"), s.runout))
    if s.finder and not s.right_speed and s.speed:
        found.append((say("at that speed the kick came late"), s.late))
    off = s.side * (at - s.edge)
    near = s.slide.dial.division + s.slide.dial.backlash + sum((x for _, x in found), Fraction(0))
    if s.half and abs(off + s.half) <= near:
        found.append((say("half the tip was not taken off"), s.half))
    elif s.half and abs(off + 2 * s.half) <= near:
        found.append((say("half the tip was taken off on the wrong side"), 2 * s.half))
    if s.slide.sense != s.side and s.slide.dial.backlash:
        found.append((say("the last turning was the other way: backlash"), s.slide.dial.backlash))
    return tuple(found)


def scene_of(s: EdgeState) -> EdgeScene:
    """What is drawn of the state; lengths in mm."""
    gap, away = s.gap(s.slide.at), not (s.finder and s.holder)
    swing = min(SWING, max(gap, Fraction(0)))
    look: Literal["away", "swings", "nears", "true", "kicked", "raised"]
    if away:
        look = "away"
    elif s.raised:
        look = "raised"
    elif s.kicked:
        look = "kicked"
    elif gap >= SWING:
        look = "swings"
    else:
        look = "nears" if gap > s.slide.dial.division else "true"
    # one sees a gap to about a twentieth of a millimetre, the tip's swing magnifies the rest
    seen = float(round(gap * 20) / 20) if gap > SWING else float(gap)
    return EdgeScene(
        dial=s.slide.seen(),
        face=s.face,
        side=s.side,
        tip=float(s.half * 2),
        body=float(s.what.body.mm) if s.what else 0.0,
        finder=s.what.name if s.what else "",
        holder=s.holder,
        speed=s.speed,
        right_speed=s.right_speed,
        gap=seen,
        swing=0.0 if s.kicked or not s.speed else float(swing),
        look=look,
        burr=s.burr > 0,
        touches=tuple(p.cells[1] for p in s.passes),
        zeroed=s.zeroed is not None,
        parts=tuple(PartShown(words=w, off=said_in(s, by)) for w, by in s.parts) if s.finished else (),
    )
