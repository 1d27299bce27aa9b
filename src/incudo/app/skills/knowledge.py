"""Knowledge checks: beginning one, answering, its end; and keeping the question banks."""

from __future__ import annotations

import json
import uuid
from datetime import datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo import shipped
from incudo.app.kernel.pictures import PictureView
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, View
from incudo.app.skills.banks import newest_bank
from incudo.app.skills.graph import bank_of, banks, skill_graph
from incudo.core.kernel.errors import Conflict, NotFound, NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.skills.graph import Knowledge
from incudo.core.skills.questions import Bank, Presented, Score, draw, judge_answer, next_try, present, score
from incudo.store import schema as t
from incudo.store.people import people
from incudo.store.skills import knowledge as store


class QuestionView(View):
    """A question as it is asked: places instead of names, nothing of what is right."""

    id: str
    kind: str
    text: str
    critical: bool
    options: tuple[str, ...]
    drawn: tuple[PictureView, ...]
    areas: tuple[str, ...]
    lines: tuple[str, ...]
    width: int
    height: int
    unit: str
    several: bool

    @classmethod
    def of(cls, question: str, p: Presented) -> QuestionView:
        width, height = p.size
        return cls(
            id=question,
            kind=p.kind,
            text=p.text,
            critical=p.critical,
            options=p.options,
            drawn=tuple(PictureView.of(d) for d in p.drawn),
            areas=p.areas,
            lines=p.lines,
            width=width,
            height=height,
            unit=p.unit,
            several=p.several,
        )


class AnswerView(View):
    """What came of one answer, with the reason and what happens otherwise."""

    question: str
    right: bool
    chosen: tuple[int, ...]
    places: tuple[int, ...]
    words: str
    why: str
    otherwise: str


class ScoreView(View):
    """How a check ended."""

    words: str
    passed: bool
    at: datetime


class CheckView(View):
    """One bank for one student: a running check, or the way to the next one."""

    bank: str
    name: str
    skills: tuple[str, ...]
    asked: int
    pass_percent: int
    passed: bool
    tries: int
    may_begin_at: datetime | None
    running: uuid.UUID | None
    number: int
    question: QuestionView | None
    last: AnswerView | None
    result: ScoreView | None


class BeginCommand(Command):
    """Begin a check."""

    id: uuid.UUID


class AnswerCommand(Command):
    """An answer: places chosen, or for an order all of them; or a number as typed."""

    check: uuid.UUID
    question: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    places: Annotated[tuple[Annotated[int, Field(ge=0, le=99)], ...], Field(max_length=20)] = ()
    number: Annotated[str, StringConstraints(max_length=40, strip_whitespace=True)] = ""


def _asked_bank(w: Work, row: t.CheckTry) -> Bank:
    """The bank in the version that the check was drawn from."""
    newest = {name: bank for name, (bank, number) in banks(w).items() if number == row.bank_number}
    if row.bank in newest:
        return newest[row.bank]
    version = find(w, t.BankVersion, (row.bank, row.bank_number), say("bank version"))
    return bank_of(version.content)


def check_state(w: Work, who: Who, bank_name: str) -> CheckView:
    """Where this student stands with a bank."""
    return _view(w, who.id, bank_name, None)


def begin_check(w: Work, who: Who, bank_name: str, command: BeginCommand) -> CheckView:
    """Begin a check, or go on with the one that is running, and show its next question."""
    draw_check(w, who, bank_name, command)
    return _view(w, who.id, bank_name, None)


def draw_check(w: Work, who: Who, bank_name: str, command: BeginCommand) -> None:
    """Begin a check, or go on with the one that is running; its questions are drawn now.

    One try at a time: a person's requests are done one after the other, so that no try can teach another.
    Raises ``NotPermitted`` while the wait after failed tries is not over.
    """
    people.lock_person(w.db, who.id)
    bank, number = newest_bank(w, bank_name)
    tries = store.tries(w.db, who.id, bank_name)
    if any(r is None for _, r in tries) or any(x.id == command.id for x, _ in tries):
        return
    wait = _wait(tries)
    if wait and wait > w.now:
        minutes = -(-int((wait - w.now).total_seconds()) // 60)
        raise NotPermitted(
            say("The next try opens in {minutes} min. Read the reasons of the last one meanwhile.", minutes=minutes)
        )
    seed = uuid.uuid4().hex
    last = max((x for x, _ in tries), key=lambda x: x.at, default=None)
    seen = json.loads(last.questions) if last else []
    row = t.CheckTry(
        id=command.id,
        student_id=who.id,
        bank=bank_name,
        bank_number=number,
        seed=seed,
        questions=json.dumps(draw(bank, seed, seen)),
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "seed", "questions", "bank_number"))


