"""The tracing rig: a part was cut by its card, one slip happened; from what was measured, which act was it?

Every answer is simulated: the right one made these sizes, each wrong one would have made others, and says which.
"""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.cutting.dry.acts import tip
from incudo.core.cutting.dry.came_out import CameOut
from incudo.core.cutting.dry.causes import Cause, Code
from incudo.core.cutting.dry.dry_run import DryRun, with_slip
from incudo.core.cutting.dry.measured import Measured, line_of, measured, read_of
from incudo.core.cutting.dry.slips import Slip, slips
from incudo.core.cutting.slides import Ring, set_to
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import Text, say
from incudo.core.locating.dial import Dial
from incudo.core.planning.course import Course
from incudo.core.practice.rigs.base import Level
from incudo.core.practice.rigs.plan.planning import Job, sound_job
from incudo.core.practice.rigs.plan.quiz import asked
from incudo.core.practice.rigs.quiz import Question, QuizRig, QuizState
from incudo.core.shop.machine import Axis

_ASKED, _WRONG = 5, 3
#: So many parts are drawn until one gives enough to ask, and so many slips tried on each.
_JOBS = 20
_TRIES = 30
#: Two sizes are told apart from so far on, mm: three thou.
_APART = Fraction(3, 40)

_LEVELS: Mapping[int, frozenset[Code]] = {
    1: frozenset({Code.HALF_TIP, Code.WHOLE_TIP, Code.MISCOUNTED, Code.LEFT_OUT, Code.CUTTER, Code.TWICE}),
    2: frozenset(
        {
            Code.TIP_OTHER_WAY,
            Code.STRAIGHT,
            Code.BESIDE,
            Code.BACKWARDS,
            Code.UNDER,
            Code.RING_SLIPPED,
            Code.PULLED,
            Code.MOVED,
            Code.NOT_TURNED,
            Code.WRONG_WAY,
            Code.CHIP,
        }
    ),
    3: frozenset({Code.MISREAD, Code.PAPER, Code.CREPT, Code.JAW, Code.HEAD}),
}


class TracePicture(BaseModel):
    """The drawing, the part as it was measured, and what has to be known of the machine."""

    model_config = ConfigDict(frozen=True)
    sheet: str
    lines: tuple[Measured, ...]
    facts: tuple[Text, ...]


