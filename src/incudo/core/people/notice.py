"""The safety notice that everybody signs at the first sign-in; a new version is signed anew."""

from __future__ import annotations

from incudo.core.kernel.say import say

VERSION = 1
TITLE = say("Before you work here")
LINES = (
    say(
        "A milling machine can take a finger, a hand or an eye in less time than it takes to be "
        "frightened. Nothing on a screen changes that."
    ),
    say(
        "Incudo never replaces supervision. It keeps records, does arithmetic and says what is still "
        "missing. It is not a safety system of any machine and stops none of them."
    ),
    say(
        "The machine's manual, the shop's own rules and local law come first. A qualified person "
        "decides; if Incudo and the instructor disagree, the instructor is right."
    ),
    say(
        "You start a machine only in a session with a supervisor, only what you are signed for or with "
        "the named assessor beside you, and never with a tag hanging on it."
    ),
    say(
        "You stop at once when something is wrong, tell an instructor, and hang a tag on what is faulty. "
        "Nobody is blamed for stopping or for reporting a near miss."
    ),
)
