"""A repeated-readings study with a class: everybody reads the same parts, blind and in an order of their own."""

from __future__ import annotations

import uuid
from collections import defaultdict
from datetime import datetime
from fractions import Fraction
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, View
from incudo.app.people.students import group_of, in_group
from incudo.app.shop.instruments import gauge_here, instrument_of
from incudo.app.shop.tags import closed_words
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.kernel.say import say
from incudo.core.measuring import study as rules
from incudo.core.measuring.instrument import Instrument
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import groups as people_groups
from incudo.store.people import people as people_store
from incudo.store.practice import studies as store

#: So many studies are listed.
MOST = 30
Text = Annotated[str, StringConstraints(min_length=1, max_length=20, strip_whitespace=True)]


class BeginStudy(Command):
    """Begin a study. ``width`` is that of the limits, in the gauge's own unit; empty: held against no limits."""

    id: uuid.UUID
    instrument: uuid.UUID
    group: uuid.UUID
    what: Annotated[str, StringConstraints(min_length=3, max_length=80, strip_whitespace=True)]
    parts: Annotated[int, Field(ge=rules.PARTS[0], le=rules.PARTS[1])]
    repeats: Annotated[int, Field(ge=rules.REPEATS[0], le=rules.REPEATS[1])]
    width: Annotated[str, StringConstraints(max_length=20, strip_whitespace=True)] = ""


class ReadInStudy(Command):
    """A reading: ``turn`` counts from 1; the last turn that was read can be read again."""

    id: uuid.UUID
    turn: Annotated[int, Field(ge=1, le=rules.PARTS[1] * rules.REPEATS[1])]
    value: Text
    unit: Unit


class StudyLine(View):
    """A study in short; ``done`` of ``turns`` by oneself."""

    id: uuid.UUID
    gauge: str
    what: str
    group: str
    at: datetime
    ended: bool
    done: int
    turns: int


class StudyBounds(View):
    """How many parts and readings a study may have, the usual number first; and the groups it can be begun with."""

    parts: tuple[int, ...]
    repeats: tuple[int, ...]
    groups: tuple[Named, ...]


class StudyList(View):
    """The studies that concern one, the newest first; for who may begin one, with what it can be."""

    studies: tuple[StudyLine, ...]
    bounds: StudyBounds | None


class StudyPerson(View):
    """Somebody in a study, and how far they are; ``bias`` is empty before the end and for who has not read all.

    ``readings``: for each part what they read, in the gauge's own unit, and ``off`` how far that is from what all read
    there on the whole; both empty before the end.
    """

    person: Named
    done: int
    bias: str
    readings: tuple[tuple[str, ...], ...]
    off: tuple[tuple[str, ...], ...]


class StudyResult(View):
    """What came of a study, in the gauge's own unit: standard deviations, and shares in percent.

    ``of_*`` are shares of the variance of measuring; ``share`` of the width of the limits, empty without limits.
    """

    gauge: str
    people: str
    both: str
    parts: str
    of_gauge: int
    of_people: int
    share: str
    fit: rules.StudyFit | None
    said: tuple[str, ...]


class StudyView(View):
    """A study as one person sees it; ``part`` is the part they read next, None when they have read all."""

    id: uuid.UUID
    gauge: Named
    unit: Unit
    resolution: str
    what: str
    group: str
    by: str
    at: datetime
    parts: int
    repeats: int
    width: str
    ended: bool
    takes_part: bool
    turn: int
    part: int | None
    last: str
    people: tuple[StudyPerson, ...]
    result: StudyResult | None


def study_list(w: Work, who: Who, gauge: uuid.UUID | None) -> StudyList:
    """The studies of one's group; for who teaches those of all, or of one gauge."""
    student = who.role is Role.STUDENT
    group = group_of(w, who.id) if student else None
    rows = [] if student and group is None else store.studies(w.db, group.id if group else None, gauge, MOST)
    done = store.done(w.db, [r.study.id for r in rows], who.id)
    bounds = StudyBounds(
        parts=_usual_first(rules.PARTS, 5),
        repeats=_usual_first(rules.REPEATS, 2),
        groups=tuple(Named(id=g.id, name=g.name) for g in people_groups.groups(w.db, w.today)),
    )
    return StudyList(
        studies=tuple(
            StudyLine(
                id=r.study.id,
                gauge=r.gauge,
                what=r.study.what,
                group=r.group,
                at=r.study.at,
                ended=r.ended,
                done=done.get(r.study.id, 0),
                turns=r.study.parts * r.study.repeats,
            )
            for r in rows
        ),
        bounds=bounds if who.role is Role.INSTRUCTOR else None,
    )


def _usual_first(bounds: tuple[int, int], usual: int) -> tuple[int, ...]:
    return (usual, *(n for n in range(bounds[0], bounds[1] + 1) if n != usual))


