"""Materials of the shop, and how fast they are cut: ranges by cutter material and operation."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from fractions import Fraction
from typing import Annotated

from pydantic import Field, StringConstraints, model_validator

from incudo.core.kernel.fields import Key, Num
from incudo.core.kernel.say import say
from incudo.core.shop.chips import ChipPoint, chip_at, read_chart
from incudo.core.shop.table import Name, Row, Source, Text, Texts


class CutterMaterial(StrEnum):
    """What a cutter is made of."""

    HSS = "high-speed steel"
    CARBIDE = "carbide"


class Operation(StrEnum):
    """What a range of speed and feed holds for. The feed is per tooth, for drilling per turn."""

    MILLING = "milling"
    FACING = "facing"
    DRILLING = "drilling"


Words = Annotated[str, StringConstraints(min_length=3, max_length=200, strip_whitespace=True)]


class Material(Row):
    """A material. ``unit_power`` in W·min/cm³ at the cutter, ``expansion`` in millionths per °C."""

    key: Key
    name: Name
    unit_power: Num
    expansion: Num
    fluid: Words
    cautions: Texts = ()
    source: Source = Source.RANGE
    note: Text = ""

    @model_validator(mode="after")
    def _plausible(self) -> Material:
        _between("unit_power", self.unit_power, 1, 200, "W·min/cm³")
        _between("expansion", self.expansion, 5, 150, say("millionths per °C"))
        return self


class Range(Row):
    """How fast a material is cut: surface speed in m/min, and a chart of the chip load against the diameter.

    The chart is written as in ``chips.read_chart``: mm per tooth, for drilling per turn.
    """

    material: Key
    cutter: CutterMaterial
    operation: Operation
    v_low: Num
    v_high: Num
    chart: Annotated[str, StringConstraints(min_length=5, max_length=600, strip_whitespace=True)]
    source: Source = Source.RANGE

    @model_validator(mode="after")
    def _plausible(self) -> Range:
        _between("v_low", self.v_low, 3, 1000, "m/min")
        below, above = Fraction(self.v_low), Fraction(self.v_high)
        if above < below:
            raise ValueError(say("v_high: must not be less than v_low, {v_low}", v_low=self.v_low))
        if above > 10 * below:
            raise ValueError(say("v_high: must be at most ten times v_low, {v_low}", v_low=self.v_low))
        try:
            read_chart(self.chart, self.operation.value)
        except ValueError as error:
            raise ValueError(say("chart: {error}", error=error)) from None
        return self

    @property
    def points(self) -> tuple[ChipPoint, ...]:
        """The chart's points."""
        return read_chart(self.chart, self.operation.value)

    def chip(self, diameter: Fraction) -> tuple[Fraction, Fraction]:
        """The low and high chip load for a cutter of this diameter, in mm."""
        return chip_at(self.points, diameter, self.operation.value)

    @property
    def key(self) -> tuple[str, str, str]:
        """What a range is known by."""
        return self.material, self.cutter.value, self.operation.value


def _between(field: str, text: str, low: int | str, high: int | str, unit: str) -> None:
    if not Fraction(low) <= Fraction(text) <= Fraction(high):
        raise ValueError(
            say("{field}: must lie between {low} and {high} {unit}", field=field, low=low, high=high, unit=unit)
        )


#: A speed that is so many times faster or slower than that of every other material here is asked about.
FAR = 2


class Stock(Row):
    """A material with its ranges, as it is kept."""

    material: Material
    ranges: Annotated[tuple[Range, ...], Field(max_length=12)] = ()

    def range_for(self, cutter: CutterMaterial, operation: Operation) -> Range | None:
        """The range for a cutter material and an operation, where there is one."""
        return next((r for r in self.ranges if r.cutter is cutter and r.operation is operation), None)


def carbide_is_faster(ranges: tuple[Range, ...]) -> tuple[str, ...]:
    """What is implausible among the ranges of one material: carbide is cut faster than high-speed steel."""
    by = {(r.cutter, r.operation): r for r in ranges}
    found = []
    for operation in Operation:
        slow, fast = by.get((CutterMaterial.HSS, operation)), by.get((CutterMaterial.CARBIDE, operation))
        if slow and fast and Fraction(fast.v_low) < Fraction(slow.v_low):
            found.append(
                say(
                    "{operation}: carbide begins at {v_low} m/min, below high-speed steel's {v_low2}",
                    operation=operation,
                    v_low=fast.v_low,
                    v_low2=slow.v_low,
                )
            )
    return tuple(found)


def far_from_others(ranges: Sequence[Range], others: Sequence[Range]) -> tuple[str, ...]:
    """Speeds that no other material of the shop comes near: a wrong unit, or a point in the wrong place."""
    found = []
    for r in ranges:
        beside = [o for o in others if o.key[1:] == r.key[1:] and o.material != r.material]
        if not beside:
            continue
        fastest, slowest = max(Fraction(o.v_high) for o in beside), min(Fraction(o.v_low) for o in beside)
        if Fraction(r.v_low) > FAR * fastest:
            words = say(
                "{operation}, {cutter}: {v_low} m/min is more than twice what any other material here is cut at",
                operation=r.operation,
                cutter=r.cutter,
                v_low=r.v_low,
            )
        elif Fraction(r.v_high) * FAR < slowest:
            words = say(
                "{operation}, {cutter}: {v_high} m/min is less than half of what any other material here is cut at",
                operation=r.operation,
                cutter=r.cutter,
                v_high=r.v_high,
            )
        else:
            continue
        found.append(words)
    return tuple(found)
