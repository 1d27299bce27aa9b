"""What every transaction that writes leaves behind: counters of changes, and whose standing it bears on.

A page that asks again and again compares counters before anything else is read. What is kept of a student's standing
holds only while no act was counted since. Both are counted in the transaction that writes, just before its commit, so
that neither can be forgotten by a use case and neither is there without what it counts.
"""

from __future__ import annotations

import random
import uuid
from collections.abc import Iterable, Mapping
from functools import cache
from typing import Any

from sqlalchemy import Select, delete, event, func, inspect, literal_column, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import ORMExecuteState, Session, UOWTransaction, sessionmaker

from incudo.store import schema as t

#: Everything; and what concerns the whole shop and changes seldom.
ALL, SHOP = "all", "shop"
#: Writers at once spread over so many rows of one counter.
SLOTS = 8
#: Tables that no page shows.
_UNSEEN = (
    t.SignIn,
    t.Failure,
    t.Pulse,
    t.LastSignIn,
    t.FirstCode,
    t.InvitationTaken,
    t.SkillStanding,
    t.Change,
    t.Pending,
    t.RegisterChecked,
    t.RegisterEntry,
    t.OperationTime,
)
#: Columns by which a row belongs to another one; followed up to a student.
_UP = (
    "attempt_id",
    "assignment_id",
    "hand_in_id",
    "plan_hand_in_id",
    "decision_id",
    "try_id",
    "question_id",
    "run_id",
    "call_id",
    "setup_id",
    "issue_id",
)
#: Rows of one student's or one machine's work; every other row concerns the whole shop. So do signatures, setups and
#: withdrawals: what is signed or withdrawn for one is shown to all who stand at the machine.
_PERSONAL = (
    t.Assignment,
    t.Attempt,
    t.Progress,
    t.Reading,
    t.HandIn,
    t.Comparison,
    t.Decision,
    t.Finding,
    t.HoldPoint,
    t.Found,
    t.Reckoned,
    t.Demonstration,
    t.CheckTry,
    t.CheckAnswer,
    t.CheckResult,
    t.ExerciseQuestion,
    t.ExerciseAnswer,
    t.RigRun,
    t.RigAction,
    t.RigResult,
    t.MachineEvent,
    t.DeviceState,
    t.Call,
    t.CallEnd,
    t.CribIssue,
    t.CribReturn,
    t.NoticeSigned,
    t.PlanTask,
    t.PlanVersion,
    t.PlanHandIn,
    t.PlanDecision,
    t.RunTick,
    t.DryRun,
    t.DryAct,
    t.NoticedSign,
    t.RunRemark,
)
#: What a standing is worked out from, besides what the whole shop shares.
_EVIDENCE = (
    t.SignOff,
    t.Withdrawal,
    t.Restoration,
    t.CheckResult,
    t.ExerciseAnswer,
    t.RigResult,
    t.Decision,
    t.Finding,
    t.Roll,
    t.MachineEvent,
    t.PlanDecision,
    t.DryAct,
)


def of_person(person: uuid.UUID) -> str:
    """The concern of one person's own work."""
    return f"p{person.hex}"


def of_machine(machine: uuid.UUID) -> str:
    """The concern of what happens at one machine."""
    return f"m{machine.hex}"


def parents(table: type[t.Base]) -> dict[str, type[t.Base]]:
    """The columns by which a row of a table belongs to another one, as they are asked in order, and to what."""
    return _parents(str(table.__tablename__))


@cache
def _parents(name: str) -> dict[str, type[t.Base]]:
    of = {str(m.class_.__tablename__): m.class_ for m in t.Base.registry.mappers}
    columns = t.Base.metadata.tables[name].columns
    keys = {c.key: key.column.table.name for c in columns for key in c.foreign_keys}
    return {c: of[keys[c]] for c in _UP if c in keys}


def numbers(db: Session, concerns: Iterable[str]) -> dict[str, int]:
    """How often something of each concern changed; one indexed query."""
    wanted = sorted(set(concerns))
    query = select(t.Change.concern, func.sum(t.Change.number)).where(t.Change.concern.in_(wanted))
    found = {concern: int(n) for concern, n in db.execute(query.group_by(t.Change.concern))}
    return {c: found.get(c, 0) for c in wanted}


def touched(db: Session) -> frozenset[uuid.UUID]:
    """The students whose standing something bears on that this transaction has written so far."""
    db.flush()
    return frozenset(db.info.get("students", ()))


def has_written(db: Session) -> bool:
    """Whether this transaction has changed anything so far: what was counted before it does not hold in it."""
    db.flush()
    return bool(db.info.get("concerns"))


def watch(maker: sessionmaker[Session]) -> None:
    """Let every session of this maker count what it writes."""
    event.listen(maker, "after_flush", _after_flush)
    event.listen(maker, "do_orm_execute", _on_execute)
    event.listen(maker, "before_commit", _before_commit)


