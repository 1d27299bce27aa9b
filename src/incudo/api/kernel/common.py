"""What all operations share: the blueprint, the answer, the way to the use cases, paths and queries."""

from __future__ import annotations

import hashlib
import os
import uuid
from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from incudo import __version__
from incudo.api.kernel import gate
from incudo.api.kernel.problems import Problem
from incudo.app.administration import papers, registers
from incudo.app.kernel.language import code_now
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.app.shop import tables
from incudo.store.kernel import changes

T = TypeVar("T")
#: Seconds after which a polled page is made anew though nothing was recorded: where links are shown, and elsewhere.
LIVE, SLOW = 5, 60
PROBLEMS: Any = {str(s): Problem for s in (401, 403, 404, 409, 413, 422, 429, 500, 503)}


class AssignmentPath(BaseModel):
    assignment: uuid.UUID


class AttemptPath(BaseModel):
    attempt: uuid.UUID


class HandInPath(BaseModel):
    hand_in: uuid.UUID


class ProjectPath(BaseModel):
    project: uuid.UUID


class VersionPath(BaseModel):
    version: uuid.UUID


class StudentPath(BaseModel):
    student: uuid.UUID


class RegisterPath(BaseModel):
    name: registers.RegisterName


class GroupPath(BaseModel):
    group: uuid.UUID


class GaugePath(BaseModel):
    gauge: uuid.UUID


class MachinePath(BaseModel):
    machine: uuid.UUID


class BankPath(BaseModel):
    bank: str = Field(max_length=60)


class SetupPath(BaseModel):
    setup: uuid.UUID


class RunPath(BaseModel):
    run: uuid.UUID


class UptoQuery(BaseModel):
    upto: int | None = Field(None, ge=0, le=1000)


class ReckonPath(BaseModel):
    name: str = Field(max_length=60)


class QuestionPath(BaseModel):
    question: uuid.UUID


class SheetPath(BaseModel):
    sheet: uuid.UUID


class StudyPath(BaseModel):
    study: uuid.UUID


class StudyQuery(BaseModel):
    gauge: uuid.UUID | None = None


class IssuePath(BaseModel):
    issue: uuid.UUID


class CutterPath(BaseModel):
    cutter: uuid.UUID


class MaterialPath(BaseModel):
    material: str = Field(max_length=60)


class TablePath(BaseModel):
    table: tables.TableName


class FillQuery(BaseModel):
    machine: uuid.UUID | None = None
    material: str = Field("", max_length=60)
    cutter: uuid.UUID | None = None


class CutterQuery(BaseModel):
    cutter: str = Field("", max_length=20)


class DevicePath(BaseModel):
    device: uuid.UUID


class TagPath(BaseModel):
    tag: uuid.UUID


class CallPath(BaseModel):
    call: uuid.UUID


class StudentQuery(BaseModel):
    student: uuid.UUID | None = None


class GroupQuery(BaseModel):
    group: uuid.UUID | None = None


class FindQuery(BaseModel):
    find: str = Field("", max_length=60)


class CandidateQuery(BaseModel):
    machine: uuid.UUID | None = None
    group: uuid.UUID | None = None


class Health(View):
    """The server answers and reaches its database."""

    ok: bool


class Words(View):
    """A language: its code, its text for each English one (empty for English), and words that are spelled otherwise.

    ``zone``: the shop's time zone by its IANA name.
    """

    code: str
    messages: dict[str, str]
    spelling: dict[str, str]
    zone: str


class Done(View):
    """It is done."""

    done: bool


class PaperQuery(BaseModel):
    paper: papers.Paper = papers.Paper.A4


#: A process that only answers does without the document of its operations: making it is half of its start.
DOCUMENTED = os.environ.get("INCUDO_DOCUMENT") != "0"
api = APIBlueprint(
    "api",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="incudo")],
    abp_responses=PROBLEMS,
    doc_ui=DOCUMENTED,
)


def out(view: View) -> Response:
    """The answer as JSON."""
    return Response(view.model_dump_json(), content_type="application/json")


def run(use_case: Callable[[Work], T]) -> T:
    """Run a use case in its transaction."""
    return gate.unit().run(use_case)


def polled(
    use_case: Callable[[Work], View],
    concerns: Iterable[str],
    seconds: int,
    asker: tuple[str, Callable[[Work], object]] | None = None,
) -> Response:
    """The answer of an operation that is asked again and again, or 304 when nothing of these concerns has changed.

    Counters are compared before anything else is read, in the snapshot that the answer would be made from. What
    changes by time alone (a link that fell silent, a confirmation that ran out) is looked at every so many seconds.
    ``asker``: who asks where nobody is signed in, and what refuses them.
    """
    name, let_in = asker or (str(gate.who().id), lambda _: None)
    asked = f"{__version__} {name} {code_now()} {request.full_path}"

    def answer(w: Work) -> tuple[str, View | None]:
        let_in(w)
        counted = sorted(changes.numbers(w.db, concerns).items())
        said = f"{asked} {counted} {int(w.now.timestamp()) // seconds}"
        tag = hashlib.sha256(said.encode()).hexdigest()[:32]
        return tag, None if request.if_none_match.contains(tag) else use_case(w)

    tag, view = run(answer)
    response = Response(status=304) if view is None else out(view)
    response.set_etag(tag)
    return response


def pdf(name: str, data: bytes) -> Response:
    """A sheet to print, shown in the browser."""
    response = Response(data, content_type="application/pdf")
    response.headers["Content-Disposition"] = f'inline; filename="{name}"'
    return response


def attached(response: Response, name: str) -> Response:
    """As a file of this name, to keep."""
    response.headers.set("Content-Disposition", "attachment", filename=name)
    return response
