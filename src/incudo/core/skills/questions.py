"""Question banks: what can be asked, drawing a check, presenting it, judging an answer.

A presented question never holds what is right. Options and steps are shuffled by
the check's seed and everything is named by its place, so that the same seed
gives the same check and the server can judge an answer again.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from random import Random
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import Key, Strict, Word, read_model
from incudo.core.kernel.picture import Picture as Drawn
from incudo.core.kernel.say import say, together
from incudo.core.skills.glossary import Glossary
from incudo.core.skills.glossary import Term as GlossaryTerm
from incudo.core.skills.looks import Look
from incudo.core.skills.pictures import Picture

_Text = Annotated[str, Field(min_length=3, max_length=300)]
_Short = Annotated[str, Field(min_length=1, max_length=160)]
_Num = Annotated[str, Field(pattern=r"^-?[0-9]{1,7}(\.[0-9]{1,6})?$")]

#: After the first failed try, in minutes; it doubles with each further one, up to a day.
FIRST_WAIT = 10
LONGEST_WAIT = 24 * 60


@dataclass(frozen=True)
class Sources:
    """What questions are made from besides their own texts: pictures to touch, and the glossary."""

    pictures: Mapping[str, Picture]
    glossary: Glossary

    def term(self, word: str) -> GlossaryTerm | None:
        """A word of the glossary."""
        return next((t for t in self.glossary.terms if t.word == word), None)

    def means(self, word: str) -> str:
        """What a word of the glossary means; nothing for one that is not in it."""
        found = self.term(word)
        return found.means if found else ""


class _Question(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    id: Key
    text: _Text
    critical: bool = False
    why: _Text
    otherwise: _Text
    retired: bool = False


class Choose(_Question):
    """One or more right options among wrong ones."""

    kind: Literal["choose"]
    right: Annotated[tuple[_Short, ...], Field(min_length=1, max_length=4)]
    wrong: Annotated[tuple[_Short, ...], Field(min_length=1, max_length=6)]


class Order(_Question):
    """Steps to be put in order; the file gives them in the right one."""

    kind: Literal["order"]
    steps: Annotated[tuple[_Short, ...], Field(min_length=3, max_length=7)]


class PointAt(_Question):
    """One region of a picture to be touched."""

    kind: Literal["point"]
    picture: Key
    part: Key


class Spot(_Question):
    """A scene in which some regions are wrong; all of them, and no others, must be touched."""

    kind: Literal["spot"]
    picture: Key
    faults: Annotated[tuple[Key, ...], Field(min_length=1, max_length=8)]


class Number(_Question):
    """A number with its unit, inside a band; both ends belong to it."""

    kind: Literal["number"]
    unit: Annotated[str, Field(min_length=1, max_length=12)]
    low: _Num
    high: _Num


class Option(Strict):
    """A drawn option: what it looks like, and what is to be seen in it, without saying whether it is right."""

    says: _Short
    draw: Look
    right: bool = False


class Judge(_Question):
    """Drawn options of which one or more are right."""

    kind: Literal["judge"]
    options: Annotated[tuple[Option, ...], Field(min_length=2, max_length=6)]

    @property
    def sorted(self) -> tuple[Option, ...]:
        """The right ones first."""
        return tuple(sorted(self.options, key=lambda o: not o.right))


class Term(_Question):
    """A word of the glossary to be known by its sentence, among other words; the texts come from the glossary."""

    kind: Literal["term"]
    text: _Text = say("Which word means this?")
    why: str = ""
    otherwise: str = ""
    term: Word
    others: Annotated[tuple[Word, ...], Field(min_length=2, max_length=5)]

    def spoken(self, sources: Sources) -> Term:
        """The question with its texts from the glossary."""
        others = together((say("{word}: {means}", word=o, means=sources.means(o)) for o in self.others), " ")
        return self.model_copy(
            update={
                "text": say("Which word means this: {means}", means=sources.means(self.term)),
                "why": say("{word}: {means}", word=self.term, means=sources.means(self.term)),
                "otherwise": say("The other words mean something else. {others}", others=others),
            }
        )


Question = Annotated[Choose | Order | PointAt | Spot | Number | Judge | Term, Field(discriminator="kind")]


class Bank(BaseModel):
    """A question bank: how many are drawn, which score passes, and the questions."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: Literal["incudo-questions/1"]
    bank: Key
    name: Word
    draw: Annotated[int, Field(ge=1, le=40)]
    pass_percent: Annotated[int, Field(ge=50, le=100)]
    questions: Annotated[tuple[Question, ...], Field(min_length=1, max_length=300)]

    @property
    def live(self) -> tuple[Question, ...]:
        """The questions that are not retired."""
        return tuple(q for q in self.questions if not q.retired)

    def get(self, question: str) -> Question:
        """One question. Raises ``Refused``."""
        for q in self.questions:
            if q.id == question:
                return q
        raise Refused.of("question", question, say("there is no such question in this bank"))


