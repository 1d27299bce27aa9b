"""Rigs that ask one thing after the other, each with a picture: what they share."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass, field
from typing import Generic, TypeVar

from pydantic import BaseModel

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import capital, say, together
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
        raise Refused.of(
            "on", name, say("must be one of: {listed}", listed=together((o.id for o in self.options), ", "))
        )


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
            raise Refused.of("do", a.do, say("is not an action at this rig"))
        q = s.now
        if q is None:
            raise Refused.of("do", a.do, say("everything is answered: finish"))
        chosen = q.option(a.on)
        s.answers.append(chosen.id)
        right = chosen.id == q.right
        cells = (q.words, chosen.label, "right" if right else "wrong")
        s.passes.append(Pass(cells, 0.0 if right else 1.0, "", tight=False))
        if right:
            s.said = say("Right. {why}", why=q.why)
        else:
            label = q.option(q.right).label
            right_one = (
                say("Right is: {label} {why}", label=label, why=q.why)
                if label.endswith(".")
                else say("Right is: {label}. {why}", label=label, why=q.why)
            )
            s.said = say("No. {right}", right=right_one)
            if chosen.slip:
                slip = capital(chosen.slip)
                slip += "" if slip.endswith(".") else "."
                s.said = say("No. {slip} {right}", slip=slip, right=right_one)
            s.warned = True

    def controls(self, s: QuizState[P]) -> tuple[Control, ...]:
        q = s.now
        if q is None:
            return ()
        return tuple(Control(Action(do="answer", on=o.id), o.label, say("Answer")) for o in q.options)

    def advice(self, s: QuizState[P]) -> Advice:
        q = s.now
        if q is None:
            return Advice(Action(do="finish"), say("Everything is answered: finish."))
        return Advice(Action(do="answer", on=q.right), q.why)

    def task(self, s: QuizState[P]) -> str:
        q = s.now
        return (
            say("{count} of {count2}: {words}", count=len(s.answers) + 1, count2=len(s.questions), words=q.words)
            if q
            else say("Everything is answered.")
        )

    def judge(self, s: QuizState[P]) -> tuple[list[str], str]:
        asked = list(zip(s.questions, s.answers, strict=False))
        wrong = [(q, a) for q, a in asked if a != q.right]
        reasons = []
        if len(asked) < len(s.questions):
            reasons.append(
                say(
                    "{count} of {count2} were not answered",
                    count=len(s.questions) - len(asked),
                    count2=len(s.questions),
                )
            )
        if len(wrong) > self.spare:
            reasons.append(say("{count} wrong; {spare} may be", count=len(wrong), spare=self.spare))
        reasons += [say("wrong, and it matters at the machine: {words}", words=q.words) for q, _ in wrong if q.critical]
        return reasons, say("{count} of {count2} right.", count=len(asked) - len(wrong), count2=len(s.questions))
