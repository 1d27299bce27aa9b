"""Exercises: questions made from what this shop has, answers held against what can be set, slips named.

A question is seeded: the same seed, shop and calculation give the same values. It is kept as it was
asked, so it stays right when the shop changes.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, number
from incudo.core.kernel.working import Step
from incudo.core.reckoning import CALCULATIONS
from incudo.core.reckoning.bench import Bench, Filled, fills, x_handle
from incudo.core.reckoning.calculation import UNITS, Calculation, Quantity, Values, shown, wrong_answer
from incudo.core.shop.cutter import Cutter, CutterKind, Thread
from incudo.core.shop.machine import Machine
from incudo.core.shop.material import Stock

TRIES = 60
K = CutterKind
Given = dict[str, dict[str, str]]


@dataclass(frozen=True)
class ShopFacts:
    """What a shop has: machines by name, materials, cutters, threads; which step of a spindle it takes."""

    machines: Mapping[str, Machine]
    stocks: Sequence[Stock]
    cutters: Sequence[Cutter]
    threads: Mapping[str, Thread]
    school: str = "below"


@dataclass(frozen=True)
class Question:
    """A question: what is given (as inputs), in which unit the answer is wanted and how near it must come.

    ``hidden`` inputs are not shown: the student reads them off the rest.
    """

    calculation: str
    words: str
    given: Given
    unit: str
    near: Fraction
    near_words: str
    hidden: tuple[str, ...] = ()


@dataclass(frozen=True)
class Checked:
    """An answer held against the right one; ``slip`` is empty where no slip leads to it."""

    right: bool
    slip: str
    answer: str
    working: tuple[Step, ...]


@dataclass(frozen=True)
class Draw:
    """Chance, within what a shop has."""

    rng: random.Random
    facts: ShopFacts
    name: str
    machine: Machine

    @property
    def unit(self) -> Unit:
        return self.machine.unit

    def pick(self, *values: str) -> str:
        """One of these."""
        return self.rng.choice(values)

    def size(self, low: float, high: float, step: float | None = None) -> str:
        """A length between two given in mm, in the machine's unit, in steps of a drawing."""
        inch = self.unit is Unit.INCH
        grain = Fraction(str(step or 1)) if not inch else Fraction(str((step or 1) / 20)).limit_denominator(2000)
        count = self.rng.randint(*(int(Fraction(str(x)) / self.unit.in_mm / grain) for x in (low, high)))
        return shown(max(count, 1) * grain, 4)

    def length(self, text: str) -> dict[str, str]:
        """A length in the machine's unit, as an input."""
        return {"value": text, "unit": self.unit}

    def mm(self, text: str) -> Fraction:
        return Length(text, self.unit).mm

    def cutter(self, *kinds: CutterKind) -> Cutter:
        """A cutter of one of these kinds, of the machine's unit where there is one."""
        all_of = [c for c in self.facts.cutters if c.kind in kinds and c.owned]
        own = [c for c in all_of if c.unit is self.unit]
        if not all_of:
            raise Refused.of("cutters", "", f"this shop has no {kinds[0]}")
        return self.rng.choice(own or all_of)

    def bench(self, cutter: Cutter | None = None) -> tuple[Bench, Mapping[str, Filled], str]:
        """A material for a cutter, what both say, and their names."""
        stocks = [s for s in self.facts.stocks if Bench(self.machine, s, cutter).range] if cutter else []
        stock = self.rng.choice(stocks) if stocks else None
        b = Bench(self.machine, stock, cutter, self.facts.cutters, self.facts.threads)
        names = [self.name, *([cutter.name] if cutter else []), *([stock.material.name] if stock else [])]
        return b, fills(b), ", ".join(names)

    @property
    def dial(self) -> tuple[Fraction, str]:
        """Half a division of the X dial, and how it is said."""
        handle = x_handle(self.machine)
        half = Length(handle.per_turn, handle.unit).mm / handle.graduations / 2
        return half, f"to half a division of {self.name}'s dial"

    @property
    def fine(self) -> tuple[Fraction, str]:
        """What a length is asked to where no dial decides."""
        return (
            (Fraction(254, 10) / 2000, "to 0.0005 in") if self.unit is Unit.INCH else (Fraction(1, 100), "to 0.01 mm")
        )


