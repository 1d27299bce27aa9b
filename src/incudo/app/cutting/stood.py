"""How head and vise of a machine stand for a dry run: as they were accepted last, unless they were moved since."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from incudo.app.kernel.unit import Work, find
from incudo.app.setup.passes import head_passes, vise_passes
from incudo.app.setup.standards import holding_of
from incudo.app.setup.views import HeadSettings, ViseSettings
from incudo.core.cutting.dry.acts import reach
from incudo.core.cutting.dry.causes import Cause, Code, Off
from incudo.core.cutting.dry.lie import Stands
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.setup.record import SetupKind, counting
from incudo.core.setup.tram import HeadAxis
from incudo.core.shop.workholding import Vise
from incudo.store import schema as t
from incudo.store.setup import setups as store

#: What stands for the machine where the step of an act is named.
MACHINE = "machine"
JAW, TILT, NOD = "jaw", "tilt", "nod"


@dataclass(frozen=True)
class Stood:
    """By how much jaw and head are out, mm per mm, as ``Stands`` counts them; nothing where that is not known.

    ``vise`` is what the vise is called whose jaw it is.
    """

    slopes: Mapping[str, Fraction]
    vise: str = ""


def stood(w: Work, machine: uuid.UUID) -> Stood:
    """How head and vise of a machine were accepted last, unless they were moved since."""
    ends = store.newest_ends(w.db, [machine])
    moved = store.moves(w.db, [machine], min((e.at for _, e, _ in ends), default=w.now))
    rows = store.passes(w.db, [s.id for s, _, _ in ends])
    found: dict[str, Fraction] = {}
    vise = ""
    for s, end, _ in ends:
        if any(m.kind == s.kind and m.at > end.at for m in moved):
            continue
        if s.kind == SetupKind.HEAD:
            settings = HeadSettings.model_validate_json(s.settings)
            for axis, sweep in counting(head_passes(settings, rows.get(s.id, []))).items():
                slope = sweep.rise / sweep.span
                # the side of the sweep that reads more is low: the head leans there
                found |= {TILT: slope} if axis is HeadAxis.TILT else {NOD: -slope}
        elif s.kind == SetupKind.VISE:
            of = ViseSettings.model_validate_json(s.settings)
            row = find(w, t.Workholding, of.vise, "vise")
            vise, found = row.name, found | _jaw(of, holding_of(row), rows.get(s.id, []))
    return Stood({name: slope for name, slope in found.items() if slope}, vise)


def _jaw(settings: ViseSettings, vise: Vise, rows: list[t.SetupPass]) -> dict[str, Fraction]:
    if settings.along != "x":
        return {}
    # the end that reads more stands nearer to the spindle's tip, in front of the jaw
    return {JAW: -vise_passes(settings, vise, rows)[-1].sweep.slope}


def stands_of(at: Stood, unit: Unit) -> Stands:
    """The same for a dry run, each with what is said where it spoils something."""
    over = f"{reach(unit).text} {reach(unit).unit}"
    words = {
        JAW: (Code.JAW, say("The fixed jaw was left out of line, over {reach}", reach=over)),
        TILT: (Code.HEAD, say("The head was left out of tram side to side, over {reach}", reach=over)),
        NOD: (Code.HEAD, say("The head was left out of tram front to back, over {reach}", reach=over)),
    }
    found = {}
    for name, slope in at.slopes.items():
        code, act = words[name]
        found[name] = Off(slope, (Cause(MACHINE, code, "", slope * reach(unit).mm, act, unit),))
    return Stands(**found, vise=at.vise)
