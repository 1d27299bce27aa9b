"""Somebody who does exactly what the card says, on a machine whose screws have play, comes to every place.

The machine of the test knows screws, play and dials; where a cut has to be is taken from the part, not from the card.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.cutting.card import run_card
from incudo.core.cutting.slides import Ring
from incudo.core.cutting.step import RunStep, StepKind, Zero
from incudo.core.locating.dial import Dial, Turning
from incudo.core.parts.geometry.sections import reach
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind
from incudo.core.planning.stages import Stage
from incudo.core.shop.machine import Axis
from tests.core.planning.shops import MACHINES, piece, shop
from tests.core.planning.spoiling import own

F = Fraction
NONE = Fraction(0)
K = OperationKind
PARTS = sorted(shipped.parts())
_SCALE = {Axis.X: "x", Axis.Y: "y", Axis.KNEE: "z", Axis.QUILL: "z"}


@dataclass
class Screw:
    """One axis: the table follows its screw outside a gap of play; the dial goes round with the screw."""

    dial: Dial
    screw: F = NONE
    table: F = NONE
    ring: F = NONE

    def drive(self, by: F) -> None:
        self.screw += by
        self.table = min(max(self.table, self.screw), self.screw + self.dial.backlash)

    def come_to(self, zero: Zero) -> None:
        """Driven from the side of the zero until the table stands there, and the ring set to 0."""
        far = zero.place - zero.side * (self.dial.backlash + self.dial.turn)
        self.drive(far - self.screw - (self.dial.backlash if zero.side > 0 else 0))
        self.drive((zero.place if zero.side > 0 else zero.place - self.dial.backlash) - self.screw)
        assert self.table == zero.place
        self.ring = self.screw

    @property
    def shows(self) -> F:
        sign = 1 if self.dial.grows is self.dial.dial_up else -1
        return (sign * (self.screw - self.ring)) % self.dial.turn


def rings_of(machine: str, material: str, play: F, turned: bool, rising: bool) -> dict[Axis, Ring]:
    """A machine's handles, every screw with so much of a turn as play, turned and counted the other way round."""
    s = shop(machine, material)
    found = {}
    for axis, handle in s.handles.items():
        dial = Dial.of(handle)
        lost = F(0) if axis in (Axis.KNEE, Axis.QUILL) else play * dial.turn
        grows = dial.grows.other if turned else dial.grows
        up = Turning.CLOCKWISE if rising else Turning.ANTICLOCKWISE
        made = replace(dial, backlash=lost, grows=grows, dial_up=up)
        found[axis] = Ring(handle, made, _SCALE[axis] in s.machine.readout, s.machine.unit)
    return found


def work_through(steps: tuple[RunStep, ...], rings: dict[Axis, Ring], away: F) -> dict[str, dict[str, F]]:
    """Where the cutter stands at the end of each step; ``away`` is how far a feed runs along an axis nobody counts."""
    of = {a: ring for name, axes in (("x", (Axis.X,)), ("y", (Axis.Y,)), ("z", (Axis.KNEE, Axis.QUILL))) for a in [name]
          for ring in [next(rings[x] for x in axes if x in rings)]}  # fmt: skip
    screws = {a: Screw(ring.dial) for a, ring in of.items()}
    zeros: dict[str, Zero] = {}
    stood = {}
    for step in steps:
        if step.zero is not None:
            zeros[step.zero.axis] = step.zero
            screws[step.zero.axis].come_to(step.zero)
        for go in step.go:
            screw, unit = screws[go.axis], of[go.axis].dial.unit
            if go.from_zero:
                screw.drive(away)
                ring = screw.ring
                screw.come_to(zeros[go.axis])
                assert screw.ring == ring, "back at the zero the dial shows 0 again"
            for leg in go.legs:
                sign = 1 if leg.turning is screw.dial.grows else -1
                screw.drive(sign * (leg.turns * screw.dial.turn + leg.divisions * screw.dial.division))
            assert abs(screw.shows / unit.in_mm - F(go.reading.split()[0])) < F(1, 10**4), (step.id, go)
            assert abs(screw.table - go.place) <= screw.dial.division / 4, (step.id, go)
        stood[step.id] = {a: s.table for a, s in screws.items()}
    return stood


