"""Climb or conventional: by how the tooth and the work move where they meet."""

from __future__ import annotations

import itertools

import pytest

from incudo.core.locating.climb import MOST_LOST
from tests.core.reckoning.figures import slip, worked

#: The table's way as a motion of the work; the cutter turns clockwise seen from above.
WORK_GOES = {"left": -1, "right": 1}


@pytest.mark.parametrize(("work", "table"), list(itertools.product(("behind", "in front of"), WORK_GOES)))
def test_with_the_feed_is_climb_against_it_conventional(work: str, table: str) -> None:
    """Clockwise from above, a tooth at the rear goes to the right, one in front to the left."""
    tooth = 1 if work == "behind" else -1
    found = worked("climb", work=work, table=table).answer.word
    assert found == ("climb" if tooth == WORK_GOES[table] else "conventional")


def test_climbing_is_only_for_a_tight_screw() -> None:
    at = worked("climb", work="in front of", table="left", backlash=f"{MOST_LOST}").said[0]
    above = worked("climb", work="in front of", table="left", backlash=f"{MOST_LOST + 0.001}").said[0]
    assert at.startswith("Only a light one")
    assert "can pull the table in: not here" in above
    assert worked("climb", work="behind", table="left", backlash="1").said == ()


def test_the_tables_way_taken_for_the_cutters_is_named() -> None:
    words = "the table's way was taken for the cutter's"
    assert slip("climb", 0, work="behind", table="left") == words
    assert slip("climb", 1, work="behind", table="left") == ""
