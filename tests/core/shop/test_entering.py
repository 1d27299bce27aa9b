"""Cutters of a drawer: sizes as they are stamped, names that tell them apart, what cannot be at its field."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.shop.cutter import ANGLES, TEETH, Cutter, CutterKind
from incudo.core.shop.entering import MOST_SIZES, Drawer, already, cutters_of, usual

MILLS = Drawer(CutterKind.END_MILL, Unit.INCH, ("0.25",), 2, teeth=4, holder="collet")
DRILLS = Drawer(CutterKind.DRILL, Unit.INCH, ("1/8",), 1, teeth=2, angle="118", holder="chuck")
TAPS = Drawer(CutterKind.TAP, Unit.INCH, ("1/4-20", "M6"), 1, tap="cutting", holder="tap-wrench")


def made(drawer: Drawer) -> tuple[Cutter, ...]:
    return cutters_of(drawer, shipped.threads(), shipped.drills(), shipped.holders())


def test_sizes_are_read_as_they_are_stamped() -> None:
    mills = made(replace(MILLS, sizes=("1/8", "0.25", "1 1/4")))
    assert [(c.name, c.real) for c in mills] == [
        ("End mill 1/8 in, 4 flutes", Fraction(254, 80)),
        ("End mill 0.25 in, 4 flutes", Fraction(254, 40)),
        ("End mill 1 1/4 in, 4 flutes", Fraction(254, 8)),
    ]
    # a drill measures as its table says: 9/64 is stamped 0.1406; numbers and letters are inches in every drawer
    drills = made(replace(DRILLS, sizes=("9/64", "#7", "f", "0.2")))
    assert [(c.name, c.diameter, c.unit) for c in drills] == [
        ("Drill 9/64 in", "0.1406", "in"),
        ("Drill #7", "0.2010", "in"),
        ("Drill f", "0.257", "in"),
        ("Drill 0.2 in", "0.2", "in"),
    ]
    metric = made(replace(DRILLS, unit=Unit.MM, sizes=("6.8", "F")))
    assert [(c.diameter, c.unit) for c in metric] == [("6.8", "mm"), ("0.257", "in")]
    taps = made(TAPS)
    assert [(c.name, c.thread, c.unit) for c in taps] == [("Tap 1/4-20", "1/4-20", "in"), ("Tap M6", "M6", "mm")]


@given(st.integers(0, 3), st.integers(1, 63), st.sampled_from((2, 4, 8, 16, 32, 64)))
def test_a_fraction_measures_what_it_says(whole: int, top: int, bottom: int) -> None:
    size = f"{whole} {top}/{bottom}" if whole else f"{top}/{bottom}"
    if top >= bottom:
        with pytest.raises(Refused, match="sizes"):
            made(replace(MILLS, sizes=(size,)))
        return
    (reamer,) = made(Drawer(CutterKind.REAMER, Unit.INCH, (size,), 1, teeth=6))
    assert abs(reamer.real - (whole + Fraction(top, bottom)) * Fraction(254, 10)) <= Fraction(254, 10) / 2_000_000


@pytest.mark.parametrize("kind", list(CutterKind))
def test_each_kind_is_entered_with_what_it_offers(kind: CutterKind) -> None:
    u = next(u for u in usual(shipped.holders()) if u.kind is kind)
    offered = Drawer(
        kind,
        Unit.MM,
        ("M10",) if u.threads else ("80",) if u.wide else ("10", "12"),
        1,
        teeth=u.teeth[1] if u.teeth else 0,
        angle=str(u.angles[0]) if u.angles else "",
        tap="cutting" if u.threads else "",
        dial="diameter" if u.dials else "",
        holder=u.holders[-1] if u.holders else "",
        length="16" if u.wide else "",
    )
    assert len(made(offered)) == len(offered.sizes)
    for tooth in {u.teeth[0] - 1, u.teeth[1] + 1} if u.teeth else ():
        with pytest.raises(Refused, match="teeth"):
            made(replace(offered, teeth=tooth))
    if u.angles:
        with pytest.raises(Refused, match="angle"):
            made(replace(offered, angle="50"))
    assert (u.teeth, u.angles) == (TEETH.get(kind), ANGLES.get(kind, ()))


def test_what_sits_on_an_arbor_is_called_by_its_width_too() -> None:
    drawer = Drawer(CutterKind.SIDE_AND_FACE, Unit.MM, ("100",), 2, teeth=20, length="12", holder="arbor-support")
    assert [c.name for c in made(drawer)] == ["Side and face cutter 100 mm, 12 mm wide"]
    with pytest.raises(Refused, match="length"):
        made(replace(drawer, length=""))


def test_the_usual_holder_stands_first() -> None:
    first = {u.kind: u.holders[0] for u in usual(shipped.holders())}
    assert first[CutterKind.TAP] == "tap-wrench", "never a chuck by default: it slips on the hardened shank"
    assert (first[CutterKind.DRILL], first[CutterKind.END_MILL]) == ("chuck", "collet")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"sizes": ()}, "sizes"),
        ({"sizes": tuple(f"{n}.5" for n in range(1, MOST_SIZES + 2))}, "sizes"),
        ({"sizes": ("1/4", "1/4")}, "sizes"),
        ({"sizes": ("1/4", "0.250")}, "sizes"),
        ({"sizes": ("6", "1/4"), "unit": Unit.MM}, "sizes"),
        ({"sizes": ("1/4", "3/8"), "length": "1"}, "length"),
        ({"sizes": ("1/7",)}, "sizes"),
        ({"sizes": ("1/0",)}, "sizes"),
        ({"sizes": ("x 1/4",)}, "sizes"),
        ({"sizes": ("1/",)}, "sizes"),
        ({"sizes": ("#7",)}, "sizes"),
        ({"sizes": ("0",)}, "sizes"),
        ({"sizes": ("11.9",)}, "sizes"),
        ({"sizes": ("0,25",)}, "sizes"),
        ({"teeth": 7}, "teeth"),
        ({"length": "0"}, "length"),
        ({"length": "x"}, "length"),
        ({"holder": "chuck"}, "holder"),
        ({"holder": "nothing"}, "holder"),
        ({"tap": "cutting", "kind": CutterKind.TAP, "teeth": 0, "holder": "", "sizes": ("1/4",)}, "sizes"),
        ({"kind": CutterKind.TAP, "teeth": 0, "holder": "", "sizes": ("1/4-20",)}, "tap"),
        ({"dial": "radius"}, "dial"),
        ({"name": "x" * 80}, "name"),
    ],
)
def test_what_cannot_be_is_said_at_its_field(change: dict[str, Any], field: str) -> None:
    with pytest.raises(Refused) as refused:
        made(replace(MILLS, **change))
    assert [e.field for e in refused.value.errors] == [field]


def test_names_that_are_there_are_all_said() -> None:
    new = made(replace(MILLS, sizes=("1/8", "1/4", "3/8")))
    already(new, ["Drill 1/8 in"])
    with pytest.raises(Refused, match=r"1/8 in, 4 flutes; End mill 3/8 in"):
        already(new, ["END MILL 3/8 in, 4 flutes", "End mill 1/8 in, 4 flutes"])
