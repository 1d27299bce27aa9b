"""What a group gets wrong most: of the last sixty days, the most frequent first, a dozen at most."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

import pytest

from incudo.app.kernel.unit import Unit
from incudo.app.practice.slips import SLIPS_OF, slip_lines
from incudo.store import schema as t
from incudo.store.practice import exercises as store
from tests.shop import TUESDAY, TestShop

At = Callable[[datetime], Unit]


def test_the_most_frequent_slip_stands_first_with_who_makes_it_most() -> None:
    made = [("edge", "side", "Ann"), ("edge", "tip", "Bo"), ("edge", "tip", "Ann"), ("edge", "tip", "Bo")]
    first, second = slip_lines(made)
    assert (first.slip, first.times, first.students) == ("tip", 3, ("Bo", "Ann"))
    assert (second.slip, second.times, second.students) == ("side", 1, ("Ann",))


@pytest.mark.parametrize(("kinds", "shown"), [(11, 11), (12, 12), (13, 12)])
def test_a_dozen_are_shown_at_most(kinds: int, shown: int) -> None:
    assert len(slip_lines([("edge", f"slip {n}", "Ann") for n in range(kinds)])) == shown


@pytest.mark.parametrize(("days", "counts"), [(59, True), (61, False)])
def test_a_slip_counts_for_sixty_days(shop: TestShop, at: At, moment: datetime, days: int, counts: bool) -> None:
    student, slip = uuid.UUID(shop.student().id), f"slip {uuid.uuid4().hex[:8]}"
    when = moment - timedelta(days=days)

    def add(w: Any) -> None:
        w.db.add(t.Enrolment(id=student, person_id=student, group_id=uuid.UUID(TUESDAY), begins=when.date()))
        question = t.ExerciseQuestion(
            id=uuid.uuid4(),
            student_id=student,
            calculation="edge",
            seed="s",
            content="{}",
            sheet_id=None,
            number=None,
            at=when,
        )
        w.db.add(question)
        w.db.flush()
        w.db.add(t.ExerciseAnswer(question_id=question.id, answer="1", unit="mm", right=False, slip=slip, at=when))

    at(moment).run(add)
    counted = at(moment).run(lambda w: {s for _, s, _ in store.slips(w.db, uuid.UUID(TUESDAY), w.now - SLIPS_OF)})
    assert (slip in counted) is counts