def _one(f: Filled) -> dict[str, str]:
    return {"value": f.value, "unit": f.unit}


def _spindle(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING, K.BALL, K.T_SLOT, K.FACE, K.FLY)
    _, f, names = d.bench(cutter)
    steps = d.machine.spindle.steps
    given: Given = {
        "surface": _one(f["material.surface"]),
        "diameter": _one(f["cutter.diameter"]),
        "school": {"value": d.facts.school, "unit": ""},
    }
    if steps:
        given["steps"] = _one(f["machine.steps"])
        which = "at or below" if d.facts.school == "below" else "the nearest"
        words = f"{names}. To which step do you set the spindle ({which})?"
        return Question("spindle-speed", words, given, "1/min", Fraction(1, 2), "the step")
    return Question("spindle-speed", f"{names}. How many turns a minute?", given, "1/min", Fraction(10), "to 10 turns")


def _feed(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING, K.BALL)
    _, f, names = d.bench(cutter)
    surface = (
        Fraction(f["material.surface"].value) * UNITS[_kind("spindle-speed", "surface")][f["material.surface"].unit]
    )
    reckoned = round(1000 * surface / (Fraction("3.14159") * cutter.real))
    steps = d.machine.spindle.steps or (round(reckoned * 0.88 / 10) * 10,)
    below = [s for s in steps if s <= reckoned]
    if not below or below[-1] > reckoned * Fraction(19, 20):
        raise Refused.of("steps", "", "no step that differs from the reckoned speed")
    given: Given = {
        "speed": {"value": str(below[-1]), "unit": "1/min"},
        "reckoned": {"value": str(reckoned), "unit": "1/min"},
        "teeth": _one(f["cutter.teeth"]),
        "chip": _one(f["material.chip"]),
        "per_turn": _one(f["machine.turn"]),
    }
    words = f"{names}. Reckoned {reckoned} turns a minute, the machine is set to {below[-1]}. What table feed?"
    unit = f"{d.unit}/min"
    near = Fraction(below[-1]) * cutter.teeth * Length(f["material.chip"].value, Unit(f["material.chip"].unit)).mm / 50
    return Question("table-feed", words, given, unit, near, "to 2 %")


def _kind(calculation: str, name: str) -> Quantity:
    return next(i.kind for i in CALCULATIONS[calculation].inputs if i.name == name)


def _hole_speed(d: Draw) -> Question:
    tool = d.pick("drill", "reamer", "countersink")
    cutter = d.cutter(K(tool))
    _, f, names = d.bench(cutter)
    given: Given = {
        "surface": _one(f["material.drill"]),
        "diameter": _one(f["cutter.diameter"]),
        "tool": {"value": tool, "unit": ""},
        "school": {"value": d.facts.school, "unit": ""},
    }
    if d.machine.spindle.steps:
        given["steps"] = _one(f["machine.steps"])
        words = f"{names}. The cutting speed is a drill's. To which step do you set the spindle?"
        return Question("hole-speed", words, given, "1/min", Fraction(1, 2), "the step")
    words = f"{names}. The cutting speed is a drill's. How many turns a minute?"
    return Question("hole-speed", words, given, "1/min", Fraction(10), "to 10 turns")


