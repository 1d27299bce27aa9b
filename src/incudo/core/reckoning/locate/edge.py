"""Edge by a touch. The edge lies half a tip beyond the contact, to the side to which the finder went."""

from __future__ import annotations

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating import centre
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
from incudo.core.reckoning.locate.shared import GROUP, TIP
from incudo.core.reckoning.question import Draw, Given, K, Question


def _edge(v: Values) -> Outcome:
    sign = 1 if v.choice("side") in ("left", "front") else -1
    found = centre.edge(v["touch"], v["tip"], sign)
    steps = (
        Step(
            say("the edge"),
            say("contact + half the tip") if sign > 0 else say("contact − half the tip"),
            f"{v.num(v['touch'])} {'+' if sign > 0 else '−'} {v.num(v['tip'])} / 2",
            v.len(found),
        ),
    )
    said = (say("Touch it twice at least; both must agree. Take the finder out before the speed is raised."),)
    return Outcome((Output("edge", say("the edge is at"), Quantity.LENGTH, found),), steps, said)


def _draw_edge(v: Values, o: Outcome) -> Picture:
    tip, e, t = v["tip"], o.answer.value, v["touch"]
    far = tip * 4 * (1 if e > t else -1)
    shapes = (
        p.box(Ink.WORK, min(e, e + far), -tip * 2, max(e, e + far), tip * 2),
        p.disc(Ink.CUTTER, (t, 0), tip / 2),
        p.cross((t, 0), tip / 5),
        p.line(Ink.ANSWER, (e, -tip * 2), (e, tip * 5 / 2)),
        p.text((e, tip * 3), v.len(e), Ink.ANSWER),
        p.size((t, -tip), (e, -tip), v.len(tip / 2)),
    )
    return Picture(
        say("The tip touches at {size}; the edge lies half a tip beyond, at {size2}.", size=v.len(t), size2=v.len(e)),
        shapes,
    )


CALCULATION = Calculation(
    "edge",
    say("Edge by a touch"),
    GROUP,
    say("The edge lies half a tip beyond the contact, to the side to which the finder went."),
    (
        length("touch", say("Contact, coordinate of the spindle"), 2000, low=-2000),
        TIP,
        choice("side", say("The finder is on this side of the work"), "left", "right", "front", "rear"),
    ),
    _edge,
    (
        Slip(say("half the tip was forgotten"), answer=lambda v, _: v["touch"]),
        Slip(say("half the tip was taken to the wrong side"), answer=lambda v, o: 2 * v["touch"] - o.answer.value),
        Slip(say("the whole tip was taken"), lambda v: v.but(tip=v["tip"] * 2)),
    ),
    _draw_edge,
    order=120,
)


def ask(d: Draw) -> Question:
    tip = d.cutter(K.FINDER)
    side = d.pick("left", "right", "front", "rear")
    given: Given = {
        "touch": d.length(d.size(20, 300, 0.05)),
        "tip": {"value": tip.diameter, "unit": tip.unit},
        "side": {"value": side, "unit": ""},
    }
    words = say(
        "{name}, {name2}. The finder touches the {side} face of the work. Where is the edge?",
        name=d.name,
        name2=tip.name,
        side=side,
    )
    return Question("edge", words, given, d.unit, *d.dial)
