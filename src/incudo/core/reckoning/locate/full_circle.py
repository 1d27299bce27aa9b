"""Full circle on a bar. An end mill is sunk into a round bar until it leaves a full circle: how deep that is, and how
wide the flat is then.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating.centre import flat_is_circle
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, root
from incudo.core.reckoning.locate.shared import GROUP
from incudo.core.reckoning.question import Draw, Given, K, Question


def least_depth(bar: Fraction, wide: Fraction) -> Fraction:
    """The least depth at which the flat is ``wide``: R − √(R² − (wide/2)²)."""
    r = bar / 2
    return r - root(r * r - (wide / 2) ** 2)


def _circle(v: Values) -> Outcome:
    bar, mill, off = v["bar"], v["mill"], v["offset"]
    wide = mill + 2 * off
    if wide >= bar:
        raise Refused.of(
            "mill",
            v.num(mill),
            say("must be less than the bar, {size}, by more than twice the offset", size=v.len(bar)),
        )
    deep = least_depth(bar, wide)
    steps = [
        Step(say("flat that is needed"), "mill + 2 · offset", f"{v.num(mill)} + 2 · {v.num(off)}", v.len(wide)),
        Step(
            say("least depth"),
            "R − √(R² − (flat / 2)²)",
            say("R {num}, flat {num2}", num=v.num(bar / 2), num2=v.num(wide)),
            v.len(deep),
        ),
    ]
    results = [
        Output("deep", say("least depth"), Quantity.LENGTH, deep),
        Output("flat", say("flat there"), Quantity.LENGTH, wide),
    ]
    said = [
        say("Go a little deeper than that, never beyond the middle of the bar; measure from the circle to each flank.")
    ]
    if v.given("depth"):
        at = v["depth"]
        if at > bar / 2:
            raise Refused.of(
                "depth", v.num(at), say("must not be beyond the middle of the bar, {size}", size=v.len(bar / 2))
            )
        chord = 2 * root(bar * at - at * at)
        steps.append(
            Step(
                say("flat at that depth"),
                "2 · √(D · d − d²)",
                f"2 · √({v.num(bar)} · {v.num(at)} − {v.num(at)}²)",
                v.len(chord),
            )
        )
        results.append(Output("chord", say("flat at that depth"), Quantity.LENGTH, chord))
        full = flat_is_circle(bar, mill, at, off)
        said.insert(
            0,
            say("It is a full circle.") if full else say("It runs out: it says nothing about the middle. Sink deeper."),
        )
    return Outcome(tuple(results), tuple(steps), tuple(said))


def _draw(v: Values, o: Outcome) -> Picture:
    r, deep, wide = v["bar"] / 2, o.answer.value, o.results[1].value
    shapes = (
        p.disc(Ink.WORK, (0, 0), r),
        p.box(Ink.CUT, -wide / 2, r - deep, wide / 2, r),
        p.line(Ink.ANSWER, (-wide / 2, r - deep), (wide / 2, r - deep)),
        p.line(Ink.SCRIBE, (0, -r), (0, r * Fraction(5, 4)), dashed=True),
        p.text((r * Fraction(6, 5), r - deep), v.len(deep), Ink.ANSWER),
        p.size((-wide / 2, r * Fraction(6, 5)), (wide / 2, r * Fraction(6, 5)), v.len(wide)),
    )
    return Picture(
        say(
            "A bar from its end; at {size} below the top the flat is {size2} wide.",
            size=v.len(deep),
            size2=v.len(wide),
        ),
        shapes,
    )


CALCULATION = Calculation(
    "full-circle",
    say("Full circle on a bar"),
    GROUP,
    say("How deep an end mill is sunk into a round bar until it leaves a full circle, and how wide the flat is then."),
    (
        length("bar", say("Bar"), 500),
        length("mill", say("End mill"), 100, fills="cutter.diameter"),
        length("offset", say("It may stand off the middle by"), 50, zero=True, default="1", default_inch="0.040"),
        length("depth", say("Depth that was sunk"), 250, optional=True),
    ),
    _circle,
    (
        Slip(say("the offset was forgotten"), lambda v: v.but(offset=Fraction(0))),
        Slip(say("the offset was counted once"), lambda v: v.but(offset=v["offset"] / 2)),
        Slip(say("the bar's diameter was taken for its radius"), lambda v: v.but(bar=v["bar"] * 2)),
        Slip(
            say("the whole flat was taken, not its half"),
            answer=lambda v, o: least_depth(v["bar"], 2 * o.results[1].value),
        ),
    ),
    _draw,
    order=152,
)


def ask(d: Draw) -> Question:
    mill = d.cutter(K.END_MILL)
    inch = d.unit is Unit.INCH
    bar = d.mm(d.pick("1", "1.25", "1.5") if inch else d.pick("25", "30", "40"))
    size = mill.real if mill.real < bar * Fraction(1, 2) else bar * Fraction(2, 5)
    given: Given = {
        "bar": d.length(f"{float(bar / d.unit.in_mm):g}"),
        "mill": d.length(f"{float(size / d.unit.in_mm):.4g}"),
        "offset": d.length("0.040" if inch else "1"),
    }
    return Question("full-circle", say("How deep until the circle is full?"), given, d.unit, *d.fine)
