"""Rigs that ask one thing after the other, each with a picture: what they share."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass, field
from typing import Generic, TypeVar

from pydantic import BaseModel

from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs.base import Action, Advice, Control, Pass, Rig, RigSetup, State

P = TypeVar("P", bound=BaseModel)


@dataclass(frozen=True)
class Option:
    """An answer that can be chosen; ``slip`` names the mistake that leads to it."""

    id: str
    label: str
    slip: str = ""


@dataclass(frozen=True)
class Question(Generic[P]):
    """One thing asked: in words, with its picture, the options, the right one and why."""

    words: str
    picture: P
    options: tuple[Option, ...]
    right: str
    why: str
    critical: bool = False

    def option(self, name: str) -> Option:
        """The option of this id. Raises ``Refused``."""
        for o in self.options:
            if o.id == name:
                return o
        raise Refused.of("on", name, f"must be one of: {', '.join(o.id for o in self.options)}")


@dataclass
class QuizState(State, Generic[P]):
    """The questions of this seed and what was answered."""

    questions: tuple[Question[P], ...] = ()
    answers: list[str] = field(default_factory=list)

    @property
    def now(self) -> Question[P] | None:
        return self.questions[len(self.answers)] if len(self.answers) < len(self.questions) else None


class QuizRig(Rig[QuizState[P]]):
    """A rig of questions: all but ``spare`` right, and every critical one."""

    heads = ("asked", "answered", "")
    spare = 1

    @abstractmethod
    def ask(self, s: QuizState[P]) -> tuple[Question[P], ...]:
        """The questions of a run, by chance of its seed."""

    def start(self, setup: RigSetup, level: int, seed: str) -> QuizState[P]:
        s: QuizState[P] = QuizState(setup, level, seed)
        s.questions = self.ask(s)
        return s

    def act(self, s: QuizState[P], a: Action) -> None:
        if a.do != "answer":
            raise Refused.of("do", a.do, "is no action at this rig")
        q = s.now
        if q is None:
            raise Refused.of("do", a.do, "everything is answered: finish")
        chosen = q.option(a.on)
        s.answers.append(chosen.id)
        right = chosen.id == q.right
        cells = (q.words, chosen.label, "right" if right else "wrong")
        s.passes.append(Pass(cells, 0.0 if right else 1.0, "", tight=False))
        if right:
            s.said = f"Right. {q.why}"
        else:
            slip = f" {chosen.slip[:1].upper()}{chosen.slip[1:]}." if chosen.slip else ""
            s.said = f"No: {q.option(q.right).label}.{slip} {q.why}"
            s.warned = True

    def controls(self, s: QuizState[P]) -> tuple[Control, ...]:
        q = s.now
        if q is None:
            return ()
        return tuple(Control(Action(do="answer", on=o.id), o.label, "Answer") for o in q.options)

    def advice(self, s: QuizState[P]) -> Advice:
        q = s.now
        if q is None:
            return Advice(Action(do="finish"), "Everything is answered: finish.")
        return Advice(Action(do="answer", on=q.right), q.why)

    def task(self, s: QuizState[P]) -> str:
        q = s.now
        return f"{len(s.answers) + 1} of {len(s.questions)}: {q.words}" if q else "Everything is answered."

    def judge(self, s: QuizState[P]) -> tuple[list[str], str]:
        asked = list(zip(s.questions, s.answers, strict=False))
        wrong = [(q, a) for q, a in asked if a != q.right]
        reasons = []
        if len(asked) < len(s.questions):
            reasons.append(f"{len(s.questions) - len(asked)} of {len(s.questions)} were not answered")
        if len(wrong) > self.spare:
            reasons.append(f"{len(wrong)} wrong; {self.spare} may be")
        reasons += [f"wrong, and it matters at the machine: {q.words}" for q, _ in wrong if q.critical]
        return reasons, f"{len(asked) - len(wrong)} of {len(s.questions)} right."
