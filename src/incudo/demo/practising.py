"""How the demo shop reckons: exercises with right answers and slips, a sheet, the crib, job cards."""

from __future__ import annotations

import json
import uuid
from datetime import timedelta
from fractions import Fraction

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.practice import exercise_views, questions, sheets, studies
from incudo.app.reckoning import reckoner, views
from incudo.app.shop import crib
from incudo.app.shop import tooling as stock
from incudo.core.kernel.quantity import Unit
from incudo.core.practice.exercise import solution, words_of
from incudo.core.reckoning import CALCULATIONS
from incudo.core.reckoning.calculation import wrong_answer
from incudo.core.reckoning.inputs import UNITS, shown
from incudo.core.reckoning.question import Question
from incudo.demo.story import Story, key, who
from incudo.store import schema as t

#: Who answers the sheet and with which slip at which number: the place of the slip in its calculation's list.
_SHEET: dict[str, dict[int, int]] = {
    "orla": {2: 0},
    "ines": {2: 0, 4: 0},
    "kaia": {1: 5, 2: 0, 3: 0, 5: 0},
}

#: Five blanks, and by how much each of three reads them off, in and round about, in ten-thousandths of an inch.
_BLANKS = (4013, 4487, 5021, 5502, 6038)
_READERS: dict[str, tuple[int, tuple[int, ...]]] = {
    "orla": (1, (0, 1, 0, -1, 0, 1, 0, 0, -1, 0)),
    "ines": (0, (1, 0, 0, 0, 1, -1, 0, 0, 1, 0)),
    "kaia": (-2, (0, -1, 1, 0, 0, -1, 0, 1, 0, -1)),
}


