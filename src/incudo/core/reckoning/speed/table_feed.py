"""Table feed. From the speed that is set, the teeth and the feed per tooth; by hand, seconds for a turn."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import MM_PER_INCH, Length, Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import UNITS, Input, Quantity, Values, count, length, shown
from incudo.core.reckoning.question import Draw, Given, K, Question, filled
from incudo.core.reckoning.speed.shared import GROUP


def _feed(v: Values) -> Outcome:
    n, z, fz = v["speed"], v["teeth"], v["chip"]
    feed = n * z * fz
    turn = v["per_turn"]
    seconds = 60 * turn / feed
    steps = (
        Step(say("table feed"), "n · z · fz", f"{shown(n, 1)} · {shown(z)} · {v.num(fz)}", v.feed(feed)),
        Step(
            say("seconds for one handle turn"),
            say("60 · travel per turn / feed"),
            f"60 · {v.num(turn)} / {v.feed(feed)}",
            f"{shown(seconds, 1)} s",
        ),
    )
    said = [say("It follows from the speed that is set: another step, another feed.")]
    results = [
        Output("feed", say("table feed"), Quantity.FEED, feed),
        Output("seconds", say("by hand: seconds for one turn"), Quantity.TIME, seconds),
    ]
    if v.given("feeds"):
        fitting = [f for f in v.list("feeds") if f <= feed]
        if fitting:
            step = max(fitting)
            results.append(Output("step", say("power feed, the step at or below"), Quantity.FEED, step))
            results.append(Output("chip", say("feed per tooth with that step"), Quantity.LENGTH, step / (n * z)))
        else:
            said.append(
                say("The lowest power feed, {feed}, is too fast: feed by hand.", feed=v.feed(min(v.list("feeds"))))
            )
    if v.given("reckoned"):
        off = (v["reckoned"] / n - 1) * 100
        said.append(
            say(
                "At the calculated speed it would be {feed}: {off} % too fast.",
                feed=v.feed(v["reckoned"] * z * fz),
                off=shown(off, 0),
            )
        )
    return Outcome(tuple(results), steps, tuple(said))


def _draw_feed(v: Values, o: Outcome) -> Picture:
    r, teeth = Fraction(10), int(v["teeth"])
    bite = Fraction(2)
    tooth_marks = [p.arc((-bite * i, Fraction(0)), r, -60, 60) for i in range(1, 5)]
    shapes = (
        p.box(Ink.WORK, -12, -18, 34, 6),
        p.box(Ink.CUT, -34, -10, 0, 6),
        *(p.line(Ink.SCRIBE, *m) for m in tooth_marks),
        *p.cutter((Fraction(0), Fraction(0)), 2 * r, min(teeth, 12)),
        p.arrow(Ink.ANSWER, (14, 10), (30, 10)),
        p.text((23, 13), v.feed(o.answer.value), Ink.ANSWER),
    )
    return Picture(
        say("A cutter with {teeth} teeth goes into the work at {feed}.", teeth=teeth, feed=v.feed(o.answer.value)),
        shapes,
    )


CALCULATION = Calculation(
    "table-feed",
    say("Table feed"),
    GROUP,
    say("From the speed that is set, the teeth and the feed per tooth; by hand, seconds for a turn."),
    (
        Input("speed", say("Speed that is set"), Quantity.TURNS, Fraction(0), Fraction(20_000)),
        count("teeth", "Teeth", 1, 40, fills="cutter.teeth"),
        length("chip", say("Feed per tooth"), 2, fills="material.chip"),
        length("per_turn", say("Travel of one handle turn"), 20, default="5", default_inch="0.2", fills="machine.turn"),
        Input(
            "feeds",
            say("The machine's power feeds"),
            Quantity.FEEDS,
            Fraction(0),
            Fraction(10_000),
            optional=True,
            fills="machine.power_feeds",
        ),
        Input(
            "reckoned",
            say("Speed as calculated, to compare"),
            Quantity.TURNS,
            Fraction(0),
            Fraction(100_000),
            optional=True,
        ),
    ),
    _feed,
    (
        Slip(say("the calculated speed was used, not the one that is set"), lambda v: v.but(speed=v["reckoned"])),
        Slip(say("the teeth were forgotten"), lambda v: v.but(teeth=Fraction(1))),
        Slip(say("one tooth was forgotten"), lambda v: v.but(teeth=v["teeth"] - 1)),
        Slip(say("one tooth too many was counted"), lambda v: v.but(teeth=v["teeth"] + 1)),
        Slip(say("inches were taken for millimetres"), lambda v: v.but(chip=v["chip"] / MM_PER_INCH)),
        Slip(say("a place of the feed per tooth slipped"), lambda v: v.but(chip=v["chip"] * 10)),
    ),
    _draw_feed,
    order=20,
)


def ask(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING, K.BALL)
    _, f, names = d.bench(cutter)
    surface = Fraction(f["material.surface"].value) * UNITS[Quantity.SURFACE][f["material.surface"].unit]
    reckoned = round(1000 * surface / (Fraction("3.14159") * cutter.real))
    steps = d.machine.spindle.steps or (round(reckoned * 0.88 / 10) * 10,)
    below = [s for s in steps if s <= reckoned]
    if not below or below[-1] > reckoned * Fraction(19, 20):
        raise Refused.of("steps", "", say("no step that differs from the calculated speed"))
    given: Given = {
        "speed": {"value": str(below[-1]), "unit": "rpm"},
        "reckoned": {"value": str(reckoned), "unit": "rpm"},
        "teeth": filled(f["cutter.teeth"]),
        "chip": filled(f["material.chip"]),
        "per_turn": filled(f["machine.turn"]),
    }
    words = say(
        "{names}. Calculated {reckoned} rpm, the machine is set to {below}. What table feed?",
        names=names,
        reckoned=reckoned,
        below=below[-1],
    )
    unit = f"{d.unit}/min"
    near = Fraction(below[-1]) * cutter.teeth * Length(f["material.chip"].value, Unit(f["material.chip"].unit)).mm / 50
    return Question("table-feed", words, given, unit, near, "to 2 %")
