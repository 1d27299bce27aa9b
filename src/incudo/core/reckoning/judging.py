"""Limits, instruments, verdicts, position, growth. Sources: the product's own rules of judging; standard tables."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.working import Step
from incudo.core.measuring.instrument import Suitability, grade
from incudo.core.measuring.tolerance import Limits
from incudo.core.measuring.verdict import Measured, Metal, School, Verdict, agree, judge
from incudo.core.reckoning import fits
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import (
    Calculation,
    Input,
    Outcome,
    Output,
    Quantity,
    Slip,
    Values,
    choice,
    count,
    length,
    root,
    shown,
)
from incudo.core.reckoning.picture import Ink, Picture

GROUP = "measuring"


def _limits(v: Values, low: Fraction, high: Fraction, steps: tuple[Step, ...]) -> Outcome:
    if low >= high:
        raise Refused.of("lower", v.num(low), f"the lower limit must lie below the upper one, {v.num(high)}")
    results = (
        Output("lower", "lower limit", Quantity.LENGTH, low),
        Output("upper", "upper limit", Quantity.LENGTH, high),
        Output("aim", "middle, to aim at", Quantity.LENGTH, (low + high) / 2),
        Output("width", "full width", Quantity.LENGTH, high - low),
    )
    return Outcome(results, steps)


def _draw_limits(v: Values, o: Outcome) -> Picture:
    low, high, aim = (o.results[i].value for i in range(3))
    return _bar(v, low, high, aim, "aim")


def _bar(v: Values, low: Fraction, high: Fraction, at: Fraction, word: str, unsure: Fraction = Fraction(0)) -> Picture:
    """A tolerance bar: limits at a quarter and three quarters; a value off the scale is pinned at its end.

    ``word`` says what the value is; it may say all of it, with a full stop at its end.
    """
    said = word.removesuffix(".") if word.endswith(".") else f"{word} {v.len(at)}"
    width = high - low

    def place(x: Fraction) -> float:
        return max(0.0, min(100.0, 25 + 50 * float((x - low) / width)))

    here = place(at)
    shapes = (
        p.box(Ink.CUT, 0, 0, 100, 10),
        p.box(Ink.WORK, 25, 0, 75, 10),
        p.text((25.0, -5.0), v.num(low)),
        p.text((75.0, -5.0), v.num(high)),
        *((p.box(Ink.CUTTER, place(at - unsure), 3, place(at + unsure), 7),) if unsure else ()),
        p.line(Ink.ANSWER, (here, -2.0), (here, 13.0)),
        p.text((here, 18.0), said, Ink.ANSWER),
    )
    return Picture(f"{said} between the limits {v.num(low)} and {v.num(high)}.", shapes)


def _plus_minus(v: Values) -> Outcome:
    low, high = v["nominal"] + v["lower"], v["nominal"] + v["upper"]
    steps = (
        Step("lower limit", "nominal + lower deviation", f"{v.num(v['nominal'])} + ({v.num(v['lower'])})", v.len(low)),
        Step("upper limit", "nominal + upper deviation", f"{v.num(v['nominal'])} + ({v.num(v['upper'])})", v.len(high)),
    )
    return _limits(v, low, high, steps)


LIMITS = Calculation(
    "limits",
    "Limits from a tolerance",
    GROUP,
    "Nominal and its deviations: the two limits, the middle to aim at, the full width.",
    (
        length("nominal", "Nominal", 3000),
        length("upper", "Upper deviation", 50, low=-50),
        length("lower", "Lower deviation (with its sign)", 50, low=-50),
    ),
    _plus_minus,
    (
        Slip("the sign of the lower deviation was lost", lambda v: v.but(lower=-v["lower"])),
        Slip("the upper deviation was taken for the lower", answer=lambda v, _: v["nominal"] - abs(v["upper"])),
        Slip("the tolerance was halved", lambda v: v.but(lower=v["lower"] / 2)),
        Slip("the other limit was given", answer=lambda _, o: o.results[1].value),
    ),
    _draw_limits,
)


def _title(v: Values) -> Outcome:
    places = int(v["places"])
    name = f"places{places}"
    if not v.given(name):
        raise Refused.of(name, "", "is missing: the title block says nothing for so many places")
    t = v[name]
    if not t:
        raise Refused.of(name, "0", "must be more than 0")
    put = f"{v.num(v['nominal'])} ± {v.num(t)}"
    steps = (
        Step("tolerance", "by the decimal places as written", f"{places} places", f"±{v.len(t)}"),
        Step("limits", "nominal ± tolerance", put, f"{v.num(v['nominal'] - t)} to {v.len(v['nominal'] + t)}"),
    )
    return _limits(v, v["nominal"] - t, v["nominal"] + t, steps)


TITLE_BLOCK = Calculation(
    "title-block",
    "Limits from the title block",
    GROUP,
    "The default by decimal places as written: 2.50 is not 2.500.",
    (
        length("nominal", "Nominal", 3000),
        count("places", "Decimal places as written", 1, 4),
        *(length(f"places{n}", f"± for {n} decimals", 10, zero=True, optional=True) for n in (1, 2, 3, 4)),
    ),
    _title,
    (
        Slip("a decimal place was dropped", lambda v: v.but(places=v["places"] - 1)),
        Slip("a decimal place was added", lambda v: v.but(places=v["places"] + 1)),
        Slip("the other limit was given", answer=lambda _, o: o.results[1].value),
        Slip("the tolerance was halved", answer=lambda v, o: (o.answer.value + v["nominal"]) / 2),
    ),
    _draw_limits,
)


def _general(v: Values) -> Outcome:
    t = fits.general(v["nominal"], v.choice("class"))
    step = Step(
        "tolerance", "table of the general class by size", f"{v.num(v['nominal'])}, {v.choice('class')}", f"±{v.len(t)}"
    )
    return _limits(v, v["nominal"] - t, v["nominal"] + t, (step,))


GENERAL = Calculation(
    "general-class",
    "Limits from a general class",
    GROUP,
    "General tolerances for linear sizes without a tolerance of their own: fine, medium, coarse, very coarse.",
    (
        length("nominal", "Nominal", 2000, low=0.5, zero=True),
        choice("class", "Class", "medium", "fine", "coarse", "very coarse"),
    ),
    _general,
    (
        Slip("the next finer class was taken", lambda v: v.but(**{"class": fits.next_class(v.choice("class"), -1)})),
        Slip("the next coarser class was taken", lambda v: v.but(**{"class": fits.next_class(v.choice("class"), 1)})),
        Slip("the other limit was given", answer=lambda _, o: o.results[1].value),
    ),
    _draw_limits,
)


def _fit(v: Values) -> Outcome:
    low, high = fits.deviations(v["size"], v.choice("letter"), int(v["grade"]))
    tolerance = high - low
    kind = "hole" if v.choice("letter").isupper() else "shaft"
    steps = (
        Step("tolerance", f"IT{shown(v['grade'])} for this size", v.num(v["size"]), f"{shown(tolerance * 1000, 1)} µm"),
        Step(
            "deviations",
            f"{kind} {v.choice('letter')}{shown(v['grade'])}",
            "standard table",
            f"{shown(low * 1000, 1)} to {shown(high * 1000, 1)} µm",
        ),
    )
    return _limits(v, v["size"] + low, v["size"] + high, steps)


FIT = Calculation(
    "fit",
    "Limits of a fit",
    GROUP,
    "Size, letter and grade, from the standard tables; a capital letter is a hole, a small one a shaft.",
    (
        length("size", "Nominal size", 400),
        choice("letter", "Letter", *fits.LETTERS),
        count("grade", "Grade", min(fits.GRADES), max(fits.GRADES), default="7"),
    ),
    _fit,
    (
        Slip("the next finer grade was taken", lambda v: v.but(grade=v["grade"] - 1)),
        Slip("the next coarser grade was taken", lambda v: v.but(grade=v["grade"] + 1)),
        Slip("hole and shaft were mixed up", lambda v: v.but(letter=v.choice("letter").swapcase())),
        Slip("the other limit was given", answer=lambda _, o: o.results[1].value),
        Slip("microns were read as hundredths", answer=lambda v, o: v["size"] + (o.answer.value - v["size"]) * 10),
    ),
    _draw_limits,
)

SUITS = (Suitability.IDEAL, Suitability.ALLOWED, Suitability.COARSE, Suitability.HOPELESS)
SUIT_WORDS = ("ideal", "allowed", "too coarse", "hopeless: nothing could be called in")


def _suit(v: Values) -> Outcome:
    u, width = v["unsure"], v["width"]
    ratio = u / width
    found = SUITS.index(grade(u, width))
    step = Step(
        "share of the width",
        "U / (UL − LL): a tenth ideal, a quarter allowed",
        f"{v.num(u)} / {v.num(width)}",
        shown(ratio, 3),
    )
    results = (
        Output("suits", "the instrument is", Quantity.CHOICE, Fraction(found), SUIT_WORDS),
        Output("least", "narrowest limits it is allowed for", Quantity.LENGTH, 4 * u),
        Output("ideal", "ideal from a width of", Quantity.LENGTH, 10 * u),
    )
    return Outcome(results, (step,))


def _draw_suit(v: Values, o: Outcome) -> Picture:
    half = v["width"] / 2
    return _bar(v, -half, half, Fraction(0), f"±{v.len(v['unsure'])} within {v.len(v['width'])}.", v["unsure"])


SUITABILITY = Calculation(
    "suitability",
    "Is this instrument good enough?",
    GROUP,
    "Its uncertainty against the full width of the limits: at most a tenth is ideal, a quarter allowed.",
    (length("unsure", "Uncertainty U", 10), length("width", "Full width of the limits", 100)),
    _suit,
    (
        Slip("U was held against half the width", lambda v: v.but(width=v["width"] / 2)),
        Slip("2U was held against the width", lambda v: v.but(unsure=v["unsure"] * 2)),
        Slip("half of U was held against the width", lambda v: v.but(unsure=v["unsure"] / 2)),
    ),
    _draw_suit,
)

JUDGED = (Verdict.IN, Verdict.OUT, Verdict.TOO_CLOSE)
VERDICTS = ("in", "out", "too close to call")


def _verdict(v: Values) -> Outcome:
    low, high, x = v["lower"], v["upper"], v["reading"] - v["zero"]
    if low >= high:
        raise Refused.of("upper", v.num(high), f"must be more than the lower limit, {v.num(low)}")
    u = v["unsure"] if v.choice("school") == "guard band" else Fraction(0)
    limits = Limits(low, high, v.unit, 0, Step("limits", "as given", v.num(low), v.len(high)))
    judged = judge(Measured(x, u, u), limits, Metal.NONE, School.GUARD_BAND, v.unit)
    found = JUDGED.index(judged.verdict)
    steps = (
        Step("corrected", "reading − zero error", f"{v.num(v['reading'])} − ({v.num(v['zero'])})", v.len(x)),
        Step("in from … to", "LL + U … UL − U", f"U {v.num(u)}", f"{v.num(low + u)} … {v.num(high - u)}"),
        Step("out beyond", "LL − U … UL + U", f"U {v.num(u)}", f"{v.num(low - u)} … {v.num(high + u)}"),
    )
    said = ("Too close to call: measure better, with a finer instrument.",) if found == 2 else ()
    results = (
        Output("verdict", "it is", Quantity.CHOICE, Fraction(found), VERDICTS),
        Output("value", "corrected reading", Quantity.LENGTH, x),
    )
    return Outcome(results, steps, said)


VERDICT = Calculation(
    "verdict",
    "In, out, or too close to call",
    GROUP,
    "A reading, corrected for the zero error, against limits guarded by the instrument's uncertainty.",
    (
        length("reading", "Reading", 3000, low=-100),
        length("zero", "Zero error", 5, low=-5, default="0"),
        length("lower", "Lower limit", 3000, zero=True),
        length("upper", "Upper limit", 3000),
        length("unsure", "Uncertainty U", 10, zero=True),
        choice("school", "The shop judges by", "guard band", "bare limits"),
    ),
    _verdict,
    (
        Slip("the uncertainty was forgotten", lambda v: v.but(school="bare limits")),
        Slip("the zero error was forgotten", lambda v: v.but(zero=Fraction(0))),
        Slip("the zero error was added", lambda v: v.but(zero=-v["zero"])),
    ),
    lambda v, o: _bar(v, v["lower"], v["upper"], o.results[1].value, "corrected", v["unsure"]),
)


def _agree(v: Values) -> Outcome:
    x1, x2, u1, u2 = v["first"], v["second"], v["unsure1"], v["unsure2"]
    same = agree(x1, u1, x2, u2)
    allowed = root(u1 * u1 + u2 * u2)
    steps = (
        Step("difference", "x1 − x2", f"{v.num(x1)} − {v.num(x2)}", v.len(abs(x1 - x2))),
        Step("may differ by", "√(U1² + U2²)", f"√({v.num(u1)}² + {v.num(u2)}²)", v.len(allowed)),
    )
    results = (
        Output("agree", "they", Quantity.CHOICE, Fraction(0 if same else 1), ("agree", "do not agree")),
        Output("allowed", "may differ by", Quantity.LENGTH, allowed),
    )
    return Outcome(results, steps)


AGREEMENT = Calculation(
    "agreement",
    "Do two people agree?",
    GROUP,
    "Two readings of the same thing, each with its uncertainty; compared in squares, exactly.",
    (
        length("first", "First reading", 3000, low=-100),
        length("unsure1", "Its U", 10, zero=True),
        length("second", "Second reading", 3000, low=-100),
        length("unsure2", "Its U", 10, zero=True),
    ),
    _agree,
    (
        Slip("only the first one's uncertainty was counted", lambda v: v.but(unsure2=Fraction(0))),
        Slip(
            "both uncertainties were only added",
            lambda v: v.but(unsure1=v["unsure1"] + v["unsure2"], unsure2=Fraction(0)),
        ),
    ),
    lambda v, o: _bar(
        v,
        v["first"] - v["unsure1"],
        v["first"] + v["unsure1"] + Fraction(1, 10**6),
        v["second"],
        "second",
        v["unsure2"],
    ),
)


def _position(v: Values) -> Outcome:
    dx, dy = v["dx"], v["dy"]
    off = 2 * root(dx * dx + dy * dy)
    bonus = Fraction(0)
    steps = []
    if v.choice("bonus") != "none":
        bonus = v["actual"] - v["limit"] if v.choice("bonus") == "hole" else v["limit"] - v["actual"]
        if bonus < 0:
            raise Refused.of("actual", v.num(v["actual"]), f"the size itself must be in limits, {v.len(v['limit'])}")
        formula = "actual − smallest" if v.choice("bonus") == "hole" else "largest − actual"
        steps.append(Step("bonus", formula, f"{v.num(v['actual'])}, {v.num(v['limit'])}", v.len(bonus)))
    allowed = v["tolerance"] + bonus
    steps += [
        Step("position, as a diameter", "2 · √(dx² + dy²)", f"2 · √({v.num(dx)}² + {v.num(dy)}²)", v.len(off)),
        Step("allowed", "tolerance + bonus", f"{v.num(v['tolerance'])} + {v.num(bonus)}", v.len(allowed)),
    ]
    # held exactly, without the root
    inside = 4 * (dx * dx + dy * dy) <= allowed * allowed
    results = (
        Output("position", "position", Quantity.LENGTH, off),
        Output("allowed", "allowed", Quantity.LENGTH, allowed),
    )
    return Outcome(results, tuple(steps), ("It is in." if inside else "It is out.",))


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
    return Picture(f"The hole's middle within its zone: {v.len(off)} of {v.len(allowed)} allowed.", shapes)


POSITION = Calculation(
    "position",
    "Position of a hole",
    GROUP,
    "From the errors along X and Y, against its tolerance with a bonus.",
    (
        length("dx", "Off along X", 50, low=-50),
        length("dy", "Off along Y", 50, low=-50),
        length("tolerance", "Tolerance, a diameter", 50),
        choice("bonus", "Bonus of a", "none", "hole", "pin"),
        length("actual", "Its actual size", 500, zero=True, default="0"),
        length("limit", "Smallest hole, or largest pin", 500, zero=True, default="0"),
    ),
    _position,
    (
        Slip("the radius was taken for the diameter", answer=lambda v, o: o.answer.value / 2),
        Slip("both errors were only added", answer=lambda v, _: 2 * (abs(v["dx"]) + abs(v["dy"]))),
        Slip("one error was forgotten", lambda v: v.but(dy=Fraction(0))),
    ),
    _draw_position,
)


def _growth(v: Values) -> Outcome:
    part = v["micro"] / 1_000_000 * v["warmer"]
    cool = v["length"] / (1 + part)
    put = f"{v.num(v['length'])} / (1 + {shown(v['micro'])} / 10⁶ · {shown(v['warmer'], 2)})"
    steps = (
        Step("size at 20 °C", "reading / (1 + α · ΔT)", put, v.len(cool)),
        Step("growth", "reading − size at 20 °C", f"{v.num(v['length'])} − {v.num(cool)}", v.len(v["length"] - cool)),
    )
    results = (
        Output("growth", "growth", Quantity.LENGTH, v["length"] - cool),
        Output("cool", "size at 20 °C", Quantity.LENGTH, cool),
    )
    return Outcome(results, steps, ("Better: let it cool beside the instrument.",))


def _draw_growth(v: Values, o: Outcome) -> Picture:
    shapes = (
        p.box(Ink.WORK, 0, 0, 90, 14),
        p.box(Ink.ANSWER, 90, 0, 96, 14),
        p.size((0, -6), (90, -6), v.len(o.results[1].value)),
        p.text((93, 20), f"+ {v.len(o.answer.value)}", Ink.ANSWER),
    )
    return Picture(f"Warm work is {v.len(o.answer.value)} longer; the growth is drawn larger than it is.", shapes)


GROWTH = Calculation(
    "growth",
    "Growth with warmth",
    GROUP,
    "How much longer warm work is than at 20 °C.",
    (
        length("length", "Measured length", 2000),
        Input(
            "micro",
            "Expansion, millionths per °C",
            Quantity.COUNT,
            Fraction(1),
            Fraction(200),
            with_low=True,
            default="12",
            fills="material.expansion",
        ),
        Input("warmer", "Warmer than 20 °C by", Quantity.TEMPERATURE, Fraction(-40), Fraction(150), with_low=True),
    ),
    _growth,
    (
        Slip("°F were taken for °C", lambda v: v.but(warmer=v["warmer"] * Fraction(9, 5))),
        Slip("a power of ten was lost", lambda v: v.but(micro=v["micro"] * 10)),
    ),
    _draw_growth,
)
