"""Exercises: one answer to each question, slips named, ten in a row as evidence; sheets for a group and their key."""

from __future__ import annotations

import json
from typing import Any

import pytest
from weasyprint import HTML

from incudo.app.kernel.unit import Who
from incudo.app.practice.exercise_views import SetSheet, SheetAnswer
from incudo.app.practice.questions import kept_question, read_question
from incudo.app.practice.sheets import end_sheet, set_sheet, sheet_answer
from incudo.core.kernel.errors import Conflict
from incudo.core.people.roles import Role
from incudo.demo.practising import answer_of
from incudo.demo.story import key
from incudo.store import schema as t
from tests.at_once import at_once
from tests.shop import PINS, TUESDAY, Person, TestShop, new_id, uuid

SHEET = str(key("sheet"))


def right_answer(shop: TestShop, question: str, slip: int | None = None) -> str:
    """The right answer to a question, or the one a slip leads to; no page shows it before."""
    return shop.unit.run(lambda w: answer_of(kept_question(w.db.get(t.ExerciseQuestion, uuid.UUID(question))), slip))


def ask(student: Person, calculation: str) -> Any:
    return student.post("/api/exercise-questions", {"id": new_id(), "calculation": calculation})


def answer(student: Person, question: str, text: str, **more: Any) -> Any:
    return student.post(f"/api/exercise-questions/{question}/answer", {"answer": text, **more})


def test_a_question_is_answered_once_and_a_slip_is_named(shop: TestShop) -> None:
    student = shop.student()
    q = ask(student, "table-feed")
    assert q["answered"] is None
    assert "is set to" in q["words"]
    wrong = right_answer(shop, q["id"], slip=0)
    said = answer(student, q["id"], wrong)["answered"]
    assert (said["right"], said["slip"]) == (False, "the calculated speed was used, not the one that is set")
    assert said["working"][0]["formula"] == "n · z · fz"
    assert answer(student, q["id"], wrong)["answered"] == said
    unit = shop.unit.run(lambda w: kept_question(w.db.get(t.ExerciseQuestion, uuid.UUID(q["id"]))).unit)
    assert unit
    assert answer(student, q["id"], wrong, unit=unit)["answered"] == said, "no unit is the question's"
    body = {"answer": right_answer(shop, q["id"])}
    student.fails(409, f"/api/exercise-questions/{q['id']}/answer", body)
    shop.student().fails(404, f"/api/exercise-questions/{q['id']}/answer", body)
    for bad, field in (({"answer": "much"}, "answer"), ({"answer": "1", "unit": "ell"}, "unit"), ({}, "answer")):
        fresh = ask(student, "table-feed")
        refused = student.fails(422, f"/api/exercise-questions/{fresh['id']}/answer", bad)
        assert refused["errors"][0]["field"] == field


def test_the_open_question_comes_again_so_that_none_is_skipped(shop: TestShop) -> None:
    student = shop.student()
    first = ask(student, "edge")
    assert ask(student, "edge")["id"] == first["id"]
    assert ask(student, "climb")["id"] != first["id"]
    answer(student, first["id"], right_answer(shop, first["id"]))
    assert ask(student, "edge")["id"] != first["id"]
    student.fails(422, "/api/exercise-questions", {"id": new_id(), "calculation": "growth"})
    student.fails(409, "/api/exercise-questions", {"id": first["id"], "calculation": "climb"})


def test_ten_in_a_row_without_help_are_evidence(shop: TestShop) -> None:
    student = shop.student()

    def row(count: int, last: str = "right") -> int:
        found = 0
        for n in range(count):
            q = ask(student, "spindle-speed")
            if n == count - 1 and last == "help":
                found = answer(student, q["id"], "", give_up=True)["in_a_row"]
            else:
                found = answer(student, q["id"], right_answer(shop, q["id"]))["in_a_row"]
        return found

    def met() -> str:
        skills = shop.haldane.get(f"/api/students/{student.id}/skills")["skills"]
        speed = next(s for s in skills if s["skill"]["id"] == "speed-feed")
        return next(e["words"] for e in speed["on"][0]["met"] if "Spindle speed" in e["words"])

    assert row(4) == 4
    assert row(1, last="help") == 0
    assert "0 of 10" in met(), "the row begins anew until it was reached"
    assert row(9) == 9
    card = next(c for c in student.get("/api/exercises")["cards"] if c["calculation"] == "spindle-speed")
    assert (card["in_a_row"], card["wanted"], card["skill"]) == (9, 10, "Speed and feed")
    assert (card["answered"], card["right"]) == (14, 13)
    assert "9 of 10" in met()
    row(1)
    assert "10 of 10" in met()
    # more passing evidence never removes it, nor does a later slip
    row(1, last="help")
    assert "10 of 10" in met()


