"""Hold points: places in the work where the student calls the instructor and cannot go on without them."""

from __future__ import annotations

from enum import StrEnum

from incudo.core.kernel.say import say


class Hold(StrEnum):
    """The hold points that can be set for a project, a job card or a student."""

    FIRST_START = "first_start"
    FIRST_FEED = "first_feed"
    LAST_PASS = "last_pass"


WORDS = {
    Hold.FIRST_START: say("before the first start"),
    Hold.FIRST_FEED: say("before the first power feed"),
    Hold.LAST_PASS: say("before the last pass"),
}

#: A start at the machine waits for this one; ticking off "Cut" waits for all.
BEFORE_START = (Hold.FIRST_START,)
