"""Standing, permission, signing: properties over random records, and the cases people meet."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.errors import NotPermitted
from incudo.core.people.roles import Role
from incudo.core.skills.evidence import Act, ActKind, Evidence, EvidenceKind, Record
from incudo.core.skills.permission import (
    Answer,
    Assessor,
    Confirmation,
    Here,
    check_may_sign,
    decide,
    missing_for,
    needed_for,
)
from incudo.core.skills.standing import Book, State, book_at
from tests.core.said import told
from tests.core.skills.records import (
    BANKS,
    GRAPH,
    MACHINES,
    NOW,
    ago,
    book,
    checked,
    inspected,
    reached,
    signed,
    upto,
    withdrawn,
)

RANK = {Answer.REFUSED: 0, Answer.WITH_ASSESSOR: 1, Answer.ALLOWED: 2}
READY_TO_SQUARE = upto("machine-familiarisation", "measure-caliper", "facing")
SQUARED = (*READY_TO_SQUARE, signed("square-block"))


def state(b: Book, skill: str, machine: str | None = None) -> State:
    return b.standing(skill, machine).state


def test_from_nothing_to_signed() -> None:
    new = book()
    assert state(new, "person") is State.OPEN
    assert "knowledge check" in new.standing("person", None).reason
    assert state(new, "general-safety") is State.LOCKED
    assert state(book(evidence=[checked("surroundings-person")]), "person") is State.READY
    failed = book(evidence=[checked("surroundings-person", passed=False)])
    assert state(failed, "person") is State.OPEN
    assert state(book(*READY_TO_SQUARE), "square-block") is State.OPEN
    assert state(book(*READY_TO_SQUARE, evidence=[inspected("square-block")]), "square-block") is State.READY
    assert state(book(*SQUARED), "square-block") is State.SIGNED


def test_familiarisation_is_for_one_machine() -> None:
    b = book(*READY_TO_SQUARE)
    assert state(b, "machine-familiarisation", "petrel") is State.SIGNED
    assert state(b, "machine-familiarisation", "gannet") is State.READY
    assert state(b, "machine-familiarisation") is State.SIGNED, "the best of all"


@pytest.mark.parametrize(
    ("days", "wanted"),
    [(334, State.SIGNED), (335, State.DUE_SOON), (364.9, State.DUE_SOON), (365, State.LAPSED)],
)
def test_a_sign_off_lapses_by_its_age(days: float, wanted: State) -> None:
    acts = (*upto("surroundings", "person", days=20), signed("before-starting", days=days))
    here = [ago(d) for d in range(0, int(days), 30)]
    standing = book(*acts, presence=here).standing("before-starting", None)
    assert standing.state is wanted
    if wanted is State.LAPSED:
        assert "ask for the refresher" in standing.reason


def test_a_sign_off_lapses_by_absence_and_coming_back_does_not_undo_it() -> None:
    acts = upto("before-starting", days=200)
    away = book(*acts).standing("before-starting", None)
    assert away.state is State.LAPSED
    assert "after 120 days away" in away.reason
    stayed = book(*acts, presence=[ago(d) for d in (150, 60, 5)])
    assert state(stayed, "before-starting") is State.SIGNED
    for first, wanted in ((80, State.SIGNED), (79.99, State.LAPSED)):
        just = book(*acts, presence=[ago(first), ago(5)])
        assert state(just, "before-starting") is wanted, "came on the very last day, or after it"
    back = book(*acts, presence=[ago(5)])
    assert state(back, "before-starting") is State.LAPSED, "was away for 195 days"
    again = book(*acts, signed("before-starting", days=2), presence=[ago(5)])
    assert state(again, "before-starting") is not State.LAPSED, "the refresher was signed"


def test_a_lapse_suspends_what_rests_on_it() -> None:
    old = [replace(a, at=ago(800)) if a.skill == "person" else a for a in SQUARED]
    b = book(*old)
    assert state(b, "square-block") is State.SUSPENDED
    d = decide(b, ("square-block",), "petrel")
    assert d.answer is Answer.REFUSED
    assert any("lapsed on" in r for r in d.reasons)


def test_a_withdrawal_suspends_until_it_is_given_back() -> None:
    gone = book(*SQUARED, withdrawn("measure-caliper"))
    assert state(gone, "measure-caliper") is State.WITHDRAWN
    assert state(gone, "square-block") is State.SUSPENDED
    restored = Act(ActKind.RESTORATION, "measure-caliper", None, ago(0.5), "Mara Haldane", "talked through")
    back = book(*SQUARED, withdrawn("measure-caliper"), restored)
    assert state(back, "square-block") is State.SIGNED
    anew = book(*SQUARED, withdrawn("measure-caliper"), signed("measure-caliper", days=0))
    assert state(anew, "square-block") is State.SIGNED
    never = book(*READY_TO_SQUARE, replace(restored, skill="square-block"))
    assert state(never, "square-block") is State.OPEN, "giving back signs nothing"


def test_a_withdrawal_of_the_same_moment_wins() -> None:
    assert state(book(signed("person", days=1), withdrawn("person", days=1)), "person") is State.WITHDRAWN


def test_a_clock_moved_back_changes_nothing() -> None:
    acts = (signed("surroundings", days=800), signed("person", days=0))
    assert state(book(*acts, now=ago(799)), "surroundings") is State.LAPSED


def test_who_may_operate() -> None:
    assert decide(book(*SQUARED), ("square-block",), "petrel").answer is Answer.ALLOWED
    learning = decide(book(*READY_TO_SQUARE), ("square-block",), "petrel")
    assert learning.answer is Answer.WITH_ASSESSOR
    assert [told(r) for r in learning.reasons] == [("Squaring a block", 0, 1)]
    stranger = decide(book(*SQUARED), ("square-block",), "gannet")
    assert stranger.answer is Answer.REFUSED
    assert "Machine familiarisation" in stranger.reasons[0]
    taken = decide(book(*SQUARED, withdrawn("square-block")), ("square-block",), "petrel")
    assert taken.answer is Answer.REFUSED
    both = decide(book(*SQUARED), ("square-block", "mill-steps"), "petrel")
    assert both.answer is not Answer.ALLOWED, "the strictest over all that is asked holds"


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"closed": ("Petrel is tagged out: belt torn",)}, "belt torn"),
        ({"session": False}, "No session"),
        ({"supervisor": ""}, "Nobody supervises"),
        ({"machine_open": False}, "not opened"),
        ({"present": False}, "roll"),
        ({"notice_signed": False}, "notice"),
        ({"at_handles": False}, "handles"),
        ({"listed": False}, "pre-start"),
        ({"holds": ("before the first start",)}, "Hold point"),
    ],
)
def test_the_shop_must_be_as_it_should(change: dict[str, Any], words: str) -> None:
    fine = Here(supervisor="Mara Haldane", assessors=("Mara Haldane",))
    assert decide(book(*SQUARED), ("square-block",), "petrel", fine).starts
    d = decide(book(*SQUARED), ("square-block",), "petrel", replace(fine, **change))
    assert d.answer is Answer.REFUSED
    assert words in " ".join(d.reasons)


def test_beside_an_assessor_for_this_operation_and_so_long() -> None:
    learner = book(*READY_TO_SQUARE)
    here = Here(supervisor="Mara Haldane", assessors=("Mara Haldane",))
    asked = decide(learner, ("square-block",), "petrel", here)
    assert (asked.answer, asked.starts, asked.assessors) == (Answer.WITH_ASSESSOR, False, ("Mara Haldane",))

    def beside(operation: str, minutes: int) -> bool:
        c = Confirmation(operation, "Mara Haldane", NOW + timedelta(minutes=minutes))
        return decide(learner, ("square-block",), "petrel", replace(here, confirmed=c)).starts

    assert beside("square-block", 30)
    assert not beside("square-block", 0), "the time is over"
    assert not beside("facing", 30), "for another operation"


def test_missing_skills_come_with_their_reason() -> None:
    needed = needed_for(GRAPH, ("measure-caliper",), ("facing", "square-block"))
    assert "facing" not in needed, "an operation of the part itself may be done with an assessor"
    found = missing_for(book(*upto("general-safety")), needed, "petrel")
    assert {m.skill for m in found} >= {"machine-familiarisation", "measure-caliper", "change-cutter"}
    assert all(len(m.reason) > 10 for m in found)
    assert missing_for(book(*READY_TO_SQUARE), needed, "petrel") == ()


SKILLS = st.sampled_from(GRAPH.skills)
acts = st.lists(
    st.builds(
        lambda kind, skill, machine, days: Act(
            kind, skill.id, machine if skill.per_machine else None, ago(days), "Mara Haldane", "as seen"
        ),
        st.sampled_from(ActKind),
        SKILLS,
        st.sampled_from(MACHINES),
        st.integers(0, 800),
    ),
    max_size=14,
)
#: Random acts alone hardly ever open anything, so half of the records start from a skilled student.
records = st.one_of(
    acts,
    st.builds(
        lambda start, more: [*start, *more],
        st.sampled_from([READY_TO_SQUARE, SQUARED, upto("mill-steps"), upto("boring", "mill-pockets")]),
        acts,
    ),
)
evidence = st.lists(
    st.one_of(
        st.builds(
            inspected, st.sampled_from(["measure-micrometer", "square-block", "mill-steps"]), st.integers(0, 300)
        ),
        st.builds(
            lambda b, d, ok: checked(b, d, passed=ok), st.sampled_from(BANKS), st.integers(0, 300), st.booleans()
        ),
    ),
    max_size=6,
)
operation = st.sampled_from([s.id for s in GRAPH.skills if s.operation])
machine = st.sampled_from(MACHINES)


@settings(max_examples=150)
@given(records, evidence, st.randoms(), operation, machine)
def test_the_order_of_arrival_does_not_matter(
    found: list[Act], proofs: list[Evidence], random: Any, what: str, where: str
) -> None:
    shuffled, other = found[:], proofs[:]
    random.shuffle(shuffled)
    random.shuffle(other)
    one = decide(book(*found, evidence=proofs), (what,), where)
    two = decide(book(*shuffled, evidence=other), (what,), where)
    assert one.answer == two.answer


@settings(max_examples=150)
@given(records, evidence, SKILLS, operation, machine, st.sampled_from(BANKS))
def test_more_passing_evidence_never_takes_permission_away(
    found: list[Act], proofs: list[Evidence], skill: Any, what: str, where: str, bank: str
) -> None:
    before = decide(book(*found, evidence=proofs), (what,), where)
    more = signed(skill.id, where if skill.per_machine else None, days=0)
    after = decide(
        book(*found, more, evidence=[*proofs, inspected(what, 0), checked(bank, 0)], presence=[NOW]), (what,), where
    )
    if not any(a.kind is ActKind.WITHDRAWAL and a.at == more.at for a in found):
        assert RANK[after.answer] >= RANK[before.answer]


@settings(max_examples=150)
@given(records, evidence, SKILLS, operation, machine)
def test_a_withdrawal_never_adds_permission(
    found: list[Act], proofs: list[Evidence], skill: Any, what: str, where: str
) -> None:
    before = decide(book(*found, evidence=proofs), (what,), where)
    less = withdrawn(skill.id, where if skill.per_machine else None, days=0)
    after = decide(book(*found, less, evidence=proofs), (what,), where)
    assert RANK[after.answer] <= RANK[before.answer]


@settings(max_examples=150)
@given(records, evidence, operation, machine)
def test_every_answer_but_allowed_has_a_reason(found: list[Act], proofs: list[Evidence], what: str, where: str) -> None:
    decision = decide(book(*found, evidence=proofs), (what,), where)
    assert bool(decision.reasons) is (decision.answer is not Answer.ALLOWED)
    assert all(len(r) > 10 for r in decision.reasons)


@settings(max_examples=100)
@given(records, records, evidence, operation, machine, st.integers(1, 400), st.integers(0, 200))
def test_a_decision_about_a_past_moment_can_be_repeated(
    found: list[Act], later: list[Act], proofs: list[Evidence], what: str, where: str, days: int, known: int
) -> None:
    """What happens, or becomes known, after the two moments changes nothing about the answer."""
    as_of, known_at = ago(days), ago(min(days, known))
    record = Record(tuple(found), tuple(proofs))
    then = decide(book_at(GRAPH, record, as_of, known_at), (what,), where)
    unknown = [replace(a, recorded=known_at + timedelta(minutes=1)) for a in later]
    afterwards = [replace(a, at=as_of + timedelta(minutes=1)) for a in later]
    more = Record((*found, *unknown, *afterwards), record.evidence, (NOW,))
    assert decide(book_at(GRAPH, more, as_of, known_at), (what,), where) == then


HALDANE = Assessor("haldane", Role.INSTRUCTOR)
DACOSTA = Assessor("dacosta", Role.ASSISTANT, frozenset({"measure-caliper", "general-safety"}))
CALIPER = upto("measure-rule", "deburr")
MEASURING = [checked("measuring"), reached("reading"), reached("reading")]


def why_not(assessor: Assessor, b: Book, skill: str, on: str | None = None, student: str = "orla") -> str:
    try:
        check_may_sign(b, assessor, student, skill, on)
    except NotPermitted as refused:
        return str(refused)
    return ""


def test_who_may_sign_what() -> None:
    b = book(*CALIPER, evidence=MEASURING)
    assert why_not(HALDANE, b, "measure-caliper") == ""
    assert why_not(DACOSTA, b, "measure-caliper") == ""
    assert "not delegated" in why_not(DACOSTA, b, "machine-familiarisation", "petrel")
    assert "by an instructor only" in why_not(DACOSTA, b, "general-safety"), "delegated or not"
    assert "for themselves" in why_not(HALDANE, b, "measure-caliper", student="haldane")
    assert "say which" in why_not(HALDANE, b, "machine-familiarisation")
    assert "name none" in why_not(HALDANE, b, "measure-caliper", "petrel")
    assert "rests on Measuring with a rule" in why_not(HALDANE, book(evidence=MEASURING), "measure-caliper")
    assert "knowledge check" in why_not(HALDANE, book(*CALIPER), "measure-caliper")
    assert "inspected parts: 0 of 1" in why_not(HALDANE, book(*READY_TO_SQUARE), "square-block")
    assert why_not(HALDANE, book(*READY_TO_SQUARE, evidence=[inspected("square-block")]), "square-block") == ""
    for role in (Role.STUDENT, Role.AUDITOR):
        assert "Only an instructor" in why_not(Assessor("x", role), b, "measure-caliper")


def test_a_refresher_needs_no_new_evidence() -> None:
    lapsed = book(*upto("surroundings", "person", days=20), signed("before-starting", days=400))
    assert state(lapsed, "before-starting") is State.LAPSED
    assert why_not(HALDANE, lapsed, "before-starting") == ""
    skill = GRAPH.get("before-starting")
    assert 0 < len(skill.points(refresher=True)) < len(skill.points())


def test_only_an_instructor_gives_back() -> None:
    gone = book(*CALIPER, signed("measure-caliper"), withdrawn("measure-caliper"), evidence=MEASURING)
    assert "Only an instructor can reinstate" in why_not(DACOSTA, gone, "measure-caliper")
    assert why_not(HALDANE, gone, "measure-caliper") == ""


def test_hours_and_rigs_count_as_evidence() -> None:
    base = {"name": "S one", "group": "g", "shown": ["a point to show"], "cautions": []}
    caution = {"happens": "something flies off", "do": "stand to the side of it"}

    def graph(requirement: dict[str, Any]) -> Any:
        from incudo.core.skills.graph import read_graph

        skill = {**base, "id": "s", "per_machine": True, "evidence": [requirement], "cautions": [caution]}
        data = {"format": "incudo-skills/2", "groups": [{"id": "g", "name": "Group"}], "skills": [skill]}
        return read_graph(data, (), ("head-rig",))

    def run(passed: bool, days: float) -> Evidence:
        return Evidence(EvidenceKind.RIG, "head-rig", ago(days), passed=passed)

    rig = graph({"kind": "rig", "rig": "head-rig", "times": 2})
    broken = Record((), (run(True, 3), run(False, 2), run(True, 1)))
    assert Book(rig, broken, NOW).standing("s", "petrel").state is State.OPEN, "not in a row"
    row = Record((), (run(False, 3), run(True, 2), run(True, 1)))
    assert Book(rig, row, NOW).standing("s", "petrel").state is State.READY
    hours = graph({"kind": "hours", "hours": 2})
    worked = [
        Evidence(EvidenceKind.HOURS, "", ago(d), machine=m, minutes=60)
        for d, m in ((1, "petrel"), (2, "gannet"), (3, "petrel"))
    ]
    b = Book(hours, Record((), tuple(worked)), NOW)
    assert b.standing("s", "petrel").state is State.READY
    assert told(b.standing("s", "gannet").reason) == (1, 2)


def test_a_withdrawal_made_under_a_clock_set_back_still_holds() -> None:
    """The register knows what came last; the clock that day said that the withdrawal came before the sign-off."""
    off = replace(signed("general-safety", days=10), seq=7)
    gone = replace(withdrawn("general-safety", days=30), seq=8)
    for acts in ((off, gone), (gone, off)):
        assert state(book(*acts), "general-safety") is State.WITHDRAWN
    back = Act(ActKind.RESTORATION, "general-safety", None, ago(40), "Mara Haldane", "shown again", seq=9)
    assert state(book(off, gone, back), "general-safety") is not State.WITHDRAWN
    assert state(book(off, replace(gone, seq=6)), "general-safety") is not State.WITHDRAWN