def _after_flush(db: Session, _context: UOWTransaction) -> None:
    concerns, students = db.info.setdefault("concerns", set()), db.info.setdefault("students", set())
    for row in (*db.new, *db.dirty, *db.deleted):
        if isinstance(row, _UNSEEN) or not _changed(db, row):
            continue
        concerns.add(ALL)
        if not isinstance(row, _PERSONAL):
            concerns.add(SHOP)
        owner = _owner(db, row)
        if owner is not None:
            concerns.add(of_person(owner))
        if isinstance(row, (t.MachineEvent, t.DeviceState)):
            concerns.add(of_machine(row.machine_id))
        # of a dry run only the last act, with which it came out, says anything
        if isinstance(row, _EVIDENCE) and not (isinstance(row, t.DryAct) and not row.outcome):
            students |= {owner} if owner else set()
            students |= _others_at(db, row) if isinstance(row, t.MachineEvent) else set()
        _open_or_close(db, row, owner)
        if isinstance(row, t.ExerciseSheetEnd):
            students |= set(_all(db, select(t.ExerciseQuestion.student_id), t.ExerciseQuestion.sheet_id, row.sheet_id))


def _open_or_close(db: Session, row: Any, owner: uuid.UUID | None) -> None:
    """Keep the list of what is open; at once, since the same use case may ask for it."""
    match row:
        case t.Assignment():
            _open(db, "card", row.id, owner)
        case t.HandIn():
            _open(db, "hand_in", row.id, owner)
        case t.CribIssue():
            _open(db, "issue", row.id, owner)
        case t.Decision():
            _close(db, "hand_in", row.hand_in_id)
            if row.outcome == "accepted":
                with db.no_autoflush:
                    hand_in = db.get_one(t.HandIn, row.hand_in_id)
                    _close(db, "card", db.get_one(t.Attempt, hand_in.attempt_id).assignment_id)
        case t.CribReturn():
            _close(db, "issue", row.issue_id)


def _open(db: Session, kind: str, key: uuid.UUID, owner: uuid.UUID | None) -> None:
    db.connection().execute(insert(t.Pending).values(kind=kind, id=key, person_id=owner))


def _close(db: Session, kind: str, key: uuid.UUID) -> None:
    db.connection().execute(delete(t.Pending).where(t.Pending.kind == kind, t.Pending.id == key))


def _changed(db: Session, row: Any) -> bool:
    """Whether anything but the moment of a device's report is new."""
    if row in db.new or row in db.deleted:
        return True
    columns = {c.key for c in inspect(row).mapper.column_attrs}
    changed = {a.key for a in inspect(row).attrs if a.key in columns and a.history.has_changes()}
    return bool(changed - {"at"} if isinstance(row, t.DeviceState) else changed)


def _owner(db: Session, row: Any) -> uuid.UUID | None:
    """The student whose own work a row belongs to."""
    with db.no_autoflush:
        while row is not None:
            for column in ("student_id", "person_id"):
                found = getattr(row, column, None)
                if isinstance(found, uuid.UUID) and (column == "student_id" or not _has_parent(row)):
                    return found
            up = next(((c, of) for c, of in parents(type(row)).items() if getattr(row, c, None)), None)
            row = db.get(up[1], getattr(row, up[0])) if up else None
    return None


def _has_parent(row: Any) -> bool:
    """Whether a row's ``person_id`` is only who wrote it: it belongs to another row."""
    return any(getattr(row, c, None) for c in parents(type(row))) and not isinstance(row, (t.MachineEvent, t.Setup))


def _others_at(db: Session, row: t.MachineEvent) -> set[uuid.UUID]:
    """Who else started something there: this may be the end of their run."""
    query = select(t.MachineEvent.person_id).where(
        t.MachineEvent.machine_id == row.machine_id, t.MachineEvent.kind == "start"
    )
    return set(_all(db, query, t.MachineEvent.meeting_id, row.meeting_id))


def _all(db: Session, query: Select[Any], column: Any, key: uuid.UUID) -> list[uuid.UUID]:
    with db.no_autoflush:
        return list(db.scalars(query.where(column == key).distinct()))


def _on_execute(state: ORMExecuteState) -> None:
    """Rows that are changed or deleted by a statement, not one by one."""
    if state.is_update or state.is_delete:
        table = state.bind_mapper.class_ if state.bind_mapper else None
        if table not in _UNSEEN:
            state.session.info.setdefault("concerns", set()).update((ALL, SHOP))


def _before_commit(db: Session) -> None:
    db.flush()
    if concerns := db.info.pop("concerns", set()):
        slots = {c: random.randrange(SLOTS) if c in (ALL, SHOP) else 0 for c in concerns}  # noqa: S311 (spreads writers)
        _add(db, t.Change, [{"concern": c, "slot": slots[c], "number": 1} for c in sorted(concerns)], "number")
    if students := db.info.pop("students", set()):
        empty = {"acts": 1, "worked_out": 0, "basis": "", "to_sign": "", "content": ""}
        _add(db, t.SkillStanding, [{"student_id": s} | empty for s in sorted(students, key=lambda s: s.hex)], "acts")


def _add(db: Session, table: type[t.Base], rows: list[Mapping[str, Any]], counter: str) -> None:
    """Count one up in each of these rows, in one statement and in one order for all writers."""
    more = table.__table__.c[counter] + literal_column("1")
    db.connection().execute(insert(table).on_duplicate_key_update({counter: more}), rows)
