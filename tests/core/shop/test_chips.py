"""Chip load against diameter: rising, within bounds, and right for a small cutter."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.reckoning.bench import Bench, chip_chart, chip_of, fills
from incudo.core.shop.chips import MOST_OF_DIAMETER, MOST_POINTS, chip_at, read_chart
from incudo.core.shop.cutter import Cutter, CutterKind
from incudo.core.shop.material import CutterMaterial, Operation, Stock
from incudo.demo.setting import cutter_entries

STOCKS = {s.material.key: s for s in shipped.materials()}
diameters = st.integers(5, 3000).map(lambda n: Fraction(n, 10))


def cutter(kind: CutterKind, diameter: str, unit: Unit = Unit.INCH, **more: str | int) -> Cutter:
    like = next(c for c in cutter_entries() if c.kind is kind)
    change = {"name": "x", "diameter": diameter, "unit": unit, "measured": None, "length": None}
    return like.model_copy(update=change | more)


def inches(material: str, kind: CutterKind, diameter: str) -> tuple[float, float]:
    found = chip_of(Bench(stock=STOCKS[material], cutter=cutter(kind, diameter)))
    assert found
    return float(found[0] / MM_PER_INCH), float(found[1] / MM_PER_INCH)


@pytest.mark.parametrize(
    ("material", "kind", "diameter", "low", "high"),
    [
        # what charts of chip load give, in inches
        ("aluminium-wrought", CutterKind.END_MILL, "0.125", 0.0005, 0.001),
        ("low-carbon-steel", CutterKind.END_MILL, "0.125", 0.0003, 0.0006),
        ("low-carbon-steel", CutterKind.END_MILL, "0.5", 0.0018, 0.003),
        ("aluminium-wrought", CutterKind.END_MILL, "0.5", 0.003, 0.005),
        ("free-cutting-steel", CutterKind.DRILL, "0.0625", 0.0006, 0.0012),
        ("free-cutting-steel", CutterKind.DRILL, "0.5", 0.006, 0.010),
    ],
)
def test_what_published_charts_give(material: str, kind: CutterKind, diameter: str, low: float, high: float) -> None:
    assert inches(material, kind, diameter) == pytest.approx((low, high), rel=0.15)


@given(st.sampled_from(sorted(STOCKS)), st.sampled_from(tuple(CutterMaterial)), st.sampled_from(tuple(Operation)),
       diameters, diameters)  # fmt: skip
def test_a_larger_cutter_never_bears_a_smaller_chip(
    material: str, made_of: CutterMaterial, operation: Operation, one: Fraction, other: Fraction
) -> None:
    chosen = STOCKS[material].range_for(made_of, operation)
    assert chosen
    (low, high), (low2, high2) = chosen.chip(min(one, other)), chosen.chip(max(one, other))
    assert 0 < low <= high
    assert low <= low2
    assert high <= high2
    assert high <= min(one, other) * MOST_OF_DIAMETER[operation.value]


def test_every_cutter_of_the_crib_is_offered_a_chip_it_bears() -> None:
    for c in cutter_entries():
        for stock in STOCKS.values():
            chip = chip_of(Bench(stock=stock, cutter=c))
            if chip is None:
                assert c.operation is None
                continue
            most = MOST_OF_DIAMETER["drilling" if c.operation is Operation.DRILLING else "milling"]
            assert Fraction(1, 2000) <= chip[0] <= chip[1] <= c.real * most, (c.name, stock.material.key)


def test_carbide_drilling_and_scaled_facing_are_called_rules_of_thumb() -> None:
    for stock in STOCKS.values():
        drilling = stock.range_for(CutterMaterial.CARBIDE, Operation.DRILLING)
        facing = stock.range_for(CutterMaterial.CARBIDE, Operation.FACING)
        assert drilling
        assert facing
        assert drilling.source.value == facing.source.value == "rule of thumb"


def test_low_carbon_steel_as_a_shop_cuts_it() -> None:
    stock = STOCKS["low-carbon-steel"]
    mill = stock.range_for(CutterMaterial.HSS, Operation.MILLING)
    face = stock.range_for(CutterMaterial.HSS, Operation.FACING)
    assert mill
    assert face
    assert (mill.v_low, mill.v_high) == ("24", "40")
    assert (face.v_low, face.v_high) == ("30", "45")
    assert face.chip(Fraction(63)) == (Fraction("0.1"), Fraction("0.25"))


@pytest.mark.parametrize("kind", [CutterKind.SHELL, CutterKind.FACE, CutterKind.FLY])
def test_shell_face_and_fly_cutters_take_the_facing_row(kind: CutterKind) -> None:
    chosen = Bench(stock=STOCKS["low-carbon-steel"], cutter=cutter(kind, "2")).range
    assert chosen
    assert chosen.operation is Operation.FACING


@pytest.mark.parametrize("kind", [CutterKind.T_SLOT, CutterKind.DOVETAIL])
def test_cutters_with_a_thin_neck_run_at_half_speed_with_a_small_chip(kind: CutterKind) -> None:
    stock = STOCKS["low-carbon-steel"]
    necked = fills(Bench(stock=stock, cutter=cutter(kind, "20", Unit.MM)))
    plain = fills(Bench(stock=stock, cutter=cutter(CutterKind.END_MILL, "20", Unit.MM)))
    assert float(necked["material.surface"].value) == float(plain["material.surface"].value) / 2
    assert "thin neck" in necked["material.surface"].words
    assert necked["material.chip"].words.startswith("0.02 to 0.05 mm per tooth")
    small = chip_of(Bench(stock=stock, cutter=cutter(kind, "3", Unit.MM)))
    assert small
    assert small[1] < Fraction(2, 100), "a tiny one bears less than that"


def test_what_is_filled_goes_by_the_real_diameter() -> None:
    stock = STOCKS["low-carbon-steel"]
    new = fills(Bench(stock=stock, cutter=cutter(CutterKind.END_MILL, "10", Unit.MM)))["material.chip"]
    ground = fills(Bench(stock=stock, cutter=cutter(CutterKind.END_MILL, "10", Unit.MM, measured="8.5")))
    assert Fraction(ground["material.chip"].value) < Fraction(new.value)
    assert "at 8.5 mm" in ground["material.chip"].words
    assert "less rubs, more breaks" in new.words


def test_without_a_cutter_no_chip_is_offered() -> None:
    found = fills(Bench(stock=STOCKS["brass"]))
    assert "material.surface" in found
    assert "material.chip" not in found
    assert "material.turn" not in found
    assert chip_chart(Bench(stock=STOCKS["brass"])) is None
    assert chip_chart(Bench(cutter=cutter(CutterKind.END_MILL, "0.5"))) is None


@pytest.mark.parametrize(
    ("kind", "name"), [(CutterKind.END_MILL, "material.chip"), (CutterKind.DRILL, "material.turn")]
)
def test_a_tooth_and_a_turn_are_not_mixed_up(kind: CutterKind, name: str) -> None:
    found = fills(Bench(stock=STOCKS["brass"], cutter=cutter(kind, "0.25")))
    assert {"material.chip", "material.turn"} & set(found) == {name}
    assert f"per {'tooth' if name.endswith('chip') else 'turn'}" in found[name].words


def test_the_plot_stands_where_the_cutter_does() -> None:
    drawn = chip_chart(Bench(stock=STOCKS["aluminium-wrought"], cutter=cutter(CutterKind.END_MILL, "0.125")))
    assert drawn
    assert drawn.words == "Chip load against diameter: at 0.125 in it is 0.00051 to 0.00098 in per tooth."
    wide = chip_chart(Bench(stock=STOCKS["aluminium-wrought"], cutter=cutter(CutterKind.END_MILL, "1.5")))
    assert wide
    assert all(-2 <= x <= 101 for s in wide.shapes if s.stroke != "text" for x, _ in s.points)
    texts = [s.text for s in wide.shapes if s.stroke == "text"]
    assert {"0.5", "1.0", "diameter, in", "in per tooth"} <= set(texts), "both axes have values and units"


CHART = "2:0.01-0.02 6:0.03-0.06 12:0.03-0.08"


@pytest.mark.parametrize(
    ("diameter", "low", "high"),
    [
        ("1", "0.005", "0.01"),
        ("2", "0.01", "0.02"),
        ("4", "0.02", "0.04"),
        ("6", "0.03", "0.06"),
        ("9", "0.03", "0.07"),
        ("12", "0.03", "0.08"),
        ("100", "0.03", "0.08"),
    ],
)
def test_a_chart_is_read_between_its_points(diameter: str, low: str, high: str) -> None:
    found = chip_at(read_chart(CHART, "milling"), Fraction(diameter), "milling")
    assert found == (Fraction(low), Fraction(high))


def test_the_bound_holds_where_a_chart_would_go_beyond() -> None:
    """At 20 mm the chart's point lies at the bound of 2 %; half the diameter, half the chip."""
    points = read_chart("20:0.2-0.4", "milling")
    assert chip_at(points, Fraction(20), "milling") == (Fraction("0.2"), Fraction("0.4"))
    assert chip_at(points, Fraction(10), "milling") == (Fraction("0.1"), Fraction("0.2"))
    steep = read_chart("1:0.02-0.02 100:0.5-2", "milling")
    for one, other in pairwise(Fraction(n) for n in range(1, 120)):
        assert chip_at(steep, one, "milling")[1] <= other * MOST_OF_DIAMETER["milling"]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "must be 1 to 16 points"),
        (" ".join(f"{n}:0.01-0.02" for n in range(1, MOST_POINTS + 2)), "must be 1 to 16 points"),
        ("3", "must be diameter:low-high"),
        ("a:0.01-0.02", "must be diameter:low-high"),
        ("3:0.01", "must be diameter:low-high"),
        ("3:0.01-0/0", "must be diameter:low-high"),
        ("0:0.01-0.02", "diameter must be more than 0"),
        ("501:0.01-0.02", "at most 500 mm"),
        ("3:0-0.02", "must be more than 0"),
        ("3:0.03-0.02", "its low end not above its high end"),
        ("3:0.005-0.051", "at most ten times"),
        ("3:0.01-0.061", "at most 2 % of the diameter"),
        ("3:0.01-0.02 3:0.02-0.03", "diameters must rise"),
        ("3:0.01-0.02 6:0.005-0.03", "must not be given a smaller chip"),
        ("3:0.01-0.03 6:0.01-0.02", "must not be given a smaller chip"),
    ],
)
def test_a_chart_that_cannot_be_is_refused(text: str, words: str) -> None:
    with pytest.raises(ValueError, match=words):
        read_chart(text, "milling")


def test_bounds_of_a_chart_are_in() -> None:
    for operation in ("milling", "facing"):
        assert read_chart("3:0.006-0.06", operation)
        with pytest.raises(ValueError, match="2 % of the diameter"):
            read_chart("3:0.0061-0.0601", operation)
    assert read_chart("10:0.1-0.35", "drilling")
    with pytest.raises(ValueError, match=r"3\.5 % of the diameter"):
        read_chart("10:0.1-0.351", "drilling")
    assert len(read_chart(" ".join(f"{n}:0.01-0.02" for n in range(1, MOST_POINTS + 1)), "milling")) == MOST_POINTS


def test_a_stock_is_read_back_as_it_was_kept() -> None:
    for stock in STOCKS.values():
        again = Stock.model_validate_json(stock.model_dump_json())
        assert again == stock
        assert [r.points for r in again.ranges] == [r.points for r in stock.ranges]
