"""What every page is told stays what was approved (``tests/approved/answers.txt``)."""

from __future__ import annotations

from pathlib import Path

from tests.approved.answers import answers

APPROVED = Path(__file__).parent.parent / "approved" / "answers.txt"


def test_every_page_is_told_what_was_approved() -> None:
    said = list(answers())
    wrong = [line for line in said if line not in set(APPROVED.read_text(encoding="utf-8").splitlines())]
    assert not wrong, "if it is meant so, python -m tests.approved answers and read it"
    assert len(said) == len(APPROVED.read_text(encoding="utf-8").splitlines())
