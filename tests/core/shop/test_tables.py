"""The registers of cutters and materials: what is shipped is plausible, and files are looked at line by line."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.reckoning.bench import Bench, fills
from incudo.core.shop.cutter import ON_ARBOR, Cutter, CutterKind, Drill, Thread, implausible, out_of_order
from incudo.core.shop.material import CutterMaterial, Operation, Range, carbide_is_faster
from incudo.core.shop.table import MOST_LINES, Line, header, read, write
from incudo.demo.setting import cutter_entries, machine_entries

F = Fraction
MILL = {"name": "End mill", "kind": "end mill", "unit": "mm", "diameter": "10", "owned": "2", "teeth": "4"}


def line_of(**row: str) -> str:
    return f"{','.join(row)}\n{','.join(row.values())}\n"


def test_threads_follow_their_standards_formulas() -> None:
    """Number sizes are 0.060 + 0.013 · n in; the minor diameter is D − 1.0825 · P; coarse is coarser than fine."""
    threads = shipped.threads()
    coarse: dict[tuple[str, Fraction], Fraction] = {}
    for t in threads.values():
        if t.designation.startswith("#"):
            number = int(t.designation[1:].split("-")[0])
            assert F(t.diameter) == F(60 + 13 * number, 1000), t.designation
        if t.unit == "in":
            assert t.designation.endswith(f"-{t.pitch}")
        else:
            assert float(t.designation.removeprefix("M").split("x")[0]) == float(t.diameter)
        minor = t.diameter_mm - F("1.082532") * t.pitch_mm
        assert 0 < minor < t.diameter_mm
        kind, fine = t.series.split()
        if fine == "coarse":
            coarse[kind, t.diameter_mm] = t.pitch_mm
    fine = [t for t in threads.values() if t.series.endswith("fine")]
    assert all(t.pitch_mm < coarse[t.series.split()[0], t.diameter_mm] for t in fine)
    assert len(threads) > 50


def test_drills_stand_in_order_and_are_what_they_are_called() -> None:
    drills = shipped.drills()
    assert out_of_order(drills) == ()
    by = {d.designation: F(d.diameter) for d in drills}
    assert by["1/2"] == F(1, 2)
    # between the letters' first and the numbers' first there is no gap: A is larger than #1, and Z smaller than 27/64
    assert by["#1"] < by["A"] < by["Z"] < by["27/64"]
    assert len([d for d in drills if d.series == "number"]) == 60
    assert len([d for d in drills if d.series == "letter"]) == 26
    swapped = (drills[1], drills[0])
    assert "out of order" in out_of_order(swapped)[0]


def test_each_thread_has_a_drill_of_its_own_series_that_leaves_a_usable_thread() -> None:
    for t in shipped.threads().values():
        metric = t.unit == "mm"
        sizes = [F(d.diameter) * (1 if d.unit == "mm" else F("25.4")) for d in shipped.drills()]
        own = [s for s, d in zip(sizes, shipped.drills(), strict=True) if (d.series == "metric") == metric]
        assert any(50 <= (t.diameter_mm - s) * F("76.98") / t.pitch_mm <= 83 for s in own), t.designation


def test_materials_have_ranges_for_each_cutter_and_operation_and_none_is_doubtful() -> None:
    stocks = {s.material.key: s for s in shipped.materials()}
    for s in stocks.values():
        assert {(r.cutter, r.operation) for r in s.ranges} == {(c, o) for c in CutterMaterial for o in Operation}
        assert carbide_is_faster(s.ranges) == ()
        assert s.material.cautions
        for c in CutterMaterial:
            mill, face = s.range_for(c, Operation.MILLING), s.range_for(c, Operation.FACING)
            assert mill
            assert face
            assert face.chip(F(50))[0] >= mill.chip(F("12.7"))[0]

    def speed(key: str) -> Fraction:
        found = stocks[key].range_for(CutterMaterial.HSS, Operation.MILLING)
        assert found
        return F(found.v_low)

    # what is harder to cut is cut slower
    order = ("stainless-steel", "medium-carbon-steel", "low-carbon-steel", "free-cutting-steel", "brass",
             "aluminium-wrought", "acetal")  # fmt: skip
    speeds = [speed(k) for k in order]
    assert speeds == sorted(speeds)
    assert "dust mask" in " ".join(stocks["cast-iron"].material.cautions)
    assert "screws itself in" in " ".join(stocks["brass"].material.cautions)


def test_the_demos_cutters_fit_their_threads_and_holders() -> None:
    cutters = cutter_entries()
    assert all(implausible(c, shipped.threads(), shipped.holders()) == () for c in cutters)
    # its machines have no level arbor
    assert {c.kind for c in cutters} == set(CutterKind) - {*ON_ARBOR}
    assert all(F(100 - 20, 100) <= c.real / (F(c.diameter) * c.unit.in_mm) <= 1 for c in cutters)


@pytest.mark.parametrize(("letters", "fits"), [(80, True), (81, False)])
def test_a_name_fits_on_a_label(letters: int, fits: bool) -> None:
    (line,) = read(Cutter, line_of(**MILL | {"name": "n" * letters}))
    assert (line.row is not None) is fits


@pytest.mark.parametrize(("lines", "fits"), [(MOST_LINES, True), (MOST_LINES + 1, False)])
def test_how_many_lines_a_register_may_have(lines: int, fits: bool) -> None:
    text = "no column of a register\n" + "x\n" * lines
    with pytest.raises(Refused) as refused:
        read(Cutter, text)
    assert ("at most 2000 lines" in str(refused.value)) is not fits


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"diameter": "0"}, "diameter: must be more than 0"),
        ({"diameter": "ten"}, "diameter ten"),
        ({"teeth": "9"}, "teeth: must be 2 to 6 for end mill"),
        ({"measured": "7.5"}, "measured: must lie between 80 and 101 %"),
        ({"measured": "10.5"}, "measured"),
        ({"length": "900"}, "length"),
        ({"thread": "M6"}, "thread: a tap has one"),
        ({"dial": "radius"}, "dial"),
        ({"kind": "spoon"}, "kind spoon"),
        ({"owned": "-1"}, "owned"),
        ({"owned": "some"}, "owned some"),
        ({"kind": "drill", "teeth": "2"}, "angle: must be one of"),
        ({"kind": "countersink", "teeth": "3", "angle": "75"}, "angle"),
        ({"kind": "tap", "teeth": "0", "thread": "M10"}, "tap: must be cutting or forming"),
    ],
)
def test_a_cutter_that_cannot_be_is_refused_by_its_column(change: dict[str, str], words: str) -> None:
    (line,) = read(Cutter, line_of(**MILL | change))
    assert line.row is None
    said = " ".join(f"{e.field} {e.value}: {e.bound}" for e in line.errors)
    assert words.replace(": ", " ", 1).split(" ", 1)[0] in said
    assert words.rsplit(": ", maxsplit=1)[-1] in said


@pytest.mark.parametrize(
    ("row", "field"),
    [
        ({"v_low": "50", "v_high": "40"}, "v_high"),
        ({"v_low": "5", "v_high": "60"}, "v_high"),
        ({"chart": "12.7:0.2-0.1"}, "chart"),
        ({"v_low": "1"}, "v_low"),
        ({"material": "Brass!"}, "material"),
    ],
)
def test_a_range_upside_down_is_refused(row: dict[str, str], field: str) -> None:
    good = {"material": "brass", "cutter": "carbide", "operation": "milling", "v_low": "40", "v_high": "60",
            "chart": "3.2:0.01-0.02 12.7:0.05-0.1"}  # fmt: skip
    assert read(Range, line_of(**good))[0].row
    (line,) = read(Range, line_of(**good | row))
    assert [e.field for e in line.errors] == [field]


def test_a_thread_or_drill_that_cannot_be_is_refused() -> None:
    good = shipped.threads()["M6"].model_dump(mode="json")
    for change in ({"pitch": "4"}, {"unit": "in"}, {"close": "5.9"}, {"free": "6.3"}):
        assert read(Thread, line_of(**good | change))[0].row is None, change
    for designation, diameter in (("1/4", "0.26"), ("6.0", "6.1"), ("x", "0.2")):
        series, unit = ("metric", "mm") if "." in designation else ("fraction", "in")
        row = {"designation": designation, "series": series, "unit": unit, "diameter": diameter}
        assert read(Drill, line_of(**row))[0].row is None, designation


def test_a_file_is_refused_as_a_whole_only_when_it_is_no_table_of_this_register() -> None:
    for text, words in (
        ("", "empty"),
        ("name\nx", "lacks the columns"),
        (",".join((*header(Cutter), "hope")), "not known"),
    ):
        with pytest.raises(Refused, match=words):
            read(Cutter, text)
    lines = read(Cutter, line_of(**MILL) + "# a remark\n\n" + ",".join([*MILL.values()] * 2) + "\n")
    assert [(x.number, x.row is None) for x in lines] == [(2, False), (5, True)]


@given(st.lists(st.sampled_from(cutter_entries()), max_size=8))
def test_what_goes_out_comes_in_the_same(rows: list[Cutter]) -> None:
    assert [x.row for x in read(Cutter, write(Cutter, rows))] == rows


@given(st.text(max_size=300))
def test_any_text_is_a_report_or_a_refusal(text: str) -> None:
    for given_text in (text, ",".join(header(Range)) + "\n" + text):
        bounds: list[str] = []
        lines: tuple[Line[Range], ...] = ()
        try:
            lines = read(Range, given_text)
        except Refused as refused:
            bounds = [e.bound for e in refused.errors]
        assert all(bounds)
        assert all(x.row or x.errors for x in lines)


def test_what_is_on_the_bench_fills_the_inputs() -> None:
    machines, cutters = machine_entries(), {c.name: c for c in cutter_entries()}
    steel = next(s for s in shipped.materials() if s.material.key == "low-carbon-steel")
    b = Bench(machines["petrel"], steel, cutters["End mill 1/2 in, 4 flutes, reground"], tuple(cutters.values()), {})
    f = fills(b)
    assert (f["cutter.diameter"].value, f["cutter.teeth"].value) == ("0.4865", "4")
    assert "reground" in f["cutter.diameter"].words
    # 24 m/min is 79 ft/min: the low end, in the machine's own unit
    assert (f["material.surface"].value, f["material.surface"].unit) == ("79", "ft/min")
    assert math.isclose(float(f["material.surface"].value) * 0.3048, 24, abs_tol=0.2)
    assert f["machine.steps"].value.startswith("90 145")
    tap = fills(Bench(machines["petrel"], None, cutters["Tap M6"], tuple(cutters.values()), shipped.threads()))
    assert (tap["cutter.thread"].value, tap["cutter.pitch"].value, tap["thread.close"].value) == ("6", "1", "6.4")
    assert "5.0" in tap["crib.own"].value.split()
    assert fills(Bench()) == {}
    # a reamer runs at half a drill's speed, also where only a cutting speed is asked
    reamer = fills(Bench(machines["gannet"], steel, cutters["Reamer 10 mm"], (), {}))
    assert (reamer["material.surface"].value, reamer["material.drill"].value) == ("10", "20")
    assert reamer["cutter.tool"].value == "reamer"
    assert "material.chip" not in reamer


#: Letter and number drills as a wall chart lists them, in thousandths of an inch, written down apart from the table.
LETTERS = (
    "234 238 242 246 250 257 261 266 272 277 281 290 295 302 316 323 332 339 348 358 368 377 386 397 404 413"  # A to Z
)
NUMBERS = (
    "228 221 213 209 205.5 204 201 199 196 193.5 191 189 185 182 180 177 173 169.5 166 161 159 157 154 152 149.5 147 "
    "144 140.5 136 128.5 120 116 113 111 110 106.5 104 101.5 99.5 98 96 93.5 89 86 82 81 78.5 76 73 70 67 63.5 59.5 "
    "55 52 46.5 43 42 41 40"
)  # 1 to 60
#: Threads per inch of the unified coarse and fine series, and the pitches of the metric coarse one in mm, likewise.
COARSE = (
    "#2 56 #4 40 #5 40 #6 32 #8 32 #10 24 #12 24 1/4 20 5/16 18 3/8 16 7/16 14 1/2 13 9/16 12 5/8 11 3/4 10 7/8 9 1 8"
)
FINE = (
    "#2 64 #4 48 #5 44 #6 40 #8 36 #10 32 #12 28 1/4 28 5/16 24 3/8 24 7/16 20 1/2 20 9/16 18 5/8 18 3/4 16 7/8 14 1 12"
)
METRIC = "M2 0.4 M2.5 0.45 M3 0.5 M4 0.7 M5 0.8 M6 1 M8 1.25 M10 1.5 M12 1.75 M14 2 M16 2 M20 2.5"


def test_every_drill_and_thread_is_what_a_second_list_says() -> None:
    drills = {d.designation: F(d.diameter) for d in shipped.drills()}
    for n, size in enumerate(LETTERS.split()):
        assert drills[chr(ord("A") + n)] == F(size) / 1000
    for n, size in enumerate(NUMBERS.split(), start=1):
        assert drills[f"#{n}"] == F(size) / 1000
    for d in shipped.drills():
        if d.series == "fraction":
            assert abs(F(d.diameter) - F(d.designation)) <= F(1, 20_000), "to a ten-thousandth"
    by = {t.designation: t for t in shipped.threads().values()}
    for series, listed in (("coarse", COARSE), ("fine", FINE)):
        words = listed.split()
        for size, pitch in zip(words[::2], words[1::2], strict=True):
            assert by[f"{size}-{pitch}"].series.endswith(series)
    pairs = METRIC.split()
    for size, pitch in zip(pairs[::2], pairs[1::2], strict=True):
        assert (by[size].pitch, by[size].series) == (pitch, "metric coarse")
