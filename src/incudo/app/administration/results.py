"""A group's results: skills that were signed and parts that were made, as sheets to download."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import date
from enum import StrEnum

from incudo.app.administration.registers import DECIDED
from incudo.app.kernel.spreadsheets import Cell, as_csv, as_workbook
from incudo.app.kernel.unit import Work, find
from incudo.app.shop.machines import machine_names
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.standings import standings
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.versions import project_of
from incudo.core.parts.inspection import Outcome
from incudo.core.skills.graph import Skill
from incudo.core.skills.kept import Kept
from incudo.store import schema as t
from incudo.store.parts import results as parts_store
from incudo.store.people import groups
from incudo.store.skills import acts

Rows = list[list[Cell]]


class ResultSheet(StrEnum):
    """The sheets of a group's results."""

    SKILLS = "skills"
    PARTS = "parts"


def results_workbook(w: Work, group: uuid.UUID) -> tuple[str, bytes]:
    """The group's name, and its results as an .xlsx file of two sheets. Raises ``NotFound``."""
    row = find(w, t.Group, group, "group")
    people = groups.ever_in(w.db, group)
    sheets = {say("Skills"): _skills(w, people), say("Parts"): _parts(w, people, row.ends)}
    return row.name, as_workbook(sheets)


def results_table(w: Work, group: uuid.UUID, sheet: ResultSheet) -> tuple[str, str]:
    """The group's name, and one sheet of its results as CSV. Raises ``NotFound``."""
    row = find(w, t.Group, group, "group")
    people = groups.ever_in(w.db, group)
    rows = _skills(w, people) if sheet is ResultSheet.SKILLS else _parts(w, people, row.ends)
    return row.name, as_csv(rows)


def _skills(w: Work, people: Iterable[groups.Member]) -> Rows:
    """A line for everybody who was ever in the group; for each skill that they hold the day on which it was signed."""
    members = list(people)
    graph, machines = skill_graph(w), machine_names(w)
    books = standings(w, [m.person for m in members])
    signed: dict[tuple[uuid.UUID, str], date] = {}
    for row, _by, _seq in acts.sign_offs(w.db, [m.person for m in members]) if members else ():
        signed[row.student_id, row.skill] = w.day(row.at)
    head: list[Cell] = [say("Student"), say("Signs in as"), say("From"), say("Until"), say("Skills held")]
    found: Rows = [[*head, *(s.name for s in graph.skills)]]
    for m in members:
        cells = [_cell(books[m.person], s, machines, signed.get((m.person, s.id))) for s in graph.skills]
        held = sum(1 for c in cells if isinstance(c, date) or (c and not c.startswith("(")))
        found.append([m.name, m.login, m.begins, m.ends, held, *cells])
    return found


def _cell(book: Kept, skill: Skill, machines: dict[str, str], signed: date | None) -> date | str:
    """The day, of a skill that is signed per machine the machines; what is held no more in brackets; else nothing."""
    if skill.per_machine:
        return together((name for m, name in machines.items() if book.standing(skill.id, m).state.current), ", ")
    state = book.standing(skill.id, None).state
    if state.current:
        return signed or say("yes")
    return f"({state})" if signed else ""


def _parts(w: Work, people: Iterable[groups.Member], over: date | None) -> Rows:
    """A line for each part that somebody was given while they were in the group."""
    members = {m.person: m for m in people}
    head: list[Cell] = [say("Student"), say("Part"), say("Given"), say("Handed in, times"), say("Decided"), say("Last")]
    found: Rows = [[*head, say("By"), say("Remark")]]
    for x in parts_store.given_to(w.db, members):
        m = members[x.student]
        if not m.begins <= w.day(x.given) <= (m.ends or over or date.max):
            continue
        decided = DECIDED[Outcome(x.outcome)] if x.outcome else ""
        name = project_of(x.content).name
        found.append(
            [
                m.name,
                name,
                w.day(x.given),
                x.hand_ins,
                decided,
                w.day(x.decided) if x.decided else None,
                x.by,
                x.remark,
            ]
        )
    return found
