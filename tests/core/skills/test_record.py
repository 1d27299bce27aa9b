"""A student's record as it stood at a moment, by what was known at another one."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from incudo.core.skills.evidence import Act, ActKind, Evidence, EvidenceKind, Record

NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)
HOUR = timedelta(hours=1)


def act(at: datetime, recorded: datetime | None = None, kind: ActKind = ActKind.SIGN_OFF) -> Act:
    return Act(kind, "dials", None, at, "haldane", recorded=recorded)


def evidence(at: datetime, recorded: datetime | None = None) -> Evidence:
    return Evidence(EvidenceKind.RIG, "handle", at, recorded=recorded)


@pytest.mark.parametrize(
    ("happened", "recorded", "as_of", "known", "there"),
    [
        (NOON, None, NOON, NOON, True),
        (NOON, None, NOON - HOUR, NOON, False),  # it had not happened
        (NOON, None, NOON, NOON - HOUR, False),  # nobody could know
        # entered later (a tablet without network): it counts from when it happened, for who asks after it was entered
        (NOON, NOON + HOUR, NOON, NOON + HOUR, True),
        (NOON, NOON + HOUR, NOON + HOUR, NOON, False),
        (NOON, NOON + HOUR, NOON - HOUR, NOON + HOUR, False),
        (NOON, NOON - HOUR, NOON, NOON - HOUR, True),  # by a clock that was fast
    ],
)
def test_what_counts_has_happened_and_was_known(
    happened: datetime, recorded: datetime | None, as_of: datetime, known: datetime, there: bool
) -> None:
    whole = Record((act(happened, recorded),), (evidence(happened, recorded),))
    then = whole.of(as_of, known)
    assert (len(then.acts), len(then.evidence)) == (there, there)


@pytest.mark.parametrize(
    ("as_of", "known", "there"),
    [(NOON, NOON, True), (NOON - HOUR, NOON, False), (NOON, NOON - HOUR, False), (NOON + HOUR, NOON + HOUR, True)],
)
def test_being_here_is_known_when_it_happens(as_of: datetime, known: datetime, there: bool) -> None:
    assert bool(Record(presence=(NOON,)).of(as_of, known).presence) is there


def test_who_is_signed_or_practises_was_here_and_who_is_withdrawn_need_not_have_been() -> None:
    record = Record(
        (act(NOON), act(NOON + HOUR, kind=ActKind.WITHDRAWAL), act(NOON + 2 * HOUR, kind=ActKind.RESTORATION)),
        (evidence(NOON - HOUR),),
        (NOON - 2 * HOUR, NOON),
    )
    assert record.seen == (NOON - 2 * HOUR, NOON - HOUR, NOON, NOON + 2 * HOUR)
