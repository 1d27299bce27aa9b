"""Kinds of gauge with what is usual for them, and whether an entry can be. Lengths as text in the gauge's own unit."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import model_validator

from incudo.core.kernel.fields import Key, Num, Strict, Word, read_model
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.measuring.instrument import MEASURES


class GaugeEntry(Strict):
    """What a gauge spans, the smallest step that it shows, and how sure it is (expanded uncertainty U)."""

    kind: Word
    unit: Literal["in", "mm", "deg"]
    least: Num
    most: Num
    resolution: Num
    uncertainty: Num

    @model_validator(mode="after")
    def _holds(self) -> GaugeEntry:
        least, most, step, sure = (
            Length(x, Unit(self.unit)).mm for x in (self.least, self.most, self.resolution, self.uncertainty)
        )
        if not 0 <= least < most:
            raise ValueError(say("most: must be more than least, and least not below 0"))
        if step <= 0:
            raise ValueError(say("resolution: must be more than 0"))
        if sure < 0 or sure > (most - least) / 2:
            raise ValueError(say("uncertainty: must be from 0 to half of what it spans"))
        if self.kind not in SURE_OF_NOTHING and sure < step / 4:
            raise ValueError(say("uncertainty: must be at least a quarter of the smallest step; nothing is surer"))
        return self


#: Kinds that answer yes or no: they have no uncertainty.
SURE_OF_NOTHING = frozenset({"thread gauge", "finish specimens"})


class GaugeKind(GaugeEntry):
    """A kind as it is offered."""

    id: Key
    name: Word

    @property
    def threads(self) -> bool:
        """Whether it is for one thread."""
        return MEASURES.get(self.kind) == "thread"


def read_gauge_kind(data: Any) -> GaugeKind:
    """A kind from its file content. Raises ``Refused``."""
    return read_model(GaugeKind, data)


def read_gauge(data: Any) -> GaugeEntry:
    """An entry as it was typed. Raises ``Refused`` with every field that cannot be."""
    return read_model(GaugeEntry, data)
