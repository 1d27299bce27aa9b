"""Bounds of core's functions, just on them: what is taken, what is refused, what is said."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.locating.centre import AGREE, Centre, block, edge, flat_is_circle, slot
from incudo.core.locating.datum import Scale
from incudo.core.locating.dial import Dial, Turning
from incudo.core.locating.finders import FINDERS
from incudo.core.locating.found import BY_HAND, Found, Reader, clearance_words, find_by_flat, find_depth
from incudo.core.measuring.study import GOOD, USABLE, StudyFit, _fit
from incudo.core.setup.holding import Work
from incudo.core.setup.jaw import JawSweep
from incudo.core.setup.record import HeadAxis
from incudo.core.setup.tram import Sweep
from incudo.core.shop.machine import Axis

F = Fraction
HAIR = F(1, 10**9)
TIP, EVEN = F(10), F(8)
DIAL = Dial(F(2), 100, F(1, 10), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
X = Reader(Axis.X, DIAL, Scale.READOUT, F(1, 100), Unit.MM)


@pytest.mark.parametrize(
    ("refused", "taken"),
    [
        (lambda: edge(F(0), F(0), 1), lambda: edge(F(0), HAIR, 1)),
        (lambda: block(F(0), TIP, TIP), lambda: block(F(0), TIP + HAIR, TIP)),
        (lambda: slot(HAIR, F(0), TIP), lambda: slot(F(0), F(0), TIP)),
        (lambda: Work(F(10), F(0), F(10)), lambda: Work(F(10), HAIR, F(10))),
        (lambda: JawSweep(F(5), F(5), F(0), F(0)), lambda: JawSweep(F(5), F(5) + HAIR, F(0), F(0))),
        (lambda: JawSweep(F(0), F(5), F(0), F(5)), lambda: JawSweep(F(0), F(5), F(0), F(5) - HAIR)),
        (lambda: Sweep(HeadAxis.TILT, F(0), F(0), F(0)), lambda: Sweep(HeadAxis.TILT, F(0), F(0), HAIR)),
        (lambda: find_depth(X, F(1), -HAIR, F(0), ""), lambda: find_depth(X, F(1), F(0), F(0), "")),
        (lambda: _flat(near=-HAIR), lambda: _flat(near=F(0))),
        (lambda: _flat(far=-HAIR), lambda: _flat(far=F(0))),
    ],
)
def test_just_on_the_bound_and_a_hair_from_it(refused: Callable[[], object], taken: Callable[[], object]) -> None:
    taken()
    with pytest.raises(Refused):
        refused()


def _flat(near: Fraction = EVEN, far: Fraction = EVEN) -> Found:
    return find_by_flat(X, F(0), F(20), F(4), F(1, 2), near, far, F(0))


def test_a_spot_is_a_circle_until_its_chord_is_as_long_as_it_is_wide() -> None:
    # 1 deep in 5 a chord is 4 long
    assert not flat_is_circle(F(5), F(4), F(1), F(0))
    assert flat_is_circle(F(5), F(4) - HAIR, F(1), F(0))


def test_a_bar_and_its_spot_may_differ_by_what_hands_measure() -> None:
    most = AGREE + BY_HAND
    assert not _flat(near=F(8) + most).wrong
    assert _flat(near=F(8) + most + HAIR).wrong


def test_a_contact_is_bad_beyond_what_touches_and_width_may_be_out() -> None:
    unsure = F(1, 50)
    assert not Centre(F(0), F(20), AGREE + unsure).bad(F(1, 100), unsure)
    assert Centre(F(0), F(20), AGREE + unsure + HAIR).bad(F(1, 100), unsure)


def test_a_tip_reaches_no_further_than_it_is_long() -> None:
    finder = next(iter(FINDERS.values()))
    reach = finder.reach.mm
    assert "only" in clearance_words(reach * 8, finder, reach, Unit.MM)[1]
    assert "only" not in clearance_words(reach * 8, finder, reach - HAIR, Unit.MM)[1]


@pytest.mark.parametrize(
    ("share", "fit"),
    [
        (GOOD, StudyFit.GOOD),
        (GOOD + HAIR, StudyFit.USABLE),
        (USABLE, StudyFit.USABLE),
        (USABLE + HAIR, StudyFit.UNFIT),
    ],
)
def test_a_gauge_that_takes_just_so_much_of_the_limits(share: F, fit: StudyFit) -> None:
    assert _fit(share) is fit  # type: ignore[arg-type]
