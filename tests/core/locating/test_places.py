"""Places of a part and the dial over them, followed with the handle: the table goes where the list says it does."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest
import yaml
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.quantity import Unit
from incudo.core.locating.datum import Datum, lines_from, rounding_words, shown_from
from incudo.core.locating.dial import Dial, Leg, Turning
from incudo.core.locating.finders import Face, face_at
from incudo.core.locating.places import PartAxis, extents, places, round_at
from incudo.core.parts.project import Project, read_project
from incudo.core.shop.machine import Axis
from tests.core.said import told
from tests.paths import VERSION_1


def part(name: str, **change: Any) -> Project:
    return read_project({**yaml.safe_load((VERSION_1 / f"{name}.yaml").read_text()), **change})


def listed(p: Project, cutter: str) -> dict[tuple[str, str], Fraction]:
    return {(x.name, x.axis.value): x.at for x in places(p, Fraction(cutter))}


def test_the_plate_s_holes_walls_and_floors_by_hand() -> None:
    """84 x 52 x 10: slot x 35..49 from y 21 to the rear and through, step from x 70 at z 6; cutter 10 mm."""
    assert listed(part("fairlead-plate"), "10") == {
        ("slot, left wall", "x"): 40,
        ("slot, right wall", "x"): 44,
        ("slot, front wall", "y"): 26,
        ("slot end", "x"): 42,
        ("slot end", "y"): 21,
        ("rail step, left wall", "x"): 75,
        ("rail step, floor", "z"): 6,
        ("rear hole", "x"): 14,
        ("rear hole", "y"): 38,
        ("front hole", "x"): 60,
        ("front hole", "y"): 12,
    }


def test_a_round_bar_is_measured_from_its_axis() -> None:
    """Diameter 16, length 70, a cross hole through, a flat 14 long at z 5.5."""
    pin = part("shackle-pin")
    assert extents(pin) == {PartAxis.X: (0, 70), PartAxis.Y: (-8, 8), PartAxis.Z: (-8, 8)}
    assert listed(pin, "12") == {
        ("cross hole", "x"): 60,
        ("cross hole", "y"): 0,
        ("flat, right wall", "x"): 8,
        ("flat, floor", "z"): Fraction("5.5"),
    }


@pytest.mark.parametrize(("cutter", "warned"), [("13.9", False), ("14", False), ("14.1", True)])
def test_a_cutter_wider_than_the_cut_is_warned_of(cutter: str, warned: bool) -> None:
    walls = [x for x in places(part("fairlead-plate"), Fraction(cutter)) if x.name.startswith("slot, ")]
    notes = {x.name: x.note for x in walls}
    assert bool(notes["slot, left wall"]) is warned
    assert bool(notes["slot, right wall"]) is warned
    assert not notes["slot, front wall"], "the slot is open to the rear"


def test_a_blind_hole_has_a_depth_and_a_hole_across_is_not_seen_from_above() -> None:
    hole = {"shape": "hole", "name": "blind", "axis": "z", "at": ["20", "30"], "start": "10", "end": "3.5"}
    across = {"shape": "hole", "name": "across", "axis": "y", "at": ["20", "5"], "start": "0", "end": "52"}
    cuts = [{**hole, "diameter": "6"}, {**across, "diameter": "4"}]
    file = yaml.safe_load((VERSION_1 / "fairlead-plate.yaml").read_text())
    p = part("fairlead-plate", cuts=[*file["cuts"], *cuts])
    assert listed(p, "10")["blind, full depth", "z"] == Fraction("3.5")
    assert not any(x.name.startswith("across") for x in places(p, Fraction(10)))
    assert round_at(p, "blind") == (20, 30, 3)
    assert round_at(p, "across") is None
    assert round_at(p, "slot") is None


@pytest.mark.parametrize(
    ("face", "at"),
    [(Face.LEFT, 0), (Face.RIGHT, 84), (Face.FRONT, 0), (Face.REAR, 52), (Face.JAW, 52), (Face.STOP, 0)],
)
def test_each_face_lies_where_the_part_ends(face: Face, at: int) -> None:
    span = extents(part("fairlead-plate"))
    assert face_at(face, span[PartAxis.X], span[PartAxis.Y]) == at


class Handle:
    """A handle, its screw, the table and the dial, worked out without the rules that are tested.

    The table is between two flanks of the nut, ``backlash`` apart: driven up by the one, down by the other.
    """

    def __init__(self, dial: Dial, datum: Datum) -> None:
        self.dial, self.table, self.ring = dial, datum.part, datum.shows
        self.screw = datum.part if datum.side > 0 else datum.part - dial.backlash

    def turn(self, leg: Leg) -> None:
        far = (leg.turns + leg.divisions / self.dial.graduations) * self.dial.turn
        self.screw += far if leg.turning is self.dial.grows else -far
        self.ring = (self.ring + (far if leg.turning is self.dial.dial_up else -far)) % self.dial.turn
        self.table = min(max(self.table, self.screw), self.screw + self.dial.backlash)


turnings = st.sampled_from([Turning.CLOCKWISE, Turning.ANTICLOCKWISE])
screws = st.sampled_from([(Fraction(5), 250), (Fraction(4), 200), (Fraction("5.08"), 200), (Fraction("2.54"), 100)])


@st.composite
def moves(draw: st.DrawFn) -> tuple[Dial, Datum, list[Fraction]]:
    turn, graduations = draw(screws)
    half = turn / graduations / 2
    dial = Dial(turn, graduations, half * draw(st.integers(0, 60)), draw(turnings), draw(turnings), Unit.MM)
    shows = half * draw(st.integers(0, 2 * graduations - 1))
    datum = Datum(Axis.X, dial, half * draw(st.integers(-4000, 4000)), shows, draw(st.sampled_from([1, -1])))
    wanted = st.decimals(-150, 150, places=3).map(Fraction)
    return dial, datum, draw(st.lists(wanted, min_size=1, max_size=6))


@settings(max_examples=300)
@given(moves())
def test_who_follows_the_list_stands_over_every_place(case: tuple[Dial, Datum, list[Fraction]]) -> None:
    dial, datum, wanted = case
    handle = Handle(dial, datum)
    lines = lines_from(dial, datum, wanted)
    assert [x.place for x in lines] == sorted(set(wanted), reverse=datum.side < 0)
    for line in lines:
        for leg in line.legs:
            handle.turn(leg)
        assert abs(handle.table - line.place) <= dial.division / 4, "to the nearer half division"
        assert handle.table - line.place == line.cost
        assert handle.ring == line.reading % dial.turn, "and the dial shows what the list says"


@settings(max_examples=200)
@given(moves())
def test_the_dial_at_a_place_reached_from_the_other_side_is_off_by_the_backlash(
    case: tuple[Dial, Datum, list[Fraction]],
) -> None:
    """Turned back until the table is there again, the ring shows what it shows less what ``shown_from`` returns."""
    dial, datum, _ = case
    handle = Handle(dial, datum)
    far = dial.backlash + dial.division
    away = dial.grows if datum.side > 0 else _other(dial.grows)
    onwards = Leg(away, far, 0, far / dial.division, Fraction(0), False)
    back = Leg(_other(away), far, 0, far / dial.division, Fraction(0), False)
    handle.turn(onwards)
    handle.turn(back)
    # now driven from the other side: the table has come back by all but the backlash
    rest = Leg(_other(away), dial.backlash, 0, dial.backlash / dial.division, Fraction(0), False)
    handle.turn(rest)
    assert handle.table == datum.part
    found = shown_from(dial, handle.ring, side=datum.side, last=-datum.side) % dial.turn
    assert found == datum.shows % dial.turn


def _other(turning: Turning) -> Turning:
    return Turning.CLOCKWISE if turning is Turning.ANTICLOCKWISE else Turning.ANTICLOCKWISE


def test_what_rounding_costs_is_said_in_the_dial_s_unit() -> None:
    dial = Dial(Fraction(5), 250, Fraction(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)
    datum = Datum(Axis.X, dial, Fraction(0), Fraction(0), 1)
    on, off = lines_from(dial, datum, [Fraction("1.01"), Fraction("2.004")])
    assert rounding_words(on, Unit.MM) == ""
    assert told(rounding_words(off, Unit.MM)) == ("0.0040", Unit.MM)
