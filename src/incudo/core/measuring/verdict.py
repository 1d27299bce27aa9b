"""Judging a measurement against its limits, honestly about uncertainty.

Guard band: in when LL + U <= x <= UL - U, out when x < LL - U or x > UL + U,
else too close to call. Bare limits (simple acceptance): in when LL <= x <= UL,
a reading on the limit is in. Source: the decision rules of the geometrical
product specification standards, in the plain form that shops use. Everything
is compared as exact fractions of a millimetre.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.quantity import Length, Unit, plain
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step
from incudo.core.measuring.tolerance import Limits


class School(StrEnum):
    """How the shop accepts: with a guard band of U inside each limit, or on the bare limits."""

    GUARD_BAND = "guard_band"
    BARE_LIMITS = "bare_limits"


class Metal(StrEnum):
    """Which way there is still metal to take: outside sizes too large, inside sizes too small."""

    OUTSIDE = "outside"
    INSIDE = "inside"
    NONE = "none"


class Verdict(StrEnum):
    """What can be said about one characteristic."""

    IN = "in"
    METAL_LEFT = "out_metal_left"
    METAL_GONE = "out_metal_gone"
    OUT = "out"
    TOO_CLOSE = "too_close"
    NOT_MEASURED = "not_measured"

    @property
    def is_out(self) -> bool:
        """Whether the size is outside of its limits, whichever side."""
        return self in (Verdict.METAL_LEFT, Verdict.METAL_GONE, Verdict.OUT)


#: Worst first: the order in which several spots decide for the whole.
SEVERITY = (
    Verdict.METAL_GONE,
    Verdict.OUT,
    Verdict.METAL_LEFT,
    Verdict.TOO_CLOSE,
    Verdict.NOT_MEASURED,
    Verdict.IN,
)


class Spots(StrEnum):
    """Whether repeat readings are of the same spot (mean) or of different ones (worst decides)."""

    SAME = "same"
    DIFFERENT = "different"


@dataclass(frozen=True)
class Judgement:
    """A verdict with the sentence that says what it was held against, and its working."""

    verdict: Verdict
    against: str
    working: tuple[Step, ...]


@dataclass(frozen=True)
class Measured:
    """One corrected reading in mm with the uncertainty U and resolution of its instrument, in mm."""

    x: Fraction
    u: Fraction
    resolution: Fraction


def corrected(reading: Length, zero_error: Length) -> tuple[Fraction, tuple[Step, ...]]:
    """Reading minus zero error, in mm, with the working (nothing to show when it is zero)."""
    if zero_error.mm == 0:
        return reading.mm, ()
    value = reading.mm - zero_error.mm
    put_in = f"{reading.text} {reading.unit} − ({zero_error.text} {zero_error.unit})"
    shown = f"{plain(value, reading.unit)} {reading.unit}"
    return value, (Step(say("Corrected for the zero error"), say("reading − zero error"), put_in, shown),)


def judge(m: Measured, limits: Limits, metal: Metal, school: School, given: Unit) -> Judgement:
    """Hold one value against its limits. ``given`` is the unit the reading was entered in."""
    unit = limits.unit
    x = plain(m.x, unit)
    steps = [limits.step]
    if given is not unit:
        if unit is Unit.MM:
            formula, put_in = "in × 25.4, exactly", f"{plain(m.x, given)} × 25.4"
        else:
            formula, put_in = say("mm / 25.4, compared exactly"), f"{plain(m.x, given)} / 25.4"
        steps.append(Step(say("In the drawing's unit"), formula, put_in, f"{x} {unit}"))
    guard = m.u if school is School.GUARD_BAND else Fraction(0)
    low_in = None if limits.lower is None else limits.lower + guard
    high_in = None if limits.upper is None else limits.upper - guard
    if school is School.GUARD_BAND:
        steps.append(_guard_step(limits, m.u))
    if low_in is not None and m.x < low_in:
        beyond = limits.lower is not None and m.x < limits.lower - guard
        verdict = _out(metal, too_large=False) if beyond else Verdict.TOO_CLOSE
    elif high_in is not None and m.x > high_in:
        beyond = limits.upper is not None and m.x > limits.upper + guard
        verdict = _out(metal, too_large=True) if beyond else Verdict.TOO_CLOSE
    else:
        verdict = Verdict.IN
    bounds = together(("open" if v is None else plain(v, unit, limits.places) for v in (low_in, high_in)), " … ")
    rule = say("in from … to") if school is School.GUARD_BAND else say("in from … to (bare limits)")
    steps.append(
        Step(say("Verdict"), rule, say("{x} against {bounds} {unit}", x=x, bounds=bounds, unit=unit), WORDS[verdict])
    )
    return Judgement(verdict, _against(m, limits, verdict), tuple(steps))


#: The trade's words for each verdict.
WORDS = {
    Verdict.IN: "in",
    Verdict.METAL_LEFT: say("out, metal left"),
    Verdict.METAL_GONE: say("out, metal gone"),
    Verdict.OUT: "out",
    Verdict.TOO_CLOSE: say("too close to call"),
    Verdict.NOT_MEASURED: say("not measured"),
}


def _out(metal: Metal, *, too_large: bool) -> Verdict:
    if metal is Metal.NONE:
        return Verdict.OUT
    left = too_large if metal is Metal.OUTSIDE else not too_large
    return Verdict.METAL_LEFT if left else Verdict.METAL_GONE


def _guard_step(limits: Limits, u: Fraction) -> Step:
    unit, sure = limits.unit, plain(u, limits.unit)
    parts, ends = [], []
    for limit, sign, inwards in ((limits.lower, "+", u), (limits.upper, "−", -u)):
        if limit is not None:
            parts.append(f"{limits.text(limit)} {sign} {sure}")
            ends.append(plain(limit + inwards, unit, limits.places))
    formula = say("lower limit + U … upper limit − U")
    return Step(say("Guard band"), formula, together(parts, ", "), f"{' … '.join(ends)} {unit}")


def _against(m: Measured, limits: Limits, verdict: Verdict) -> str:
    """The limit the verdict was held against, with the amounts to it, in words."""
    unit, parts = limits.unit, []
    if limits.upper is not None:
        gap = limits.upper - m.x
        side = "under" if gap >= 0 else "above"
        parts.append(
            (
                abs(gap),
                say(
                    "{gap} {unit} {side} the top limit {text}",
                    gap=plain(abs(gap), unit),
                    unit=unit,
                    side=side,
                    text=limits.text(limits.upper),
                ),
            )
        )
    if limits.lower is not None:
        gap = m.x - limits.lower
        side = "above" if gap >= 0 else "under"
        parts.append(
            (
                abs(gap),
                say(
                    "{gap} {unit} {side} the bottom limit {text}",
                    gap=plain(abs(gap), unit),
                    unit=unit,
                    side=side,
                    text=limits.text(limits.lower),
                ),
            )
        )
    if verdict is Verdict.TOO_CLOSE or verdict.is_out:
        parts = [min(parts)]
    words = together((text for _, text in parts), ", ")
    if verdict is Verdict.TOO_CLOSE:
        sure = plain(m.u, unit)
        words += say("; the instrument is only sure to ±{sure} {unit}: measure better", sure=sure, unit=unit)
    return words


@dataclass(frozen=True)
class Estimate:
    """What a size is taken to be, with its uncertainty U, in mm."""

    x: Fraction
    u: Fraction


@dataclass(frozen=True)
class Combined:
    """The verdict over all readings of one characteristic.

    ``size`` is the mean (same spot) or the deciding reading (different spots), none where nothing is measured as a
    number; ``ask_again`` says why another reading is wanted. ``limits`` are those that it was held against where they
    are not the drawing's own (a bonus).
    """

    judgement: Judgement
    size: Estimate | None
    ask_again: str = ""
    limits: Limits | None = None


def combine(
    readings: Sequence[Measured],
    limits: Limits,
    metal: Metal,
    school: School,
    spots: Spots,
    wanted: int,
) -> Combined:
    """Judge a characteristic from its deciding readings (there may be none).

    Same spot: the mean is judged with the largest U. Different spots: every
    one must be in, the worst decides. A spread above one resolution or U,
    whichever is larger, at the same spot asks for another reading.
    """
    if not readings:
        return Combined(Judgement(Verdict.NOT_MEASURED, "", ()), None)
    unit = limits.unit
    ask = ""
    missing = wanted - len(readings)
    if missing > 0:
        ask = say("one more reading wanted") if missing == 1 else say("{missing} more readings wanted", missing=missing)
    if spots is Spots.DIFFERENT:
        judged = [(judge(m, limits, metal, school, unit), m) for m in readings]
        j, m = min(judged, key=lambda jm: (SEVERITY.index(jm[0].verdict), -_outside(jm[1], limits)))
        return Combined(j, Estimate(m.x, m.u), ask)
    u = max(m.u for m in readings)
    spread = max(m.x for m in readings) - min(m.x for m in readings)
    allowed = max(u, *(m.resolution for m in readings))
    if spread > allowed:
        ask = say(
            "the readings differ by {spread} {unit}, more than {allowed}: clean, and measure once more",
            spread=plain(spread, unit),
            unit=unit,
            allowed=plain(allowed, unit),
        )
    mean = sum((m.x for m in readings), Fraction(0)) / len(readings)
    j = judge(Measured(mean, u, readings[0].resolution), limits, metal, school, unit)
    if len(readings) > 1:
        put_in = f"({' + '.join(plain(m.x, unit) for m in readings)}) / {len(readings)}"
        step = Step(say("Mean of the same spot"), "sum / number", put_in, f"{plain(mean, unit)} {unit}")
        j = Judgement(j.verdict, j.against, (step, *j.working))
    return Combined(j, Estimate(mean, u), ask)


def _outside(m: Measured, limits: Limits) -> Fraction:
    """How far a value lies beyond its nearer limit (negative inside), in mm."""
    over = [] if limits.upper is None else [m.x - limits.upper]
    under = [] if limits.lower is None else [limits.lower - m.x]
    return max(over + under)


def agree(one: Estimate, two: Estimate) -> bool:
    """Do two people's values agree? (x1 - x2)² <= U1² + U2², all in mm."""
    return (one.x - two.x) ** 2 <= one.u**2 + two.u**2


