"""Dials, backlash, edges and centres: against a screw that really has play, and against random geometry."""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.locating.centre import (
    Sweep,
    agree,
    bar_clear,
    block,
    block_by_dial,
    edge,
    flat_is_circle,
    slot,
    slot_by_dial,
    swept,
)
from incudo.core.locating.dial import Dial, Turning, backlash_of, leg, move, play, series
from incudo.core.shop.machine import Axis, Handle, Way
from tests.mill import MillAxis

F = Fraction
UP, DOWN = Turning.CLOCKWISE, Turning.ANTICLOCKWISE
turnings = st.sampled_from(tuple(Turning))
hundredths = st.integers(-50_000, 50_000).map(lambda n: F(n, 100))


@st.composite
def dials(draw: st.DrawFn) -> Dial:
    turn = draw(st.sampled_from((F("2.54"), F("5.08"), F(2), F(4), F(5))))
    lost = turn * draw(st.integers(0, 100)) / 100
    return Dial(turn, draw(st.sampled_from((50, 80, 100, 200))), lost, draw(turnings), draw(turnings), Unit.MM)


# ── the play between screw and table ──────────────────────────────────────


@given(st.lists(st.integers(-400, 400), min_size=1, max_size=12), st.integers(0, 60))
def test_the_play_operator_is_what_small_steps_show(places: list[int], lost: int) -> None:
    """A pin in a slot, moved by single steps and pushed only when it meets an end."""
    table, screw = places[0], places[0]
    found = play([F(p) for p in places], F(lost), F(table))
    for place, computed in zip(places, found, strict=True):
        while screw != place:
            screw += 1 if place > screw else -1
            table = max(table, screw)
            table = min(table, screw + lost)
        assert computed == table


@given(dials(), hundredths, hundredths, st.sampled_from((1, -1)), st.sampled_from((1, -1)))
def test_every_move_ends_at_its_place_and_at_its_dial_reading(
    dial: Dial, start: Fraction, end: Fraction, side: int, last: int
) -> None:
    """Turn a screw with play as the legs say: the table stands exactly there, and the dial shows what was said."""
    screw = start if last > 0 else start - dial.backlash
    # the dial was set where the zero is approached from the side
    zero_screw = F(0) if side > 0 else -dial.backlash
    table = start
    legs = move(dial, start, end, side=side, last=last)
    for one in legs:
        sign = 1 if one.turning is dial.grows else -1
        counted = one.turns * dial.turn + one.divisions * dial.division
        assert abs(counted - one.travel) <= dial.division / 4
        assert 0 <= one.divisions < dial.graduations
        screw += sign * one.travel
        (table,) = play([screw], dial.backlash, table)
        up = sign if one.turning is dial.dial_up else -sign
        assert up in (1, -1)
        shown = (1 if dial.grows is dial.dial_up else -1) * (screw - zero_screw)
        assert one.reading == shown % dial.turn
    assert table == end
    if legs:
        assert legs[-1].turning is dial.turning(side), "the last turning is always the same"
        assert legs[-1].reading == dial.reading(end)


@given(dials(), hundredths, st.lists(hundredths, min_size=1, max_size=6), st.sampled_from((1, -1)))
def test_a_series_is_ordered_so_that_only_its_beginning_may_reverse(
    dial: Dial, start: Fraction, places: list[Fraction], side: int
) -> None:
    found = series(dial, start, places, side=side, last=-side)
    assert {p for p, _ in found} == set(places)
    for _, legs in found[1:]:
        assert len(legs) == 1
        assert not legs[0].takes_up
    assert all((b - a) * side > 0 for (a, _), (b, _) in pairwise(found))


def test_the_written_example_of_a_move() -> None:
    """1.3435 in at 0.200 per turn and 200 graduations: 6 turns and 143 1/2 divisions."""
    dial = Dial(F("0.2") * MM_PER_INCH, 200, F(0), UP, UP, Unit.INCH)
    one = leg(dial, 1, F("1.3435") * MM_PER_INCH, F(0), reversing=False)
    assert (one.turns, one.divisions) == (6, F("143.5"))


@given(dials(), hundredths)
def test_half_a_division_can_be_set_and_no_finer(dial: Dial, place: Fraction) -> None:
    near = dial.nearest(place)
    assert abs(near - place) <= dial.division / 4
    assert (near / (dial.division / 2)).denominator == 1


