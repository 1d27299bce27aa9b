"""The written table: every operation, every role, with a valid body, the exact status."""

from __future__ import annotations

import json
from typing import Any

import pytest
from pydantic import BaseModel

from incudo import shipped
from incudo.api.kernel.body import MOST_BYTES, MOST_BYTES_OF_A_FILE, MOST_VALUES, WITH_A_FILE, bounds
from incudo.app.administration.access import ACCESS, DEVICES, OPEN
from incudo.app.kernel.views import Command, View
from incudo.core.kernel.wire import MOST_PARTS
from incudo.core.people.notice import VERSION
from incudo.core.people.roles import Role
from incudo.demo.story import key
from tests.api.administration.test_own_shop import checked, drawer, gauge, look_of, walked
from tests.api.reckoning.test_materials import bronze
from tests.shop import (
    DEVICE_KEY,
    DUNLIN,
    GANNET,
    GAUGE,
    HOLD_SO,
    M01,
    MACHINES,
    MILL,
    PETREL,
    PINS,
    POINTS,
    TIDE,
    TIDE_V1,
    TUESDAY,
    VISE_SETTINGS,
    TestShop,
    new_id,
    reading,
    shown,
    sign_off,
    stamp,
)

LOGINS = {
    Role.INSTRUCTOR: "haldane",
    Role.ASSISTANT: "dacosta",
    Role.AUDITOR: "thorley",
}
#: Questions that are sent with a body: they are answered and nothing is kept.
FIND = {
    "kind": "edge",
    "handle": 0,
    "scale": "dial",
    "face": "left",
    "finder": "kick-in",
    "touches": ["0.03", "0.03"],
}
KEEPS_NOTHING = {
    "hold_check",
    "strap_check",
    "moves_check",
    "find_check",
    "gauge_check_look",
    "plan_look",
    "plan_frames",
    "plan_offers",
    "plan_own",
    "reckon_check",
    "table_check",
    "register_walk",
}
PLAN = {
    "format": "incudo-plan/1",
    "holdings": [
        {"id": "h1", "up": "top", "fixed": "rear", "operations": [{"id": "o1", "kind": "face", "of": ["top"]}]}
    ],
}
MATERIAL = "key,name,unit_power,expansion,fluid\nwax,Wax,2,100,dry\n"
SHEET = str(key("sheet"))
I, A, S, X = Role.INSTRUCTOR, Role.ASSISTANT, Role.STUDENT, Role.AUDITOR  # noqa: E741

