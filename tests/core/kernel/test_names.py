"""Names that are one for people are one for us."""

from __future__ import annotations

import pytest

from incudo.core.kernel.names import alike


@pytest.mark.parametrize("other", ["brönze no. 2", "BRONZE NO. 2", " Bronze no. 2 ", "Bronzé No. 2"])
def test_case_accents_and_outer_spaces_make_no_other_name(other: str) -> None:
    assert alike(other) == alike("Bronze no. 2")


@pytest.mark.parametrize("other", ["Bronze no. 3", "Bronze no 2", "Bronzeno. 2", ""])
def test_another_name_is_another_one(other: str) -> None:
    assert alike(other) != alike("Bronze no. 2")
