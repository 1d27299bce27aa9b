"""Exercises: questions made from what this shop has, answers held against what can be set, slips named.

A question is seeded: the same seed, shop and calculation give the same values. It is kept as it was
asked, so it stays right when the shop changes.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import number
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.reckoning.calculation import Calculation, wrong_answer
from incudo.core.reckoning.inputs import UNITS, Values, shown
from incudo.core.reckoning.question import Draw, Question, ShopFacts

TRIES = 60


@dataclass(frozen=True)
class Checked:
    """An answer held against the right one; ``slip`` is empty where no slip leads to it."""

    right: bool
    slip: str
    answer: str
    working: tuple[Step, ...]


def ask(name: str, seed: str, facts: ShopFacts) -> Question:
    """A question of a calculation from what a shop has, such that at least one slip would show.

    Raises ``Refused`` for a calculation that is no exercise, and where the shop has nothing to ask about.
    """
    maker = MAKERS.get(name)
    if maker is None:
        raise Refused.of("calculation", name, say("must be one of: {listed}", listed=together(MAKERS, ", ")))
    if not facts.machines:
        raise Refused.of("machines", "", say("this shop has no machine to ask about"))
    why: Refused | None = None
    for i in range(TRIES):
        # seeded on purpose: the same question for everybody who gets the same sheet
        rng = random.Random(f"{name}:{seed}:{i}")  # noqa: S311
        machine = rng.choice(sorted(facts.machines))
        try:
            found = maker(Draw(rng, facts, machine, facts.machines[machine]))
            if _tells(found):
                return found
        except Refused as refused:
            why = refused
    raise why or Refused.of("calculation", name, say("no question with this shop's machines and cutters"))


def _tells(q: Question) -> bool:
    """Whether the question has a right answer that is not 0, and a slip that would be seen."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    right = c.work(values)
    if not right.answer.words and not right.answer.value:
        return False
    wrong = [w for s in c.slips if (w := wrong_answer(c, s, values, right)) is not None]
    return any(abs(w - right.answer.value) > 2 * q.near for w in wrong)


def _right(c: Calculation, values: Values, unit: str) -> str:
    answer = c.work(values).answer
    if answer.words:
        return answer.word
    one = UNITS[answer.kind][unit]
    places = {"in": 4, "mm": 3, "in/min": 2, "mm/min": 1, "rpm": 0, "s": 0}.get(unit, 3)
    return f"{shown(answer.value / one, places)} {unit}".strip()


def words_of(q: Question) -> tuple[str, ...]:
    """The answers to choose from; empty where a number is asked."""
    c = CALCULATIONS[q.calculation]
    return c.work(c.read(q.given)).answer.words


def check(q: Question, text: str, unit: str = "") -> Checked:
    """Hold an answer against the right one. Raises ``Refused`` for what is no answer."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    right = c.work(values)
    if words := right.answer.words:
        if text not in words:
            raise Refused.of("answer", text, say("must be one of: {listed}", listed=together(words, ", ")))
        answer = Fraction(words.index(text))
    else:
        units = UNITS[right.answer.kind]
        if (unit or q.unit) not in units:
            raise Refused.of(
                "unit", unit, say("must be one of: {listed}", listed=together((u or "none" for u in units), ", "))
            )
        answer = Fraction(number(text, "answer")) * units[unit or q.unit]
    if abs(answer - right.answer.value) <= q.near:
        return Checked(True, "", _right(c, values, q.unit), right.steps)
    slip = c.slip_of(values, answer, q.near)
    return Checked(False, slip.words if slip else "", _right(c, values, q.unit), c.working_from(values, slip))


def solution(q: Question, text: str, unit: str) -> tuple[str, tuple[Step, ...]]:
    """The right answer and its working, from the line on at which an answer went wrong; without one, all of it."""
    c = CALCULATIONS[q.calculation]
    values = c.read(q.given)
    if text:
        found = check(q, text, unit)
        return found.answer, found.working
    return _right(c, values, q.unit), c.work(values).steps


def given_lines(q: Question) -> tuple[tuple[str, str], ...]:
    """What is given, as a student reads it: label and value with its unit."""
    c = CALCULATIONS[q.calculation]
    return tuple(
        (i.label, f"{q.given[i.name]['value']} {q.given[i.name]['unit']}".strip())
        for i in c.inputs
        if i.name in q.given and q.given[i.name]["value"] and i.name not in q.hidden
    )