def _wait(tries: list[tuple[t.CheckTry, t.CheckResult | None]]) -> datetime | None:
    if any(r and r.passed for _, r in tries):
        return None
    return next_try([r.at for _, r in tries if r])


def answer_check(w: Work, who: Who, bank_name: str, command: AnswerCommand) -> CheckView:
    """Answer a question of the running check, and show the next or the result."""
    return _view(w, who.id, bank_name, keep_answer(w, who, bank_name, command))


def keep_answer(w: Work, who: Who, bank_name: str, command: AnswerCommand) -> t.CheckAnswer:
    """Answer a question of the running check; the last answer ends it. Each is answered once."""
    row = w.db.get(t.CheckTry, command.check)
    if row is None or row.student_id != who.id or row.bank != bank_name:
        raise NotFound(say("There is no such check."))
    bank = _asked_bank(w, row)
    asked: list[str] = json.loads(row.questions)
    given = store.answers(w.db, row.id)
    if command.question not in asked:
        raise Refused.of("question", command.question, say("is not asked in this check"))
    before = asked[: asked.index(command.question)]
    if any(q not in given for q in before):
        raise Conflict(say("Answer the questions in order."))
    question = bank.get(command.question)
    judged = judge_answer(question, row.seed, shipped.sources(), command.places, command.number)
    answer = t.CheckAnswer(
        try_id=row.id,
        question=command.question,
        places=json.dumps(list(command.places)),
        number=command.number,
        right=judged.right,
        at=w.now,
    )
    insert_once(w, answer, ignoring=("at",))
    given[command.question] = answer
    if all(q in given for q in asked) and w.db.get(t.CheckResult, row.id) is None:
        s = score(bank, {q: a.right for q, a in given.items()})
        w.db.add(
            t.CheckResult(
                try_id=row.id,
                right=s.right,
                asked=s.asked,
                critical_wrong=s.critical_wrong,
                passed=s.passed,
                at=w.now,
            )
        )
        w.db.flush()
    return answer


def _view(w: Work, student: uuid.UUID, bank_name: str, answered: t.CheckAnswer | None) -> CheckView:
    bank, _ = newest_bank(w, bank_name)
    tries = store.tries(w.db, student, bank_name)
    running = next((x for x, r in tries if r is None), None)
    ended = [(x, r) for x, r in tries if r]
    number, question, asked = 0, None, bank.draw
    if running:
        names: list[str] = json.loads(running.questions)
        given = store.answers(w.db, running.id)
        number, asked = len(given), len(names)
        at = next(q for q in names if q not in given)
        shown = present(_asked_bank(w, running).get(at), running.seed, shipped.sources())
        question = QuestionView.of(at, shown)
    graph = skill_graph(w)
    last_result = ended[-1][1] if ended else None
    fresh = answered is not None and running is None
    wait = _wait(tries)
    return CheckView(
        bank=bank_name,
        name=bank.name,
        skills=tuple(
            s.name for s in graph.skills if any(isinstance(r, Knowledge) and r.bank == bank_name for r in s.evidence)
        ),
        asked=asked,
        pass_percent=bank.pass_percent,
        passed=any(r.passed for _, r in ended if r),
        tries=len(ended),
        may_begin_at=wait if wait and wait > w.now else None,
        running=running.id if running else None,
        number=number,
        question=question,
        last=_answer_view(w, answered) if answered else None,
        result=_score_view(last_result) if last_result and (fresh or running is None) else None,
    )


def _score_view(r: t.CheckResult) -> ScoreView:
    words = Score(r.right, r.asked, r.critical_wrong, r.passed).words
    return ScoreView(words=words, passed=r.passed, at=r.at)


def _answer_view(w: Work, a: t.CheckAnswer) -> AnswerView:
    row = find(w, t.CheckTry, a.try_id, "check")
    question = _asked_bank(w, row).get(a.question)
    places = json.loads(a.places)
    judged = judge_answer(question, row.seed, shipped.sources(), places, a.number)
    return AnswerView(
        question=a.question,
        right=judged.right,
        chosen=tuple(places),
        places=judged.places,
        words=judged.words,
        why=judged.why,
        otherwise=judged.otherwise,
    )