class TraceScene(BaseModel):
    """The measuring sheet that is asked about now."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["trace"] = "trace"
    picture: TracePicture | None


@dataclass(frozen=True)
class _Part:
    """A part that one slip happened to."""

    slip: Slip
    cause: Cause
    label: str
    out: tuple[CameOut, ...]

    @property
    def spoilt(self) -> list[CameOut]:
        return [c for c in self.out if not c.good]

    def differs(self, other: _Part) -> bool:
        """Whether who measures both can tell them apart."""
        for mine, theirs in zip(self.out, other.out, strict=True):
            values = [c.value for c in (mine, theirs) if c.value is not None]
            if len(values) == 1 or (values and abs(values[0] - values[1]) > _APART):
                return True
        return False


class TraceRig(QuizRig[TracePicture]):
    id = "trace"
    name = say("Which act did it?")
    about = say("A part came out wrong. From what was measured, find the one act at the machine that made it so.")
    skill = "trace-error"
    levels = (
        Level(1, say("Large errors"), say("Turns, the edge finder, the wrong cutter, something left out.")),
        Level(2, say("Small errors"), say("Backlash, the dial, chips, work and cutter that move.")),
        Level(3, say("Errors that hide"), say("Readings and zeros that look right, and an axis that was not locked.")),
    )

    def ask(self, s: QuizState[TracePicture]) -> tuple[Question[TracePicture], ...]:
        return _questions(s.setup.unit, s.level, s.seed)

    def scene(self, s: QuizState[TracePicture]) -> TraceScene:
        return TraceScene(picture=s.now.picture if s.now else None)


# a run is played from its beginning at every answer: parts are not cut anew each time
@lru_cache(maxsize=64)
def _questions(unit: LengthUnit, level: int, seed: str) -> tuple[Question[TracePicture], ...]:
    chance = random.Random(f"{seed}:{level}:trace")  # noqa: S311 (a simulation)
    # a small part may have too few places where something can go wrong: then another one is drawn
    for _ in range(_JOBS):
        found = _asked_of(sound_job(unit, chance), level, chance)
        if len(found) == _ASKED:
            chance.shuffle(found)
            return tuple(found)
    raise Refused.of("seed", seed, say("no part was found for this run"))


def _asked_of(job: Job, level: int, chance: random.Random) -> list[Question[TracePicture]]:
    """As many questions as this part gives, the wanted number at most."""
    course = Course(job.piece, job.plan, job.shop)
    rings = {axis: Ring(h, Dial.of(h), readout=False, unit=job.piece.unit) for axis, h in job.shop.handles.items()}
    parts = _parts(course, rings, level, chance)
    found: list[Question[TracePicture]] = []
    for part in _one_of_each_kind_first(parts, level):
        if len(found) == _ASKED:
            break
        others = [p for p in parts if p.differs(part) and p.label != part.label]
        if len(others) < _WRONG:
            continue
        mine = {c.number for c in part.spoilt}
        chance.shuffle(others)
        # what spoils the same sizes is the better question, what spoils none the worse
        others.sort(key=lambda p: (not mine & {c.number for c in p.spoilt}, not p.spoilt))
        found.append(_question(job, course, rings, part, others))
    return found


def _one_of_each_kind_first(parts: Sequence[_Part], level: int) -> list[_Part]:
    """The parts that can be asked about: every kind of slip before a second of one, what is new on this level first."""
    seen: Counter[Code] = Counter()
    rank: list[tuple[int, bool, _Part]] = []
    for part in parts:
        if part.spoilt:
            rank.append((seen[part.slip.code], part.slip.code not in _LEVELS[level], part))
            seen[part.slip.code] += 1
    return [part for *_, part in sorted(rank, key=lambda r: r[:2])]


def _parts(course: Course, rings: Mapping[Axis, Ring], level: int, chance: random.Random) -> list[_Part]:
    """Parts that a slip each happened to, of the kinds of this level and the ones before, mixed by chance."""
    plain = DryRun(course, rings)
    kinds: dict[Code, list[Slip]] = {}
    for slip in slips(course, plain.steps, plain.slides):
        if any(slip.code in codes for n, codes in _LEVELS.items() if n <= level):
            kinds.setdefault(slip.code, []).append(slip)
    for of in kinds.values():
        chance.shuffle(of)
    order = sorted(kinds, key=lambda c: (c not in _LEVELS[level], chance.random()))
    # one of each kind, then the next of each
    rounds = [of[n] for n in range(max(map(len, kinds.values()))) for code in order if n < len(of := kinds[code])]
    found: list[_Part] = []
    for slip in rounds[:_TRIES]:
        run = with_slip(plain, slip)
        step = next(s for s in run.steps if s.id == slip.step)
        if [(c.step, c.code) for c in run.causes] != [(slip.step, slip.code)]:
            # one act, one story: no other error that follows from it
            continue
        (cause,) = run.causes
        head = step.head or step.title
        found.append(_Part(slip, cause, say("{head}. {act}.", head=head, act=cause.act), measured(run)))
        enough = {p.slip.code for p in found if p.spoilt}
        if len(enough) >= _ASKED and len(found) >= _ASKED + _WRONG:
            break
    return found


def _question(
    job: Job, course: Course, rings: Mapping[Axis, Ring], part: _Part, others: Sequence[_Part]
) -> Question[TracePicture]:
    words = [_came(course, c) for c in part.spoilt]
    unit = course.piece.unit
    return asked(
        say("This part was measured after the last step. Which act made it so?"),
        TracePicture(
            sheet=job.sheet,
            lines=tuple(line_of(c, unit) for c in part.out),
            facts=_facts(course, rings),
        ),
        part.label,
        [(p.label, _instead(course, p)) for p in others[:_WRONG]],
        say("{cause} {came}", cause=part.cause.words, came=" ".join(words[:2])),
        job.chance,
    )


def _came(course: Course, c: CameOut) -> str:
    unit = course.piece.unit
    if c.value is None:
        return say("Number {number} is not there.", number=c.number)
    return say("So number {number} came out {read}.", number=c.number, read=read_of(c, unit))


def _instead(course: Course, part: _Part) -> str:
    """What another slip would have made."""
    if not part.spoilt:
        return say("Then every size would be within its limits.")
    worst = part.spoilt[0]
    if worst.value is None:
        return say("Then number {number} would not be there.", number=worst.number)
    read = read_of(worst, course.piece.unit)
    return say("Then number {number} would be {read}.", number=worst.number, read=read)


def _facts(course: Course, rings: Mapping[Axis, Ring]) -> tuple[str, ...]:
    unit = course.piece.unit
    found = [
        say(
            "{axis} handle: {turn} a turn, backlash {lost}.",
            axis=axis.value.upper(),
            turn=set_to(ring.dial.turn, unit),
            lost=set_to(ring.dial.backlash, unit),
        )
        for axis, ring in rings.items()
        if axis in (Axis.X, Axis.Y)
    ]
    knee = rings[Axis.KNEE].dial
    found.append(say("Knee handle: {turn} a turn.", turn=set_to(knee.turn, unit)))
    found.append(say("Tip of the edge finder: {tip} across.", tip=set_to(tip(unit), unit)))
    mills = dict.fromkeys(s.operation.cutter for s, _ in course.milled)
    return (*found, *(say("Cutter: {name}.", name=name) for name in mills))
