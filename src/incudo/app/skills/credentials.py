"""What a student is signed for, as a file of open credentials, and checking such a file."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from datetime import datetime, time
from enum import StrEnum
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command, View
from incudo.app.people.students import student_of
from incudo.app.shop.machines import machine_names
from incudo.app.skills.records import skill_book
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.core.skills import credential as rules
from incudo.core.skills.standing import Book
from incudo.store import schema as t
from incudo.store.skills import acts


class CredentialFile(Command):
    """A file to check, as text."""

    file: Annotated[str, StringConstraints(max_length=rules.MOST_TEXT)]


class Proof(StrEnum):
    """What the proof of a credential tells."""

    OURS = "ours"
    ELSEWHERE = "elsewhere"
    CHANGED = "changed"


class CheckedCredential(View):
    """One credential. Where it was changed, nothing of it is repeated.

    ``holds``: whether this shop's records say today that the skill is signed; None where they cannot know.
    """

    proof: Proof
    holds: bool | None
    words: str
    holder: str = ""
    name: str = ""
    shop: str = ""
    signed_at: str = ""
    until: str = ""
    key: str = ""


class CheckedFile(View):
    """What a file of credentials is worth. ``key``: the one this shop signs with, to compare by."""

    shop: str
    key: str
    credentials: tuple[CheckedCredential, ...]


def credentials(w: Work, who: Who, student_id: uuid.UUID) -> tuple[str, rules.Document]:
    """All skills that are signed now, each as a credential, in one file with its name.

    Raises ``NotFound`` for who may not have it, and ``Conflict`` where nothing is signed.
    """
    if who.id != student_id and who.role is not Role.INSTRUCTOR:
        raise NotFound(say("There is no such student."))
    person = student_of(w, student_id)
    shop, signer = find(w, t.Shop, 1, "shop").name, _signer(w)
    found = [rules.credential(s, shop, signer, w.now) for s in _signed(w, person, shop)]
    if not found:
        raise Conflict(say("Nothing is signed yet: there is nothing to hand out."))
    return f"credentials-{person.login}.json", rules.together_in_one(found)


def _signed(w: Work, person: t.Person, shop: str) -> Iterator[rules.SignedSkill]:
    """The skills that are signed now, each by its newest sign-off."""
    book, machines = skill_book(w, person.id), machine_names(w)
    newest = {
        (row.skill, str(row.machine_id) if row.machine_id else None): (row, by)
        for row, by, _ in acts.sign_offs(w.db, [person.id])
    }
    known = {(s.id, s.per_machine): s for s in book.graph.skills}
    for (key, machine), (row, by) in newest.items():
        skill = known.get((key, machine is not None))
        if skill is None:
            continue
        standing = book.standing(key, machine)
        if not standing.state.current:
            continue
        name = skill.name
        if machine is not None:
            name = say("{name}, {machines}", name=name, machines=machines.get(machine, machine))
        words = say("Signed by {name} at {shop}, after it was shown to standard.", name=by, shop=shop)
        until = datetime.combine(standing.until, time(), w.zone) if standing.until else None
        points = tuple(speak(p) for p in skill.shown)
        yield rules.SignedSkill(str(row.id), person.name, key, speak(name), speak(words), points, row.at, until)


def check_credentials(w: Work, command: CredentialFile) -> CheckedFile:
    """Whether a file is as this shop gave it out, and whether its records still say so. Raises ``Refused``."""
    documents, ours = rules.read(command.file), _signer(w).did
    books: dict[uuid.UUID, Book] = {}
    return CheckedFile(
        shop=find(w, t.Shop, 1, "shop").name,
        key=ours,
        credentials=tuple(_checked(w, rules.claim(d), ours, books) for d in documents),
    )


def _checked(w: Work, claim: rules.Claim, ours: str, books: dict[uuid.UUID, Book]) -> CheckedCredential:
    if not claim.did:
        words = say("The signature does not fit: the file was changed, or nobody signed it. It proves nothing.")
        return CheckedCredential(proof=Proof.CHANGED, holds=None, words=words)
    if claim.did != ours:
        proof, holds = Proof.ELSEWHERE, None
        words = say(
            "Unchanged since it was signed, but not by this shop. Ask the shop that it names whether the key is theirs."
        )
    else:
        proof = Proof.OURS
        holds, words = _holds(w, claim.number, books)
    return CheckedCredential(
        proof=proof,
        holds=holds,
        words=words,
        holder=claim.holder,
        name=claim.name,
        shop=claim.shop,
        signed_at=claim.signed_at,
        until=claim.until,
        key=claim.did,
    )


def _holds(w: Work, number: str, books: dict[uuid.UUID, Book]) -> tuple[bool, str]:
    """What the records say today of a sign-off; never why."""
    row = _sign_off(w, number)
    if row is None:
        return False, say("This shop signed it, but its records no longer have this sign-off.")
    if row.student_id not in books:
        books[row.student_id] = skill_book(w, row.student_id)
    try:
        state = books[row.student_id].standing(row.skill, str(row.machine_id) if row.machine_id else None).state
    except Refused:
        return False, say("This shop signed it, but no longer has this skill.")
    if state.current:
        return True, say("Signed by this shop, and valid today.")
    return False, say("Signed by this shop, but not valid today: it has lapsed or was withdrawn. Ask the shop.")


def _sign_off(w: Work, number: str) -> t.SignOff | None:
    try:
        ident = uuid.UUID(number)
    except ValueError:
        return None
    return w.db.get(t.SignOff, ident)


def _signer(w: Work) -> rules.Signer:
    try:
        return rules.Signer(w.key)
    except ValueError:
        raise Conflict(say("This server has no key for the register: without it nothing is signed.")) from None
