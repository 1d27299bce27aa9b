"""Everything of one person as a file: whole, without secrets, and without what a page hides at that moment."""

from __future__ import annotations

import json
import uuid
from typing import Any

import pytest
from sqlalchemy import create_engine, text

from incudo.demo.people import PASSWORD
from tests.shop import GOOD_BLOCK, M01, PINS, Person, TestShop, new_id

#: Every column of the database that names a person, by the database's own word.
NAMING = """
SELECT table_name, column_name FROM information_schema.key_column_usage
WHERE table_schema = DATABASE() AND referenced_table_name = 'person'
"""


def taken(by: Person, person: str, pin: str = "") -> dict[str, Any]:
    found: dict[str, Any] = by.post(f"/api/people/{person}/data", {"pin": pin})
    return found


def rows(found: dict[str, Any], table: str) -> list[dict[str, Any]]:
    return next((x["rows"] for x in found["tables"] if x["table"] == table), [])


@pytest.mark.parametrize("login", ["kaia", "dacosta", "haldane"])
def test_what_names_somebody_is_in_their_file(shop: TestShop, login: str) -> None:
    """Counted by the database: each row of each table that names them, but for those that wait or are worked out."""
    me = shop.person(login)
    # their signing in and their asking for it are kept as well
    found = taken(me, me.id)
    engine = create_engine(shop.owner_url)
    with engine.connect() as db:
        columns: dict[str, list[str]] = {}
        for table, column in db.execute(text(NAMING)):
            columns.setdefault(table, []).append(column)
        person = uuid.UUID(me.id).hex
        counted = {}
        for table, names in columns.items():
            where = " OR ".join(f"`{c}` = :person" for c in names)
            counted[table] = db.scalar(text(f"SELECT COUNT(*) FROM `{table}` WHERE {where}"), {"person": person})
    engine.dispose()
    assert sum(1 for n in counted.values() if n) > 8
    worked_out = {"pending", "skill_standing"}
    # rows that belong to a part that nobody has decided yet, or to a question or check that is open, may be missing
    waiting = {"reading", "run_tick", "run_remark", "noticed_sign", "dry_run", "plan_version", "found", "progress"}
    waiting |= {"study_reading", "comparison", "exercise_question", "check_try"}
    for table, n in counted.items():
        if n and table not in worked_out:
            many = len(rows(found, table))
            assert many >= n or table in waiting, (table, n, many)
            assert many or table in waiting, table


def test_no_secret_and_no_other_students_name_is_in_it(shop: TestShop) -> None:
    found = json.dumps(taken(shop.haldane, shop.haldane.id))
    for secret in ("password_hash", "pin_hash", "token_hash", "csrf", "code_hash", "scrypt", "argon2", PASSWORD):
        assert secret not in found, secret
    engine = create_engine(shop.owner_url)
    with engine.connect() as db:
        hashes = [h for h in db.scalars(text("SELECT password_hash FROM person")) if h]
    engine.dispose()
    assert not [h for h in hashes if h in found]
    signed = rows(json.loads(found), "sign_off")
    assert signed
    assert {x["student_id"] for x in signed} == {"another student"}


def test_a_students_own_work_is_there_once_it_is_decided(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.handed_in(GOOD_BLOCK)
    before = taken(student, student.id)
    assert [x["id"] for x in rows(before, "assignment")] == [assignment]
    assert rows(before, "reading") == [], "whoever checks it must not come to know them this way"
    shop.haldane.check(attempt, 3, "0.9981", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert rows(taken(student, student.id), "reading") == []
    shop.decide(hand_in)
    after = rows(taken(student, student.id), "reading")
    assert [x["text"] for x in after if not x["checking"]] == [v for _, v, _ in GOOD_BLOCK]
    assert {x["person_id"] for x in after} == {student.me["name"], shop.haldane.me["name"]}
    assert {x["instrument_id"] for x in after if x["characteristic"] == 3} == {"Micrometer 0–1 in no. 3"}


def test_what_is_not_answered_yet_is_not_in_it(shop: TestShop) -> None:
    student = shop.student()
    q = student.post("/api/exercise-questions", {"id": new_id(), "calculation": "spindle-speed"})
    assert rows(taken(student, student.id), "exercise_question") == []
    student.post(f"/api/exercise-questions/{q['id']}/answer", {"answer": "1"})
    assert [x["id"] for x in rows(taken(student, student.id), "exercise_question")] == [q["id"]]
    assert len(rows(taken(student, student.id), "exercise_answer")) == 1


def test_who_may_take_out_whose(shop: TestShop) -> None:
    student, other = shop.student(), shop.student()
    path = f"/api/people/{student.id}/data"
    for who in (other, shop.dacosta, shop.thorley):
        who.fails(404, path, {"pin": PINS["dacosta"]})
    assert shop.haldane.fails(422, path, {"pin": ""})["errors"][0]["field"] == "pin"
    assert shop.haldane.ask("POST", path, {"pin": "0000"}).status_code in (403, 422)
    shop.haldane.fails(404, f"/api/people/{new_id()}/data", {"pin": PINS["haldane"]})
    assert shop.haldane.get(f"/api/people/{student.id}/acts")["acts"] == []
    shop.sign(student.id, "facing")
    found = taken(shop.haldane, student.id, PINS["haldane"])
    assert found["login"] == student.login
    assert {x["assessor_id"] for x in rows(found, "sign_off")} == {"Mara Haldane"}
    acts = shop.haldane.get(f"/api/people/{student.id}/acts")["acts"]
    assert [(a["words"], a["by"]) for a in acts] == [("Their data were given out as a file.", "Mara Haldane")]


def test_it_can_be_read_on_paper_by_whom_it_is_of_or_with_a_pin(shop: TestShop) -> None:
    student, other = shop.student(), shop.student()
    path = f"/api/people/{student.id}/data-paper"
    mine = student.ask("POST", path, {"paper": "A4"})
    assert mine.data.startswith(b"%PDF-")
    assert "attachment" in mine.headers["Content-Disposition"]
    assert other.ask("POST", path, {"paper": "A4"}).status_code == 404
    shop.haldane.fails(422, path, {"paper": "A4"})
    shop.haldane.fails(403, path, {"paper": "A4", "pin": "0000"})
    assert shop.haldane.ask("POST", path, {"paper": "Letter", "pin": PINS["haldane"]}).data.startswith(b"%PDF-")
    acts = shop.haldane.get(f"/api/people/{student.id}/acts")["acts"]
    assert sum(a["words"] == "Their data were given out as a file." for a in acts) == 2
