"""A print of a part: what is free for the drawing, and the mark of its projection."""

from __future__ import annotations

import uuid

import pytest
import yaml

from incudo.app.administration import papers
from incudo.app.administration.papers import ROOMS, Paper
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.project import read_project
from tests.paths import VERSION_1
from tests.shop import GAUGE_V1, TestShop

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


@pytest.mark.parametrize(
    ("as_placed", "projection", "first"),
    # where the file says where each dimension stands, the views stand as in third angle
    [(False, Projection.FIRST, True), (False, Projection.THIRD, False), (True, Projection.FIRST, False)],
)
def test_the_mark_of_the_projection_is_the_one_that_is_drawn(
    shop: TestShop, as_placed: bool, projection: Projection, first: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(papers, "projection_of", lambda _w: projection)
    if as_placed:
        part = read_project(yaml.safe_load((VERSION_1 / "keel-step-gauge.yaml").read_text()))
        assert part.is_placed
        monkeypatch.setattr(papers, "project_of", lambda _content: part)
    values = shop.unit.run(lambda w: papers.part_values(w, uuid.UUID(GAUGE_V1), Paper.A4))
    assert values["first"] is first
