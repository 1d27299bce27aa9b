"""The reckoner: which calculations there are, one worked out, kept on a job card; for page and command line alike."""

from __future__ import annotations

import json
import uuid
from typing import Any

from incudo import shipped
from incudo.app.kernel.language import ENGLISH, speaking
from incudo.app.kernel.pictures import PictureView
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named, StepView
from incudo.app.parts.attempts import own_attempt
from incudo.app.people.students import group_of
from incudo.app.reckoning.views import (
    CalculationView,
    CutterName,
    FilledView,
    Fills,
    InputView,
    InUnit,
    KeepReckoning,
    KeyName,
    LeverView,
    ReckonAnswer,
    ReckonedList,
    ReckonedView,
    ReckonList,
    ReckonQuestion,
    ReckonResult,
)
from incudo.app.shop.machines import spec_of
from incudo.app.shop.tooling import cutter_of, cutters, stock_of, stocks
from incudo.core.kernel.errors import Conflict, NotFound
from incudo.core.kernel.picture import Picture
from incudo.core.kernel.quantity import LENGTHS, Unit
from incudo.core.kernel.say import Sentence, say, together
from incudo.core.people.roles import Role
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.reckoning.bench import Bench, chip_chart, fills
from incudo.core.reckoning.calculation import Calculation, Output, default_of, levers
from incudo.core.reckoning.inputs import UNITS, Input, Quantity, shown
from incudo.store import schema as t
from incudo.store.practice import exercises
from incudo.store.reckoning import kept
from incudo.store.shop import machines

#: Decimal places in which a result is shown, by unit; what has none is counted, or a ratio.
_PLACES = {
    **{"in": 4, "mm": 3, "in/min": 2, "mm/min": 1, "rpm": 0, "s": 0, "min": 1, "m/min": 1, "ft/min": 0},
    **{"W": 0, "hp": 2, "cm³/min": 1, "in³/min": 2},
}


def calculation(name: str) -> Calculation:
    """A calculation. Raises ``NotFound`` naming those there are."""
    if name not in CALCULATIONS:
        raise NotFound(
            say(
                "There is no calculation {name}; there are: {listed}.",
                name=f"{name[:40]!r}",
                listed=together(CALCULATIONS, ", "),
            )
        )
    return CALCULATIONS[name]


def calculation_view(c: Calculation) -> CalculationView:
    """A calculation as it is declared."""
    inputs = tuple(
        InputView(
            name=i.name,
            label=i.label,
            kind=i.kind,
            units=tuple(UNITS[i.kind]),
            bounds={} if i.kind in (Quantity.CHOICE, Quantity.STEPS) else {u: i.bound(u) for u in UNITS[i.kind]},
            starts={u: _start(i, u) for u in LENGTHS},
            # what is chosen is sent back as it stands in the declaration, whatever language it is shown in
            choices=tuple(str(x) for x in i.choices),
            words=tuple(x if isinstance(x, Sentence) else say(x) for x in i.choices),
            optional=i.optional,
            fills=i.fills,
        )
        for i in c.inputs
    )
    return CalculationView(id=c.id, name=c.name, group=c.group, about=c.about, inputs=inputs, exercise=c.id in MAKERS)


def reckon_list(w: Work) -> ReckonList:
    """Every calculation, and what can be chosen to fill it."""
    return ReckonList(
        calculations=tuple(calculation_view(c) for c in CALCULATIONS.values()),
        machines=tuple(Named(id=m.id, name=m.name) for m in machines.machines(w.db)),
        materials=tuple(KeyName(key=s.material.key, name=s.material.name) for s in stocks(w)),
        cutters=tuple(CutterName(id=i, name=c.name, kind=c.kind) for i, c in cutters(w).items()),
    )


def reckon_fill(w: Work, machine: uuid.UUID | None, material: str, cutter: uuid.UUID | None) -> Fills:
    """What the chosen machine, material and cutter say for the inputs of calculations."""
    stock = stock_of(find(w, t.Material, material, "material")) if material else None
    tool = cutter_of(find(w, t.Cutter, cutter, "cutter")) if cutter else None
    holder = shipped.holders().get(tool.holder) if tool else None
    bench = Bench(
        machine=spec_of(find(w, t.Machine, machine, "machine")) if machine else None,
        stock=stock,
        cutter=tool,
        drills=tuple(cutters(w).values()),
        threads=shipped.threads(),
    )
    found = fills(bench)
    return Fills(
        chart=_picture(chip_chart(bench)),
        values={k: FilledView(value=f.value, unit=f.unit, words=f.words) for k, f in found.items()},
        cautions=((*stock.material.cautions,) if stock else ()) + ((*holder.cautions,) if holder else ()),
        fluid=stock.material.fluid if stock else "",
    )


