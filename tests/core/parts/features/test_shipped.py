"""The shipped practice parts: what they cover, and that the four old ones are judged as they were."""

from __future__ import annotations

from decimal import Decimal

import pytest
import yaml

from incudo import shipped
from incudo.core.kernel.quantity import Unit
from incudo.core.parts.features.part import allowances, read_part, shaped
from incudo.core.parts.project import Project, RoundBar, read_project
from tests.core.parts.features.making import BAR, PLATE, SHIPPED, shipped_part
from tests.core.skills.records import GRAPH
from tests.paths import VERSION_1

OLD = sorted(f.stem for f in VERSION_1.glob("*.yaml"))


def judged(p: Project) -> list[tuple[object, ...]]:
    found = []
    for c in p.characteristics:
        x = p.limits(c)
        found.append((c.number, c.name, c.nominal, x.lower, x.upper, c.metal, c.symbol, c.datum, c.readings, c.spots))
    return found


@pytest.mark.parametrize("code", OLD)
def test_a_part_of_the_first_format_is_judged_the_same_in_the_second(code: str) -> None:
    old = read_project(yaml.safe_load((VERSION_1 / f"{code}.yaml").read_text()))
    new = shipped_part(code).project
    assert judged(new) == judged(old)
    assert (new.needs, new.operations, new.gives, new.hold_points) == (
        old.needs,
        old.operations,
        old.gives,
        old.hold_points,
    )


def test_at_least_fourteen_in_both_units_with_the_six_of_the_scenario() -> None:
    assert len(SHIPPED) >= 14
    assert {"tide-block", "keel-step-gauge", "fairlead-plate", "cleat-base", "shackle-pin", "sheave-housing"} <= set(
        SHIPPED
    )
    units = [shipped_part(code).project.unit for code in SHIPPED]
    assert units.count(Unit.INCH) >= 5
    assert units.count(Unit.MM) >= 5


def test_together_they_are_evidence_for_every_machining_skill() -> None:
    given = {g.skill for code in SHIPPED for g in shipped_part(code).project.gives}
    assert {s.id for s in GRAPH.skills if s.operation} <= given


@pytest.mark.parametrize("code", SHIPPED)
def test_each_hangs_together(code: str) -> None:
    part = shipped_part(code)
    known = {s.id for s in GRAPH.skills}
    assert part.file.code == code
    assert set(part.project.needs) | set(part.project.operations) | {g.skill for g in part.project.gives} <= known
    assert len(part.project.about.split()) >= 8
    assert all(v >= 0 for v in allowances(part.file).values())
    materials = [m.material.name.lower() for m in shipped.materials()]
    assert any(part.file.material.split(",")[0] in m for m in materials), part.file.material


def test_the_stock_is_said_as_at_the_saw() -> None:
    assert shipped_part("fairlead-plate").project.stock == "flat bar 12 x 60, sawn 90 long"
    assert shipped_part("shackle-pin").project.stock == "round bar 16, sawn 75 long"
    assert allowances(read_part(shipped.parts()["tide-block"])) == {
        "x": pytest.approx(0.125),
        "y": pytest.approx(0.125),
        "z": pytest.approx(0.125),
    }


def test_what_is_to_come_off_whatever_the_stock_is() -> None:
    """A block from a block on three axes, a bar from a bar, and a block that is squared from a bar along it alone."""
    bar = {**BAR, "stock": {"form": "round", "diameter": "22", "length": "85.5"}}
    body = read_part(bar).body
    assert isinstance(body, RoundBar)
    off = {"diameter": 22 - Decimal(body.diameter), "length": Decimal("85.5") - Decimal(body.length)}
    assert allowances(read_part(bar)) == off
    assert allowances(read_part(PLATE)) == {"x": 4, "y": 4, "z": 2}
    squared = {**PLATE, "stock": {"form": "round", "diameter": "60", "length": "83"}}
    assert allowances(read_part(squared)) == {"x": 3}


def test_the_end_of_a_bar_is_not_chamfered_on_a_mill() -> None:
    end = {"kind": "chamfer", "name": "edge", "face": "right", "side": "top", "size": "1"}
    assert "lathe" in str(shaped(read_part({**BAR, "features": [end]})).faults)
    assert not shaped(read_part({**PLATE, "features": [end]})).faults
