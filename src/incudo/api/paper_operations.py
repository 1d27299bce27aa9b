"""Operations that give a sheet to print, as PDF."""

from __future__ import annotations

from flask import Response, request
from pydantic import BaseModel

from incudo.api.kernel import gate
from incudo.api.kernel.common import SheetPath, StudentPath, api, run
from incudo.app.administration import papers


class PaperQuery(BaseModel):
    paper: papers.Paper = papers.Paper.A4


def _pdf(name: str, data: bytes) -> Response:
    response = Response(data, content_type="application/pdf")
    response.headers["Content-Disposition"] = f'inline; filename="{name}"'
    return response


@api.get("/students/<uuid:student>/skill-record.pdf", responses={200: None})
def skill_record(path: StudentPath, query: PaperQuery) -> Response:
    """A student's skill record to print."""
    name, data = run(lambda w: papers.skill_record(w, gate.who(), path.student, query.paper))
    return _pdf(name, data)


@api.get("/exercise-sheets/<uuid:sheet>/sheet.pdf", responses={200: None})
def sheet_paper(path: SheetPath, query: PaperQuery) -> Response:
    """An exercise sheet to print; for who teaches with its key on pages of their own."""
    name, data = run(lambda w: papers.exercise_sheet(w, gate.who(), path.sheet, query.paper))
    return _pdf(name, data)


@api.get("/leaflet.pdf", responses={200: None})
def leaflet(query: PaperQuery) -> Response:
    """The leaflet for the wall."""
    return _pdf("leaflet.pdf", run(lambda w: papers.leaflet(w, query.paper)))


@api.get("/machine-labels.pdf", responses={200: None})
def machine_labels(query: PaperQuery) -> Response:
    """Labels with the code that leads to each machine's start page."""
    return _pdf("machine-labels.pdf", run(lambda w: papers.machine_labels(w, query.paper, request.host_url)))
