"""The holding rig: a part, a vise, a drawer of parallels; or straps on the table. Choose, place, see what is hit."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, State
from incudo.core.setup.holding import (
    Cut,
    Drilled,
    Held,
    JawVise,
    ParallelPair,
    Said,
    Strap,
    Weight,
    Work,
    choose,
    hold,
    sized,
)

#: Bolt places of a strap: from the work's end and from the heel, in mm.
BOLTS = {"near": (20, 60), "middle": (40, 40), "far": (60, 20)}
HEELS = {"lower": -2, "hair-higher": 1, "much-higher": 12}
HEEL_WORDS = {"lower": "lower than the work", "hair-higher": "a hair higher", "much-higher": "much higher"}


@dataclass
class HoldState(State):
    """The case (work, cuts, drawer) and what was chosen."""

    work: Work = field(default_factory=lambda: Work(Fraction(1), Fraction(1), Fraction(1)))
    vise: JawVise = field(default_factory=lambda: JawVise(Fraction(1), Fraction(1), Fraction(1)))
    drawer: tuple[ParallelPair, ...] = ()
    cuts: tuple[Cut, ...] = ()
    holes: tuple[Drilled, ...] = ()
    rough: bool = False
    runs_out: str = ""
    strapped: bool = False
    pair: int | None = None
    chosen: bool = False
    stop: str = ""
    bar: bool = False
    tight: bool = False
    tapped: bool = False
    tried: bool = False
    bolt: str = ""
    heel: str = ""
    strap_side: str = ""

    @property
    def held(self) -> Held:
        pair = None if self.pair is None else self.drawer[self.pair]
        return hold(self.work, self.vise, pair, self.cuts, self.holes, self.setup.unit)

    @property
    def strap(self) -> Strap | None:
        if not self.bolt or not self.heel:
            return None
        a, c = BOLTS[self.bolt]
        return Strap(Fraction(a), Fraction(c), Fraction(HEELS[self.heel]))

    def said_all(self) -> list[Said]:
        """Everything that is wrong with how it is held now."""
        return [*self._strap_said()] if self.strapped else [*self._vise_said()]

    def _vise_said(self) -> list[Said]:
        found = [*self.held.said]
        if not self.chosen:
            found.append(Said(Weight.WEAK, "parallel", "Nothing is chosen to stand the work on."))
        if self.rough and not self.bar:
            words = "The rough face at the moving jaw turns the work off the fixed jaw: a soft round bar goes between."
            found.append(Said(Weight.WEAK, "bar", words))
        if not self.rough and self.bar:
            words = "Both faces are good: the round bar only lessens the grip."
            found.append(Said(Weight.WEAK, "bar", words))
        if not self.stop:
            found.append(Said(Weight.WEAK, "stop", "Without a stop the next part lies elsewhere."))
        elif self.stop == self.runs_out:
            words = f"The cut runs out at the {self.runs_out}: the cutter meets the stop."
            found.append(Said(Weight.HITS, "stop", words))
        found += self._seated()
        return found

    def _seated(self) -> list[Said]:
        if not self.tight:
            return [Said(Weight.HITS, "grip", "The vise is not tight: the work is thrown.")]
        if not self.tapped:
            words = "Tightening lifts the work off its seat: tap it down with the soft hammer."
            return [Said(Weight.WEAK, "seat", words)]
        if not self.tried:
            return [Said(Weight.WEAK, "seat", "Nobody tried the paper slips: is it seated?")]
        return []

    def _strap_said(self) -> list[Said]:
        strap = self.strap
        found = [*strap.said()] if strap else [Said(Weight.HITS, "bolt", "No strap holds the work.")]
        if self.strap_side == self.runs_out:
            found.append(
                Said(Weight.HITS, "strap", f"The cut runs out at the {self.runs_out}: the cutter meets the strap.")
            )
        if any(h.through for h in self.holes) and self.pair is None:
            found.append(
                Said(
                    Weight.HITS,
                    "bed",
                    "The drill comes out into the table: parallels under the work, none under the hole.",
                )
            )
        if not self.stop:
            found.append(Said(Weight.WEAK, "stop", "Without a stop the cut can push the work along the table."))
        if not self.tight:
            found.append(Said(Weight.HITS, "grip", "The strap is not tight: the work is thrown."))
        return found


class SaidLine(BaseModel):
    """A finding as it is shown; ``about`` says which part of the picture it is of."""

    model_config = ConfigDict(frozen=True)
    weight: Weight
    about: str
    words: str

    @classmethod
    def of(cls, said: Said) -> SaidLine:
        return cls(weight=said.weight, about=said.about, words=said.words)


class PairShown(BaseModel):
    """A pair of the drawer as it is shown."""

    model_config = ConfigDict(frozen=True)
    height: float
    thickness: float
    words: str


class CutShown(BaseModel):
    """A cut in the section, in mm from the fixed jaw and from the work's bottom."""

    model_config = ConfigDict(frozen=True)
    name: str
    near: float
    far: float
    floor: float


