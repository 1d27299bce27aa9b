"""What all pictures share: the values of their axes."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.picture import steps


@pytest.mark.parametrize(
    ("top", "most", "texts"),
    [
        (1.0, 4, ["0.5", "1.0"]),
        (1.1, 4, ["0.5", "1.0"]),
        (27.5, 4, ["10", "20"]),
        (0.0035, 3, ["0.002"]),
        (0.0062, 3, ["0.005"]),
        (0.138, 3, ["0.05", "0.10"]),
    ],
)
def test_axes_have_round_values(top: float, most: int, texts: list[str]) -> None:
    assert [text for text, _ in steps(top, most)] == texts


@given(st.floats(1e-5, 1e5), st.integers(2, 6))
def test_they_stay_within_the_axis_and_say_what_they_are(top: float, most: int) -> None:
    found = list(steps(top, most))
    assert 1 <= len(found) <= most
    for text, value in found:
        assert 0 < value <= top * 1.00001
        assert float(text) == pytest.approx(value)