def read_bank(data: Any, sources: Sources) -> Bank:
    """Check a bank's content against itself, the pictures and the glossary. Raises ``Refused`` with all faults."""
    bank = read_model(Bank, data)
    names = [q.id for q in bank.questions]
    twice = sorted({n for n in names if names.count(n) > 1})
    faults = [FieldError("questions", n, say("appears twice")) for n in twice]
    for q in bank.questions:
        faults += _question_faults(q, sources)
    if len(bank.live) < bank.draw:
        faults.append(
            FieldError("draw", str(bank.draw), say("must be at most {count}, the live questions", count=len(bank.live)))
        )
    if faults:
        raise Refused(*faults)
    return bank


def _question_faults(q: Question, sources: Sources) -> list[FieldError]:
    where = f"questions.{q.id}"
    match q:
        case Choose():
            options = (*q.right, *q.wrong)
            if len(set(options)) < len(options):
                return [FieldError(where, "", say("every option may appear only once"))]
        case Order():
            if len(set(q.steps)) < len(q.steps):
                return [FieldError(where, "", say("every step may appear only once"))]
        case Judge():
            if not any(o.right for o in q.options) or all(o.right for o in q.options):
                return [FieldError(f"{where}.options", "", say("some must be right and some wrong"))]
            if len({o.draw for o in q.options}) < len(q.options):
                return [FieldError(f"{where}.options", "", say("every drawing may appear only once"))]
        case Term():
            words = (q.term, *q.others)
            if len(set(words)) < len(words):
                return [FieldError(where, "", say("every option may appear only once"))]
            return [FieldError(where, x, say("is not in the glossary")) for x in words if not sources.term(x)]
        case Number():
            if Decimal(q.low) > Decimal(q.high):
                return [FieldError(f"{where}.low", q.low, say("must not be above high, {high}", high=q.high))]
        case PointAt() | Spot():
            picture = sources.pictures.get(q.picture)
            if picture is None:
                return [FieldError(f"{where}.picture", q.picture, say("there is no such picture"))]
            asked = (q.part,) if isinstance(q, PointAt) else q.faults
            return [
                FieldError(where, a, say("is not a region of {picture}", picture=q.picture))
                for a in asked
                if picture.region(a) is None or (isinstance(q, Spot) and not getattr(picture.region(a), "wrong", ()))
            ]
    return []


