"""From a tolerance as the drawing gives it to a lower and an upper limit.

Forms: plus/minus, unequal, limits, single-sided, and the title block's default
chosen by the decimal places *as written* (2.50 is not 2.500). General drawing
practice; no rounding happens here.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, plain
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step


class Form(StrEnum):
    """How the drawing gives the tolerance."""

    PLUS_MINUS = "plus_minus"
    UNEQUAL = "unequal"
    LIMITS = "limits"
    MAXIMUM = "maximum"
    MINIMUM = "minimum"
    TITLE_BLOCK = "title_block"


@dataclass(frozen=True)
class Limits:
    """Lower and upper limit in mm, exact; a missing one is ``None``.

    ``floor`` is the value that a single-sided maximum counts from (0).
    """

    lower: Fraction | None
    upper: Fraction | None
    unit: Unit
    places: int
    step: Step

    @property
    def width(self) -> Fraction | None:
        """UL - LL in mm; a lone maximum counts from 0, a lone minimum has no width."""
        if self.upper is None:
            return None
        return self.upper - (self.lower or Fraction(0))

    @property
    def aim(self) -> Fraction | None:
        """The middle of the limits in mm; a lone limit has no middle."""
        if self.lower is None or self.upper is None:
            return None
        return (self.lower + self.upper) / 2

    def text(self, value: Fraction, unit: Unit | None = None) -> str:
        """A limit as text in the drawing's unit, or in the one asked for."""
        return plain(value, unit or self.unit, self.places if unit in (None, self.unit) else 0)


@dataclass(frozen=True)
class Tolerance:
    """What stands beside the nominal: one form and its one or two values."""

    form: Form
    first: Length | None = None
    second: Length | None = None

    def limits(self, nominal: Length, title_block: dict[int, Length]) -> Limits:
        """The limits around ``nominal``. Raises ``Refused`` when they would cross."""
        match self.form:
            case Form.PLUS_MINUS:
                t = _need(self.first, "tolerance.plus_minus")
                return _made(nominal, nominal.mm - t.mm, nominal.mm + t.mm, f"±{t.text}", t.decimals)
            case Form.UNEQUAL:
                up = _need(self.first, "tolerance.unequal", signed=True)
                down = _need(self.second, "tolerance.unequal", signed=True)
                words = f"{_signed(up)} {_signed(down)}"
                places = max(up.decimals, down.decimals)
                return _made(nominal, nominal.mm + down.mm, nominal.mm + up.mm, words, places)
            case Form.LIMITS:
                low = _need(self.first, "tolerance.limits", signed=True)
                high = _need(self.second, "tolerance.limits", signed=True)
                places = max(low.decimals, high.decimals)
                return _made(nominal, low.mm, high.mm, say("{text} to {text2}", text=low.text, text2=high.text), places)
            case Form.MAXIMUM:
                return _made(nominal, None, nominal.mm, say("at most"), nominal.decimals)
            case Form.MINIMUM:
                return _made(nominal, nominal.mm, None, say("at least"), nominal.decimals)
            case Form.TITLE_BLOCK:
                default = title_block.get(nominal.decimals)
                if default is None:
                    known = together((str(n) for n in sorted(title_block)), ", ") or "none"
                    bound = say("the title block has a default for these decimal places only: {known}", known=known)
                    raise Refused.of("nominal", nominal.text, bound)
                words = say("±{text} (title block, {decimals} places)", text=default.text, decimals=nominal.decimals)
                low_mm, high_mm = nominal.mm - default.mm, nominal.mm + default.mm
                return _made(nominal, low_mm, high_mm, words, default.decimals)

    def words(self) -> tuple[str, str]:
        """What the drawing prints after the nominal: (upper line, lower line)."""
        match self.form, self.first, self.second:
            case Form.PLUS_MINUS, Length() as first, _:
                return f"±{first.text}", ""
            case Form.UNEQUAL, Length() as first, Length() as second:
                return _signed(first), _signed(second)
            case Form.LIMITS, Length() as first, Length() as second:
                return second.text, first.text
            case Form.MAXIMUM, _, _:
                return say("max"), ""
            case Form.MINIMUM, _, _:
                return say("min"), ""
        return "", ""


def _need(value: Length | None, field: str, *, signed: bool = False) -> Length:
    if value is None:
        raise Refused.of(field, "", say("a value is missing"))
    if not signed and value.mm < 0:
        raise Refused.of(field, value.text, say("must not be negative"))
    return value


def _signed(value: Length) -> str:
    return f"\u2212{value.text[1:]}" if value.text.startswith("-") else f"+{value.text}"


def _made(nominal: Length, low: Fraction | None, high: Fraction | None, words: str, places: int) -> Limits:
    unit = nominal.unit
    if low is not None and high is not None and low >= high:
        given = say("{low} and {high}", low=plain(low, unit), high=plain(high, unit))
        raise Refused.of("tolerance", given, say("the lower limit must lie below the upper one"))
    places = max(places, nominal.decimals)
    shown = [
        say("no lower limit") if low is None else plain(low, unit, places),
        say("no upper limit") if high is None else plain(high, unit, places),
    ]
    step = Step(
        say("Limits from the drawing"),
        say("lower limit … upper limit"),
        f"{nominal.text} {words}",
        f"{shown[0]} … {shown[1]} {unit}",
    )
    return Limits(low, high, unit, places, step)
