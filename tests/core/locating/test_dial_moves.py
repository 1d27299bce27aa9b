"""A hand that turns as a move says, on a screw of the test's own: it comes to the place, and every reading is true."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from incudo.core.cutting.dry.came_out import CameOut, seen
from incudo.core.cutting.dry.causes import Cause, Code, Off, fine_of
from incudo.core.cutting.dry.measured import line_of
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.locating.dial import Dial, Turning, backlash_of, leg, move, play, series, taken_up
from incudo.core.locating.screw import Screw

F = Fraction
dials = st.builds(
    lambda turn, graduations, play, grows, up: Dial(turn, graduations, turn * play, grows, up, Unit.MM),
    st.sampled_from([F(2), F(4), F(5), F("2.54"), F("5.08")]),
    st.sampled_from([40, 80, 100, 200, 250]),
    st.fractions(0, 1, max_denominator=97),
    st.sampled_from(Turning),
    st.sampled_from(Turning),
)
halves = st.integers(-2000, 2000)
sides = st.sampled_from([1, -1])


@dataclass
class Hand:
    """Somebody at a handle. The table follows the screw outside a gap; the dial goes round with the screw."""

    dial: Dial
    screw: F
    table: F
    zero: F

    @classmethod
    def standing(cls, dial: Dial, at: F, last: int, zero: F) -> Hand:
        """At a place that was come to in this sense."""
        return cls(dial, at if last > 0 else at - dial.backlash, at, zero)

    def turn(self, turning: Turning, turns: int, divisions: F) -> None:
        sign = 1 if turning is self.dial.grows else -1
        self.screw += sign * (turns * self.dial.turn + divisions * self.dial.division)
        self.table = min(max(self.table, self.screw), self.screw + self.dial.backlash)

    @property
    def shows(self) -> F:
        up = 1 if self.dial.grows is self.dial.dial_up else -1
        return (up * (self.screw - self.zero)) % self.dial.turn


@given(dial=dials, start=halves, end=halves, side=sides)
@example(dial=Dial(F(5), 250, F(5, 8), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM), start=825, end=800, side=1)
def test_a_move_in_half_divisions_is_exact_and_every_reading_on_it_can_be_set(
    dial: Dial, start: int, end: int, side: int
) -> None:
    """Come to a place from its own side, and on from there: nothing is rounded, the turning point neither."""
    half = dial.division / 2
    # the dial shows 0 with the zero come to from the same side
    zero = F(0) if side > 0 else -dial.backlash
    hand = Hand.standing(dial, start * half, side, zero)
    for one in move(dial, start * half, end * half, side=side, last=side):
        hand.turn(one.turning, one.turns, one.divisions)
        assert hand.shows == one.reading % dial.turn
        assert (hand.shows / half).denominator == 1, "set to half a division"
        assert one.travel == (one.turns + one.divisions / dial.graduations) * dial.turn
    assert hand.table == end * half


@given(dial=dials, start=halves, end=halves, side=sides, last=sides)
def test_however_one_turned_before_one_comes_to_the_place(
    dial: Dial, start: int, end: int, side: int, last: int
) -> None:
    """From the other flank of the screw a half division may be lost in what is counted, never more."""
    half = dial.division / 2
    hand = Hand.standing(dial, start * half, last, F(0))
    legs = move(dial, start * half, end * half, side=side, last=last)
    for one in legs:
        hand.turn(one.turning, one.turns, one.divisions)
    assert abs(hand.table - end * half) <= half
    if legs:
        assert legs[-1].turning is dial.turning(side), "the last turning is always the same"
    else:
        assert start == end


@given(dial=dials, side=sides, places=st.lists(halves, min_size=1, max_size=6))
def test_a_series_is_come_to_in_one_sense(dial: Dial, side: int, places: list[int]) -> None:
    half = dial.division / 2
    found = series(dial, F(0), [p * half for p in places], side=side, last=side)
    ordered = [at for at, _ in found]
    assert ordered == sorted({p * half for p in places}, reverse=side < 0)
    for n, (_, legs) in enumerate(found):
        if n:
            assert len(legs) == 1, "after the first one goes on in the same sense"
            assert not legs[0].takes_up


@pytest.mark.parametrize(
    ("by", "reversing", "turns", "divisions", "takes_up"),
    [
        ("5", False, 1, F(0), False),
        ("4.99", False, 0, F(499, 2), False),
        ("4.996", False, 1, F(0), False),
        ("4.99", True, 1, F(19, 2), True),
        ("0.01", False, 0, F(1, 2), False),
        ("0.02", False, 0, F(1), False),
    ],
)
def test_turns_and_divisions_are_counted_to_the_half(
    by: str, reversing: bool, turns: int, divisions: F, takes_up: bool
) -> None:
    """A turn of 5 mm in 250, backlash 0.2: 99.9 of 100 divisions are one turn."""
    dial = Dial(F(5), 250, F("0.2"), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    found = leg(dial, 1, F(by), F(0), reversing=reversing)
    assert (found.turns, found.divisions, found.takes_up) == (turns, divisions, takes_up)


@pytest.mark.parametrize(("side", "last"), [(0, 1), (1, 0), (2, -1)])
def test_a_side_is_one_or_the_other(side: int, last: int) -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    with pytest.raises(Refused):
        move(dial, F(0), F(1), side=side, last=last)


@pytest.mark.parametrize(("turn", "backlash"), [("0", "0"), ("-1", "0"), ("5", "-0.01"), ("5", "5.01")])
def test_a_dial_that_cannot_be(turn: str, backlash: str) -> None:
    with pytest.raises(Refused):
        Dial(F(turn), 250, F(backlash), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    Dial(F(5), 250, F(5), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)


# ---- the screw that everything simulated shares


@given(dial=dials, moves=st.lists(st.tuples(sides, st.fractions(0, 12, max_denominator=50)), max_size=8))
def test_the_table_follows_its_screw_and_never_leaves_its_gap(dial: Dial, moves: list[tuple[int, F]]) -> None:
    screw = Screw(dial)
    where = [F(0)]
    for sign, travel in moves:
        before = screw.at
        screw.turn(sign, travel)
        where.append(screw.screw)
        assert screw.screw <= screw.at <= screw.screw + dial.backlash
        assert (screw.at - before) * sign >= 0, "the table goes the way it is driven, or stands"
        assert 0 <= screw.shows < dial.turn
    assert play(where, dial.backlash, F(0))[-1] == screw.at


@given(dial=dials, sign=sides, travel=st.fractions(0, 30, max_denominator=20), reading=st.integers(0, 249))
def test_who_counts_about_so_far_stops_at_the_reading_that_is_nearest(
    dial: Dial, sign: int, travel: F, reading: int
) -> None:
    screw, shown = Screw(dial), reading % dial.graduations * dial.division
    by = screw.until(sign, travel, shown)
    assert abs(by - travel) <= dial.turn / 2
    screw.turn(sign, by)
    assert (screw.shows - shown) % dial.turn == 0


@given(dial=dials, sign=sides, turns=st.integers(0, 9), reading=st.integers(0, 249))
def test_who_counts_whole_turns_ends_at_the_reading(dial: Dial, sign: int, turns: int, reading: int) -> None:
    screw, shown = Screw(dial), reading % dial.graduations * dial.division
    by = screw.counted(sign, turns, shown)
    assert turns * dial.turn - dial.division / 4 < by < (turns + 1) * dial.turn
    screw.turn(sign, by)
    assert (screw.shows - shown) % dial.turn == 0


# ---- backlash from readings


@pytest.mark.parametrize(
    ("readings", "rising", "backlash"),
    [
        (["0.2", "0.2"], True, "0.2"),
        (["4.8", "4.8"], False, "0.2"),
        (["0.10", "0.20"], True, "0.15"),
        (["0"], False, "0"),
    ],
)
def test_backlash_is_what_the_dial_went_before_the_table_moved(
    readings: list[str], rising: bool, backlash: str
) -> None:
    assert backlash_of([F(r) for r in readings], F(5), rising=rising) == F(backlash)
    assert taken_up(F(readings[0]), F(5), rising=rising) < 5


@pytest.mark.parametrize("readings", [[], ["5"], ["-0.01"], ["0.1", "5.1"]])
def test_a_reading_lies_within_one_turn(readings: list[str]) -> None:
    with pytest.raises(Refused):
        backlash_of([F(r) for r in readings], F(5), rising=True)


# ---- what came of it


def cause(size: str, code: Code = Code.MISCOUNTED) -> Cause:
    return Cause("s", code, "x", F(size), "It was miscounted", Unit.MM)


def test_an_error_is_kept_until_it_is_undone_or_right_again() -> None:
    fine = F("0.005")
    none = Off()
    one = none.then(F(5), fine, cause("5"))
    assert (one.mm, one.causes) == (F(5), (cause("5"),))
    assert none.then(fine, fine, cause("5")).causes == (), "a quarter of a division is no error yet"
    assert none.then(fine + F(1, 10_000), fine, cause("5")).causes
    assert one.then(F(5), fine, None).causes == one.causes, "carried on"
    assert one.then(F(0), fine, cause("-5")).causes == ()
    two = one.then(F("5.2"), fine, cause("0.2", Code.STRAIGHT))
    assert [c.code for c in two.causes] == [Code.MISCOUNTED, Code.STRAIGHT]
    assert [c.code for c in two.then(F("0.2"), fine, cause("-5")).causes] == [Code.STRAIGHT], "undone by the same far"


def test_a_cause_says_how_far_where_it_is_a_matter_of_length() -> None:
    assert cause("-5").words == "It was miscounted: 5.00 mm."
    assert cause("0").words == "It was miscounted."


@pytest.mark.parametrize(
    ("value", "low", "high", "good"),
    [
        ("10", "9.9", "10.1", True),
        ("9.9", "9.9", "10.1", True),
        ("9.899", "9.9", "10.1", False),
        ("10.1", "9.9", "10.1", True),
        ("10.101", "9.9", "10.1", False),
        ("10", None, "9.99", False),
        ("10", "10.01", None, False),
        (None, "9.9", "10.1", False),
    ],
)
def test_a_size_is_good_from_limit_to_limit(value: str | None, low: str | None, high: str | None, good: bool) -> None:
    size = [None if x is None else F(x) for x in (value, low, high)]
    came = CameOut(3, "Width", size[0], F(10), size[1], size[2], ())
    assert came.good is good
    line = line_of(came, Unit.MM)
    assert line.good is good
    assert line.read == ("not there" if value is None else line.read)
    assert ("at most" in line.limits) is (low is None)
    assert ("at least" in line.limits) is (high is None)


@pytest.mark.parametrize(
    ("value", "unit", "read"),
    [
        ("10.004", Unit.MM, "10"),
        ("10.006", Unit.MM, "10.01"),
        ("25.4", Unit.INCH, "25.4"),
        ("25.409", Unit.INCH, "25.4127"),
    ],
)
def test_an_instrument_shows_so_finely(value: str, unit: Unit, read: str) -> None:
    assert seen(F(value), unit) == F(read)


@pytest.mark.parametrize("graduations", [40, 250])
def test_what_is_no_error_is_a_quarter_of_a_division(graduations: int) -> None:
    from incudo.core.cutting.slides import Ring
    from incudo.core.shop.machine import Axis, Handle, Way

    handle = Handle(
        axis=Axis.X, place="left end", clockwise=Way.RIGHT, unit=Unit.MM, per_turn="5", graduations=graduations
    )
    ring = Ring(handle, Dial.of(handle), readout=False, unit=Unit.MM)
    assert fine_of(ring) == F(5, graduations * 4)