def test_a_sheet_asks_everybody_of_a_group_the_same(shop: TestShop) -> None:
    ines, tavish = shop.person("ines"), shop.person("tavish")
    mine, theirs = ines.get(f"/api/exercise-sheets/{SHEET}"), tavish.get(f"/api/exercise-sheets/{SHEET}")
    assert [q["words"] for q in mine["questions"]] == [q["words"] for q in theirs["questions"]]
    assert mine["rows"] == mine["slips"] == []
    assert [q["answered"] is None for q in theirs["questions"]] == [True] * 8
    slip = mine["questions"][1]["answered"]
    assert not slip["right"]
    body = {"id": new_id(), "number": 2, "answer": slip["answer"], "unit": slip["unit"]}
    done = tavish.post(f"/api/exercise-sheets/{SHEET}/answers", body)
    assert done["questions"][1]["answered"]["slip"] == slip["slip"]
    assert tavish.post(f"/api/exercise-sheets/{SHEET}/answers", body) == done
    tavish.fails(409, f"/api/exercise-sheets/{SHEET}/answers", body | {"id": new_id(), "answer": "1"})
    tavish.fails(422, f"/api/exercise-sheets/{SHEET}/answers", body | {"id": new_id(), "number": 9})
    shop.student().fails(404, f"/api/exercise-sheets/{SHEET}/answers", body | {"id": new_id()})
    sheet = shop.haldane.get(f"/api/exercise-sheets/{SHEET}")
    rows = {r["student"]["name"]: r for r in sheet["rows"]}
    marks = rows[tavish.me["name"]]["marks"]
    assert [m["answered"] for m in marks] == [n == 1 for n in range(8)]
    assert marks[1]["slip"] == slip["slip"]
    worst = next(s for s in sheet["slips"] if s["slip"] == slip["slip"])
    assert tavish.me["name"] in worst["students"]
    assert len(worst["students"]) >= 2
    page = shop.haldane.get("/api/exercises")
    tuesday = next(g for g in page["slips"] if g["group"] == "Tuesday group")
    assert any(s["slip"] == slip["slip"] and tavish.me["name"] in s["students"] for s in tuesday["slips"])
    assert next(s for s in page["sheets"] if s["id"] == SHEET)["done"] >= 23
    assert ines.get("/api/exercises")["slips"] == []


def test_an_instructor_sets_a_sheet_and_prints_it_with_its_key(shop: TestShop, monkeypatch: pytest.MonkeyPatch) -> None:
    body = {"id": new_id(), "group": TUESDAY, "title": "Holes", "calculations": ["drill-point", "climb"], "each": 2}
    made = shop.haldane.post("/api/exercise-sheets", body)
    assert [q["calculation"] for q in made["questions"]] == ["drill-point", "drill-point", "climb", "climb"]
    assert shop.haldane.post("/api/exercise-sheets", body) == made
    shop.haldane.fails(422, "/api/exercise-sheets", body | {"id": new_id(), "calculations": ["guess"]})
    shop.haldane.fails(422, "/api/exercise-sheets", body | {"id": new_id(), "calculations": ["climb"] * 7, "each": 10})
    shop.haldane.fails(404, "/api/exercise-sheets", body | {"id": new_id(), "group": new_id()})
    texts: list[str] = []
    real = HTML.__init__

    def spy(self: HTML, *args: Any, **more: Any) -> None:
        texts.append(more["string"])
        real(self, *args, **more)

    monkeypatch.setattr(HTML, "__init__", spy)
    for person, keyed in ((shop.haldane, True), (shop.person("orla"), False)):
        for paper in ("A4", "Letter"):
            printed = person.ask("GET", f"/api/exercise-sheets/{made['id']}/sheet.pdf?paper={paper}")
            assert printed.status_code == 200
            assert printed.get_data()[:5] == b"%PDF-"
            assert made["questions"][0]["words"] in texts[-1]
            assert ("Key: Holes" in texts[-1]) is keyed
            assert ("D / 2 / tan(A / 2)" in texts[-1]) is keyed


def test_the_reckoner_does_not_answer_the_question_that_is_open(shop: TestShop) -> None:
    student, given = shop.ready_student(), {"given": {"touch": {"value": "10"}, "tip": {"value": "5"}}}
    assert student.post("/api/reckonings/edge", given)["results"]
    question = student.post("/api/exercise-questions", {"id": new_id(), "calculation": "edge"})
    refused = student.fails(409, "/api/reckonings/edge", given)
    assert "answer it or give it up" in refused["detail"]
    wide = {"given": {"low": {"value": "10"}, "high": {"value": "60"}, "tip": {"value": "5"}}}
    assert student.post("/api/reckonings/middle", wide)["results"], "another calculation is open"
    assert shop.ready_student().post("/api/reckonings/edge", given)["results"], "and this one to everybody else"
    student.post(f"/api/exercise-questions/{question['id']}/answer", {"answer": "", "give_up": True})
    assert student.post("/api/reckonings/edge", given)["results"]


