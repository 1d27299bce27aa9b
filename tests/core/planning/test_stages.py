"""What stands of the part after each operation, and what is asked of the machine for it."""

from __future__ import annotations

from math import pi

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.geometry.sections import section
from incudo.core.planning.course import Course, axes_needed
from incudo.core.planning.file import OperationKind as K
from tests.core.planning import shops
from tests.core.planning.spoiling import own


def course(part: str, machine: str) -> Course:
    return Course(shops.piece(part), own(machine, part), shops.on(machine, part))


def test_a_hole_is_not_lost_for_a_wider_one_beside_it() -> None:
    c = course("twin", "petrel")
    through = section(c.stages[-1].after, 2, 8.0)
    assert through.area == pytest.approx(60 * 40 - pi * (3**2 + 4**2), rel=2e-3)


@pytest.mark.parametrize(("faces", "good"), [(("shelf.floor", "rear"), False), (("top", "rear"), True)])
def test_an_edge_is_where_two_faces_meet(faces: tuple[str, str], good: bool) -> None:
    """The floor of a step at the front lies level with the rear face and does not reach it."""
    face, side = faces
    edge = {"kind": "chamfer", "name": "edge", "face": face, "side": side, "size": "1"}
    data = shops.own_part("ledge", edge)
    if good:
        assert part_of(read_part(data))
    else:
        with pytest.raises(Refused, match="these two have no edge"):
            part_of(read_part(data))


def test_a_flat_on_a_bar_that_ends_in_the_metal_is_measured_both_ways() -> None:
    c = course("tiller-key-shaft", "gannet")
    found = {}
    for s in c.stages:
        if s.kind in (K.STEP, K.SLOT):
            run = s.sizes[0]
            found[s.operation.of] = (s.is_open(run, -1) and s.is_open(run, 1), run, axes_needed(s)[:2])
    assert {through for through, _, _ in found.values()} == {True, False}
    for through, run, axes in found.values():
        assert ("xy"[run] in axes) != through
        assert "xy"[1 - run] in axes
