"""What holds work: what cannot be entered, and what each entry says of itself."""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import product
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.shop.workholding import AngleBlocks, RotaryTable, ToolHolders, described, read_holding

V: dict[str, Any] = {
    "kind": "v-blocks",
    "unit": "mm",
    "count": 2,
    "least": "6",
    "most": "50",
    "groove": "42",
    "length": "75",
}
ANGLES: dict[str, Any] = {"kind": "angle-blocks", "angles": ["1", "3", "9", "27"]}
HOLDERS: dict[str, Any] = {
    "kind": "tool-holders",
    "way": "collet",
    "taper": "steep taper",
    "unit": "mm",
    "sizes": ["4", "6"],
    "count": 2,
}
TABLE: dict[str, Any] = {"kind": "rotary-table", "unit": "in", "diameter": "6", "height": "3.25", "turns": 90}


@pytest.mark.parametrize(
    ("entry", "where", "right", "wrong"),
    [
        (V, "count", 1, 0),
        (V, "count", 4, 5),
        (V, "least", "2", "1.99"),
        (V, "least", "50", "50.01"),
        # 42 mm wide, 90 degrees: √2 times 42 is 59.397
        (V, "most", "59.39", "59.40"),
        (V, "groove", "35.36", "35.35"),
        (V, "length", "15", "14.9"),
        (ANGLES, "angles", ["90"], ["90.01"]),
        (ANGLES, "angles", ["0.01"], ["0"]),
        (ANGLES, "angles", ["1", "1.5"], ["1", "1.0"]),
        (TABLE, "turns", 20, 19),
        (HOLDERS, "sizes", ["1", "100"], ["0.99", "100"]),
        (HOLDERS, "sizes", ["1", "100"], ["1", "100.01"]),
        (HOLDERS, "sizes", ["6", "6.1"], ["6", "6.0"]),
        (HOLDERS, "count", 2, 1),
        (HOLDERS, "count", 200, 201),
        (HOLDERS, "taper", "R", " "),
        (TABLE, "turns", 360, 361),
        (TABLE, "diameter", "1.97", "1.96"),
        (TABLE, "height", "0.79", "0.78"),
    ],
)
def test_a_slip_is_refused_at_its_bound(entry: dict[str, Any], where: str, right: object, wrong: object) -> None:
    read_holding({**entry, where: right})
    with pytest.raises(Refused):
        read_holding({**entry, where: wrong})


def test_a_bar_touches_its_groove_inside_of_the_edges() -> None:
    """By points: the largest bar that is let in lies on the faces, a little larger one on the edges."""
    for groove in ("10", "42", "141.4"):
        half = float(groove) / 2

        def on_faces(diameter: float, half: float = half) -> bool:
            # the circle with its middle over the groove's bottom touches the face where the normal meets it
            return diameter / 2 * math.sin(math.radians(45)) <= half

        most = float(groove) * math.sqrt(2)
        assert on_faces(most - 1e-6)
        assert not on_faces(most + 1e-6)
        read_holding({**V, "groove": groove, "least": "5", "most": f"{most - 0.01:.2f}"})
        with pytest.raises(Refused, match="edges of this groove"):
            read_holding({**V, "groove": groove, "least": "5", "most": f"{most + 0.01:.2f}"})


@given(st.lists(st.integers(1, 90), min_size=1, max_size=5, unique=True))
def test_angles_are_reached_by_every_stack_of_up_to_three(angles: list[int]) -> None:
    stacks = product((-1, 0, 1), repeat=len(angles))
    sums = {sum(s * a for s, a in zip(x, angles, strict=True)) for x in stacks if sum(map(abs, x)) <= 3}
    block = AngleBlocks(kind="angle-blocks", angles=tuple(map(str, angles)))
    assert block.reached() == {s for s in sums if 0 < s <= 90}


def test_each_says_what_it_can_hold() -> None:
    assert described(read_holding(V)) == "2 blocks 75 mm long, bars of 6 to 50 mm"
    assert described(read_holding(ANGLES)) == (
        "1 · 3 · 9 · 27 degrees; up to 3 together set every whole degree from 1 to 13"
    )
    assert described(read_holding({**ANGLES, "angles": ["7"]})) == "7 degrees"
    assert described(read_holding(TABLE)) == "6 in across, 3.25 high; 90:1, 4 degrees a turn"
    upright = described(read_holding({**TABLE, "turns": 72, "upright": True}))
    assert upright.endswith("72:1, 5 degrees a turn; stands upright too")
    assert described(read_holding(HOLDERS)) == "2 for a steep taper: 4 · 6 mm"
    assert described(read_holding({**HOLDERS, "sizes": [], "count": 1})) == "1 for a steep taper"
    assert RotaryTable(**{**TABLE, "turns": 35}).per_turn == Fraction(72, 7)


def test_what_is_shipped_can_be_entered_and_says_something() -> None:
    kinds = shipped.holding_kinds()
    work = {"vise", "parallels", "clamps", "v-blocks", "angle-blocks", "rotary-table"}
    assert {k.of.kind for k in kinds} == {*work, "tool-holders"}
    assert all(described(k.of) for k in kinds)
    ways = {k.of.way for k in kinds if isinstance(k.of, ToolHolders)}
    assert ways <= shipped.holders().keys()
    tapers = {k.of.taper for k in kinds if isinstance(k.of, ToolHolders)}
    assert tapers <= {k.spec.spindle.taper for k in shipped.machine_kinds()}