#: operation → method, path, and the status per role: instructor, assistant, student, auditor.
#: The student asks about their own part; 404 hides what is another's.
TABLE: dict[str, tuple[str, str, tuple[int, int, int, int]]] = {
    "who_am_i": ("GET", "/api/me", (200, 200, 200, 200)),
    "bench": ("GET", "/api/bench", (403, 403, 200, 403)),
    "floor_page": ("GET", "/api/floor", (200, 200, 403, 200)),
    "class_table": ("GET", "/api/class", (200, 200, 403, 200)),
    "student_skills": ("GET", "/api/students/{student}/skills", (200, 200, 200, 200)),
    "project_list": ("GET", "/api/projects", (200, 200, 200, 200)),
    "project_detail": ("GET", f"/api/projects/{TIDE}", (200, 200, 200, 200)),
    "register_walk": ("POST", "/api/register/walk", (200, 403, 403, 200)),
    "ready_page": ("GET", "/api/ready", (200, 200, 403, 200)),
    "machine_kinds": ("GET", "/api/machine-kinds", (200, 403, 403, 403)),
    "add_machine": ("POST", "/api/machines", (200, 403, 403, 403)),
    "gone_list": ("GET", "/api/gone", (200, 200, 403, 200)),
    "gone_change": ("POST", "/api/gone", (200, 403, 403, 403)),
    "gauge_kinds": ("GET", "/api/gauge-kinds", (200, 403, 403, 403)),
    "add_gauge": ("POST", "/api/gauges", (200, 403, 403, 403)),
    "gauge_check_page": ("GET", f"/api/gauges/{M01}/checks", (200, 200, 403, 200)),
    "gauge_check_look": ("POST", f"/api/gauges/{M01}/checks/look", (200, 403, 403, 403)),
    "keep_gauge_check": ("POST", f"/api/gauges/{M01}/checks", (200, 403, 403, 403)),
    "people_list": ("GET", "/api/people?find=a", (200, 200, 403, 200)),
    "add_person": ("POST", "/api/people", (200, 403, 403, 403)),
    "take_out_data": ("POST", "/api/people/{student}/data", (200, 404, 200, 404)),
    "take_out_paper": ("POST", "/api/people/{student}/data-paper", (200, 404, 200, 404)),
    "person_acts": ("GET", "/api/people/{student}/acts", (200, 200, 403, 200)),
    "change_person": ("PUT", "/api/people/{student}", (200, 403, 403, 403)),
    "new_code": ("POST", "/api/people/{student}/codes", (200, 403, 403, 403)),
    "add_group": ("POST", "/api/groups", (200, 403, 403, 403)),
    "change_group": ("PUT", f"/api/groups/{TUESDAY}", (200, 403, 403, 403)),
    "find_students": ("GET", "/api/students?find=a", (200, 200, 403, 200)),
    "project_candidates": ("GET", f"/api/projects/{TIDE}/candidates", (200, 200, 403, 200)),
    "project_check": ("POST", "/api/project-checks", (200, 403, 403, 403)),
    "project_change": ("POST", f"/api/projects/{GAUGE}/versions", (200, 403, 403, 403)),
    "project_new": ("POST", "/api/projects", (200, 403, 403, 403)),
    "project_shelve": ("POST", f"/api/projects/{GAUGE}/shelf", (200, 403, 403, 403)),
    "part_choices": ("GET", "/api/part-choices", (200, 403, 403, 403)),
    "part_draft": ("POST", "/api/part-drafts", (200, 403, 403, 403)),
    "drawing": ("GET", f"/api/versions/{TIDE_V1}/drawing", (200, 200, 200, 200)),
    "drawing_file": ("GET", f"/api/versions/{TIDE_V1}/drawing.svg", (200, 200, 200, 200)),
    "library_zip": ("GET", "/api/projects/library.zip", (200, 403, 403, 403)),
    "library_take": ("POST", "/api/projects/library", (422, 403, 403, 403)),
    "drawing_dxf": ("GET", f"/api/versions/{TIDE_V1}/drawing.dxf", (200, 200, 200, 200)),
    "part_print": ("GET", f"/api/versions/{TIDE_V1}/drawing.pdf", (200, 200, 200, 200)),
    "outline": ("GET", f"/api/versions/{TIDE_V1}/outline.svg", (200, 200, 200, 200)),
    "assign": ("POST", "/api/assignments", (200, 403, 403, 403)),
    "give": ("POST", "/api/givings", (200, 403, 403, 403)),
    "saw_list": ("POST", f"/api/projects/{GAUGE}/saw-list", (422, 403, 403, 403)),
    "job_card": ("GET", "/api/job-cards/{assignment}", (200, 200, 200, 200)),
    "tick_station": ("POST", "/api/attempts/{attempt}/stations", (403, 403, 200, 403)),
    "save_reading": ("POST", "/api/attempts/{attempt}/readings", (403, 403, 200, 403)),
    "hand_in": ("POST", "/api/attempts/{attempt}/hand-ins", (403, 403, 422, 403)),
    "check_sheet": ("GET", "/api/hand-ins/{handed}", (200, 200, 403, 403)),
    "save_check_reading": ("POST", "/api/attempts/{checked}/check-readings", (200, 200, 403, 403)),
    "open_comparison": ("POST", "/api/hand-ins/{handed}/comparison", (200, 200, 403, 403)),
    "decide": ("POST", "/api/hand-ins/{handed}/decision", (200, 403, 403, 403)),
    "sign_skills": ("POST", "/api/sign-offs", (200, 403, 403, 403)),
    "withdraw_skill": ("POST", "/api/withdrawals", (200, 403, 403, 403)),
    "shop_view": ("GET", "/api/shop", (200, 200, 403, 200)),
    "shop_change": ("PUT", "/api/shop", (200, 403, 403, 403)),
    "delegate": ("PUT", "/api/delegations", (200, 403, 403, 403)),
    "past_decision": (
        "GET",
        f"/api/students/{{student}}/decision?operation=facing&machine={PETREL}",
        (200, 200, 403, 200),
    ),
    "restore_skill": ("POST", "/api/restorations", (403, 403, 403, 403)),
    "skill_map": ("GET", "/api/skill-map", (200, 200, 200, 200)),
    "lapses_page": ("GET", "/api/lapses", (200, 200, 403, 200)),
    "lapses_look": ("POST", "/api/lapses/look", (200, 403, 403, 403)),
    "lapses_change": ("PUT", "/api/lapses", (200, 403, 403, 403)),
    "skill_graph": ("GET", "/api/skill-graph", (200, 200, 403, 200)),
    "skill_graph_check": ("POST", "/api/skill-graph/check", (200, 403, 403, 403)),
    "skill_graph_change": ("PUT", "/api/skill-graph", (200, 403, 403, 403)),
    "check_state": ("GET", "/api/checks/measuring", (403, 403, 200, 403)),
    "begin_check": ("POST", "/api/checks/measuring/tries", (403, 403, 200, 403)),
    "answer_check": ("POST", "/api/checks/measuring/answers", (403, 403, 404, 403)),
    "bank_list": ("GET", "/api/banks", (200, 200, 403, 200)),
    "bank_detail": ("GET", "/api/banks/measuring", (200, 403, 403, 200)),
    "change_bank": ("PUT", "/api/banks/measuring", (200, 403, 403, 403)),
    "class_list_check": ("POST", "/api/class-lists/check", (200, 403, 403, 403)),
    "class_list_take": ("POST", "/api/class-lists", (200, 403, 403, 403)),
    "group_results": ("GET", f"/api/groups/{TUESDAY}/results.xlsx", (200, 200, 403, 200)),
    "term_page": ("GET", f"/api/groups/{TUESDAY}/term", (200, 200, 403, 200)),
    "change_term": ("PUT", f"/api/groups/{TUESDAY}/term", (200, 403, 403, 403)),
    "begin_next_term": ("POST", f"/api/groups/{TUESDAY}/next-term", (422, 403, 403, 403)),
    "group_table": ("GET", f"/api/groups/{TUESDAY}/parts.csv", (200, 200, 403, 200)),
    "spreadsheet_text": ("POST", "/api/spreadsheets/text", (422, 403, 403, 403)),
    "accommodations_here": ("GET", "/api/floor/accommodations", (200, 200, 403, 403)),
    "accommodation": ("GET", f"/api/students/{key('person', 'orla')}/accommodation", (200, 200, 403, 403)),
    "change_accommodation": ("PUT", f"/api/students/{key('person', 'orla')}/accommodation", (200, 403, 403, 403)),
    "session_page": ("GET", "/api/session", (200, 200, 403, 200)),
    "open_session": ("POST", "/api/session", (409, 403, 403, 403)),
    "mark_roll": ("POST", "/api/session/roll", (200, 200, 403, 403)),
    "supervise": ("POST", "/api/session/supervision", (200, 403, 403, 403)),
    "open_machine": ("POST", "/api/session/machines", (200, 403, 403, 403)),
    "device_list": ("GET", "/api/devices", (200, 200, 403, 200)),
    "add_device": ("POST", "/api/devices", (200, 403, 403, 403)),
    "switch_off_device": ("POST", "/api/devices/{device}/off", (200, 403, 403, 403)),
    "share_duties": ("POST", "/api/session/duties", (200, 200, 403, 403)),
    "start_page": ("GET", f"/api/machines/{PETREL}/start", (200, 200, 200, 200)),
    "machine_step": ("POST", f"/api/machines/{PETREL}/steps", (403, 403, 200, 403)),
    "machine_start": ("POST", f"/api/machines/{PETREL}/starts", (403, 403, 200, 403)),
    "confirm_start": ("POST", f"/api/machines/{PETREL}/confirmations", (200, 403, 403, 403)),
    "machine_end": ("POST", f"/api/machines/{GANNET}/ends", (409, 409, 409, 403)),
    "my_calls": ("GET", "/api/calls", (403, 403, 200, 403)),
    "call": ("POST", "/api/calls", (403, 403, 200, 403)),
    "answer_call": ("POST", "/api/calls/{call}/end", (403, 403, 200, 403)),
    "set_hold": ("POST", "/api/hold-points", (200, 403, 403, 403)),
    "tag_list": ("GET", "/api/tags", (200, 200, 200, 200)),
    "tag_out": ("POST", "/api/tags", (200, 200, 200, 403)),
    "clear_tag": ("POST", "/api/tags/{tag}/clear", (200, 403, 403, 403)),
    "stop_all": ("POST", "/api/stops", (200, 403, 403, 403)),
    "clear_stop": ("POST", "/api/stops/clear", (200, 403, 403, 403)),
    "report_incident": ("POST", "/api/incidents", (200, 200, 200, 403)),
    "notice": ("GET", "/api/notice", (200, 200, 200, 200)),
    "sign_notice": ("POST", "/api/notice", (200, 200, 200, 200)),
    "change_password": ("POST", "/api/password", (403, 403, 403, 403)),
    "glossary": ("GET", "/api/glossary", (200, 200, 200, 200)),
    "glossary_paper": ("GET", "/api/glossary.pdf", (200, 200, 200, 200)),
    "leaflet": ("GET", "/api/leaflet.pdf", (200, 200, 200, 200)),
    "gauge_labels": ("GET", "/api/gauge-labels.pdf", (200, 200, 403, 200)),
    "cutter_labels": ("GET", "/api/cutter-labels.pdf", (200, 200, 403, 200)),
    "machine_labels": ("GET", "/api/machine-labels.pdf", (200, 200, 403, 200)),
    "skill_credentials": ("GET", "/api/students/{student}/credentials.json", (200, 404, 200, 404)),
    "skill_record": ("GET", "/api/students/{student}/skill-record.pdf", (200, 200, 200, 200)),
    "register_state": ("GET", "/api/register", (200, 403, 403, 200)),
    "machine_photo": ("GET", f"/api/machines/{DUNLIN}/photo", (404, 404, 404, 404)),
    "machine_photo_change": ("PUT", f"/api/machines/{DUNLIN}/photo", (200, 403, 403, 403)),
    "machine_detail": ("GET", f"/api/machines/{PETREL}", (200, 200, 200, 200)),
    "machine_change": ("PUT", f"/api/machines/{DUNLIN}", (200, 403, 403, 403)),
    "machine_note": ("POST", f"/api/machines/{PETREL}/notes", (200, 200, 403, 403)),
    "holding_list": ("GET", "/api/workholding", (200, 200, 200, 200)),
    "holding_read": ("POST", "/api/workholding/read", (200, 403, 403, 403)),
    "holding_change": ("PUT", "/api/workholding", (200, 403, 403, 403)),
    "setup_bench": ("GET", f"/api/machines/{PETREL}/setups", (200, 200, 200, 200)),
    "begin_setup": ("POST", f"/api/machines/{PETREL}/setups", (200, 200, 200, 403)),
    "setup_page": ("GET", "/api/setups/{setup}", (200, 200, 200, 200)),
    "save_pass": ("POST", "/api/setups/{setup}/passes", (403, 403, 200, 403)),
    "accept_setup": ("POST", "/api/setups/{setup}/acceptance", (403, 403, 403, 403)),
    "holding_page": ("GET", "/api/job-cards/{assignment}/holding", (200, 200, 200, 200)),
    "hold_check": ("POST", "/api/job-cards/{assignment}/holding/check", (200, 200, 200, 200)),
    "keep_hold": ("POST", "/api/job-cards/{assignment}/holding", (200, 200, 200, 403)),
    "plan_page": ("GET", "/api/job-cards/{assignment}/plan", (200, 200, 200, 200)),
    "plan_look": ("POST", "/api/job-cards/{assignment}/plan/look", (200, 200, 200, 200)),
    "plan_frames": ("POST", "/api/job-cards/{assignment}/plan/frames", (200, 200, 200, 200)),
    "plan_offers": ("POST", "/api/job-cards/{assignment}/plan/offers", (200, 200, 200, 200)),
    "touch_drawing": ("GET", f"/api/versions/{TIDE_V1}/touch", (200, 200, 200, 200)),
    # a student sees Incudo's plan after their own try
    "plan_own": ("POST", "/api/job-cards/{assignment}/plan/own", (200, 200, 403, 200)),
    # nothing is saved yet
    "plan_paper": ("GET", "/api/job-cards/{assignment}/plan.pdf", (404, 404, 404, 404)),
    "plan_table": ("GET", "/api/job-cards/{assignment}/plan.csv", (404, 404, 404, 404)),
    "set_plan_task": ("POST", "/api/job-cards/{assignment}/plan/task", (200, 403, 403, 403)),
    "save_plan": ("POST", "/api/job-cards/{assignment}/plan", (200, 403, 200, 403)),
    "hand_in_plan": ("POST", "/api/job-cards/{assignment}/plan/hand-ins", (403, 403, 409, 403)),
    "decide_plan": ("POST", "/api/plans/{assignment}/decision", (404, 403, 403, 403)),
    "shown_plan": ("GET", "/api/plans/{assignment}/shown", (404, 404, 403, 404)),
    "group_needs": ("GET", f"/api/groups/{TUESDAY}/plan-needs", (200, 200, 403, 200)),
    "group_plans": ("GET", f"/api/projects/{GAUGE}/plans", (200, 200, 403, 200)),
    # the plan is not the student's own: whoever looks sees how far it is
    "run_card_page": ("GET", "/api/job-cards/{assignment}/run", (200, 200, 200, 200)),
    "run_card_frames": ("GET", "/api/job-cards/{assignment}/run/frames", (200, 200, 200, 200)),
    "run_card_paper": ("GET", "/api/job-cards/{assignment}/run.pdf", (200, 200, 200, 200)),
    "keep_run_tick": ("POST", "/api/attempts/{attempt}/run", (403, 403, 409, 403)),
    "keep_remark": ("POST", "/api/attempts/{attempt}/remarks", (409, 409, 403, 403)),
    "keep_sign": ("POST", "/api/attempts/{attempt}/signs", (403, 403, 409, 403)),
    "noticed_signs": ("GET", "/api/signs", (200, 200, 403, 200)),
    "dry_run_page": ("GET", "/api/job-cards/{assignment}/dry", (200, 200, 200, 200)),
    "begin_dry_run": ("POST", "/api/job-cards/{assignment}/dry", (403, 403, 200, 403)),
    "keep_dry_act": ("POST", f"/api/dry-runs/{new_id()}/acts", (403, 403, 404, 403)),
    "strap_check": ("POST", "/api/strap", (200, 200, 200, 200)),
    "moves_page": ("GET", f"/api/machines/{PETREL}/moves", (200, 200, 200, 200)),
    "moves_check": ("POST", f"/api/machines/{PETREL}/moves", (200, 200, 200, 200)),
    "keep_backlash": ("POST", f"/api/machines/{DUNLIN}/backlash", (200, 200, 200, 403)),
    "find_page": ("GET", "/api/job-cards/{assignment}/datums", (200, 200, 200, 200)),
    "find_check": ("POST", "/api/job-cards/{assignment}/datums/check", (200, 200, 200, 200)),
    "keep_find": ("POST", "/api/job-cards/{assignment}/datums", (200, 200, 200, 403)),
    "reckon_list": ("GET", "/api/reckonings", (200, 200, 200, 200)),
    "reckon_example": ("GET", "/api/reckonings/drill-point/example", (200, 200, 200, 200)),
    "reckon_check": ("POST", "/api/reckonings/drill-point", (200, 200, 200, 200)),
    "reckon_fill": ("GET", f"/api/reckoning-fills?machine={PETREL}&material=brass", (200, 200, 200, 200)),
    "keep_reckoning": ("POST", "/api/job-cards/{assignment}/reckonings", (200, 200, 200, 403)),
    "exercise_page": ("GET", "/api/exercises", (200, 200, 200, 200)),
    "ask_question": ("POST", "/api/exercise-questions", (200, 200, 200, 403)),
    "answer_question": ("POST", "/api/exercise-questions/{question}/answer", (404, 404, 200, 403)),
    "set_sheet": ("POST", "/api/exercise-sheets", (200, 403, 403, 403)),
    "exercise_sheet": ("GET", f"/api/exercise-sheets/{SHEET}", (200, 200, 404, 200)),
    "end_sheet": ("POST", f"/api/exercise-sheets/{SHEET}/end", (409, 403, 403, 403)),
    "sheet_answer": ("POST", f"/api/exercise-sheets/{SHEET}/answers", (403, 403, 404, 403)),
    "sheet_paper": ("GET", f"/api/exercise-sheets/{SHEET}/sheet.pdf", (200, 200, 404, 200)),
    "study_list": ("GET", "/api/studies", (200, 200, 200, 200)),
    "study_page": ("GET", "/api/studies/{study}", (200, 200, 404, 200)),
    "begin_study": ("POST", "/api/studies", (200, 403, 403, 403)),
    "read_in_study": ("POST", "/api/studies/{study}/readings", (200, 200, 404, 403)),
    "end_study": ("POST", "/api/studies/{ended_study}/end", (200, 403, 403, 403)),
    "crib_page": ("GET", "/api/crib", (200, 200, 200, 200)),
    "issue_thing": ("POST", "/api/crib/issues", (200, 200, 403, 403)),
    "give_back": ("POST", "/api/crib/issues/{issued}/return", (200, 200, 403, 403)),
    "stock_page": ("GET", "/api/stock", (200, 200, 200, 200)),
    "cutter_kinds": ("GET", "/api/cutter-kinds", (200, 403, 403, 403)),
    "add_cutters": ("POST", "/api/cutters", (200, 403, 403, 403)),
    "cutter_change": ("PUT", f"/api/cutters/{MILL}", (200, 200, 403, 403)),
    "material_forms": ("GET", "/api/materials", (200, 403, 403, 403)),
    "material_look": ("POST", "/api/materials/look", (200, 403, 403, 403)),
    "material_add": ("POST", "/api/materials", (200, 403, 403, 403)),
    "material_change": ("PUT", "/api/materials/brass", (409, 403, 403, 403)),
    "table_file": ("GET", "/api/tables/cutters.csv", (200, 200, 200, 200)),
    "table_check": ("POST", "/api/tables/materials/check", (200, 403, 403, 403)),
    "table_take": ("PUT", "/api/tables/materials", (200, 403, 403, 403)),
    "rig_list": ("GET", "/api/rigs", (200, 200, 200, 200)),
    "begin_run": ("POST", "/api/rigs/runs", (200, 200, 200, 403)),
    "rig_run": ("GET", "/api/rigs/runs/{rig_run}", (200, 200, 200, 200)),
    "rig_act": ("POST", "/api/rigs/runs/{rig_run}/actions", (404, 404, 200, 403)),
    "set_exercise": ("POST", "/api/rigs/exercises", (200, 403, 403, 403)),
    "end_session": ("POST", "/api/session/end", (200, 403, 403, 403)),
    "register": ("GET", "/api/registers/readings", (200, 403, 403, 200)),
    "register_file": ("GET", "/api/registers/sign_offs/file", (200, 403, 403, 200)),
    "sign_out": ("POST", "/api/sign-out", (200, 200, 200, 200)),
}


