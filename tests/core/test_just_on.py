"""Bounds of core's functions, just on them: what is taken, what is refused, what is said."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction

import pytest
from pydantic import ValidationError

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit, number
from incudo.core.locating.backlash import AGREE_WITHIN, Backlash, Measurement, confirmed
from incudo.core.locating.centre import AGREE, Centre, agreement, block, edge, flat_is_circle, slot
from incudo.core.locating.centre import Sweep as Bore
from incudo.core.locating.datum import Scale
from incudo.core.locating.dial import Dial, Turning
from incudo.core.locating.finders import FINDERS
from incudo.core.locating.found import (
    BY_HAND,
    Between,
    Found,
    Reader,
    _apart,
    clearance_words,
    find_by_flat,
    find_depth,
    find_middle,
    find_round,
)
from incudo.core.locating.screw import Screw
from incudo.core.measuring.study import GOOD, USABLE, StudyFit, _fit
from incudo.core.reckoning.bench import Bench, chip_chart
from incudo.core.reckoning.holes.tap_drill import _tap
from incudo.core.reckoning.inputs import Values
from incudo.core.reckoning.speed import chip_thinning
from incudo.core.reckoning.speed.shared import at_step, within
from incudo.core.setup import holding
from incudo.core.setup.holding import Cut, JawVise, ParallelPair, Work
from incudo.core.setup.jaw import JawSweep
from incudo.core.setup.record import HeadAxis
from incudo.core.setup.tram import Sweep
from incudo.core.shop.machine import Axis
from incudo.core.shop.tapping import PER_PERCENT
from incudo.core.shop.workholding import VBlocks
from tests.core.planning import shops

F = Fraction
HAIR = F(1, 10**9)
TIP, EVEN = F(10), F(8)
DIAL = Dial(F(2), 100, F(1, 10), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
X = Reader(Axis.X, DIAL, Scale.READOUT, F(1, 100), Unit.MM)


@pytest.mark.parametrize(
    ("refused", "taken"),
    [
        (lambda: edge(F(0), F(0), 1), lambda: edge(F(0), HAIR, 1)),
        (lambda: block(F(0), TIP, TIP), lambda: block(F(0), TIP + HAIR, TIP)),
        (lambda: slot(HAIR, F(0), TIP), lambda: slot(F(0), F(0), TIP)),
        (lambda: Work(F(10), F(0), F(10)), lambda: Work(F(10), HAIR, F(10))),
        (lambda: JawSweep(F(5), F(5), F(0), F(0)), lambda: JawSweep(F(5), F(5) + HAIR, F(0), F(0))),
        (lambda: JawSweep(F(0), F(5), F(0), F(5)), lambda: JawSweep(F(0), F(5), F(0), F(5) - HAIR)),
        (lambda: Sweep(HeadAxis.TILT, F(0), F(0), F(0)), lambda: Sweep(HeadAxis.TILT, F(0), F(0), HAIR)),
        (lambda: find_depth(X, F(1), -HAIR, F(0), ""), lambda: find_depth(X, F(1), F(0), F(0), "")),
        (lambda: _flat(near=-HAIR), lambda: _flat(near=F(0))),
        (lambda: _flat(far=-HAIR), lambda: _flat(far=F(0))),
    ],
)
def test_just_on_the_bound_and_a_hair_from_it(refused: Callable[[], object], taken: Callable[[], object]) -> None:
    taken()
    with pytest.raises(Refused):
        refused()


def _flat(near: Fraction = EVEN, far: Fraction = EVEN) -> Found:
    return find_by_flat(X, F(0), F(20), F(4), F(1, 2), near, far, F(0))


def test_a_spot_is_a_circle_until_its_chord_is_as_long_as_it_is_wide() -> None:
    # 1 deep in 5 a chord is 4 long
    assert not flat_is_circle(F(5), F(4), F(1), F(0))
    assert flat_is_circle(F(5), F(4) - HAIR, F(1), F(0))


def test_a_bar_and_its_spot_may_differ_by_what_hands_measure() -> None:
    most = AGREE + BY_HAND
    assert not _flat(near=F(8) + most).wrong
    assert _flat(near=F(8) + most + HAIR).wrong


def test_a_contact_is_bad_beyond_what_touches_and_width_may_be_out() -> None:
    unsure = F(1, 50)
    assert not Centre(F(0), F(20), AGREE + unsure).bad(F(1, 100), unsure)
    assert Centre(F(0), F(20), AGREE + unsure + HAIR).bad(F(1, 100), unsure)


def test_a_tip_reaches_no_further_than_it_is_long() -> None:
    finder = next(iter(FINDERS.values()))
    reach = finder.reach.mm
    assert "only" in clearance_words(reach * 8, finder, reach, Unit.MM)[1]
    assert "only" not in clearance_words(reach * 8, finder, reach - HAIR, Unit.MM)[1]


@pytest.mark.parametrize(
    ("share", "fit"),
    [
        (GOOD, StudyFit.GOOD),
        (GOOD + HAIR, StudyFit.USABLE),
        (USABLE, StudyFit.USABLE),
        (USABLE + HAIR, StudyFit.UNFIT),
    ],
)
def test_a_gauge_that_takes_just_so_much_of_the_limits(share: F, fit: StudyFit) -> None:
    assert _fit(share) is fit  # type: ignore[arg-type]


def test_a_reading_that_is_a_quarter_of_a_division_short_of_a_turn_counts_as_there() -> None:
    quarter = DIAL.division / 4
    screw = Screw(DIAL)
    # 0 is shown: to read so little less than 0 is nearly a whole turn
    assert screw.counted(1, 1, -quarter % DIAL.turn) == 2 * DIAL.turn - quarter
    assert screw.counted(1, 1, (HAIR - quarter) % DIAL.turn) == DIAL.turn - quarter + HAIR


@pytest.mark.parametrize(("more", "agrees"), [(F(0), True), (HAIR, False)])
def test_a_students_backlash_holds_where_it_agrees_with_what_holds(more: F, agrees: bool) -> None:
    found = F(1) + AGREE_WITHIN * DIAL.division + more
    taught, own = Measurement("one", True, Backlash(F(1), None)), Measurement("two", False, Backlash(found, None))
    assert confirmed(DIAL, [taught, own]) == (True, agrees)


def by_dial(play: F) -> Reader:
    return replace(X, dial=replace(DIAL, backlash=play), scale=Scale.DIAL)


def test_touches_apart_by_the_backlash_are_told_from_it_where_it_is_more_than_they_may_differ() -> None:
    near = agreement(X.division)
    for more, said in ((F(0), 1), (HAIR, 2)):
        assert len(_apart(by_dial(near + more), [F(0), near + more])) == said


@pytest.mark.parametrize(("of", "words"), [(F("0.1"), "exactly the backlash"), (F(2), "whole turn was miscounted")])
@pytest.mark.parametrize("more", [F(0), HAIR])
def test_a_width_that_is_out_by_a_turn_or_by_the_backlash_names_it(of: F, words: str, more: F) -> None:
    unsure = F(1, 100)
    off = of + agreement(X.division) + unsure + more
    wide = F(20)
    # from contact to contact: the width and the tip, less the play; and what is out
    reader = by_dial(F("0.1"))
    finder = next(iter(FINDERS.values()))
    travel = wide + off + finder.tip.mm - reader.dial.backlash
    between = Between(F(0), travel % reader.dial.turn, int(travel // reader.dial.turn), inside=False)
    found = find_middle(reader, between, finder, wide, unsure, F(0))
    assert any(words in w for w in found.wrong) is not bool(more), found.wrong


def test_only_what_is_further_off_than_half_of_what_is_allowed_is_moved() -> None:
    allowed = F(1, 10)
    for more, moves in ((F(0), 1), (HAIR, 2)):
        # 0.3 off along X, and half of what is allowed along Y
        sweep = Bore(F("0.3"), allowed / 2 + more, F("-0.3"), -allowed / 2 - more)
        y = replace(X, axis=Axis.Y)
        found = find_round(X, y, sweep, (F(0), F(0)), (F(0), F(0)), allowed, F(10))
        assert len(found.next) == moves + 2, found.next


@pytest.mark.parametrize(("more", "said"), [(F(0), False), (HAIR, True)])
def test_thin_chips_take_as_much_more_feed_as_is_allowed(monkeypatch: pytest.MonkeyPatch, more: F, said: bool) -> None:
    # a tenth of the diameter in
    values = Values({"diameter": F(10), "engaged": F(1), "chip": F(1, 10)}, Unit.MM)
    monkeypatch.setattr(chip_thinning, "MOST_RAISE", 1 / (2 * chip_thinning.root(F(9, 100))) - more)
    assert bool(chip_thinning.CALCULATION.work(values).said) is said


def test_a_range_begins_at_its_lowest_speed() -> None:
    assert within(F(100), (F(100), F(400))) == 100
    assert within(F(100) - HAIR, (F(100), F(400))) is None


@pytest.mark.parametrize(("more", "fits"), [(F(0), True), (HAIR, False)])
def test_what_comes_out_below_goes_as_deep_as_the_parallels_are_high(more: F, fits: bool) -> None:
    pair = ParallelPair(F(10), F(5), F(100))
    found = holding._through(
        "Hole", "drill", F(20), F(20), pair.height + more, Work(F(40), F(60), F(20)), pair, Unit.MM
    )
    assert bool(found) is not fits


def test_a_bar_lies_on_the_faces_of_a_groove_and_not_on_its_edges() -> None:
    """The largest is √2 times the groove: 7 and 5 are as near as whole numbers come, 7² = 49 of 50."""
    blocks = {"kind": "v-blocks", "unit": "mm", "count": 1, "least": "5", "groove": "50", "length": "60"}
    assert VBlocks.model_validate(blocks | {"most": "70.71"})
    with pytest.raises(ValidationError):
        VBlocks.model_validate(blocks | {"most": "70.72"})


def test_a_chart_is_drawn_for_a_cutter_in_a_material() -> None:
    assert chip_chart(Bench()) is None
    assert chip_chart(Bench(stock=shops.shop("petrel", "low-carbon steel").stock)) is None


def test_a_number_has_forty_characters_at_most() -> None:
    assert number("1.5".ljust(40), "size") == "1.5"
    with pytest.raises(Refused):
        number("1.5".ljust(41), "size")


def test_a_thread_leaves_a_hole() -> None:
    """With so coarse a pitch that nothing is left of the hole, a full thread is refused; a hair finer is not."""
    by = PER_PERCENT["cutting"]
    for pitch, refused in ((F(8) * by / 100, True), (F(8) * by / 100 - HAIR, False)):
        values = Values(
            {"diameter": F(8), "pitch": pitch, "percent": F(100), "tap": "cutting", "drills": (), "others": ()}, Unit.MM
        )  # type: ignore[dict-item]
        if refused:
            with pytest.raises(Refused):
                _tap(values)
        else:
            assert _tap(values).answer.value > 0


@pytest.mark.parametrize(("speed", "told"), [(F(400), False), (F(400) + HAIR, True)])
def test_the_fastest_speed_is_slow_only_for_what_wants_more(speed: F, told: bool) -> None:
    values = Values({"steps": (F(100), F(400)), "ranges": (), "school": "below"}, Unit.MM)  # type: ignore[dict-item]
    outputs, _, said = at_step(values, speed, F(10))
    assert outputs[0].value == 400
    assert bool(said) is told


@pytest.mark.parametrize(("over", "meets"), [(F(0), False), (-HAIR, True)])
def test_a_cut_right_through_ends_on_the_jaw_or_in_it(over: F, meets: bool) -> None:
    pair = ParallelPair(F(20), F(5), F(100))
    vise = JawVise(F(100), F(20) - over, F(100))
    cut = Cut("Slot", F(0), F(10), F(0))
    found = holding._cut(cut, Work(F(40), F(60), F(30)), vise, pair, Unit.MM, F(1))
    assert ("jaw" in {s.about for s in found}) is meets
