"""Judging what is answered yes or no: go and no-go gauges, a surface held against specimens."""

from __future__ import annotations

from collections.abc import Sequence

from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.measuring.verdict import WORDS, Combined, Judgement, Verdict


def gauged(go: Sequence[bool], no_go: Sequence[bool]) -> Combined:
    """A hole's thread by its plug gauge: the go end must enter by hand, the no-go end no further than its paper says.

    That is two turns or three for most gauges.
    Each end by all answers to it (True: it enters); one that fails decides. Too tight has metal left, a thread that
    the no-go end enters is lost.
    """
    if any(no_go):
        return _found(Verdict.METAL_GONE, say("the no-go end enters: the thread is too large"))
    if go and not all(go):
        return _found(Verdict.METAL_LEFT, say("the go end does not enter: clean the thread, then run the tap again"))
    asks = []
    if not go:
        asks.append(say("try the go end"))
    if not no_go:
        asks.append(say("try the no-go end"))
    if asks:
        ask = asks[0] if len(asks) == 1 else say("try both ends, clean and dry")
        return Combined(Judgement(Verdict.NOT_MEASURED, "", ()), None, ask)
    return _found(Verdict.IN, say("the go end enters, the no-go end does not"))


def compared(answers: Sequence[bool]) -> Combined:
    """A surface against the specimen of what is asked (True: as fine as it or finer); one that is rougher decides."""
    if not answers:
        return Combined(Judgement(Verdict.NOT_MEASURED, "", ()), None)
    if all(answers):
        return _found(Verdict.IN, say("as fine as the specimen, or finer"))
    return _found(Verdict.OUT, say("rougher than the specimen"))


def _found(verdict: Verdict, against: str) -> Combined:
    step = Step(say("Verdict"), say("every answer must be right"), against, WORDS[verdict])
    return Combined(Judgement(verdict, against, (step,)), None)
