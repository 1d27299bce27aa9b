"""How far cards have come is read anew only where something changed: what is kept is always what would be read."""

from __future__ import annotations

import uuid
from collections import OrderedDict
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

import pytest
from sqlalchemy import event

from incudo.app.kernel.unit import Unit, Work
from incudo.app.parts.attempts import A_DAY_AT_WORK, MOST_KEPT, CardProgress, kept_progress, progress_of
from incudo.app.session.floor import floor
from incudo.core.kernel.errors import Refused
from incudo.store.kernel.database import cache_of
from tests.shop import GOOD_BLOCK, M01, TestShop, new_id

Cards = list[tuple[uuid.UUID, uuid.UUID]]


def seen(card: CardProgress, since: datetime) -> tuple[Any, ...]:
    """All that the floor shows of a card's progress."""
    counts = {c.number: dict(card.counts(c.number)) for c in card.project.characteristics}
    worked = [x for x in card.worked if x > since]
    pending = card.pending.id if card.pending else None
    told = (card.student.name, card.assignment.machine_id, card.assignment.due, card.school)
    return (
        *told,
        sorted(card.ticked),
        card.round,
        pending,
        card.outcome,
        card.rework,
        counts,
        min(worked),
        max(worked),
    )


def same(w: Work, cards: Cards) -> bool:
    """Whether what is kept shows the same as what is read."""
    since = w.now - A_DAY_AT_WORK
    kept, read = kept_progress(w, cards), progress_of(w, [a for a, _ in cards])
    return [seen(c, since) for c in kept] == [seen(c, since) for c in read]


def test_what_is_kept_is_what_would_be_read_after_every_act(shop: TestShop) -> None:
    student, other = shop.ready_student(), shop.ready_student()
    (mine, attempt), (theirs, _) = shop.assign(student), shop.assign(other)
    cards: Cards = [(uuid.UUID(mine), uuid.UUID(student.id)), (uuid.UUID(theirs), uuid.UUID(other.id))]
    other.read(shop.assign(other)[1], 3, "0.9981", M01)
    hand_in = ""

    def hand() -> None:
        nonlocal hand_in
        hand_in = student.hand_in(attempt)

    acts: list[Callable[[], Any]] = [
        *(lambda r=r: student.read(attempt, *r) for r in GOOD_BLOCK),  # type: ignore[misc]
        lambda: student.read(attempt, 3, "1.0021", M01),
        hand,
        lambda: shop.haldane.check(attempt, 3, "1.0021", M01),
        lambda: shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()}),
        lambda: shop.decide(hand_in, {"characteristic": 3, "kind": "rework"}),
        lambda: student.read(attempt, 3, "0.9982", M01),
        lambda: shop.haldane.put("/api/shop", {"school": "guard_band"}),
        lambda: shop.haldane.put("/api/shop", {"school": "bare_limits"}),
    ]
    student.post(
        f"/api/attempts/{attempt}/stations", {"id": new_id(), "station": "plan", "at": shop.clock().isoformat()}
    )
    for act in acts:
        act()
        for _ in range(2):
            assert shop.unit.run(lambda w: same(w, cards[:1]))


def test_only_the_card_of_who_did_something_is_read_anew(shop: TestShop) -> None:
    people = [shop.ready_student() for _ in range(3)]
    given = [shop.assign(p) for p in people]
    cards: Cards = [(uuid.UUID(a), uuid.UUID(p.id)) for p, (a, _) in zip(people, given, strict=True)]
    before = shop.unit.run(lambda w: kept_progress(w, cards))
    people[1].read(given[1][1], 3, "0.9981", M01)
    after = shop.unit.run(lambda w: kept_progress(w, cards))
    assert [one is two for one, two in zip(before, after, strict=True)] == [True, False, True]
    asked: list[str] = []

    def note(_c: Any, _cursor: Any, statement: str, *_more: Any) -> None:
        asked.append(statement)

    event.listen(shop.unit.engine, "before_cursor_execute", note)
    try:
        shop.unit.run(lambda w: kept_progress(w, cards))
    finally:
        event.remove(shop.unit.engine, "before_cursor_execute", note)
    assert len(asked) == 1, "the numbers alone"


def test_who_writes_in_the_same_transaction_reads_what_they_wrote(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, _ = shop.assign(student)
    cards: Cards = [(uuid.UUID(assignment), uuid.UUID(student.id))]
    shop.unit.run(lambda w: kept_progress(w, cards))

    def write(w: Work) -> list[CardProgress]:
        (card,) = progress_of(w, [cards[0][0]])
        card.student.name = "Somebody else"
        found = kept_progress(w, cards)
        w.db.rollback()
        return found

    (card,) = shop.unit.run(write)
    assert card is not shop.unit.run(lambda w: kept_progress(w, cards))[0]


@pytest.mark.parametrize(("early", "anew"), [(timedelta(minutes=1), False), (timedelta(0), True)])
def test_what_was_first_today_is_looked_for_again_tomorrow(
    shop: TestShop, at: Callable[[datetime], Unit], early: timedelta, anew: bool
) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    student.read(attempt, 3, "0.9981", M01)
    cards: Cards = [(uuid.UUID(assignment), uuid.UUID(student.id))]
    (before,) = shop.unit.run(lambda w: kept_progress(w, cards))
    first = before.reads[0].first
    assert first is not None
    (after,) = at(first + A_DAY_AT_WORK - early).run(lambda w: kept_progress(w, cards))
    assert (after is not before) is anew


def test_no_more_are_kept_than_a_process_may(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, _ = shop.assign(student)
    cards: Cards = [(uuid.UUID(assignment), uuid.UUID(student.id))]

    def filled(w: Work) -> None:
        kept = cache_of(w.db).setdefault("progress", OrderedDict())
        (card,) = kept_progress(w, cards)
        for _ in range(MOST_KEPT + 5):
            kept[uuid.uuid4()] = card

    shop.unit.run(filled)
    assert shop.unit.run(lambda w: len(cache_of(w.db)["progress"])) == MOST_KEPT


def test_what_a_use_case_read_that_came_to_nothing_is_not_kept(shop: TestShop) -> None:
    """Its rows are forgotten with it: whoever reads them later would find nothing."""
    student = shop.ready_student()
    assignment, _ = shop.assign(student)
    cards: Cards = [(uuid.UUID(assignment), uuid.UUID(student.id))]

    def fails(w: Work) -> None:
        kept_progress(w, cards)
        floor(w)
        raise Refused.of("x", "", "must not be")

    shop.session(student)
    with pytest.raises(Refused):
        shop.unit.run(fails)
    (card,) = shop.unit.run(lambda w: kept_progress(w, cards))
    assert card.student.name == student.me["name"]
    assert shop.unit.run(floor).session is not None
    assert shop.unit.run(floor).session is not None
