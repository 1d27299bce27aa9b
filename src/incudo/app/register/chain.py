"""The register: sealing what is signed, withdrawn, reported and stopped; checking that it holds."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from typing import Any

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.core.register.chain import START, Break, Entry, Head, Kind, Sealed, breaks, seal
from incudo.store import schema as t
from incudo.store.register import chain as store

#: Every table whose rows stand in the register, with the column that names a row.
SEALED: dict[type[t.Base], tuple[str, Kind | None]] = {
    t.SignOff: ("id", Kind.SIGN_OFF),
    t.Demonstration: ("id", Kind.DEMONSTRATION),
    t.Withdrawal: ("id", Kind.WITHDRAWAL),
    t.Restoration: ("id", Kind.RESTORATION),
    t.Incident: ("id", None),
    t.Tag: ("id", Kind.TAG_OUT),
    t.TagCleared: ("tag_id", Kind.TAG_CLEARED),
    t.ShopStop: ("id", Kind.STOP),
    t.ShopStopCleared: ("stop_id", Kind.STOP_CLEARED),
    t.NoticeSigned: ("id", Kind.NOTICE),
}


def content_of(row: t.Base) -> dict[str, Any]:
    """A row as the register seals it: every column as text, number or truth."""
    return {c.key: _plain(getattr(row, str(c.key))) for c in row.__table__.columns}


def _plain(value: Any) -> Any:
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat(timespec="microseconds")
    return value


def _kind_and_id(row: t.Base) -> tuple[str, uuid.UUID]:
    key, kind = SEALED[type(row)]
    return (kind.value if kind else row.kind), getattr(row, key)  # type: ignore[attr-defined]


def record(w: Work, row: t.Base) -> None:
    """Put a row that was just inserted into the register, as the next entry.

    Two writers at once want the same number; the database lets one through and
    the other's whole use case is done again.
    """
    last = store.last_entry(w.db)
    seq, previous = (last.seq + 1, last.digest) if last else (1, START)
    kind, row_id = _kind_and_id(row)
    content = content_of(row)
    sealed = seal(Entry(seq, str(row_id), kind, w.now, content), previous, w.key)
    w.db.add(
        t.RegisterEntry(
            seq=seq,
            entry_id=row_id,
            kind=kind,
            at=w.now,
            content=json.dumps(content, sort_keys=True, ensure_ascii=False),
            previous=previous,
            digest=sealed.digest,
            seal=sealed.seal,
        )
    )
    w.db.flush()
    w.heads.append(Head(seq, sealed.digest, sealed.seal))


class RegisterState(View):
    """How the register stands: its head, and where it breaks if it does."""

    entries: int
    digest: str
    seal: str
    at: datetime | None
    holds: bool
    breaks: tuple[str, ...]
    taken_away: int


def state(w: Work, heads: Iterable[Head]) -> RegisterState:
    """Check the whole register against itself, its rows and the heads taken away."""
    heads = list(heads)
    found = list(verify(w, heads))
    last = store.last_entry(w.db)
    return RegisterState(
        entries=last.seq if last else 0,
        digest=last.digest if last else "",
        seal=last.seal if last else "",
        at=last.at if last else None,
        holds=not found,
        breaks=tuple(f"entry {b.seq}: {b.words}" for b in found[:50]),
        taken_away=max((h.seq for h in heads), default=0),
    )


def verify(w: Work, heads: Iterable[Head]) -> Iterator[Break]:
    """Every place where the register does not hold: its chain, its seals, its heads, and its rows."""
    rows = {
        (kind, str(row_id)): content_of(row)
        for table in SEALED
        for row in store.rows_of(w.db, table)
        for kind, row_id in [_kind_and_id(row)]
    }
    sealed: list[Sealed] = []
    sealed_keys: set[tuple[str, str]] = set()
    wrong: list[Break] = []
    for e in store.entries(w.db):
        content = json.loads(e.content)
        key = (e.kind, str(e.entry_id))
        sealed.append(Sealed(Entry(e.seq, str(e.entry_id), e.kind, e.at, content), e.previous, e.digest, e.seal))
        sealed_keys.add(key)
        if key not in rows:
            wrong.append(Break(e.seq, f"its {e.kind} is gone from the records"))
        elif rows[key] != content:
            changed = ", ".join(k for k, v in content.items() if rows[key].get(k) != v)
            wrong.append(Break(e.seq, f"its {e.kind} was changed in the records: {changed}"))
    yield from breaks(sealed, w.key, heads)
    yield from wrong
    for kind, row_id in sorted(rows.keys() - sealed_keys):
        yield Break(0, f"{kind} {row_id} stands in the records but not in the register")
