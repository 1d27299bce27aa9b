"""What all operations share: the blueprint, the answer, the way to the use cases, paths and queries."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any, TypeVar

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from incudo.api.kernel import gate
from incudo.api.kernel.problems import Problem
from incudo.app.administration import papers, registers
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.app.shop import tables

T = TypeVar("T")
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


class IssuePath(BaseModel):
    issue: uuid.UUID


class CutterPath(BaseModel):
    cutter: uuid.UUID


class TablePath(BaseModel):
    table: tables.TableName


class FillQuery(BaseModel):
    machine: uuid.UUID | None = None
    material: str = Field("", max_length=60)
    cutter: uuid.UUID | None = None


class CutterQuery(BaseModel):
    cutter: str = Field("", max_length=20)


class TagPath(BaseModel):
    tag: uuid.UUID


class CallPath(BaseModel):
    call: uuid.UUID


class StudentQuery(BaseModel):
    student: uuid.UUID | None = None


class PageQuery(BaseModel):
    page: int = Field(1, ge=1, le=100_000)


class GroupQuery(BaseModel):
    group: uuid.UUID | None = None


class FindQuery(BaseModel):
    find: str = Field("", max_length=60)


class CandidateQuery(BaseModel):
    machine: uuid.UUID | None = None
    group: uuid.UUID | None = None


class MachineQuery(BaseModel):
    machine: uuid.UUID | None = None


class Health(View):
    """The server answers and reaches its database."""

    ok: bool


class Done(View):
    """It is done."""

    done: bool


class PaperQuery(BaseModel):
    paper: papers.Paper = papers.Paper.A4


api = APIBlueprint("api", __name__, url_prefix="/api", abp_tags=[Tag(name="incudo")], abp_responses=PROBLEMS)


def out(view: View) -> Response:
    """The answer as JSON."""
    return Response(view.model_dump_json(), content_type="application/json")


def run(use_case: Callable[[Work], T]) -> T:
    """Run a use case in its transaction."""
    return gate.unit().run(use_case)


def pdf(name: str, data: bytes) -> Response:
    """A sheet to print, shown in the browser."""
    response = Response(data, content_type="application/pdf")
    response.headers["Content-Disposition"] = f'inline; filename="{name}"'
    return response
