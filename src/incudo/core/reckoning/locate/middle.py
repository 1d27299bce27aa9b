"""Middle of a block, bar or slot. From a contact on each side; by a readout, or by a dial whose backlash lies
between the two.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating import centre
from incudo.core.reckoning.bench import x_handle
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.locate.shared import BACKLASH, GROUP, TIP
from incudo.core.reckoning.question import Draw, Given, K, Question


def _middle(v: Values) -> Outcome:
    low, high, tip = v["low"], v["high"], v["tip"]
    if high <= low:
        raise Refused.of("high", v.num(high), say("must be more than the low contact, {num}", num=v.num(low)))
    inside = v.choice("of") == "slot"
    lost = v["backlash"] if v.choice("by") == "dial" else Fraction(0)
    span = high - low + (-lost if inside else lost)
    # without backlash it is what a readout gives
    by_dial = centre.slot_by_dial if inside else centre.block_by_dial
    width = by_dial(low, high, tip, lost, Fraction(0)).width
    if width <= 0:
        raise Refused.of("high", v.num(high), say("must lie further from the low contact than the tip's diameter"))
    middle = by_dial(low, high, tip, lost, width).at
    sign = "−" if inside else "+"
    steps = []
    if lost:
        steps.append(
            Step(
                say("true span"),
                say("dial span {sign} backlash", sign=sign),
                f"{v.num(high - low)} {sign} {v.num(lost)}",
                v.len(span),
            )
        )
    steps.append(
        Step(
            "width",
            "span + tip" if inside else "span − tip",
            f"{v.num(span)} {'+' if inside else '−'} {v.num(tip)}",
            v.len(width),
        )
    )
    if lost:
        one = say("high contact + tip/2 − width/2") if inside else say("low contact + tip/2 + width/2")
        steps.append(
            Step(
                say("the middle, from one contact"),
                one,
                f"{v.num(high if inside else low)}, {v.num(tip)}, {v.num(width)}",
                v.len(middle),
            )
        )
    else:
        steps.append(Step(say("the middle"), "(low + high) / 2", f"({v.num(low)} + {v.num(high)}) / 2", v.len(middle)))
    said = [say("Hold the width against what you measured: if it does not agree, one contact was bad.")]
    if lost:
        said.append(say("The contacts face opposite ways: the mean of the dials would be out by half the backlash."))
        said.append(say("It holds when you approach the middle with rising numbers."))
    results = (
        Output("middle", say("the middle is at"), Quantity.LENGTH, middle),
        Output("width", say("width by the contacts"), Quantity.LENGTH, width),
    )
    return Outcome(results, tuple(steps), tuple(said))


def _draw_middle(v: Values, o: Outcome) -> Picture:
    middle, width = (r.value for r in o.results)
    tip = min(v["tip"], width)
    a, b = middle - width / 2, middle + width / 2
    inside = v.choice("of") == "slot"
    tall = width / 2
    r = tip / 2
    shapes = (
        [p.box(Ink.WORK, a - tall, -tall, b + tall, tall), p.box(Ink.CUT, a, -tall, b, tall)]
        if inside
        else [p.box(Ink.WORK, a, -tall, b, tall)]
    )
    shapes += [
        p.disc(Ink.CUTTER, (a + r if inside else a - r, 0), r),
        p.disc(Ink.CUTTER, (b - r if inside else b + r, 0), r),
        p.line(Ink.ANSWER, (middle, -tall * Fraction(5, 4)), (middle, tall * Fraction(5, 4))),
        p.text((middle, tall * Fraction(7, 5)), v.len(middle), Ink.ANSWER),
        p.size((a, -tall * Fraction(4, 5)), (b, -tall * Fraction(4, 5)), v.len(width)),
    ]
    return Picture(
        say(
            "Both contacts, {size} between the sides, the middle at {size2}.",
            size=v.len(width),
            size2=v.len(middle),
        ),
        tuple(shapes),
    )


CALCULATION = Calculation(
    "middle",
    say("Middle of a block, bar or slot"),
    GROUP,
    say("From a contact on each side; by a readout, or by a dial whose backlash lies between the two."),
    (
        length("low", say("Contact on the low side"), 2000, low=-2000),
        length("high", say("Contact on the high side"), 2000, low=-2000),
        TIP,
        choice("of", say("It is a"), "block", "slot"),
        choice("by", say("Read on the"), "readout", "dial"),
        BACKLASH,
    ),
    _middle,
    (
        Slip(say("the mean of both dials was taken"), lambda v: v.but(by="readout")),
        Slip(say("half the span was taken from 0"), answer=lambda v, _: (v["high"] - v["low"]) / 2),
        Slip(say("the backlash was taken the wrong way"), lambda v: v.but(backlash=-v["backlash"])),
        Slip(say("the tip was taken into one side only"), answer=lambda v, o: o.answer.value + v["tip"] / 2),
    ),
    _draw_middle,
    order=130,
)


def ask(d: Draw) -> Question:
    tip, of = d.cutter(K.FINDER), d.pick("block", "slot")
    by = d.pick("readout", "dial")
    low, wide = d.mm(d.size(10, 90, 0.05)), d.mm(d.size(40, 120, 0.1))
    handle = x_handle(d.machine)
    given: Given = {
        "low": d.length(shown(low / d.unit.in_mm, 4)),
        "high": d.length(shown((low + wide) / d.unit.in_mm, 4)),
        "tip": {"value": tip.diameter, "unit": tip.unit},
        "of": {"value": of, "unit": ""},
        "by": {"value": by, "unit": ""},
        "backlash": {"value": handle.backlash or "0", "unit": handle.unit},
    }
    words = say(
        "{name}, {name2}. Where is the middle of the {of}, approached with rising numbers?",
        name=d.name,
        name2=tip.name,
        of=of,
    )
    return Question("middle", words, given, d.unit, *d.dial)
