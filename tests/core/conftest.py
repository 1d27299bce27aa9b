"""The core knows no clock: asking for the time in a core test fails."""

from __future__ import annotations

import time

import pytest


@pytest.fixture(autouse=True)
def _no_sleep(monkeypatch: pytest.MonkeyPatch) -> None:
    def refuse(*_: object) -> None:
        raise AssertionError("the core waited")

    monkeypatch.setattr(time, "sleep", refuse)