@dataclass(frozen=True)
class Bar:
    """Where things lie on a tolerance bar that runs from 0 (left) to 1 (right).

    The limits stand at a quarter and three quarters and values grow to the
    right. ``at`` is pinned to the ends; ``off`` is then the amount beyond the
    nearest limit as text. ``sure`` is half the width of the uncertainty band and
    of each guard zone.
    """

    at: float
    sure: float
    aim: float | None
    off: str


def bar(x: Fraction, u: Fraction, limits: Limits) -> Bar:
    """Place a value on its tolerance bar.

    A lone maximum runs from 0 at the first quarter; a lone minimum has no
    width of its own and is drawn with ten times U between the quarters.
    """
    low = limits.lower if limits.lower is not None else Fraction(0)
    high = limits.upper if limits.upper is not None else low + max(10 * u, Fraction(1, 100))
    width = high - low
    place = Fraction(1, 4) + (x - low) / width / 2
    off = ""
    if not 0 <= place <= 1:
        beyond = max(x - high, low - x)
        off = f"{plain(beyond, limits.unit)} {limits.unit}"
    aim = None if limits.aim is None else 0.5
    pinned = min(max(place, Fraction(0)), Fraction(1))
    return Bar(float(pinned), min(float(u / width / 2), 0.5), aim, off)
