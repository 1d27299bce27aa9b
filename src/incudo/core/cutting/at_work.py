"""What is known while a card is worked through: which cutter is in, what the zeros are, where the table stands."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import takewhile
from math import ceil

from incudo.core.cutting.slides import Slides, set_to
from incudo.core.cutting.step import RunStep, StepKind, Zero
from incudo.core.kernel.quantity import Unit, in_places
from incudo.core.kernel.say import capital, say, together
from incudo.core.parts.features.frame import SIDES, Axle, Plane, RoundWall
from incudo.core.parts.holds import Hold
from incudo.core.planning.course import Course
from incudo.core.planning.file import KEPT, STOP, OperationKind
from incudo.core.planning.kinds import kind_words, skills_for
from incudo.core.planning.limits import CHANGE, MEASURING, flute
from incudo.core.planning.piece import exact
from incudo.core.planning.rules.reaching import standings_out
from incudo.core.planning.settle import Settled
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.inputs import shown

_SIDES_WORDS = {
    ("x", 1): say("from the left"),
    ("x", -1): say("from the right"),
    ("y", 1): say("from the front"),
    ("y", -1): say("from the rear"),
}


@dataclass
class AtWork:
    """The state of the machine between one step and the next."""

    course: Course
    slides: Slides
    readings: Mapping[str, Fraction]
    cutter: str = ""
    #: Along each axis what the zero is on; of Z with the cutter that touched it.
    zeros: dict[str, str] = field(default_factory=dict)

    def held_anew(self) -> None:
        """The work was put in anew: no zero holds any more."""
        self.zeros.clear()

    def length(self, mm: Fraction) -> str:
        """A length in the drawing's unit, as one sets it."""
        return set_to(mm, self.course.piece.unit)

    # ── before the first chip ─────────────────────────────────────────────

    def cutter_in(self, stage: Stage) -> Iterator[RunStep]:
        """The cutter of an operation, unless it is in already."""
        name = stage.operation.cutter
        if not name or name == self.cutter:
            return
        self.cutter = name
        self.zeros.pop("z", None)
        arbor = stage.cutter is not None and stage.cutter.on_arbor
        if arbor:
            # zeros along Y are touched with its side
            self.zeros.pop("y", None)
        holders = self.course.shop.holders
        holder = holders.get(stage.operation.holder or (stage.cutter.holder if stage.cutter else ""))
        do = [say("{name}, held in the {holder}.", name=name, holder=holder.name.lower()) if holder else name]
        if arbor:
            do = [
                say("{name}, on the {holder}.", name=name, holder=holder.name.lower()) if holder else name,
                say("Key in, close to the column, with collars on both sides up to the support."),
                say("Seen from the front, its teeth point clockwise and the spindle turns clockwise."),
            ]
        if stage.cutter is not None and stage.cutter.measured:
            do.append(say("It measures {real}.", real=self.length(stage.cutter.real)))
        least = self._standing_out(stage)
        if least is not None:
            do.append(
                say(
                    "Stick-out at least {least}, and not much more: the holder must clear what rises beside the cut.",
                    least=self._by_rule(least),
                )
            )
        yield RunStep(
            id=f"{stage.operation.id}.cutter",
            kind=StepKind.CUTTER,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=say("Put the cutter in"),
            do=tuple(do),
            why=(
                say("Wipe the bore, the collars and the arbor; check the cutting edges.")
                if arbor
                else say("Wipe taper and shank; check the cutting edges."),
            ),
            cautions=(
                say("Isolate the spindle first. Hold the cutter with a rag. Remove wrench and key before you start."),
                *(holder.cautions if holder else ()),
            ),
            seconds=Fraction(CHANGE),
        )

    def _by_rule(self, mm: Fraction) -> str:
        """A length that is set by a rule, rounded up: to a millimetre, or a twentieth of an inch."""
        unit = self.course.piece.unit
        step = Fraction(1) if unit is Unit.MM else Fraction(1, 20)
        return f"{in_places(ceil(mm / unit.in_mm / step) * step, 0 if unit is Unit.MM else 2)} {unit}"

    def _standing_out(self, stage: Stage) -> Fraction | None:
        """How far a cutter must stand out for all that it does until it is changed; none where the flutes do."""
        cutter = stage.cutter
        follow = takewhile(
            lambda s: s.operation.cutter in ("", stage.operation.cutter), self.course.stages[stage.index :]
        )
        indices = {s.index for s in follow}
        found = [w.least for s, w in standings_out(self.course) if s.index in indices]
        least = max(found, default=Fraction(0))
        return least if cutter is not None and least > flute(cutter) else None

    def found(self, stage: Stage, axis: str) -> Iterator[RunStep]:
        """The zero along X or Y that an operation asks for, unless it stands."""
        name = getattr(stage.operation, axis)
        slide = self.slides.of.get(axis)
        if not name or name == KEPT or slide is None or self.zeros.get(axis) == name:
            return
        if axis in self.zeros and self._made_here(stage, name):
            # its place is known by the same dial: it was made in this holding
            return
        at, side, what = self._zero_at(stage, axis, name)
        self.zeros[axis] = name
        slide.set_zero(at, side)
        do = [
            say(
                "{what}: approach it {side}. Over it, set the {axis} dial to 0.",
                what=capital(what),
                side=_SIDES_WORDS[axis, side],
                axis=axis.upper(),
            )
        ]
        do += self.readout_too(axis)
        why = [say("Allow for half the tip of the edge finder. Touch twice; both must agree.")]
        if name == STOP:
            do = [
                say(
                    "The {axis} zero stays at the stop. Check that no chip is behind the work.",
                    axis=axis.upper(),
                )
            ]
            why = []
        yield RunStep(
            id=f"{stage.operation.id}.zero-{axis}",
            kind=StepKind.ZERO,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=say("Zero along {axis}: {what}", axis=axis.upper(), what=what),
            zero=Zero(axis, at, side, self._on(stage, axis, name), "stop" if name == STOP else "finder"),
            do=tuple(do),
            why=tuple(why),
            cautions=(say("Approach slowly by hand. Hold the handle still while you set the dial ring."),),
            seconds=Fraction(MEASURING),
        )

    def sided(self, stage: Stage, width: Fraction) -> Iterator[RunStep]:
        """The zero along Y of a cutter on an arbor: its side touches the face. ``width`` is how wide it is, mm."""
        name = stage.operation.y
        slide = self.slides.of.get("y")
        if not name or name == KEPT or slide is None or self.zeros.get("y") == name:
            return
        at, side, what = self._zero_at(stage, "y", name)
        place = at - side * width / 2
        self.zeros["y"] = name
        slide.set_zero(place, side)
        yield RunStep(
            id=f"{stage.operation.id}.zero-y",
            kind=StepKind.ZERO,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=say("Zero along Y: {what}", what=what),
            zero=Zero("y", place, side, self._on(stage, "y", name), "side"),
            do=(
                say(
                    "{what}: raise the knee until the teeth of the stopped cutter stand beside it. Approach it {side} "
                    "until a strip of paper drags, allow for the paper, and set the Y dial to 0.",
                    what=capital(what),
                    side=_SIDES_WORDS["y", side],
                ),
                *self.readout_too("y"),
            ),
            why=(say("Its middle then stands half its width from the face: the places count from there."),),
            cautions=(say("Spindle stopped and isolated. The teeth cut standing still: keep fingers off the edges."),),
            seconds=Fraction(MEASURING),
        )

    def readout_too(self, axis: str) -> tuple[str, ...]:
        """What is set to 0 with the dial, on an axis that has a readout: passes say what it shows."""
        said = say("Set the readout to 0 there as well: {axis}.", axis=axis.upper())
        return (said,) if self.slides.of[axis].ring.readout else ()

    def _made_here(self, stage: Stage, name: str) -> bool:
        """Whether what a zero is on was made in this holding, before this operation."""
        thing = self.course.named(name)
        before = self.course.stages[: stage.index]
        return thing is not None and any(
            thing.feature in s.operation.of for s in before if thing.feature and s.holding.id == stage.holding.id
        )

    def _zero_at(self, stage: Stage, axis: str, name: str) -> tuple[Fraction, int, str]:
        """Where a zero is along a machine axis, from which side it is come to, and what it is called."""
        number = "xyz".index(axis)
        place, k = stage.place, stage.piece.unit.in_mm
        low = 1 if stage.holding.found == "low" else -1
        if name == STOP:
            out = 1 if stage.holding.stop == "right" else -1
            return exact(stage.block_at_start[out > 0][number]), -out, say("the work stop")
        words = self.course.piece.words(name)
        if name in SIDES:
            part_axis, out = SIDES[name]
            looks = out * place.signs[place.along(part_axis)]
            return exact(stage.block[looks > 0][number]), -looks, words
        thing = self.course.named(name)
        sign, part_axis = place.signs[number], place.axes[number]
        match thing:
            case Plane():
                looks = thing.out * sign
                return Fraction(thing.at) * k * sign, -looks or low, words
            case Axle() | RoundWall():
                return Fraction(thing.centre[part_axis]) * k * sign, low, words
        return exact(stage.block[0][number]), low, words

    def _on(self, stage: Stage, axis: str, name: str) -> str:
        """The name of what a zero is on; of the stop that of the face that lies against it."""
        if name != STOP:
            return name
        return stage.place.face_at("xyz".index(axis), 1 if stage.holding.stop == "right" else -1)

    def touched(self, stage: Stage, top: Fraction, what: str, name: str, on: str = "") -> Iterator[RunStep]:
        """The zero along Z: the cutter touches a face at height ``top``; with each cutter anew."""
        slide = self.slides.of.get("z")
        if slide is None or self.zeros.get("z") == name:
            return
        self.zeros["z"] = name
        slide.set_zero(top, -1)
        yield RunStep(
            id=f"{stage.operation.id}.zero-z",
            kind=StepKind.ZERO,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=say("Zero along Z: {what}", what=what),
            zero=Zero("z", top, -1, on or name, "end"),
            do=(
                say("Touch off on {what}. Set the {axis} dial to 0 there.", what=what, axis=slide.ring.axis),
                *self.readout_too("z"),
            ),
            why=(
                say(
                    "With the spindle running: until it just marks the face. Stopped: until a strip of paper of known "
                    "thickness drags; add the paper."
                ),
                say("Then lower the work well clear."),
            ),
            cautions=(say("Keep paper and fingers away from a running cutter."),),
            seconds=Fraction(MEASURING),
        )

    def top_of(self, stage: Stage) -> tuple[Fraction, str]:
        """The height that depths are counted from in an operation, and what lies there."""
        name = stage.operation.z
        if name and name != KEPT:
            at, _, what = self._zero_at(stage, "z", name)
            return at, what
        return exact(stage.block[1][2]), self.course.piece.words(stage.holding.up)

    def set_up(self, stage: Stage, n: Settled, *more: str) -> RunStep:
        """Speed, feed, locks and fluid, before the spindle turns."""
        shop = self.course.shop
        do: list[str] = []
        if n.speed:
            do.append(say("Spindle {speed} rpm.", speed=shown(n.speed, 0)))
            if shop.machine.spindle.steps and not shop.machine.spindle.changes_running:
                do.append(say("Isolate the spindle before you change belt or gears."))
        do += more
        if n.lock:
            do.append(say("Locked while it cuts: {axes}.", axes=together((a.upper() for a in n.lock), ", ")))
        fluid = shop.stock.material.fluid
        return RunStep(
            id=f"{stage.operation.id}.set",
            kind=StepKind.SET,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=self.title(stage),
            do=tuple(do),
            why=(say("Fluid: {fluid}.", fluid=fluid),) if fluid else (),
            cautions=(
                say("Eye protection on, sleeves up, cutter clear of the work, one hand near the stop.")
                if stage.kind is not OperationKind.TAP
                else say("Eye protection on: a tap that is forced shatters. Nobody starts the spindle."),
            ),
            starts=True,
            skill=next(iter(skills_for(stage.kind, None)), ""),
            per_turn=None if n.by_power else n.per_turn,
            holds=(Hold.FIRST_START,),
        )

    def title(self, stage: Stage) -> str:
        """What is done, and on what; what has no name of its own is not named twice."""
        kind = kind_words()[stage.kind]
        of = self.course.words(stage)
        return kind if not of or kind.endswith(of) else say("{kind}: {of}", kind=kind, of=of)
