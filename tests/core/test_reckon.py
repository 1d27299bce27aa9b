"""The reckoner: hand-worked examples, bounds, and slips that are named for just the answer they lead to."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.errors import FieldError, Refused
from incudo.core.reckon import CALCULATIONS
from incudo.core.reckon.base import UNITS, Calculation, Quantity, Values, wrong_answer
from incudo.core.reckon.cuts import passes
from incudo.core.reckon.holes import bolt_circle
from incudo.core.reckon.speed import step_at

F = Fraction
EXACT = F(1, 10**9)


@st.composite
def values_for(draw: st.DrawFn, c: Calculation) -> Values:
    """Inputs within their bounds, as a person would give them: few decimals."""
    given: dict[str, Any] = {}
    for i in c.inputs:
        if i.kind is Quantity.CHOICE:
            given[i.name] = draw(st.sampled_from(i.choices))
        elif i.kind is Quantity.STEPS:
            given[i.name] = "80 135 210 325 660 1115 1750 2720"
        else:
            grain = 1 if i.kind is Quantity.COUNT else 100
            low = math.ceil(i.low * grain) + (0 if i.with_low else 1)
            number = draw(st.integers(low, min(math.floor(i.high * grain), low + 40 * grain)))
            given[i.name] = f"{number / grain:.2f}".removesuffix(".00") if grain > 1 else str(number)
    return c.read(given)


every = st.sampled_from(tuple(CALCULATIONS.values())).flatmap(lambda c: st.tuples(st.just(c), values_for(c)))


@pytest.mark.parametrize(
    ("name", "given", "unit", "answer", "near"),
    [
        ("spindle-speed", {"surface": ("90", "ft/min"), "diameter": ("0.625", "in")}, F(1), 550, 0.5),
        ("spindle-speed", {"surface": ("28", "m/min"), "diameter": ("16", "mm")}, F(1), 557, 0.5),
        ("table-feed", {"speed": ("490", ""), "teeth": ("4", ""), "chip": ("0.0025", "in")}, F("25.4"), 4.9, 1e-9),
        ("countersink-depth", {"wide": ("0.480", "in"), "hole": ("0.257", "in"), "angle": ("82", "")},
         F("25.4"), 0.1283, 5e-5),
        ("drill-point", {"diameter": ("10", "mm"), "angle": ("118", "")}, F(1), 3.004, 5e-4),
        ("tap-drill", {"diameter": ("6", "mm"), "pitch": ("1", "mm"), "percent": ("76.98", "")}, F(1), 5, 1e-9),
        ("boring-head", {"target": ("30", "mm"), "measured": ("29.4", "mm"), "dial": ("radius", "")}, F(1), 0.3, 1e-9),
        ("position", {"dx": ("0.03", "mm"), "dy": ("-0.04", "mm"), "tolerance": ("0.1", "mm")}, F(1), 0.1, 1e-9),
        ("growth", {"length": ("100", "mm"), "warmer": ("18", "°F")}, F(1), 0.012, 1e-9),
        ("chip-thinning", {"diameter": ("20", "mm"), "engaged": ("2", "mm"), "chip": ("0.06", "mm")}, F(1), 0.1, 1e-9),
        ("bolt-circle", {"diameter": ("100", "mm"), "holes": ("6", "")}, F(1), 50, 1e-9),
        ("cutting-time", {"length": ("100", ""), "diameter": ("20", ""), "engaged": ("10", ""), "overrun": ("10", ""),
                          "passes": ("3", ""), "feed": ("120", "")}, F(1), 180, 1e-9),
    ],
)  # fmt: skip
def test_hand_worked_examples(
    name: str, given: dict[str, tuple[str, str]], unit: Fraction, answer: float, near: float
) -> None:
    choices = {"dial"}
    asked = {k: v if k in choices else {"value": v, "unit": u} for k, (v, u) in given.items()}
    found = CALCULATIONS[name].reckon(asked)
    assert float(found.answer.value / unit) == pytest.approx(answer, abs=near)
    assert found.steps


@given(every)
def test_a_slip_is_named_and_a_right_answer_is_not(drawn: tuple[Calculation, Values]) -> None:
    c, values = drawn
    try:
        right = c.work(values)
    except Refused:
        return
    near = max(abs(right.answer.value) / 10**6, EXACT)
    assert c.slip_of(values, right.answer.value, near) is None
    assert c.slip_of(values, right.answer.value * F("1.0371") + F("0.0713"), near) is None
    for slip in c.slips:
        wrong = wrong_answer(c, slip, values, right)
        if wrong is None or abs(wrong - right.answer.value) <= near:
            continue
        named = c.slip_of(values, wrong, near)
        assert named is not None
        again = wrong_answer(c, named, values, right)
        assert again is not None
        assert abs(again - wrong) <= near


@given(st.sampled_from(tuple(CALCULATIONS.values())), st.data())
def test_what_is_typed_wrongly_names_field_and_bound(c: Calculation, data: st.DataObject) -> None:
    """Whatever is given, there is an outcome or a refusal that names fields of this calculation."""
    anything = st.one_of(
        st.text(max_size=12),
        st.integers().map(str),
        st.floats().map(str),
        st.none(),
        st.dictionaries(st.text(max_size=5), st.text(max_size=5)),
    )
    given = {i.name: data.draw(anything) for i in c.inputs if data.draw(st.booleans())}
    names = {i.name for i in c.inputs}
    errors: tuple[FieldError, ...] = ()
    try:
        c.reckon(given)
    except Refused as refused:
        errors = tuple(refused.errors)
    assert {e.field.partition(".")[0] for e in errors} <= names
    assert all(e.bound for e in errors)


def test_without_the_machines_steps_only_the_speed_is_reckoned() -> None:
    given = {"surface": "28", "diameter": "16"}
    assert [r.name for r in CALCULATIONS["spindle-speed"].reckon(given).results] == ["speed"]
    slow = CALCULATIONS["spindle-speed"].reckon({**given, "steps": "600 900"})
    assert [r.name for r in slow.results] == ["speed"]
    assert "too fast for this cutter" in slow.said[0]


def test_bounds_are_said_in_the_unit_that_was_given() -> None:
    with pytest.raises(Refused, match=r"diameter.*more than 0 and at most 19\.68504 in"):
        CALCULATIONS["spindle-speed"].read({"surface": "30", "diameter": {"value": "0", "unit": "in"}})
    with pytest.raises(Refused, match=r"teeth.*whole number"):
        CALCULATIONS["table-feed"].read({"speed": "500", "teeth": "2.5", "chip": "0.1"})
    with pytest.raises(Refused, match=r"diameter\.unit.*mm, in"):
        CALCULATIONS["spindle-speed"].read({"surface": "30", "diameter": {"value": "1", "unit": "ell"}})
    with pytest.raises(Refused, match="is no input here"):
        CALCULATIONS["passes"].read({"stock": "3", "limit": "1", "hope": "1"})
    assert all(next(iter(u.values())) == 1 for u in UNITS.values())


@given(st.floats(20, 4000), st.sampled_from(("below", "nearest")))
def test_a_step_is_never_much_too_fast(speed: float, school: str) -> None:
    steps = (80, 135, 210, 325, 660, 1115, 1750, 2720)
    found = step_at(F(speed), steps, school)
    if speed < steps[0]:
        assert found is None
        return
    assert found in steps
    if school == "below":
        assert found == max(s for s in steps if s <= speed)
    assert found <= speed * 1.1


@given(st.integers(1, 4000), st.integers(5, 500), st.integers(0, 100))
def test_passes_sum_to_the_stock_and_none_is_above_the_limit(stock: int, limit: int, finish: int) -> None:
    found = passes(F(stock, 100), F(limit, 100), F(finish, 100))
    assert sum(found) == F(stock, 100)
    assert min(found) > 0
    assert all(p <= F(limit, 100) for p in found[:-1])
    assert found[-1] == min(F(finish, 100), F(stock, 100)) if finish else found[-1] <= F(limit, 100)


@given(st.integers(2, 24), st.integers(5, 200), st.integers(-360, 360))
def test_holes_of_a_circle_lie_on_it_a_chord_apart(holes: int, radius: int, first: int) -> None:
    places = bolt_circle(F(radius), holes, F(first))
    chord = 2 * radius * math.sin(math.pi / holes)
    for (x, y), (u, v) in zip(places, (*places[1:], places[0]), strict=True):
        assert math.hypot(x, y) == pytest.approx(radius)
        assert math.dist((x, y), (u, v)) == pytest.approx(chord)
    assert (
        math.atan2(places[0][1], places[0][0]) % math.tau == pytest.approx(math.radians(first) % math.tau, abs=1e-6)
        or first % 360 == 0
    )