def begin_study(w: Work, who: Who, command: BeginStudy) -> StudyView:
    """Begin one; sent again it is begun once. Raises ``Refused`` for a gauge that answers yes or no."""
    row = gauge_here(w, command.instrument)
    find(w, t.Group, command.group, "group")
    gauge = instrument_of(row, closed_words(w))
    if gauge.answers:
        raise Refused.of("instrument", row.name, say("answers yes or no: there is nothing to read"))
    if words := gauge.cannot_decide(w.today):
        raise Refused.of("instrument", row.name, words)
    if command.width:
        _width(command.width, gauge)
    made = command.model_dump(exclude={"instrument", "group"})
    study = t.Study(**made, instrument_id=row.id, group_id=command.group, by_id=who.id, at=w.now)
    insert_once(w, study, ignoring=("at", "by_id"))
    return study_view(w, who, command.id)


def _width(text: str, gauge: Instrument) -> Fraction:
    """The width of the limits, mm. Raises ``Refused``."""
    width = Length.parse(text, gauge.resolution.unit, "width").mm
    if width <= 0:
        raise Refused.of("width", text, say("must be above 0"))
    return width


def read_in_study(w: Work, who: Who, ident: uuid.UUID, command: ReadInStudy) -> StudyView:
    """Keep a reading of one's next turn, or of the last one again.

    Raises ``Conflict`` for another turn and for a study that is ended, ``Refused`` for what the gauge cannot show.
    """
    people_store.lock_person(w.db, who.id)
    study = _mine(w, who, ident)
    row = t.StudyReading(
        id=command.id,
        study_id=ident,
        person_id=who.id,
        number=command.turn,
        value=command.value,
        unit=command.unit.value,
        at=w.now,
    )
    if w.db.get(t.StudyReading, command.id) is None:
        if _ended(w, ident):
            raise Conflict(say("This study is ended."))
        done = store.done(w.db, [ident], who.id).get(ident, 0)
        if command.turn not in (done, done + 1) or command.turn > study.parts * study.repeats:
            raise Conflict(say("Another part is next: look again."))
        gauge = instrument_of(find(w, t.Instrument, study.instrument_id, "instrument"), {})
        value = Length.parse(command.value, command.unit, "value")
        if not gauge.can_show(value, signed=True):
            span = say("{text} to {text2} {unit}", text=gauge.least.text, text2=gauge.most.text, unit=gauge.most.unit)
            bound = say("must lie within what {name} can show, {span}", name=gauge.name, span=span)
            raise Refused.of("value", value.text, bound)
    insert_once(w, row, ignoring=("at",))
    return study_view(w, who, ident)


def end_study(w: Work, who: Who, ident: uuid.UUID) -> StudyView:
    """End a study: everybody sees what came of it."""
    find(w, t.Study, ident, "study")
    insert_once(w, t.StudyEnd(study_id=ident, by_id=who.id, at=w.now), ignoring=("by_id", "at"))
    return study_view(w, who, ident)


def study_view(w: Work, who: Who, ident: uuid.UUID) -> StudyView:
    """A study as this person sees it: before its end nobody sees what anybody has read."""
    study = _mine(w, who, ident)
    row = find(w, t.Instrument, study.instrument_id, "instrument")
    gauge, ended = instrument_of(row, {}), _ended(w, ident)
    read = store.readings(w.db, ident)
    turns: dict[uuid.UUID, dict[int, t.StudyReading]] = defaultdict(dict)
    names: dict[uuid.UUID, str] = {}
    for x, name in read:
        turns[x.person_id][x.number], names[x.person_id] = x, name
    whole = study.parts * study.repeats
    values = {p: _by_part(study, p, of) for p, of in turns.items() if len(of) == whole} if ended else {}
    found = _analysed(study, values, gauge)
    middles = rules.middles(list(values.values()))
    mine = turns.get(who.id, {})
    takes_part = who.role is not Role.AUDITOR and not ended
    mixed = rules.order(str(ident), str(who.id), study.parts, study.repeats)
    shown = turns if ended or who.role is not Role.STUDENT else {}
    return StudyView(
        id=ident,
        gauge=Named(id=row.id, name=row.name),
        unit=gauge.resolution.unit,
        resolution=gauge.resolution.text,
        what=study.what,
        group=find(w, t.Group, study.group_id, "group").name,
        by=find(w, t.Person, study.by_id, "person").name,
        at=study.at,
        parts=study.parts,
        repeats=study.repeats,
        width=study.width,
        ended=ended,
        takes_part=takes_part,
        turn=len(mine) + 1,
        part=mixed[len(mine)] if takes_part and len(mine) < whole else None,
        last=mine[len(mine)].value if mine and takes_part else "",
        people=tuple(
            StudyPerson(
                person=Named(id=p, name=names[p]),
                done=len(of),
                bias=_signed(found.biases[str(p)], gauge) if found and p in values else "",
                readings=tuple(tuple(_shown(v, gauge) for v in part) for part in values.get(p, ())),
                off=tuple(
                    tuple(_signed(v - middles[n], gauge) for v in part) for n, part in enumerate(values.get(p, ()))
                ),
            )
            for p, of in shown.items()
        ),
        result=_result(found, gauge, {str(p): n for p, n in names.items()}) if found else None,
    )


