"""Operations of finding the part."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import AssignmentPath, CutterQuery, MachinePath, api, out, run
from incudo.app.locating import finding, found, moves, views


@api.get("/machines/<uuid:machine>/moves", responses={200: moves.MovesPage})
def moves_page(path: MachinePath) -> Response:
    """A machine's handles and their backlash."""
    return out(run(lambda w: moves.moves_page(w, path.machine)))


@api.post("/machines/<uuid:machine>/moves", responses={200: moves.MovesAnswer})
def moves_check(path: MachinePath, body: moves.MovesQuestion) -> Response:
    """How to come from place to place; keeps nothing."""
    return out(run(lambda w: moves.moves_check(w, path.machine, body)))


@api.post("/machines/<uuid:machine>/backlash", responses={200: moves.MovesPage})
def keep_backlash(path: MachinePath, body: moves.BacklashCommand) -> Response:
    """Keep a measurement of a handle's backlash."""
    return out(run(lambda w: moves.keep_backlash(w, gate.who(), path.machine, body)))


@api.get("/job-cards/<uuid:assignment>/datums", responses={200: views.FindPage})
def find_page(path: AssignmentPath, query: CutterQuery) -> Response:
    """The datum record of a job card, and where everything else is from it."""
    return out(run(lambda w: found.find_page(w, gate.who(), path.assignment, query.cutter)))


@api.post("/job-cards/<uuid:assignment>/datums/check", responses={200: views.FindAnswer})
def find_check(path: AssignmentPath, body: views.FindQuestion) -> Response:
    """What touches tell; keeps nothing."""
    return out(run(lambda w: finding.find_check(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/datums", responses={200: views.FindPage})
def keep_find(path: AssignmentPath, body: views.KeepFind) -> Response:
    """Keep what was found in the datum record."""
    return out(run(lambda w: finding.keep_find(w, gate.who(), path.assignment, body)))
