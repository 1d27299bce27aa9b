"""Sheets: the same questions for a group."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named, StepView, View
from incudo.app.people.students import in_group
from incudo.app.practice.exercise_views import (
    SetSheet,
    SheetAnswer,
    SheetLine,
    SheetMark,
    SheetRow,
    SheetView,
    SlipLine,
)
from incudo.app.practice.questions import answer_of, content_of, facts, read_question, shown_of
from incudo.app.practice.slips import slip_lines
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.core.practice import exercise as core
from incudo.core.reckoning.question import Question
from incudo.store import schema as t
from incudo.store.people import groups
from incudo.store.people import people as people_store
from incudo.store.practice import exercises as store


def _questions(sheet: t.ExerciseSheet) -> list[Question]:
    return [read_question(x) for x in json.loads(sheet.questions)]


def sheet_line(w: Work, s: t.ExerciseSheet, group: str, who: Who) -> SheetLine:
    """A sheet in the list: for a student with their own questions, for others with everybody's."""
    rows = [(q, a) for q, a in store.of_sheet(w.db, s.id) if who.role is not Role.STUDENT or q.student_id == who.id]
    return SheetLine(
        id=s.id,
        title=s.title,
        group=group,
        words=s.words,
        count=len(json.loads(s.questions)),
        done=len(rows),
        right=sum(a.right for _, a in rows) if who.role is not Role.STUDENT or not s.in_class or ended(w, s) else 0,
        at=s.at,
    )


def set_sheet(w: Work, who: Who, command: SetSheet) -> SheetView:
    """Make a sheet's questions from what the shop has now, and set them for a group."""
    people_store.lock_group(w.db, command.group)
    find(w, t.Group, command.group, "group")
    if w.db.get(t.ExerciseSheet, command.id) is None:
        if len(command.calculations) * command.each > 60:
            raise Refused.of("each", str(command.each), say("makes more than 60 questions"))
        seed, have = command.seed or command.id.hex[:8], facts(w)
        asked = [core.ask(c, f"{seed}-{n}", have) for c in command.calculations for n in range(command.each)]
        row = t.ExerciseSheet(
            id=command.id,
            group_id=command.group,
            title=command.title,
            words=command.words,
            in_class=command.in_class,
            questions=json.dumps([content_of(q) for q in asked], ensure_ascii=False),
            person_id=who.id,
            at=w.now,
        )
        if command.in_class and store.open_in_class(w.db, command.group) is not None:
            raise Conflict(say("This group has a sheet in class open: end it first."))
        insert_once(w, row, ignoring=("at",))
    return sheet(w, who, command.id)


def end_sheet(w: Work, who: Who, ident: uuid.UUID) -> SheetView:
    """End a sheet in class: no more answers, everybody sees what came of theirs, the reckoner opens again."""
    row = _sheet_of(w, who, ident)
    if not row.in_class:
        raise Conflict(say("Only a sheet in class is ended."))
    insert_once(w, t.ExerciseSheetEnd(sheet_id=ident, by_id=who.id, at=w.now), ignoring=("by_id", "at"))
    return sheet(w, who, ident)


def ended(w: Work, row: t.ExerciseSheet) -> bool:
    """Whether a sheet takes no more answers."""
    return w.db.get(t.ExerciseSheetEnd, row.id) is not None


def _sheet_of(w: Work, who: Who, ident: uuid.UUID) -> t.ExerciseSheet:
    row = find(w, t.ExerciseSheet, ident, "sheet")
    if who.role is Role.STUDENT and not in_group(w, who.id, row.group_id):
        raise NotFound(say("There is no such sheet."))
    return row


def sheet(w: Work, who: Who, ident: uuid.UUID) -> SheetView:
    """A sheet as this person sees it."""
    row, student = _sheet_of(w, who, ident), who.role is Role.STUDENT
    questions = _questions(row)
    answers = store.of_sheet(w.db, ident)
    mine = {q.number: (q, a) for q, a in answers if q.student_id == who.id}
    shown = not row.in_class or ended(w, row)
    views = []
    for n, q in enumerate(questions, 1):
        kept = mine.get(n)
        views.append(
            shown_of(
                kept[0].id if kept else uuid.uuid5(ident, f"{who.id}{n}"), q, kept[1] if kept else None, 0, shown=shown
            )
        )
    return SheetView(
        id=row.id,
        title=row.title,
        words=row.words,
        group=find(w, t.Group, row.group_id, "group").name,
        at=row.at,
        in_class=row.in_class,
        ended=ended(w, row),
        questions=tuple(views),
        rows=() if student else _rows(w, row, len(questions), answers),
        slips=() if student else _sheet_slips(w, answers),
    )


def _sheet_slips(w: Work, answers: Sequence[tuple[t.ExerciseQuestion, t.ExerciseAnswer]]) -> tuple[SlipLine, ...]:
    names = people_store.names(w.db, {q.student_id for q, _ in answers})
    return slip_lines([(q.calculation, a.slip, names[q.student_id]) for q, a in answers if a.slip])


def _rows(
    w: Work, row: t.ExerciseSheet, count: int, answers: Sequence[tuple[t.ExerciseQuestion, t.ExerciseAnswer]]
) -> tuple[SheetRow, ...]:
    by = {(q.student_id, q.number): a for q, a in answers}
    students = {p.id: p.name for p in groups.students_of(w.db, row.group_id, w.today)}
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
        raise NotFound(say("There is no such key."))
    found = []
    for q in _questions(row):
        correct, working = core.solution(q, "", "")
        steps = tuple(StepView.of(s) for s in working)
        found.append(KeyLine(correct=correct, near=q.near_words, working=steps))
    return tuple(found)


def sheet_answer(w: Work, who: Who, ident: uuid.UUID, command: SheetAnswer) -> SheetView:
    """A student answers one number of their group's sheet, once; a sheet in class until it is ended."""
    people_store.lock_person(w.db, who.id)
    row = _sheet_of(w, who, ident)
    if row.in_class and store.ended_now(w.db, ident):
        kept = store.sheet_question(w.db, ident, who.id, command.number)
        if kept is None or kept.id != command.id:
            raise Conflict(say("This sheet has been ended."))
    questions = _questions(row)
    if command.number > len(questions):
        raise Refused.of("number", str(command.number), say("must be at most {count}", count=len(questions)))
    kept = store.sheet_question(w.db, ident, who.id, command.number)
    if kept is None:
        q = questions[command.number - 1]
        kept = t.ExerciseQuestion(
            id=command.id,
            student_id=who.id,
            calculation=q.calculation,
            seed="",
            content=json.dumps(content_of(q), ensure_ascii=False),
            sheet_id=ident,
            number=command.number,
            at=w.now,
        )
        insert_once(w, kept, ignoring=("at",))
    answer_of(w, kept, command.answer, command.unit, give_up=command.give_up)
    return sheet(w, who, ident)