def learners(shop: TestShop) -> tuple[str, Person, Person]:
    """A group of their own with two students."""
    mark = new_id()[:8]
    text = f"name,login\nUna Lorrimer,ari{mark}\nWim Tanfield,bo{mark}"
    body = {"id": new_id(), "group": f"Group {mark}", "text": text, "pin": PINS["haldane"]}
    ari, bo = map(shop.by_slip, shop.haldane.post("/api/class-lists", body)["lines"])
    group = next(g["id"] for g in shop.haldane.get("/api/exercises")["groups"] if g["name"] == f"Group {mark}")
    return group, ari, bo


def row_of(student: Person, calculation: str) -> int:
    cards = student.get("/api/exercises")["cards"]
    return int(next(c["in_a_row"] for c in cards if c["calculation"] == calculation))


def test_a_sheet_in_class_shows_nothing_closes_the_reckoner_and_counts_when_it_is_ended(shop: TestShop) -> None:
    group, ari, bo = learners(shop)
    reckoning = {"given": {"size": {"value": "25.4", "unit": "mm"}}}
    body = {"group": group, "title": "In class", "calculations": ["edge"], "each": 3, "in_class": True}
    sheet = shop.haldane.post("/api/exercise-sheets", {"id": new_id(), **body})
    path = f"/api/exercise-sheets/{sheet['id']}"
    assert (sheet["in_class"], sheet["ended"]) == (True, False)
    assert "end it first" in shop.haldane.fails(409, "/api/exercise-sheets", {"id": new_id(), **body})["detail"]
    assert "sheet in class" in ari.fails(409, "/api/reckonings/convert", reckoning)["detail"]
    assert shop.person("orla").post("/api/reckonings/convert", reckoning), "another group is not concerned"
    assert shop.haldane.post("/api/reckonings/convert", reckoning), "nor is who teaches"
    for number in (1, 2, 3):
        content = shop.unit.run(lambda w, n=number: sheet_question(w, sheet["id"], n))
        said = {"id": new_id(), "number": number, "answer": content}
        page = ari.post(f"{path}/answers", said)
        q = page["questions"][number - 1]
        assert (q["kept"], q["answered"]) == (True, None), "answered, and nothing is said of it"
        assert ari.post(f"{path}/answers", said) == page
        ari.fails(409, f"{path}/answers", said | {"answer": "1"})
    assert ari.get("/api/exercises")["sheets"][0]["right"] == 0
    assert row_of(ari, "edge") == 0, "it counts when it is ended"
    for other in (ari, shop.dacosta):
        assert other.ask("POST", f"{path}/end").status_code == 403
    done = shop.haldane.post(f"{path}/end", {})
    assert done["ended"]
    assert shop.haldane.post(f"{path}/end", {})["ended"], "twice is once"
    assert [q["answered"]["right"] for q in ari.get(path)["questions"]] == [True] * 3
    assert row_of(ari, "edge") == 3
    late = {"id": new_id(), "number": 1, "answer": "1"}
    assert "has been ended" in bo.fails(409, f"{path}/answers", late)["detail"]
    assert ari.post("/api/reckonings/convert", reckoning), "and the reckoner is open again"


def test_a_sheet_for_home_shows_at_once_and_never_counts(shop: TestShop) -> None:
    """The classmate who was shown the answer can hand it on."""
    group, ari, bo = learners(shop)
    body = {"id": new_id(), "group": group, "title": "For home", "calculations": ["edge"], "each": 1}
    sheet = shop.haldane.post("/api/exercise-sheets", body)
    path = f"/api/exercise-sheets/{sheet['id']}"
    shown = ari.post(f"{path}/answers", {"id": new_id(), "number": 1, "give_up": True})["questions"][0]["answered"]
    copied, _, unit = shown["correct"].partition(" ")
    said = {"id": new_id(), "number": 1, "answer": copied, "unit": unit}
    assert bo.post(f"{path}/answers", said)["questions"][0]["answered"]["right"]
    assert row_of(bo, "edge") == 0
    assert "Only a sheet in class" in shop.haldane.fails(409, f"{path}/end", {})["detail"]


def sheet_question(w: Any, sheet: str, number: int) -> str:
    """The right answer to a number of a sheet, which no page shows before."""
    row = w.db.get(t.ExerciseSheet, uuid.UUID(sheet))
    return answer_of(read_question(json.loads(row.questions)[number - 1]), None)


