"""Operations of cutting: the run card and the dry run."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import AssignmentPath, AttemptPath, GroupQuery, PaperQuery, RunPath, api, out, pdf, run
from incudo.app.administration import run_papers
from incudo.app.cutting import dry, dry_views, noticed, views
from incudo.app.cutting import run as cutting


@api.get("/job-cards/<uuid:assignment>/run", responses={200: views.RunCardView})
def run_card_page(path: AssignmentPath) -> Response:
    """The run card of a job card."""
    return out(run(lambda w: cutting.run_page(w, gate.who(), path.assignment)))


@api.get("/job-cards/<uuid:assignment>/run/frames", responses={200: views.RunFrames})
def run_card_frames(path: AssignmentPath) -> Response:
    """The part before every operation of the run card."""
    return out(run(lambda w: cutting.run_frames(w, gate.who(), path.assignment)))


@api.get("/job-cards/<uuid:assignment>/run.pdf", responses={200: None})
def run_card_paper(path: AssignmentPath, query: PaperQuery) -> Response:
    """The run card to print."""
    name, data = run(lambda w: run_papers.run_paper(w, gate.who(), path.assignment, query.paper))
    return pdf(name, data)


@api.post("/attempts/<uuid:attempt>/run", responses={200: views.RunCardView})
def keep_run_tick(path: AttemptPath, body: cutting.RunTickCommand) -> Response:
    """Keep a step of the run card that was done, or a reading."""
    return out(run(lambda w: cutting.keep_run_tick(w, gate.who(), path.attempt, body)))


@api.get("/job-cards/<uuid:assignment>/dry", responses={200: dry_views.DryRunView})
def dry_run_page(path: AssignmentPath) -> Response:
    """The dry run of a job card's plan that was begun last."""
    return out(run(lambda w: dry.dry_page(w, gate.who(), path.assignment)))


@api.post("/job-cards/<uuid:assignment>/dry", responses={200: dry_views.DryRunView})
def begin_dry_run(path: AssignmentPath, body: dry_views.BeginDryRun) -> Response:
    """Begin a dry run of the newest plan."""
    return out(run(lambda w: dry.begin_dry_run(w, gate.who(), path.assignment, body)))


@api.post("/dry-runs/<uuid:run>/acts", responses={200: dry_views.DryRunView})
def keep_dry_act(path: RunPath, body: dry_views.DryActCommand) -> Response:
    """Do the next step of a dry run."""
    return out(run(lambda w: dry.dry_act(w, gate.who(), path.run, body)))


@api.post("/attempts/<uuid:attempt>/signs", responses={200: noticed.NoticedView})
def keep_sign(path: AttemptPath, body: noticed.KeepSign) -> Response:
    """Keep what was noticed at the machine."""
    return out(run(lambda w: noticed.keep_sign(w, gate.who(), path.attempt, body)))


@api.get("/signs", responses={200: noticed.NoticedTable})
def noticed_signs(query: GroupQuery) -> Response:
    """What a group noticed most at the machines; without one the group that meets now."""
    return out(run(lambda w: noticed.noticed_table(w, query.group)))


@api.post("/attempts/<uuid:attempt>/remarks", responses={200: views.RunCardView})
def keep_remark(path: AttemptPath, body: cutting.RemarkCommand) -> Response:
    """Say something on a student's run card."""
    return out(run(lambda w: cutting.keep_remark(w, gate.who(), path.attempt, body)))
