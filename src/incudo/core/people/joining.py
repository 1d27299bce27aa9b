"""How somebody gets in: by a code on a slip of paper, once, for some days; and who may change whom."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import datetime, timedelta

from incudo.core.kernel.say import say
from incudo.core.people.roles import Role

#: Letters and digits that are not taken for one another on paper.
ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"
#: A code is so many groups of so many of them: 12 signs of 31 are 59 bits.
PARTS, SIGNS = 3, 4
#: Whoever is new may use the code for so long; whoever has forgotten a password stands there and uses it now.
NEW, AGAIN = timedelta(days=14), timedelta(hours=1)
#: The code that sets up an empty installation, made at each start of its server.
FIRST = timedelta(hours=24)
#: Roles that confirm acts with a PIN.
WITH_PIN = (Role.INSTRUCTOR, Role.ASSISTANT)


def written(signs: str) -> str:
    """A code as it stands on the slip: "abcd-efgh-jkmn"."""
    return "-".join(signs[n : n + SIGNS] for n in range(0, len(signs), SIGNS))


def as_typed(code: str) -> str:
    """What of a typed code counts: small letters and digits, whatever stands between them."""
    return "".join(c for c in code.lower() if c.isalnum())


def until(now: datetime, *, joined: bool) -> datetime:
    """Until when a code made now holds; ``joined``: they have been in before, it replaces a forgotten password."""
    return now + (AGAIN if joined else NEW)


@dataclass(frozen=True)
class Someone:
    """A person as far as it matters who may change them."""

    id: uuid.UUID
    role: Role


def why_not_change(by: Someone, person: Someone) -> str:
    """Why somebody may not change a person or let them in again; empty when they may.

    Nobody can lock another instructor out, or come in under their name: what an instructor has forgotten is made anew
    on the server itself, by whoever runs it.
    """
    if by.role is not Role.INSTRUCTOR:
        return say("Only an instructor changes this.")
    if person.role is Role.INSTRUCTOR and person.id != by.id:
        return say("An instructor is changed by nobody but themselves; the server's own command gives a new code.")
    return ""


def why_not_become(by: Someone, person: Someone, *, role: Role, active: bool) -> str:
    """Why a person may not become this; empty when they may. ``by`` is somebody who may change them."""
    if person.id == by.id and (role is not person.role or not active):
        return say("You cannot take your own role away or pause yourself: another person does that on the server.")
    return ""
