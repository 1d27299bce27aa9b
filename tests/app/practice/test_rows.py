"""A row is the same number on the card of a rig or an exercise and in the evidence for a skill."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

import pytest

from incudo.app.kernel.unit import Unit, Who
from incudo.app.practice.exercises import exercise_page
from incudo.app.skills.records import skill_book
from incudo.core.people.roles import Role
from incudo.core.skills.graph import ExerciseStandard
from incudo.store import schema as t
from tests.shop import TestShop

At = Callable[[datetime], Unit]


def answered(unit: Unit, student: uuid.UUID, *right: bool) -> None:
    """Answers to speed exercises as rows, the oldest first."""

    def add(w: Any) -> None:
        for n, ok in enumerate(right):
            row = uuid.uuid4()
            when = w.now - timedelta(minutes=len(right) - n)
            w.db.add(
                t.ExerciseQuestion(
                    id=row, student_id=student, calculation="spindle-speed", seed="s", content="{}",
                    sheet_id=None, number=None, at=when,
                )
            )  # fmt: skip
            w.db.flush()
            w.db.add(t.ExerciseAnswer(question_id=row, answer="1", unit="rpm", right=ok, slip="", at=when))

    unit.run(add)


@pytest.mark.parametrize(
    ("right", "row", "met"),
    [
        ((True,) * 9, 9, False),
        ((True,) * 10, 10, True),
        ((True,) * 10 + (False,), 10, True),
        ((True,) * 9 + (False,), 0, False),
        ((True,) * 9 + (False, True), 1, False),
    ],
)
def test_page_and_evidence_say_the_same(
    shop: TestShop, at: At, moment: datetime, right: tuple[bool, ...], row: int, met: bool
) -> None:
    student = uuid.UUID(shop.student().id)
    answered(at(moment), student, *right)
    page = at(moment).run(lambda w: exercise_page(w, Who(student, "", Role.STUDENT)))
    card = next(c for c in page.cards if c.calculation == "spindle-speed")
    assert (card.in_a_row, card.wanted) == (row, 10)
    book = at(moment).run(lambda w: skill_book(w, student))
    skill = next(
        s for s in book.graph.skills
        for r in s.evidence if isinstance(r, ExerciseStandard) and r.calculation == "spindle-speed"
    )  # fmt: skip
    found = next(m for m in book.evidence(skill, None) if "spindle" in m.words.lower())
    assert found.ok is met
    assert f"{row} of 10" in found.words
