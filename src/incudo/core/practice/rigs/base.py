"""What all rigs share: levels, actions, controls, passes, faults, results, and playing a run."""

from __future__ import annotations

import math
import random
from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache
from typing import Annotated, Any, ClassVar, Generic, TypeVar

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, LengthUnit, Unit, settable
from incudo.core.kernel.say import say, together
from incudo.core.setup.standard import SetupRules

MOST_ACTIONS = 400
#: Passes more than a practised hand needed that are still to standard.
SPARE_PASSES = 3

_Name = Annotated[str, StringConstraints(max_length=40, pattern=r"^[a-z0-9_-]*$")]


class Action(BaseModel):
    """Something done at a rig: what, on what, which way, how much."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    do: Annotated[str, StringConstraints(min_length=1, max_length=20, pattern=r"^[a-z_]+$")]
    on: _Name = ""
    way: _Name = ""
    by: Annotated[float, Field(ge=-5000, le=5000, allow_inf_nan=False)] = 0


class RigSetup(BaseModel):
    """What a run is played on: the shop's unit, school and standards, and its own vise."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    rules: SetupRules = SetupRules()
    unit: LengthUnit = Unit.INCH
    jaw: float = 152.4
    bolts: float = 190.0
    bolts_before: float = 70.0

    @property
    def division(self) -> Length:
        """The indicator's: half a thou or a hundredth."""
        return Length("0.0005", Unit.INCH) if self.unit is Unit.INCH else Length("0.01", Unit.MM)

    def seen(self, mm: float) -> Length:
        """A reading as a person reads it: to half a division."""
        return settable(Fraction(mm), self.division)

    def words(self, mm: float) -> str:
        return f"{self.seen(mm).text} {self.unit}"


@dataclass(frozen=True)
class Level:
    """One level of a rig."""

    number: int
    name: str
    about: str


@dataclass(frozen=True)
class Control:
    """Something that can be done now, or why not; controls of one ``group`` stand together."""

    action: Action
    label: str
    group: str
    closed: str = ""


@dataclass(frozen=True)
class Advice:
    """What a practised hand would do now, from what can be seen, and why."""

    action: Action
    words: str


@dataclass(frozen=True)
class Fault:
    """Something that was done badly. A critical one ends the standard for this run."""

    words: str
    critical: bool = False


@dataclass(frozen=True)
class Pass:
    """One reading of the thing from end to end: cells as read, how far off, the best next move after it."""

    cells: tuple[str, ...]
    off: float
    words: str
    tight: bool


@dataclass(frozen=True)
class Result:
    """How a run ended: to standard or not, and every reason."""

    passed: bool
    passes: int
    practised: int
    reasons: tuple[str, ...]
    truth: str


@dataclass
class State:
    """What every rig keeps of a run. ``motion`` is how the needle moved in the last action."""

    setup: RigSetup
    level: int
    seed: str
    count: int = 0
    said: str = ""
    warned: bool = False
    faults: list[Fault] = field(default_factory=list)
    passes: list[Pass] = field(default_factory=list)
    motion: tuple[tuple[float, float], ...] = ()
    finished: bool = False

    def chance(self, what: str) -> random.Random:
        """Chance that depends on the seed, on how much was done and on what for; nothing else."""
        return random.Random(f"{self.seed}:{self.level}:{self.count}:{what}")  # noqa: S311 (a simulation)

    def fault(self, words: str, *, critical: bool = False) -> None:
        self.faults.append(Fault(words, critical))
        self.said, self.warned = words, True


def settle(at: float, before: float, after: float) -> tuple[tuple[float, float], ...]:
    """The needle after a jolt: it jumps past its new place and settles there."""
    swings = ((at, after + (before - after) * math.exp(-i / 3) * math.cos(i * 1.1)) for i in range(14))
    return (*swings, (at, after))


def contact(at: float, reading: float) -> tuple[tuple[float, float], ...]:
    """The needle as the tip is brought to a face: it rests, jumps at contact, and follows to where one stops."""
    share = (0, 0, 0, 0, 0.09, 0.05, *(i / 20 for i in range(2, 21)))
    return tuple((at, reading * s) for s in share)