def where_cut(stage: Stage, at: dict[str, F], fine: F) -> None:
    """At the end of an operation the cutter stands where the part wants it."""
    # what goes through ends at the bottom of the work
    floor = max(min(reach(b, 2)[0] for b in stage.lying), stage.block[0][2])
    if stage.kind is not K.SIDE:
        assert abs(float(at["z"]) - floor) < fine
    radius = float(stage.cutter.width) / 2 if stage.cutter else 0.0
    if stage.kind is K.SIDE:
        slab = stage.piece.slabs[stage.faces[0]]
        number = stage.place.along(slab.axis)
        sign = stage.place.signs[number]
        assert abs(float(at["xyz"[number]]) - sign * (slab.at + slab.out * radius)) < fine
    elif stage.kind is K.STEP:
        axis = 1 - stage.sizes[0]
        span = stage.spans(axis)
        assert span is not None
        low, high = stage.is_open(axis, -1), stage.is_open(axis, 1)
        if low != high:
            wall = span[0] if high else span[1]
            assert abs(float(at["xy"[axis]]) - wall) - radius < fine


@cache
def looked_at(name: str, machine: str) -> Course:
    made = piece(name)
    return Course(made, own(machine, name), shop(machine, made.part.file.material))


@pytest.mark.parametrize(("name", "machine"), [(p, MACHINES[n % len(MACHINES)]) for n, p in enumerate(PARTS)])
def test_every_place_of_a_card_is_come_to(name: str, machine: str) -> None:
    course = looked_at(name, machine)
    rings = rings_of(machine, course.piece.part.file.material, F(1, 9), turned=False, rising=True)
    steps = run_card(course, rings, {})
    stood = work_through(steps, rings, F(70))
    fine = max(float(r.dial.division) for r in rings.values()) / 4 + 1e-3
    for stage in course.stages:
        mine = [s for s in steps if s.operation == stage.operation.id]
        assert mine, "every operation is on the card"
        if stage.kind in (K.FACE, K.SIDE, K.STEP, K.SLOT, K.POCKET) and stage.taken:
            where_cut(stage, stood[mine[-1].id], fine)
        spots = {(round(x, 3), round(y, 3)) for x, y, _ in stage.hole_spots()}
        holes = [stood[s.id] for s in mine if s.kind is StepKind.HOLE]
        assert len(holes) == len(stage.hole_spots()) or not holes
        for at in holes:
            near = min(max(abs(float(at["x"]) - x), abs(float(at["y"]) - y)) for x, y in spots)
            assert near < fine


@settings(max_examples=12)
# play that ends between two divisions: where one turns round is set to half a division too
@example(F(1, 8), False, False, 0)
@given(st.fractions(0, 1, max_denominator=40), st.booleans(), st.booleans(), st.integers(-150, 150))
@pytest.mark.parametrize(("name", "machine"), [("keel-step-gauge", "petrel"), ("fairlead-plate", "gannet")])
def test_on_any_handle_with_play_up_to_a_turn(
    name: str, machine: str, play: F, turned: bool, rising: bool, away: int
) -> None:
    course = looked_at(name, machine)
    rings = rings_of(machine, course.piece.part.file.material, play, turned=turned, rising=rising)
    work_through(run_card(course, rings, {}), rings, F(away))


def test_what_was_measured_goes_into_the_last_pass() -> None:
    """A cutter that leaves three thou everywhere: read before the last pass, the size comes out right."""
    course = looked_at("keel-step-gauge", "petrel")
    rings = rings_of("petrel", course.piece.part.file.material, F(1, 9), turned=False, rising=True)
    pushed = F(3, 1000) * F("25.4")
    first = run_card(course, rings, {})
    asked = {s.id: s.check for s in first if s.check is not None and s.check.number and s.check.axis == "z"}
    assert len(asked) >= 3
    planned = work_through(first, rings, F(0))
    read = {ident: c.expected + (pushed if c.falls else -pushed) for ident, c in asked.items()}
    again = run_card(course, rings, read)
    stood = work_through(again, rings, F(0))
    for ident, check in asked.items():
        last = next(s for s in again[[s.id for s in again].index(ident) + 1 :] if s.kind is StepKind.PASS)
        # without the reading it would come out at nominal and three thou more; with it in the middle of the limits
        nominal = check.expected - _last_take(first, ident)
        deeper = planned[last.id]["z"] - stood[last.id]["z"]
        assert abs(nominal + pushed - deeper - check.aim) <= rings[Axis.KNEE].dial.division / 2


def _last_take(steps: tuple[RunStep, ...], ident: str) -> F:
    """How far the pass after a measurement goes by the plan, as the knee is turned."""
    number = [s.id for s in steps].index(ident)
    (go,) = [g for g in steps[number + 1].go if g.axis == "z"]
    return sum((leg.travel for leg in go.legs), F(0))