def _move(d: Draw) -> Question:
    handle = x_handle(d.machine)
    division = Length(handle.per_turn, handle.unit).mm / handle.graduations
    back = bool(handle.backlash) and d.rng.random() < 0.5
    by = d.rng.randint(handle.graduations // 3, handle.graduations * 8) * d.rng.choice((1, -1))
    start = d.rng.randint(0, handle.graduations - 1)
    text = shown(by * division / handle.unit.in_mm, 4)
    given: Given = {
        "by": {"value": text, "unit": handle.unit},
        "per_turn": {"value": handle.per_turn, "unit": handle.unit},
        "graduations": {"value": str(handle.graduations), "unit": ""},
        "start": {"value": shown(start * division / handle.unit.in_mm, 4), "unit": handle.unit},
        "backlash": {"value": handle.backlash or "0", "unit": handle.unit},
        "last": {"value": "the other way" if back else "the same way", "unit": ""},
    }
    words = f"{d.name}, X handle. What does the dial read at arrival?"
    return Question("dial-move", words, given, handle.unit, division / 2, "to half a division")


def _convert(d: Draw) -> Question:
    other = d.unit.other
    size = str(d.rng.randint(20, 2000) / 1000) if other is Unit.INCH else str(d.rng.randint(5, 600) / 10)
    handle = x_handle(d.machine)
    given: Given = {
        "size": {"value": size, "unit": other},
        "per_turn": {"value": handle.per_turn, "unit": handle.unit},
        "graduations": {"value": str(handle.graduations), "unit": ""},
    }
    near, said = d.dial
    return Question("convert", f"{d.name}. How long is that in {d.unit}?", given, d.unit, near, said)


def _edge(d: Draw) -> Question:
    tip = d.cutter(K.FINDER)
    side = d.pick("left", "right", "front", "rear")
    given: Given = {
        "touch": d.length(d.size(20, 300, 0.05)),
        "tip": {"value": tip.diameter, "unit": tip.unit},
        "side": {"value": side, "unit": ""},
    }
    words = f"{d.name}, {tip.name}. The finder touches the {side} face of the work. Where is the edge?"
    return Question("edge", words, given, d.unit, *d.dial)


def _middle(d: Draw) -> Question:
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
    words = f"{d.name}, {tip.name}. Where is the middle of the {of}, come to with rising numbers?"
    return Question("middle", words, given, d.unit, *d.dial)


def _bar(d: Draw) -> Question:
    given: Given = {
        "face": d.length(d.size(5, 60, 0.1)),
        "diameter": d.length(d.size(10, 60)),
        "jaw": {"value": d.pick("at the rear", "in front"), "unit": ""},
    }
    words = f"{d.name}. A round bar is gripped against the fixed jaw. At which Y is its middle?"
    return Question("bar-at-jaw", words, given, d.unit, *d.dial)


def _bore(d: Draw) -> Question:
    fine = 0.0005 if d.unit is Unit.INCH else 0.01
    values = {n: shown(Fraction(str(fine)) * d.rng.randint(0, 40), 4) for n in ("east", "west", "north", "south")}
    given: Given = {n: d.length(x) for n, x in values.items()} | {"of": {"value": d.pick("bore", "boss"), "unit": ""}}
    words = f"{d.name}. By how much does the cutter move along X (minus: to the left)?"
    return Question("bore-centre", words, given, d.unit, Fraction(str(fine)) * d.unit.in_mm / 2, "to half a division")


def _side(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING)
    given: Given = {
        "edge": d.length(d.size(10, 150, 0.1)),
        "diameter": {"value": cutter.measured or cutter.diameter, "unit": cutter.unit},
        "cutter": {"value": d.pick("left", "right", "front", "rear"), "unit": ""},
        "leave": d.length(d.pick("0.010", "0.020") if d.unit is Unit.INCH else d.pick("0.25", "0.5")),
    }
    words = f"{d.name}, {cutter.name}. Where does the cutter's axis run?"
    return Question("cutter-at-edge", words, given, d.unit, *d.dial)


def _slot(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL)
    given: Given = {
        "start": d.length(d.size(5, 15)),
        "length": d.length(d.size(60, 150)),
        "diameter": {"value": cutter.measured or cutter.diameter, "unit": cutter.unit},
        "ends": {"value": d.pick("tangent of the end", "centre of the end"), "unit": ""},
    }
    return Question("slot-end", f"{d.name}, {cutter.name}. Where does the axis stop?", given, d.unit, *d.dial)


def _pocket(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL)
    given: Given = {
        "x": d.length(d.size(45, 100)),
        "y": d.length(d.size(45, 80)),
        "diameter": {"value": cutter.measured or cutter.diameter, "unit": cutter.unit},
        "leave": d.length("0.010" if d.unit is Unit.INCH else "0.25"),
    }
    words = f"{d.name}, {cutter.name}. How far does the axis go from the middle along X?"
    return Question("pocket", words, given, d.unit, *d.dial)


def _climb(d: Draw) -> Question:
    given: Given = {
        "work": {"value": d.pick("behind", "in front of"), "unit": ""},
        "table": {"value": d.pick("left", "right"), "unit": ""},
    }
    words = f"{d.name}. The work lies {given['work']['value']} the cutter, the table goes {given['table']['value']}."
    return Question("climb", words, given, "", Fraction(0), "")


def _passes(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    given: Given = {
        "stock": d.length(d.size(3, 12, 0.1)),
        "limit": d.length(d.pick("0.050", "0.060", "0.100") if inch else d.pick("1", "1.5", "2.5")),
        "finish": d.length(d.pick("0.010", "0.015") if inch else d.pick("0.25", "0.3")),
    }
    return Question("passes", f"{d.name}. How many passes, the finishing one counted?", given, "", Fraction(0), "")


def _replan(d: Draw) -> Question:
    nominal, wide = d.mm(d.size(12, 50)), d.mm("0.004" if d.unit is Unit.INCH else "0.1")
    of = d.pick("outside", "inside or depth", "slot on both walls")
    over = d.mm(d.size(0.5, 1.5, 0.02))
    measured = nominal + wide / 2 + (over if of == "outside" else -over)
    given: Given = {
        "measured": d.length(shown(measured / d.unit.in_mm, 4)),
        "lower": d.length(shown(nominal / d.unit.in_mm, 4)),
        "upper": d.length(shown((nominal + wide) / d.unit.in_mm, 4)),
        "of": {"value": of, "unit": ""},
        "limit": d.length("0.050" if d.unit is Unit.INCH else "1"),
        "finish": d.length("0.010" if d.unit is Unit.INCH else "0.25"),
    }
    each = " on each wall" if of == "slot on both walls" else ""
    return Question("replan", f"{d.name}. How much is left to take{each}?", given, d.unit, *d.dial)


def _point(d: Draw) -> Question:
    drill = d.cutter(K.DRILL)
    given: Given = {
        "diameter": {"value": drill.diameter, "unit": drill.unit},
        "angle": {"value": drill.angle or "118", "unit": "°"},
    }
    return Question("drill-point", f"{drill.name}. How long is its point?", given, d.unit, *_coarse(d))


def _coarse(d: Draw) -> tuple[Fraction, str]:
    return (Fraction(254, 10) / 500, "to 0.002 in") if d.unit is Unit.INCH else (Fraction(1, 20), "to 0.05 mm")


def _countersink(d: Draw) -> Question:
    tool = d.cutter(K.COUNTERSINK)
    wide = d.mm(d.size(9, 14, 0.2))
    hole = d.mm(d.size(4, 7, 0.1))
    given: Given = {
        "wide": d.length(shown(wide / d.unit.in_mm, 3)),
        "hole": d.length(shown(hole / d.unit.in_mm, 3)),
        "angle": {"value": tool.angle or "90", "unit": "°"},
    }
    return Question("countersink-depth", f"{tool.name}. How deep from the first touch?", given, d.unit, *d.fine)


def _tap(d: Draw) -> Question:
    tap = d.cutter(K.TAP)
    b = Bench(d.machine, None, tap, d.facts.cutters, d.facts.threads)
    f = fills(b)
    given: Given = {
        "diameter": _one(f["cutter.thread"]),
        "pitch": _one(f["cutter.pitch"]),
        "percent": {"value": d.pick("60", "65", "70", "75"), "unit": "%"},
        "tap": {"value": tap.tap, "unit": ""},
    }
    words = f"{tap.name}. What hole does the formula give (before you look for a drill)?"
    return Question("tap-drill", words, given, tap.unit, *d.fine)


def _blind(d: Draw) -> Question:
    tap = d.cutter(K.TAP)
    thread = d.facts.threads[tap.thread]
    pitch = shown(thread.pitch_mm / thread.unit.in_mm, 6)
    drill = shown((thread.diameter_mm - thread.pitch_mm) / thread.unit.in_mm, 3)
    full = shown(Fraction(round(thread.diameter_mm * d.rng.randint(12, 20) / 10 / thread.unit.in_mm * 100), 100), 3)
    given: Given = {
        "thread": {"value": full, "unit": thread.unit},
        "pitch": {"value": pitch, "unit": thread.unit},
        "lead": {"value": d.pick("2", "4"), "unit": ""},
        "room": {"value": "0.080" if thread.unit is Unit.INCH else "2", "unit": thread.unit},
        "drill": {"value": drill, "unit": thread.unit},
        "angle": {"value": "118", "unit": "°"},
    }
    words = f"{tap.name}, a blind hole. How deep at full diameter?"
    return Question("blind-depth", words, given, thread.unit, *_coarse(d))


def _circle(d: Draw) -> Question:
    given: Given = {
        "diameter": d.length(d.size(30, 100)),
        "holes": {"value": d.pick("3", "4", "5", "6", "8"), "unit": ""},
        "first": {"value": d.pick("0", "30", "45"), "unit": "°"},
    }
    return Question("bolt-circle", "How far is it from hole to hole?", given, d.unit, *d.fine)


def _boring(d: Draw) -> Question:
    head = d.cutter(K.HEAD)
    target = d.mm(d.size(20, 45))
    left = d.mm(d.size(0.3, 1.6, 0.02))
    given: Given = {
        "target": d.length(shown(target / d.unit.in_mm, 4)),
        "measured": d.length(shown((target - left) / d.unit.in_mm, 4)),
        "dial": {"value": head.dial, "unit": ""},
    }
    words = f"{head.name}: its dial reads on the {head.dial}. How much do you set on the dial, in all?"
    return Question("boring-head", words, given, d.unit, *d.fine)


def _limits(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    up, down = (
        d.pick(*(("0.002", "0.005", "0.000") if inch else ("0.05", "0.1", "0"))),
        d.pick(*(("-0.003", "-0.001", "-0.010") if inch else ("-0.02", "-0.15", "-0.05"))),
    )
    given: Given = {"nominal": d.length(d.size(10, 80)), "upper": d.length(up), "lower": d.length(down)}
    return Question("limits", "What is the lower limit?", given, d.unit, d.fine[0] / 10, "exactly")


def _title(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    places = d.rng.choice((2, 3))
    text = f"{float(d.size(10, 80)):.{places}f}"
    given: Given = {
        "nominal": d.length(text),
        "places": {"value": str(places), "unit": ""},
        "places1": d.length("0.030" if inch else "0.5"),
        "places2": d.length("0.010" if inch else "0.2"),
        "places3": d.length("0.005" if inch else "0.05"),
        "places4": d.length("0.0005" if inch else "0.01"),
    }
    words = f"The drawing says {text} {d.unit} and nothing more. What is the lower limit by the title block?"
    return Question("title-block", words, given, d.unit, d.fine[0] / 10, "exactly", ("places",))


def _fit(d: Draw) -> Question:
    given: Given = {
        "size": {"value": str(d.rng.randint(4, 60)), "unit": "mm"},
        "letter": {"value": d.pick("H", "G", "F", "g", "f", "h", "k", "p"), "unit": ""},
        "grade": {"value": d.pick("6", "7", "8"), "unit": ""},
    }
    return Question("fit", "By the table of fits: what is the lower limit?", given, "mm", Fraction(1, 5000), "exactly")


def _suit(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    given: Given = {
        "unsure": d.length(d.pick(*(("0.0002", "0.0015", "0.001") if inch else ("0.005", "0.04", "0.02")))),
        "width": d.length(d.pick(*(("0.002", "0.004", "0.010", "0.001") if inch else ("0.05", "0.1", "0.2", "0.03")))),
    }
    return Question("suitability", "How does this instrument suit these limits?", given, "", Fraction(0), "")


def _verdict(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    nominal, half = d.mm(d.size(10, 60)), d.mm("0.004" if inch else "0.1")
    u = d.mm("0.0015" if inch else "0.04")
    off = half * d.rng.choice((0, 70, 90, 110, 150)) / 100 * d.rng.choice((1, -1))
    zero = d.pick("0", "0.002", "-0.001") if inch else d.pick("0", "0.05", "-0.03")
    unit = d.unit.in_mm
    given: Given = {
        "reading": d.length(shown((nominal + off) / unit + Fraction(zero), 4)),
        "zero": d.length(zero),
        "lower": d.length(shown((nominal - half) / unit, 4)),
        "upper": d.length(shown((nominal + half) / unit, 4)),
        "unsure": d.length(shown(u / unit, 4)),
        "school": {"value": "guard band", "unit": ""},
    }
    return Question("verdict", "What is the verdict, guarded by the uncertainty?", given, "", Fraction(0), "")


def _position(d: Draw) -> Question:
    fine = Fraction("0.0005") if d.unit is Unit.INCH else Fraction("0.01")
    dx, dy = (shown(fine * d.rng.randint(-12, 12), 4) for _ in range(2))
    given: Given = {
        "dx": d.length(dx),
        "dy": d.length(dy),
        "tolerance": d.length("0.014" if d.unit is Unit.INCH else "0.36"),
    }
    words = "By how much is the hole out of position, as a diameter?"
    return Question("position", words, given, d.unit, fine * d.unit.in_mm / 2, f"to {shown(fine / 2, 5)} {d.unit}")


def _time(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING)
    ae = shown(Fraction(round(Fraction(cutter.diameter) / 4 * 100), 100), 3)
    given: Given = {
        "length": d.length(d.size(60, 160)),
        "diameter": {"value": cutter.diameter, "unit": cutter.unit},
        "engaged": {"value": ae, "unit": cutter.unit},
        "overrun": d.length("0.080" if d.unit is Unit.INCH else "2"),
        "passes": {"value": d.pick("2", "3", "4"), "unit": ""},
        "feed": {
            "value": d.pick("3", "4", "5") if d.unit is Unit.INCH else d.pick("80", "100", "125"),
            "unit": f"{d.unit}/min",
        },
        "handling": {"value": d.pick("20", "30", "40"), "unit": "s"},
    }
    return Question(
        "cutting-time", f"{d.name}, {cutter.name}. How many seconds in all?", given, "s", Fraction(3), "to 3 s"
    )


def _taper(d: Draw) -> Question:
    fine = Fraction("0.0005") if d.unit is Unit.INCH else Fraction("0.01")
    given: Given = {
        "low": d.length("0"),
        "high": d.length(shown(fine * d.rng.randint(3, 14), 4)),
        "travel": d.length(d.size(100, 150)),
        "part": d.length(d.size(40, 90)),
    }
    return Question(
        "vise-taper",
        "What taper does this vise leave?",
        given,
        d.unit,
        fine * d.unit.in_mm / 4,
        f"to {shown(fine / 4, 6)} {d.unit}",
    )


#: Who makes the questions of a calculation: those that a student must master.
MAKERS: dict[str, Callable[[Draw], Question]] = {
    "spindle-speed": _spindle,
    "table-feed": _feed,
    "hole-speed": _hole_speed,
    "cutting-time": _time,
    "dial-move": _move,
    "convert": _convert,
    "edge": _edge,
    "middle": _middle,
    "bar-at-jaw": _bar,
    "bore-centre": _bore,
    "vise-taper": _taper,
    "cutter-at-edge": _side,
    "slot-end": _slot,
    "pocket": _pocket,
    "climb": _climb,
    "passes": _passes,
    "replan": _replan,
    "drill-point": _point,
    "countersink-depth": _countersink,
    "tap-drill": _tap,
    "blind-depth": _blind,
    "bolt-circle": _circle,
    "boring-head": _boring,
    "limits": _limits,
    "title-block": _title,
    "fit": _fit,
    "suitability": _suit,
    "verdict": _verdict,
    "position": _position,
}


def ask(name: str, seed: str, facts: ShopFacts) -> Question:
    """A question of a calculation from what a shop has, such that at least one slip would show.

    Raises ``Refused`` for a calculation that is no exercise, and where the shop has nothing to ask about.
    """
    maker = MAKERS.get(name)
    if maker is None:
        raise Refused.of("calculation", name, f"must be one of: {', '.join(MAKERS)}")
    if not facts.machines:
        raise Refused.of("machines", "", "this shop has no machine to ask about")
    why: Refused | None = None
    for i in range(TRIES):
        # seeded on purpose: the same question for everybody who gets the same sheet
        rng = random.Random(f"{name}:{seed}:{i}")  # noqa: S311
        machine = rng.choice(sorted(facts.machines))
        try:
            found = maker(Draw(rng, facts, machine, facts.machines[machine]))
            if _tells(found):
                return found
        except Refused as refused:
            why = refused
    raise why or Refused.of("calculation", name, "no question with this shop's machines and cutters")


def _tells(q: Question) -> bool:
    """Whether the question has a right answer that is not 0, and a slip that would be seen."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    right = c.work(values)
    if not right.answer.words and not right.answer.value:
        return False
    wrong = [w for s in c.slips if (w := wrong_answer(c, s, values, right)) is not None]
    return any(abs(w - right.answer.value) > 2 * q.near for w in wrong)


def _right(c: Calculation, values: Values, unit: str) -> str:
    answer = c.work(values).answer
    if answer.words:
        return answer.word
    one = UNITS[answer.kind][unit]
    places = {"in": 4, "mm": 3, "in/min": 2, "mm/min": 1, "1/min": 0, "s": 0}.get(unit, 3)
    return f"{shown(answer.value / one, places)} {unit}".strip()


def words_of(q: Question) -> tuple[str, ...]:
    """The answers to choose from; empty where a number is asked."""
    c = CALCULATIONS[q.calculation]
    return c.work(c.read(q.given)).answer.words


def check(q: Question, text: str, unit: str = "") -> Checked:
    """Hold an answer against the right one. Raises ``Refused`` for what is no answer."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    right = c.work(values)
    if words := right.answer.words:
        if text not in words:
            raise Refused.of("answer", text, f"must be one of: {', '.join(words)}")
        answer = Fraction(words.index(text))
    else:
        units = UNITS[right.answer.kind]
        if (unit or q.unit) not in units:
            raise Refused.of("unit", unit, f"must be one of: {', '.join(u or 'none' for u in units)}")
        answer = Fraction(number(text, "answer")) * units[unit or q.unit]
    if abs(answer - right.answer.value) <= q.near:
        return Checked(True, "", _right(c, values, q.unit), right.steps)
    slip = c.slip_of(values, answer, q.near)
    return Checked(False, slip.words if slip else "", _right(c, values, q.unit), c.working_from(values, slip))


def solution(q: Question, text: str, unit: str) -> tuple[str, tuple[Step, ...]]:
    """The right answer and its working, from the line on at which an answer went wrong; without one, all of it."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    if text:
        found = check(q, text, unit)
        return found.answer, found.working
    return _right(c, values, q.unit), c.work(values).steps


def given_lines(q: Question) -> tuple[tuple[str, str], ...]:
    """What is given, as a student reads it: label and value with its unit."""
    c = CALCULATIONS[q.calculation]
    return tuple(
        (i.label, f"{q.given[i.name]['value']} {q.given[i.name]['unit']}".strip())
        for i in c.inputs
        if i.name in q.given and q.given[i.name]["value"] and i.name not in q.hidden
    )
