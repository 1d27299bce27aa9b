"""The holding rig: a part, a vise, a drawer of parallels; or straps on the table. Choose, place, see what is hit."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup
from incudo.core.practice.rigs.hold.advice import advise
from incudo.core.practice.rigs.hold.controls import controls_of
from incudo.core.practice.rigs.hold.scene import HoldScene, scene_of
from incudo.core.practice.rigs.hold.state import BOLTS, HEEL_WORDS, HEELS, HoldState, bolt_words, size
from incudo.core.setup.holding import (
    Cut,
    Drilled,
    JawVise,
    ParallelPair,
    Weight,
    Work,
)


class HoldRig(Rig[HoldState]):
    """Hold a part so that the cut meets nothing but the part."""

    id = "hold"
    name = say("Holding rig")
    about = say("A part, a vise, a drawer of parallels, a stop; at the last level straps on the table.")
    skill = "parallels"
    heads = ("held", "hits", "weak")
    levels = (
        Level(1, say("A cut in the vise"), say("Which parallels, where the stop, seated or not.")),
        Level(2, say("A rough block and a hole"), say("The moving jaw meets a rough face; a drill comes out below.")),
        Level(3, say("On the table"), say("Straps: bolt, heel, clear of the cutter.")),
    )

    def start(self, setup: RigSetup, level: int, seed: str) -> HoldState:
        s = HoldState(setup, level, seed)
        r = s.chance("case")
        eighth = Fraction(254, 80)
        across, height = eighth * r.randint(10, 24), eighth * r.randint(10, 20)
        s.work = Work(across, eighth * r.randint(20, 32), height)
        s.vise = JawVise(Fraction(setup.jaw), eighth * r.choice((12, 14)), eighth * 48)
        depth = eighth * r.randint(2, 4)
        s.runs_out = r.choice(("left", "right"))
        s.cuts = (Cut(say("Step"), Fraction(0), across / 3, height - depth),)
        s.strapped = level == 3
        if level > 1:
            d = eighth * r.randint(2, 3)
            place = across / 2 if r.random() < 0.5 else across * 3 / 4
            s.holes = (Drilled(say("Hole"), s.work.along / 2, place, d, d * Fraction(3, 10), Fraction(0)),)
            s.rough = level == 2
        s.drawer = _drawer(s, r.sample(range(3, 14), 5))
        s.said = say("The vise is clean and empty.") if level < 3 else say("The table is clean, the part is on it.")
        return s

    def task(self, s: HoldState) -> str:
        what = together([say("a step at the fixed jaw's side"), *(say("a through hole") for _ in s.holes)], " and ")
        return say("Hold the part for {what}; the step runs out at the {runs_out}.", what=what, runs_out=s.runs_out)

    def act(self, s: HoldState, a: Action) -> None:
        match a.do:
            case "pair" if a.by in range(len(s.drawer)):
                s.pair, s.chosen, s.tight, s.tapped, s.tried = int(a.by), True, False, False, False
                s.said = say("The pair of {size} stands in the vise.", size=size(s, s.drawer[s.pair].height))
            case "bed":
                s.pair, s.chosen, s.tight, s.tapped, s.tried = None, True, False, False, False
                s.said = say("The work rests on the bed itself.")
            case "stop" if a.on in ("left", "right"):
                s.stop = a.on
                s.said = say("The stop is at the {on}.", on=a.on)
            case "bar":
                s.bar, s.tight = not s.bar, False
                s.said = say("A soft round bar lies at the moving jaw.") if s.bar else say("The bar is put away.")
            case "tighten":
                s.tight, s.tapped, s.tried = True, False, False
                s.said = say("Tight. The moving jaw lifted the work a little.") if not s.strapped else say("Tight.")
            case "tap":
                s.tapped = s.tight
                s.said = say("Tapped down: a dull sound.") if s.tight else say("Nothing holds it: tighten first.")
            case "slips":
                s.tried = s.tight and s.tapped
                s.said = (
                    say("The slips hold: it is seated.")
                    if s.tried
                    else say("The slips can be pulled: it is not seated.")
                )
            case "bolt" if a.on in BOLTS:
                s.bolt, s.tight = a.on, False
                s.said = say("{bolt}.", bolt=bolt_words(a.on))
            case "heel" if a.on in HEELS:
                s.heel, s.tight = a.on, False
                s.said = say("The heel block is {heel_words}.", heel_words=HEEL_WORDS[a.on])
            case "strap" if a.on in ("left", "right"):
                s.strap_side, s.tight = a.on, False
                s.said = say("The strap lies at the {on} end.", on=a.on)
            case "second":
                s.second, s.tight = not s.second, False
                s.said = say("A second strap lies beside the first.") if s.second else say("The second strap is gone.")
            case "try":
                self._try(s)
            case _:
                raise Refused.of("action", f"{a.do} {a.on}".strip(), say("is not an action of the holding rig"))

    def _try(self, s: HoldState) -> None:
        """The cutter is run over it, spindle stopped: what it would meet."""
        found = s.said_all()
        hits = [x for x in found if x.weight is Weight.HITS]
        weak = [x for x in found if x.weight is Weight.WEAK]
        best = "good" if not hits and not weak else (hits or weak)[0].words
        s.passes.append(Pass((self._how(s), str(len(hits)), str(len(weak))), float(len(hits)), best, s.tight))
        s.said, s.warned = (
            (say("Nothing is in the way and it is held well."), False) if best == "good" else (best, True)
        )

    def _how(self, s: HoldState) -> str:
        if s.strapped:
            straps = say("two straps") if s.second else say("one strap")
            return say("{straps}, {bolt}", straps=straps, bolt=bolt_words(s.bolt) if s.bolt else say("no bolt"))
        return say("on the bed") if s.pair is None else say("on {size}", size=size(s, s.drawer[s.pair].height))

    def controls(self, s: HoldState) -> tuple[Control, ...]:
        return controls_of(s)

    def advice(self, s: HoldState) -> Advice:
        return advise(s)

    def judge(self, s: HoldState) -> tuple[list[str], str]:
        found = s.said_all()
        reasons = [x.words for x in found if x.weight is not Weight.NOTE]
        return reasons, say("The cutter met nothing but the work.") if not reasons else say(
            "The cut was not safe to make."
        )

    def scene(self, s: HoldState) -> HoldScene:
        return scene_of(s)


def _drawer(s: HoldState, eighths: list[int]) -> tuple[ParallelPair, ...]:
    """Five pairs by chance, and one that is right, so that every case can be done."""
    eighth = Fraction(254, 80)
    thin, long = Fraction(254, 80), eighth * 48
    pairs = {eighth * n for n in eighths}
    low = s.vise.depth + (s.work.height - s.cuts[0].floor) + eighth / 2 - s.work.height
    pairs.add(max(low, eighth * 3))
    return tuple(ParallelPair(h, thin, long) for h in sorted(pairs))
