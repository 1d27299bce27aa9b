"""Kinds of machine and of gauge: what is offered can be entered, and what cannot be is refused at its field."""

from __future__ import annotations

from typing import Any

import pytest

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.locating.dial import Dial
from incudo.core.measuring.kinds import SURE_OF_NOTHING, read_gauge
from incudo.core.shop.kinds import WAYS, Walked, as_walked
from incudo.core.shop.machine import Axis, Way, read_machine

KINDS = {k.id: k for k in shipped.machine_kinds()}


def walked(kind: str, **change: Any) -> Walked:
    spec = KINDS[kind].spec.model_dump(mode="json")
    spindle = {k: spec["spindle"][k] for k in ("watts", "steps", "ranges")}
    fields = {k: spec[k] for k in ("make", "travel", "quill_travel", "handles", "readout", "power_feed")}
    return Walked.model_validate({**fields, **spindle, **change})


@pytest.mark.parametrize("kind", KINDS)
def test_a_kind_that_nothing_is_changed_of_is_its_entry(kind: str) -> None:
    assert as_walked(KINDS[kind], walked(kind)) == KINDS[kind].spec
    spec = KINDS[kind].spec
    assert read_machine(spec.model_dump(mode="json")) == spec
    assert all(h.backlash is None for h in spec.handles), "backlash is measured, never assumed"
    assert {Axis.X, Axis.Y} <= {h.axis for h in spec.handles}
    for h in spec.handles:
        dial = Dial.of(h)
        assert dial.turn == Length(h.per_turn, h.unit).mm
        assert dial.division * h.graduations == dial.turn


def test_every_axis_goes_two_ways_and_no_two_axes_are_mixed_up() -> None:
    assert {a: set(w) for a, w in WAYS.items()} == {
        Axis.X: {Way.LEFT, Way.RIGHT},
        Axis.Y: {Way.AWAY, Way.TOWARDS},
        Axis.KNEE: {Way.UP, Way.DOWN},
        Axis.QUILL: {Way.UP, Way.DOWN},
    }


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("rising", ["clockwise", "anticlockwise"])
def test_a_handle_as_it_was_found_is_what_is_reckoned_with(kind: str, turned: bool, rising: str) -> None:
    """The other way round or the numbers falling: the dial of the entry does just that."""
    handles = [h.model_dump(mode="json") for h in KINDS[kind].spec.handles]
    for h in handles:
        one, two = WAYS[Axis(h["axis"])]
        h["clockwise"] = two if (h["clockwise"] == one) == turned else one
        h["dial_up"] = rising
    made = as_walked(KINDS[kind], walked(kind, handles=handles))
    for was, now in zip(KINDS[kind].spec.handles, made.handles, strict=True):
        one, other = Dial.of(was), Dial.of(now)
        assert (one.grows is other.grows) is not turned
        assert other.dial_up.value == rising


@pytest.mark.parametrize(
    "change",
    [
        {"steps": (400, 200)},
        {"steps": (200, 200)},
        {"steps": (), "ranges": ()},
        {"steps": (200,), "ranges": ((60, 500),)},
        {"steps": (), "ranges": ((500, 60),)},
        {"steps": (), "ranges": ((9, 500),)},
        {"readout": ("w",)},
    ],
)
def test_speeds_and_scales_that_cannot_be(change: dict[str, Any]) -> None:
    with pytest.raises(Refused):
        as_walked(KINDS["knee-inch"], walked("knee-inch", **change))


# ---- gauges

MICROMETER = {"kind": "micrometer", "unit": "mm", "least": "0", "most": "25", "resolution": "0.01"}


@pytest.mark.parametrize("kind", shipped.gauge_kinds(), ids=lambda k: k.id)
def test_a_kind_of_gauge_is_an_entry_and_honest(kind: Any) -> None:
    entry = read_gauge(kind.model_dump(exclude={"id", "name"}))
    unit = Unit(entry.unit)
    step, sure = (Length(x, unit).mm for x in (entry.resolution, entry.uncertainty))
    if entry.kind in SURE_OF_NOTHING:
        assert sure == 0
    else:
        assert step <= 4 * sure, "nobody is surer than a quarter of what can be read"
    assert kind.threads is (entry.kind == "thread gauge")


@pytest.mark.parametrize(
    ("sure", "fits"), [("0.0025", True), ("0.00249", False), ("12.5", True), ("12.51", False), ("0", False)]
)
def test_how_sure_a_gauge_can_be(sure: str, fits: bool) -> None:
    if fits:
        assert read_gauge({**MICROMETER, "uncertainty": sure}).uncertainty == sure
    else:
        with pytest.raises(Refused):
            read_gauge({**MICROMETER, "uncertainty": sure})


@pytest.mark.parametrize(
    "change", [{"least": "25"}, {"least": "-1"}, {"resolution": "0"}, {"unit": "ft"}, {"most": "wide"}]
)
def test_a_gauge_that_cannot_be(change: dict[str, str]) -> None:
    with pytest.raises(Refused):
        read_gauge({**MICROMETER, "uncertainty": "0.01", **change})
