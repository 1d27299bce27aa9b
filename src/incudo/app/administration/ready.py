"""What is left before a class can begin: what is there, what is missing, and where it is entered."""

from __future__ import annotations

from enum import StrEnum

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.core.kernel.say import say
from incudo.store.administration import ready as store


class Ready(StrEnum):
    """What a class needs, in an order that one can follow."""

    MACHINES = "machines"
    HOLDING = "holding"
    CUTTERS = "cutters"
    GAUGES = "gauges"
    GROUPS = "groups"
    STUDENTS = "students"
    PARTS = "parts"
    CARDS = "cards"


class ReadyItem(View):
    """One thing: how many there are, what it is for, and whether nothing can begin without it."""

    what: Ready
    words: str
    why: str
    count: int
    needed: bool


class ReadyPage(View):
    """Everything; ``missing`` are the things without which no session can be opened."""

    items: tuple[ReadyItem, ...]
    missing: int


def ready_page(w: Work) -> ReadyPage:
    """Counts of what a class needs."""
    many = store.counts(w.db, w.today)
    said = (
        (Ready.MACHINES, say("Machines"), say("A session is opened for machines."), True),
        (Ready.GROUPS, say("Groups"), say("A session is opened for a group."), True),
        (Ready.STUDENTS, say("Students"), say("They sign in for the first time with a code."), True),
        (Ready.GAUGES, say("Gauges"), say("Readings are taken with a gauge; without one no part is measured."), False),
        (Ready.HOLDING, say("Vises, parallels, clamps"), say("A plan holds the work in what is there."), False),
        (Ready.CUTTERS, say("Cutters"), say("A plan takes its cutters from the crib."), False),
        (Ready.PARTS, say("Parts"), say("Practice parts are there; your own come beside them."), False),
        (Ready.CARDS, say("Job cards"), say("A part that is assigned to a student."), False),
    )
    items = tuple(
        ReadyItem(what=what, words=words, why=why, count=many[what.value], needed=needed)
        for what, words, why, needed in said
    )
    return ReadyPage(items=items, missing=sum(i.needed and i.count == 0 for i in items))
