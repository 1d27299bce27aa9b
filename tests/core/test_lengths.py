"""How long what is written may be: as long as its bound, and not a letter more or less."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from incudo.core.kernel import fields
from incudo.core.parts.features.naming import FeatureName
from incudo.core.planning import file as plans
from incudo.core.shop import material, table
from incudo.core.skills.looks.base import Label

#: Each kind of text with its least and its most letters.
LENGTHS: list[tuple[Any, int, int]] = [
    (fields.Word, 1, 80),
    (fields.Line, 0, 400),
    (fields.Key, 1, 60),
    (table.Text, 0, 200),
    (table.Name, 1, 80),
    (material.Words, 3, 200),
    (plans.Id, 1, 40),
    (plans.Name, 0, 90),
    (FeatureName, 1, 40),
    (Label, 0, 24),
]


def taken(of: Any, letters: int) -> bool:
    try:
        TypeAdapter(of).validate_python("a" * letters)
    except ValidationError:
        return False
    return True


def has_bounds(of: Any, least: int, most: int) -> bool:
    """Whether a text is taken just within its bounds and refused just beyond them."""
    ends = {n for n in (least - 1, least, most, most + 1) if n >= 0}
    return {n for n in ends if taken(of, n)} == {least, most}


@pytest.mark.parametrize(("of", "least", "most"), LENGTHS)
def test_it_is_as_long_as_its_bound_and_no_longer(of: Any, least: int, most: int) -> None:
    assert has_bounds(of, least, most)


def test_each_of_several_texts_of_a_cell_has_its_bound() -> None:
    assert TypeAdapter(table.Texts).validate_python("a" * 300) == ("a" * 300,)
    with pytest.raises(ValidationError):
        TypeAdapter(table.Texts).validate_python("a" * 301)
