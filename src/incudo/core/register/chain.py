"""The register's chain: each entry carries the hash of the one before, and a seal.

The hash (SHA-256 over the entry's canonical JSON) makes a changed or missing
entry show. The seal (HMAC-SHA256 with a key that is kept outside the database)
makes a chain that was recomputed as a whole show. Heads that were taken away
make a chain that was shortened show.
"""

from __future__ import annotations

import hashlib
import hmac
import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum

from incudo.core.kernel.say import say

START = "0" * 64


class Kind(StrEnum):
    """What stands in the register."""

    SIGN_OFF = "sign_off"
    DEMONSTRATION = "demonstration"
    WITHDRAWAL = "withdrawal"
    RESTORATION = "restoration"
    INCIDENT = "incident"
    NEAR_MISS = "near_miss"
    TAG_OUT = "tag_out"
    TAG_CLEARED = "tag_cleared"
    STOP = "stop"
    STOP_CLEARED = "stop_cleared"
    NOTICE = "notice"


@dataclass(frozen=True)
class Entry:
    """One entry: its place, what it is about (the id of a row), and that row's content."""

    seq: int
    id: str
    kind: str
    at: datetime
    content: Mapping[str, object]


@dataclass(frozen=True)
class Sealed:
    """An entry as it stands in the register."""

    entry: Entry
    previous: str
    digest: str
    seal: str


@dataclass(frozen=True)
class Head:
    """The end of the register at some time, as it was taken away from it."""

    seq: int
    digest: str
    seal: str


@dataclass(frozen=True)
class Break:
    """Where the register does not hold, and why, in words."""

    seq: int
    words: str


def canonical(entry: Entry) -> str:
    """The entry as text that is the same wherever it is made: sorted keys, no spaces, UTC."""
    at = entry.at.astimezone(UTC).isoformat(timespec="microseconds")
    body = {"seq": entry.seq, "id": entry.id, "kind": entry.kind, "at": at, "content": entry.content}
    return json.dumps(body, sort_keys=True, separators=(",", ":"), ensure_ascii=False)


def digest_of(entry: Entry, previous: str) -> str:
    """SHA-256 over the previous hash and the entry."""
    return hashlib.sha256(f"{previous}\n{canonical(entry)}".encode()).hexdigest()


def seal_of(digest: str, key: str) -> str:
    """HMAC-SHA256 of the hash with the shop's key."""
    return hmac.new(key.encode(), digest.encode(), hashlib.sha256).hexdigest()


def seal(entry: Entry, previous: str, key: str) -> Sealed:
    """Chain and seal a new entry. ``previous`` is the hash before it, ``START`` for the first."""
    digest = digest_of(entry, previous)
    return Sealed(entry, previous, digest, seal_of(digest, key))


#: Before the first entry.
BEGINNING = Head(0, START, "")


def breaks(entries: Iterable[Sealed], key: str, heads: Iterable[Head] = (), after: Head = BEGINNING) -> Iterator[Break]:
    """Every place where the register does not hold, in its order.

    ``entries`` in order of their numbers; ``heads`` are those taken away earlier. With ``after`` the walk begins
    behind an entry that was found right before, and ``heads`` are those behind it.
    After a break the walk goes on from what stands there.
    """
    previous, wanted = after.digest, after.seq + 1
    digests: dict[int, str] = {}
    for s in entries:
        seq = s.entry.seq
        if seq != wanted:
            yield Break(wanted, say("entries {wanted} to {seq} are missing", wanted=wanted, seq=seq - 1))
        elif s.previous != previous:
            yield Break(seq, say("does not follow the entry before it"))
        if digest_of(s.entry, s.previous) != s.digest:
            yield Break(seq, say("was changed: its hash does not fit its content"))
        elif not hmac.compare_digest(seal_of(s.digest, key), s.seal):
            yield Break(seq, say("was recomputed: its seal was not made with the shop's key"))
        digests[seq] = s.digest
        previous, wanted = s.digest, seq + 1
    for head in sorted(heads, key=lambda h: h.seq):
        if not hmac.compare_digest(seal_of(head.digest, key), head.seal):
            yield Break(head.seq, say("a head that was saved outside has a wrong seal: it is not this shop's"))
        elif head.seq not in digests:
            yield Break(head.seq, say("the register was shortened: it once reached entry {seq}", seq=head.seq))
        elif digests[head.seq] != head.digest:
            yield Break(head.seq, say("is not the entry it was when its head was saved outside"))
