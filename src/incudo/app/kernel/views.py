"""Small models that several use cases share."""

from __future__ import annotations

import uuid
from fractions import Fraction
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, ConfigDict, StringConstraints, model_validator

from incudo.app.kernel.language import speak_all
from incudo.core.kernel.quantity import Length, Unit, in_places, plain
from incudo.core.kernel.working import Step


class View(BaseModel):
    """Base of everything that goes out."""

    model_config = ConfigDict(frozen=True)
    spoken_already: ClassVar[bool] = True

    @model_validator(mode="before")
    @classmethod
    def _spoken(cls, data: Any) -> Any:
        return speak_all(data)


class Command(BaseModel):
    """Base of everything that comes in: unknown fields are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")


Note = Annotated[str, StringConstraints(max_length=400, strip_whitespace=True)]


Reason = Annotated[str, StringConstraints(min_length=3, max_length=400, strip_whitespace=True)]


SkillId = Annotated[str, StringConstraints(min_length=1, max_length=60)]


class Named(View):
    """Something with an id and a name."""

    id: uuid.UUID
    name: str


class Both(View):
    """A length in both units; ``given`` is the one it was written in."""

    given: Unit
    inch: str
    mm: str

    @classmethod
    def of(cls, length: Length) -> Both:
        return cls(given=length.unit, inch=length.shown_in(Unit.INCH), mm=length.shown_in(Unit.MM))

    @classmethod
    def exactly(cls, value_mm: Fraction, unit: Unit, places: int = 0) -> Both:
        """From an exact value: in full in its own unit, where ``places`` are the least decimals.

        The other unit is for looking only and is rounded as any length is.
        """
        own = plain(value_mm, unit, places)
        decimals = len(own.rstrip("…").partition(".")[2])
        rounded = in_places(value_mm / unit.other.in_mm, decimals + (2 if unit is Unit.MM else 0))
        inch, mm = (own, rounded) if unit is Unit.INCH else (rounded, own)
        return cls(given=unit, inch=inch, mm=mm)


class StepView(View):
    """One line of a working."""

    what: str
    formula: str
    put_in: str
    result: str

    @classmethod
    def of(cls, step: Step) -> StepView:
        return cls(what=step.what, formula=step.formula, put_in=step.put_in, result=step.result)
