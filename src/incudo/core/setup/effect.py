"""What a head or a vise out of true does to the part, against what its drawing allows."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.parts.project import Block, BoxCut, Hole, Project, RoundBar
from incudo.core.setup.guide import small
from incudo.core.setup.jaw import Frame, JawSweep, chain
from incudo.core.setup.tram import HeadAxis, Sweep, hollow, lean, step


@dataclass(frozen=True)
class Job:
    """What of a part setup errors act on, in mm: its length and width, deepest hole, tallest wall, narrowest limits."""

    name: str
    length: Fraction
    width: Fraction
    hole: Fraction
    wall: Fraction
    narrowest: Fraction | None
    narrowest_name: str


def job_of(p: Project) -> Job:
    """The sizes of a project that setup errors act on."""

    def mm(text: str) -> Fraction:
        return p.length(text).mm

    match p.solid:
        case Block():
            size = (mm(p.solid.x), mm(p.solid.y))
        case RoundBar():
            size = (mm(p.solid.length), mm(p.solid.diameter))
    holes = [abs(mm(c.start) - mm(c.end)) for c in p.cuts if isinstance(c, Hole)]
    walls = [abs(mm(c.z[1]) - mm(c.z[0])) for c in p.cuts if isinstance(c, BoxCut)]
    widths = [(w, c.name) for c in p.characteristics if (w := p.width(c))]
    narrow = min(widths, default=None)
    return Job(
        p.name,
        *size,
        max(holes, default=Fraction(0)),
        max(walls, default=Fraction(0)),
        narrow[0] if narrow else None,
        narrow[1] if narrow else "",
    )


@dataclass(frozen=True)
class Effect:
    """One effect on the part: in words, in mm, and as a share of the narrowest limits of the drawing."""

    words: str
    mm: float
    share: float | None

    @property
    def share_words(self) -> str:
        """How much of the narrowest limits this takes up."""
        if self.share is None:
            return ""
        if self.share < 0.05:
            return say("next to nothing of what the drawing allows")
        if self.share <= 1:
            return say("{share} % of the narrowest limits", share=round(self.share * 100))
        return say("{share} times the narrowest limits: this cannot be in", share=f"{self.share:.1f}")


def head_effects(sweeps: Mapping[HeadAxis, Sweep], cutter: Fraction, job: Job | None, unit: Unit) -> tuple[Effect, ...]:
    """What the head's angles do: a facing cut along X, holes by the quill, walls by the cutter's side."""
    width = min(cutter, job.width) if job else cutter * 2 / 3
    found: list[tuple[str, float]] = []
    tilt, nod = sweeps.get(HeadAxis.TILT), sweeps.get(HeadAxis.NOD)
    if tilt:
        deep = hollow(tilt.angle, cutter, width)
        found.append(
            (
                say(
                    "a {small} face cut along X, {small2} wide, is hollow by",
                    small=small(cutter, unit),
                    small2=small(width, unit),
                ),
                deep,
            )
        )
    if nod:
        found.append(
            (
                say("each facing pass along X slopes over its {small} by", small=small(width, unit)),
                step(nod.angle, width),
            ),
        )
    worst = max((abs(s.angle) for s in sweeps.values()), default=0.0)
    if job and job.hole:
        # a hole leans both ways at once: to the side by the tilt, to the front or rear by the nod
        both = math.hypot(*(lean(s.angle, job.hole) for s in sweeps.values()))
        found.append((say("holes {small} deep by the quill lean by", small=small(job.hole, unit)), both))
    if job and job.wall:
        found.append(
            (say("walls {small} high by the cutter's side lean by", small=small(job.wall, unit)), lean(worst, job.wall))
        )
    return _effects(found, job, unit)


def vise_effects(s: JawSweep, job: Job | None, jaw: Fraction, unit: Unit) -> tuple[Effect, ...]:
    """The taper over this job's lengths, or over the jaw.

    The jaw was read from the spindle, which cancels table, base and vise: it is the chain's only member.
    """
    members = (Frame(say("jaw, read from the spindle"), s.slope),)
    lengths = [("length", job.length), ("width", job.width)] if job else [("jaw", jaw)]
    found = [
        (
            say("over the {name} of {small} the part tapers by", name=name, small=small(x, unit)),
            float(abs(chain(members, x))),
        )
        for name, x in lengths
    ]
    return _effects(found, job, unit)


def _effects(found: Sequence[tuple[str, float]], job: Job | None, unit: Unit) -> tuple[Effect, ...]:
    limit = job.narrowest if job else None
    return tuple(Effect(f"{words} {small(mm, unit)}", mm, mm / float(limit) if limit else None) for words, mm in found)
