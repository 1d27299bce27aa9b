"""Question banks and the checks that students took."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import Integer, func, select
from sqlalchemy import cast as sql_cast
from sqlalchemy.orm import Session

from incudo.store import schema as t


def newest_banks(db: Session) -> list[tuple[str, int, datetime]]:
    """Every bank's name, number of its newest version and when that was made: they name its content for good."""
    last = (
        select(t.BankVersion.bank, func.max(t.BankVersion.number).label("number"))
        .group_by(t.BankVersion.bank)
        .subquery()
    )
    here = (last.c.bank == t.BankVersion.bank) & (last.c.number == t.BankVersion.number)
    query = select(t.BankVersion.bank, t.BankVersion.number, t.BankVersion.made_at)
    return [(bank, number, at) for bank, number, at in db.execute(query.join(last, here).order_by(t.BankVersion.bank))]


def bank(db: Session, name: str, number: int) -> str:
    """The content of one version of a bank."""
    of = t.BankVersion
    return db.scalars(select(of.content).where(of.bank == name, of.number == number)).one()


def tries(db: Session, student: uuid.UUID, bank: str) -> list[tuple[t.CheckTry, t.CheckResult | None]]:
    """A student's tries of one bank with their results, oldest first."""
    query = (
        select(t.CheckTry, t.CheckResult)
        .outerjoin(t.CheckResult, t.CheckResult.try_id == t.CheckTry.id)
        .where(t.CheckTry.student_id == student, t.CheckTry.bank == bank)
        .order_by(t.CheckTry.at, t.CheckTry.id)
    )
    return [(x, r) for x, r in db.execute(query)]


def answers(db: Session, check: uuid.UUID) -> dict[str, t.CheckAnswer]:
    """The answers of one try, by question."""
    rows = db.scalars(select(t.CheckAnswer).where(t.CheckAnswer.try_id == check))
    return {a.question: a for a in rows}


def results(db: Session, students: Sequence[uuid.UUID]) -> list[tuple[uuid.UUID, str, t.CheckResult]]:
    """Every finished check of these students: whose, of which bank, how."""
    query = (
        select(t.CheckTry.student_id, t.CheckTry.bank, t.CheckResult)
        .join(t.CheckResult, t.CheckResult.try_id == t.CheckTry.id)
        .where(t.CheckTry.student_id.in_(students))
    )
    return [(s, b, r) for s, b, r in db.execute(query)]


def question_counts(db: Session, since: datetime) -> dict[tuple[str, str], tuple[int, int]]:
    """How often each question of each bank was answered since a moment, and how often rightly."""
    right = func.sum(sql_cast(t.CheckAnswer.right, Integer))
    query = (
        select(t.CheckTry.bank, t.CheckAnswer.question, func.count(), right)
        .join(t.CheckTry, t.CheckTry.id == t.CheckAnswer.try_id)
        .where(t.CheckAnswer.at > since)
        .group_by(t.CheckTry.bank, t.CheckAnswer.question)
    )
    return {(bank, q): (int(n), int(ok or 0)) for bank, q, n, ok in db.execute(query)}
