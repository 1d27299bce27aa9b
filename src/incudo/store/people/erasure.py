"""What a former student's records come to when they are erased; for the account that owns the tables.

Their own work is deleted. What the register of safety seals, and what is a machine's or the crib's record, stays
under a name that tells nobody who it was. No table is missing: one that nobody has sorted fails a test.
"""

from __future__ import annotations

import uuid
from collections.abc import Iterator

from sqlalchemy import ColumnElement, String, Text, delete, func, or_, select, text, update
from sqlalchemy.orm import Session

from incudo.store import schema as t
from incudo.store.people.own_data import people_in, sql_table, theirs
from incudo.store.schema.base import Spoken

#: The register seals these: who was signed for what, what happened, what was closed, who signed the notice.
SEALED: tuple[type[t.Base], ...] = (
    t.SignOff,
    t.Demonstration,
    t.Withdrawal,
    t.Restoration,
    t.Incident,
    t.Tag,
    t.TagCleared,
    t.ShopStop,
    t.ShopStopCleared,
    t.NoticeSigned,
)
#: These are the record of a machine, of its head and vise, of a gauge, or of the crib.
OF_THE_SHOP: tuple[type[t.Base], ...] = (
    t.MachineEvent,
    t.Setup,
    t.SetupPass,
    t.SetupEnd,
    t.MeasuredBacklash,
    t.MachineNote,
    t.CribIssue,
    t.CribReturn,
    t.StudyReading,
)
#: Their own work and their coming and going: deleted, what rests on others before those.
OWN: tuple[type[t.Base], ...] = (
    t.Finding,
    t.Decision,
    t.Comparison,
    t.PlanDecision,
    t.DryAct,
    t.RunTick,
    t.RunRemark,
    t.Reading,
    t.Progress,
    t.PlanHandIn,
    t.NoticedSign,
    t.HandIn,
    t.DryRun,
    t.CallEnd,
    t.Call,
    t.RigResult,
    t.RigAction,
    t.RigRun,
    t.Reckoned,
    t.PlanVersion,
    t.PlanTask,
    t.HoldPoint,
    t.Found,
    t.ExerciseAnswer,
    t.ExerciseQuestion,
    t.Attempt,
    t.Assignment,
    t.CheckResult,
    t.CheckAnswer,
    t.CheckTry,
    t.Roll,
    t.Enrolment,
    t.SkillStanding,
    t.SignIn,
    t.LastSignIn,
    t.InvitationTaken,
    t.Invitation,
    t.PersonAct,
    t.Accommodation,
)


def counts(db: Session, person: uuid.UUID, tables: tuple[type[t.Base], ...]) -> dict[str, int]:
    """How many rows of theirs each of these tables has; tables without one are left out."""
    found = {}
    for table in tables:
        n = db.scalar(select(func.count()).select_from(table).where(_of(table, person)))
        if n:
            found[str(table.__tablename__)] = int(n)
    return found


def out_of_the_crib(db: Session, person: uuid.UUID) -> int:
    """How many things they still have."""
    query = select(func.count()).select_from(t.Pending).where(t.Pending.kind == "issue", t.Pending.person_id == person)
    return db.scalar(query) or 0


def delete_own(db: Session, person: uuid.UUID) -> None:
    """Delete their own work; what stays of the shop's records no longer points to it."""
    cards = select(t.Assignment.id).where(t.Assignment.student_id == person)
    for table in OF_THE_SHOP:
        if "assignment_id" in sql_table(table).columns:
            of_cards = sql_table(table).c.assignment_id.in_(cards)
            db.execute(update(sql_table(table)).where(of_cards).values(assignment_id=None))
    db.execute(update(sql_table(t.Reading)).where(theirs(t.Reading, person)).values(supersedes_id=None))
    for table in OWN:
        db.execute(delete(sql_table(table)).where(_of(table, person)))
    db.execute(delete(t.Pending).where(t.Pending.person_id == person))


def forget_past(db: Session, person: uuid.UUID) -> None:
    """Take what the person's row and their terms said before out of the tables' history.

    MariaDB forgets a table's history only as a whole: the others' is put back as it was.
    """
    for table, mine in ((t.Person, "id"), (t.Enrolment, "person_id")):
        name = table.__tablename__
        columns = ", ".join(f"`{c.name}`" for c in sql_table(table).columns)
        past = f"FROM `{name}` FOR SYSTEM_TIME ALL WHERE row_end < NOW(6) AND `{mine}` <> :person"
        db.execute(text("DROP TEMPORARY TABLE IF EXISTS `kept_past`"))
        db.execute(
            text(f"CREATE TEMPORARY TABLE `kept_past` AS SELECT {columns}, row_start AS s, row_end AS e {past}"),
            {"person": person.hex},
        )
        db.execute(text(f"DELETE HISTORY FROM `{name}`"))
        db.execute(text("SET @@system_versioning_insert_history = 1"))
        db.execute(
            text(f"INSERT INTO `{name}` ({columns}, row_start, row_end) SELECT {columns}, s, e FROM `kept_past`")  # noqa: S608
        )
        db.execute(text("SET @@system_versioning_insert_history = 0"))
        db.execute(text("DROP TEMPORARY TABLE `kept_past`"))


def mentions(db: Session, words: tuple[str, ...]) -> Iterator[tuple[str, str, int]]:
    """Where free text still has one of these words: table, column, how many rows."""
    for table in sorted(t.Base.metadata.tables.values(), key=lambda x: x.name):
        for column in table.columns:
            if isinstance(column.type, (String, Text, Spoken)) and table.name != "failure":
                found = or_(*(column.like(f"%{_plain(w)}%", escape="!") for w in words))
                if n := db.scalar(select(func.count()).select_from(table).where(found)):
                    yield table.name, column.name, int(n)


def _of(table: type[t.Base], person: uuid.UUID) -> ColumnElement[bool]:
    """Rows of their own work, or where they are named as the person themselves."""
    if table is t.InvitationTaken:
        return t.InvitationTaken.invitation_id.in_(select(t.Invitation.id).where(t.Invitation.person_id == person))
    columns = sql_table(table).c
    if table in OWN:
        return columns.person_id == person if table is t.PersonAct else theirs(table, person)
    return or_(*(columns[c] == person for c in people_in(table)), theirs(table, person))


def _plain(word: str) -> str:
    return word.replace("!", "!!").replace("%", "!%").replace("_", "!_")
