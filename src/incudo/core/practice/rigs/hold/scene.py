"""What is drawn of the holding rig: a section."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.say import Text, say
from incudo.core.practice.rigs.hold.state import HoldState, size
from incudo.core.setup.holding import (
    Cut,
    Drilled,
    JawVise,
    ParallelPair,
    Said,
    Strap,
    Weight,
    Work,
)


class SaidLine(BaseModel):
    """A finding as it is shown; ``about`` says which part of the picture it is of."""

    model_config = ConfigDict(frozen=True)
    weight: Weight
    about: Text
    words: Text

    @classmethod
    def of(cls, said: Said) -> SaidLine:
        return cls(weight=said.weight, about=said.about, words=said.words)


class PairShown(BaseModel):
    """A pair of the drawer as it is shown."""

    model_config = ConfigDict(frozen=True)
    height: float
    thickness: float
    words: Text


class CutShown(BaseModel):
    """A cut in the section, in mm from the fixed jaw and from the work's bottom."""

    model_config = ConfigDict(frozen=True)
    name: Text
    near: float
    far: float
    floor: float


class HoleShown(BaseModel):
    """A hole in the section."""

    model_config = ConfigDict(frozen=True)
    name: Text
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
    stop: Text
    rough: bool
    runs_out: Text
    strapped: bool
    strap: StrapShown | None
    strap_side: Text
    second: bool
    tight: bool
    slips: Text
    asked: tuple[Text, ...]
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


def scene_of(s: HoldState) -> HoldScene:
    """What is drawn of the state; lengths in mm."""
    tried = bool(s.passes) or s.finished
    pair = None if s.pair is None else s.drawer[s.pair]
    vise = replace(s.vise, depth=Fraction(0)) if s.strapped else s.vise
    strap = s.strap
    return HoldScene(
        section=section_of(s.work, vise, pair, s.cuts, s.holes, s.bar),
        drawer=tuple(
            PairShown(height=float(p.height), thickness=float(p.thickness), words=size(s, p.height)) for p in s.drawer
        ),
        pair=s.pair,
        stop=s.stop,
        rough=s.rough,
        runs_out=s.runs_out,
        strapped=s.strapped,
        strap=StrapShown.of(strap) if strap else None,
        strap_side=s.strap_side,
        second=s.second,
        tight=s.tight,
        slips="held" if s.tried else "",
        asked=asked_of(s),
        found=tuple(SaidLine.of(x) for x in s.said_all()) if tried else (),
    )


def asked_of(s: HoldState) -> tuple[str, ...]:
    """The task in lines: the work, what is cut, what is drilled."""
    c = s.cuts[0]
    across, along, height = (size(s, x) for x in (s.work.across, s.work.along, s.work.height))
    lines = [
        say("Work: {across} across the jaws, {along} along, {height} high.", across=across, along=along, height=height),
        say(
            "Step: {size} deep at the fixed jaw's side, runs out at the {runs_out}.",
            size=size(s, s.work.height - c.floor),
            runs_out=s.runs_out,
        ),
    ]
    if not s.strapped:
        lines.append(say("Jaws: {size} above the bed.", size=size(s, s.vise.depth)))
    lines += [
        say("Hole: {size} through, {size2} from the fixed jaw.", size=size(s, h.diameter), size2=size(s, h.across))
        for h in s.holes
    ]
    return tuple(lines)
