"""Exercises: a question from this shop's machines and cutters, the one answer, the slip; sheets for a group."""

from __future__ import annotations

import json
import uuid
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from fractions import Fraction
from typing import Annotated, Any

from pydantic import Field, StringConstraints

from incudo import shipped
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, Note, StepView, View
from incudo.app.shop.machines import spec_of
from incudo.app.shop.tags import closed_words
from incudo.app.shop.tooling import cutters, stocks
from incudo.app.skills.records import skill_graph
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.practice import exercise as core
from incudo.core.reckoning import CALCULATIONS
from incudo.core.reckoning.calculation import UNITS
from incudo.core.skills.graph import ExerciseStandard
from incudo.core.skills.permission import Role
from incudo.store import schema as t
from incudo.store.people import people as people_store
from incudo.store.practice import exercises as store
from incudo.store.session import sessions as session_store
from incudo.store.shop import shop as shop_store

#: Slips of so many days are counted.
SLIPS_OF = timedelta(days=60)
_MOST_SLIPS = 12
_GIVEN_UP = ""
CalculationName = Annotated[str, StringConstraints(min_length=1, max_length=60)]


class GivenLine(View):
    label: str
    value: str


class ExerciseAnswerView(View):
    """An answer held against the right one. Empty, the working was asked for instead."""

    answer: str
    unit: str
    right: bool
    slip: str
    correct: str
    working: tuple[StepView, ...]


class ExerciseQuestionView(View):
    """A question; ``choices`` are the answers in words, empty where a number is asked in one of ``units``."""

    id: uuid.UUID
    calculation: str
    name: str
    words: str
    given: tuple[GivenLine, ...]
    unit: str
    units: tuple[str, ...]
    choices: tuple[str, ...]
    near: str
    answered: ExerciseAnswerView | None
    in_a_row: int


class ExerciseCard(View):
    """A calculation that is an exercise: how far one is, how far one must come for a skill."""

    calculation: str
    name: str
    group: str
    in_a_row: int
    wanted: int
    skill: str
    answered: int
    right: int


class SheetLine(View):
    """A sheet in short; ``done`` of ``count`` by oneself, or by everybody together for who teaches."""

    id: uuid.UUID
    title: str
    group: str
    words: str
    count: int
    done: int
    right: int
    at: datetime


class SlipLine(View):
    """A slip, how often it was made and by whom, the most frequent maker first."""

    calculation: str
    name: str
    slip: str
    times: int
    students: tuple[str, ...]


class GroupSlips(View):
    """What a group gets wrong most."""

    group: str
    slips: tuple[SlipLine, ...]


class ExercisePage(View):
    """The exercises, the sheets that concern one, and for who teaches the slips that are made most."""

    cards: tuple[ExerciseCard, ...]
    sheets: tuple[SheetLine, ...]
    groups: tuple[Named, ...]
    slips: tuple[GroupSlips, ...]


class AskQuestion(Command):
    """A question of a calculation; the one that was not answered yet comes again."""

    id: uuid.UUID
    calculation: CalculationName


class AnswerQuestion(Command):
    """The answer; given up, the working is shown and the row is broken."""

    answer: Annotated[str, StringConstraints(max_length=80, strip_whitespace=True)] = ""
    unit: Annotated[str, Field(max_length=16)] = ""
    give_up: bool = False


class SetSheet(Command):
    """The same questions for everybody of a group: so many of each calculation. Without a seed one is drawn."""

    id: uuid.UUID
    group: uuid.UUID
    title: Annotated[str, StringConstraints(min_length=3, max_length=80, strip_whitespace=True)]
    calculations: Annotated[tuple[CalculationName, ...], Field(min_length=1, max_length=12)]
    each: Annotated[int, Field(ge=1, le=10)] = 2
    seed: Annotated[str, Field(max_length=20, pattern=r"^[A-Za-z0-9-]*$")] = ""
    words: Note = ""


class SheetAnswer(Command):
    """The answer to one number of a sheet, once."""

    id: uuid.UUID
    number: Annotated[int, Field(ge=1, le=120)]
    answer: Annotated[str, StringConstraints(max_length=80, strip_whitespace=True)] = ""
    unit: Annotated[str, Field(max_length=16)] = ""
    give_up: bool = False


class SheetMark(View):
    """How a student answered one number; empty while he has not."""

    answered: bool
    right: bool
    answer: str
    slip: str


class SheetRow(View):
    student: Named
    marks: tuple[SheetMark, ...]
    right: int


