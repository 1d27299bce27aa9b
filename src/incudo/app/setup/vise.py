"""The page of a record that aligns a vise."""

from __future__ import annotations

import json
from collections.abc import Sequence

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import StepView
from incudo.app.setup.pages import effect_views, page_of
from incudo.app.setup.passes import factor_of, stations_of, vise_passes
from incudo.app.setup.standards import holding_of, setup_rules
from incudo.app.setup.views import (
    NextView,
    PassLine,
    SetupPage,
    VisePlan,
    ViseSettings,
)
from incudo.core.kernel.quantity import Length
from incudo.core.kernel.say import say
from incudo.core.setup.effect import Job, vise_effects
from incudo.core.setup.guide import (
    ends_of,
    needle,
    small,
    vise_words,
    vise_working,
)
from incudo.core.setup.record import (
    Do,
    in_standard,
    vise_next,
)
from incudo.core.setup.standard import ViseSchool
from incudo.store import schema as t


def vise_page(
    w: Work, who: Who, row: t.Setup, s: ViseSettings, rows: Sequence[t.SetupPass], job: Job | None
) -> SetupPage:
    """The page of a vise that is being indicated."""
    rules = setup_rules(w)
    holding = find(w, t.Workholding, s.vise, "vise")
    vise = holding_of(holding)
    jaw, bolts = Length(vise.jaw, vise.unit).mm, Length(vise.bolts, vise.unit).mm
    standard, division = rules.vise.mm, Length(s.division, s.unit)
    passes = vise_passes(s, vise, rows)
    pivot_at = -bolts / 2 if s.pivot == "left" else bolts / 2
    end = "right" if s.pivot == "left" else "left"
    nxt = vise_next(passes, rules.vise_school, jaw, standard, pivot_at, end)
    last = passes[-1].sweep if passes else None
    said = vise_words(nxt, last, rules.vise_school, s.along, division, pivot_at, factor_of(s))
    ends = ends_of(s.along)
    lengths = [(say("the part's length"), job.length)] if job else []
    targets = None
    if nxt.bring and last:
        aims = {"left": last.left, "right": last.right, nxt.bring.end: nxt.bring.to}
        if rules.vise_school is not ViseSchool.WALK_IN:
            aims = dict.fromkeys(aims, nxt.bring.to)
        targets = (needle(aims["left"] / factor_of(s), division), needle(aims["right"] / factor_of(s), division))
    lines = tuple(
        PassLine(
            number=r.number,
            axis="",
            low=json.loads(r.content)["low"],
            high=json.loads(r.content)["high"],
            off=small(p.sweep.over(jaw), s.unit),
            off_mm=float(p.sweep.over(jaw)),
            within=in_standard(p.sweep, jaw, standard),
            tight=p.tight,
            at=r.at,
        )
        for r, p in zip(rows, passes, strict=True)
    )
    return page_of(
        w,
        who,
        row,
        s,
        job,
        standard=say("{text} {unit} over the jaw", text=rules.vise.text, unit=rules.vise.unit),
        standard_mm=float(standard),
        school=rules.vise_school.value,
        along=s.along,
        ends=ends,
        holding=holding.name,
        plan=VisePlan(
            jaw=float(jaw),
            bolts=float(bolts),
            bolts_before=float(Length(vise.bolts_before, vise.unit).mm),
            left_at=float(stations_of(s, vise)[0]),
            right_at=float(stations_of(s, vise)[1]),
            pivot=s.pivot,
            bring=dict(zip(("left", "right"), ends, strict=True)).get(nxt.bring.end, "") if nxt.bring else "",
        ),
        next=NextView(
            do=nxt.do,
            axis=None,
            title=said.title,
            lines=said.lines,
            stations=ends,
            targets=targets,
            tight=nxt.do is Do.TIGHTEN,
        ),
        passes=lines,
        lean={"jaw": float(last.slope)} if last else {},
        effects=effect_views(vise_effects(last, job, jaw, s.unit) if last else ()),
        working=tuple(StepView.of(x) for x in (vise_working(last, jaw, lengths, s.unit) if last else ())),
    )
