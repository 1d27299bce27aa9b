"""Bounds of a setup, just on them and just beyond."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta

import pytest

from incudo.app.kernel.unit import find
from incudo.app.locating.moves import handle_of
from incudo.app.setup import bench
from incudo.app.setup.pages import effect_views
from incudo.app.setup.passes import stations_of
from incudo.app.setup.standards import setup_rules, vises
from incudo.app.setup.views import DriftPoint, ViseSettings
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length
from incudo.core.setup.effect import Effect
from incudo.core.setup.record import HeadAxis
from incudo.core.shop.machine import Machine
from incudo.store import schema as t
from tests.shop import PETREL, VISE, VISE_SETTINGS, TestShop

WEEK = timedelta(weeks=1)
SECOND = timedelta(seconds=1)


@pytest.fixture
def petrel(shop: TestShop) -> Machine:
    return shop.unit.run(lambda w: spec_of(find(w, t.Machine, uuid.UUID(PETREL), "machine")))


@pytest.mark.parametrize(("apart", "told"), [(WEEK, True), (WEEK - SECOND, False)])
def test_how_fast_a_head_drifts_is_told_from_a_week_on(shop: TestShop, apart: timedelta, told: bool) -> None:
    begun = datetime(2026, 9, 7, tzinfo=UTC)
    points = [
        DriftPoint(at=at, by="Orla Finnis", axis=HeadAxis.TILT, found=found, left=0.0)
        for at, found in ((begun, 0.3), (begun + apart, 0.05))
    ]
    words = shop.unit.run(lambda w: bench._drift_words(points, setup_rules(w)))
    assert ("Two setups a week apart" in words) is not told


@pytest.mark.parametrize(("width", "span"), [("8", "6"), ("8.001", "8"), ("6", "4"), ("3", "4")])
def test_the_span_that_is_proposed_lies_on_the_table(petrel: Machine, width: str, span: str) -> None:
    table = petrel.table.model_copy(update={"width": width})
    found = bench._head_proposal(petrel.model_copy(update={"table": table}))
    assert found is not None
    assert found.span == span


@pytest.mark.parametrize(("beyond", "fits"), [(0, True), (1, False)])
def test_a_jaw_is_read_no_further_out_than_the_bench_reaches(shop: TestShop, beyond: int, fits: bool) -> None:
    jaw = next(v for row, v in shop.unit.run(vises) if str(row.id) == VISE)
    reach = Length(jaw.bolts, jaw.unit).mm / 2 + 80
    at = str(float(reach) + beyond / 1000)
    settings = ViseSettings.model_validate(VISE_SETTINGS | {"unit": "mm", "left_at": f"-{at}", "right_at": "10"})
    if fits:
        assert stations_of(settings, jaw) == (-reach, 10)
    else:
        with pytest.raises(Refused, match="of the jaw's middle"):
            stations_of(settings, jaw)


def test_what_takes_all_of_the_limits_may_still_be_in() -> None:
    shares = (None, 1.0, 1.001)
    assert [e.over for e in effect_views(Effect("out of square", 0.1, s) for s in shares)] == [False, False, True]


def test_a_machine_has_so_many_handles(petrel: Machine) -> None:
    last = len(petrel.handles) - 1
    assert handle_of(petrel, last) is petrel.handles[last]
    with pytest.raises(Refused, match=f"at most {last}"):
        handle_of(petrel, last + 1)
