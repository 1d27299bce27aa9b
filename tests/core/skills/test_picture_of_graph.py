"""The skill graph as a picture: lines go between the boxes."""

from __future__ import annotations

import re
from itertools import pairwise

from incudo import shipped
from incudo.core.skills.picture_of_graph import BOX_HEIGHT, BOX_WIDTH, lay_out


def test_no_line_runs_through_a_box_and_each_ends_where_it_belongs() -> None:
    map_ = lay_out(shipped.graph())
    boxes = {b.skill: b for b in map_.boxes}
    assert len(map_.links) > 60
    for link in map_.links:
        # corners are rounded: the corner itself is the middle point of each curve
        spots = [(int(x), int(y)) for x, y in re.findall(r"(-?\d+) (-?\d+)", link.path)]
        assert "Q" in link.path or spots[0][1] == spots[-1][1]
        start, end = boxes[link.before], boxes[link.after]
        assert spots[0] == (start.x + BOX_WIDTH, start.y + BOX_HEIGHT // 2)
        assert spots[-1] == (end.x, end.y + BOX_HEIGHT // 2)
        for (ax, ay), (bx, by) in pairwise(spots):
            assert ax == bx or ay == by or max(abs(ax - bx), abs(ay - by)) <= 5, link.path
            for box in boxes.values():
                inside_x = box.x < max(ax, bx) and min(ax, bx) < box.x + BOX_WIDTH
                inside_y = box.y < max(ay, by) and min(ay, by) < box.y + BOX_HEIGHT
                assert not (inside_x and inside_y), (link, box)
