"""The reckoner: every calculation of the trade declared once, with its bounds, its working, and its usual slips.

One calculation is one file in the folder of its group. It says ``CALCULATION``, and ``ask`` where it is an
exercise; a new file is found by itself.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Callable, Iterator
from importlib import import_module

from incudo.core.reckoning import cuts, holes, judging, locate, speed
from incudo.core.reckoning.calculation import Calculation
from incudo.core.reckoning.question import Draw, Question

__all__ = ["CALCULATIONS", "MAKERS"]

Maker = Callable[[Draw], Question]


def _declared() -> Iterator[tuple[Calculation, Maker | None]]:
    """Every calculation with who makes its questions, as the files say them."""
    for group in (speed, locate, cuts, holes, judging):
        for found in pkgutil.iter_modules(group.__path__):
            module = import_module(f"{group.__name__}.{found.name}")
            if hasattr(module, "CALCULATION"):
                yield module.CALCULATION, getattr(module, "ask", None)


_DECLARED = sorted(_declared(), key=lambda x: x[0].order)

#: Every calculation, in the order of work.
CALCULATIONS: dict[str, Calculation] = {c.id: c for c, _ in _DECLARED}

#: Who makes the questions of a calculation: those that a student must master.
MAKERS: dict[str, Maker] = {c.id: maker for c, maker in _DECLARED if maker is not None}