class SheetView(View):
    """A sheet: its questions with one's own answers; for who teaches everybody's, and what goes wrong most."""

    id: uuid.UUID
    title: str
    words: str
    group: str
    at: datetime
    questions: tuple[ExerciseQuestionView, ...]
    rows: tuple[SheetRow, ...]
    slips: tuple[SlipLine, ...]


def facts(w: Work) -> core.ShopFacts:
    """What this shop has to ask about; what is tagged out is left out."""
    if "facts" not in w.memo:
        closed = closed_words(w)
        w.memo["facts"] = core.ShopFacts(
            machines={m.name: spec_of(m) for m in shop_store.machines(w.db)},
            stocks=stocks(w),
            cutters=tuple(c for i, c in cutters(w).items() if i not in closed),
            threads=shipped.threads(),
        )
    found: core.ShopFacts = w.memo["facts"]
    return found


def _content(q: core.Question) -> dict[str, Any]:
    near = f"{q.near.numerator}/{q.near.denominator}"
    return {**q.__dict__, "near": near, "hidden": list(q.hidden)}


def read_question(data: Mapping[str, Any]) -> core.Question:
    """A question from its kept form."""
    near, hidden = Fraction(data["near"]), tuple(data["hidden"])
    return core.Question(**{**data, "near": near, "hidden": hidden})


def kept_question(row: t.ExerciseQuestion) -> core.Question:
    """A question as it was asked."""
    return read_question(json.loads(row.content))


def in_a_row(answers: Sequence[store.Result]) -> int:
    """How many of the newest answers in a row are right; ``answers`` stand the oldest first."""
    count = 0
    for a in reversed(answers):
        if not a.right:
            break
        count += 1
    return count


def exercise_page(w: Work, who: Who) -> ExercisePage:
    """The exercises as they stand for this person."""
    student = who.role is Role.STUDENT
    group = find(w, t.Person, who.id, "person").group_id if student else None
    by: dict[str, list[store.Result]] = {name: [] for name in core.MAKERS}
    for x in store.results(w.db, [who.id]):
        by.setdefault(x.calculation, []).append(x)
    wanted = _wanted(w)
    groups = [] if student else session_store.groups(w.db)
    sheets = store.sheets(w.db, group) if group or not student else []
    return ExercisePage(
        cards=tuple(
            ExerciseCard(
                calculation=name,
                name=CALCULATIONS[name].name,
                group=CALCULATIONS[name].group,
                in_a_row=in_a_row(by[name]),
                wanted=wanted[name][0] if name in wanted else 0,
                skill=wanted[name][1] if name in wanted else "",
                answered=len(by[name]),
                right=sum(a.right for a in by[name]),
            )
            for name in core.MAKERS
        ),
        sheets=tuple(_sheet_line(w, s, g, who) for s, g in sheets),
        groups=tuple(Named(id=g.id, name=g.name) for g in groups),
        slips=tuple(
            GroupSlips(group=g.name, slips=_slip_lines(store.slips(w.db, g.id, w.now - SLIPS_OF))) for g in groups
        ),
    )


def _wanted(w: Work) -> dict[str, tuple[int, str]]:
    """What the skill graph asks of exercises: how many in a row, for which skill; the first that asks."""
    found: dict[str, tuple[int, str]] = {}
    for s in skill_graph(w).skills:
        for r in s.evidence:
            if isinstance(r, ExerciseStandard):
                found.setdefault(r.calculation, (r.times, s.name))
    return found


def _slip_lines(made: Sequence[tuple[str, str, str]]) -> tuple[SlipLine, ...]:
    """Slips as calculation, slip, student; the most frequent first, at most so many."""
    by: dict[tuple[str, str], Counter[str]] = {}
    for calculation, slip, name in made:
        by.setdefault((calculation, slip), Counter())[name] += 1
    lines = [
        SlipLine(
            calculation=c,
            name=CALCULATIONS[c].name,
            slip=slip,
            times=names.total(),
            students=tuple(name for name, _ in names.most_common()),
        )
        for (c, slip), names in by.items()
    ]
    return tuple(sorted(lines, key=lambda x: (-x.times, x.name, x.slip))[:_MOST_SLIPS])