@pytest.fixture(scope="module")
def scene(whole_shop: TestShop) -> dict[str, Any]:
    return scene_of(whole_shop)


def scene_of(whole_shop: TestShop) -> dict[str, Any]:
    """A student at work, and a part that both assessors have measured."""
    student = whole_shop.ready_student()
    assignment, attempt = whole_shop.assign(student, machine=PETREL)
    _, _, checked, handed = whole_shop.handed_in()
    for assessor in (whole_shop.haldane, whole_shop.dacosta):
        assessor.check(checked, 3, "0.9981", M01)
    meeting = whole_shop.session(student)
    whole_shop.at_machine(student)
    call, tag, setup, rig_run = new_id(), new_id(), new_id(), new_id()
    student.post(f"/api/machines/{PETREL}/setups", {"id": setup, "settings": VISE_SETTINGS})
    student.post("/api/rigs/runs", {"id": rig_run, "rig": "vise"})
    question, issued, study, ended_study = new_id(), new_id(), new_id(), new_id()
    for x in (study, ended_study):
        whole_shop.haldane.post("/api/studies", STUDY | {"id": x})
    student.post("/api/exercise-questions", {"id": question, "calculation": "climb"})
    whole_shop.dacosta.post("/api/crib/issues", {"id": issued, "person": student.id, "cutter": MILL})
    student.post("/api/calls", {"id": call, "kind": "help"})
    student.post("/api/tags", {"id": tag, "machine": GANNET, "note": "belt slips under load"})
    return {
        "login": f"student{int(student.me['name'].removeprefix('Test student'))}",
        "student": student.id,
        "assignment": assignment,
        "attempt": attempt,
        "checked": checked,
        "handed": handed,
        "people": {r: whole_shop.person(login) for r, login in LOGINS.items()} | {S: student},
        "file": whole_shop.haldane.get(f"/api/projects/{GAUGE}")["file"],
        "version": whole_shop.haldane.get(f"/api/projects/{GAUGE}")["version"],
        "graph": whole_shop.haldane.get("/api/skill-graph"),
        "bank": whole_shop.haldane.get("/api/banks/measuring")["file"],
        "meeting": meeting,
        "call": call,
        "tag": tag,
        "setup": setup,
        "rig_run": rig_run,
        "question": question,
        "issued": issued,
        "study": study,
        "ended_study": ended_study,
        "machine": whole_shop.haldane.get(f"/api/machines/{DUNLIN}"),
        "device": key("device", "wall"),
        "holding": whole_shop.haldane.get("/api/workholding")["holding"][0],
    }


