"""The dry run: who does what the card says gets a good part; who slips gets the error that is named, and no other.

How far a slip moves the cutter is written down here from the machine (a turn, half a tip, the backlash), not asked of
the simulation.
"""

from __future__ import annotations

import random
from collections.abc import Mapping

import pytest

from incudo.core.cutting.dry.came_out import CameOut
from incudo.core.cutting.dry.causes import Code
from incudo.core.cutting.dry.dry_run import DryRun, done_right, with_slip
from incudo.core.cutting.dry.slips import Slip, slips
from incudo.core.cutting.slides import Ring
from incudo.core.kernel.quantity import Unit
from incudo.core.planning.course import Course
from incudo.core.practice.rigs.plan.planning import sound_job
from tests.core.cutting.test_worker import F, looked_at, rings_of
from tests.core.planning.shops import MACHINES

THOU = F("0.0254")


def run_of(name: str, machine: str) -> DryRun:
    course = looked_at(name, machine)
    return DryRun(course, rings_of(machine, course.piece.part.file.material, F(1, 9), turned=False, rising=True))


@pytest.mark.sweep(9)
@pytest.mark.parametrize("machine", MACHINES)
@pytest.mark.parametrize(
    "name",
    ["keel-step-gauge", "fairlead-plate", "cleat-base", "lantern-foot", "sheave-housing", "thole-block", "tide-block"],
)
def test_who_does_what_the_card_says_gets_a_good_part(name: str, machine: str) -> None:
    run = run_of(name, machine).finish()
    assert not run.causes
    out = run.came_out()
    assert out
    assert [c for c in out if not c.good] == []


#: How far some slips put the cutter beside its place, by the machine's unit: thou and mm.
BY_UNIT = {
    Code.HALF_TIP: (100, "5"),
    Code.WHOLE_TIP: (100, "5"),
    Code.TIP_OTHER_WAY: (200, "10"),
    Code.UNDER: (6, "0.15"),
    Code.PAPER: (4, "0.1"),
    Code.KEPT: (20, "0.5"),
    Code.PULLED: (12, "0.3"),
    Code.MOVED: (15, "0.4"),
}


def how_far(code: Code, ring: Ring) -> F | None:
    """The same of the others, by the dial."""
    if code in BY_UNIT:
        thou, mm = BY_UNIT[code]
        return thou * THOU if ring.unit is Unit.INCH else F(mm)
    return {
        Code.RING_SLIPPED: 4 * ring.dial.division,
        Code.BESIDE: 7 * ring.dial.division,
        Code.MISCOUNTED: ring.dial.turn,
        Code.STRAIGHT: ring.dial.backlash,
        Code.CREPT: ring.dial.backlash,
    }.get(code)


def is_named(plain: DryRun, slip: Slip, good: Mapping[int, CameOut]) -> set[Code]:
    """A slip is found by what was done; whatever came out wrong is laid to it. The codes that spoilt something."""
    run = with_slip(plain, slip)
    assert run.causes, slip
    first = run.causes[0]
    assert (first.step, first.code) == (slip.step, slip.code), (slip, run.causes)
    ring = plain.slides.of[first.axis].ring if first.axis else None
    far = how_far(slip.code, ring) if ring else None
    if ring and far is not None:
        assert abs(abs(first.size) - far) <= ring.dial.division / 4, (slip, first)
    for c in run.came_out():
        changed = c.value != good[c.number].value
        if not c.good:
            assert any(x.step == slip.step for x in c.causes), (slip, c)
        if len(run.causes) == 1 and far is not None and changed and c.value is not None and c.nominal:
            was = good[c.number].value
            assert was is not None
            # the whole of it or, where it was measured and set right in time, less
            assert abs(c.value - was) <= abs(first.size) + THOU / 2, (slip, c)
    return {slip.code} if any(not c.good for c in run.came_out()) else set()


def every_slip(plain: DryRun, most: int) -> set[Code]:
    good = {c.number: c for c in done_right(plain.course, plain.rings).came_out()}
    seen: dict[Code, int] = {}
    spoilt: set[Code] = set()
    for slip in slips(plain.course, plain.steps, plain.slides):
        seen[slip.code] = seen.get(slip.code, 0) + 1
        if seen[slip.code] <= most:
            spoilt |= is_named(plain, slip, good)
    assert set(seen) >= {*BY_UNIT, Code.MISCOUNTED, Code.BESIDE} - {Code.KEPT}
    return spoilt


def test_twenty_slips_and_each_is_named() -> None:
    codes = {
        slip.code
        for name, machine in (
            ("keel-step-gauge", "petrel"),
            ("mast-step-pad", "petrel"),
            ("tiller-key-shaft", "petrel"),
        )
        for plain in [run_of(name, machine)]
        for slip in slips(plain.course, plain.steps, plain.slides)
    }
    assert len(codes) >= 20, sorted(codes)


@pytest.mark.sweep(1)
@pytest.mark.parametrize(("name", "machine"), [("keel-step-gauge", "petrel"), ("mast-step-pad", "gannet")])
def test_a_slip_gets_the_error_that_is_named(name: str, machine: str) -> None:
    assert len(every_slip(run_of(name, machine), 8)) >= 10, "slips that change nothing say nothing"


@pytest.mark.sweep(3)
@pytest.mark.parametrize("seed", range(10))
def test_on_random_parts_and_machines(seed: int) -> None:
    """A part made up by chance on handles of any sense, counted either way, with play up to a whole turn."""
    chance = random.Random(seed)
    job = sound_job(chance.choice((Unit.MM, Unit.INCH)), chance)
    course = Course(job.piece, job.plan, job.shop)
    play = F(chance.randint(0, 40), 40)
    turned, rising = chance.random() < 0.5, chance.random() < 0.5
    rings = rings_of("petrel", "low-carbon-steel", play, turned=turned, rising=rising)
    plain = DryRun(course, rings)
    right = done_right(course, rings)
    assert not right.causes
    assert [c for c in right.came_out() if not c.good] == []
    all_slips = list(slips(course, plain.steps, plain.slides))
    good = {c.number: c for c in right.came_out()}
    for slip in chance.sample(all_slips, 6):
        run = with_slip(plain, slip)
        assert run.causes[0].step == slip.step, slip
        assert all(any(x.step == slip.step for x in c.causes) for c in run.came_out() if not c.good), slip
        assert {c.number for c in run.came_out()} == set(good)
