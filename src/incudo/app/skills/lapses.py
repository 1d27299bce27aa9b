"""How long sign-offs hold, all skills on one page, and what a change of it would mean today."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Command, View
from incudo.app.shop.machines import machine_names
from incudo.app.skills import ladder
from incudo.app.skills.graph import names_in_words, skill_graph
from incudo.app.skills.records import skill_records
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.skills.graph import Lapses, Skill, SkillGraph
from incudo.core.skills.standing import Book
from incudo.store.people import groups
from incudo.store.skills import files

Days = Annotated[int, Field(ge=1, le=3660)] | None


class LapseLine(View):
    """One skill: after how many days its sign-off lapses, and after how many days away from the shop.

    ``holders``: how many of who is here hold it now; ``lapsing``: for how many of them it would lapse today.
    """

    skill: str
    name: str
    group: str
    after_days: int | None
    absence_days: int | None
    holders: int
    lapsing: int


class LapsesPage(View):
    """All skills in their order; ``number`` is the version of the skill graph."""

    number: int
    lines: tuple[LapseLine, ...]


class LapseChange(Command):
    """What is to hold for one skill; without a number it does not lapse by itself."""

    skill: Annotated[str, StringConstraints(max_length=60)]
    after_days: Days
    absence_days: Days


class LapsesCommand(Command):
    """Changes of some skills, made on a version."""

    number: int
    changes: Annotated[tuple[LapseChange, ...], Field(max_length=120)]


def lapses_page(w: Work) -> LapsesPage:
    """As it is now."""
    return _page(w, skill_graph(w), ())


def lapses_look(w: Work, command: LapsesCommand) -> LapsesPage:
    """What it would be, and for whom a sign-off would lapse today; saves nothing. Raises ``Refused``."""
    return _page(w, _changed(w, command), tuple(c.skill for c in command.changes))


def lapses_change(w: Work, who: Who, command: LapsesCommand) -> LapsesPage:
    """Save it as the next version of the skill graph. Raises ``Conflict`` when somebody saved meanwhile."""
    text = _changed(w, command).model_dump_json()
    ladder.graph_change(w, who, ladder.GraphCommand(file=text, number=command.number))
    return lapses_page(w)


def _changed(w: Work, command: LapsesCommand) -> SkillGraph:
    graph = skill_graph(w)
    wanted = {c.skill: c for c in command.changes}
    known = {s.id for s in graph.skills}
    for n, c in enumerate(command.changes):
        if c.skill not in known:
            raise Refused.of(f"changes.{n}.skill", c.skill, say("there is no such skill in this shop"))

    def one(s: Skill) -> Skill:
        c = wanted.get(s.id)
        lapses = Lapses(after_days=c.after_days, absence_days=c.absence_days) if c else s.lapses
        return s.model_copy(update={"lapses": lapses})

    return SkillGraph(format=graph.format, groups=graph.groups, skills=tuple(one(s) for s in graph.skills))


def _page(w: Work, graph: SkillGraph, looked_at: tuple[str, ...]) -> LapsesPage:
    now, names, machines = skill_graph(w), names_in_words(w), [*machine_names(w)]
    holders = {s.id: 0 for s in graph.skills}
    lapsing = dict(holders)
    records = skill_records(w, groups.ids_here(w.db, w.today)) if looked_at else {}
    for record in records.values():
        before, after = (Book(g, record, w.now, names, w.zone) for g in (now, graph))
        for key in looked_at:
            places: list[str | None] = [*machines] if graph.get(key).per_machine else [None]
            held = [p for p in places if before.standing(key, p).state.current]
            holders[key] += bool(held)
            lapsing[key] += any(not after.standing(key, p).state.current for p in held)
    return LapsesPage(
        number=files.newest_skill_number(w.db),
        lines=tuple(
            LapseLine(
                skill=s.id,
                name=s.name,
                group=s.group,
                after_days=s.lapses.after_days,
                absence_days=s.lapses.absence_days,
                holders=holders[s.id],
                lapsing=lapsing[s.id],
            )
            for s in graph.skills
        ),
    )
