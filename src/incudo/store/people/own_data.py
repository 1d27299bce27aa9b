"""Everything that the tables keep of one person, found by the schema itself: a new table is in it at once."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import dataclass

from sqlalchemy import ColumnElement, Select, Table, and_, false, inspect, not_, or_, select
from sqlalchemy.orm import Session

from incudo.store import schema as t
from incudo.store.kernel.changes import parents

#: Columns that never leave the database: with them somebody could come in.
SECRETS = frozenset({"password_hash", "pin_hash", "token_hash", "csrf", "code_hash", "key_hash"})
#: Tables that say nothing of anybody that does not stand in another one, and why they are left out.
LEFT_OUT: dict[type[t.Base], str] = {
    t.Pending: "which cards, parts and cutters are open; each stands in its own table",
    t.SkillStanding: "worked out from the tables above, and made anew when one of them changes",
    t.RegisterEntry: "sealed copies of sign-offs, withdrawals, notices, tags and stops, which are in the tables above",
}


@dataclass(frozen=True)
class Kept:
    """The rows of one table."""

    table: type[t.Base]
    rows: tuple[t.Base, ...]


def tables() -> list[type[t.Base]]:
    """All tables in which something of a person can stand, by name."""
    found = (m.class_ for m in t.Base.registry.mappers)
    mine = (x for x in found if x not in LEFT_OUT and (people_in(x) or parents(x)))
    return sorted(mine, key=lambda x: str(x.__tablename__))


def sql_table(table: type[t.Base]) -> Table:
    """The table of a class."""
    return t.Base.metadata.tables[str(table.__tablename__)]


def columns_of(table: type[t.Base]) -> list[str]:
    """The columns of a table, as its class names them."""
    return [str(c.key) for c in inspect(table).columns]


def people_in(table: type[t.Base]) -> list[str]:
    """The columns of a table that name a person."""
    return [c.key for c in sql_table(table).columns if any(k.column.table.name == "person" for k in c.foreign_keys)]


def kept_of(db: Session, person: uuid.UUID) -> Iterator[Kept]:
    """What is kept of somebody, and what they entered about others, table by table; without what is decided still.

    Readings, plans and finds of a part that is not decided yet, questions of a sheet in class and of a check that is
    not ended are hidden from somebody on the pages: they are not in it, whoever asks.
    """
    for table in tables():
        found = select(table).where(_of(table, person), not_(_hidden(table)))
        rows = tuple(db.scalars(_ordered(found, table)))
        if rows:
            yield Kept(table, rows)


def _ordered(query: Select[t.Base], table: type[t.Base]) -> Select[t.Base]:
    columns = sql_table(table).columns
    at = [columns[k] for k in ("at", "saved_at", "made_at", "begins", "number") if k in columns]
    return query.order_by(*at, *sql_table(table).primary_key.columns)


def _of(table: type[t.Base], person: uuid.UUID) -> ColumnElement[bool]:
    """Rows that name somebody, and those of their own work."""
    named = [sql_table(table).c[c] == person for c in people_in(table)]
    if table is t.Person:
        named.append(t.Person.id == person)
    return or_(false(), *named, theirs(table, person))


def theirs(table: type[t.Base], person: uuid.UUID) -> ColumnElement[bool]:
    """Rows of the own work of a student, followed up to whose it is."""
    columns = sql_table(table).c
    if "student_id" in columns:
        return columns["student_id"] == person
    ways = [
        columns[c].in_(select(sql_table(of).primary_key.columns[0]).where(theirs(of, person)))
        for c, of in parents(table).items()
    ]
    if not ways and "person_id" in columns:
        return columns["person_id"] == person
    return or_(false(), *ways)


def _hidden(table: type[t.Base]) -> ColumnElement[bool]:
    """Rows that a page hides from somebody at this moment."""
    handed_in = select(t.HandIn.id).where(t.HandIn.id.not_in(select(t.Decision.hand_in_id)))
    decided = select(t.HandIn.attempt_id).join(t.Decision, t.Decision.hand_in_id == t.HandIn.id)
    attempts = select(t.Attempt.id).where(t.Attempt.id.not_in(decided))
    cards = select(t.Attempt.assignment_id).where(t.Attempt.id.in_(attempts))
    asked = select(t.ExerciseQuestion.id).where(
        or_(
            t.ExerciseQuestion.id.not_in(select(t.ExerciseAnswer.question_id)),
            and_(
                t.ExerciseQuestion.sheet_id.is_not(None),
                t.ExerciseQuestion.sheet_id.not_in(select(t.ExerciseSheetEnd.sheet_id)),
            ),
        )
    )
    tries = select(t.CheckTry.id).where(t.CheckTry.id.not_in(select(t.CheckResult.try_id)))
    columns, hidden = sql_table(table).c, []
    for key, keys in (
        ("attempt_id", attempts),
        ("hand_in_id", handed_in),
        ("question_id", asked),
        ("try_id", tries),
    ):
        if key in columns:
            hidden.append(and_(columns[key].is_not(None), columns[key].in_(keys)))
    if table in (t.DryRun, t.PlanVersion, t.Found):
        hidden.append(columns["assignment_id"].in_(cards))
    if table is t.DryAct:
        hidden.append(t.DryAct.run_id.in_(select(t.DryRun.id).where(t.DryRun.assignment_id.in_(cards))))
    if table is t.StudyReading:
        hidden.append(t.StudyReading.study_id.not_in(select(t.StudyEnd.study_id)))
    if table is t.ExerciseQuestion:
        hidden.append(t.ExerciseQuestion.id.in_(asked))
    if table is t.CheckTry:
        hidden.append(t.CheckTry.id.in_(tries))
    return or_(false(), *hidden)


def names(db: Session) -> dict[uuid.UUID, str]:
    """The names of machines, gauges, cutters, workholding, groups and parts."""
    found: dict[uuid.UUID, str] = {}
    for table in (t.Machine, t.Instrument, t.Cutter, t.Workholding, t.Group, t.Device):
        found |= dict(db.execute(select(table.id, table.name)).all())
    versions = select(t.ProjectVersion.id, t.Project.code, t.ProjectVersion.number).join(
        t.Project, t.Project.id == t.ProjectVersion.project_id
    )
    return found | {ident: f"{name}, version {number}" for ident, name, number in db.execute(versions)}


def people(db: Session) -> dict[uuid.UUID, tuple[str, bool]]:
    """Everybody's name, and whether they are a student."""
    return {
        i: (name, role == "student") for i, name, role in db.execute(select(t.Person.id, t.Person.name, t.Person.role))
    }
