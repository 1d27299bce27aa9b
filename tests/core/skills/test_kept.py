"""What is kept of a standing says at every later moment what the record says, or knows that it does not hold."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.skills.evidence import Act, Evidence, Record
from incudo.core.skills.kept import Kept, from_text, keep, to_text
from incudo.core.skills.permission import Answer, decide
from incudo.core.skills.standing import DUE_SOON_DAYS, IN_REACH, Book, State
from tests.core.skills.records import GRAPH, MACHINES, NOW, ago, book, inspected, signed, upto
from tests.core.skills.test_permission import evidence, operation, records

PLACES = (None, *MACHINES)
LAPSING = next(s for s in GRAPH.skills if s.lapses.after_days is not None)


def same(kept: Kept, now: Book) -> bool:
    """Standings, the evidence of what is in reach, and what may be done alone."""
    for s in GRAPH.skills:
        for m in PLACES:
            x = now.standing(s.id, m)
            if kept.standing(s.id, m) != x or (x.state in IN_REACH and kept.evidence(s, m) != now.evidence(s, m)):
                return False
    operations = [s.id for s in GRAPH.skills if s.operation]
    return all(
        kept.alone(m) == tuple(o for o in operations if decide(now, (o,), m).answer is Answer.ALLOWED) for m in MACHINES
    )


@settings(max_examples=5 * settings().max_examples, deadline=None)
@given(records, evidence, st.lists(st.integers(0, 900), max_size=4), st.integers(-30, 900), operation)
def test_what_is_kept_is_what_the_record_says(
    found: list[Act], proofs: list[Evidence], seen: list[int], days: int, what: str
) -> None:
    """Over random histories: at any other moment the kept standing is the record's, or is not believed."""
    record = Record(tuple(found), tuple(proofs), tuple(ago(d) for d in seen))
    keepsake = from_text(to_text(keep(Book(GRAPH, record, NOW), MACHINES)))
    assert keepsake.holds_at(NOW)
    later = NOW + timedelta(days=days)
    if keepsake.holds_at(later):
        kept, now = Kept(GRAPH, keepsake, later), Book(GRAPH, record, later)
        assert kept.moment == now.moment
        assert same(kept, now)
        assert decide(kept, (what,), MACHINES[0]) == decide(now, (what,), MACHINES[0])


@settings(max_examples=100, deadline=None)
@given(records, st.lists(st.integers(0, 900), max_size=4))
def test_it_holds_until_the_first_moment_at_which_something_is_another(found: list[Act], seen: list[int]) -> None:
    record = Record(tuple(found), (), tuple(ago(d) for d in seen))
    keepsake = keep(Book(GRAPH, record, NOW), MACHINES)
    if keepsake.until is not None:
        before = keepsake.until - timedelta(microseconds=1)
        assert keepsake.holds_at(before)
        assert same(Kept(GRAPH, keepsake, before), Book(GRAPH, record, before))
        assert not keepsake.holds_at(keepsake.until)
        anew = keep(Book(GRAPH, record, keepsake.until), MACHINES)
        assert anew.since == keepsake.until, "what is worked out at that very moment begins with it"
        assert anew.until is None or anew.until > keepsake.until


def lapsing(days: float) -> Any:
    skills = upto(LAPSING.id, days=days)
    return book(*skills, presence=[ago(d) for d in range(0, 900, 10)])


def test_it_turns_on_the_day_it_lapses_and_on_the_day_it_is_due_soon() -> None:
    limit = LAPSING.lapses.after_days
    assert limit is not None
    fresh = keep(lapsing(1), MACHINES)
    due = signed(LAPSING.id, days=1).at + timedelta(days=limit - DUE_SOON_DAYS)
    assert fresh.until is not None
    assert fresh.until <= due.replace(hour=0, minute=0)
    state = lapsing(limit - 1).standing(LAPSING.id, MACHINES[0] if LAPSING.per_machine else None).state
    assert state is State.DUE_SOON
    soon = keep(lapsing(limit - 1), MACHINES)
    assert soon.since is not None
    assert soon.until == ago(limit - 1) + timedelta(days=limit)
    # a clock that is set back before the turn makes it unbelieved, as one that goes on past it
    assert soon.holds_at(soon.since)
    assert not soon.holds_at(min(soon.since, ago(2)) - timedelta(seconds=1))


def test_who_waits_for_a_signature_is_kept_with_since_when() -> None:
    ready = upto("machine-familiarisation", "measure-caliper", "facing")
    keepsake = keep(book(*ready, evidence=[inspected("square-block", 9), inspected("square-block", 3)]), MACHINES)
    assert keepsake.inspected == {"square-block": ago(3)}
    assert keep(book(*ready), MACHINES).inspected == {}
    assert keep(book(*ready, signed("square-block"), evidence=[inspected("square-block")]), MACHINES).inspected == {}


def test_an_unknown_skill_or_machine_is_not_made_up() -> None:
    kept = Kept(GRAPH, keep(book(), MACHINES), NOW)
    with pytest.raises(Refused):
        kept.standing("flying", None)
    with pytest.raises(KeyError):
        kept.standing("person", "a machine that came later")
