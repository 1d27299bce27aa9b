"""The requirements of a part as a list, and what a reading may be of."""

from __future__ import annotations

import pytest

from incudo import shipped
from incudo.app.parts import library
from incudo.core.parts.features.part import part_of, read_part
from tests.shop import M12, TestShop, reading


@pytest.mark.parametrize(
    ("part", "number", "callout"), [("mast-step-pad", 11, "3/8-16 2B"), ("thole-block", 11, "Ra 3.2 µm")]
)
def test_what_is_called_out_has_no_limits_to_be_read(part: str, number: int, callout: str) -> None:
    row = next(r for r in library.rows_of(part_of(read_part(shipped.parts()[part])).project) if r.number == number)
    assert (row.callout, row.lower, row.upper) == (callout, None, None)
    other = next(r for r in library.rows_of(part_of(read_part(shipped.parts()[part])).project) if r.number == 1)
    assert other.callout == ""
    assert other.lower is not None
    assert other.upper is not None


def test_a_reading_of_something_else_is_told_of_what_it_may_be(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    refused = student.fails(422, f"/api/attempts/{attempt}/readings", reading(2, "1.5004", M12, element="go"))
    assert refused["errors"] == [{"field": "element", "value": "go", "bound": "must be one of: none"}]