def reckon(name: str, given: dict[str, Any]) -> ReckonAnswer:
    """Work one out; needs no database. Raises ``NotFound``, or ``Refused`` with every field and bound."""
    c = calculation(name)
    values = c.read(given)
    found = c.work(values)
    return ReckonAnswer(
        results=tuple(_result(o) for o in found.results),
        defaults={i.name: _default(i, values.unit) for i in c.inputs if i.name not in given and i.default},
        levers=tuple(LeverView(name=x.name, label=x.label, share=x.share) for x in levers(c, values)),
        working=tuple(StepView.of(s) for s in found.steps),
        said=found.said,
        picture=_picture(c.draw(values, found)) if c.draw else None,
        plot=_picture(c.plot(values, found)) if c.plot else None,
    )


def reckon_check(w: Work, who: Who, name: str, q: ReckonQuestion) -> ReckonAnswer:
    """The same from an operation's body.

    Raises ``Conflict`` while this person has a question of that calculation's exercise open: it would answer it.
    """
    if who.role is Role.STUDENT and exercises.open_question(w.db, who.id, name) is not None:
        raise Conflict(
            say("You have an exercise question on this open: answer it or give it up, then work with it here.")
        )
    if who.role is Role.STUDENT and _in_class(w, who):
        raise Conflict(say("Your group has a sheet in class: the reckoner opens when it is ended."))
    return reckon(name, {k: v.model_dump() for k, v in q.given.items()})


def _in_class(w: Work, who: Who) -> bool:
    """Whether this student's group answers a sheet in class now."""
    group = group_of(w, who.id)
    return group is not None and exercises.open_in_class(w.db, group.id) is not None


def _picture(p: Picture | None) -> PictureView | None:
    return PictureView.of(p) if p else None


def _start(i: Input, unit: Unit) -> InUnit:
    """What stands in a field at first: its default as it is in that unit, or nothing in the unit to type it in."""
    if i.default in ("", "0"):
        return InUnit(value=i.default, unit=i.unit_in(unit))
    return _default(i, unit)


def _default(i: Input, unit: Unit) -> InUnit:
    stood = default_of(i, unit)
    return InUnit(unit=stood["unit"] or next(iter(UNITS[i.kind])), value=stood["value"])


def _result(o: Output) -> ReckonResult:
    units = {} if o.words else UNITS[o.kind]
    values = tuple(InUnit(unit=u, value=shown(o.value / one, _PLACES.get(u, 4))) for u, one in units.items())
    return ReckonResult(name=o.name, label=o.label, word=o.word, values=values)


def keep_reckoning(w: Work, who: Who, assignment: uuid.UUID, command: KeepReckoning) -> ReckonedList:
    """Keep a calculation on a job card, as it was given and as it came out then."""
    file = own_attempt(w, who, assignment)
    given = {k: v.model_dump() for k, v in command.given.items()}
    with speaking(ENGLISH):
        # a record: what it said then, word for word
        answer = reckon(command.name, given)
    kept = answer.model_dump(mode="json", include={"results", "working"})
    row = t.Reckoned(
        id=command.id,
        assignment_id=file.assignment.id,
        person_id=who.id,
        calculation=command.name,
        note=command.note,
        content=json.dumps({"given": given, **kept}, ensure_ascii=False),
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))
    return ReckonedList(reckoned=reckoned_of(w, file.assignment.id))


def holds_reading(name: str) -> bool:
    """Whether a kept calculation shows what was measured at the part; one that there is no more counts as doing so."""
    found = CALCULATIONS.get(name)
    return found is None or found.holds_reading


def reckoned_of(w: Work, assignment: uuid.UUID) -> tuple[ReckonedView, ...]:
    """What was reckoned for a job card."""
    return tuple(_reckoned(row, by) for row, by in kept.reckoned(w.db, assignment))


def _reckoned(row: t.Reckoned, by: str) -> ReckonedView:
    data = json.loads(row.content)
    c = CALCULATIONS.get(row.calculation)
    labels = {i.name: i.label for i in c.inputs} if c else {}
    return ReckonedView(
        id=row.id,
        calculation=row.calculation,
        name=c.name if c else row.calculation,
        note=row.note,
        by=by,
        at=row.at,
        given=tuple(
            say("{get}: {v} {v2}", get=labels.get(k, k), v=v["value"][:60], v2=v["unit"]).strip()
            for k, v in data["given"].items()
            if v["value"]
        ),
        results=tuple(ReckonResult.model_validate(x) for x in data["results"]),
        working=tuple(StepView.model_validate(x) for x in data["working"]),
    )
