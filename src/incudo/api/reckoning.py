"""Operations of the reckoner."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import AssignmentPath, FillQuery, ReckonPath, api, out, run
from incudo.app.reckoning import reckoner, views


@api.get("/reckonings", responses={200: views.ReckonList})
def reckon_list() -> Response:
    """Every calculation with its inputs, units and bounds; what can be chosen to fill them."""
    return out(run(reckoner.reckon_list))


@api.get("/reckoning-fills", responses={200: views.Fills})
def reckon_fill(query: FillQuery) -> Response:
    """What a machine, a material and a cutter say for the inputs."""
    return out(run(lambda w: reckoner.reckon_fill(w, query.machine, query.material, query.cutter)))


@api.post("/reckonings/<string:name>", responses={200: views.ReckonAnswer})
def reckon_check(path: ReckonPath, body: views.ReckonQuestion) -> Response:
    """Work one out; keeps nothing. Closed to whoever has an exercise question on it open."""
    return out(run(lambda w: reckoner.reckon_check(w, gate.who(), path.name, body)))


@api.post("/job-cards/<uuid:assignment>/reckonings", responses={200: views.ReckonedList})
def keep_reckoning(path: AssignmentPath, body: views.KeepReckoning) -> Response:
    """Keep a calculation on a job card."""
    return out(run(lambda w: reckoner.keep_reckoning(w, gate.who(), path.assignment, body)))
