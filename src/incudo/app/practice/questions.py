"""A question from what this shop has, and the one answer to it."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from incudo import shipped
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import StepView
from incudo.app.practice.exercise_views import (
    AnswerQuestion,
    AskQuestion,
    Example,
    ExampleValue,
    ExerciseAnswerView,
    ExerciseQuestionView,
    GivenLine,
)
from incudo.app.shop.machines import spec_of
from incudo.app.shop.tags import closed_words
from incudo.app.shop.tooling import cutters, stocks
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.say import Sentence, as_json, from_json, say, together
from incudo.core.practice import exercise as core
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.reckoning.inputs import UNITS
from incudo.core.reckoning.question import Question, ShopFacts
from incudo.core.skills.streak import streak_of
from incudo.store import schema as t
from incudo.store.people import people
from incudo.store.practice import exercises as store
from incudo.store.shop import machines

_GIVEN_UP = ""


def facts(w: Work) -> ShopFacts:
    """What this shop has to ask about; what is tagged out is left out."""
    if "facts" not in w.memo:
        closed = closed_words(w)
        w.memo["facts"] = ShopFacts(
            machines={m.name: spec_of(m) for m in machines.machines(w.db)},
            stocks=stocks(w),
            cutters=tuple(c for i, c in cutters(w).items() if i not in closed),
            threads=shipped.threads(),
        )
    found: ShopFacts = w.memo["facts"]
    return found


def content_of(q: Question) -> dict[str, Any]:
    """A question as it is kept, as JSON; exact numbers stay exact."""
    near = f"{q.near.numerator}/{q.near.denominator}"
    content: dict[str, Any] = as_json({**q.__dict__, "near": near, "hidden": list(q.hidden)})
    return content


def read_question(data: Mapping[str, Any]) -> Question:
    """A question from its kept form."""
    near, hidden = Fraction(data["near"]), tuple(data["hidden"])
    return Question(**{**from_json(dict(data)), "near": near, "hidden": hidden})


def kept_question(row: t.ExerciseQuestion) -> Question:
    """A question as it was asked."""
    return read_question(json.loads(row.content))


def ask_question(w: Work, who: Who, command: AskQuestion) -> ExerciseQuestionView:
    """A question as it is shown; the open one comes again."""
    row = open_question(w, who, command)
    return _view(w, row, w.db.get(t.ExerciseAnswer, row.id))


def open_question(w: Work, who: Who, command: AskQuestion) -> t.ExerciseQuestion:
    """A question; the open one comes again, so that none is skipped because it is hard.

    One at a time for each person and calculation, whatever is asked at the same moment.
    """
    if command.calculation not in MAKERS:
        raise Refused.of(
            "calculation", command.calculation, say("must be one of: {listed}", listed=together(MAKERS, ", "))
        )
    people.lock_person(w.db, who.id)
    there = w.db.get(t.ExerciseQuestion, command.id)
    if there is None:
        there = store.open_question(w.db, who.id, command.calculation)
    elif there.student_id != who.id or there.calculation != command.calculation:
        raise Conflict(say("This id was used before for another question."))
    if there is None:
        # drawn here: whoever chose it could ask for the same question ten times
        seed = uuid.uuid4().hex[:16]
        q = core.ask(command.calculation, seed, facts(w))
        there = t.ExerciseQuestion(
            id=command.id,
            student_id=who.id,
            calculation=command.calculation,
            seed=seed,
            content=json.dumps(content_of(q), ensure_ascii=False),
            sheet_id=None,
            number=None,
            at=w.now,
        )
        w.db.add(there)
        w.db.flush()
    return there


def answer_question(w: Work, who: Who, question: uuid.UUID, command: AnswerQuestion) -> ExerciseQuestionView:
    """The one answer to a question, and what came of it."""
    row = keep_answer(w, who, question, command)
    return _view(w, row, w.db.get(t.ExerciseAnswer, row.id))


def keep_answer(w: Work, who: Who, question: uuid.UUID, command: AnswerQuestion) -> t.ExerciseQuestion:
    """The one answer to a question. The same answer again gives the same result, another is refused."""
    row = find(w, t.ExerciseQuestion, question, "question")
    if row.student_id != who.id:
        raise NotFound(say("There is no such question."))
    answer_of(w, row, command.answer, command.unit, give_up=command.give_up)
    return row


def answer_of(w: Work, row: t.ExerciseQuestion, text: str, unit: str, *, give_up: bool) -> None:
    """Judge and keep an answer, once. Raises ``Refused`` for one that is no number of this unit."""
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
    return shown_of(row.id, kept_question(row), answer, streak_of(x.right for x in mine).now)


def shown_of(
    ident: uuid.UUID, q: Question, answer: t.ExerciseAnswer | None, row: int, *, shown: bool = True
) -> ExerciseQuestionView:
    """A question as it is shown; with its answer when it was given and may be seen."""
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
        choices=tuple(str(x) for x in choices),
        choice_words=tuple(x if isinstance(x, Sentence) else say(x) for x in choices),
        near=q.near_words,
        answered=_answered(q, answer) if answer and shown else None,
        kept=answer is not None and not shown,
        in_a_row=row,
    )


def _answered(q: Question, a: t.ExerciseAnswer) -> ExerciseAnswerView:
    correct, working = core.solution(q, a.answer, a.unit)
    return ExerciseAnswerView(
        answer=a.answer,
        unit=a.unit,
        right=a.right,
        slip=a.slip,
        correct=correct,
        working=tuple(StepView.of(s) for s in working),
    )


def example(w: Work, calculation: str) -> Example:
    """Values from this shop to see a calculation with. Raises ``Refused`` for one that no question is made of."""
    given = core.ask(calculation, "example", facts(w)).given
    return Example(given={k: ExampleValue(value=v["value"], unit=v["unit"]) for k, v in given.items()})
