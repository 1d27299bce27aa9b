"""A run card worked through on a simulated machine of the same kind, step by step. Lengths in mm.

The machine has the play of the real one, its cutters their real diameters. Where the cutter truly stands is never
asked of the card: the screws know it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction

from incudo.core.cutting.card import run_card
from incudo.core.cutting.dry import causes
from incudo.core.cutting.dry.acts import Act, Do, Hands, reach, told
from incudo.core.cutting.dry.came_out import CameOut, CameOutOf, seen
from incudo.core.cutting.dry.causes import Cause, Code, Off, fine_of
from incudo.core.cutting.dry.lie import Stands
from incudo.core.cutting.dry.slips import Slip, slips_at
from incudo.core.cutting.dry.workpiece import Stand, Wide, Workpiece
from incudo.core.cutting.measure import Judged, judge_reading
from incudo.core.cutting.milled import runs_free
from incudo.core.cutting.slides import Go, Ring, Slides
from incudo.core.cutting.step import RunStep, StepKind, Zero
from incudo.core.kernel.say import say
from incudo.core.locating.screw import Screw
from incudo.core.planning.course import Course
from incudo.core.planning.file import PlanHolding
from incudo.core.planning.gripping import vise_of
from incudo.core.planning.kinds import MILLING
from incudo.core.planning.piece import exact
from incudo.core.planning.stages import Stage
from incudo.core.shop.machine import Axis

_NONE = Off()


@dataclass
class DryRun:
    """A run card that is worked through; ``at`` is the step that comes next."""

    course: Course
    rings: Mapping[Axis, Ring]
    at: int = 0
    readings: dict[str, Fraction] = field(default_factory=dict)
    #: How the machine stands before anybody does anything.
    stands: Stands = field(default_factory=Stands)
    #: Cards by what was read; runs of one course on one machine share them.
    cards: dict[tuple[tuple[str, Fraction], ...], tuple[RunStep, ...]] = field(default_factory=dict, repr=False)

    def __post_init__(self) -> None:
        self.slides = Slides.on(self.rings)
        self.screws = {a: Screw(s.ring.dial) for a, s in self.slides.of.items()}
        self.part = Workpiece(self.course)
        self.steps = self._card()
        #: What was read at each step and what was made of it, whether or not the card took it.
        self.read: dict[str, tuple[Fraction, Judged]] = {}
        #: Every act so far that left something off, whether or not it shows on the part.
        self.causes: list[Cause] = []
        self._off: dict[str, Off] = {}
        self._drift = dict.fromkeys("xyz", Fraction(0))
        self._zeros: dict[str, Fraction] = {}
        #: Where along each axis the zero is by the card.
        self.zero_at: dict[str, Fraction] = {}
        self._wide: tuple[Fraction, Cause] | None = None
        #: By what the last pass of a measured operation is set: a misreading, or what was wrong along that axis.
        self._set_by: dict[str, tuple[str, tuple[Cause, ...]]] = {}
        self._stages = {s.operation.id: s for s in self.course.stages}
        self._tilt = self.stands.tilt

    @property
    def now(self) -> RunStep | None:
        """The step that comes next; none when the card is done."""
        return self.steps[self.at] if self.at < len(self.steps) else None

    def finish(self) -> DryRun:
        """Do the rest as the card says."""
        while self.now is not None:
            self.do(told(self.now, self.slides))
        return self

    def stands_in(self, holding: PlanHolding) -> Stands:
        """How the machine stands for a holding: another vise than the one that was indicated last is taken as true."""
        vise = vise_of(self.course, holding)
        ours = vise is None or self.stands.vise in ("", vise.name)
        return self.stands if ours else replace(self.stands, jaw=Off())

    def came_out(self) -> tuple[CameOut, ...]:
        """The drawing's lengths on the part as it is now."""
        return CameOutOf(self.part).come_out()

    def do(self, hands: Hands) -> None:
        """Do the next step with these hands."""
        step = self.now
        assert step is not None  # noqa: S101 (asked of a run that is going on)
        right = told(step, self.slides)
        match step.kind:
            case StepKind.HOLD:
                self._off, self._drift = {}, dict.fromkeys("xyz", Fraction(0))
                self._hold(step, hands)
            case StepKind.CUTTER:
                self._put_in(step, hands)
            case StepKind.ZERO:
                self._find(step, right, hands)
            case StepKind.MEASURE:
                self._measure(step, hands)
            case StepKind.PASS | StepKind.HOLE:
                self._cut(step, right, hands)
        self.at += 1

    def _card(self) -> tuple[RunStep, ...]:
        read = tuple(self.readings.items())
        if read not in self.cards:
            self.cards[read] = run_card(self.course, self.rings, self.readings)
        return self.cards[read]

    def _keep(self, cause: Cause) -> Cause:
        self.causes.append(cause)
        return cause

    # ── what each step does ───────────────────────────────────────────────

    def _hold(self, step: RunStep, hands: Hands) -> None:
        """The work lies as it was put in, jaw and head stand as they were left."""
        stage = next((s for s in self.course.stages if s.holding.id == step.holding), None)
        if stage is None:
            return
        unit = self.course.piece.unit
        far = reach(unit)
        over = f"{far.text} {far.unit}"
        if hands.lean:
            # it stays so for the holdings after this one
            act = say("The head was out of tram side to side, over {reach}", reach=over)
            self._tilt = self._out(step, Code.HEAD, hands.lean, far.mm, act)
        jaw, seat = self.stands_in(stage.holding).jaw, self.stands.seat
        if hands.jaw:
            act = say("The fixed jaw was out of line with the table, over {reach}", reach=over)
            jaw = self._out(step, Code.JAW, hands.jaw, far.mm, act)
        if hands.chip:
            low, high = stage.block_at_start
            act = say("A chip lay under the left end of the work")
            seat = self._out(step, Code.CHIP, hands.chip, exact(high[0] - low[0]), act)
        self.part.lie.hold(stage, Stands(seat, jaw, self._tilt, self.stands.nod))

    def _out(self, step: RunStep, code: Code, size: Fraction, over: Fraction, act: str) -> Off:
        cause = self._keep(Cause(step.id, code, "", size, act, self.course.piece.unit))
        return Off(size / over, (cause,))

    def _put_in(self, step: RunStep, hands: Hands) -> None:
        stage = self._stages[step.operation]
        self._wide = None
        if hands.wide and stage.cutter is not None and hands.wide != stage.cutter.width:
            unit = self.course.piece.unit
            self._wide = (hands.wide, self._keep(causes.of_cutter(step, hands.wide, stage.cutter.width, unit)))

    def wide(self, stage: Stage) -> Wide:
        """The cutter that is in the spindle during an operation."""
        planned = stage.cutter.width if stage.cutter is not None else Fraction(0)
        if self._wide is None:
            return Wide(planned, planned)
        return Wide(self._wide[0], planned, self._wide[1])

    def _find(self, step: RunStep, right: Hands, hands: Hands) -> None:
        zero = step.zero
        assert zero is not None  # noqa: S101 (a step of this kind has one)
        stage = self._stages[step.operation]
        ring, fine = self._ring(zero.axis), fine_of(self._ring(zero.axis))
        number = "xyz".index(zero.axis)
        face = self.part.off_machine(stage, zero.on, number)
        done = []
        for act in hands.first:
            if act.do is Do.TOUCH:
                self._drift[zero.axis] = Fraction(0)
                self._touch(stage, zero, act, face.mm)
            done.append(self._act(act))
        screw = self.screws[zero.axis]
        # where the cutter stands when the dial shows 0, come to from the side of the zero
        stands = screw.ring + (screw.dial.backlash if zero.side == -1 else 0)
        shows_zero = stands + self._drift[zero.axis]
        off = shows_zero - zero.place
        own = off - face.mm - self._wider(stage, zero)
        cause = self._keep(causes.at_zero(step, ring, right.first, done, own)) if causes.is_felt(own, fine) else None
        self._off[zero.axis] = Off(off, (*face.causes, cause) if cause else face.causes)
        self._zeros[zero.axis] = stands
        self.zero_at[zero.axis] = zero.place

    def _wider(self, stage: Stage, zero: Zero) -> Fraction:
        """How much further out the middle of another cutter stands when its side touches."""
        wide = self.wide(stage)
        return -zero.side * (wide.real - wide.planned) / 2 if zero.by == "side" else Fraction(0)

    def _touch(self, stage: Stage, zero: Zero, act: Act, face: Fraction) -> None:
        place = zero.place + face + self._wider(stage, zero) - act.sign * act.travel
        self.screws[zero.axis].stand(place, act.sign)

    def _measure(self, step: RunStep, hands: Hands) -> None:
        check = step.check
        if check is None:
            return
        read = self.measured(step) + hands.misread
        unit = self.course.piece.unit
        judged = judge_reading(check, read, self._ring(check.axis).dial.turn, unit)
        self.read[step.id] = read, judged
        if judged.good:
            self.readings[step.id] = read
            self.steps = self._card()
            wrong = self._off.get(check.axis, _NONE).causes
            if hands.misread:
                wrong = (self._keep(causes.misread(step, hands.misread, check.axis, unit)),)
            self._set_by[step.operation] = (check.axis, wrong)

    def measured(self, step: RunStep) -> Fraction:
        """What is to be read at a step that asks for a measurement, as the part is now."""
        check = step.check
        assert check is not None  # noqa: S101 (asked of such a step)
        if check.number:
            true = CameOutOf(self.part).size(check.number)
        else:
            stage = self._stages[step.operation]
            top = stage.operation.z if stage.operation.z in self.course.piece.slabs else stage.holding.up
            true = check.aim + self.part.floor(stage) + self.part.off_machine(stage, top, 2).mm
        return seen(true, self.course.piece.unit)

    def _cut(self, step: RunStep, right: Hands, hands: Hands) -> None:
        stage = self._stages[step.operation]
        stands: list[Stand] = []
        deep = "z" if stage.kind in MILLING else ""
        set_on = next((n for n, go in enumerate(step.go) if go.axis == deep), 0)
        for number, go in enumerate(step.go):
            self._go(step, go, right.gos[number], *hands.gos[number : number + 1])
            if number >= set_on:
                stands.append(self._stand(stage))
        wide = self.wide(stage)
        if not hands.cut:
            self.part.leave(stage, self._keep(causes.left_out(step, self.course.piece.unit)))
            return
        if step.kind is StepKind.HOLE:
            self.part.drill(stage, int(step.id.rsplit("-", 1)[1]) - 1, self._stand(stage), wide)
        elif stage.kind in MILLING:
            set_by = self._set_by.get(step.operation, ("", ()))
            self.part.cut(stage, stands or [self._stand(stage)], wide, {set_by[0]: set_by[1]})

    def _go(self, step: RunStep, go: Go, right: tuple[Act, ...], done: tuple[Act, ...] = ()) -> None:
        screw, before = self.screws[go.axis], self._off.get(go.axis, _NONE)
        if go.from_zero:
            # back at the zero the dial shows 0 again; where the feed had run to does not matter
            screw.screw, screw.at = screw.ring, self._zeros.get(go.axis, screw.at)
        done = tuple(self._act(act) for act in done)
        off = screw.at + self._drift[go.axis] - go.settable
        ring = self._ring(go.axis)
        fine, changed = fine_of(ring), off - before.mm
        cause = self._keep(causes.at_place(step, ring, right, done, changed)) if causes.is_felt(changed, fine) else None
        self._off[go.axis] = before.then(off, fine, cause)

    def _act(self, act: Act) -> Act:
        """Do one thing; the same with how far the handle was really turned."""
        screw = self.screws[act.axis]
        match act.do:
            case Do.TURN:
                act = replace(act, travel=_travel(screw, act))
                screw.turn(act.sign, act.travel)
            case Do.RING:
                screw.ring = screw.screw + act.travel
            case Do.MOVE:
                self._drift[act.axis] += act.travel
            case Do.CREEP:
                screw.at = screw.screw + (screw.dial.backlash if act.sign == 1 else 0)
        return act

    def _stand(self, stage: Stage) -> Stand:
        free = runs_free(stage) if stage.kind in MILLING else ()
        at = tuple(
            None if a in free or a not in self.screws else self.screws[a].at + self._drift[a] for a in ("x", "y", "z")
        )
        off = tuple(self._off.get(a, _NONE) for a in ("x", "y", "z"))
        return Stand((at[0], at[1], at[2]), (off[0], off[1], off[2]))

    def _ring(self, axis: str) -> Ring:
        return self.slides.of[axis].ring


def _travel(screw: Screw, act: Act) -> Fraction:
    if act.turns is not None:
        if act.reading is None:
            return act.turns * screw.dial.turn
        return screw.counted(act.sign, act.turns, act.reading)
    return act.travel if act.reading is None else screw.until(act.sign, act.travel, act.reading)


def done_right(course: Course, rings: Mapping[Axis, Ring]) -> DryRun:
    """A card worked through by somebody who does just what it says."""
    return DryRun(course, rings).finish()


def with_slip(plain: DryRun, slip: Slip) -> DryRun:
    """A card worked through by somebody to whom one slip happens, as it is when they come to its step."""
    run = DryRun(plain.course, plain.rings, cards=plain.cards)
    while run.now is not None:
        hands = told(run.now, run.slides)
        if run.now.id == slip.step:
            same = (
                x for x in slips_at(run.course, run.now, run.slides) if (x.code, x.number) == (slip.code, slip.number)
            )
            hands = next((x.hands for x in same), hands)
        run.do(hands)
    return run
