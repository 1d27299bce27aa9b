"""Signing a demo student for a skill and all that it rests on, checks and demonstrations included."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Mapping
from datetime import timedelta

from incudo import shipped
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.practice import rig_runs, rig_views
from incudo.app.skills import knowledge, signing
from incudo.app.skills.records import skill_book
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, begin, do
from incudo.core.skills.evidence import EvidenceKind
from incudo.core.skills.graph import ExerciseStandard, Knowledge, RigStandard
from incudo.core.skills.questions import present, solve
from incudo.core.skills.standing import Book
from incudo.demo.practising import right_in_a_row
from incudo.demo.story import Story, key
from incudo.store.schema import RigRun
from incudo.store.skills import knowledge as store

#: One command signs at most so many skills.
_AT_ONCE = 20
_ACTS_AT_ONCE = 100


def wanted_skills(book: Book, names: Iterable[str]) -> list[tuple[str, str | None]]:
    """The named skills ("skill" or "skill@machine id") and what they rest on, in an order that works."""
    graph = book.graph
    levels = graph.levels()
    found: dict[tuple[str, str | None], None] = {}
    for name in names:
        skill, _, machine = name.partition("@")
        for before in sorted(graph.before(skill), key=levels.__getitem__):
            if not graph.get(before).per_machine and not book.standing(before, None).state.current:
                found[(before, None)] = None
        found[(skill, machine or None)] = None
    return sorted(found, key=lambda f: levels[f[0]])


def sign_with_all(
    story: Story,
    assessor: Who,
    student: Who,
    names: Iterable[str],
    note: str,
    stumbled: Mapping[str, int] | None = None,
) -> None:
    """Pass the knowledge checks, show every point, be signed; what holds already is left out."""
    book = story.run(lambda w: skill_book(w, student.id))
    wanted = wanted_skills(book, names)
    banks = {r.bank for s, _ in wanted for r in book.graph.get(s).evidence if isinstance(r, Knowledge)}
    passed = {e.key for e in book.record.evidence if e.kind is EvidenceKind.KNOWLEDGE and e.passed}
    for bank in sorted(banks - passed):
        take_check(story, student, bank, failing=(stumbled or {}).get(bank, 0))
    for skill, _ in wanted:
        for r in book.graph.get(skill).evidence:
            if isinstance(r, RigStandard):
                reach_standard(story, student, r.rig, r.level, r.times)
            if isinstance(r, ExerciseStandard):
                right_in_a_row(story, student, r.calculation, r.times)
    ones = []
    for skill, machine in wanted:
        s = book.graph.get(skill)
        refresher = book.standing(skill, machine).state.refreshed
        points = s.points(refresher=refresher) if s.demonstrated else ()
        ones.append(
            signing.SignOne(
                skill=skill,
                machine=uuid.UUID(machine) if machine else None,
                seen=tuple(signing.SeenPoint(number=p.number, ok=True) for p in points),
            )
        )
    for i in range(0, len(ones), _AT_ONCE):
        some = tuple(ones[i : i + _AT_ONCE])
        command = signing.SignCommand(
            id=key("signed", student.id, story.now, i, *(f"{o.skill}{o.machine}" for o in some)),
            student=student.id,
            skills=some,
            note=note,
            pin="0000",
        )
        story.run(lambda w, c=command: signing.keep_signs(w, assessor, c))  # type: ignore[misc]


def reach_standard(story: Story, student: Who, rig: str, level: int, times: int) -> None:
    """Reach a rig's standard so many times in a row, as a practised hand would."""
    for n in range(times):
        run = key("rig", student.id, rig, story.now, n)
        begin_ = rig_views.BeginRun(id=run, rig=rig, level=level)
        story.run(lambda w, r=run, b=begin_: _one_run(w, student, r, b))  # type: ignore[misc]


def run_exercise(story: Story, student: Who, exercise: uuid.UUID, *, follows: bool) -> None:
    """Run an exercise: as a practised hand, or tightening the bolts without reading again."""
    run = key("exercise", student.id, exercise)
    begin_ = rig_views.BeginRun(id=run, rig="vise", exercise=exercise)
    story.run(lambda w: _one_run(w, student, run, begin_, None if follows else 14))


def _one_run(w: Work, student: Who, run: uuid.UUID, begin_: rig_views.BeginRun, gives_up: int | None = None) -> None:
    rig_runs.open_run(w, student, begin_)
    row = find(w, RigRun, run, "run")
    rules = RIGS[row.rig]
    s = begin(rules, RigSetup.model_validate_json(row.setup), row.level, row.seed)
    done: list[Action] = []
    while not s.finished:
        tired = gives_up is not None and len(done) >= gives_up
        done.append(Action(do="finish") if tired else rules.advice(s).action)
        do(rules, s, done[-1])
    for n in range(0, len(done), _ACTS_AT_ONCE):
        rig_runs.keep_actions(
            w, student, run, rig_views.RigActs(number=n + 1, actions=tuple(done[n : n + _ACTS_AT_ONCE]))
        )


def take_check(story: Story, student: Who, bank: str, failing: int = 0) -> None:
    """Take a knowledge check until it is passed; the first ``failing`` tries have wrong answers."""
    for n in range(failing):
        story.run(lambda w, n=n: _one_try(w, student, bank, n, wrong=True))  # type: ignore[misc]
        story.now += timedelta(minutes=25 * 2**n)
    story.run(lambda w: _one_try(w, student, bank, failing, wrong=False))


def _one_try(w: Work, student: Who, bank: str, n: int, *, wrong: bool) -> None:
    check = key("check", student.id, bank, w.now, n)
    knowledge.draw_check(w, student, bank, knowledge.BeginCommand(id=check))
    row = next(x for x, r in store.tries(w.db, student.id, bank) if r is None)
    questions = shipped.banks()[bank]
    for i, name in enumerate(json.loads(row.questions)):
        question = questions.get(name)
        places, number = solve(question, row.seed, shipped.sources())
        if wrong and i % 3 == 1:
            shown = present(question, row.seed, shipped.sources())
            places, number = _wrong(places, number, max(len(shown.options), len(shown.areas)))
        answer = knowledge.AnswerCommand(check=row.id, question=name, places=places, number=number)
        knowledge.keep_answer(w, student, bank, answer)


def _wrong(places: tuple[int, ...], number: str, count: int) -> tuple[tuple[int, ...], str]:
    """An answer that is not the right one."""
    if not places:
        return (), "999999"
    if len(places) == count:
        return places[::-1], number
    return (next(p for p in range(count) if p not in places),), number
