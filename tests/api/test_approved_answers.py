"""What every page is told, and what every act answers, stays what was approved."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.approved.acts import acts
from tests.approved.answers import answers

APPROVED = Path(__file__).parent.parent / "approved"


@pytest.mark.parametrize("page", [answers, acts], ids=lambda p: p.__name__)
def test_the_page_is_as_it_was_approved(page: Callable[[], Iterator[str]]) -> None:
    said = list(page())
    kept = (APPROVED / f"{page.__name__}.txt").read_text(encoding="utf-8").splitlines()
    wrong = [line for line in said if line not in set(kept)]
    assert not wrong, f"if it is meant so, python -m tests.approved {page.__name__} and read it"
    assert len(said) == len(kept)
