"""What several calculations of this group share."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.locating.dial import Dial, Turning
from incudo.core.reckoning.inputs import Values, count, length, shown

GROUP = say("dials and finding")


TURN = length("per_turn", say("Travel of one turn"), 25, default="5", default_inch="0.2", fills="machine.turn")


GRADUATIONS = count("graduations", "Divisions of the dial", 10, 1000, default="250", fills="machine.graduations")


BACKLASH = length("backlash", say("Backlash"), 25, zero=True, default="0", fills="machine.backlash")


TIP = length("tip", say("Finder's tip, a diameter"), 50, default="5", default_inch="0.2", fills="cutter.tip")


def dial_of(v: Values) -> Dial:
    lost = v["backlash"] if "backlash" in v.of else Fraction(0)
    if lost > v["per_turn"]:
        raise Refused.of("backlash", v.num(lost), say("must be at most one turn, {size}", size=v.len(v["per_turn"])))
    clockwise = Turning.CLOCKWISE
    return Dial(v["per_turn"], int(v["graduations"]), lost, clockwise, clockwise, v.unit)


def dial_picture(dial: Dial, reading: Fraction, words: str) -> Picture:
    """The whole dial with its reading at the top mark."""
    shapes = [p.disc(Ink.WORK, (0.0, 0.0), 50)]
    major = dial.graduations // 10 or 1
    for i in range(0, dial.graduations, max(1, dial.graduations // 50)):
        angle = 90 - 360 * float(i * dial.division / dial.turn) + 360 * float(reading / dial.turn)
        outer, inner = (
            p.arc((0.0, 0.0), 49, angle, angle, 1)[0],
            p.arc((0.0, 0.0), 41 if i % major == 0 else 45, angle, angle, 1)[0],
        )
        shapes.append(p.line(Ink.SCRIBE, outer, inner))
        if i % major == 0:
            value = shown(i * dial.division / dial.unit.in_mm, 3)
            shapes.append(p.text(p.arc((0.0, 0.0), 33, angle, angle, 1)[0], value))
    shapes.append(p.area(Ink.ANSWER, (0.0, 50.0), (-3.0, 58.0), (3.0, 58.0)))
    shapes.append(p.text((0.0, 64.0), words, Ink.ANSWER))
    return Picture(say("The dial at arrival: {words}.", words=words), tuple(shapes))
