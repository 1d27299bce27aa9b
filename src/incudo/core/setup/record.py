"""Working records at the machine: what was read, what follows, what to do next, when it may be accepted.

A pass is one sweep. It counts for acceptance only when it was read with everything tight,
after the last adjustment: tightening moves things.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from fractions import Fraction
from itertools import pairwise

from incudo.core.kernel.say import say
from incudo.core.setup.jaw import Bring, JawSweep, bring_to_pivot, jumped, walk_in
from incudo.core.setup.standard import HeadSchool, SetupRules, Slope, ViseSchool
from incudo.core.setup.tram import HeadAxis, Sweep, Target, learn_pivot, target


class SetupKind(StrEnum):
    """What is set up."""

    HEAD = "head"
    VISE = "vise"
    HOLD = "hold"


class Do(StrEnum):
    """The one next thing of a working record."""

    READ = "read"
    ADJUST = "adjust"
    TIGHTEN = "tighten"
    ACCEPT = "accept"


@dataclass(frozen=True)
class HeadPass:
    """One sweep of one axis; ``tight`` when every bolt of the head was tight."""

    sweep: Sweep
    tight: bool


@dataclass(frozen=True)
class HeadNext:
    """What to do next on which axis; where the needles should come to."""

    do: Do
    axis: HeadAxis
    target: Target | None = None
    again: bool = False


def axes_in_order(rules: SetupRules, *, tilt: bool, nod: bool) -> tuple[HeadAxis, ...]:
    """The axes that this head can be set on, in the school's order; none for a fixed head."""
    order = (HeadAxis.TILT, HeadAxis.NOD)
    if rules.head_school is HeadSchool.NOD_FIRST:
        order = (HeadAxis.NOD, HeadAxis.TILT)
    can = {HeadAxis.TILT: tilt, HeadAxis.NOD: nod}
    return tuple(a for a in order if can[a])


def pivot_learnt(passes: Sequence[HeadPass]) -> Fraction | None:
    """How far the nod's pivot lies behind the spindle, by the largest adjustment that tells it (mm)."""
    nods = [p.sweep for p in passes if p.sweep.axis is HeadAxis.NOD]
    moves = sorted(pairwise(nods), key=lambda m: -abs(m[0].rise - m[1].rise))
    return next((e for e in (learn_pivot(a, b) for a, b in moves) if e is not None), None)


def counting(passes: Sequence[HeadPass]) -> dict[HeadAxis, Sweep]:
    """The newest sweep of each axis that was read with everything tight after the last adjustment."""
    found: dict[HeadAxis, Sweep] = {}
    for p in reversed(passes):
        if not p.tight:
            break
        found.setdefault(p.sweep.axis, p.sweep)
    return found


def head_next(
    passes: Sequence[HeadPass], axes: Sequence[HeadAxis], standard: Slope, behind: Fraction | None
) -> HeadNext:
    """The next thing: both axes read, adjusted until good, tightened, and each read again after that.

    A head without an axis is still read there and not adjusted: the caller shows what remains.
    """
    for axis in axes:
        mine = [p for p in passes if p.sweep.axis is axis]
        if not mine:
            return HeadNext(Do.READ, axis)
        last = mine[-1]
        if not standard.allows(last.sweep.rise, last.sweep.span):
            return HeadNext(Do.ADJUST, axis, target(last.sweep, behind))
        if not last.tight:
            return HeadNext(Do.TIGHTEN, axis, again=True)
    held = counting(passes)
    for axis in axes:
        if axis not in held:
            return HeadNext(Do.READ, axis, again=True)
    return HeadNext(Do.ACCEPT, axes[-1])


@dataclass(frozen=True)
class VisePass:
    """One sweep of the fixed jaw; ``tight`` when both bolts were tight."""

    sweep: JawSweep
    tight: bool


@dataclass(frozen=True)
class ViseNext:
    """What to do next; where the needle should come to; whether tightening made the jaw jump."""

    do: Do
    bring: Bring | None = None
    jumped: bool = False
    short: bool = False


def in_standard(s: JawSweep, jaw: Fraction, standard: Fraction) -> bool:
    """Whether the jaw is true within the standard over its length; compared exactly."""
    return abs(s.rise) * jaw <= standard * s.travel


def vise_next(
    passes: Sequence[VisePass], school: ViseSchool, jaw: Fraction, standard: Fraction, pivot_at: Fraction, end: str
) -> ViseNext:
    """Read, bring, tighten, read again over the full length, accept.

    ``pivot_at`` is the place of the snug bolt, ``end`` the end that is tapped. The last
    sweep must run over at least three quarters of the jaw.
    """
    if not passes:
        return ViseNext(Do.READ)
    last = passes[-1]
    jump = last.tight and len(passes) > 1 and not passes[-2].tight
    leapt = jump and jumped(passes[-2].sweep, last.sweep, standard * last.sweep.travel / jaw)
    if not in_standard(last.sweep, jaw, standard):
        bring = walk_in(last.sweep, end) if school is ViseSchool.WALK_IN else bring_to_pivot(last.sweep, pivot_at, end)
        return ViseNext(Do.ADJUST, bring, jumped=leapt)
    if not last.tight:
        return ViseNext(Do.TIGHTEN)
    if last.sweep.travel * 4 < jaw * 3:
        return ViseNext(Do.READ, short=True)
    return ViseNext(Do.ACCEPT, jumped=leapt)


@dataclass(frozen=True)
class Kept:
    """A setup that was accepted: when, by whom, whether within the standard."""

    at: datetime
    person: str
    good: bool


class Stand(StrEnum):
    """How a machine's setup stands for somebody's work now."""

    NONE = "none"
    STANDS = "stands"
    REPEAT = "repeat"


@dataclass(frozen=True)
class Standing:
    """The state and its reason in words."""

    state: Stand
    reason: str


_WORDS = {SetupKind.HEAD: say("the head"), SetupKind.VISE: say("the vise"), SetupKind.HOLD: say("the work")}


def standing(
    kind: SetupKind,
    kept: Kept | None,
    moved: Sequence[tuple[datetime, str]],
    now: datetime,
    person: str,
    rules: SetupRules,
) -> Standing:
    """Whether a setup stands or must be repeated, and why.

    ``moved`` are the times at which what was set was moved again, with what was said.
    """
    if kept is None:
        return Standing(Stand.NONE, say("nobody has recorded {words} yet", words=_WORDS[kind]))
    after = [(at, words) for at, words in moved if at > kept.at]
    if after:
        return Standing(Stand.REPEAT, say("moved since: {after}", after=max(after)[1]))
    if now - kept.at > timedelta(hours=rules.hours):
        return Standing(Stand.REPEAT, say("older than the {hours} hours that the shop allows", hours=rules.hours))
    if not kept.good:
        return Standing(Stand.REPEAT, say("outside the shop's standard when it was accepted"))
    if rules.same_person and kept.person != person:
        return Standing(Stand.REPEAT, say("another person's setup: read it again yourself"))
    return Standing(Stand.STANDS, say("set today and not moved since"))
