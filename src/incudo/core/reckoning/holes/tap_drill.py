"""Tap drill. The hole for a thread of so many percent of its height, and the drill of this shop that comes
nearest.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.bench import Bench, fills
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, LIST, PITCH, THREAD
from incudo.core.reckoning.inputs import Input, Quantity, Values, choice, shown
from incudo.core.reckoning.question import Draw, Given, K, Question, filled
from incudo.core.shop.tapping import LEAST_THREAD, MOST_THREAD, PER_PERCENT, tap_drill_of


def _tap(v: Values) -> Outcome:
    d, pitch, percent, tap = v["diameter"], v["pitch"], v["percent"], v.choice("tap")
    by = PER_PERCENT[tap]
    hole = d - pitch * percent / by
    if hole <= 0:
        raise Refused.of("pitch", v.num(pitch), say("must leave a hole: it is too coarse for this diameter"))
    steps = [
        Step(
            "hole",
            f"D − P · % / {shown(by)}",
            f"{v.num(d)} − {v.num(pitch)} · {shown(percent)} / {shown(by)}",
            v.len(hole),
        )
    ]
    reckoned = Output("hole", say("hole as calculated"), Quantity.LENGTH, hole)
    results = [reckoned]
    said = [say("By hand, guided from the spindle, never under power. Eye protection: taps shatter.")]
    own, others = v.list("drills"), v.list("others")
    if own or others:
        found = tap_drill_of(d, pitch, percent, tap, own, others)
        if found is None:
            raise Refused.of(
                "drills",
                "",
                say(
                    "none of these drills leaves {least_thread} to {most_thread} % of thread",
                    least_thread=shown(LEAST_THREAD),
                    most_thread=shown(MOST_THREAD),
                ),
            )
        steps.append(
            Step(
                say("drill of the shop"),
                say("the nearest that leaves 50 to 83 %, own series first"),
                v.len(hole),
                v.len(found.drill),
            )
        )
        steps.append(
            Step(
                say("percent it gives"),
                f"(D − drill) · {shown(by)} / P",
                f"({v.num(d)} − {v.num(found.drill)}) · {shown(by)} / {v.num(pitch)}",
                f"{shown(found.percent, 1)} %",
            )
        )
        results = [
            Output("drill", say("drill to take"), Quantity.LENGTH, found.drill),
            reckoned,
            Output("percent", say("percent of thread that it gives"), Quantity.PERCENT, found.percent),
        ]
        if found.drill not in own:
            said.append(say("None of the thread's own series is usable: this is one of the other."))
    return Outcome(tuple(results), tuple(steps), tuple(said))


def _draw_tap(v: Values, o: Outcome) -> Picture:
    d, pitch, hole = v["diameter"], v["pitch"], o.answer.value
    r, h = d / 2, hole / 2
    deep = d * Fraction(3, 2)
    teeth = max(1, min(20, int(deep / pitch)))
    right = [(h, -pitch * i) if k == 0 else (r, -pitch * (i + Fraction(1, 2))) for i in range(teeth) for k in (0, 1)]
    left = [(-x, y) for x, y in reversed(right)]
    low = -pitch * teeth
    shapes = (
        p.box(Ink.WORK, -d * Fraction(3, 2), low - d / 2, d * Fraction(3, 2), 0),
        p.area(Ink.CUT, *right, (h, low), (h, low - d / 4), (-h, low - d / 4), (-h, low), *left),
        p.size((-h, low - d / 4), (h, low - d / 4), v.len(hole), Ink.ANSWER),
        p.size((-r, d / 4), (r, d / 4), v.len(d)),
    )
    return Picture(say("A thread in section in a hole of {size}.", size=v.len(hole)), shapes)


CALCULATION = Calculation(
    "tap-drill",
    say("Tap drill"),
    GROUP,
    say("The hole for a thread of so many percent of its height, and the drill of this shop that comes nearest."),
    (
        THREAD,
        PITCH,
        Input(
            "percent",
            say("Percent of thread"),
            Quantity.PERCENT,
            Fraction(40),
            MOST_THREAD,
            with_low=True,
            default="75",
        ),
        choice("tap", say("Tap"), "cutting", "forming", fills="cutter.tap"),
        Input("drills", say("Drills of the thread's own series"), fills="crib.own", **LIST),  # type: ignore[arg-type]
        Input("others", say("Other drills"), fills="crib.others", **LIST),  # type: ignore[arg-type]
    ),
    _tap,
    (
        Slip(say("the pitch was taken off in full"), answer=lambda v, _: v["diameter"] - v["pitch"]),
        Slip(
            say("a forming tap's hole"), lambda v: v.but(tap="cutting" if v.choice("tap") == "forming" else "forming")
        ),
        Slip(say("twice the pitch was taken off"), lambda v: v.but(pitch=v["pitch"] * 2)),
        Slip(say("the thread's own diameter was drilled"), answer=lambda v, _: v["diameter"]),
    ),
    _draw_tap,
    order=260,
)


def ask(d: Draw) -> Question:
    tap = d.cutter(K.TAP)
    b = Bench(d.machine, None, tap, d.facts.cutters, d.facts.threads)
    f = fills(b)
    given: Given = {
        "diameter": filled(f["cutter.thread"]),
        "pitch": filled(f["cutter.pitch"]),
        "percent": {"value": d.pick("60", "65", "70", "75"), "unit": "%"},
        "tap": {"value": tap.tap, "unit": ""},
    }
    words = say("{name}. What hole does the formula give (before you look for a drill)?", name=tap.name)
    return Question("tap-drill", words, given, tap.unit, *d.fine)
