"""Kept standings against the record, over random histories in the real database, and with two requests at once."""

from __future__ import annotations

import json
import random
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta
from typing import Any

import pytest
from sqlalchemy import text

from incudo import shipped
from incudo.app.kernel.unit import Unit
from incudo.app.register.chain import record
from incudo.app.skills.records import skill_book
from incudo.app.skills.standings import keep_standings, ready_to_sign, rebuild, standing_of, standings
from incudo.demo.story import who as demo_person
from incudo.store import schema as t
from tests.shop import GAUGE_V1, MACHINES, TIDE_V1, TUESDAY, TestShop

At = Callable[[datetime], Unit]
SKILLS = shipped.graph().skills
BANKS = sorted(shipped.banks())
#: Histories that are grown step by step; every step is compared.
#: Acts of one history.
STEPS = 9


def act(kind: type[t.Base], student: uuid.UUID, at: datetime, skill: Any, machine: str) -> t.Base:
    words = (
        {"refresher": False, "note": "", "batch_id": uuid.uuid4()} if kind is t.SignOff else {"reason": "reached over"}
    )
    if kind is t.Withdrawal:
        words |= {"place": "", "witness": "", "done": ""}
    return kind(
        id=uuid.uuid4(),
        student_id=student,
        skill=skill.id,
        machine_id=uuid.UUID(machine) if skill.per_machine else None,
        assessor_id=demo_person("haldane").id,
        at=at,
        **words,
    )


def something(w: Any, student: uuid.UUID, draw: random.Random) -> None:
    """One random thing is recorded about a student."""
    match draw.randrange(7):
        case 0 | 1 | 2:
            kind = draw.choice([t.SignOff, t.SignOff, t.Withdrawal, t.Restoration])
            row = act(kind, student, w.now, draw.choice(SKILLS), draw.choice(MACHINES))
            w.db.add(row)
            w.db.flush()
            record(w, row)
        case 3:
            key = uuid.uuid4()
            seed = {"seed": "s", "questions": "[]", "at": w.now}
            w.db.add(t.CheckTry(id=key, student_id=student, bank=draw.choice(BANKS), bank_number=1, **seed))
            w.db.flush()
            passed = draw.random() < 0.7
            w.db.add(t.CheckResult(try_id=key, right=5, asked=5, critical_wrong=0, passed=passed, at=w.now))
        case 4:
            run = uuid.uuid4()
            begun = {"level": 1, "seed": "s", "setup": "{}", "guided": False, "exercise_id": None, "at": w.now}
            w.db.add(t.RigRun(id=run, student_id=student, rig=draw.choice(["reading", "tram", "vise"]), **begun))
            w.db.flush()
            ended = {"passes": 1, "practised": 0, "reasons": "[]", "at": w.now}
            w.db.add(t.RigResult(run_id=run, passed=draw.random() < 0.7, **ended))
        case 5:
            meeting = t.Meeting(
                id=uuid.uuid4(),
                group_id=uuid.UUID(TUESDAY),
                opened_by=demo_person("haldane").id,
                opened_at=w.now,
                ended_at=w.now,
                open_slot=None,
            )
            w.db.add(meeting)
            w.db.flush()
            mark = {"presence": draw.choice(["here", "absent"]), "by_id": demo_person("haldane").id, "at": w.now}
            w.db.add(t.Roll(id=uuid.uuid4(), meeting_id=meeting.id, person_id=student, **mark))
        case 6:
            planned(w, student, draw)


def planned(w: Any, student: uuid.UUID, draw: random.Random) -> None:
    """A plan is tried dry, handed in and decided; it counts, or was sent back, or was somebody else's."""
    card, version, handed = uuid.uuid4(), uuid.uuid4(), uuid.uuid4()
    boss, machine = demo_person("haldane").id, uuid.UUID(MACHINES[0])
    part = uuid.UUID(draw.choice([TIDE_V1, GAUGE_V1]))
    given = {"machine_id": machine, "due": None, "not_before_signed": True, "assigned_by": boss, "assigned_at": w.now}
    by, number = draw.choice([student, boss]), draw.choice([1, 2])
    w.db.add(t.Assignment(id=card, project_version_id=part, student_id=student, **given))
    w.db.flush()
    made = {"number": number, "machine_id": machine, "content": "{}", "numbers": "[]", "at": w.now}
    w.db.add(t.PlanVersion(id=version, assignment_id=card, person_id=draw.choice([student, student, boss]), **made))
    w.db.flush()
    w.db.add(t.PlanHandIn(id=handed, assignment_id=card, number=number, version_id=version, findings="[]", at=w.now))
    w.db.flush()
    run, outcome = uuid.uuid4(), {"lines": [{"good": draw.random() < 0.8}], "causes": []}
    w.db.add(t.DryRun(id=run, assignment_id=card, plan_version_id=version, person_id=by, dials="{}", at=w.now))
    w.db.flush()
    act_ = {"number": 1, "step": "s", "content": "{}", "outcome": json.dumps(outcome), "at": w.now}
    w.db.add(t.DryAct(id=uuid.uuid4(), run_id=run, **act_))
    decided = {"approved": draw.random() < 0.8, "remark": "", "remarks": "[]", "at": w.now}
    w.db.add(t.PlanDecision(id=uuid.uuid4(), plan_hand_in_id=handed, by_id=by, **decided))


def differences(w: Any, student: uuid.UUID) -> list[str]:
    kept, book = standing_of(w, student), skill_book(w, student)
    return [
        f"{s.id} on {m}: kept {kept.standing(s.id, m)}, record {book.standing(s.id, m)}"
        for s in SKILLS
        for m in (None, *MACHINES)
        if kept.standing(s.id, m) != book.standing(s.id, m)
    ]


