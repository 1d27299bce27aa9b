"""Parts, their versions, assigning, the registers, and the document that describes it all."""

from __future__ import annotations

import csv
import io
import json
import shutil
import subprocess
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from incudo.api import document
from tests.paths import WEB
from tests.shop import M01, PETREL, TIDE, TIDE_V1, TestShop, new_id, shown, sign_off


def test_a_changed_part_gets_a_new_version_and_job_cards_keep_theirs(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    project = shop.haldane.get(f"/api/projects/{TIDE}")
    file = json.loads(project["file"])
    height = next(c for c in file["characteristics"] if c["number"] == 3)
    height["tolerance"] = "±0.010"
    body = {"id": new_id(), "after": project["version"], "file": json.dumps(file), "change": "height opened up"}
    path = f"/api/projects/{TIDE}/versions"
    after = shop.haldane.post(path, body)
    assert after["version_number"] == project["version_number"] + 1
    assert shop.haldane.post(path, body)["version_number"] == after["version_number"]
    shop.haldane.fails(409, path, body | {"change": "something else"})
    card = student.get(f"/api/job-cards/{assignment}")
    assert card["version_number"] == 1
    assert card["characteristics"][2]["upper"]["inch"] == "1.000"
    assert student.read(attempt, 3, "1.005", M01)["reading"]["verdict"] == "out_metal_left"
    other = shop.ready_student()
    _, fresh = shop.assign(other, version=after["version"])
    assert other.read(fresh, 3, "1.005", M01)["reading"]["verdict"] == "in"
    old = shop.haldane.get(f"/api/versions/{TIDE_V1}/drawing")["svg"]
    new = shop.haldane.get(f"/api/versions/{after['version']}/drawing")["svg"]
    assert "±0.010" in new
    assert "−0.004" in old


@pytest.mark.parametrize(
    ("text", "field"),
    [
        ("", "file"),
        ("{", "file"),
        ("[" * 100_000, "file"),
        ("x" * 500_000, "file"),
        ("[]", ""),
        ('{"format": "other"}', "format"),
    ],
)
def test_a_file_that_is_no_part(shop: TestShop, text: str, field: str) -> None:
    problem = shop.haldane.fails(422, "/api/project-checks", {"file": text})
    assert any(e["field"].startswith(field) and e["bound"] for e in problem["errors"])
    assert len(json.dumps(problem)) < 20_000


def test_a_part_may_not_ask_for_skills_that_do_not_exist_or_change_its_name(shop: TestShop) -> None:
    file = json.loads(shop.haldane.get(f"/api/projects/{TIDE}")["file"])
    file["needs"].append("juggling")
    problem = shop.haldane.fails(422, "/api/project-checks", {"file": json.dumps(file)})
    assert problem["errors"][0]["value"] == "juggling"
    file["needs"].pop()
    file["code"] = "other-block"
    body = {"id": new_id(), "after": TIDE_V1, "file": json.dumps(file), "change": "renamed"}
    assert "must stay tide-block" in shop.haldane.fails(422, f"/api/projects/{TIDE}/versions", body)["detail"]


def test_who_lacks_what_and_why(shop: TestShop) -> None:
    fresh, ready = shop.student(), shop.ready_student()
    found = shop.haldane.get(f"/api/projects/{TIDE}/candidates?machine={PETREL}")["candidates"]
    lacking = {c["student"]["id"]: c["missing"] for c in found}
    assert lacking[ready.id] == []
    assert [m["skill"] for m in lacking[fresh.id]] == [
        "general-safety",
        "machine-familiarisation",
        "measure-caliper",
        "change-cutter",
        "holders",
        "parallels",
        "dials",
        "speed-feed",
    ]
    assert lacking[fresh.id][2]["reason"] == "first: Measuring with a rule, Deburring"
    assert shop.haldane.ask("GET", f"/api/projects/{TIDE}/candidates?machine={new_id()}").status_code == 404
    assert shop.haldane.ask("GET", f"/api/projects/{TIDE}/candidates?machine=x").status_code == 422


def test_what_can_be_done_about_a_machine_is_said_on_its_own_cards(shop: TestShop) -> None:
    """Who is not familiar with a machine sees that on a card of it, and on a card of none for every machine."""
    shown = {}
    for machine in (PETREL, None):
        student = shop.student("emergency-stop", "locks-stops-feed", "general-safety")
        card, _ = shop.assign(student, machine=machine, not_before_signed=True)
        steps = student.get(f"/api/job-cards/{card}")["steps"]
        shown[machine] = {s["machine"]["id"] for s in steps if s["machine"]}
    assert shown[PETREL] == {PETREL}
    assert shown[None] > {PETREL}


def test_without_the_skills_only_not_before_signed(shop: TestShop) -> None:
    fresh = shop.student()
    body = {"id": new_id(), "version": TIDE_V1, "student": fresh.id}
    problem = shop.haldane.fails(403, "/api/assignments", body)
    assert "General safety: first: Surroundings, Person, Before starting" in problem["detail"]
    given = shop.haldane.post("/api/assignments", body | {"not_before_signed": True, "due": str(shop.clock().date())})
    assert len(given["missing"]) == 8
    bench = fresh.get("/api/bench")
    assert {c["bank"] for s in bench["steps"] for c in s["checks"]} == {"surroundings-person"}
    assert bench["first"]["waiting"]
    assert "General safety" in bench["first"]["next_thing"]


LONG_AGO = (datetime.now(UTC) - timedelta(days=2)).date().isoformat()


@pytest.mark.parametrize(
    ("change", "status", "words"),
    [
        ({"due": "yesterday"}, 422, "due"),
        (
            {"due": (datetime.now(UTC) - timedelta(days=2)).date().isoformat()},
            422,
            "must not be in the past",
        ),
        ({"due": "9999-99-99"}, 422, "due"),
        ({"version": new_id()}, 404, "project version"),
        ({"student": new_id()}, 404, "student"),
        ({"machine": new_id()}, 404, "machine"),
        ({"machine": "Petrel"}, 422, "machine"),
        ({"not_before_signed": "perhaps"}, 422, "not_before_signed"),
    ],
)
def test_bad_assignments(shop: TestShop, change: dict[str, Any], status: int, words: str) -> None:
    student = shop.ready_student()
    body = {"id": new_id(), "version": TIDE_V1, "student": student.id} | change
    assert words in shop.haldane.fails(status, "/api/assignments", body)["detail"]


def test_an_assignment_sent_twice_is_given_once(shop: TestShop) -> None:
    student = shop.ready_student()
    body = {"id": new_id(), "version": TIDE_V1, "student": student.id}
    assert shop.haldane.post("/api/assignments", body) == shop.haldane.post("/api/assignments", body)
    shop.haldane.fails(409, "/api/assignments", body | {"machine": PETREL})
    assert len(student.get("/api/bench")["cards"]) == 1


def test_the_registers_are_paged_and_taken_away_whole(shop: TestShop) -> None:
    first = shop.thorley.get("/api/registers/readings")
    assert (len(first["entries"]), first["newer"]) == (50, "")
    second = shop.thorley.client.get("/api/registers/readings", query_string={"before": first["older"]}).get_json()
    assert second["entries"][0]["at"] <= first["entries"][-1]["at"]
    answer = shop.thorley.ask("GET", "/api/registers/readings/file")
    lines = list(csv.reader(io.StringIO(answer.get_data(as_text=True))))
    assert [line[0] for line in lines[1:101]] == [e["id"] for e in (*first["entries"], *second["entries"])]
    shop.thorley.fails(422, "/api/registers/readings?before=0", None, "GET")
    shop.thorley.fails(422, "/api/registers/readings?on=yesterday", None, "GET")
    assert shop.thorley.ask("GET", "/api/registers/diaries").status_code == 422


def test_a_table_program_runs_nothing_from_a_taken_away_file(shop: TestShop) -> None:
    student = shop.can_show_person()
    shop.haldane.post("/api/sign-offs", sign_off(student.id, "1407", shown("person"), note="=HYPERLINK(1)"))
    text = shop.thorley.ask("GET", "/api/registers/sign_offs/file").get_data(as_text=True)
    assert ",'=HYPERLINK(1)" in text


def test_the_floor_says_who_waits_longest_first(shop: TestShop) -> None:
    floor = shop.haldane.get("/api/floor")
    order = [(w["call"] is None, w["since"]) for w in floor["line"]]
    assert order == sorted(order), "who stands at a machine and calls comes before parts and skills"
    assert [p["machine"]["name"] for p in floor["plates"]] == ["Petrel", "Fulmar", "Gannet", "Dunlin"]


def test_the_document_and_the_types_are_fresh(shop: TestShop, tmp_path: Path) -> None:
    kept = WEB / "src/api"
    assert (kept / "openapi.json").read_text() == document.text(), "run python -m incudo.api.document"
    npx = shutil.which("npx")
    assert npx
    made = tmp_path / "schema.d.ts"
    command = [npx, "--no-install", "openapi-typescript", str(kept / "openapi.json"), "-o", str(made)]
    subprocess.run(command, cwd=WEB, check=True, capture_output=True)
    assert made.read_text() == (kept / "schema.d.ts").read_text(), "run npm run schema"
