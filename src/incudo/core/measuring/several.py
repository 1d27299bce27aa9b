"""Judging what takes readings of more than one sort or place: an indicator's movement, the position of a hole.

An error that has only an upper limit is held from its square, so that no root is rounded:
in when √q + √u <= allowed, out when √q - √u > allowed, else too close to call (guard band); with q the square of the
error and u the square of its uncertainty. Exact fractions of a millimetre throughout.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from fractions import Fraction

from incudo.core.kernel.quantity import Unit, in_places, plain
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step, squared
from incudo.core.measuring.tolerance import Limits
from incudo.core.measuring.verdict import (
    WORDS,
    Combined,
    Estimate,
    Judgement,
    Measured,
    Metal,
    School,
    Spots,
    Verdict,
    combine,
)

#: Roots are shown, and drawn on the bar, to so many parts of a millimetre; nothing is decided by them.
FINE = 10**9


def held_square(error: Fraction, unsure: Fraction, allowed: Fraction, school: School) -> Verdict:
    """The verdict on an error from the squares of it and of its uncertainty, in mm², against what is allowed in mm."""
    if school is School.BARE_LIMITS:
        return Verdict.IN if error <= allowed**2 else Verdict.OUT
    # √q + √u <= a, squared once and then again
    rest = allowed**2 - error - unsure
    if allowed >= 0 and rest >= 0 and 4 * error * unsure <= rest**2:
        return Verdict.IN
    # √q > a + √u, likewise
    over = error - allowed**2 - unsure
    if over * abs(over) > 4 * allowed**2 * unsure:
        return Verdict.OUT
    return Verdict.TOO_CLOSE


def root(square: Fraction) -> Fraction:
    """A square root rounded up to a millionth of a micrometre, to be shown."""
    whole = math.isqrt(square.numerator * FINE**2 // square.denominator)
    exact = Fraction(whole, FINE)
    return exact if exact * exact == square else Fraction(whole + 1, FINE)


def movement(readings: Sequence[Measured], limits: Limits, school: School, wanted: int) -> Combined:
    """The full movement of an indicator over several places: its highest reading less its lowest.

    Both readings are unsure by U, their difference by √2 · U. With places still to be read it can only grow, so that
    it may be out already, but is never called in.
    """
    if not readings:
        return Combined(Judgement(Verdict.NOT_MEASURED, "", ()), None)
    high, low = max(m.x for m in readings), min(m.x for m in readings)
    x, u = high - low, max(m.u for m in readings)
    allowed = limits.upper or Fraction(0)
    missing = wanted - len(readings)
    ask = ""
    if missing > 0:
        ask = say("one more place wanted") if missing == 1 else say("{missing} more places wanted", missing=missing)
    verdict = held_square(x * x, 2 * u * u, allowed, school)
    if missing > 0 and verdict is not Verdict.OUT:
        verdict = Verdict.NOT_MEASURED
    unit = limits.unit
    put_in = f"{plain(high, unit)} − {plain(low, unit)}"
    steps = [
        limits.step,
        Step(say("Movement of the indicator"), say("highest − lowest"), put_in, f"{plain(x, unit)} {unit}"),
        _unsure_step(root(2 * u * u), "√2 · U", plain(u, unit), unit),
        _verdict_step(x, allowed, verdict, unit),
    ]
    against = "" if verdict is Verdict.NOT_MEASURED else _against(x, root(2 * u * u), allowed, unit, verdict)
    return Combined(Judgement(verdict, against, tuple(steps)), Estimate(x, root(2 * u * u)), ask)


def position(
    axes: Mapping[str, tuple[Fraction, Sequence[Measured]]],
    limits: Limits,
    school: School,
    bonus: tuple[Limits, Sequence[Measured]] | None = None,
) -> Combined:
    """The position of a hole's axis, as a diameter: 2 · √(dx² + dy²) against its tolerance with the bonus.

    ``axes`` give for both directions, by what it is called, where the axis should be (mm) and the readings of where
    it is; ``bonus`` the limits of the hole's diameter and its readings. The bonus (actual size − smallest) is as
    unsure as the size is; a hole whose size is out is out, wherever it lies.
    """
    unit = limits.unit
    steps, asks, offs, sures = [limits.step], [], [], []
    square = unsure = Fraction(0)
    whole = True
    for name, (nominal, readings) in axes.items():
        found = combine(readings, limits, Metal.NONE, school, Spots.SAME, 1)
        mean = found.size
        if mean is None:
            whole = False
            asks.append(say("{what} is still wanted", what=name))
            continue
        if found.ask_again:
            asks.append(found.ask_again)
        off = mean.x - nominal
        square += 4 * off * off
        unsure += 4 * mean.u * mean.u
        offs.append(plain(abs(off), unit))
        sures.append(plain(mean.u, unit))
        put_in = f"{plain(mean.x, unit)} − {plain(nominal, unit)}"
        steps.append(Step(name, say("measured − drawn"), put_in, f"{plain(off, unit)} {unit}"))
    allowed = limits.upper or Fraction(0)
    size = Verdict.IN
    if bonus is not None:
        of, readings = bonus
        found = combine(readings, of, Metal.NONE, school, Spots.SAME, 1)
        size = found.judgement.verdict
        if found.size is None:
            whole = False
            asks.append(say("the size is still wanted: the bonus comes from it"))
        else:
            least = of.lower or Fraction(0)
            more = max(found.size.x - least, Fraction(0))
            allowed += more
            unsure += found.size.u**2
            sures.append(plain(found.size.u, unit))
            put_in = f"{plain(found.size.x, unit)} − {plain(least, unit)}"
            steps.append(Step(say("Bonus"), say("actual − smallest"), put_in, f"{plain(more, unit)} {unit}"))
    ask = together(asks, "; ")
    if not whole:
        return Combined(Judgement(Verdict.NOT_MEASURED, "", tuple(steps)), None, ask)
    x, u = root(square), root(unsure)
    verdict = Verdict.OUT if size is Verdict.OUT else held_square(square, unsure, allowed, school)
    if verdict is Verdict.IN and size is Verdict.TOO_CLOSE:
        verdict = size
    put_in = f"2 · √({' + '.join(map(squared, offs))})"
    steps.append(Step(say("Position, as a diameter"), "2 · √(dx² + dy²)", put_in, _shown(x, unit)))
    of_axes = f"4 · ({sures[0]}² + {sures[1]}²)"
    sure = ("√(4 · (Ux² + Uy²))", f"√({of_axes})")
    if bonus is not None:
        sure = ("√(4 · (Ux² + Uy²) + U²)", f"√({of_axes} + {sures[2]}²)")
    steps += [_unsure_step(u, *sure, unit), _verdict_step(x, allowed, verdict, unit)]
    if size is Verdict.OUT:
        against = say("the size is out: it earns no bonus, and the part is out")
    else:
        against = _against(x, u, allowed, unit, verdict)
    held = replace(limits, upper=allowed) if bonus is not None else None
    return Combined(Judgement(verdict, against, tuple(steps)), Estimate(x, u), ask, held)


def _shown(value: Fraction, unit: Unit) -> str:
    """A root, rounded to what is worth showing."""
    return f"{in_places(value / unit.in_mm, 5 if unit is Unit.INCH else 4)} {unit}"


def _unsure_step(u: Fraction, formula: str, put_in: str, unit: Unit) -> Step:
    return Step(say("How sure that is"), formula, put_in, f"±{_shown(u, unit)}")


def _verdict_step(x: Fraction, allowed: Fraction, verdict: Verdict, unit: Unit) -> Step:
    put_in = say("{x} against {allowed}", x=_shown(x, unit), allowed=f"{plain(allowed, unit)} {unit}")
    return Step(say("Verdict"), say("error ≤ what is allowed"), put_in, WORDS[verdict])


def _against(x: Fraction, u: Fraction, allowed: Fraction, unit: Unit, verdict: Verdict) -> str:
    """What is allowed, and by how much it is under or over that."""
    side = say("under") if x <= allowed else say("above")
    words = say(
        "{gap} {side} the {allowed} {unit} that are allowed",
        gap=_shown(abs(allowed - x), unit),
        side=side,
        allowed=plain(allowed, unit),
        unit=unit,
    )
    if verdict is Verdict.TOO_CLOSE:
        return words + say("; it is only sure to ±{sure}: measure better", sure=_shown(u, unit))
    return words
