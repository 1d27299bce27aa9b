"""What was decided about a part, as the student reads it."""

from __future__ import annotations

from datetime import datetime

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.app.parts.attempts import (
    AttemptFile,
)
from incudo.core.parts.inspection import Disposition, Outcome
from incudo.store import schema as t
from incudo.store.people import people as people_store


class DecidedFinding(View):
    """What was decided about one characteristic."""

    characteristic: int
    name: str
    verdict: str
    disposition: Disposition | None
    reason: str


class DecisionView(View):
    """What an instructor said about a part."""

    at: datetime
    by: str
    outcome: Outcome
    remark: str
    findings: tuple[DecidedFinding, ...]


def decision_views(w: Work, file: AttemptFile) -> tuple[DecisionView, ...]:
    """All decisions about an attempt, the newest first."""
    decided = [file.decisions[h.id] for h in file.hand_ins if h.id in file.decisions]
    names = people_store.names(w.db, (d.assessor_id for d in decided))
    return tuple(_decision_view(file, d, names[d.assessor_id]) for d in reversed(decided))


def _decision_view(file: AttemptFile, d: t.Decision, by: str) -> DecisionView:
    return DecisionView(
        at=d.at,
        by=by,
        outcome=Outcome(d.outcome),
        remark=d.remark,
        findings=tuple(
            DecidedFinding(
                characteristic=f.characteristic,
                name=file.project.characteristic(f.characteristic).name,
                verdict=f.verdict,
                disposition=Disposition(f.disposition) if f.disposition else None,
                reason=f.reason,
            )
            for f in sorted(file.findings[d.id], key=lambda f: f.characteristic)
            if f.disposition
        ),
    )
