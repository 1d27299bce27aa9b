"""Question banks: looked at and changed."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Annotated

from pydantic import StringConstraints

from incudo import shipped
from incudo.app.kernel.pictures import PictureView
from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Command, View
from incudo.app.skills.graph import banks
from incudo.core.kernel.errors import NotFound, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.say import say, together
from incudo.core.skills.questions import Bank, Judge, Term, read_bank
from incudo.store import schema as t
from incudo.store.skills import knowledge as store

MOST_TEXT = 400_000
#: What the class fails is counted over so long: this term, not those who left long ago.
COUNTED = timedelta(days=120)


class BankCard(View):
    """A bank as the instructor lists it."""

    bank: str
    name: str
    number: int
    draw: int
    pass_percent: int
    live: int


class QuestionRow(View):
    """A question with how often the class got it wrong."""

    id: str
    kind: str
    text: str
    critical: bool
    retired: bool
    answered: int
    wrong: int


class BankDetail(View):
    """A bank with its questions, and its file; ``drawn`` how the options of its questions of judgement look."""

    bank: str
    name: str
    number: int
    draw: int
    pass_percent: int
    questions: tuple[QuestionRow, ...]
    drawn: dict[str, tuple[PictureView, ...]]
    file: str


class BankList(View):
    """All question banks, and the questions that most get wrong."""

    banks: tuple[BankCard, ...]
    hardest: tuple[QuestionRow, ...]


class BankCommand(Command):
    """A bank as JSON text; saved as its next version."""

    file: Annotated[str, StringConstraints(min_length=2, max_length=MOST_TEXT)]


def newest_bank(w: Work, name: str) -> tuple[Bank, int]:
    """A bank and its number. Raises ``NotFound``."""
    found = banks(w).get(name)
    if found is None:
        raise NotFound(say("There is no such question bank."))
    return found


def bank_list(w: Work) -> BankList:
    """Every bank, and the questions that the class fails most."""
    counts = store.question_counts(w.db, w.now - COUNTED)
    cards, rows = [], []
    for name, (bank, number) in banks(w).items():
        cards.append(
            BankCard(
                bank=name,
                name=bank.name,
                number=number,
                draw=bank.draw,
                pass_percent=bank.pass_percent,
                live=len(bank.live),
            )
        )
        rows += _rows(name, bank, counts)
    failed = [r for r in rows if r.wrong and not r.retired]
    failed.sort(key=lambda r: (-r.wrong / r.answered, -r.wrong))
    return BankList(banks=tuple(cards), hardest=tuple(failed[:10]))


def _rows(name: str, bank: Bank, counts: dict[tuple[str, str], tuple[int, int]]) -> list[QuestionRow]:
    rows = []
    for asked in bank.questions:
        q = asked.spoken(shipped.sources()) if isinstance(asked, Term) else asked
        answered, right = counts.get((name, q.id), (0, 0))
        rows.append(
            QuestionRow(
                id=q.id,
                kind=q.kind,
                text=q.text,
                critical=q.critical,
                retired=q.retired,
                answered=answered,
                wrong=answered - right,
            )
        )
    return rows


def bank_detail(w: Work, name: str) -> BankDetail:
    """One bank with its questions and how the class does on each."""
    bank, number = newest_bank(w, name)
    return BankDetail(
        bank=name,
        name=bank.name,
        number=number,
        draw=bank.draw,
        pass_percent=bank.pass_percent,
        questions=tuple(_rows(name, bank, store.question_counts(w.db, w.now - COUNTED))),
        drawn={
            q.id: tuple(PictureView.of(o.draw.picture(o.says)) for o in q.options)
            for q in bank.questions
            if isinstance(q, Judge)
        },
        file=json.dumps(bank.model_dump(mode="json"), indent=1, ensure_ascii=False),
    )


def change_bank(w: Work, who: Who, name: str, command: BankCommand) -> BankDetail:
    """Save a changed bank as its next version; running checks keep theirs.

    Raises ``Refused`` with all faults; nothing is saved then. A question that was
    ever asked is retired, not taken out.
    """
    old, number = newest_bank(w, name)
    data = parsed(command.file)
    bank = read_bank(data, shipped.sources())
    if bank.bank != name:
        raise Refused.of("bank", bank.bank, say("must stay {name}", name=name))
    asked = {q for b, q in store.question_counts(w.db, w.now - COUNTED) if b == name}
    kept = {q.id for q in bank.questions}
    gone = sorted(q.id for q in old.questions if q.id in asked and q.id not in kept)
    if gone:
        raise Refused.of(
            "questions", together(gone, ", "), say("were asked before: set retired instead of taking them out")
        )
    content = json.dumps(bank.model_dump(mode="json"), ensure_ascii=False)
    if bank != old:
        w.db.add(t.BankVersion(bank=name, number=number + 1, content=content, made_by=who.id, made_at=w.now))
        w.db.flush()
        w.memo.clear()
    return bank_detail(w, name)
