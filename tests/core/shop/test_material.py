"""What looks implausible in a material."""

from __future__ import annotations

import pytest

from incudo.core.shop.material import Range, far_from_others


def _milled(material: str, low: str, high: str, made_of: str = "carbide") -> Range:
    numbers = {"v_low": low, "v_high": high, "chart": "10:0.05-0.1"}
    return Range.model_validate({"material": material, "cutter": made_of, "operation": "milling", **numbers})


@pytest.mark.parametrize(
    ("low", "high", "words"),
    [
        ("240", "300", ""),
        ("240.1", "300", "more than twice"),
        ("15", "20", ""),
        ("15", "19.9", "less than half"),
    ],
)
def test_a_speed_far_from_that_of_every_other_material_is_asked_about(low: str, high: str, words: str) -> None:
    others = [
        _milled("steel", "40", "80"),
        _milled("brass", "60", "120"),
        # another cutter's, and its own of before, are none of them
        _milled("wax", "3", "30", "high-speed steel"),
        _milled("putty", "900", "950"),
    ]
    found = far_from_others([_milled("putty", low, high)], others)
    assert len(found) == bool(words)
    assert all(words in f for f in found)