S = TypeVar("S", bound=State)


class Rig(ABC, Generic[S]):
    """A rig: what it is called, its levels, and its rules."""

    id: ClassVar[str]
    name: ClassVar[str]
    about: ClassVar[str]
    skill: ClassVar[str]
    heads: ClassVar[tuple[str, ...]]
    levels: ClassVar[tuple[Level, ...]]

    @abstractmethod
    def start(self, setup: RigSetup, level: int, seed: str) -> S:
        """The rig as it is found."""

    @abstractmethod
    def act(self, s: S, a: Action) -> None:
        """Do something. Raises ``Refused`` for what is no action here."""

    @abstractmethod
    def controls(self, s: S) -> tuple[Control, ...]:
        """Everything that can be done, in the order it is offered."""

    @abstractmethod
    def advice(self, s: S) -> Advice:
        """What a practised hand would do now, from what can be seen."""

    @abstractmethod
    def task(self, s: S) -> str:
        """What is asked, in one sentence."""

    def standard(self, setup: RigSetup) -> float:
        """What ``Pass.off`` is held against, in mm; 0 where passes have no such measure."""
        del setup
        return 0.0

    @abstractmethod
    def judge(self, s: S) -> tuple[list[str], str]:
        """Why the standard is not reached (empty when it is), and how things truly stand."""

    @abstractmethod
    def scene(self, s: S) -> Any:
        """What is drawn, as a model that says nothing a person could not see."""


def begin(rig: Rig[S], setup: RigSetup, level: int, seed: str) -> S:
    """Start a run. Raises ``Refused`` for a level that the rig does not have."""
    if level not in {x.number for x in rig.levels}:
        raise Refused.of(
            "level", level, say("must be one of: {listed}", listed=together((str(x.number) for x in rig.levels), ", "))
        )
    return rig.start(setup, level, seed)


def do(rig: Rig[S], s: S, a: Action) -> None:
    """One action of a run that is going on."""
    if s.finished:
        raise Refused.of("action", a.do, say("this run is finished"))
    if s.count >= MOST_ACTIONS:
        raise Refused.of(
            "action", a.do, say("a run has at most {most_actions} actions; finish it", most_actions=MOST_ACTIONS)
        )
    s.count += 1
    s.said, s.warned, s.motion = "", False, ()
    if a.do == "finish":
        s.finished = True
        s.said = say("The run is finished.")
        return
    rig.act(s, a)


def play(rig: Rig[S], setup: RigSetup, level: int, seed: str, actions: Sequence[Action]) -> S:
    """A run from its seed and its actions; the same always gives the same."""
    s = begin(rig, setup, level, seed)
    for a in actions:
        do(rig, s, a)
    return s


def practised(rig: Rig[S], setup: RigSetup, level: int, seed: str) -> S:
    """The same rig in a practised hand: the rig's own advice, followed to the end."""
    s = begin(rig, setup, level, seed)
    while not s.finished and s.count < MOST_ACTIONS:
        do(rig, s, rig.advice(s).action)
    return s


@lru_cache(maxsize=512)
def practised_passes(rig: Rig[Any], setup: RigSetup, level: int, seed: str) -> int:
    """How many passes a practised hand needs; the same start always gives the same number."""
    return len(practised(rig, setup, level, seed).passes)


def result(rig: Rig[S], s: S) -> Result:
    """How a run stands against the rig's standard. Time does not count; passes and the outcome do."""
    reasons, truth = rig.judge(s)
    best = practised_passes(rig, s.setup, s.level, s.seed)
    if len(s.passes) > best + SPARE_PASSES:
        reasons.append(
            say(
                "{count} passes; a practised hand needs {best}, and {spare_passes} more are allowed",
                count=len(s.passes),
                best=best,
                spare_passes=SPARE_PASSES,
            )
        )
    reasons += [f.words for f in s.faults if f.critical]
    return Result(not reasons, len(s.passes), best, tuple(reasons), truth)