#: Repeated readings of three parts.
STUDY = {"instrument": M01, "group": TUESDAY, "what": "Three blanks", "parts": 3, "repeats": 2, "width": ""}
#: A vise as a file has it.
VISE_ENTRY = shipped.holding_kinds()[0].of.model_dump(mode="json")


def body_for(operation: str, role: Role, scene: dict[str, Any], shop: TestShop) -> Any:
    pin = PINS.get(LOGINS.get(role, ""), "1234")
    file, graph, bank = scene["file"], scene["graph"], scene["bank"]
    bodies: dict[str, Any] = {
        "register_walk": {"restart": True},
        "project_check": {"file": file},
        "project_change": {
            "id": new_id(),
            "after": scene["version"],
            "file": file,
            "change": "nothing",
        },
        "project_new": {"id": new_id(), "version": new_id(), "file": file},
        "project_shelve": {"id": new_id(), "retired": False},
        "part_draft": {"file": file},
        "saw_list": {"bars": ["0"], "kerf": "0.1"},
        "give": {"version": TIDE_V1, "to": [{"id": new_id(), "student": scene["student"]}]},
        "assign": {"id": new_id(), "version": TIDE_V1, "student": scene["student"]},
        "tick_station": {"id": new_id(), "station": "plan", "at": stamp()},
        "save_reading": reading(3, "0.9981", M01),
        "hand_in": {"id": new_id(), "at": stamp()},
        "save_check_reading": reading(3, "0.9981", M01),
        "open_comparison": {"id": new_id()},
        "decide": {"id": new_id(), "dispositions": []},
        "sign_skills": sign_off(scene["student"], pin, shown("measure-depth")),
        "withdraw_skill": {
            "id": new_id(),
            "student": scene["student"],
            "skill": "machine-familiarisation",
            "machine": DUNLIN,
            "reason": "left the key in the drawbar",
            "pin": pin,
        },
        "shop_change": {"school": "guard_band"},
        "delegate": {"assistant": shop.dacosta.id, "skills": ["machine-familiarisation", "measure-caliper"]},
        "restore_skill": {
            "id": new_id(),
            "student": scene["student"],
            "skill": "facing",
            "reason": "was never withdrawn",
            "pin": pin,
        },
        "skill_graph_check": {"file": graph["file"]},
        "skill_graph_change": graph,
        "begin_check": {"id": new_id()},
        "answer_check": {"check": new_id(), "question": "x"},
        "change_bank": {"file": bank},
        "class_list_check": {"group": "New group", "text": "name\nAda Quist"},
        "class_list_take": {"id": new_id(), "group": "New group", "text": f"name\nAda {new_id()}", "pin": pin},
        "open_session": {"id": new_id(), "group": TUESDAY, "pin": pin},
        "mark_roll": {"id": new_id(), "marks": [{"student": scene["student"], "presence": "here"}]},
        "supervise": {"id": new_id(), "on": True, "pin": pin},
        "open_machine": {"id": new_id(), "machine": DUNLIN, "open": False},
        "add_device": {"id": new_id(), "name": "Wall of a test", "purpose": "wall", "pin": pin},
        "switch_off_device": {"pin": pin},
        # what is there already is not entered a second time
        "add_machine": {"id": DUNLIN, "name": "Dunlin", "about": "", "kind": "knee-inch", "walked": walked()},
        "take_out_data": {"pin": pin},
        "take_out_paper": {"pin": pin, "paper": "A4"},
        "holding_read": {
            "file": json.dumps({"name": "Vise", "of": shipped.holding_kinds()[0].of.model_dump(mode="json")})
        },
        # it is not gone: it comes back to where it is
        "gone_change": {"id": new_id(), "thing": "machine", "key": DUNLIN, "gone": False, "why": ""},
        "gauge_check_look": look_of(),
        "keep_gauge_check": checked(pin=pin),
        "add_gauge": gauge(id=M01, name="Micrometer 0–1 in no. 3"),
        "add_person": {
            "id": new_id(),
            "name": "Ada Quist",
            "login": new_id(),
            "role": "auditor",
            "group": None,
            "pin": pin,
        },
        "change_person": {
            "name": f"Test {scene['login']}",
            "role": "student",
            "group": None,
            "active": True,
            "pin": pin,
        },
        "new_code": {"pin": pin},
        "add_group": {"id": new_id(), "name": new_id(), "begins": None, "ends": None},
        "change_group": {"name": "Tuesday group", "begins": None, "ends": None},
        "change_term": {"parts": [TIDE]},
        "machine_photo_change": {"image": ""},
        "lapses_look": {"number": 0, "changes": []},
        "lapses_change": {"number": 0, "changes": []},
        "begin_study": STUDY | {"id": new_id()},
        "read_in_study": {"id": new_id(), "turn": 1, "value": "0.5", "unit": "in"},
        "begin_next_term": {
            "id": new_id(),
            "name": new_id(),
            "until": "2026-06-30",
            "begins": None,
            "ends": None,
            "go_on": [],
            "leave": [],
            "pin": pin,
        },
        "share_duties": {},
        "end_session": {"id": scene["meeting"], "handed_back": MACHINES, "pin": pin},
        "machine_step": {"id": new_id(), "step": "come"},
        "machine_start": {"id": new_id(), "operation": "drilling", "points": POINTS},
        "machine_end": {"id": new_id()},
        "confirm_start": {"id": new_id(), "student": scene["student"], "operation": "facing", "pin": pin},
        "call": {"id": new_id(), "kind": "help"},
        "answer_call": {"outcome": "cancelled"},
        "set_hold": {"id": new_id(), "student": scene["student"], "hold": "last_pass", "on": False},
        "tag_out": {"id": new_id(), "machine": GANNET, "note": "quill sticks"},
        "clear_tag": {"note": "new belt on", "pin": pin},
        "stop_all": {"id": new_id()},
        "clear_stop": {"note": "all clear", "pin": pin},
        "report_incident": {"id": new_id(), "kind": "near_miss", "what": "slipped on an oily floor"},
        "sign_notice": {"id": new_id(), "version": VERSION},
        "change_password": {"old": "not the old one", "new": "a new password"},
        "machine_change": {"about": scene["machine"]["about"], "file": scene["machine"]["file"]},
        "machine_note": {"id": new_id(), "kind": "service", "words": "gibs adjusted"},
        "holding_change": {k: scene["holding"][k] for k in ("id", "name", "of")},
        "begin_setup": {"id": new_id(), "settings": VISE_SETTINGS},
        "save_pass": {"id": new_id(), "low": "0", "high": "0.004", "tight": False},
        "accept_setup": {"id": new_id()},
        "hold_check": HOLD_SO,
        "keep_hold": {"id": new_id(), **HOLD_SO},
        "plan_look": {"plan": PLAN},
        "plan_frames": {"plan": PLAN, "large": "o1"},
        "plan_offers": {"plan": PLAN, "holding": "h1", "name": "top"},
        "plan_own": {"plan": PLAN},
        "set_plan_task": {"id": new_id(), "number": 0, "mode": "free"},
        # whoever saves second saves on the first
        "save_plan": {"id": new_id(), "number": 0 if role is S else 1, "plan": PLAN},
        "hand_in_plan": {"id": new_id(), "number": 99},
        "decide_plan": {"id": new_id(), "approved": True},
        "keep_run_tick": {"id": new_id(), "step": "nothing", "kind": "done", "at": "2026-11-28T10:00:00Z"},
        "keep_remark": {"id": new_id(), "step": "nothing", "words": "slower"},
        "keep_sign": {"id": new_id(), "step": "nothing", "sign": "broke", "at": "2026-11-28T10:00:00Z"},
        "begin_dry_run": {"id": new_id()},
        "keep_dry_act": {"id": new_id(), "number": 99, "step": "nothing"},
        "moves_check": {"handle": 0, "unit": "in", "places": ["1"]},
        "keep_backlash": {"id": new_id(), "handle": 1, "numbers": "rise", "middle": ["0.10", "0.10"]},
        "find_check": {"find": FIND},
        "keep_find": {"id": new_id(), "find": FIND},
        "reckon_check": {"given": {"diameter": {"value": "10"}}},
        "keep_reckoning": {"id": new_id(), "name": "drill-point", "given": {"diameter": {"value": "10"}}},
        "ask_question": {"id": new_id(), "calculation": "edge"},
        "answer_question": {"give_up": True},
        "set_sheet": {"id": new_id(), "group": TUESDAY, "title": "Short", "calculations": ["climb"], "each": 1},
        "sheet_answer": {"id": new_id(), "number": 1, "give_up": True},
        "issue_thing": {"id": new_id(), "person": scene["student"], "cutter": MILL},
        "give_back": {"condition": "fine"},
        "add_cutters": drawer(),
        "cutter_change": {"measured": "", "owned": 6, "place": "drawer 1"},
        "material_look": bronze(),
        "material_add": {**bronze(), "id": new_id(), "name": f"Bronze {new_id()}"},
        "material_change": {**bronze(), "based_on": ""},
        "change_accommodation": {"words": "", "based_on": None},
        "table_check": {"text": MATERIAL},
        "table_take": {"text": MATERIAL},
        "strap_check": {"unit": "in", "work_arm": "1", "heel_arm": "3"},
        "begin_run": {"id": new_id(), "rig": "head", "level": 2},
        "rig_act": {"number": 1, "actions": [{"do": "touch"}]},
        "set_exercise": {"id": new_id(), "group": TUESDAY, "rig": "hold"},
        "sign_out": {},
    }
    return bodies.get(operation)


