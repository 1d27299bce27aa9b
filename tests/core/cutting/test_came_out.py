"""How holes that lean, threads and slopes come out: worked out by hand."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from incudo.core.cutting.dry.acts import told
from incudo.core.cutting.dry.came_out import CameOut
from incudo.core.cutting.dry.causes import Cause, Code, Off
from incudo.core.cutting.dry.dry_run import DryRun, with_slip
from incudo.core.cutting.dry.lie import Stands
from incudo.core.cutting.dry.measured import line_of
from incudo.core.cutting.dry.slips import slips
from incudo.core.cutting.step import StepKind
from incudo.core.kernel.quantity import Unit
from incudo.core.planning.file import OperationKind
from incudo.core.shop.machine import Axis
from tests.core.cutting.test_dry_run import run_of

F = Fraction
LEAN = F(1, 1000)
MACHINE = Cause("machine", Code.HEAD, "", F(1, 10), "The head was left out of tram", Unit.MM)


def left_out_of_tram(plain: DryRun, **stands: F) -> DryRun:
    at = Stands(**{name: Off(by, (MACHINE,)) for name, by in stands.items()})
    return DryRun(plain.course, plain.rings, stands=at, cards=plain.cards).finish()


def by_name(run: DryRun, name: str) -> CameOut:
    return next(c for c in run.came_out() if c.name == name)


def test_a_bore_leans_with_the_head_and_runs_out_by_twice_that() -> None:
    """The bore of the sheave housing goes through 30 mm: 0.03 aside below, 0.06 in a turn, square with both axes."""
    plain = run_of("sheave-housing", "gannet")
    deep = F(plain.course.piece.part.frame.thickness(plain.course.piece.part.frame.plane("top", "")))
    tilted = left_out_of_tram(plain, tilt=LEAN)
    out = by_name(tilted, "Bore, runout to the bottom")
    assert out.value is not None
    assert float(out.value) == pytest.approx(float(2 * deep * LEAN), rel=1e-9)
    assert out.causes == (MACHINE,)
    both = by_name(left_out_of_tram(plain, tilt=LEAN, nod=LEAN), "Bore, runout to the bottom").value
    assert float(both or 0) == pytest.approx(float(2 * deep * LEAN) * 2**0.5, rel=1e-6)
    # the left end was milled by the side of the same leaning cutter, and leans with the bore; the front was faced
    true = by_name(DryRun(plain.course, plain.rings, cards=plain.cards).finish(), "Bore from front").value
    there = by_name(left_out_of_tram(plain, nod=LEAN), "Bore from front")
    assert by_name(tilted, "Bore from left end").causes == ()
    assert true is not None
    assert there.value is not None
    assert abs(there.value - true) == deep * LEAN
    assert MACHINE in there.causes


def test_what_goes_up_and_down_with_the_column_bores_square_whatever_the_head_does() -> None:
    plain = run_of("sheave-housing", "gannet")
    machine = plain.course.shop.machine
    bare = machine.model_copy(update={"handles": tuple(h for h in machine.handles if h.axis is not Axis.QUILL)})
    course = replace(plain.course, shop=replace(plain.course.shop, machine=bare), memo={})
    rings = {a: r for a, r in plain.rings.items() if a is not Axis.QUILL}
    run = left_out_of_tram(DryRun(course, rings), tilt=LEAN)
    assert by_name(run, "Bore, runout to the bottom").value == 0


def thread(run: DryRun) -> tuple[str, bool]:
    found = line_of(next(c for c in run.came_out() if c.kind == "thread"), run.course.piece.unit)
    assert found.limits == "go and no-go gauge"
    return found.read, found.good


def test_a_thread_is_gauged_and_a_wrong_drill_under_it_is_named() -> None:
    plain = run_of("mast-step-pad", "gannet")
    assert thread(DryRun(plain.course, plain.rings, cards=plain.cards).finish()) == ("go enters, no-go does not", True)
    of = {s.operation.id: s.kind for s in plain.course.stages}
    every = list(slips(plain.course, plain.steps, plain.slides))
    drill = next(s for s in every if s.code is Code.CUTTER and of[s.step.partition(".")[0]] is OperationKind.DRILL)
    read, good = thread(run := with_slip(plain, drill))
    assert (read, good) in (("drilled too wide: thin thread", False), ("drilled too small: the tap sticks", False))
    assert next(c for c in run.came_out() if c.kind == "thread").causes[0].code is Code.CUTTER
    kind = {s.id: s.kind for s in plain.steps}
    taps = [s for s in every if s.code is Code.LEFT_OUT and of[s.step.partition(".")[0]] is OperationKind.TAP]
    assert kind[taps[0].step] is StepKind.HOLE
    assert all(c.code is Code.LEFT_OUT for c in with_slip(plain, taps[0]).causes)


def test_a_hole_that_was_not_tapped_has_no_thread() -> None:
    plain = run_of("mast-step-pad", "gannet")
    tap = next(s for s in plain.course.stages if s.kind is OperationKind.TAP)
    begun = DryRun(plain.course, plain.rings, cards=plain.cards)
    while begun.now is not None and begun.now.operation != tap.operation.id:
        begun.do(told(begun.now, begun.slides))
    assert thread(begun) == ("no thread", False)


def test_a_slope_is_cut_until_it_measures() -> None:
    run = run_of("thole-block", "petrel").finish()
    found = line_of(next(c for c in run.came_out() if c.kind == "angle"), run.course.piece.unit)
    assert found.good
    assert found.read.endswith("°")
    assert " to " in found.limits
