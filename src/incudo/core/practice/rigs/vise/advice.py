"""What a practised hand does at the vise rig, from what can be seen."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import Action, Advice
from incudo.core.practice.rigs.vise.state import ENDS, GRIP_WORDS, LOOSE, SNUG, TAP_WORDS, TRAVEL, ViseState
from incudo.core.setup.jaw import JawSweep, bring_to_pivot, left_by_meeting, walk_in
from incudo.core.setup.record import VisePass, in_standard
from incudo.core.setup.standard import ViseSchool

#: The needle is at its aim when it is this near, in mm. Walking in, the other end moves as much.
NEAR = {ViseSchool.PIVOT: 0.008, ViseSchool.LONG_PARALLEL: 0.008, ViseSchool.WALK_IN: 0.004}


#: A practised hand stops at this part of the standard: the indicator is read to half a division.
MARGIN = Fraction(3, 4)


def advise(s: ViseState) -> Advice:
    """The shop's school, step by step, from what can be seen: grips, readings, what was said."""
    if s.dirt:
        return _look_underneath(s)
    if not s.touched:
        if s.table != s.station("left"):
            return Advice(
                Action(do="run", on="left"), say("Begin over the end that will be the pivot: run to the left end.")
            )
        return Advice(
            Action(do="touch"), say("Bring the tip to the jaw, half its travel in, so it can swing both ways.")
        )
    if s.level > 1 and not s.pushed:
        return Advice(Action(do="push"), say("A lever may turn the needle either way: push it in by hand and look."))
    if not s.zeroed and s.last_end and s.last_end[0] == "left":
        return Advice(Action(do="zero"), say("Zero the bezel here, at the pivot end."))
    if s.aim is None:
        return _other_end(s, say("Read the other end."))
    last = s.sweeps[-1]
    if in_standard(last.sweep, Fraction(s.setup.jaw), s.standard * MARGIN):
        return _tighten(s, last)
    return _adjust(s)


def _other_end(s: ViseState, why: str) -> Advice:
    to = "left" if s.table > 0 else "right"
    return Advice(Action(do="run", on=to), say("{why} Run to the {to} end.", why=why, to=to))


def _look_underneath(s: ViseState) -> Advice:
    end = next((e for e in ENDS if s.bolts[e] > LOOSE), None)
    if end is None:
        return Advice(Action(do="clean"), say("Lift its edge and look underneath: wipe, stone, set it down again."))
    why = say("It was true, and tightening made it jump: that is dirt underneath.")
    return Advice(
        Action(do="wrench", on=end, way="looser"),
        say("{why} Slacken the {end} bolt until it is loose.", why=why, end=end),
    )


def _tighten(s: ViseState, last: VisePass) -> Advice:
    if not s.tight:
        end = min(ENDS, key=lambda e: s.bolts[e])
        return Advice(
            Action(do="wrench", on=end, way="tighter"),
            say("It is true. Tighten by turns: the {end} bolt, a little.", end=end),
        )
    if s.changed or not last.tight:
        return _other_end(s, say("Tight. Tightening moves things: read the whole jaw again."))
    return Advice(Action(do="finish"), say("Tight, read again, and true: finish."))


def _adjust(s: ViseState) -> Advice:
    wanted = {"left": SNUG, "right": SNUG if s.walks else LOOSE}
    for end in ENDS:
        if s.bolts[end] > wanted[end]:
            grip = GRIP_WORDS[wanted[end]]
            return Advice(
                Action(do="wrench", on=end, way="looser"),
                say("Slacken the {end} bolt until it is {grip}, no further.", end=end, grip=grip),
            )
        if s.bolts[end] < wanted[end]:
            return Advice(
                Action(do="wrench", on=end, way="tighter"),
                say("Snug the {end} bolt: it has to hold as a pivot.", end=end),
            )
    if s.table < 0 and not (s.changed and s.last_end):
        return Advice(Action(do="run", on="right"), say("Go to the right end, where you will tap."))
    now, aim = s.reading(s.table), s.aim or 0.0
    gap = s.sense * (aim - now)
    if s.table > 0 and (abs(gap) > NEAR[s.school] or not s.changed):
        return _tap(s, gap, now, aim)
    return _other_end(s, say("The needle reads what it should. Read both ends again."))


def _tap(s: ViseState, gap: float, now: float, aim: float) -> Advice:
    way, to = ("towards", say("towards you")) if sense(gap) == 1 else ("away", say("away from you"))
    stopped = not 0 < s.plunger(s.table) < TRAVEL
    size = 3 if stopped or abs(gap) > 0.3 else 2 if abs(gap) > 0.06 else 1
    why = (
        say("The needle is at the end of its travel: tap the jaw in until it moves.")
        if stopped
        else say("The needle reads {now} and should read {aim}.", now=s.setup.words(now), aim=s.setup.words(aim))
    )
    return Advice(
        Action(do="tap", on="right", way=way, by=size),
        say("{why} Tap the right end {to}, {tap_words}.", why=why, to=to, tap_words=TAP_WORDS[size]),
    )


def bring_to(s: ViseState, sweep: JawSweep) -> Fraction:
    """Where the needle at the right end, the tapped one, should come to by the shop's school."""
    if s.walks:
        return walk_in(sweep, "right").to
    return bring_to_pivot(sweep, Fraction(s.bolt("left")[0]), "right").to


def best_move(s: ViseState, sweep: JawSweep) -> str:
    """The best next tap after a pass, in words. The left bolt is the pivot, by this rig's custom."""
    if in_standard(sweep, Fraction(s.setup.jaw), s.standard):
        return say("nothing to tap") if s.tight else say("tighten by turns, read again")
    words = say("bring the right end's needle to {aim}", aim=s.setup.words(s.aim or 0))
    if s.school is ViseSchool.PIVOT:
        rest = left_by_meeting(sweep, Fraction(s.bolt("left")[0]), "right")
        words += say("; to the left end's reading would leave {text}", text=s.setup.seen(abs(float(rest))).text)
    return words