def test_the_table_is_complete() -> None:
    assert set(TABLE) == set(ACCESS)


def test_every_operation_of_the_server_is_in_the_table(shop: TestShop) -> None:
    served = {
        rule.endpoint.rpartition(".")[2] for rule in shop.app.url_map.iter_rules() if rule.rule.startswith("/api/")
    }
    assert served == set(ACCESS) | OPEN | DEVICES


def test_no_two_models_of_the_document_share_a_name() -> None:
    """The document knows models by their names alone: the second of two would silently take the first one's place."""
    known: dict[str, Any] = {}

    def walk(kind: type[BaseModel]) -> None:
        for below in kind.__subclasses__():
            schema = below.model_json_schema()
            for name, what in {**schema.pop("$defs", {}), below.__name__: schema}.items():
                assert known.setdefault(name, what) == what, name
            walk(below)

    for kind in (View, Command):
        walk(kind)
    assert len(known) > 150


def test_a_device_needs_its_key(shop: TestShop) -> None:
    for header in ("", "Bearer", "Bearer wrong", f"Basic {DEVICE_KEY}"):
        answer = shop.app.test_client().post("/api/interlock", json={}, headers={"Authorization": header})
        assert answer.status_code == 401, header
    shop.checked.check("POST", "/api/interlock", answer)