def answer_of(q: Question, slip: int | None) -> str:
    """The right answer as a student would type it, or the one that a slip leads to where it leads to one."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    right = c.work(values)
    words = words_of(q)
    if slip is not None:
        wrong = wrong_answer(c, c.slips[slip % len(c.slips)], values, right)
        if wrong is not None and abs(wrong - right.answer.value) > q.near:
            return words[int(wrong)] if words else _text(wrong, right.answer.kind, q.unit)
    return solution(q, "", "")[0] if words else _text(right.answer.value, right.answer.kind, q.unit)


def _text(value: Fraction, kind: object, unit: str) -> str:
    return shown(value / next(u[unit] for k, u in UNITS.items() if k is kind), 5)


def right_in_a_row(story: Story, student: Who, calculation: str, times: int) -> None:
    """Answer so many exercises of a calculation right, one after the other."""
    story.run(lambda w: _answers(w, story, student, calculation, [None] * times))


def stumble(story: Story, student: Who, calculation: str, slips: list[int | None]) -> None:
    """Answer exercises with these slips; none is a right answer."""
    for slip in slips:
        story.now += timedelta(minutes=2)
        story.run(lambda w, s=slip: _answers(w, story, student, calculation, [s]))  # type: ignore[misc]


def _answers(w: Work, story: Story, student: Who, calculation: str, slips: list[int | None]) -> None:
    for n, slip in enumerate(slips):
        ident = key("question", student.id, calculation, story.now, n)
        questions.open_question(w, student, exercise_views.AskQuestion(id=ident, calculation=calculation))
        q = questions.kept_question(find(w, t.ExerciseQuestion, ident, "question"))
        answer = exercise_views.AnswerQuestion(answer=answer_of(q, slip))
        questions.keep_answer(w, student, ident, answer)


def sheet_of_the_week(story: Story, group: str) -> None:
    """A sheet that three have answered, and what they got wrong."""
    ident = key("sheet")
    sheet = exercise_views.SetSheet(
        id=ident,
        group=key("group", group),
        title="Before Tuesday: speed, feed, dials",
        calculations=("spindle-speed", "table-feed", "dial-move", "cutter-at-edge"),
        each=2,
        seed="skerry",
        words="Pocket calculator and the plate on the machine; no help from the neighbour.",
    )
    story.run(lambda w: sheets.set_sheet(w, who("haldane"), sheet))
    for login, slips in _SHEET.items():
        story.now += timedelta(minutes=9)
        story.run(lambda w, s=login, x=slips: _sheet_answers(w, who(s), ident, x))  # type: ignore[misc]


def _sheet_answers(w: Work, student: Who, ident: uuid.UUID, slips: dict[int, int]) -> None:
    row = find(w, t.ExerciseSheet, ident, "sheet")
    for n, data in enumerate(json.loads(row.questions), 1):
        if student.name.startswith("Kaia") and n > 6:
            break
        text = answer_of(questions.read_question(data), slips.get(n))
        command = exercise_views.SheetAnswer(id=key("sheet answer", student.id, n), number=n, answer=text)
        sheets.sheet_answer(w, student, ident, command)


def _cutter(w: Work, name: str) -> uuid.UUID:
    return next(i for i, c in stock.cutters(w).items() if c.name == name)


def counter(story: Story, login: str, *, cutter: str = "", instrument: str = "", note: str = "") -> uuid.UUID:
    """Something is handed out over the counter."""
    ident = key("issue", login, cutter, instrument, story.now)

    def give(w: Work) -> None:
        command = crib.IssueCommand(
            id=ident,
            person=key("person", login),
            cutter=_cutter(w, cutter) if cutter else None,
            instrument=key("instrument", instrument) if instrument else None,
            note=note,
        )
        crib.issue(w, who("dacosta"), command)

    story.run(give)
    return ident


def back(story: Story, issue: uuid.UUID, condition: crib.Condition, note: str = "") -> None:
    """It comes back."""
    command = crib.GiveBackCommand(condition=condition, note=note)
    story.run(lambda w: crib.give_back(w, who("dacosta"), issue, command))


def reckoned_today(story: Story, login: str, assignment: uuid.UUID) -> None:
    """Speed and feed for the first step, kept on the job card."""
    speed = {
        "surface": ("80", "ft/min"),
        "diameter": ("0.5", "in"),
        "steps": ("90 145 230 370 590 940 1500 2400", "rpm"),
    }
    feed = {"speed": ("590", "rpm"), "teeth": ("4", ""), "chip": ("0.002", "in"), "per_turn": ("0.200", "in")}
    for name, given in (("spindle-speed", speed), ("table-feed", feed)):
        command = views.KeepReckoning(
            id=key("reckoned", login, name),
            name=name,
            given={k: views.GivenValue(value=v, unit=u) for k, (v, u) in given.items()},
            note="first step, end mill 1/2 in",
        )
        story.run(lambda w, c=command: reckoner.keep_reckoning(w, who(login), assignment, c))  # type: ignore[misc]


def repeated_readings(story: Story, group: str) -> None:
    """A study of the inch micrometer with five blanks that three have read, ended and shown."""
    ident, boss = key("study"), who("haldane")
    begin = studies.BeginStudy(
        id=ident,
        instrument=key("instrument", "m01"),
        group=key("group", group),
        what="Thickness of the five marked blanks, at the cross",
        parts=len(_BLANKS),
        repeats=2,
        width="0.004",
    )
    story.run(lambda w: studies.begin_study(w, boss, begin))
    for login, (bias, scatter) in _READERS.items():
        story.now += timedelta(minutes=6)
        story.run(lambda w, p=login, b=bias, s=scatter: _read_blanks(w, who(p), ident, b, s))  # type: ignore[misc]
    story.run(lambda w: studies.end_study(w, boss, ident))


def _read_blanks(w: Work, reader: Who, ident: uuid.UUID, bias: int, scatter: tuple[int, ...]) -> None:
    view = studies.study_view(w, reader, ident)
    for n, more in enumerate(scatter, start=1):
        value = f"0.{_BLANKS[(view.part or 1) - 1] + bias + more}"
        reading = studies.ReadInStudy(id=key("study", reader.id, n), turn=n, value=value, unit=Unit.INCH)
        view = studies.read_in_study(w, reader, ident, reading)
