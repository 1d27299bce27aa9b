"""On paper a part is as large as the scale says."""

from __future__ import annotations

from fractions import Fraction

import pytest
import yaml

from incudo.core.kernel.quantity import Unit
from incudo.core.parts.drawing.marks import Stroke
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.drawing.printed import SCALES, SIZES, printed
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.geometry.solid import solid_of
from incudo.core.parts.project import read_project
from tests.core.parts.features.making import PLATE, SHIPPED, changed, shipped_part
from tests.core.parts.features.test_random_parts import no_overlap
from tests.paths import VERSION_1

UPRIGHT, LYING = (180.0, 222.0), (267.0, 136.0)


@pytest.mark.parametrize("code", SHIPPED)
def test_what_is_measured_on_paper_is_the_part_times_the_scale(code: str) -> None:
    """The length of the part, from the outermost visible lines of the front view, in millimetres of paper."""
    project = shipped_part(code).project
    sheet = printed(project, UPRIGHT, LYING, projection=list(Projection)[len(code) % 2])
    scale = Fraction(*map(int, sheet.scale.split(":")))
    assert scale in SCALES[project.unit]
    assert sheet.mm in SIZES
    room = LYING if sheet.across else UPRIGHT
    assert sheet.drawing.width * sheet.mm <= room[0]
    assert sheet.drawing.height * sheet.mm <= room[1]
    no_overlap(sheet.drawing)
    low, high = solid_of(project).extent
    wanted = (high[0] - low[0]) * float(project.unit.in_mm * scale)
    views = [
        [p[0] for m in g.marks if isinstance(m, Stroke) and m.kind == "visible" for p in m.points]
        for g in sheet.drawing.groups
    ]
    lengths = [(max(xs) - min(xs)) * sheet.mm for xs in views if xs]
    assert any(abs(x - wanted) < 1e-6 for x in lengths), (wanted, lengths)


def test_a_larger_scale_would_not_have_fitted() -> None:
    """The part half as large is printed at twice the scale, or at the same when that does not fit."""
    whole = printed(shipped_part("keel-step-gauge").project, UPRIGHT, LYING)
    narrow = printed(shipped_part("keel-step-gauge").project, (90.0, 111.0), (133.0, 68.0))
    assert Fraction(*map(int, whole.scale.split(":"))) > Fraction(*map(int, (narrow.scale or "0:1").split(":")))


def test_what_fits_at_no_scale_fills_the_paper_and_says_so() -> None:
    huge = {**PLATE, "features": [], "datums": [], "characteristics": PLATE["characteristics"][:1]}
    for path, value in (("body.x", "9000"), ("stock.x", "9010"), ("body.y", "900"), ("stock.y", "910")):
        huge = changed(huge, path, value)
    sheet = printed(part_of(read_part(huge)).project, UPRIGHT, LYING)
    assert sheet.scale == ""
    assert max(sheet.drawing.width * sheet.mm / UPRIGHT[0], sheet.drawing.height * sheet.mm / UPRIGHT[1]) == 1
    old = printed(read_project(yaml.safe_load((VERSION_1 / "tide-block.yaml").read_text())), UPRIGHT, LYING)
    assert old.scale == ""


def test_inches_have_the_inch_scales() -> None:
    assert Fraction(1, 4) in SCALES[Unit.INCH]
    assert Fraction(1, 5) in SCALES[Unit.MM]
