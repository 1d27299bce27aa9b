"""What a dry run says at its end: every act behind what is out, and the machine where it stands out of true."""

from __future__ import annotations

import uuid
from fractions import Fraction

import pytest

from incudo.app.cutting.dry import _kept, _outcome, _rings, _stands, _step
from incudo.app.cutting.stood import Stood, stands_of, stood
from incudo.core.cutting.dry.causes import Code
from incudo.core.cutting.dry.dry_run import DryRun, with_slip
from incudo.core.cutting.dry.slips import slips
from incudo.core.cutting.step import StepKind
from incudo.core.kernel.quantity import Unit
from tests.api.setup.test_setups import HEAD_SETTINGS, accept, aligned, begin, keep
from tests.core.cutting.test_dry_run import run_of
from tests.shop import FULMAR, TestShop, new_id

OUT = Fraction(3, 1000)


def test_the_acts_that_spoilt_something_are_named_first() -> None:
    plain = run_of("mast-step-pad", "gannet")
    (jaw,) = (s for s in slips(plain.course, plain.steps, plain.slides) if (s.step, s.code) == ("h4.hold", Code.JAW))
    first = next(s for s in slips(plain.course, plain.steps, plain.slides) if s.code is Code.CHIP)
    run = with_slip(plain, jaw)
    run.causes.insert(0, with_slip(plain, first).causes[0])
    found = _outcome(run)
    out = [line.number for line in found.lines if not line.good]
    assert out
    assert not found.right
    assert [(c.step, c.numbers) for c in found.causes] == [
        ("Holding 4: clamp the work", tuple(out)),
        ("Holding 1: clamp the work", ()),
    ]


@pytest.mark.parametrize(
    ("slopes", "vise", "spoils"),
    [({"jaw": OUT}, "vise-160", True), ({"jaw": OUT}, "", True), ({"jaw": OUT}, "vise-6", False), ({}, "", False)],
)
def test_a_vise_out_of_line_is_the_machines_and_said_where_it_spoils(
    slopes: dict[str, Fraction], vise: str, spoils: bool
) -> None:
    plain, at = run_of("mast-step-pad", "gannet"), Stood(slopes, vise)
    # as it is kept beside the dials, and read again
    stands = _stands(_kept(plain.rings, at), Unit.MM)
    assert stands == stands_of(at, Unit.MM)
    begun = DryRun(plain.course, plain.rings, stands=stands, cards=plain.cards)
    assert begun.now is not None
    assert begun.now.kind is StepKind.HOLD
    words = "The fixed jaw was left out of line, over 100 mm: 0.30 mm."
    assert _step(begun, begun.now).why == (*begun.now.why, *((words,) if spoils else ()))
    run = DryRun(plain.course, _rings(_kept(plain.rings, at)), stands=stands, cards=plain.cards).finish()
    found = _outcome(run)
    said = {(c.step, c.words) for c in found.causes}
    assert said == ({("The machine as set up", words)} if spoils else set())
    assert all(line.good for line in found.lines) is not spoils
    assert found.right, "every step was done as the card says"


def test_a_run_of_before_stands_true() -> None:
    assert _stands("{}", Unit.MM) == stands_of(Stood({}), Unit.MM)


def test_head_and_vise_stand_as_they_were_accepted_last_until_they_are_moved(shop: TestShop) -> None:
    student = shop.ready_student()
    aligned(student)
    here = uuid.UUID(FULMAR)
    # read 0 and 0.0002 in at -2.75 and 2.75: the right end is nearer to the tip, in front
    assert shop.unit.run(lambda w: stood(w, here)).slopes["jaw"] == -Fraction(2, 10_000) / Fraction("5.5")
    page = begin(student, FULMAR, HEAD_SETTINGS)
    for axis, high in (("tilt", "0.0004"), ("nod", "-0.0002")):
        page = keep(student, page, "0", high, tight=True, axis=axis)
    accept(student, page)
    found = shop.unit.run(lambda w: stood(w, here)).slopes
    assert found["tilt"] == Fraction(4, 10_000) / 8
    assert found["nod"] == Fraction(2, 10_000) / 8, "the front reads more: its top leans to the front"
    student.post(f"/api/machines/{FULMAR}/notes", {"id": new_id(), "kind": "vise", "words": "bumped"})
    assert shop.unit.run(lambda w: stood(w, here)).slopes.keys() == {"tilt", "nod"}
    student.post(f"/api/machines/{FULMAR}/notes", {"id": new_id(), "kind": "head", "words": "leaned on"})
    assert shop.unit.run(lambda w: stood(w, here)) == Stood({}, "")