def draw(bank: Bank, seed: str, seen: Collection[str] = ()) -> tuple[str, ...]:
    """The ids of the questions of one check.

    Drawn at random among the live ones, but at least half of them critical as
    far as there are so many, so that no check leaves the critical matter out.
    Those that were ``seen`` in the try before come only where there are no others.
    """
    rng = Random(f"{bank.bank}|{seed}")  # noqa: S311 (a shuffle, not a secret)

    def some(of: Sequence[str], count: int) -> list[str]:
        new, known = [q for q in of if q not in seen], [q for q in of if q in seen]
        found = rng.sample(new, min(len(new), count))
        return found + rng.sample(known, min(len(known), count - len(found)))

    critical = [q.id for q in bank.live if q.critical]
    must = some(critical, (bank.draw + 1) // 2)
    chosen = must + some([q.id for q in bank.live if q.id not in must], bank.draw - len(must))
    rng.shuffle(chosen)
    return tuple(chosen)


@dataclass(frozen=True)
class Presented:
    """A question as the student sees it: places 0, 1, … instead of names.

    ``options`` are texts to choose from or to put in order, ``drawn`` how they look where they are drawn;
    ``areas`` regions to touch; ``several`` says whether more than one may be right.
    """

    kind: str
    text: str
    critical: bool
    options: tuple[str, ...] = ()
    drawn: tuple[Drawn, ...] = ()
    areas: tuple[str, ...] = ()
    lines: tuple[str, ...] = ()
    size: tuple[int, int] = (0, 0)
    unit: str = ""
    several: bool = False


def _order_of(q: Question, count: int, seed: str) -> list[int]:
    rng = Random(f"{q.id}|{seed}")  # noqa: S311 (a shuffle, not a secret)
    places = list(range(count))
    while True:
        rng.shuffle(places)
        if not isinstance(q, Order) or places != sorted(places):
            return places


def present(q: Question, seed: str, sources: Sources) -> Presented:
    """The question in the order that this seed gives."""
    match q:
        case Choose():
            options = (*q.right, *q.wrong)
            shown = tuple(options[i] for i in _order_of(q, len(options), seed))
            return Presented(q.kind, q.text, q.critical, shown, several=len(q.right) > 1)
        case Order():
            shown = tuple(q.steps[i] for i in _order_of(q, len(q.steps), seed))
            return Presented(q.kind, q.text, q.critical, shown)
        case Judge():
            options_drawn = [q.sorted[i] for i in _order_of(q, len(q.options), seed)]
            return Presented(
                q.kind,
                q.text,
                q.critical,
                tuple(o.says for o in options_drawn),
                tuple(o.draw.picture(o.says) for o in options_drawn),
                several=sum(o.right for o in q.options) > 1,
            )
        case Term():
            words = (q.term, *q.others)
            shown = tuple(words[i] for i in _order_of(q, len(words), seed))
            return Presented(q.kind, q.spoken(sources).text, q.critical, shown)
        case Number():
            return Presented(q.kind, q.text, q.critical, unit=q.unit)
        case PointAt() | Spot():
            p = sources.pictures[q.picture]
            faults = q.faults if isinstance(q, Spot) else ()
            areas = tuple(r.area for r in p.regions)
            return Presented(
                q.kind,
                q.text,
                q.critical,
                areas=areas,
                lines=p.drawn(faults),
                size=(p.width, p.height),
                several=isinstance(q, Spot),
            )
    raise AssertionError(q)


@dataclass(frozen=True)
class Judged:
    """Whether an answer is right, what was right (by place or in words), and why."""

    right: bool
    places: tuple[int, ...]
    words: str
    why: str
    otherwise: str


def solve(q: Question, seed: str, sources: Sources) -> tuple[tuple[int, ...], str]:
    """The right answer under this seed, as places; for a number as text."""
    match q:
        case Number():
            return (), q.low
        case Order():
            shown = _order_of(q, len(q.steps), seed)
            return tuple(shown.index(i) for i in range(len(q.steps))), ""
        case Choose():
            shown = _order_of(q, len(q.right) + len(q.wrong), seed)
            return tuple(sorted(shown.index(i) for i in range(len(q.right)))), ""
        case Judge():
            shown = _order_of(q, len(q.options), seed)
            return tuple(i for i, place in enumerate(shown) if q.sorted[place].right), ""
        case Term():
            return (_order_of(q, 1 + len(q.others), seed).index(0),), ""
        case PointAt() | Spot():
            wanted = (q.part,) if isinstance(q, PointAt) else q.faults
            return tuple(i for i, r in enumerate(sources.pictures[q.picture].regions) if r.id in wanted), ""
    raise AssertionError(q)


def judge_answer(q: Question, seed: str, sources: Sources, places: Sequence[int], number: str) -> Judged:
    """Judge an answer.

    ``places`` are the chosen places; for an order all of them, first to last.
    ``number`` is what was typed for a number. Raises ``Refused`` for an answer
    that cannot be one.
    """
    right, _ = solve(q, seed, sources)
    match q:
        case Number():
            ok = Decimal(q.low) <= _typed(number) <= Decimal(q.high)
            band = q.low if q.low == q.high else say("{low} to {high}", low=q.low, high=q.high)
            return Judged(ok, (), f"{band} {q.unit}", q.why, q.otherwise)
        case Order():
            _valid(places, len(q.steps))
            if len(places) != len(right):
                raise Refused.of("places", len(places), say("put all {count} steps in order", count=len(right)))
            return Judged(tuple(places) == right, right, together(q.steps, " → "), q.why, q.otherwise)
        case Choose():
            return _set_judged(q, places, right, len(q.right) + len(q.wrong), together(q.right, "; "))
        case Judge():
            return _set_judged(q, places, right, len(q.options), together((o.says for o in q.options if o.right), "; "))
        case Term():
            return _set_judged(q.spoken(sources), places, right, 1 + len(q.others), q.term)
        case PointAt() | Spot():
            regions = sources.pictures[q.picture].regions
            wrong = isinstance(q, Spot)
            names = (r.wrong_name or r.name if wrong else r.name for i, r in enumerate(regions) if i in right)
            return _set_judged(q, places, right, len(regions), together(names, "; "))
    raise AssertionError(q)


def _typed(text: str) -> Decimal:
    """A number as typed, with a point or a comma. Raises ``Refused``."""
    plain = text.strip().replace(",", ".")
    if not re.fullmatch(r"[+-]?[0-9]{1,7}(\.[0-9]{0,6})?", plain):
        raise Refused.of(
            "number", text, say("must be a number such as 12.5, with at most seven digits before the point")
        )
    return Decimal(plain)


def _set_judged(q: Question, places: Sequence[int], right: tuple[int, ...], count: int, words: str) -> Judged:
    _valid(places, count)
    if not places:
        raise Refused.of("places", "", say("choose at least one"))
    return Judged(tuple(sorted(places)) == right, right, words, q.why, q.otherwise)


def _valid(places: Sequence[int], count: int) -> None:
    if len(set(places)) < len(places) or any(not 0 <= p < count for p in places):
        raise Refused.of("places", list(places), say("must be different places from 0 to {count}", count=count - 1))


@dataclass(frozen=True)
class Score:
    """How a whole check went."""

    right: int
    asked: int
    critical_wrong: int
    passed: bool

    @property
    def words(self) -> str:
        """How many were right, and how many critical ones wrong."""
        text = say("{right} of {asked} right", right=self.right, asked=self.asked)
        if self.critical_wrong:
            text += say(", {critical_wrong} critical wrong", critical_wrong=self.critical_wrong)
        return text


def score(bank: Bank, answers: Mapping[str, bool]) -> Score:
    """Pass means: every critical question right, and at least the bank's percentage of all."""
    right = sum(answers.values())
    wrong = sum(not ok and bank.get(q).critical for q, ok in answers.items())
    enough = 100 * right >= bank.pass_percent * len(answers)
    return Score(right, len(answers), wrong, bool(answers) and enough and wrong == 0)


def next_try(failures: Collection[datetime]) -> datetime | None:
    """When the next try may begin: ten minutes after the first failure, twice as long after each more.

    At most a day. ``None``: at once.
    """
    if not failures:
        return None
    minutes = min(FIRST_WAIT * 2 ** min(len(failures) - 1, 12), LONGEST_WAIT)
    return max(failures) + timedelta(minutes=minutes)
