"""What a shop accepts and which school it teaches. A standard is kept once, in one unit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from incudo.core.kernel.fields import Num
from incudo.core.kernel.quantity import Length, LengthUnit, Unit, plain
from incudo.core.kernel.say import say


class HeadSchool(StrEnum):
    """Which axis of the head is squared first."""

    NOD_FIRST = "nod_first"
    TILT_FIRST = "tilt_first"


class ViseSchool(StrEnum):
    """How a vise is brought true."""

    PIVOT = "pivot"
    WALK_IN = "walk_in"
    LONG_PARALLEL = "long_parallel"


class SetupRules(BaseModel):
    """The shop's own rules for setting up.

    The head's standard is an angle, ``head_rise`` over ``head_span``, so that a longer arm
    is not punished. The vise's is ``vise_rise`` over the jaw. A setup stands for
    ``hours``; ``same_person`` asks everybody to check the setup of another.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")
    head_school: HeadSchool = HeadSchool.TILT_FIRST
    vise_school: ViseSchool = ViseSchool.PIVOT
    unit: LengthUnit = Unit.INCH
    head_rise: Num = "0.001"
    head_span: Num = "6"
    vise_rise: Num = "0.0005"
    hours: Annotated[int, Field(ge=1, le=720)] = 12
    same_person: bool = True

    @model_validator(mode="after")
    def _positive(self) -> SetupRules:
        for name in ("head_rise", "head_span", "vise_rise"):
            if Length(getattr(self, name), self.unit).mm <= 0:
                raise ValueError(say("{name}: must be more than 0", name=name))
        if Length(self.head_rise, self.unit).mm * 20 > Length(self.head_span, self.unit).mm:
            raise ValueError(say("head_rise: must be at most a twentieth of head_span"))
        return self

    @property
    def head(self) -> Slope:
        """The most by which the head may lean."""
        return Slope(Length(self.head_rise, self.unit), Length(self.head_span, self.unit))

    @property
    def vise(self) -> Length:
        """The most by which the jaw may run out over the span."""
        return Length(self.vise_rise, self.unit)


#: The usual rules of a shop that measures in this unit: about the same angles and offsets, in round numbers.
USUAL_RULES: Mapping[LengthUnit, SetupRules] = {
    Unit.INCH: SetupRules(),
    Unit.MM: SetupRules(unit=Unit.MM, head_rise="0.02", head_span="150", vise_rise="0.01"),
}


@dataclass(frozen=True)
class Slope:
    """So much rise over so much span."""

    rise: Length
    span: Length

    def allows(self, rise_mm: Fraction, span_mm: Fraction) -> bool:
        """Whether a measured rise over a measured span is within it; compared exactly."""
        return abs(rise_mm) * self.span.mm <= self.rise.mm * span_mm

    def over(self, span_mm: Fraction) -> Fraction:
        """The rise that it allows over another span, in mm."""
        return self.rise.mm * span_mm / self.span.mm

    @property
    def words(self) -> str:
        """The rise over the span, in the unit of the span."""
        return say(
            "{mm} over {mm2} {unit}",
            mm=plain(self.rise.mm, self.rise.unit),
            mm2=plain(self.span.mm, self.span.unit),
            unit=self.span.unit,
        )
