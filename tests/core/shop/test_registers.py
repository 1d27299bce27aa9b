"""Entries of the registers: what a machine and a vise may be, and where the error points; words of the records."""

from __future__ import annotations

import copy
from fractions import Fraction
from typing import Any

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.setup.guide import head_words, head_working, vise_words, vise_working
from incudo.core.setup.jaw import JawSweep
from incudo.core.setup.record import HeadPass, VisePass, head_next, vise_next
from incudo.core.setup.standard import SetupRules, ViseSchool
from incudo.core.setup.tram import HeadAxis, Sweep
from incudo.core.shop.machine import read_machine
from incudo.core.shop.workholding import read_holding

RULES = SetupRules()
HALF_THOU = Length("0.0005", Unit.INCH)
GOOD: dict[str, Any] = {
    "format": "incudo-machine/1",
    "kind": "bench",
    "make": "Test 1",
    "unit": "mm",
    "head": {"tilt": True, "nod": None},
    "table": {"length": "600", "width": "180", "slots": ["45", "90"], "slot_width": "12"},
    "travel": ["380", "160", "280"],
    "spindle": {"taper": "short", "watts": 750, "steps": [100, 200, 400]},
    "handles": [
        {"axis": "x", "place": "right end", "clockwise": "left", "unit": "mm", "per_turn": "4", "graduations": 80}
    ],
}


def changed(path: str, value: Any) -> dict[str, Any]:
    data: Any = copy.deepcopy(GOOD)
    at = data
    *way, last = path.split(".")
    for step in way:
        at = at[int(step)] if step.isdigit() else at[step]
    at[last] = value
    return dict(data)


def test_a_good_entry_is_read() -> None:
    machine = read_machine(GOOD)
    assert machine.handles[0].division == "0.05 mm"
    assert machine.pivot_behind is None
    assert read_machine(changed("head.nod", {"behind": "120"})).pivot_behind == Length("120", Unit.MM)


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        ("kind", "lathe", "kind"),
        ("unit", "cubit", "unit"),
        ("table.width", "wide", "table.width"),
        ("travel", ["1", "2"], "travel"),
        ("spindle.steps", [400, 200], "spindle"),
        ("spindle.steps", [], "spindle"),
        ("spindle.ranges", [[60, 500]], "spindle"),
        ("spindle.watts", 5, "spindle.watts"),
        ("handles", [], "handles"),
        ("handles.0.clockwise", "up", "handles.0"),
        ("handles.0.per_turn", "0", "handles.0"),
        ("handles.0.graduations", 3, "handles.0.graduations"),
        ("handles.0.backlash", "4.1", "handles.0"),
        ("handles.0.measured", "yesterday", "handles.0.measured"),
        ("readout", ["w"], "readout.0"),
        ("wings", 2, "wings"),
    ],
)
def test_a_fault_names_its_field(path: str, value: Any, field: str) -> None:
    with pytest.raises(Refused) as refused:
        read_machine(changed(path, value))
    assert refused.value.errors[0].field.startswith(field)


@pytest.mark.parametrize("nonsense", [None, [], "x", 7, {"format": "incudo-machine/1"}, {"of": {}}])
def test_nonsense_is_refused_and_never_breaks(nonsense: Any) -> None:
    for read in (read_machine, read_holding):
        with pytest.raises(Refused):
            read(nonsense)


def test_workholding_is_told_by_its_kind() -> None:
    drawer = read_holding(
        {"kind": "parallels", "unit": "in", "pairs": [{"height": "0.5", "thickness": "0.125", "length": "6"}]}
    )
    assert drawer.kind == "parallels"
    with pytest.raises(Refused):
        read_holding({"kind": "parallels", "unit": "in", "pairs": []})
    with pytest.raises(Refused):
        read_holding({"kind": "magnet"})


VISE = {
    "kind": "vise",
    "unit": "mm",
    "jaw": "100",
    "depth": "32",
    "opening": "100",
    "bolts": "140",
    "bolts_before": "50",
}
PAIR = {"height": "20", "thickness": "4", "length": "150"}
CLAMPS = {"kind": "clamps", "unit": "mm", "stud": "M12", "straps": ["80"], "heels": "20"}


@pytest.mark.parametrize(
    ("field", "least", "most"),
    [("jaw", 25, 400), ("depth", 10, 150), ("opening", 10, 600), ("bolts", 20, 600), ("bolts_before", 0, 400)],
)
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_a_vise_that_none_is_like_is_refused(field: str, least: int, most: int, unit: str) -> None:
    inches = {k: str(round(float(v) / 25.4, 4)) for k, v in VISE.items() if v.isdecimal()}
    vise = VISE | {"unit": unit} | (inches if unit == "in" else {})
    by = 25.4 if unit == "in" else 1
    for size, fits in ((least, True), (most, True), (least - 0.1, False), (most + 0.1, False)):
        entry = vise | {field: f"{size / by + (0.0001 if size == least else -0.0001 if size == most else 0):.4f}"}
        if fits:
            assert read_holding(entry).kind == "vise"
            continue
        with pytest.raises(Refused, match=f"{field}: must be from"):
            read_holding(entry)