class HoleShown(BaseModel):
    """A hole in the section."""

    model_config = ConfigDict(frozen=True)
    name: str
    across: float
    diameter: float
    floor: float
    point: float


class Section(BaseModel):
    """Work in a vise, cut across the jaws; all in mm."""

    model_config = ConfigDict(frozen=True)
    across: float
    height: float
    jaw_depth: float
    base: float
    thickness: float
    cuts: tuple[CutShown, ...]
    holes: tuple[HoleShown, ...]
    bar: bool = False


class StrapShown(BaseModel):
    """A strap as it is drawn: its arms and how much higher its heel stands (mm), the work's share in percent."""

    model_config = ConfigDict(frozen=True)
    work_arm: float
    heel_arm: float
    heel_rise: float
    percent: int

    @classmethod
    def of(cls, strap: Strap) -> StrapShown:
        return cls(
            work_arm=float(strap.work_arm),
            heel_arm=float(strap.heel_arm),
            heel_rise=float(strap.heel_rise),
            percent=round(strap.share * 100),
        )


class HoldScene(BaseModel):
    """What is drawn of the holding rig."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["hold"] = "hold"
    section: Section
    drawer: tuple[PairShown, ...]
    pair: int | None
    stop: str
    rough: bool
    runs_out: str
    strapped: bool
    strap: StrapShown | None
    strap_side: str
    tight: bool
    slips: str
    asked: tuple[str, ...]
    found: tuple[SaidLine, ...]


def section_of(
    work: Work, vise: JawVise, pair: ParallelPair | None, cuts: tuple[Cut, ...], holes: tuple[Drilled, ...], bar: bool
) -> Section:
    """The section as it is drawn."""
    return Section(
        across=float(work.across),
        height=float(work.height),
        jaw_depth=float(vise.depth),
        base=float(pair.height) if pair else 0.0,
        thickness=float(pair.thickness) if pair else 0.0,
        cuts=tuple(CutShown(name=c.name, near=float(c.near), far=float(c.far), floor=float(c.floor)) for c in cuts),
        holes=tuple(
            HoleShown(
                name=h.name,
                across=float(h.across),
                diameter=float(h.diameter),
                floor=float(h.floor),
                point=float(h.point),
            )
            for h in holes
        ),
        bar=bar,
    )


class HoldRig(Rig[HoldState]):
    """Hold a part so that the cut meets nothing but the part."""

    id = "hold"
    name = "Holding rig"
    about = "A part, a vise, a drawer of parallels, a stop; at the last level straps on the table."
    skill = "parallels"
    heads = ("held", "hits", "weak")
    levels = (
        Level(1, "A cut in the vise", "Which parallels, where the stop, seated or not."),
        Level(2, "A rough block and a hole", "The moving jaw meets a rough face; a drill comes out below."),
        Level(3, "On the table", "Straps: bolt, heel, clear of the cutter."),
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
        s.cuts = (Cut("Step", Fraction(0), across / 3, height - depth),)
        s.strapped = level == 3
        if level > 1:
            d = eighth * r.randint(2, 3)
            place = across / 2 if r.random() < 0.5 else across * 3 / 4
            s.holes = (Drilled("Hole", s.work.along / 2, place, d, d * Fraction(3, 10), Fraction(0)),)
            s.rough = level == 2
        s.drawer = _drawer(s, r.sample(range(3, 14), 5))
        s.said = "The vise is clean and empty." if level < 3 else "The table is clean, the part stands on it."
        return s

    def task(self, s: HoldState) -> str:
        what = " and ".join(["a step at the fixed jaw's side", *("a through hole" for _ in s.holes)])
        return f"Hold the part for {what}; the step runs out at the {s.runs_out}."

    def act(self, s: HoldState, a: Action) -> None:
        match a.do:
            case "pair" if a.by in range(len(s.drawer)):
                s.pair, s.chosen, s.tight, s.tapped, s.tried = int(a.by), True, False, False, False
                s.said = f"The pair of {_size(s, s.drawer[s.pair].height)} stands in the vise."
            case "bed":
                s.pair, s.chosen, s.tight, s.tapped, s.tried = None, True, False, False, False
                s.said = "The work stands on the bed itself."
            case "stop" if a.on in ("left", "right"):
                s.stop = a.on
                s.said = f"The stop stands at the {a.on}."
            case "bar":
                s.bar, s.tight = not s.bar, False
                s.said = "A soft round bar lies at the moving jaw." if s.bar else "The bar is put away."
            case "tighten":
                s.tight, s.tapped, s.tried = True, False, False
                s.said = "Tight. The moving jaw lifted the work a little." if not s.strapped else "Tight."
            case "tap":
                s.tapped = s.tight
                s.said = "Tapped down: a dull sound." if s.tight else "Nothing holds it: tighten first."
            case "slips":
                s.tried = s.tight and s.tapped
                s.said = "The slips hold: it is seated." if s.tried else "The slips can be pulled: it is not seated."
            case "bolt" if a.on in BOLTS:
                s.bolt, s.tight = a.on, False
                s.said = f"The bolt stands {a.on} {'the work' if a.on == 'near' else ''}".strip() + "."
            case "heel" if a.on in HEELS:
                s.heel, s.tight = a.on, False
                s.said = f"The heel block is {HEEL_WORDS[a.on]}."
            case "strap" if a.on in ("left", "right"):
                s.strap_side, s.tight = a.on, False
                s.said = f"The strap lies at the {a.on} end."
            case "try":
                self._try(s)
            case _:
                raise Refused.of("action", f"{a.do} {a.on}".strip(), "is no action of the holding rig")

    def _try(self, s: HoldState) -> None:
        """The cutter is run over it, spindle standing: what it would meet."""
        found = s.said_all()
        hits = [x for x in found if x.weight is Weight.HITS]
        weak = [x for x in found if x.weight is Weight.WEAK]
        best = "good" if not hits and not weak else (hits or weak)[0].words
        s.passes.append(Pass((self._how(s), str(len(hits)), str(len(weak))), float(len(hits)), best, s.tight))
        s.said, s.warned = ("Nothing is in the way and it is held well.", False) if best == "good" else (best, True)

    def _how(self, s: HoldState) -> str:
        if s.strapped:
            return f"strap, bolt {s.bolt or 'nowhere'}"
        return "on the bed" if s.pair is None else f"on {_size(s, s.drawer[s.pair].height)}"

    def controls(self, s: HoldState) -> tuple[Control, ...]:
        found = [
            Control(Action(do="pair", by=i), f"Parallels {_size(s, p.height)}", "Stand it on")
            for i, p in enumerate(s.drawer)
        ]
        found.append(Control(Action(do="bed"), "Nothing: on the bed", "Stand it on"))
        found += [Control(Action(do="stop", on=x), f"Stop at the {x}", "Stop") for x in ("left", "right")]
        if s.strapped:
            found += [Control(Action(do="strap", on=x), f"Strap at the {x} end", "Strap") for x in ("left", "right")]
            found += [Control(Action(do="bolt", on=x), _bolt_words(x), "Strap") for x in BOLTS]
            found += [Control(Action(do="heel", on=x), f"Heel {HEEL_WORDS[x]}", "Strap") for x in HEELS]
        else:
            found.append(
                Control(Action(do="bar"), "Put the bar away" if s.bar else "Soft round bar at the moving jaw", "Jaws")
            )
            found += [
                Control(Action(do="tap"), "Tap it down", "Seat"),
                Control(Action(do="slips"), "Try the paper slips", "Seat"),
            ]
        found.append(Control(Action(do="tighten"), "Tighten", "Seat"))
        found.append(Control(Action(do="try"), "Run the cutter over it, spindle standing", "Look"))
        return tuple(found)

    def advice(self, s: HoldState) -> Advice:
        free = "left" if s.runs_out == "right" else "right"
        if s.strapped:
            return self._strap_advice(s, free)
        best = choose(s.work, s.vise, s.drawer, s.cuts, s.holes, s.setup.unit)[0].pair
        wanted = None if best is None else s.drawer.index(best)
        if not s.chosen or s.pair != wanted:
            if wanted is None:
                return Advice(Action(do="bed"), "No pair is right here: the bed itself holds it best.")
            return Advice(
                Action(do="pair", by=wanted),
                f"Proud by the cut and a little, gripped by a third: the pair of {_size(s, s.drawer[wanted].height)}.",
            )
        if s.bar != s.rough:
            why = "The face at the moving jaw is rough: put the soft round bar between." if s.rough else "No bar here."
            return Advice(Action(do="bar"), why)
        if s.stop != free:
            return Advice(
                Action(do="stop", on=free), f"The cut runs out at the {s.runs_out}: the stop goes to the {free}."
            )
        for ready, what, words in (
            (s.tight, "tighten", "Tighten the vise."),
            (s.tapped, "tap", "Tightening lifts the work: tap it down."),
            (s.tried, "slips", "Try the paper slips: they must not pull out."),
            (
                bool(s.passes and s.passes[-1].words == "good"),
                "try",
                "Run the cutter over it with the spindle standing.",
            ),
        ):
            if not ready:
                return Advice(Action(do=what), words)
        return Advice(Action(do="finish"), "Nothing in the way, held well: finish.")

    def _strap_advice(self, s: HoldState, free: str) -> Advice:
        through = any(h.through for h in s.holes)
        for ready, action, words in (
            (
                s.pair is not None or not through,
                Action(do="pair", by=0),
                "A drill comes out below: parallels under the work.",
            ),
            (s.stop == free, Action(do="stop", on=free), f"A stop at the {free}, where the cut does not run out."),
            (s.strap_side == free, Action(do="strap", on=free), f"The strap at the {free}, clear of the cutter."),
            (
                s.bolt == "near",
                Action(do="bolt", on="near"),
                "The bolt close to the work: most of its force holds there.",
            ),
            (s.heel == "hair-higher", Action(do="heel", on="hair-higher"), "The heel a hair higher than the work."),
            (s.tight, Action(do="tighten"), "Tighten."),
            (
                bool(s.passes and s.passes[-1].words == "good"),
                Action(do="try"),
                "Run the cutter over it with the spindle standing.",
            ),
        ):
            if not ready:
                return Advice(action, words)
        return Advice(Action(do="finish"), "Nothing in the way, held well: finish.")

    def judge(self, s: HoldState) -> tuple[list[str], str]:
        found = s.said_all()
        reasons = [x.words for x in found if x.weight is not Weight.NOTE]
        return reasons, "The cutter met nothing but the work." if not reasons else "The cut was not safe to make."

    def scene(self, s: HoldState) -> HoldScene:
        tried = bool(s.passes) or s.finished
        pair = None if s.pair is None else s.drawer[s.pair]
        vise = replace(s.vise, depth=Fraction(0)) if s.strapped else s.vise
        strap = s.strap
        return HoldScene(
            section=section_of(s.work, vise, pair, s.cuts, s.holes, s.bar),
            drawer=tuple(
                PairShown(height=float(p.height), thickness=float(p.thickness), words=_size(s, p.height))
                for p in s.drawer
            ),
            pair=s.pair,
            stop=s.stop,
            rough=s.rough,
            runs_out=s.runs_out,
            strapped=s.strapped,
            strap=StrapShown.of(strap) if strap else None,
            strap_side=s.strap_side,
            tight=s.tight,
            slips="held" if s.tried else "",
            asked=self._asked(s),
            found=tuple(SaidLine.of(x) for x in s.said_all()) if tried else (),
        )

    def _asked(self, s: HoldState) -> tuple[str, ...]:
        c = s.cuts[0]
        across, along, height = (_size(s, x) for x in (s.work.across, s.work.along, s.work.height))
        lines = [
            f"Work: {across} across the jaws, {along} along, {height} high.",
            f"Step: {_size(s, s.work.height - c.floor)} deep at the fixed jaw's side, runs out at the {s.runs_out}.",
        ]
        if not s.strapped:
            lines.append(f"Jaws: {_size(s, s.vise.depth)} above the bed.")
        lines += [f"Hole: {_size(s, h.diameter)} through, {_size(s, h.across)} from the fixed jaw." for h in s.holes]
        return tuple(lines)


def _bolt_words(where: str) -> str:
    return {"near": "Bolt close to the work", "middle": "Bolt in the middle", "far": "Bolt close to the heel"}[where]


def _size(s: HoldState, value: Fraction) -> str:
    return sized(value, s.setup.unit)


def _drawer(s: HoldState, eighths: list[int]) -> tuple[ParallelPair, ...]:
    """Five pairs by chance, and one that is right, so that every case can be done."""
    eighth = Fraction(254, 80)
    thin, long = Fraction(254, 80), eighth * 48
    pairs = {eighth * n for n in eighths}
    low = s.vise.depth + (s.work.height - s.cuts[0].floor) + eighth / 2 - s.work.height
    pairs.add(max(low, eighth * 3))
    return tuple(ParallelPair(h, thin, long) for h in sorted(pairs))
