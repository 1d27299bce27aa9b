"""Checking a gauge against blocks: what it reads against what they are, and whether it is still as sure as it says."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction
from math import ceil, floor

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, in_places, plain, settable
from incudo.core.kernel.say import say
from incudo.core.measuring.instrument import Instrument

#: Blocks of one check, and readings of each.
FEWEST, MOST_BLOCKS, MOST_READINGS = 3, 12, 5
#: The blocks are surer than the gauge by this factor, and reach over this share of what it spans.
SURER, REACH = 4, Fraction(1, 2)
#: A check holds for so long at most.
LONGEST = timedelta(days=5 * 365)
#: Where on what it spans blocks are proposed: they end at different places of a thimble's turn.
_PLACES = (Fraction(0), Fraction(213, 1000), Fraction(424, 1000), Fraction(607, 1000))
#: Steps of sizes that blocks are easily wrung to, in the gauge's own unit; the coarser one where it goes 200 times.
_STEPS = {
    Unit.INCH: (Fraction(1, 200), Fraction(1, 1000)),
    Unit.MM: (Fraction(1, 10), Fraction(1, 100)),
    Unit.DEGREE: (Fraction(1),),
}
#: How sure a workshop's set of blocks or angle blocks usually is, in the unit it is called by.
USUAL = {Unit.INCH: "0.00002", Unit.MM: "0.0005", Unit.DEGREE: "0.005"}


@dataclass(frozen=True)
class GaugeBlock:
    """A block and what was read on it."""

    size: Length
    readings: tuple[Length, ...]


@dataclass(frozen=True)
class OnBlock:
    """What came of a block, in mm: the mean error, what of it stays when the zero error is taken off, the spread."""

    size: Fraction
    error: Fraction
    left: Fraction
    spread: Fraction

    @property
    def seen(self) -> Fraction:
        """How far off a reading here was seen to be, corrected."""
        return abs(self.left) + self.spread / 2


@dataclass(frozen=True)
class GaugeChecked:
    """A check: its points by size, the zero error from now on, the worst that was seen (mm), and whether it holds."""

    points: tuple[OnBlock, ...]
    zero_error: Length
    seen: Fraction
    holds: bool
    said: tuple[str, ...]


def sizes_for(gauge: Instrument) -> tuple[str, ...]:
    """Blocks to begin with, as text in the gauge's own unit; none for what answers yes or no."""
    if gauge.answers:
        return ()
    unit = gauge.least.unit
    least, most = _nominal(gauge.least.exact, gauge, ceil), _nominal(gauge.most.exact, gauge, floor)
    span = most - least
    step = next((s for s in _STEPS[unit] if 200 * s <= span), _STEPS[unit][-1])
    inner = (least + round(place * span / step) * step for place in _PLACES)
    return tuple(dict.fromkeys(plain(size * unit.in_mm, unit) for size in (*inner, most)))


def _nominal(end: Fraction, gauge: Instrument, rounded: Callable[[Fraction], int]) -> Fraction:
    """An end of what a gauge is called by: 1 for one that spans to 1.01, within a fiftieth of what it spans."""
    most_off = (gauge.most.exact - gauge.least.exact) / 50
    tried = (Fraction(rounded(end / g)) * g for g in (Fraction(1), Fraction(1, 2), Fraction(1, 10), Fraction(1, 100)))
    return next((x for x in tried if abs(x - end) <= most_off), end)


def check(gauge: Instrument, blocks: Sequence[GaugeBlock], blocks_sure: Length) -> GaugeChecked:
    """What reading a gauge on blocks says about it.

    The error on the smallest block is the zero error, to half of the smallest step it shows; it is taken off
    everywhere, as it is taken off every reading afterwards. The check holds when nothing further off than the gauge's
    U was seen.
    Raises ``Refused`` for blocks that say too little, and for a gauge that answers yes or no.
    """
    if gauge.answers:
        raise Refused.of("blocks", gauge.name, say("answers yes or no: look at it, there is nothing to read"))
    _enough(gauge, blocks, blocks_sure)
    ordered = sorted(blocks, key=lambda b: b.size.mm)
    errors = [sum((r.mm for r in b.readings), Fraction(0)) / len(b.readings) - b.size.mm for b in ordered]
    zero = settable(errors[0], gauge.resolution)
    points = tuple(
        OnBlock(b.size.mm, e, e - zero.mm, max(r.mm for r in b.readings) - min(r.mm for r in b.readings))
        for b, e in zip(ordered, errors, strict=True)
    )
    worst = max(points, key=lambda p: p.seen)
    holds = worst.seen <= gauge.uncertainty.mm
    return GaugeChecked(points, zero, worst.seen, holds, _words(gauge, points, zero, worst, holds=holds))