def test_two_sheets_in_class_set_at_once_leave_one_open(shop: TestShop) -> None:
    group, _, _ = learners(shop)
    boss = Who(uuid.UUID(shop.haldane.id), "", Role.INSTRUCTOR)
    commands = [
        SetSheet(id=new_id(), group=group, title=f"Sheet {n}", calculations=("edge",), each=1, in_class=True)
        for n in range(6)
    ]
    found = at_once([lambda c=c: shop.unit.run(lambda w: set_sheet(w, boss, c)) for c in commands])
    assert sum(not isinstance(f, Conflict) for f in found) == 1


def test_an_answer_and_the_end_at_once_are_one_after_the_other(shop: TestShop) -> None:
    """Whatever comes first, an answer that was taken was given before anything was shown."""
    group, ari, bo = learners(shop)
    boss = Who(uuid.UUID(shop.haldane.id), "", Role.INSTRUCTOR)
    for n in range(4):
        body = {"group": group, "title": f"Race {n}", "calculations": ["edge"], "each": 1, "in_class": True}
        sheet = shop.haldane.post("/api/exercise-sheets", {"id": new_id(), **body})
        ident = uuid.UUID(sheet["id"])
        students = [Who(uuid.UUID(p.id), "", Role.STUDENT) for p in (ari, bo)]
        acts: list[Any] = [
            lambda s=s, i=ident: shop.unit.run(
                lambda w: sheet_answer(w, s, i, SheetAnswer(id=new_id(), number=1, answer="1"))
            )
            for s in students
        ]
        found = at_once([*acts, lambda i=ident: shop.unit.run(lambda w: end_sheet(w, boss, i))])
        assert not isinstance(found[-1], Exception)
        done = shop.haldane.get(f"/api/exercise-sheets/{ident}")
        answered = {r["student"]["id"] for r in done["rows"] if r["marks"][0]["answered"]}
        taken = {str(s.id) for s, f in zip(students, found, strict=False) if not isinstance(f, Exception)}
        assert answered == taken
        assert all(isinstance(f, Conflict) for f in found[:-1] if isinstance(f, Exception))


@pytest.mark.parametrize(("each", "taken"), [(5, True), (6, False)])
def test_a_sheet_has_at_most_sixty_questions(shop: TestShop, each: int, taken: bool) -> None:
    twelve = ["edge", "climb", "limits", "convert", "middle", "slot-end", "passes", "form", "fit", "verdict"]
    body = {"id": new_id(), "group": TUESDAY, "title": "Long", "calculations": [*twelve, "position", "bolt-circle"]}
    if taken:
        assert len(shop.haldane.post("/api/exercise-sheets", body | {"each": each})["questions"]) == 60
        return
    refused = shop.haldane.fails(422, "/api/exercise-sheets", body | {"each": each})
    assert refused["errors"][0]["field"] == "each"


@pytest.mark.parametrize(("number", "status"), [(2, 200), (3, 422), (0, 422), (121, 422)])
def test_only_a_number_of_the_sheet_is_answered(shop: TestShop, number: int, status: int) -> None:
    group, ari, _ = learners(shop)
    body = {"id": new_id(), "group": group, "title": "Two", "calculations": ["edge"], "each": 2}
    sheet = shop.haldane.post("/api/exercise-sheets", body)
    said = {"id": new_id(), "number": number, "answer": "1"}
    answer = ari.ask("POST", f"/api/exercise-sheets/{sheet['id']}/answers", said)
    assert answer.status_code == status
    if status == 422:
        assert answer.get_json(force=True)["errors"][0]["field"] == "number"


def test_the_reckoner_is_closed_on_the_job_card_too(shop: TestShop) -> None:
    """What is kept on a job card is reckoned in the same way, and so is closed in the same way."""
    group, ari, _ = learners(shop)
    body = {"group": group, "title": "In class", "calculations": ["edge"], "each": 1, "in_class": True}
    sheet = shop.haldane.post("/api/exercise-sheets", {"id": new_id(), **body})
    given = {"given": {"touch": {"value": "10", "unit": "mm"}, "tip": {"value": "5", "unit": "mm"}}}
    for name in ("edge", "convert", "spindle-speed"):
        assert ari.ask("POST", f"/api/reckonings/{name}", given).status_code == 409
    question = ask(ari, "edge")
    answer(ari, question["id"], right_answer(shop, question["id"]))
    assert ari.ask("POST", "/api/reckonings/edge", given).status_code == 409, "an exercise on the side opens nothing"
    shop.haldane.post(f"/api/exercise-sheets/{sheet['id']}/end", {})
    assert ari.ask("POST", "/api/reckonings/edge", given).status_code == 200
