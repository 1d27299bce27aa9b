"""Position of a hole. From the errors along X and Y, against its tolerance with a bonus."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step, squared
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, root, shown
from incudo.core.reckoning.judging.shared import GROUP, held
from incudo.core.reckoning.question import Draw, Given, Question


def _position(v: Values) -> Outcome:
    dx, dy = v["dx"], v["dy"]
    off = 2 * root(dx * dx + dy * dy)
    bonus = Fraction(0)
    steps = []
    size_out = ""
    if v.choice("bonus") != "none":
        hole = v.choice("bonus") == "hole"
        if not v.given("other"):
            raise Refused.of("other", "", say("is missing: without it nobody knows whether the size itself is in"))
        low, high = (v["limit"], v["other"]) if hole else (v["other"], v["limit"])
        if low >= high:
            raise Refused.of(
                "other",
                v.num(v["other"]),
                say("must be more than {size}", size=v.len(v["limit"]))
                if hole
                else say("must be less than {size}", size=v.len(v["limit"])),
            )
        bonus = max(v["actual"] - low if hole else high - v["actual"], Fraction(0))
        if not low <= v["actual"] <= high:
            # a part whose size is out is out, wherever its hole lies, and earns no bonus
            bonus = Fraction(0)
            size_out = say(
                "The size itself is out: {num} against {num2} to {size}. ",
                num=v.num(v["actual"]),
                num2=v.num(low),
                size=v.len(high),
            )
        formula = "actual − smallest" if v.choice("bonus") == "hole" else "largest − actual"
        if not size_out:
            steps.append(Step("bonus", formula, f"{v.num(v['actual'])}, {v.num(v['limit'])}", v.len(bonus)))
    allowed = v["tolerance"] + bonus
    steps += [
        Step(
            say("position, as a diameter"),
            "2 · √(dx² + dy²)",
            f"2 · √({squared(v.num(dx))} + {squared(v.num(dy))})",
            v.len(off),
        ),
        Step("allowed", "tolerance + bonus", f"{v.num(v['tolerance'])} + {v.num(bonus)}", v.len(allowed)),
    ]
    unsure = 2 * root(v["ux"] ** 2 + v["uy"] ** 2)
    if unsure:
        steps.append(
            Step(
                say("its uncertainty, as a diameter"),
                "2 · √(Ux² + Uy²)",
                f"{v.num(v['ux'])}, {v.num(v['uy'])}",
                v.len(unsure),
            )
        )
    results = (
        Output("position", "position", Quantity.LENGTH, off),
        Output("allowed", "allowed", Quantity.LENGTH, allowed),
    )
    # held from the square, without the root
    where = held(4 * (dx * dx + dy * dy), allowed, unsure, say("Its position"))
    return Outcome(results, tuple(steps), (f"{size_out}{where}",))


def _draw_position(v: Values, o: Outcome) -> Picture:
    off, allowed = (r.value for r in o.results)
    most = max(off, allowed, Fraction(1, 10**6))
    f = 80 / most
    at = (v["dx"] * f, v["dy"] * f)
    shapes = (
        p.disc(Ink.WORK, (0, 0), allowed / 2 * f),
        p.ring(Ink.SCRIBE, (0, 0), off / 2 * f, dashed=True),
        p.line(Ink.SCRIBE, (-50, 0), (50, 0)),
        p.line(Ink.SCRIBE, (0, -50), (0, 50)),
        p.line(Ink.ANSWER, (0, 0), at),
        p.disc(Ink.ANSWER, at, 1.6),
        p.text((0, 55), f"⌀ {v.len(off)} of {v.len(allowed)}", Ink.ANSWER),
    )
    return Picture(
        say("The hole's middle within its zone: {size} of {size2} allowed.", size=v.len(off), size2=v.len(allowed)),
        shapes,
    )


CALCULATION = Calculation(
    "position",
    say("Position of a hole"),
    GROUP,
    say("From the errors along X and Y, against its tolerance with a bonus."),
    (
        length("dx", say("Off along X"), 50, low=-50),
        length("dy", say("Off along Y"), 50, low=-50),
        length("tolerance", say("Tolerance, a diameter"), 50),
        choice("bonus", say("Bonus of a"), "none", "hole", "pin"),
        length("actual", say("Its actual size"), 500, zero=True, default="0"),
        length("limit", say("Smallest hole, or largest pin"), 500, zero=True, default="0"),
        length("other", say("Largest hole, or smallest pin"), 500, zero=True, optional=True),
        length("ux", say("Uncertainty along X"), 1, zero=True, default="0"),
        length("uy", say("Uncertainty along Y"), 1, zero=True, default="0"),
    ),
    _position,
    (
        Slip(say("the radius was taken for the diameter"), answer=lambda v, o: o.answer.value / 2),
        Slip(say("both errors were only added"), answer=lambda v, _: 2 * (abs(v["dx"]) + abs(v["dy"]))),
        Slip(say("one error was forgotten"), lambda v: v.but(dy=Fraction(0))),
    ),
    _draw_position,
    order=390,
    holds_reading=True,
)


def ask(d: Draw) -> Question:
    fine = Fraction("0.0005") if d.unit is Unit.INCH else Fraction("0.01")
    dx, dy = (shown(fine * d.rng.randint(-12, 12), 4) for _ in range(2))
    given: Given = {
        "dx": d.length(dx),
        "dy": d.length(dy),
        "tolerance": d.length("0.014" if d.unit is Unit.INCH else "0.36"),
    }
    words = say("By how much is the hole out of position, as a diameter?")
    return Question(
        "position",
        words,
        given,
        d.unit,
        fine * d.unit.in_mm / 2,
        say("to {fine} {unit}", fine=shown(fine / 2, 5), unit=d.unit),
    )
