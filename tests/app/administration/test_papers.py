"""What is free for a drawing is the paper less its margins and the title block."""

from __future__ import annotations

import pytest

from incudo.app.administration.papers import ROOMS, Paper

MARGINS = 2 * 15
#: Two margins, the title block and the line that says to what scale it is drawn, upright and lying.
ABOVE_AND_BELOW = (75, 74)


@pytest.mark.parametrize(("paper", "short", "long"), [(Paper.A4, 210, 297), (Paper.LETTER, 215.9, 279.4)])
def test_a_drawing_has_what_the_margins_and_the_title_block_leave(paper: Paper, short: float, long: float) -> None:
    (across, height), (lying, low) = ROOMS[paper]
    assert (across, lying) == (pytest.approx(short - MARGINS, abs=0.5), pytest.approx(long - MARGINS, abs=0.5))
    assert (height, low) == (
        pytest.approx(long - ABOVE_AND_BELOW[0], abs=0.5),
        pytest.approx(short - ABOVE_AND_BELOW[1], abs=0.5),
    )