@pytest.mark.parametrize(
    "pairs",
    [
        [PAIR | {"height": "2.9"}],
        [PAIR | {"height": "151"}],
        [PAIR, PAIR | {"thickness": "0.9"}],
        [PAIR | {"length": "501"}],
        [PAIR, PAIR | {"height": "20.0"}],
    ],
)
def test_parallels_that_none_are_like_are_refused_with_their_number(pairs: list[dict[str, str]]) -> None:
    with pytest.raises(Refused, match=f"pair {len(pairs)}"):
        read_holding({"kind": "parallels", "unit": "mm", "pairs": pairs})


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"straps": ["80", "24"]}, "strap 2"),
        ({"heels": "2"}, "heels"),
        ({"width": "9.9"}, "width"),
        ({"width": "80.1"}, "width"),
    ],
)
def test_clamps_that_none_are_like_are_refused(change: dict[str, Any], said: str) -> None:
    for width in (None, "", "10", "80"):
        assert read_holding(CLAMPS | {"width": width}).kind == "clamps"
    with pytest.raises(Refused, match=said):
        read_holding(CLAMPS | change)


@pytest.mark.parametrize("field", ["head_rise", "head_span", "vise_rise"])
def test_a_standard_is_more_than_nothing(field: str) -> None:
    with pytest.raises(ValueError, match=f"{field}: must be more than 0"):
        SetupRules.model_validate({field: "0"})
    with pytest.raises(ValueError, match="a twentieth"):
        SetupRules(head_rise="1")


# ── words ─────────────────────────────────────────────────────────────────


def sweep(axis: HeadAxis, high: str) -> Sweep:
    return Sweep(axis, Fraction(0), Length(high, Unit.INCH).mm, Length("8", Unit.INCH).mm)


def head(axis: HeadAxis, high: str, behind: Fraction | None, *, tight: bool = True, learning: bool = False) -> str:
    s = sweep(axis, high)
    nxt = head_next([HeadPass(s, tight)], (axis,), RULES.head, behind)
    said = head_words(nxt, s, HALF_THOU, learning=learning)
    return " ".join((said.title, *said.lines))


def test_a_nod_whose_pivot_nobody_knows_is_turned_a_little_first() -> None:
    assert "turn the screw a little, read both again" in head(HeadAxis.NOD, "0.010", None)
    known = head(HeadAxis.NOD, "0.010", Length("6", Unit.INCH).mm)
    # d = -0.010: the front rises by d(6 + 4)/8 to 0.0125, the rear by d(6 - 4)/8 to 0.0125
    assert "front needle to 0.0125 in; the rear one then reads 0.0125 in" in known
    assert "the pivot lies behind the spindle." in known
    assert "learnt from your first turn" in head(HeadAxis.NOD, "0.010", Fraction(150), learning=True)


@pytest.mark.parametrize(
    ("axis", "high", "words"),
    [
        (HeadAxis.TILT, "0.010", ("top of the head leans right", "anticlockwise")),
        (HeadAxis.TILT, "-0.010", ("top of the head leans left", "head clockwise")),
        (HeadAxis.NOD, "0.010", ("top of the head leans back", "Nod the head forward")),
        (HeadAxis.NOD, "-0.010", ("leans towards you", "Nod the head back")),
    ],
)
def test_the_way_of_a_head_follows_from_the_low_side(axis: HeadAxis, high: str, words: tuple[str, ...]) -> None:
    said = head(axis, high, Fraction(150))
    assert all(w in said for w in words)
    assert "never loose" in said


def test_a_good_head_is_tightened_crosswise_and_read_again() -> None:
    assert "Tighten crosswise" in head(HeadAxis.TILT, "0.0005", None, tight=False)
    assert "Accept" in head(HeadAxis.TILT, "0.0005", None)


@pytest.mark.parametrize("school", ViseSchool)
def test_a_vise_along_y_is_spoken_of_by_front_and_rear(school: ViseSchool) -> None:
    nxt = vise_next([], school, Fraction(150), RULES.vise.mm, Fraction(-95), "right")
    first = " ".join(vise_words(nxt, None, school, "y", HALF_THOU, Fraction(-95), Fraction(1)).lines)
    assert "left" not in first
    assert "right" not in first
    jaw = JawSweep(Fraction(-70), Fraction(70), Fraction(0), Fraction("-0.5"))
    nxt = vise_next([VisePass(jaw, False)], school, Fraction(150), RULES.vise.mm, Fraction(-95), "right")
    lines = vise_words(nxt, jaw, school, "y", HALF_THOU, Fraction(-95), Fraction(1)).lines
    assert lines[0].startswith("Tap the rear end towards the tip, with a soft hammer")
    assert "towards you" not in lines[0], "along Y the jaw moves left and right"


def test_a_jump_after_tightening_is_called_dirt() -> None:
    before, after = (JawSweep(Fraction(-70), Fraction(70), Fraction(0), Fraction(x)) for x in ("0", "0.09"))
    passes = [VisePass(before, False), VisePass(after, True)]
    nxt = vise_next(passes, ViseSchool.PIVOT, Fraction(150), RULES.vise.mm, Fraction(-95), "right")
    said = vise_words(nxt, after, ViseSchool.PIVOT, "x", HALF_THOU, Fraction(-95), Fraction(1))
    assert "dirt lies underneath" in said.lines[0]


def test_the_working_shows_what_was_put_in() -> None:
    steps = head_working(sweep(HeadAxis.NOD, "0.010"), RULES.head, Length("6", Unit.INCH).mm, Unit.INCH)
    results = {s.what: s.result for s in steps}
    assert results["Difference"] == "0.0100 in"
    assert results["Allowed over this span"] == "0.0013 in"
    assert results["Front falls by"] == "-0.0125 in"
    jaw = JawSweep(Fraction(0), Length("5.5", Unit.INCH).mm, Fraction(0), Length("0.0035", Unit.INCH).mm)
    taper = vise_working(jaw, Length("6", Unit.INCH).mm, [("the part", Length("3.25", Unit.INCH).mm)], Unit.INCH)
    assert taper[-1].result == "0.0021 in"
    assert "0.0035 in x 3.2500 in / 5.5000 in" in taper[-1].put_in