def _enough(gauge: Instrument, blocks: Sequence[GaugeBlock], blocks_sure: Length) -> None:
    if not FEWEST <= len(blocks) <= MOST_BLOCKS:
        raise Refused.of("blocks", len(blocks), say("must be {few} to {most}", few=FEWEST, most=MOST_BLOCKS))
    for n, b in enumerate(blocks):
        if not gauge.can_show(b.size):
            raise Refused.of(
                f"blocks.{n}.size",
                b.size.text,
                say("must lie in what it spans, {least} to {most}", least=gauge.least.text, most=gauge.most.text),
            )
        if not 1 <= len(b.readings) <= MOST_READINGS:
            raise Refused.of(f"blocks.{n}.readings", len(b.readings), say("must be 1 to {most}", most=MOST_READINGS))
    sizes = {b.size.mm for b in blocks}
    if len(sizes) < len(blocks):
        raise Refused.of("blocks", len(blocks), say("must be of different sizes"))
    if max(sizes) - min(sizes) < REACH * (gauge.most.mm - gauge.least.mm):
        raise Refused.of("blocks", len(blocks), say("must reach over half of what the gauge spans"))
    if not 0 < blocks_sure.mm <= gauge.uncertainty.mm / SURER:
        raise Refused.of(
            "blocks_sure",
            blocks_sure.text,
            say(
                "must be more than 0 and at most a quarter of what the gauge is sure to, {most}",
                most=plain(gauge.uncertainty.mm / SURER, blocks_sure.unit),
            ),
        )


def _words(
    gauge: Instrument, points: Sequence[OnBlock], zero: Length, worst: OnBlock, *, holds: bool
) -> tuple[str, ...]:
    unit = gauge.resolution.unit
    places = gauge.resolution.decimals + 1

    def shown(mm: Fraction) -> str:
        return in_places(mm / unit.in_mm, places)

    found = []
    seen, sure = shown(worst.seen), gauge.uncertainty.text
    if holds:
        found.append(
            say(
                "Within its uncertainty of ±{sure} {unit}: largest error {seen} {unit}.",
                seen=seen,
                sure=sure,
                unit=unit,
            )
        )
    else:
        only = _up(worst.seen, gauge.resolution)
        found.append(
            say(
                "Outside its uncertainty of ±{sure} {unit}: error {seen} {unit} at {size} {unit}. Clean gauge and"
                " blocks and check again. If it stays so, have it repaired, or enter an uncertainty of ±{only} {unit}.",
                seen=seen,
                unit=unit,
                size=plain(worst.size, unit),
                sure=sure,
                only=only,
            )
        )
    if zero.mm:
        found.append(
            say(
                "Zero error {zero} {unit} at the smallest block. Reset the zero if the gauge allows it and check"
                " again; otherwise every reading is corrected by it.",
                zero=zero.text,
                unit=unit,
            )
        )
    uneasy = max(points, key=lambda p: p.spread)
    if uneasy.spread > 2 * gauge.resolution.mm:
        found.append(
            say(
                "Readings at {size} {unit} differ by {spread} {unit}: dirt, a burr, or uneven measuring pressure.",
                size=plain(uneasy.size, unit),
                spread=shown(uneasy.spread),
                unit=unit,
            )
        )
    return tuple(found)


def _up(mm: Fraction, resolution: Length) -> str:
    """A length rounded up to half of a smallest step, as text in its unit."""
    half = resolution.mm / 2
    return plain(ceil(mm / half) * half, resolution.unit)


def check_due(due: date, today: date) -> None:
    """Refuse a next check that is not ahead, or too far."""
    if not today < due <= today + LONGEST:
        raise Refused.of("due", due, say("must be after today and within five years"))
