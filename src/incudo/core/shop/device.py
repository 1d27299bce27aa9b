"""Outside devices that may talk to Incudo, each with a key of its own."""

from __future__ import annotations

from enum import StrEnum


class Purpose(StrEnum):
    """What a device's key opens: the interlock's question, or the view for a wall. Neither opens the other."""

    INTERLOCK = "interlock"
    WALL = "wall"
