"""The saw list of a part for a group: who needs a piece, and which bar each piece comes off."""

from __future__ import annotations

import uuid
from fractions import Fraction
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Command, Named, View
from incudo.app.people.groups import choose_group
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, LengthUnit, plain
from incudo.core.kernel.say import say
from incudo.core.parts.features.file import RoundStock
from incudo.core.parts.features.part import stock_words
from incudo.core.parts.features.versions import file_of
from incudo.core.parts.sawing import MOST_BARS, saw
from incudo.store import schema as t
from incudo.store.parts import attempts as attempt_store
from incudo.store.parts import projects as store
from incudo.store.people import people as people_store


class SawCommand(Command):
    """The bars on hand, in the part's unit, and what the saw takes."""

    group: uuid.UUID | None = None
    bars: Annotated[tuple[str, ...], Field(min_length=1, max_length=MOST_BARS)]
    kerf: str


class SawPiece(View):
    """A piece to saw: for whom, the number to stamp on it, how long."""

    student: str
    number: int
    length: str


class SawBar(View):
    """A bar to open, the pieces that come off it in order, and what is left of it."""

    length: str
    pieces: tuple[SawPiece, ...]
    left: str


class SawList(View):
    """What to saw for a group: students who have the part and have not begun it."""

    group: Named | None
    unit: LengthUnit
    stock: str
    pieces: int
    bars: tuple[SawBar, ...]


def saw_list(w: Work, project_id: uuid.UUID, command: SawCommand) -> SawList:
    """Which piece comes off which bar, with the least bar opened; keeps nothing.

    A piece is as long as the version that its student was given says. Raises ``Refused`` when the bars do not do.
    """
    find(w, t.Project, project_id, "project")
    chosen = choose_group(w, command.group, people_store.meets_now(w.db))
    versions = {v.id: v for v, _ in store.versions_of(w.db, project_id)}
    newest = file_of(max(versions.values(), key=lambda v: v.number).content)
    if newest is None:
        raise Refused.of("project", project_id, say("says its stock in words only: change it into features first"))
    unit = newest.unit
    cards = attempt_store.cards_to_lay_out(w.db, [x.id for x, _ in chosen.students])
    waiting: dict[Fraction, list[SawPiece]] = {}
    for card in cards:
        part = file_of(versions[card.version].content) if card.version in versions else None
        if part is None or card.begun:
            continue
        stock = part.stock
        length = Length.parse(stock.length if isinstance(stock, RoundStock) else stock.x, part.unit)
        piece = SawPiece(student=card.student_name, number=card.number, length=f"{length.text} {length.unit}")
        waiting.setdefault(length.mm, []).append(piece)
    bars = [Length.parse(text, unit, f"bars.{n}").mm for n, text in enumerate(command.bars)]
    kerf = Length.parse(command.kerf, unit, "kerf").mm
    count = sum(len(found) for found in waiting.values())
    if not count:
        raise Refused.of("group", "", say("has nobody who has this part and has not begun it"))
    opened = saw([mm for mm, found in waiting.items() for _ in found], bars, kerf, unit)
    return SawList(
        group=chosen.group,
        unit=unit,
        stock=stock_words(newest),
        pieces=count,
        bars=tuple(
            SawBar(
                length=f"{command.bars[bar.bar]} {unit}",
                pieces=tuple(waiting[mm].pop(0) for mm in bar.pieces),
                left=f"{plain(bar.left, unit)} {unit}",
            )
            for bar in opened
        ),
    )