@pytest.mark.parametrize("role", [S, X, A, I], ids=lambda r: r.value)
@pytest.mark.parametrize("operation", TABLE)
def test_each_role_gets_exactly_its_answer(shop: TestShop, scene: dict[str, Any], operation: str, role: Role) -> None:
    method, path, statuses = TABLE[operation]
    wanted = dict(zip((I, A, S, X), statuses, strict=True))[role]
    person = scene["people"][role]
    if operation == "sign_out":
        person = shop.person(LOGINS.get(role, scene["login"]))
    answer = person.ask(method, path.format(**scene), body_for(operation, role, scene, shop))
    assert answer.status_code == wanted, answer.get_data(as_text=True)[:300]


@pytest.mark.parametrize("operation", TABLE)
def test_nobody_gets_in_without_signing_in(shop: TestShop, scene: dict[str, Any], operation: str) -> None:
    method, path, _ = TABLE[operation]
    stranger = shop.person()
    answer = stranger.ask(method, path.format(**scene), body_for(operation, I, scene, shop))
    assert answer.status_code == 401


@pytest.mark.parametrize("operation", [o for o, (m, _, _) in TABLE.items() if m != "GET"])
def test_authorisation_comes_before_the_body_is_looked_at(
    shop: TestShop, scene: dict[str, Any], operation: str
) -> None:
    """A student who sends rubbish to an instructor's operation learns nothing about its shape."""
    method, path, _ = TABLE[operation]
    if X in ACCESS[operation]:
        return
    answer = shop.thorley.ask(method, path.format(**scene), {"rubbish": True})
    assert answer.status_code == 403


