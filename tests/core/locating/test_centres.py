"""Finding at a mill that really has play: touches, datums, and the dial readings that follow from them."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.locating import signs
from incudo.core.locating.backlash import Backlash, Measurement, confirmed, measure
from incudo.core.locating.centre import Sweep, swept
from incudo.core.locating.datum import Datum, Scale, divisions_words, lines_from, move_steps, shown, shown_from
from incudo.core.locating.dial import Dial, Turning, leg
from incudo.core.locating.finders import COMES, FINDERS, Face
from incudo.core.locating.found import (
    Between,
    Reader,
    clearance_words,
    find_by_flat,
    find_depth,
    find_edge,
    find_middle,
    find_round,
)
from incudo.core.shop.machine import Axis
from tests.core.locating.test_found import dials
from tests.mill import MillAxis
from tests.paths import ROOT

F = Fraction
NONE = F(0)
KICK = FINDERS["kick-mm"]
tens = st.integers(-9_000, 9_000).map(lambda n: F(n, 100))
edges = st.sampled_from((Face.LEFT, Face.RIGHT, Face.FRONT, Face.REAR))


def reader(dial: Dial, axis: Axis = Axis.X, scale: Scale = Scale.DIAL) -> Reader:
    return Reader(axis, dial, scale, dial.division, dial.unit)


def mill(dial: Dial, ring: Fraction = NONE) -> MillAxis:
    return MillAxis(dial, dial.backlash, ring=ring)


def touch_edge(m: MillAxis, face: Face, edge_at: Fraction) -> Fraction:
    """The true contact: half a tip before the edge."""
    towards = COMES[face][1]
    return m.come_to(edge_at - towards * KICK.tip.mm / 2, towards)


@given(dials(), edges, tens, tens, st.lists(tens, min_size=1, max_size=6))
def test_places_follow_from_an_edge_on_a_mill_with_play(
    dial: Dial, face: Face, ring: Fraction, edge_at: Fraction, places: list[Fraction]
) -> None:
    """Touch twice, keep the datum, follow every leg: the cutter truly stands there to a quarter of a division."""
    m = mill(dial, ring)
    touches = [touch_edge(m, face, edge_at) for _ in range(2)]
    found = find_edge(reader(dial, COMES[face][0]), face, KICK, touches, F(0))
    assert found.good
    (datum,) = found.datums
    m.turn(dial.turning(datum.side), KICK.tip.mm / 2)
    assert m.at == edge_at
    assert m.shows == datum.shows
    for line in lines_from(dial, datum, places):
        for one in line.legs:
            m.follow(one)
        assert abs(m.at - edge_at - line.place) <= dial.division / 4
        assert m.at - edge_at == line.settable
        assert m.shows == line.reading


@given(dials(), edges, tens)
def test_a_touch_from_the_wrong_side_shows_the_backlash(dial: Dial, face: Face, edge_at: Fraction) -> None:
    m = mill(dial)
    towards = COMES[face][1]
    good = touch_edge(m, face, edge_at)
    bad = m.come_to(edge_at - towards * KICK.tip.mm / 2, -towards)
    found = find_edge(reader(dial, COMES[face][0]), face, KICK, [good, bad], F(0))
    near = abs((good - bad + dial.turn / 2) % dial.turn - dial.turn / 2)
    if near > max(MM_PER_INCH / 2000, dial.division):
        assert not found.good
        if dial.backlash < dial.turn / 2:
            assert any("just this axis' backlash" in w for w in found.wrong)


@given(dials(), tens, st.integers(500, 9000).map(lambda n: F(n, 100)), st.sampled_from((F(0), F(1), F(-1))))
def test_the_middle_by_a_dial_is_the_middle_and_the_width_finds_a_lost_turn(
    dial: Dial, low: Fraction, width: Fraction, extra: Fraction
) -> None:
    m, half = mill(dial), KICK.tip.mm / 2
    first = m.come_to(low - half, 1)
    screw = m.screw
    second = m.come_to(low + width + half, -1)
    turns = (m.screw - screw) // dial.turn + extra
    r = reader(dial)
    found = find_middle(r, Between(first, second, int(turns)), KICK, width, F(0), F(0))
    if extra:
        assert any("whole turn was miscounted" in w for w in found.wrong)
        return
    (datum,) = found.datums
    truly = m.come_to(low + width / 2, 1)
    assert datum.shows == truly


@given(dials(), tens, st.integers(1500, 9000).map(lambda n: F(n, 100)))
def test_a_slot_by_a_dial(dial: Dial, low: Fraction, width: Fraction) -> None:
    m, half = mill(dial), KICK.tip.mm / 2
    high = m.come_to(low + width - half, 1)
    screw = m.screw
    first = m.come_to(low + half, -1)
    turns = (screw - m.screw) // dial.turn
    found = find_middle(reader(dial), Between(first, high, int(turns), inside=True), KICK, width, F(0), F(0))
    (datum,) = found.datums
    assert datum.shows == m.come_to(low + width / 2, 1)


def test_on_a_readout_the_mean_is_taken_and_a_bad_touch_is_found() -> None:
    dial = Dial(F(5), 250, F("0.12"), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    r = Reader(Axis.X, dial, Scale.READOUT, F(1, 200), Unit.MM)
    found = find_middle(r, Between(F(-5), F(65)), KICK, F(60), F("0.02"), F(30))
    assert found.datums == (Datum(Axis.X, Scale.READOUT, F(30), F(30), 1),)
    assert found.datums[0].coordinate(F(42)) == 42
    bad = find_middle(r, Between(F(-5), F("65.2")), KICK, F(60), F("0.02"), F(30))
    assert not bad.good
    assert "one of them was bad" in bad.wrong[0]


def test_an_edge_wants_two_touches_and_the_handle_of_its_axis() -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    assert not find_edge(reader(dial), Face.LEFT, KICK, [], F(0)).good
    one = find_edge(reader(dial), Face.LEFT, KICK, [F(1)], F(0))
    assert "One touch checks nothing" in one.next[0]
    with pytest.raises(Refused, match="y axis"):
        find_edge(reader(dial), Face.FRONT, KICK, [F(1), F(1)], F(0))
    with pytest.raises(Refused, match="between 0 and one turn"):
        find_edge(reader(dial), Face.LEFT, KICK, [F(5), F(1)], F(0))
    around = find_edge(reader(dial), Face.LEFT, KICK, [F("4.99"), F("0.01")], F(0))
    assert around.good, "the ring goes round between both touches"


def test_the_working_of_an_edge_is_written_in_the_dials_numbers() -> None:
    """Numbers that fall to the right: half the tip is taken off them."""
    dial = Dial(F(5), 250, F(0), Turning.ANTICLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    mean, over = find_edge(reader(dial), Face.LEFT, KICK, [F(3), F(3)], F(0)).steps
    assert (mean.put_in, mean.result) == ("(3.00 + 3.00) / 2", "3.00 mm")
    assert (over.put_in, over.result) == ("3.00 − 5.00", "-2.00 mm: the dial shows 3.00 mm")


def test_paper_lies_between_a_pin_and_the_face() -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    pin = FINDERS["pin-in"]
    found = find_edge(reader(dial), Face.LEFT, pin, [F(1), F(1)], F(0), F("0.08"))
    assert found.datums[0].shows == (1 + pin.tip.mm / 2 + F("0.08")) % 5
    assert "touch + half the tip and the paper" in [s.formula for s in found.steps]
    # a bare pin, and paper that is left lying while another finder touches
    for finder, sheet in ((pin, F(0)), (KICK, F("0.08"))):
        found = find_edge(reader(dial), Face.LEFT, finder, [F(1), F(1)], F(0), sheet)
        assert found.datums[0].shows == (1 + finder.tip.mm / 2) % 5
        assert "touch + half the tip" in [s.formula for s in found.steps]


@pytest.mark.parametrize(("span", "said"), [("0.50", True), ("0.49", False), ("0.58", True), ("0.59", False)])
def test_touches_as_far_apart_as_the_play_are_said_to_be_it(span: str, said: bool) -> None:
    """Up to two divisions beside it either way."""
    dial = Dial(F(5), 250, F("0.54"), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    found = find_edge(reader(dial), Face.LEFT, KICK, [F(1), F(1) + F(span)], F(0))
    assert any("just this axis' backlash" in w for w in found.wrong) == said


@given(st.floats(-0.4, 0.4), st.floats(-0.4, 0.4), st.floats(6, 40), st.booleans(), dials(), dials())
def test_a_bore_or_boss_is_centred_by_following_the_moves(
    off_x: float, off_y: float, radius: float, boss: bool, dx: Dial, dy: Dial
) -> None:
    """Read at four places, move by what is said through play and all, read again: it stands over the centre."""
    centre = {Axis.X: F(off_x).limit_denominator(1000), Axis.Y: F(off_y).limit_denominator(1000)}
    axes = {Axis.X: mill(dx), Axis.Y: mill(dy)}
    readers = {Axis.X: reader(dx), Axis.Y: reader(dy, Axis.Y)}
    for m in axes.values():
        m.come_to(F(0), 1)
    allowed = F("0.0127")
    for _ in range(5):
        off = tuple(float(axes[a].at - centre[a]) for a in (Axis.X, Axis.Y))
        reads = [F(swept(radius, (off[0], off[1]), d, boss=boss)) for d in (0, 90, 180, 270)]
        found = find_round(
            readers[Axis.X],
            readers[Axis.Y],
            Sweep(*reads, boss=boss),
            (axes[Axis.X].shows, axes[Axis.Y].shows),
            (F(0), F(0)),
            allowed,
            F(radius),
        )
        if found.good:
            break
        for a in (Axis.X, Axis.Y):
            axes[a].come_to(axes[a].at - found.off[a], 1)
    assert found.good
    for a in (Axis.X, Axis.Y):
        assert abs(float(axes[a].at - centre[a])) < 0.02
        assert next(d for d in found.datums if d.axis is a).shows == axes[a].shows


def test_far_off_a_bore_is_centred_roughly_first() -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    with pytest.raises(Refused, match="centre roughly"):
        find_round(
            reader(dial), reader(dial, Axis.Y), Sweep(F(9), F(0), F(-9), F(0)), (F(0), F(0)), (F(0), F(0)), F(1), F(5)
        )


@given(tens, st.integers(-20, 20).map(lambda n: F(n, 20)))
def test_a_full_circle_on_a_bar_tells_the_middle(at: Fraction, off: Fraction) -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    bar, mill_ = F(30), F(6)
    near, far = bar / 2 - off - mill_ / 2, bar / 2 + off - mill_ / 2
    # the spot stands ``off`` towards the front of the middle, so the rear flank is farther
    found = find_by_flat(reader(dial, Axis.Y), at % 5, bar, mill_, F("1.2"), near, far, F(0))
    assert found.datums[0].shows == (at + off) % 5
    shallow = find_by_flat(reader(dial, Axis.Y), at % 5, bar, mill_, F("0.2"), near, far, F(0))
    assert "no full circle" in shallow.wrong[0]


def test_depth_takes_the_paper_off_and_is_come_to_upwards() -> None:
    knee = Dial(F("2.54"), 100, F("0.25"), Turning.ANTICLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
    r = Reader(Axis.KNEE, knee, Scale.DIAL, knee.division, Unit.INCH)
    found = find_depth(r, F("1.143"), F("0.0762"), F("25.4"), "paper")
    (datum,) = found.datums
    # 0.045 in at the touch; the knee goes up another 0.003, and its numbers rise when it does
    assert shown(datum.shows, Unit.INCH) == "0.048"
    assert datum.side == -1
    (step,) = found.steps
    assert (step.put_in, step.result) == ("0.045 + 0.003", "0.048 in"), "in the numbers that are read off the dial"
    (line,) = lines_from(knee, datum, [F("25.4") - F("7.62")])
    assert shown(line.reading, Unit.INCH) == "0.048", "0.300 in deeper are three whole turns"
    assert [(g.turning, g.turns) for g in line.legs] == [(Turning.CLOCKWISE, 3)]


def test_a_finder_that_meets_the_bar_is_refused() -> None:
    short = FINDERS["light-mm"]
    clear, words = clearance_words(F(16), short, F(2), Unit.MM)
    assert not clear
    assert "meets the bar" in words
    assert clearance_words(F(16), short, F(10), Unit.MM)[0]
    assert "does not reach" in clearance_words(F(16), FINDERS["kick-mm"], F(30), Unit.MM)[1]


def test_the_example_of_the_trade() -> None:
    """1.3435 in at 0.200 a turn of 200 divisions: six turns and 143½ divisions."""
    dial = Dial(F("5.08"), 200, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
    datum = Datum(Axis.X, Scale.DIAL, F(0), F(0), 1)
    (line,) = lines_from(dial, datum, [F("1.3435") * MM_PER_INCH])
    (one,) = line.legs
    assert (one.turns, divisions_words(one.divisions)) == (6, "143½")
    (metric,) = lines_from(dial, datum, [F("12.4")])
    assert abs(metric.cost) == abs(F("12.4") - F("0.488") * MM_PER_INCH)


def test_backlash_says_where_the_screw_is_worn() -> None:
    dial = Dial(F("5.08"), 200, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
    lost = measure(dial, [F("0.6"), F("0.61")], [F("0.3"), F("0.3")], rising=True)
    assert (lost.middle, lost.end) == (F("0.605"), F("0.3"))
    assert lost.taken == F("0.605")
    assert "worn" in lost.words(dial)
    assert "half a turn" not in lost.words(dial)
    falling = measure(dial, [F("4.48"), F("4.47")], [F("4.78")], rising=False)
    assert (falling.middle, falling.end) == (F("0.605"), F("0.3"))
    with pytest.raises(Refused, match="at least two"):
        measure(dial, [F(1)], [], rising=True)
    # two divisions of 0.0254 apart are taken, more are not
    assert measure(dial, [F("0.2"), F("0.2508")], [], rising=True).end is None
    with pytest.raises(Refused, match="read again"):
        measure(dial, [F("0.2"), F("0.2509")], [], rising=True)
    with pytest.raises(Refused, match=r"end.*read again"):
        measure(dial, [F("0.2"), F("0.2")], [F("0.2"), F("0.2509")], rising=True)


def test_a_worn_screw_is_named_from_one_division_on() -> None:
    dial = Dial(F("5.08"), 200, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
    at = measure(dial, [F("0.3254")] * 2, [F("0.3")], rising=True)
    above = measure(dial, [F("0.3255")] * 2, [F("0.3")], rising=True)
    assert "worn" not in at.words(dial)
    assert "worn" in above.words(dial)
    assert measure(dial, [F("2.54")] * 2, [], rising=True).words(dial) == "0.100 in in the middle"
    assert "more than half a turn" in measure(dial, [F("2.5654")] * 2, [], rising=True).words(dial)


@given(dials(), st.sampled_from((1, -1)), st.sampled_from((1, -1)), tens, tens, st.lists(tens, min_size=1, max_size=6))
def test_moves_arrive_whatever_was_turned_last(
    dial: Dial, side: int, last: int, ring: Fraction, start: Fraction, places: list[Fraction]
) -> None:
    """Any handle, backlash up to a turn, any last turning: follow each leg; place and dial are as they were said."""
    m = mill(dial, ring)
    shows = m.come_to(start, last)
    datum = Datum(Axis.X, Scale.DIAL, start, shown_from(dial, shows, side=side, last=last), side)
    lines = lines_from(dial, datum, places, last=last)
    assert sorted({x.place for x in lines}) == sorted(set(places)), "every place is a line of its own"
    for line in lines:
        for one in line.legs:
            assert 0 <= one.divisions < dial.graduations
            counted = one.turns * dial.turn + one.divisions * dial.division
            assert abs(counted - one.travel) <= dial.division / 4
            m.follow(one)
            assert m.shows == one.reading
        assert m.at == line.settable
        assert abs(line.cost) <= dial.division / 4
        assert m.shows == line.reading


def test_places_that_one_half_division_sets_are_two_lines() -> None:
    dial = Dial(F("5.08"), 200, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
    datum = Datum(Axis.X, Scale.DIAL, F(0), F(0), 1)
    one, two = lines_from(dial, datum, [F("25.4"), F("25.40254")])
    assert (one.place, two.place) == (F("25.4"), F("25.40254"))
    assert one.settable == two.settable
    assert one.legs
    assert two.legs == ()
    assert two.cost == F("-0.00254")


def test_a_hair_less_than_a_turn_is_a_turn() -> None:
    """0.0999 in on a dial of 100 lines of 0.001 in: 1 turn, not 0 turns and 100 divisions."""
    dial = Dial(F("2.54"), 100, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
    one = leg(dial, 1, F("0.0999") * MM_PER_INCH, F(0), reversing=False)
    assert (one.turns, one.divisions) == (1, 0)
    below = leg(dial, 1, F("0.0997") * MM_PER_INCH, F(0), reversing=False)
    assert (below.turns, below.divisions) == (0, F("99.5"))
    assert move_steps(dial, F("0.0999") * MM_PER_INCH)[0].result == "1"


def test_the_table_of_signs_is_the_core_s() -> None:
    assert (ROOT / "docs" / "signs.md").read_text() == signs.page()


@pytest.mark.parametrize(
    ("measured", "stands"),
    [
        ([("haldane", True, "0.6")], [True]),
        ([("orla", False, "0.6")], [False]),
        ([("orla", False, "0.6"), ("orla", False, "0.6")], [False, False]),
        ([("orla", False, "0.6"), ("tam", False, "0.64")], [True, True]),
        ([("orla", False, "0.6"), ("tam", False, "0.6401")], [False, False]),
        ([("haldane", True, "0.3"), ("orla", False, "0.6")], [True, False]),
        ([("haldane", True, "0.3"), ("orla", False, "0.6"), ("tam", False, "0.58")], [True, True, True]),
        # an old value of somebody who teaches does not come back
        ([("selby", True, "0.3"), ("haldane", True, "0.6"), ("orla", False, "0.3")], [True, True, False]),
        ([("orla", False, "0.3"), ("haldane", True, "0.6"), ("tam", False, "0.3")], [False, True, False]),
        # what agrees with what holds stands, and does not lead away from it in small steps
        ([("haldane", True, "0.6"), ("orla", False, "0.63")], [True, True]),
        ([("haldane", True, "0.6"), ("orla", False, "0.63"), ("orla", False, "0.66")], [True, True, False]),
    ],
)
def test_a_students_backlash_is_a_proposal_until_another_person_finds_the_same(
    measured: list[tuple[str, bool, str]], stands: list[bool]
) -> None:
    """A dial of 0.02 mm a division: within two of them two people agree."""
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    found = confirmed(dial, [Measurement(who, teaches, Backlash(F(x), None)) for who, teaches, x in measured])
    assert list(found) == stands


@pytest.mark.parametrize(
    ("boss", "along_x", "along_y", "sense"),
    [(False, "(E − W) / 2", "(N − S) / 2", "towards the higher reading"),
     (True, "(W − E) / 2", "(S − N) / 2", "towards the lower reading")],
)  # fmt: skip
def test_the_working_of_a_sweep_is_written_in_the_order_in_which_it_is_taken(
    boss: bool, along_x: str, along_y: str, sense: str
) -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    readers = reader(dial), reader(dial, Axis.Y)
    sweep = Sweep(F("0.30"), F("0.10"), F("0.10"), F("0.06"), boss=boss)
    found = find_round(*readers, sweep, (F(1), F(2)), (F(0), F(0)), F("0.005"), F(10))
    assert [s.formula for s in found.steps] == [along_x, along_y]
    assert [s.result for s in found.steps] == (["-0.10 mm", "-0.02 mm"] if boss else ["0.10 mm", "0.02 mm"])
    assert sense in found.next[0]
    assert found.off == {Axis.X: F("-0.1") if boss else F("0.1"), Axis.Y: F("-0.02") if boss else F("0.02")}


@pytest.mark.parametrize(("east", "good"), [("0.01", True), ("0.0101", False)])
def test_a_sweep_is_good_up_to_what_is_allowed(east: str, good: bool) -> None:
    """Off by half the difference: 0.005 at 0.01."""
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    sweep = Sweep(F(east), F(0), F(0), F(0))
    found = find_round(reader(dial), reader(dial, Axis.Y), sweep, (F(1), F(2)), (F(0), F(0)), F("0.005"), F(10))
    assert found.good is good


@pytest.mark.parametrize(("east", "refused"), [("20", False), ("20.01", True)])
def test_off_by_more_than_the_radius_is_no_sweep(east: str, refused: bool) -> None:
    dial = Dial(F(5), 250, F(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    sweep = Sweep(F(east), F(0), F(0), F(0))
    args = (reader(dial), reader(dial, Axis.Y), sweep, (F(1), F(2)), (F(0), F(0)), F("0.005"), F(10))
    if refused:
        with pytest.raises(Refused, match="centre roughly with a pin first"):
            find_round(*args)
        return
    assert find_round(*args).next
