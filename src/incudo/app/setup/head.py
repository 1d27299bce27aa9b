"""The page of a record that squares a head."""

from __future__ import annotations

import json
from collections.abc import Sequence
from fractions import Fraction

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import StepView
from incudo.app.setup.pages import effect_views, page_of
from incudo.app.setup.passes import head_passes
from incudo.app.setup.standards import setup_rules
from incudo.app.setup.views import (
    HeadSettings,
    NextView,
    PassLine,
    SetupPage,
)
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say, together
from incudo.core.setup.effect import Job, head_effects
from incudo.core.setup.guide import (
    AXIS_WORDS,
    head_words,
    head_working,
    needle,
    small,
)
from incudo.core.setup.record import (
    Do,
    axes_in_order,
    head_next,
    pivot_learnt,
)
from incudo.core.setup.tram import STATIONS, HeadAxis, Sweep
from incudo.store import schema as t


def head_page(
    w: Work, who: Who, row: t.Setup, s: HeadSettings, rows: Sequence[t.SetupPass], job: Job | None
) -> SetupPage:
    """The page of a head that is being trammed."""
    machine, rules = find(w, t.Machine, row.machine_id, "machine"), setup_rules(w)
    head = spec_of(machine).head
    axes = axes_in_order(rules, tilt=head.tilt, nod=head.nod is not None)
    passes = head_passes(s, rows)
    known = spec_of(machine).pivot_behind
    learnt = pivot_learnt(passes)
    behind = known.mm if known else learnt
    division = Length(s.division, s.unit)
    nxt = head_next(passes, axes, rules.head, behind)
    last = next((p.sweep for p in reversed(passes) if p.sweep.axis is nxt.axis), None)
    said = head_words(nxt, last, division, learning=known is None and learnt is not None)
    newest = {p.sweep.axis: p.sweep for p in passes}
    cutter = Length(s.cutter, s.cutter_unit).mm
    low, high = STATIONS[nxt.axis]
    lines = []
    for r, p in zip(rows, passes, strict=True):
        off = abs(p.sweep.rise) * rules.head.span.mm / p.sweep.span
        lines.append(
            PassLine(
                number=r.number,
                axis=AXIS_WORDS[p.sweep.axis],
                low=json.loads(r.content)["low"],
                high=json.loads(r.content)["high"],
                off=small(off, s.unit),
                off_mm=float(off),
                within=rules.head.allows(p.sweep.rise, p.sweep.span),
                tight=p.tight,
                at=r.at,
            )
        )
    t_ = nxt.target
    return page_of(
        w,
        who,
        row,
        s,
        job,
        standard=rules.head.words,
        standard_mm=float(rules.head.rise.mm),
        school=rules.head_school.value,
        ends=(low, high),
        axes=axes,
        fixed=_fixed_words(machine.name, axes, newest, cutter, job, s.unit),
        next=NextView(
            do=nxt.do,
            axis=nxt.axis,
            title=said.title,
            lines=said.lines,
            stations=(low, high),
            targets=(needle(t_.low, division), needle(t_.high, division)) if t_ else None,
            tight=nxt.do is Do.TIGHTEN or (nxt.do is Do.READ and (nxt.again or not passes)),
        ),
        passes=tuple(lines),
        lean={a.value: x.angle for a, x in newest.items()},
        effects=effect_views(head_effects(newest, cutter, job, s.unit)),
        working=tuple(StepView.of(x) for x in (head_working(last, rules.head, behind, s.unit) if last else ())),
    )


def _fixed_words(
    name: str,
    axes: Sequence[HeadAxis],
    newest: dict[HeadAxis, Sweep],
    cutter: Fraction,
    job: Job | None,
    unit: Unit,
) -> tuple[str, ...]:
    """What a head that lacks an axis means: it cannot be set there, and this remains."""
    found = []
    for axis in HeadAxis:
        if axis in axes:
            continue
        words = say(
            "{name}'s head cannot be set {axis_words}. Read it anyway: what is out stays out.",
            name=name,
            axis_words=AXIS_WORDS[axis],
        )
        if axis in newest:
            remains = together((e.words for e in head_effects({axis: newest[axis]}, cutter, job, unit)), "; ")
            words = say(
                "{name}'s head cannot be set {axis_words}. This remains: {remains}.",
                name=name,
                axis_words=AXIS_WORDS[axis],
                remains=remains,
            )
        found.append(words)
    return tuple(found)
