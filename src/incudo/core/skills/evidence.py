"""What is recorded about one student: acts of assessors, evidence, presence.

Each record has two times: ``at``, when it happened and from when it holds, and
``recorded``, when the shop came to know it. So a decision about a past moment
can be asked again, as of one moment and as known at another.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum


class ActKind(StrEnum):
    """What was done about a skill."""

    SIGN_OFF = "sign_off"
    RESTORATION = "restoration"
    WITHDRAWAL = "withdrawal"


#: Of acts at one and the same moment the later in this order holds: the stricter one.
RANK = (ActKind.SIGN_OFF, ActKind.RESTORATION, ActKind.WITHDRAWAL)


class EvidenceKind(StrEnum):
    """What can speak for a skill besides an assessor who sees it done."""

    KNOWLEDGE = "knowledge"
    INSPECTED = "inspected"
    RIG = "rig"
    HOURS = "hours"
    EXERCISE = "exercise"
    PLAN = "plan"
    DRY_RUN = "dry_run"


@dataclass(frozen=True)
class Act:
    """A sign-off, a withdrawal or a restoration of one skill of one student.

    ``seq`` is its place in the register of safety: what was done later stands later, whatever a clock said.
    """

    kind: ActKind
    skill: str
    machine: str | None
    at: datetime
    by: str
    words: str = ""
    recorded: datetime | None = None
    seq: int = 0

    @property
    def known(self) -> datetime:
        """When it was entered; when it happened, if that is not known."""
        return self.recorded or self.at

    @property
    def order(self) -> tuple[int, datetime, int]:
        """By its place in the register; without one by its time, the stricter act last."""
        return self.seq, self.at, RANK.index(self.kind)


@dataclass(frozen=True)
class Evidence:
    """Something that speaks for a skill.

    ``key`` is the bank of a knowledge check, the skill that an inspected part
    is evidence for, the rig, the calculation of an exercise,
    the part of a plan, or empty for hours. ``passed`` is false for a try
    that did not reach the standard. ``minutes`` are those worked at ``machine``;
    ``level`` is that of a rig's run.
    """

    kind: EvidenceKind
    key: str
    at: datetime
    words: str = ""
    machine: str | None = None
    passed: bool = True
    minutes: int = 0
    level: int = 1
    recorded: datetime | None = None

    @property
    def known(self) -> datetime:
        """When it was entered; when it happened, if that is not known."""
        return self.recorded or self.at


@dataclass(frozen=True)
class Record:
    """All that is recorded about one student; ``presence`` are moments at which they were here."""

    acts: tuple[Act, ...] = ()
    evidence: tuple[Evidence, ...] = ()
    presence: tuple[datetime, ...] = ()

    def of(self, as_of: datetime, known_at: datetime) -> Record:
        """The record as it stood at ``as_of``, by what was known at ``known_at``."""
        return Record(
            tuple(a for a in self.acts if a.at <= as_of and a.known <= known_at),
            tuple(e for e in self.evidence if e.at <= as_of and e.known <= known_at),
            tuple(p for p in self.presence if p <= min(as_of, known_at)),
        )

    @property
    def seen(self) -> tuple[datetime, ...]:
        """Every moment at which the student was in the shop, oldest first."""
        signed = (a.at for a in self.acts if a.kind is not ActKind.WITHDRAWAL)
        return tuple(sorted({*self.presence, *signed, *(e.at for e in self.evidence)}))
