"""Operations of rigs and exercises."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    PaperQuery,
    QuestionPath,
    ReckonPath,
    RunPath,
    SheetPath,
    StudyPath,
    StudyQuery,
    UptoQuery,
    api,
    out,
    pdf,
    run,
)
from incudo.app.administration import papers
from incudo.app.practice import exercise_views, exercises, questions, rig_runs, rig_views, rigs, sheets, studies


@api.get("/exercise-sheets/<uuid:sheet>/sheet.pdf", responses={200: None})
def sheet_paper(path: SheetPath, query: PaperQuery) -> Response:
    """An exercise sheet to print; for who teaches with its key on pages of their own."""
    name, data = run(lambda w: papers.exercise_sheet(w, gate.who(), path.sheet, query.paper))
    return pdf(name, data)


@api.get("/exercises", responses={200: exercise_views.ExercisePage})
def exercise_page() -> Response:
    """The exercises, sheets, and the slips that are made most."""
    return out(run(lambda w: exercises.exercise_page(w, gate.who())))


@api.get("/reckonings/<string:name>/example", responses={200: exercise_views.Example})
def reckon_example(path: ReckonPath) -> Response:
    """Values from this shop to see a calculation with."""
    return out(run(lambda w: questions.example(w, path.name)))


@api.post("/exercise-questions", responses={200: exercise_views.ExerciseQuestionView})
def ask_question(body: exercise_views.AskQuestion) -> Response:
    """A question; the open one comes again."""
    return out(run(lambda w: questions.ask_question(w, gate.who(), body)))


@api.post("/exercise-questions/<uuid:question>/answer", responses={200: exercise_views.ExerciseQuestionView})
def answer_question(path: QuestionPath, body: exercise_views.AnswerQuestion) -> Response:
    """The one answer."""
    return out(run(lambda w: questions.answer_question(w, gate.who(), path.question, body)))


@api.post("/exercise-sheets", responses={200: exercise_views.SheetView})
def set_sheet(body: exercise_views.SetSheet) -> Response:
    """Set a sheet for a group."""
    return out(run(lambda w: sheets.set_sheet(w, gate.who(), body)))


@api.get("/exercise-sheets/<uuid:sheet>", responses={200: exercise_views.SheetView})
def exercise_sheet(path: SheetPath) -> Response:
    """A sheet with one's own answers; for who teaches with everybody's."""
    return out(run(lambda w: sheets.sheet(w, gate.who(), path.sheet)))


@api.post("/exercise-sheets/<uuid:sheet>/end", responses={200: exercise_views.SheetView})
def end_sheet(path: SheetPath) -> Response:
    """End a sheet that is answered in class."""
    return out(run(lambda w: sheets.end_sheet(w, gate.who(), path.sheet)))


@api.post("/exercise-sheets/<uuid:sheet>/answers", responses={200: exercise_views.SheetView})
def sheet_answer(path: SheetPath, body: exercise_views.SheetAnswer) -> Response:
    """Answer one number of a sheet."""
    return out(run(lambda w: sheets.sheet_answer(w, gate.who(), path.sheet, body)))


@api.get("/rigs", responses={200: rig_views.RigList})
def rig_list() -> Response:
    """The practice rigs and exercises."""
    return out(run(lambda w: rigs.rig_list(w, gate.who())))


@api.post("/rigs/runs", responses={200: rig_views.RigRunView})
def begin_run(body: rig_views.BeginRun) -> Response:
    """Begin a run of a rig."""
    return out(run(lambda w: rig_runs.begin_run(w, gate.who(), body)))


@api.get("/rigs/runs/<uuid:run>", responses={200: rig_views.RigRunView})
def rig_run(path: RunPath, query: UptoQuery) -> Response:
    """A run, after its last action or after so many of them."""
    return out(run(lambda w: rig_runs.rig_run(w, gate.who(), path.run, query.upto)))


@api.post("/rigs/runs/<uuid:run>/actions", responses={200: rig_views.RigRunView})
def rig_act(path: RunPath, body: rig_views.RigActs) -> Response:
    """Do something at one's own run."""
    return out(run(lambda w: rig_runs.rig_act(w, gate.who(), path.run, body)))


@api.post("/rigs/exercises", responses={200: rig_views.RigList})
def set_exercise(body: rig_views.SetExercise) -> Response:
    """Set a rig as an exercise for a group."""
    return out(run(lambda w: rigs.set_exercise(w, gate.who(), body)))


@api.get("/studies", responses={200: studies.StudyList})
def study_list(query: StudyQuery) -> Response:
    """Repeated-readings studies: of one's group, of all, or of one gauge."""
    return out(run(lambda w: studies.study_list(w, gate.who(), query.gauge)))


@api.post("/studies", responses={200: studies.StudyView})
def begin_study(body: studies.BeginStudy) -> Response:
    """Begin a study with a group."""
    return out(run(lambda w: studies.begin_study(w, gate.who(), body)))


@api.get("/studies/<uuid:study>", responses={200: studies.StudyView})
def study_page(path: StudyPath) -> Response:
    """A study: what one reads next, or what came of it."""
    return out(run(lambda w: studies.study_view(w, gate.who(), path.study)))


@api.post("/studies/<uuid:study>/readings", responses={200: studies.StudyView})
def read_in_study(path: StudyPath, body: studies.ReadInStudy) -> Response:
    """Keep a reading of one's next turn, or of the last one again."""
    return out(run(lambda w: studies.read_in_study(w, gate.who(), path.study, body)))


@api.post("/studies/<uuid:study>/end", responses={200: studies.StudyView})
def end_study(path: StudyPath) -> Response:
    """End a study; everybody sees what came of it."""
    return out(run(lambda w: studies.end_study(w, gate.who(), path.study)))