@pytest.mark.parametrize(
    ("axis", "clockwise", "grows"),
    [
        (Axis.X, Way.LEFT, UP),
        (Axis.X, Way.RIGHT, DOWN),
        (Axis.Y, Way.TOWARDS, UP),
        (Axis.Y, Way.AWAY, DOWN),
        (Axis.KNEE, Way.UP, DOWN),
        (Axis.KNEE, Way.DOWN, UP),
        (Axis.QUILL, Way.DOWN, DOWN),
        (Axis.QUILL, Way.UP, UP),
    ],
)
def test_the_table_to_the_left_is_the_cutter_to_the_right(axis: Axis, clockwise: Way, grows: Turning) -> None:
    """Each line can be checked at a machine with a pencil in the spindle."""
    handle = Handle(
        axis=axis, place="x", clockwise=clockwise, unit=Unit.MM, per_turn="4", graduations=80, backlash="0.6"
    )
    dial = Dial.of(handle)
    assert (dial.grows, dial.backlash, dial.division) == (grows, F("0.6"), F("0.05"))


def test_backlash_is_the_mean_of_what_the_dial_shows() -> None:
    assert backlash_of([F("0.30"), F("0.34")], F(4), rising=True) == F("0.32")
    # numbers that fall while the screw is reversed: 4 - 3.7
    assert backlash_of([F("3.7")], F(4), rising=False) == F("0.3")
    assert backlash_of([F(0)], F(4), rising=False) == 0
    # more than half a turn is not taken for the rest of it
    assert backlash_of([F("2.6"), F("2.62")], F(4), rising=True) == F("2.61")
    assert backlash_of([F("1.4")], F(4), rising=False) == F("2.6")
    for bad in ([], [F(4)], [F(-1)]):
        with pytest.raises(Refused, match="readings"):
            backlash_of(bad, F(4), rising=True)


@given(dials(), turnings, hundredths)
def test_backlash_up_to_a_whole_turn_is_measured_at_a_screw(dial: Dial, way: Turning, at: Fraction) -> None:
    """Turn one way, zero the dial, turn back until the table moves, read; see which way the numbers go."""
    assume(dial.backlash < dial.turn)
    m = MillAxis(dial, dial.backlash, at)
    m.turn(way, dial.turn * 2)
    zero, stood = m.screw, m.at
    m.turn(way.other, dial.backlash)
    assert m.at == stood, "nothing moves while the backlash is taken up"
    sign = 1 if dial.grows is dial.dial_up else -1
    reads = sign * (m.screw - zero) % dial.turn
    m.turn(way.other, dial.division)
    assert m.at != stood
    assert backlash_of([reads], dial.turn, rising=way.other is dial.dial_up) == dial.backlash


# ── edges and centres ─────────────────────────────────────────────────────


@given(hundredths, st.integers(1, 2000), st.sampled_from((1, -1)))
def test_an_edge_lies_half_a_tip_beyond_the_contact(place: Fraction, tip: int, towards: int) -> None:
    contact = place - towards * F(tip, 200)
    assert edge(contact, F(tip, 100), towards) == place


def test_touches_agree_within_half_a_thou_or_a_graduation() -> None:
    half = MM_PER_INCH / 2000
    assert agree([F(0), half], F(0)) == half / 2
    assert agree([F(0), half + F(1, 10**6)], F(0)) is None
    assert agree([F(0), F("0.05")], F("0.05")) == F("0.025")
    with pytest.raises(Refused, match="touches"):
        agree([F(1)], F(0))


sizes = st.integers(100, 30_000).map(lambda n: F(n, 100))


@given(hundredths, sizes, st.integers(100, 1200), dials())
def test_both_sides_of_a_block_and_of_a_slot_by_readout_and_by_dial(
    low: Fraction, width: Fraction, tip: int, dial: Dial
) -> None:
    """Contacts are made on a screw with play; the readout sees the table, the dial the screw."""
    d, lost = F(tip, 100), dial.backlash
    middle = low + width / 2
    # a block: the low side is touched going up (table = screw), the high one going down (table = screw + lost)
    table = (low - d / 2, low + width + d / 2)
    assert block(*table, d).at == middle
    assert block(*table, d, width).out_by == 0
    by_dial = block_by_dial(table[0], table[1] - lost, d, lost, width)
    assert (by_dial.at, by_dial.width) == (middle, width)
    assert (table[0] + table[1] - lost) / 2 == middle - lost / 2, "the mean of both dials is out by half the backlash"
    # a slot, wider than the tip: the low wall is touched going down, the high one going up
    assume(width > d)
    table = (low + d / 2, low + width - d / 2)
    assert slot(*table, d).at == middle
    by_dial = slot_by_dial(table[0] - lost, table[1], d, lost, width)
    assert (by_dial.at, by_dial.width) == (middle, width)


def test_the_width_finds_a_bad_touch() -> None:
    good = block(F(-5), F(45), F(10), F(40))
    assert (good.at, good.bad(F("0.01"), F(0))) == (F(20), False)
    burr = block(F("-5.08"), F(45), F(10), F(40))
    assert burr.out_by == F("0.08")
    assert burr.bad(F("0.01"), F("0.02"))
    with pytest.raises(Refused, match="touches"):
        block(F(0), F(5), F(10))


