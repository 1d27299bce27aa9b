"""What core says today is what was read and approved (``tests/approved``); a change of a rule shows there."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.approved.pages import PAGES

FOLDER = Path(__file__).parent.parent / "approved"


@pytest.mark.parametrize("name", PAGES)
def test_core_says_what_was_approved(name: str) -> None:
    approved = (FOLDER / f"{name}.txt").read_text(encoding="utf-8").splitlines()
    for number, (line, said) in enumerate(zip(approved, PAGES[name](), strict=True), 1):
        assert said == line, (
            f"{name}.txt, line {number}: if it is meant so, python -m tests.approved {name} and read it"
        )
