"""Operations of cutting: the run card."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import AssignmentPath, AttemptPath, api, out, run
from incudo.app.cutting import run as cutting
from incudo.app.cutting import views


@api.get("/job-cards/<uuid:assignment>/run", responses={200: views.RunCardView})
def run_card_page(path: AssignmentPath) -> Response:
    """The run card of a job card."""
    return out(run(lambda w: cutting.run_page(w, gate.who(), path.assignment)))


@api.get("/job-cards/<uuid:assignment>/run/frames", responses={200: views.RunFrames})
def run_card_frames(path: AssignmentPath) -> Response:
    """The part before every operation of the run card."""
    return out(run(lambda w: cutting.run_frames(w, gate.who(), path.assignment)))


@api.post("/attempts/<uuid:attempt>/run", responses={200: views.RunCardView})
def keep_run_tick(path: AttemptPath, body: cutting.RunTickCommand) -> Response:
    """Keep a step of the run card that was done, or a reading."""
    return out(run(lambda w: cutting.keep_run_tick(w, gate.who(), path.attempt, body)))