def believed(w: Any, student: uuid.UUID) -> bool:
    """Whether the kept standing is taken as it is: nothing is worked out from the record."""
    standing_of(w, student)
    return not w.later


@pytest.mark.parametrize("histories", [4, pytest.param(500, marks=pytest.mark.long)])
def test_kept_standings_are_the_records_over_random_histories(
    shop: TestShop, at: At, moment: datetime, histories: int
) -> None:
    students = []
    for history in range(histories):
        draw, student = random.Random(f"history {history}"), uuid.UUID(shop.student().id)
        when = moment - timedelta(days=900)
        for _ in range(STEPS):
            when += timedelta(days=draw.choice([0.01, 1, 40, 200]))
            unit = at(when)
            unit.run(lambda w, s=student, d=draw: something(w, s, d))
            assert unit.run(lambda w, s=student: differences(w, s)) == []
            assert unit.run(lambda w, s=student: believed(w, s)), "it was kept after the first asking"
        # long after the last act, when things lapse by time alone
        assert at(moment).run(lambda w, s=student: differences(w, s)) == []
        students.append(student)
    assert rebuild(at(moment)).wrong == ()
    for student in students:
        assert at(moment).run(lambda w, s=student: differences(w, s)) == []


def test_rebuilding_finds_what_is_wrong_and_puts_it_right(shop: TestShop) -> None:
    student = uuid.UUID(shop.student("person").id)
    shop.unit.run(lambda w: keep_standings(w, [student]))
    assert rebuild(shop.unit).wrong == ()

    def spoil(w: Any) -> None:
        row = w.db.get(t.SkillStanding, student)
        row.content = row.content.replace('"signed"', '"withdrawn"')

    shop.unit.run(spoil)
    found = rebuild(shop.unit)
    assert found.wrong
    assert all(str(student) in x for x in found.wrong)
    assert f"{student}: person, any machine: kept withdrawn" in found.wrong[0]
    assert rebuild(shop.unit).wrong == ()
    assert shop.unit.run(lambda w: differences(w, student)) == []


def test_an_act_that_is_not_committed_yet_is_seen_by_who_wrote_it(shop: TestShop) -> None:
    student = uuid.UUID(shop.student("person").id)
    assert shop.unit.run(lambda w: standing_of(w, student).standing("person", None).state.current)

    def withdraw(w: Any) -> bool:
        row = act(t.Withdrawal, student, w.now, shipped.graph().get("person"), "")
        w.db.add(row)
        w.db.flush()
        record(w, row)
        return standing_of(w, student).standing("person", None).state.current

    assert shop.unit.run(withdraw) is False


def test_of_two_acts_at_once_neither_is_lost(shop: TestShop) -> None:
    """Withdrawals and looks at the same moment: whatever was kept last, the next look sees every withdrawal."""
    students = [uuid.UUID(shop.student("person", "general-safety").id) for _ in range(4)]

    def withdraw(student: uuid.UUID, skill: str) -> None:
        def one(w: Any) -> None:
            row = act(t.Withdrawal, student, w.now, shipped.graph().get(skill), "")
            w.db.add(row)
            w.db.flush()
            record(w, row)

        shop.unit.run(one)

    with ThreadPoolExecutor(6) as pool:
        acts = [pool.submit(withdraw, s, x) for s in students for x in ("person", "general-safety")]
        looks = [pool.submit(shop.unit.run, lambda w: len(standings(w, students))) for _ in range(12)]
        assert [f.result() for f in looks] == [len(students)] * 12
        for f in acts:
            f.result()
    for s in students:
        assert shop.unit.run(lambda w, s=s: differences(w, s)) == []
        assert not shop.unit.run(lambda w, s=s: standing_of(w, s).standing("person", None).state.current)


@pytest.mark.parametrize("change", ["graph", "machine"])
def test_what_all_standings_rest_on_changes(shop_apart: TestShop, change: str) -> None:
    shop = shop_apart
    student = uuid.UUID(shop.student("person").id)
    shop.unit.run(lambda w: keep_standings(w, [student]))
    assert shop.unit.run(lambda w: believed(w, student))

    def another(w: Any) -> None:
        if change == "graph":
            (content,) = w.db.execute(text("SELECT content FROM skill_file ORDER BY number DESC LIMIT 1")).one()
            (number,) = w.db.execute(text("SELECT MAX(number) FROM skill_file")).one()
            w.db.add(t.SkillFile(number=number + 1, content=content, made_at=w.now))
        else:
            spec = w.db.get(t.Machine, uuid.UUID(MACHINES[0])).spec
            w.db.add(t.Machine(id=uuid.uuid4(), name=f"Shag {uuid.uuid4().hex[:4]}", about="", place=99, spec=spec))

    shop.unit.run(another)
    assert not shop.unit.run(lambda w: believed(w, student))
    assert shop.unit.run(lambda w: believed(w, student))


def test_who_waits_for_a_signature_is_found_kept_or_not(shop: TestShop) -> None:
    """Against the record of everybody who is here."""

    def both(w: Any) -> tuple[list[Any], list[Any]]:
        kept = sorted((str(s), skill, at) for s, skill, at in ready_to_sign(w))
        here = [s for (s,) in w.db.execute(text("SELECT id FROM person WHERE role = 'student' AND active"))]
        found = []
        for student in (uuid.UUID(s) if isinstance(s, str) else s for s in here):
            book = skill_book(w, student)
            for s in SKILLS:
                ready = not s.demonstrated and book.standing(s.id, None).state.value == "ready"
                if ready and book.inspected(s.id):
                    found.append((str(student), s.id, book.inspected(s.id)[-1].at))
        return kept, sorted(found)

    kept, found = shop.unit.run(both)
    assert kept == found
    again, _ = shop.unit.run(both)
    assert again == found