@given(st.floats(2, 60), st.floats(1, 12), st.floats(4, 14), st.floats(0, 40), st.sampled_from((1, -1)))
def test_a_finders_body_clears_a_bar_as_its_outline_does(
    bar: float, tip: float, body: float, above: float, flank: int
) -> None:
    """Put the tip at the bar's widest line and look along the outline of the bar for what the body would cut."""
    radius, small, thick = bar / 2, tip / 2, body / 2
    assume(abs(above - radius) > 0.02)
    spindle = flank * (radius + small)
    near = math.inf
    for i in range(721):
        a = math.pi * i / 720
        y, z = radius * math.cos(a), radius * math.sin(a)
        if z >= above:
            near = min(near, abs(spindle - y))
    gap = near - thick
    assume(abs(gap) > 0.02)
    assert bar_clear(F(bar), F(tip), F(body), F(above)) == (gap > 0)


@pytest.mark.parametrize(
    ("tip", "body", "above", "clear"),
    [
        # a bar of 10: its outline is 4 from its middle where it is 3 high, 3 where it is 4 high (3, 4, 5)
        ("4", "6", "3", True),
        ("4", "6.001", "3", False),
        ("4", "8", "4", True),
        ("4", "8.001", "4", False),
        # a body as high as the bar's top passes over it, however thick
        ("1", "40", "5", True),
        ("1", "40", "4.999", False),
        # just as thick as bar and tip reach: it would touch at the top alone
        ("4", "14", "5", True),
        ("4", "14", "4.999", False),
    ],
)
def test_a_finders_body_clears_a_bar_up_to_touching_it(tip: str, body: str, above: str, clear: bool) -> None:
    assert bar_clear(F(10), F(tip), F(body), F(above)) is clear


@given(st.floats(5, 40), st.floats(-8, 8), st.floats(-8, 8), st.booleans(), st.floats(-1, 1))
def test_each_pass_in_a_bore_or_round_a_boss_comes_nearer(
    radius: float, x: float, y: float, boss: bool, lift: float
) -> None:
    """The needle is read on a real circle; what is moved is what the four readings say."""
    assume(math.hypot(x, y) < radius * 0.6)
    for _ in range(6):
        readings = [F(swept(radius, (x, y), a, boss=boss) + lift) for a in (0, 90, 180, 270)]
        s = Sweep(*readings, boss=boss)
        before = math.hypot(x, y)
        move_x, move_y = s.moves
        x, y = x + float(move_x), y + float(move_y)
        assert math.hypot(x, y) <= before + 1e-9
    assert math.hypot(x, y) < 0.001
    last = Sweep(*(F(swept(radius, (x, y), a, boss=boss)) for a in (0, 90, 180, 270)), boss=boss)
    assert abs(last.out_of_round) < 1e-4
    assert last.spread < F("0.003")


def test_far_off_out_of_round_is_false_and_a_boss_has_the_other_sense() -> None:
    bore = Sweep(*(F(swept(10, (2, 0), a)) for a in (0, 90, 180, 270)))
    boss = Sweep(*(F(swept(10, (2, 0), a, boss=True)) for a in (0, 90, 180, 270)), boss=True)
    assert (bore.off[0] > 0, boss.off[0] > 0) == (True, True)
    assert (bore.east > bore.west, boss.east < boss.west) == (True, True)
    # about (ex² - ey²) / radius on a boss, the opposite in a bore
    assert float(boss.out_of_round) == pytest.approx(0.4, rel=0.05)
    assert float(bore.out_of_round) == pytest.approx(-0.4, rel=0.05)
    with pytest.raises(Refused, match="off"):
        swept(5, (0, 6), 0)
    with pytest.raises(Refused, match="off"):
        swept(5, (0, 5), 0)
    assert swept(5, (0, 4.999), 0) > 0


@given(st.floats(4, 60), st.floats(1, 20), st.floats(0.02, 0.5), st.floats(0, 6))
def test_a_flat_is_a_full_circle_when_all_of_the_mill_is_below_the_bar(
    bar: float, mill: float, part: float, offset: float
) -> None:
    """Every point of the mill's rim, on the bar's surface there: is it cut?"""
    depth = bar * part
    top = bar / 2 - depth
    worst = math.inf
    for i in range(361):
        across = offset + mill / 2 * math.cos(math.pi * i / 180)
        surface = math.sqrt(bar * bar / 4 - across * across) if abs(across) < bar / 2 else -math.inf
        worst = min(worst, surface - top)
    assume(abs(worst) > 1e-3)
    assert flat_is_circle(F(bar), F(mill), F(depth), F(offset)) == (worst > 0)
