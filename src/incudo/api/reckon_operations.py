"""Operations of the reckoner, the exercises, the crib and its registers."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    AssignmentPath,
    CutterPath,
    FillQuery,
    IssuePath,
    QuestionPath,
    ReckonPath,
    SheetPath,
    TablePath,
    api,
    out,
    run,
)
from incudo.app.practice import exercises
from incudo.app.reckoning import reckoner
from incudo.app.shop import crib
from incudo.app.shop import tooling as stock


@api.get("/reckonings", responses={200: reckoner.ReckonList})
def reckon_list() -> Response:
    """Every calculation with its inputs, units and bounds; what can be chosen to fill them."""
    return out(run(reckoner.reckon_list))


@api.get("/reckoning-fills", responses={200: reckoner.Fills})
def reckon_fill(query: FillQuery) -> Response:
    """What a machine, a material and a cutter say for the inputs."""
    return out(run(lambda w: reckoner.reckon_fill(w, query.machine, query.material, query.cutter)))


@api.post("/reckonings/<string:name>", responses={200: reckoner.ReckonAnswer})
def reckon_check(path: ReckonPath, body: reckoner.ReckonQuestion) -> Response:
    """Work one out; keeps nothing."""
    return out(reckoner.reckon_check(path.name, body))


@api.post("/job-cards/<uuid:assignment>/reckonings", responses={200: reckoner.ReckonedList})
def keep_reckoning(path: AssignmentPath, body: reckoner.KeepReckoning) -> Response:
    """Keep a calculation on a job card."""
    return out(run(lambda w: reckoner.keep_reckoning(w, gate.who(), path.assignment, body)))


@api.get("/exercises", responses={200: exercises.ExercisePage})
def exercise_page() -> Response:
    """The exercises, sheets, and the slips that are made most."""
    return out(run(lambda w: exercises.exercise_page(w, gate.who())))


@api.post("/exercise-questions", responses={200: exercises.ExerciseQuestionView})
def ask_question(body: exercises.AskQuestion) -> Response:
    """A question; the open one comes again."""
    return out(run(lambda w: exercises.ask_question(w, gate.who(), body)))


@api.post("/exercise-questions/<uuid:question>/answer", responses={200: exercises.ExerciseQuestionView})
def answer_question(path: QuestionPath, body: exercises.AnswerQuestion) -> Response:
    """The one answer."""
    return out(run(lambda w: exercises.answer_question(w, gate.who(), path.question, body)))


@api.post("/exercise-sheets", responses={200: exercises.SheetView})
def set_sheet(body: exercises.SetSheet) -> Response:
    """Set a sheet for a group."""
    return out(run(lambda w: exercises.set_sheet(w, gate.who(), body)))


@api.get("/exercise-sheets/<uuid:sheet>", responses={200: exercises.SheetView})
def exercise_sheet(path: SheetPath) -> Response:
    """A sheet with one's own answers; for who teaches with everybody's."""
    return out(run(lambda w: exercises.sheet(w, gate.who(), path.sheet)))


@api.post("/exercise-sheets/<uuid:sheet>/answers", responses={200: exercises.SheetView})
def sheet_answer(path: SheetPath, body: exercises.SheetAnswer) -> Response:
    """Answer one number of a sheet."""
    return out(run(lambda w: exercises.sheet_answer(w, gate.who(), path.sheet, body)))


@api.get("/crib", responses={200: crib.CribPage})
def crib_page() -> Response:
    """The crib's counter."""
    return out(run(lambda w: crib.crib_page(w, gate.who())))


@api.post("/crib/issues", responses={200: crib.CribPage})
def issue_thing(body: crib.IssueCommand) -> Response:
    """Hand a cutter or a gauge out."""
    return out(run(lambda w: crib.issue(w, gate.who(), body)))


@api.post("/crib/issues/<uuid:issue>/return", responses={200: crib.CribPage})
def give_back(path: IssuePath, body: crib.GiveBackCommand) -> Response:
    """It came back, and how."""
    return out(run(lambda w: crib.give_back(w, gate.who(), path.issue, body)))


@api.get("/stock", responses={200: stock.StockPage})
def stock_page() -> Response:
    """The registers of cutters and materials."""
    return out(run(stock.stock_page))


@api.put("/cutters/<uuid:cutter>", responses={200: stock.StockPage})
def cutter_change(path: CutterPath, body: stock.CutterChange) -> Response:
    """A cutter's real diameter, number, place."""
    return out(run(lambda w: stock.cutter_change(w, path.cutter, body)))


@api.get("/tables/<string:table>.csv", responses={200: None})
def table_file(path: TablePath) -> Response:
    """A table as CSV."""
    text = run(lambda w: stock.table_file(w, path.table))
    name = f'attachment; filename="{path.table}.csv"'
    return Response(text, content_type="text/csv; charset=utf-8", headers={"Content-Disposition": name})


@api.post("/tables/<string:table>/check", responses={200: stock.TableReport})
def table_check(path: TablePath, body: stock.TableText) -> Response:
    """What every line of a file would do; keeps nothing."""
    return out(run(lambda w: stock.table_check(w, path.table, body)))


@api.put("/tables/<string:table>", responses={200: stock.TableReport})
def table_take(path: TablePath, body: stock.TableText) -> Response:
    """Take a file in, all of it or nothing."""
    return out(run(lambda w: stock.table_take(w, path.table, body)))