@pytest.mark.parametrize("operation", [o for o, (m, _, _) in TABLE.items() if m != "GET"])
def test_a_forged_request_changes_nothing(shop: TestShop, scene: dict[str, Any], operation: str) -> None:
    method, path, _ = TABLE[operation]
    body = body_for(operation, I, scene, shop)
    for token in ("", "guess"):
        answer = shop.haldane.ask(method, path.format(**scene), body, token=token)
        assert answer.status_code == 403
    elsewhere = shop.haldane.client.open(
        path.format(**scene),
        method=method,
        json=body,
        headers={"X-Incudo-Token": shop.haldane.me["token"], "Origin": "http://elsewhere.example"},
    )
    assert elsewhere.status_code == 403
    assert "another site" in elsewhere.get_json(force=True)["detail"]


def test_a_student_sees_only_what_is_theirs(shop: TestShop, scene: dict[str, Any]) -> None:
    other = shop.ready_student()
    for path in (
        f"/api/job-cards/{scene['assignment']}",
        f"/api/students/{scene['student']}/skills",
        f"/api/job-cards/{new_id()}",
    ):
        assert other.ask("GET", path).status_code == 404
    other.fails(404, f"/api/attempts/{scene['attempt']}/readings", reading(3, "0.9981", M01))
    tick = {"id": new_id(), "station": "plan", "at": stamp()}
    other.fails(404, f"/api/attempts/{scene['attempt']}/stations", tick)
    other.fails(404, f"/api/attempts/{scene['attempt']}/hand-ins", {"id": new_id(), "at": stamp()})


def test_the_auditor_reads_all_and_changes_nothing(shop: TestShop) -> None:
    """Over the whole table: an auditor signs the notice and out, takes out their own data, and changes nothing."""
    for operation, (method, _, statuses) in TABLE.items():
        if method != "GET" and operation not in ("sign_out", "sign_notice", "take_out_data", "take_out_paper"):
            assert statuses[3] == 403 or operation in KEEPS_NOTHING, operation


def test_what_may_be_large_is_an_operation_that_takes_a_body() -> None:
    """A name that is not served any more would leave a bound that nobody holds."""
    changing = {name for name, (method, *_) in TABLE.items() if method != "GET"}
    assert changing | OPEN >= WITH_A_FILE
    for name in changing | OPEN:
        large = name in WITH_A_FILE
        assert bounds(name) == ((MOST_BYTES_OF_A_FILE, MOST_PARTS) if large else (MOST_BYTES, MOST_VALUES))
