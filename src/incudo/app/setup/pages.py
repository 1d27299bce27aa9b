"""What the pages of both kinds of record share."""

from __future__ import annotations

from collections.abc import Iterable

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Named, StepView
from incudo.app.setup.views import (
    EffectView,
    HeadSettings,
    NextView,
    PassLine,
    SetupPage,
    VisePlan,
    ViseSettings,
)
from incudo.core.setup.effect import Effect, Job
from incudo.core.setup.record import (
    SetupKind,
)
from incudo.core.setup.tram import HeadAxis
from incudo.store import schema as t


def effect_views(effects: Iterable[Effect]) -> tuple[EffectView, ...]:
    """What an error of the setup does to the part, in words and as a share of the tolerance."""
    return tuple(
        EffectView(words=e.words, share=e.share_words, over=e.share is not None and e.share > 1) for e in effects
    )


def page_of(
    w: Work,
    who: Who,
    row: t.Setup,
    s: HeadSettings | ViseSettings,
    job: Job | None,
    *,
    standard: str,
    standard_mm: float,
    school: str,
    ends: tuple[str, str],
    next: NextView,
    passes: tuple[PassLine, ...],
    lean: dict[str, float],
    effects: tuple[EffectView, ...],
    working: tuple[StepView, ...],
    along: str = "x",
    holding: str = "",
    plan: VisePlan | None = None,
    axes: tuple[HeadAxis, ...] = (),
    fixed: tuple[str, ...] = (),
) -> SetupPage:
    """What both kinds of record share, put around what each works out."""
    machine, person = find(w, t.Machine, row.machine_id, "machine"), find(w, t.Person, row.person_id, "person")
    end = w.db.get(t.SetupEnd, row.id)
    return SetupPage(
        id=row.id,
        kind=SetupKind(row.kind),
        machine=Named(id=machine.id, name=machine.name),
        by=Named(id=person.id, name=person.name),
        mine=person.id == who.id,
        at=row.at,
        assignment=row.assignment_id,
        job=job.name if job else "",
        unit=s.unit,
        division=s.division,
        standard=standard,
        standard_mm=standard_mm,
        school=school,
        along=along,
        ends=ends,
        holding=holding,
        plan=plan,
        axes=axes,
        fixed=fixed,
        next=next,
        passes=passes,
        lean=lean,
        effects=effects,
        working=working,
        accepted_at=end.at if end else None,
        accepted=end.words if end else "",
    )
