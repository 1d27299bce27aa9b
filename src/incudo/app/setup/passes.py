"""Settings and passes of a working record, from its rows."""

from __future__ import annotations

import json
from collections.abc import Iterable
from fractions import Fraction

from incudo.app.setup.views import (
    HeadSettings,
    ViseSettings,
)
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.setup.guide import (
    small,
)
from incudo.core.setup.jaw import JawSweep, lever_factor
from incudo.core.setup.record import (
    HeadPass,
    SetupKind,
    VisePass,
)
from incudo.core.setup.tram import HeadAxis, Sweep
from incudo.core.shop.workholding import Vise
from incudo.store import schema as t


def positive(text: str, unit: Unit, field: str) -> Length:
    """A length of more than 0. Raises ``Refused`` naming the field."""
    length = Length.parse(text, unit, field)
    if length.mm <= 0:
        raise Refused.of(field, text, say("must be more than 0"))
    return length


def stations_of(s: ViseSettings, jaw: Vise) -> tuple[Fraction, Fraction]:
    """The two places along the jaw from its middle, in mm."""
    left, right = (Length.parse(v, s.unit, f).mm for v, f in ((s.left_at, "left_at"), (s.right_at, "right_at")))
    reach = Length(jaw.bolts, jaw.unit).mm / 2 + 80
    for field, place, text in (("left_at", left, s.left_at), ("right_at", right, s.right_at)):
        if abs(place) > reach:
            raise Refused.of(
                field, text, say("must lie within {small} of the jaw's middle", small=small(reach, s.unit))
            )
    if right <= left:
        raise Refused.of("right_at", s.right_at, say("must lie beyond the other place"))
    return left, right


def head_passes(s: HeadSettings, rows: Iterable[t.SetupPass]) -> list[HeadPass]:
    """The readings of a head as the core takes them."""
    span = Length(s.span, s.unit).mm
    found = []
    for row in rows:
        c = json.loads(row.content)
        low, high = (Length(c[k], s.unit).mm for k in ("low", "high"))
        found.append(HeadPass(Sweep(HeadAxis(c["axis"]), low, high, span), bool(c["tight"])))
    return found


def factor_of(s: ViseSettings) -> Fraction:
    """What the jaw really moves for what the needle shows: the lever's sense and its angle."""
    return s.sense * Fraction(lever_factor(s.lever_degrees)).limit_denominator(10**9)


def vise_passes(s: ViseSettings, jaw: Vise, rows: Iterable[t.SetupPass]) -> list[VisePass]:
    """Sweeps as the jaw stands: the lever's sense and angle are taken out of the readings."""
    left_at, right_at = stations_of(s, jaw)
    factor = factor_of(s)
    found = []
    for row in rows:
        c = json.loads(row.content)
        low, high = (Length(c[k], s.unit).mm * factor for k in ("low", "high"))
        found.append(VisePass(JawSweep(left_at, right_at, low, high), bool(c["tight"])))
    return found


def settings_of(row: t.Setup) -> HeadSettings | ViseSettings:
    """The settings with which a setup was begun."""
    model = HeadSettings if row.kind == SetupKind.HEAD else ViseSettings
    return model.model_validate_json(row.settings)
