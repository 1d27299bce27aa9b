"""The roles that people act in."""

from __future__ import annotations

from enum import StrEnum


class Role(StrEnum):
    """What a person is in the shop."""

    INSTRUCTOR = "instructor"
    ASSISTANT = "assistant"
    STUDENT = "student"
    AUDITOR = "auditor"