def ask_question(w: Work, who: Who, command: AskQuestion) -> ExerciseQuestionView:
    """A question; the open one comes again, so that none is skipped because it is hard."""
    if command.calculation not in core.MAKERS:
        raise Refused.of("calculation", command.calculation, f"must be one of: {', '.join(core.MAKERS)}")
    there = w.db.get(t.ExerciseQuestion, command.id)
    if there is None:
        there = store.open_question(w.db, who.id, command.calculation)
    elif there.student_id != who.id or there.calculation != command.calculation:
        raise Conflict("This id was used before for another question.")
    if there is None:
        # drawn here: whoever chose it could ask for the same question ten times
        seed = uuid.uuid4().hex[:16]
        q = core.ask(command.calculation, seed, facts(w))
        there = t.ExerciseQuestion(
            id=command.id,
            student_id=who.id,
            calculation=command.calculation,
            seed=seed,
            content=json.dumps(_content(q), ensure_ascii=False),
            sheet_id=None,
            number=None,
            at=w.now,
        )
        w.db.add(there)
        w.db.flush()
    return _view(w, there, w.db.get(t.ExerciseAnswer, there.id))


def answer_question(w: Work, who: Who, question: uuid.UUID, command: AnswerQuestion) -> ExerciseQuestionView:
    """The one answer to a question. The same answer again gives the same result, another is refused."""
    row = find(w, t.ExerciseQuestion, question, "question")
    if row.student_id != who.id:
        raise NotFound("There is no such question.")
    _answer(w, row, command.answer, command.unit, give_up=command.give_up)
    return _view(w, row, w.db.get(t.ExerciseAnswer, row.id))


def _answer(w: Work, row: t.ExerciseQuestion, text: str, unit: str, *, give_up: bool) -> None:
    q = kept_question(row)
    checked = None if give_up else core.check(q, text, unit)
    insert_once(
        w,
        t.ExerciseAnswer(
            question_id=row.id,
            answer=_GIVEN_UP if give_up else text,
            unit="" if give_up else unit or q.unit,
            right=checked is not None and checked.right,
            slip=checked.slip if checked else "",
            at=w.now,
        ),
        ignoring=("at",),
    )


def _view(w: Work, row: t.ExerciseQuestion, answer: t.ExerciseAnswer | None) -> ExerciseQuestionView:
    mine = store.results(w.db, [row.student_id], row.calculation)
    return _shown(row.id, kept_question(row), answer, in_a_row(mine))


def _shown(ident: uuid.UUID, q: core.Question, answer: t.ExerciseAnswer | None, row: int) -> ExerciseQuestionView:
    c = CALCULATIONS[q.calculation]
    choices = core.words_of(q)
    kind = c.work(c.read(q.given)).answer.kind
    return ExerciseQuestionView(
        id=ident,
        calculation=q.calculation,
        name=c.name,
        words=q.words,
        given=tuple(GivenLine(label=a, value=b) for a, b in core.given_lines(q)),
        unit=q.unit,
        units=() if choices else tuple(UNITS[kind]),
        choices=choices,
        near=q.near_words,
        answered=_answered(q, answer) if answer else None,
        in_a_row=row,
    )


def _answered(q: core.Question, a: t.ExerciseAnswer) -> ExerciseAnswerView:
    correct, working = core.solution(q, a.answer, a.unit)
    return ExerciseAnswerView(
        answer=a.answer,
        unit=a.unit,
        right=a.right,
        slip=a.slip,
        correct=correct,
        working=tuple(StepView.of(s) for s in working),
    )


def _questions(sheet: t.ExerciseSheet) -> list[core.Question]:
    return [read_question(x) for x in json.loads(sheet.questions)]


def _sheet_line(w: Work, s: t.ExerciseSheet, group: str, who: Who) -> SheetLine:
    rows = [(q, a) for q, a in store.of_sheet(w.db, s.id) if who.role is not Role.STUDENT or q.student_id == who.id]
    return SheetLine(
        id=s.id,
        title=s.title,
        group=group,
        words=s.words,
        count=len(json.loads(s.questions)),
        done=len(rows),
        right=sum(a.right for _, a in rows),
        at=s.at,
    )


def set_sheet(w: Work, who: Who, command: SetSheet) -> SheetView:
    """Make a sheet's questions from what the shop has now, and set them for a group."""
    find(w, t.Group, command.group, "group")
    if w.db.get(t.ExerciseSheet, command.id) is None:
        if len(command.calculations) * command.each > 60:
            raise Refused.of("each", str(command.each), "makes more than 60 questions")
        seed, have = command.seed or command.id.hex[:8], facts(w)
        asked = [core.ask(c, f"{seed}-{n}", have) for c in command.calculations for n in range(command.each)]
        row = t.ExerciseSheet(
            id=command.id,
            group_id=command.group,
            title=command.title,
            words=command.words,
            questions=json.dumps([_content(q) for q in asked], ensure_ascii=False),
            person_id=who.id,
            at=w.now,
        )
        insert_once(w, row, ignoring=("at",))
    return sheet(w, who, command.id)


