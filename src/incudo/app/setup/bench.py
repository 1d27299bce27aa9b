"""A machine's setups: what was begun, the history of its head, what a new record begins with."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import timedelta
from itertools import pairwise

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Named
from incudo.app.setup.passes import head_passes
from incudo.app.setup.standards import setup_rules, vises
from incudo.app.setup.states import HISTORY, setup_states
from incudo.app.setup.views import (
    DriftPoint,
    HeadSettings,
    SetupBench,
    SetupLine,
    ViseChoice,
    ViseSettings,
)
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.kernel.say import say
from incudo.core.setup.guide import (
    small,
)
from incudo.core.setup.record import (
    SetupKind,
    counting,
)
from incudo.core.setup.standard import SetupRules
from incudo.core.setup.tram import HeadAxis
from incudo.core.shop.machine import Machine
from incudo.core.shop.workholding import Vise
from incudo.store import schema as t
from incudo.store.setup import setups as store


def setup_bench(w: Work, who: Who, machine_id: uuid.UUID) -> SetupBench:
    """A machine as it is set up."""
    row = find(w, t.Machine, machine_id, "machine")
    rules = setup_rules(w)
    heads, vise_rows = (store.ended_setups(w.db, machine_id, k) for k in ("head", "vise"))
    drift = _drift(w, [h for h in heads if h[1].at > w.now - HISTORY], rules)
    lines = sorted((*heads, *vise_rows), key=lambda x: x[1].at, reverse=True)
    return SetupBench(
        machine=Named(id=row.id, name=row.name),
        about=row.about,
        spec=spec_of(row),
        rules=rules,
        states=setup_states(w, who.id, machine_id, None),
        begun=tuple(
            SetupLine(
                id=s.id, kind=SetupKind(s.kind), by=who.name, at=s.at, good=False, words=say("begun, not accepted")
            )
            for s in store.begun(w.db, machine_id, who.id, w.now - timedelta(hours=rules.hours))
        ),
        history=tuple(
            SetupLine(id=s.id, kind=SetupKind(s.kind), by=by, at=e.at, good=e.good, words=e.words)
            for s, e, by in lines[:12]
        ),
        drift=tuple(drift),
        drift_words=_drift_words(drift, rules),
        allowed=float(rules.head.rise.mm),
        head=_head_proposal(spec_of(row)),
        vises=tuple(
            ViseChoice(id=row.id, name=row.name, settings=_vise_proposal(row.id, vise)) for row, vise in vises(w)
        ),
    )


#: Usual indicators, the spans that are read where the table is wide enough, and how far inside the jaw's ends.
_DIVISION = {Unit.INCH: "0.0005", Unit.MM: "0.01"}


_SPANS = {Unit.INCH: ("8", "6", "4"), Unit.MM: ("200", "150", "100")}


_INSIDE = {Unit.INCH: Length("0.25", Unit.INCH), Unit.MM: Length("6", Unit.MM)}


_RANGE = {Unit.INCH: "0.030", Unit.MM: "0.8"}


_CUTTER = {Unit.INCH: "2.5", Unit.MM: "63"}


def _head_proposal(spec: Machine) -> HeadSettings | None:
    """The widest usual span that the table bears front to back; the error shows most over it."""
    if not spec.head.tilt and spec.head.nod is None:
        return None
    u, width = spec.unit, spec.length(spec.table.width).mm
    span = next((x for x in _SPANS[u] if Length(x, u).mm < width), _SPANS[u][-1])
    return HeadSettings(unit=u, division=_DIVISION[u], span=span, cutter=_CUTTER[u], cutter_unit=u)


def _vise_proposal(id: uuid.UUID, vise: Vise) -> ViseSettings:
    """Read a little inside both ends of the jaw."""
    u = vise.unit
    at = (Length(vise.jaw, u).mm / 2 - _INSIDE[u].mm) / u.in_mm
    reach = in_places(at, 3 if u is Unit.INCH else 1)
    return ViseSettings(vise=id, unit=u, division=_DIVISION[u], left_at=f"-{reach}", right_at=reach, range=_RANGE[u])


def _drift(w: Work, heads: Sequence[tuple[t.Setup, t.SetupEnd, str]], rules: SetupRules) -> list[DriftPoint]:
    rows = store.passes(w.db, [s.id for s, _, _ in heads])
    found = []
    for s, end, by in heads:
        passes = head_passes(HeadSettings.model_validate_json(s.settings), rows.get(s.id, []))
        last = counting(passes)
        for axis in HeadAxis:
            if axis in last:
                first, left = next(p.sweep for p in passes if p.sweep.axis is axis), last[axis]
                found.append(
                    DriftPoint(
                        at=end.at,
                        by=by,
                        axis=axis,
                        found=float(first.rise * rules.head.span.mm / first.span),
                        left=float(left.rise * rules.head.span.mm / left.span),
                    )
                )
    return found


def _drift_words(points: Sequence[DriftPoint], rules: SetupRules) -> str:
    """How fast the head drifts: from how it was left to how it was found next, per week."""
    weeks = moved = 0.0
    for axis in HeadAxis:
        mine = [p for p in points if p.axis is axis]
        for before, after in pairwise(mine):
            weeks += (after.at - before.at).total_seconds() / 604_800
            moved += abs(after.found - before.left)
    if weeks < 1:
        return say("Two setups a week apart are needed to say how fast this head drifts.")
    rate = moved / weeks
    unit = rules.head.rise.unit
    allowed = float(rules.head.rise.mm)
    last = allowed / rate if rate else 0
    tail = (
        say("; left square it stays within the standard for about {last} weeks", last=max(round(last), 1))
        if rate
        else ""
    )
    return say(
        "It drifts about {small} over {text} {unit} in a week{tail}.",
        small=small(rate, unit),
        text=rules.head.span.text,
        unit=unit,
        tail=tail,
    )
