"""Time of drilling by the quill's power feed. The feed is per turn, at or below what is wanted; the point and the way
to the work count with each hole.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP
from incudo.core.reckoning.inputs import Input, Quantity, Values, count, length, shown, tan
from incudo.core.reckoning.question import Draw, Given, K, Question


def _time(v: Values) -> Outcome:
    wanted, offered = v["per_turn"], v.list("feeds")
    fitting = [f for f in offered if f <= wanted]
    if offered and not fitting:
        least = min(offered)
        raise Refused.of(
            "per_turn", v.num(wanted), say("is below the quill's least feed, {size}: feed by hand", size=v.len(least))
        )
    per_turn = max(fitting) if fitting else wanted
    point = v["diameter"] / 2 / tan(v["angle"] / 2)
    way = v["depth"] + point + v["approach"]
    feed = per_turn * v["speed"]
    one = way / feed * 60
    seconds = v["holes"] * (one + v["handling"])
    steps = (
        Step(
            "point",
            "D / 2 / tan(angle / 2)",
            f"{v.num(v['diameter'])} / 2 / tan({shown(v['angle'] / 2)}°)",
            v.len(point, 3),
        ),
        Step(
            say("travel of the quill"),
            "depth + point + approach",
            f"{v.num(v['depth'])} + {v.num(point, 3)} + {v.num(v['approach'])}",
            v.len(way, 3),
        ),
        Step("feed", say("per turn · n"), f"{v.num(per_turn)} · {shown(v['speed'], 1)}", v.feed(feed)),
        Step(say("one hole"), "way / feed", f"{v.num(way, 3)} / {v.feed(feed)}", f"{shown(one, 1)} s"),
        Step(
            "time",
            say("holes · (one hole + handling)"),
            f"{shown(v['holes'])} · ({shown(one, 1)} + {shown(v['handling'])}) s",
            f"{shown(seconds, 0)} s",
        ),
    )
    said = [
        say("Set the quill stop and try where it trips before the drill touches."),
        say("Through a plate: by hand at the breakthrough."),
    ]
    if per_turn != wanted:
        said.insert(
            0,
            say(
                "The quill feeds {size} a turn, the next at or below {size2}.",
                size=v.len(per_turn),
                size2=v.len(wanted),
            ),
        )
    results = (
        Output("time", "time", Quantity.TIME, seconds),
        Output("one", say("one hole"), Quantity.TIME, one),
        Output("per_turn", say("feed of the quill, per turn"), Quantity.LENGTH, per_turn),
    )
    return Outcome(results, steps, tuple(said))


def _draw(v: Values, o: Outcome) -> Picture:
    r, deep = v["diameter"] / 2, v["depth"]
    point = r / tan(v["angle"] / 2)
    wide = max(r * 4, deep / 2)
    shapes = (
        p.box(Ink.WORK, -wide, -deep - point * 2, wide, 0),
        p.area(Ink.CUT, (-r, 0), (r, 0), (r, -deep), (0, -deep - point), (-r, -deep)),
        p.line(Ink.SCRIBE, (0, v["approach"]), (0, -deep - point), dashed=True),
        p.arrow(Ink.ANSWER, (r * 2, v["approach"]), (r * 2, -deep - point)),
        p.text((wide / 2 + r, -deep / 2), f"{shown(o.results[1].value, 1)} s", Ink.ANSWER),
    )
    return Picture(
        say("A hole {size} deep, drilled in {value} seconds.", size=v.len(deep), value=shown(o.results[1].value, 1)),
        shapes,
    )


CALCULATION = Calculation(
    "quill-time",
    say("Time of drilling"),
    GROUP,
    say("By the quill's power feed, per turn: the point and the way to the work count with each hole."),
    (
        length("diameter", say("Drill"), 100, fills="cutter.diameter"),
        length("depth", say("Depth at full diameter"), 300),
        Input("angle", say("Point"), Quantity.ANGLE, Fraction(60), Fraction(170), with_low=True, default="118"),
        Input("speed", say("Speed that is set"), Quantity.TURNS, Fraction(0), Fraction(20_000)),
        length("per_turn", say("Feed wanted, per turn"), 2, fills="material.chip"),
        Input(
            "feeds",
            say("The quill's feeds, per turn"),
            Quantity.LENGTHS,
            Fraction(0),
            Fraction(2),
            optional=True,
            fills="machine.quill_feeds",
        ),
        length("approach", say("Above the work"), 50, zero=True, default="2", default_inch="0.1"),
        count("holes", "Holes", 1, 200, default="1"),
        Input(
            "handling",
            say("Handling, each hole"),
            Quantity.TIME,
            Fraction(0),
            Fraction(3600),
            with_low=True,
            default="0",
        ),
    ),
    _time,
    (
        Slip(
            say("the point was forgotten"),
            answer=lambda v, o: o.answer.value - v["holes"] * _share(v, o, v["diameter"] / 2 / tan(v["angle"] / 2)),
        ),
        Slip(
            say("the travel down to the work was forgotten"),
            answer=lambda v, o: o.answer.value - v["holes"] * _share(v, o, v["approach"]),
        ),
        Slip(say("only one hole was counted"), lambda v: v.but(holes=Fraction(1))),
        Slip(
            say("the handling was counted once"), answer=lambda v, o: o.answer.value - (v["holes"] - 1) * v["handling"]
        ),
        Slip(say("the feed was taken for one a minute"), answer=lambda v, o: o.answer.value * v["speed"]),
    ),
    _draw,
    order=272,
)


def _share(v: Values, o: Outcome, way: Fraction) -> Fraction:
    """The seconds that a way costs at this feed."""
    return way / (o.results[2].value * v["speed"]) * 60


def ask(d: Draw) -> Question:
    drill = d.cutter(K.DRILL)
    feeds = d.machine.quill_feeds or (("0.002", "0.004", "0.006") if d.unit is Unit.INCH else ("0.05", "0.1", "0.15"))
    given: Given = {
        "diameter": {"value": drill.diameter, "unit": drill.unit},
        "depth": d.length(d.size(12, 40)),
        "speed": {"value": d.pick("370", "590", "940"), "unit": "rpm"},
        "per_turn": d.length(d.pick(*feeds)),
        "feeds": {"value": " ".join(feeds), "unit": d.unit},
        "approach": d.length("0.1" if d.unit is Unit.INCH else "2"),
        "holes": {"value": d.pick("2", "4", "6"), "unit": ""},
        "handling": {"value": d.pick("10", "20", "30"), "unit": "s"},
    }
    words = say("{name}, {name2}. How many seconds for all holes?", name=d.name, name2=drill.name)
    return Question("quill-time", words, given, "s", Fraction(3), "to 3 s")