def _mine(w: Work, who: Who, ident: uuid.UUID) -> t.Study:
    study = find(w, t.Study, ident, "study")
    if who.role is Role.STUDENT and not in_group(w, who.id, study.group_id):
        raise NotFound(say("There is no such {what}.", what="study"))
    return study


def _ended(w: Work, ident: uuid.UUID) -> bool:
    return w.db.get(t.StudyEnd, ident) is not None


def _by_part(study: t.Study, person: uuid.UUID, turns: dict[int, t.StudyReading]) -> list[list[Fraction]]:
    """What somebody read, part by part, mm; their order is undone."""
    found: list[list[Fraction]] = [[] for _ in range(study.parts)]
    for turn, part in enumerate(rules.order(str(study.id), str(person), study.parts, study.repeats), start=1):
        x = turns[turn]
        found[part - 1].append(Length(x.value, Unit(x.unit)).mm)
    return found


def _analysed(study: t.Study, values: dict[uuid.UUID, list[list[Fraction]]], gauge: Instrument) -> rules.Study | None:
    if not rules.PEOPLE[0] <= len(values) <= rules.PEOPLE[1]:
        return None
    width = _width(study.width, gauge) if study.width else None
    return rules.analyse({str(p): rows for p, rows in values.items()}, width)


def _result(found: rules.Study, gauge: Instrument, names: dict[str, str]) -> StudyResult:
    of = [round(100 * x) for x in found.of_spread()]
    share = f"{100 * found.share:.0f}" if found.share is not None else ""
    return StudyResult(
        gauge=_sigma(found.gauge, gauge),
        people=_sigma(found.people, gauge),
        both=_sigma(found.both, gauge),
        parts=_sigma(found.parts, gauge),
        of_gauge=of[0],
        of_people=of[1],
        share=share,
        fit=found.fit,
        said=tuple(_said(found, share, gauge, names)),
    )


def _fit_words(fit: rules.StudyFit, share: str) -> str:
    match fit:
        case rules.StudyFit.GOOD:
            return say("Gauge and people together take up {share} % of the limits: a good way to measure.", share=share)
        case rules.StudyFit.USABLE:
            return say(
                "Gauge and people together take up {share} % of the limits: usable, but measure again near a limit.",
                share=share,
            )
        case rules.StudyFit.UNFIT:
            return say(
                "Gauge and people together take up {share} % of the limits: too much to decide parts by it.",
                share=share,
            )


def _said(found: rules.Study, share: str, gauge: Instrument, names: dict[str, str]) -> list[str]:
    unit = gauge.resolution.unit
    words = []
    if found.fit is not None:
        words.append(_fit_words(found.fit, share))
    if found.people > found.gauge:
        words.append(
            say(
                "The people differ more than the gauge repeats: practise the feel together, at the same place on the "
                "part, and have each reading taken twice."
            )
        )
    elif found.both:
        words.append(
            say("The gauge repeats less well than the people agree: clean it, check it on blocks, or take a finer one.")
        )
    twice = _sigma(2 * found.both, gauge)
    sure = gauge.uncertainty
    if Fraction(2 * found.both) > sure.mm:
        words.append(
            say(
                "Two standard deviations are {twice} {unit}; the gauge is entered as sure to ±{sure}. "
                "In these hands it is less sure than that.",
                twice=twice,
                unit=unit,
                sure=sure.text,
            )
        )
    else:
        words.append(
            say(
                "Two standard deviations are {twice} {unit}, within the ±{sure} that the gauge is entered with.",
                twice=twice,
                unit=unit,
                sure=sure.text,
            )
        )
    if found.kinds is not None and found.kinds < rules.KINDS:
        words.append(
            say(
                "Measured this way, these parts are too much alike to be told apart: take parts that differ more, or "
                "a finer gauge."
            )
        )
    high, low = (f(found.biases.items(), key=lambda x: x[1]) for f in (max, min))
    if high[1] - low[1] >= gauge.resolution.mm:
        words.append(
            say(
                "{high} reads highest, {low} lowest: {apart} {unit} apart on the whole.",
                high=names[high[0]],
                low=names[low[0]],
                apart=_shown(high[1] - low[1], gauge),
                unit=unit,
            )
        )
    return words


def _shown(value: Fraction, gauge: Instrument) -> str:
    """A value of mm in the gauge's own unit, to its last place."""
    return in_places(value / gauge.resolution.unit.in_mm, gauge.resolution.decimals)


def _signed(value: Fraction, gauge: Instrument) -> str:
    text = in_places(value / gauge.resolution.unit.in_mm, gauge.resolution.decimals + 1)
    return text if text.startswith("-") else f"+{text}"


def _sigma(value: float, gauge: Instrument) -> str:
    """A standard deviation of mm in the gauge's own unit, to one place more than it shows."""
    return in_places(Fraction(value) / gauge.resolution.unit.in_mm, gauge.resolution.decimals + 1)
