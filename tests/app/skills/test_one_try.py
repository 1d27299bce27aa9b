"""One try, one question at a time, whatever is asked at the same moment."""

from __future__ import annotations

import json
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from sqlalchemy import select

from incudo import shipped
from incudo.app.kernel.unit import Unit, Who
from incudo.app.practice.exercise_views import AskQuestion
from incudo.app.practice.questions import open_question
from incudo.app.skills.knowledge import AnswerCommand, BeginCommand, draw_check, keep_answer
from incudo.core.people.roles import Role
from incudo.core.skills.questions import solve
from incudo.demo.story import Story
from incudo.store import schema as t
from tests.shop import TestShop

BANK = "surroundings-person"
MANY = 6


def student_of(shop: TestShop) -> Who:
    return Who(uuid.UUID(shop.student().id), "", Role.STUDENT)


def at_once(unit: Unit, act: Any) -> None:
    with ThreadPoolExecutor(MANY) as pool:
        for done in [pool.submit(lambda: unit.run(act)) for _ in range(MANY)]:
            done.result()


def tries(shop: TestShop, who: Who) -> list[tuple[uuid.UUID, list[str]]]:
    def read(w: Any) -> list[tuple[uuid.UUID, list[str]]]:
        rows = w.db.scalars(select(t.CheckTry).where(t.CheckTry.student_id == who.id).order_by(t.CheckTry.at))
        return [(r.id, json.loads(r.questions)) for r in rows]

    return shop.unit.run(read)


def fail(shop: TestShop, who: Who, check: uuid.UUID, questions: list[str]) -> None:
    """Answer every question of a try wrongly."""
    bank = shipped.banks()[BANK]
    for name in questions:
        seed = shop.unit.run(lambda w: w.db.get(t.CheckTry, check).seed)
        q = bank.get(name)
        places, _ = solve(q, seed, shipped.sources())
        wrong = places[::-1] if q.kind == "order" else (0,) if places != (0,) else (1,)
        command = AnswerCommand(check=check, question=name, places=() if q.kind == "number" else wrong, number="-1")
        shop.unit.run(lambda w, c=command: keep_answer(w, who, BANK, c))


def test_six_browsers_that_begin_at_once_have_one_try(shop: TestShop) -> None:
    who = student_of(shop)
    at_once(shop.unit, lambda w: draw_check(w, who, BANK, BeginCommand(id=uuid.uuid4())))
    assert len(tries(shop, who)) == 1


def test_six_browsers_that_ask_at_once_have_one_question(shop: TestShop) -> None:
    who = student_of(shop)
    asked: list[uuid.UUID] = []

    def ask(w: Any) -> None:
        row = open_question(w, who, AskQuestion(id=uuid.uuid4(), calculation="edge"))
        asked.append(row.id)

    at_once(shop.unit, ask)
    assert len(set(asked[-MANY:])) == 1


def test_after_a_failed_try_other_questions_come(shop: TestShop) -> None:
    who, moment = student_of(shop), shop.clock()
    story = Story(shop.unit, moment)
    story.run(lambda w: draw_check(w, who, BANK, BeginCommand(id=uuid.uuid4())))
    ((check, first),) = tries(shop, who)
    fail(shop, who, check, first)
    later = Unit(shop.unit.engine, lambda: shop.clock().replace(year=moment.year + 1), shop.unit.key)
    later.run(lambda w: draw_check(w, who, BANK, BeginCommand(id=uuid.uuid4())))
    _, (_, second) = tries(shop, who)
    bank = shipped.banks()[BANK]
    fresh = len(bank.live) - len(first)
    assert len(set(first) & set(second)) <= max(0, bank.draw - fresh) + sum(bank.get(q).critical for q in first)
    assert set(first) != set(second)