def _sheet_of(w: Work, who: Who, ident: uuid.UUID) -> t.ExerciseSheet:
    row = find(w, t.ExerciseSheet, ident, "sheet")
    if who.role is Role.STUDENT and find(w, t.Person, who.id, "person").group_id != row.group_id:
        raise NotFound("There is no such sheet.")
    return row


def sheet(w: Work, who: Who, ident: uuid.UUID) -> SheetView:
    """A sheet as this person sees it."""
    row, student = _sheet_of(w, who, ident), who.role is Role.STUDENT
    questions = _questions(row)
    answers = store.of_sheet(w.db, ident)
    mine = {q.number: (q, a) for q, a in answers if q.student_id == who.id}
    views = []
    for n, q in enumerate(questions, 1):
        kept = mine.get(n)
        views.append(_shown(kept[0].id if kept else uuid.uuid5(ident, f"{who.id}{n}"), q, kept[1] if kept else None, 0))
    return SheetView(
        id=row.id,
        title=row.title,
        words=row.words,
        group=find(w, t.Group, row.group_id, "group").name,
        at=row.at,
        questions=tuple(views),
        rows=() if student else _rows(w, row, len(questions), answers),
        slips=() if student else _sheet_slips(w, answers),
    )


def _sheet_slips(w: Work, answers: Sequence[tuple[t.ExerciseQuestion, t.ExerciseAnswer]]) -> tuple[SlipLine, ...]:
    names = people_store.names(w.db, {q.student_id for q, _ in answers})
    return _slip_lines([(q.calculation, a.slip, names[q.student_id]) for q, a in answers if a.slip])


def _rows(
    w: Work, row: t.ExerciseSheet, count: int, answers: Sequence[tuple[t.ExerciseQuestion, t.ExerciseAnswer]]
) -> tuple[SheetRow, ...]:
    by = {(q.student_id, q.number): a for q, a in answers}
    students = {p.id: p.name for p in people_store.students_of(w.db, row.group_id)}
    others = people_store.names(w.db, {q.student_id for q, _ in answers} - set(students))
    found = []
    for student, name in sorted((students | others).items(), key=lambda x: x[1]):
        marks = tuple(_mark(by.get((student, n))) for n in range(1, count + 1))
        found.append(SheetRow(student=Named(id=student, name=name), marks=marks, right=sum(m.right for m in marks)))
    return tuple(found)


def _mark(a: t.ExerciseAnswer | None) -> SheetMark:
    if a is None:
        return SheetMark(answered=False, right=False, answer="", slip="")
    return SheetMark(answered=True, right=a.right, answer=f"{a.answer} {a.unit}".strip(), slip=a.slip)


class KeyLine(View):
    """The right answer to one number of a sheet, with its working."""

    correct: str
    near: str
    working: tuple[StepView, ...]


def sheet_key(w: Work, who: Who, ident: uuid.UUID) -> tuple[KeyLine, ...]:
    """The key of a sheet, number by number. Raises ``NotFound`` for a student."""
    row = _sheet_of(w, who, ident)
    if who.role is Role.STUDENT:
        raise NotFound("There is no such key.")
    found = []
    for q in _questions(row):
        correct, working = core.solution(q, "", "")
        steps = tuple(StepView.of(s) for s in working)
        found.append(KeyLine(correct=correct, near=q.near_words, working=steps))
    return tuple(found)


def sheet_answer(w: Work, who: Who, ident: uuid.UUID, command: SheetAnswer) -> SheetView:
    """A student answers one number of his group's sheet, once."""
    row = _sheet_of(w, who, ident)
    questions = _questions(row)
    if command.number > len(questions):
        raise Refused.of("number", str(command.number), f"must be at most {len(questions)}")
    kept = store.sheet_question(w.db, ident, who.id, command.number)
    if kept is None:
        q = questions[command.number - 1]
        kept = t.ExerciseQuestion(
            id=command.id,
            student_id=who.id,
            calculation=q.calculation,
            seed="",
            content=json.dumps(_content(q), ensure_ascii=False),
            sheet_id=ident,
            number=command.number,
            at=w.now,
        )
        insert_once(w, kept, ignoring=("at",))
    _answer(w, kept, command.answer, command.unit, give_up=command.give_up)
    return sheet(w, who, ident)
