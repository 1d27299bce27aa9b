"""Tolerances as a machinist writes them: `±0.002`, `+0.000 -0.004`, `6.50 to 6.58`, `max`, `H7`, or nothing."""

from __future__ import annotations

import re
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, plain
from incudo.core.kernel.say import say
from incudo.core.measuring import fits
from incudo.core.measuring.tolerance import Form
from incudo.core.parts.project import ToleranceSpec

_N = r"(?:\d+(?:\.\d*)?|\.\d+)"
_BOTH = re.compile(rf"(?:±|\+/-|\+-)\s*({_N})")
_UNEQUAL = re.compile(rf"([+-]?{_N})\s*[/ ,]\s*([+-]?{_N})")
_LIMITS = re.compile(rf"({_N})\s*(?:to|…|\.\.)\s*({_N})")
_ALONE = re.compile(rf"({_N})?\s*(max|min)\.?", re.IGNORECASE)
_FIT = re.compile(r"([A-Za-z]{1,2})\s?(\d{1,2})")


def read_tolerance(text: str, nominal: str, unit: Unit, field: str = "tolerance") -> ToleranceSpec:
    """What a tolerance says, as it is judged. Raises ``Refused`` at ``field`` for what cannot be read.

    A fit (H7) becomes its two deviations for this nominal, by the international standard for limits and fits.
    """
    given = text.strip().replace("\u2212", "-").replace("\u2013", "-")
    if not given:
        return ToleranceSpec(form=Form.TITLE_BLOCK)
    if found := _BOTH.fullmatch(given):
        return ToleranceSpec(form=Form.PLUS_MINUS, first=_plain(found[1]))
    if found := _LIMITS.fullmatch(given):
        return ToleranceSpec(form=Form.LIMITS, first=_plain(found[1]), second=_plain(found[2]))
    if found := _UNEQUAL.fullmatch(given):
        return _deviations(found[1], found[2], text, field)
    if found := _ALONE.fullmatch(given):
        if found[1] and Fraction(found[1]) != Fraction(nominal):
            raise Refused.of(
                field, text, say("must be {nominal}, as the part is drawn, or the word alone", nominal=nominal)
            )
        return ToleranceSpec(form=Form.MAXIMUM if found[2].lower() == "max" else Form.MINIMUM)
    if found := _FIT.fullmatch(given):
        return _fit(found[1], int(found[2]), nominal, unit, field)
    how = say("write it like one of these: ±0.1, +0.2 -0.0, 6.5 to 6.6, max, min, H7; or leave it empty")
    raise Refused.of(field, text, how)


def _plain(text: str) -> str:
    return f"0{text}" if text.startswith(".") else text.rstrip(".")


def _deviations(one: str, two: str, text: str, field: str) -> ToleranceSpec:
    if one[0] not in "+-" or two[0] not in "+-":
        raise Refused.of(field, text, say("give each deviation its sign, such as +0.000 -0.004"))
    values = [f"{'-' if t[0] == '-' else ''}{_plain(t[1:])}" for t in (one, two)]
    up, down = sorted(values, key=Fraction, reverse=True)
    return ToleranceSpec(form=Form.UNEQUAL, first=up, second=down)


def _fit(letter: str, grade: int, nominal: str, unit: Unit, field: str) -> ToleranceSpec:
    try:
        low, high = fits.deviations(Length.parse(nominal, unit).mm, letter, grade)
    except Refused as refused:
        raise Refused.of(field, f"{letter}{grade}", refused.errors[0].bound) from None
    texts = []
    for value in (high, low):
        # the tables are in microns and their halves: exact in mm, to a hundred-thousandth in inches
        rounded = Fraction(round(value / unit.in_mm * 10**5), 10**5)
        texts.append(plain(rounded * unit.in_mm, unit, 3 if unit is Unit.MM else 4))
    return ToleranceSpec(form=Form.UNEQUAL, first=texts[0], second=texts[1])
