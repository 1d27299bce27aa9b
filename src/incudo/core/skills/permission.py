"""May they? One pure answer with its reasons in words.

Allowed; allowed only with a named assessor beside them; or refused. Without the
middle answer nobody could ever learn to cut. Every answer but "allowed" gives
a reason.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from incudo.core.kernel.errors import NotPermitted
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.core.skills.graph import Skill, SkillGraph
from incudo.core.skills.standing import Book, Standing, Standings, State

#: How long an assessor's confirmation holds, in minutes, unless the shop says otherwise.
CONFIRMED_MINUTES = 30


class Answer(StrEnum):
    """Whether somebody may start."""

    ALLOWED = "allowed"
    WITH_ASSESSOR = "with_assessor"
    REFUSED = "refused"


#: Strictest first.
STRICTEST = (Answer.REFUSED, Answer.WITH_ASSESSOR, Answer.ALLOWED)


@dataclass(frozen=True)
class Confirmation:
    """An assessor stands beside the student: for this operation, until then."""

    operation: str
    assessor: str
    until: datetime


@dataclass(frozen=True)
class Here:
    """What holds in the shop at this moment, for one student at one machine.

    ``closed`` says why the machine is closed to everybody (a tag-out, a stop of
    all machines), or is empty. ``holds`` are hold points that an instructor must
    release before this start. ``assessors`` are those who may stand beside them.
    """

    closed: tuple[str, ...] = ()
    session: bool = True
    supervisor: str = ""
    machine_open: bool = True
    present: bool = True
    notice_signed: bool = True
    at_handles: bool = True
    listed: bool = True
    holds: tuple[str, ...] = ()
    assessors: tuple[str, ...] = ()
    confirmed: Confirmation | None = None


@dataclass(frozen=True)
class Decision:
    """The answer and why. ``starts`` says whether a start may be enabled now."""

    answer: Answer
    reasons: tuple[str, ...] = ()
    assessors: tuple[str, ...] = ()
    confirmed: Confirmation | None = None

    @property
    def starts(self) -> bool:
        """Whether they may start now: allowed, or with an assessor who has confirmed it."""
        return self.answer is Answer.ALLOWED or (self.answer is Answer.WITH_ASSESSOR and self.confirmed is not None)


@dataclass(frozen=True)
class Missing:
    """A skill that is needed and does not hold, with the reason."""

    skill: str
    name: str
    reason: str


def missing_for(book: Standings, needs: Iterable[str], machine: str | None) -> tuple[Missing, ...]:
    """Which of the needed skills do not hold now, on this machine (or on any)."""
    found = []
    for needed in needs:
        s = book.standing(needed, machine)
        if not s.state.current:
            found.append(Missing(needed, book.graph.get(needed).name, s.reason))
    return tuple(found)


def needed_for(graph: SkillGraph, needs: Iterable[str], operations: Iterable[str]) -> tuple[str, ...]:
    """What must hold before work on a part starts.

    Its own needs, and what its operations rest on; an operation of the part
    itself is not among them, since it may be done with an assessor beside.
    """
    done_here = tuple(operations)
    found = [*needs, *(s for o in done_here for s in graph.rests_on(o))]
    return tuple(s for s in dict.fromkeys(found) if s not in done_here)


def decide(book: Standings, asked: Iterable[str], machine: str | None, here: Here | None = None) -> Decision:
    """May the student do this on this machine now?

    ``asked`` are skills: one operation, or all that a project needs. ``machine``
    may be ``None`` when a project is not bound to one. ``here`` is the shop at
    the moment; without it the question is about skills alone, for planning.
    The strictest answer over all that is asked holds.
    """
    answers = [_one(book, skill, machine) for skill in asked]
    if here is not None:
        answers.append(_shop(here))
    answer = min((a.answer for a in answers), key=STRICTEST.index, default=Answer.ALLOWED)
    reasons = tuple(dict.fromkeys(r for a in answers for r in a.reasons if a.answer is not Answer.ALLOWED))
    if answer is not Answer.WITH_ASSESSOR or here is None:
        return Decision(answer, reasons)
    confirmed = here.confirmed
    if confirmed and (confirmed.until <= book.moment or confirmed.operation not in asked):
        confirmed = None
    return Decision(answer, reasons, here.assessors, confirmed)


def _one(book: Standings, skill_id: str, machine: str | None) -> Decision:
    skill = book.graph.get(skill_id)
    own = book.standing(skill_id, machine)
    if not skill.operation:
        if own.state.current:
            return Decision(Answer.ALLOWED)
        return Decision(Answer.REFUSED, (_sentence(book.graph, own),))
    before = _broken_before(book, skill, machine)
    if before:
        return Decision(Answer.REFUSED, tuple(_sentence(book.graph, s) for s in before))
    if own.state.current:
        return Decision(Answer.ALLOWED)
    if own.state in (State.OPEN, State.READY, State.LAPSED):
        return Decision(Answer.WITH_ASSESSOR, (_sentence(book.graph, own),))
    return Decision(Answer.REFUSED, (_sentence(book.graph, own),))


def _broken_before(book: Standings, skill: Skill, machine: str | None) -> list[Standing]:
    """What an operation rests on and does not hold: what opens the machine, and its prerequisites."""
    rests_on = dict.fromkeys([*(s.id for s in book.graph.opening), *skill.prerequisites])
    standings = (book.standing(s, machine) for s in rests_on)
    return [s for s in standings if not s.state.current]


def _shop(here: Here) -> Decision:
    reasons = list(here.closed)
    if not here.session:
        reasons.append(say("No session is open: the instructor opens it."))
    else:
        if not here.supervisor:
            reasons.append(say("Nobody supervises: an instructor must be signed in to the session."))
        if not here.machine_open:
            reasons.append(say("This machine is not opened in this session."))
        if not here.present:
            reasons.append(say("You are not on the roll of this session: tell the instructor that you are here."))
    if not here.notice_signed:
        reasons.append(say("The safety notice is not signed yet."))
    if not here.at_handles:
        reasons.append(say("You are not at the handles of this machine."))
    if not here.listed:
        reasons.append(say("The pre-start list of this machine is not done in this session."))
    reasons += [say("Hold point: {h}. Call your instructor.", h=h) for h in here.holds]
    return Decision(Answer.REFUSED, tuple(reasons)) if reasons else Decision(Answer.ALLOWED)


def _sentence(graph: SkillGraph, s: Standing) -> str:
    return say("{name}: {reason}", name=graph.get(s.skill).name, reason=s.reason)


@dataclass(frozen=True)
class Assessor:
    """Who wants to sign: role, and for an assistant the skills delegated to them."""

    person: str
    role: Role
    delegated: frozenset[str] = frozenset()

    def may_assess(self, skill: Skill) -> str:
        """Why this person may not assess the skill; empty when they may."""
        if self.role not in (Role.INSTRUCTOR, Role.ASSISTANT):
            return say("Only an instructor or an assistant signs skills.")
        if self.role is Role.ASSISTANT and skill.signed_by != "assistant":
            return say("{name} is signed by an instructor only.", name=skill.name)
        if self.role is Role.ASSISTANT and skill.id not in self.delegated:
            return say("{name} is not delegated to you.", name=skill.name)
        return ""


def why_not_sign(book: Book, assessor: Assessor, student: str, skill_id: str, machine: str | None) -> tuple[str, ...]:
    """Every reason why this sign-off cannot be made; empty when it can.

    Nobody signs for themselves; an assistant signs only what is delegated to them and
    never brings back what was withdrawn; the prerequisites must hold; the
    evidence that the skill asks for must be there. For a refresher, evidence
    that was there once is enough.
    """
    skill = book.graph.get(skill_id)
    reasons = []
    if assessor.person == student:
        reasons.append(say("Nobody can sign for themselves."))
    if refused := assessor.may_assess(skill):
        reasons.append(refused)
    if skill.per_machine and machine is None:
        reasons.append(say("{name} is signed for one machine: say which.", name=skill.name))
    if not skill.per_machine and machine is not None:
        reasons.append(say("{name} holds on every machine: name none.", name=skill.name))
    s = book.standing(skill_id, machine)
    if s.state is State.WITHDRAWN and assessor.role is not Role.INSTRUCTOR:
        reasons.append(say("Only an instructor can reinstate what was withdrawn."))
    for m in missing_for(book, skill.prerequisites, machine):
        reasons.append(say("{name} rests on {name2}: {reason}.", name=skill.name, name2=m.name, reason=m.reason))
    if not s.state.refreshed:
        short = [m.words for m in book.evidence(skill, machine) if not m.ok]
        reasons += [say("{name} needs more: {words}.", name=skill.name, words=words) for words in short]
    return tuple(reasons)


def check_may_sign(book: Book, assessor: Assessor, student: str, skill_id: str, machine: str | None) -> None:
    """Raise ``NotPermitted`` with every reason of ``why_not_sign``."""
    reasons = why_not_sign(book, assessor, student, skill_id, machine)
    if reasons:
        raise NotPermitted(*reasons)
