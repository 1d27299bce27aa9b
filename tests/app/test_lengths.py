"""How long what is sent may be: as long as its bound, and not a letter more or less."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from incudo.app.kernel import views
from incudo.app.locating import moves
from incudo.app.people import accounts, everybody, joining
from incudo.app.planning import acts
from incudo.app.practice import exercise_views, studies
from incudo.app.reckoning import materials
from incudo.app.setup import holding
from incudo.app.setup import views as setups
from incudo.app.shop import devices, gauge_checks, new_cutters, tags
from incudo.app.skills import lapses, signing
from tests.core.test_lengths import has_bounds

#: Each kind of text with its least and its most letters.
LENGTHS: list[tuple[Any, int, int]] = [
    (moves.Number, 1, 20),
    (holding.Number, 1, 20),
    (setups.Number, 1, 20),
    (signing.Place, 0, 200),
    (acts.Ref, 0, 90),
    (views.Note, 0, 400),
    (views.Reason, 3, 400),
    (views.SkillId, 1, 60),
    (materials.Figure, 1, 40),
    (materials.Sentence, 1, 300),
    (materials.Short, 0, 200),
    (gauge_checks.Text, 1, 20),
    (devices.DeviceName, 2, 80),
    (tags.Words, 0, 200),
    (tags.What, 10, 1000),
    (new_cutters.Size, 1, 20),
    (new_cutters.Short, 0, 40),
    (studies.Text, 1, 20),
    (exercise_views.CalculationName, 1, 60),
    (accounts.NewPassword, 8, 200),
    (everybody.PersonName, 1, 80),
    (everybody.GroupName, 2, 60),
    (joining.Code, 1, 40),
]


@pytest.mark.parametrize(("of", "least", "most"), LENGTHS)
def test_it_is_as_long_as_its_bound_and_no_longer(of: Any, least: int, most: int) -> None:
    assert has_bounds(of, least, most)


@pytest.mark.parametrize(("of", "least", "most"), [(lapses.Days, 1, 3660)])
def test_days_have_their_bounds(of: Any, least: int, most: int) -> None:
    for n in (least, most):
        assert TypeAdapter(of).validate_python(n) == n
    for n in (least - 1, most + 1):
        with pytest.raises(ValidationError):
            TypeAdapter(of).validate_python(n)
