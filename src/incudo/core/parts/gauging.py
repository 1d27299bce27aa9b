"""Which of a shop's gauges are laid out for a part."""

from __future__ import annotations

from collections.abc import Sequence

from incudo.core.measuring.instrument import Instrument, Suitability
from incudo.core.parts.project import Characteristic, Project
from incudo.core.parts.requirement import elements


def gauges_for(part: Project, tools: Sequence[Instrument]) -> tuple[tuple[Characteristic, tuple[str, ...]], ...]:
    """For each characteristic the names of the gauges to lay out: of all that is read of it the first that suits best.

    None where nothing of ``tools`` is good enough for it.
    """
    return tuple((c, tuple(dict.fromkeys(_best(part, c, tools)))) for c in part.characteristics)


def _best(part: Project, c: Characteristic, tools: Sequence[Instrument]) -> list[str]:
    found = []
    for e in elements(part, c):
        fits = [(tool.name, tool.suitability(e.limits, e.measure, c.thread)) for tool in tools]
        best = [n for wanted in (Suitability.IDEAL, Suitability.ALLOWED) for n, s in fits if s is wanted]
        found += best[:1]
    return found
