"""The register: sealing what is signed, withdrawn, reported and stopped; checking that it holds."""

from __future__ import annotations

import hmac
import json
import uuid
from collections.abc import Callable, Iterable, Iterator
from datetime import UTC, datetime, timedelta
from typing import Any

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.core.kernel.say import say, together
from incudo.core.register.chain import BEGINNING, START, Break, Entry, Head, Kind, Sealed, breaks, seal, seal_of
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
    # what this use case put there itself is the last: whoever comes between takes the number, and all is done again
    last = w.heads[-1] if w.heads else store.last_entry(w.db)
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
    w.heads.append(Head(seq, sealed.digest, sealed.seal))


#: So many entries are checked in one piece.
PIECE = 1000
#: A check of the whole register goes on by so many entries for each call.
STEP = 5000
#: Rows are written a moment before their entry; so far back a row without one is looked for.
_BEFORE = timedelta(days=1)


class RegisterState(View):
    """How the register stands: its head, where it breaks if it does, and since when it was checked from the start.

    ``checked_from`` is the entry behind which this answer checked; what lies before it held at an earlier check.
    """

    entries: int
    digest: str
    seal: str
    at: datetime | None
    holds: bool
    breaks: tuple[str, ...]
    taken_away: int
    checked_from: int
    whole_at: datetime | None
    whole_entries: int


class RegisterWalk(View):
    """How far a check of the whole register has come; a break ends it."""

    seq: int
    entries: int
    done: bool
    breaks: tuple[str, ...]


def state(w: Work, heads: Iterable[Head]) -> RegisterState:
    """Check the register behind the entry up to which it held last: chain, seals, rows and the heads taken away."""
    heads = list(heads)
    start = _start(w, "head")
    found = (
        [] if start is not None else [Break(0, say("what was checked last is gone or was changed: check the whole"))]
    )
    start = start or BEGINNING
    found += list(verify(w, heads, start))
    last, whole = store.last_entry(w.db), store.checked(w.db, "whole")
    if not found and last is not None and last.seq > start.seq:
        w.later.append(lambda again: _remember(again, "head", Head(last.seq, last.digest, last.seal)))
    return RegisterState(
        entries=last.seq if last else 0,
        digest=last.digest if last else "",
        seal=last.seal if last else "",
        at=last.at if last else None,
        holds=not found,
        breaks=tuple(words_of(b) for b in found[:50]),
        taken_away=max((h.seq for h in heads), default=0),
        checked_from=start.seq,
        whole_at=whole.at if whole else None,
        whole_entries=whole.seq if whole else 0,
    )


def walk(w: Work, heads: Iterable[Head], *, restart: bool) -> RegisterWalk:
    """Go on with a check of the whole register, or begin one. At its end it is remembered when the whole held."""
    start = (None if restart else _start(w, "walk")) or BEGINNING
    last = store.last_entry(w.db)
    total = last.seq if last else 0
    piece = store.entries_after(w.db, start.seq, STEP)
    upto = piece[-1].seq if piece else start.seq
    done = upto >= total
    near = [h for h in heads if start.seq < h.seq and (done or h.seq <= upto)]
    found = list(_verify(w, near, start, upto, whole=done))
    head = Head(piece[-1].seq, piece[-1].digest, piece[-1].seal) if piece else start
    if found:
        _forget(w, "walk")
        _forget(w, "head")
    elif head.seq:
        for scope in ("head", "whole") if done else ("walk",):
            _remember(w, scope, head)
    if done:
        # the next call begins at the first entry: nothing is called checked that was not
        _forget(w, "walk")
    return RegisterWalk(seq=upto, entries=total, done=done, breaks=tuple(words_of(b) for b in found[:50]))


def words_of(b: Break) -> str:
    """A break as it is told."""
    return say("entry {seq}: {words}", seq=b.seq, words=b.words)


def _start(w: Work, scope: str) -> Head | None:
    """Behind which entry to check: where an earlier check ended, if that is still what it was."""
    kept = store.checked(w.db, scope)
    if kept is None:
        return BEGINNING
    entry = store.entry(w.db, kept.seq)
    genuine = hmac.compare_digest(seal_of(kept.digest, w.key), kept.seal)
    if entry is None or entry.digest != kept.digest or not genuine:
        return None
    return Head(kept.seq, kept.digest, kept.seal)


def _remember(w: Work, scope: str, head: Head) -> None:
    w.db.merge(t.RegisterChecked(scope=scope, seq=head.seq, digest=head.digest, seal=head.seal, at=w.now))
    w.db.flush()


def _forget(w: Work, scope: str) -> None:
    kept = store.checked(w.db, scope)
    if kept is not None:
        w.db.delete(kept)
        w.db.flush()


def verify(
    w: Work, heads: Iterable[Head], after: Head = BEGINNING, say: Callable[[int], object] = lambda _: None
) -> Iterator[Break]:
    """Every place where the register does not hold behind an entry: its chain, seals, heads, and rows.

    ``say`` is told how far it has come. Memory does not grow with the register.
    """
    behind = [h for h in heads if h.seq > after.seq]
    yield from _verify(w, behind, after, None, whole=after.seq == 0, told=say)


def _verify(
    w: Work,
    heads: Iterable[Head],
    after: Head,
    upto: int | None,
    *,
    whole: bool,
    told: Callable[[int], object] = lambda _: None,
) -> Iterator[Break]:
    wrong: list[Break] = []
    yield from breaks(_pieces(w, after.seq, upto, wrong, told), w.key, heads, after)
    yield from wrong
    since = None
    if not whole:
        entry = store.entry(w.db, after.seq) if after.seq else None
        since = entry.at - _BEFORE if entry else None
    if whole or upto is None:
        for table, (column, kind) in SEALED.items():
            of = kind.value if kind else t.Incident.kind
            for row in store.unsealed(w.db, table, column, of, since):
                name, row_id = _kind_and_id(row)
                yield Break(
                    0, say("{name} {row_id} stands in the records but not in the register", name=name, row_id=row_id)
                )


def _pieces(w: Work, seq: int, upto: int | None, wrong: list[Break], told: Callable[[int], object]) -> Iterator[Sealed]:
    """The entries behind a number, piece by piece; ``wrong`` collects those whose rows differ."""
    while piece := store.entries_after(w.db, seq, PIECE):
        piece = [e for e in piece if upto is None or e.seq <= upto]
        rows = _rows_of(w, piece)
        for e in piece:
            content = json.loads(e.content)
            row = rows.get((e.kind, str(e.entry_id)))
            if row is None:
                wrong.append(Break(e.seq, say("its {kind} is gone from the records", kind=e.kind)))
            elif row != content:
                changed = together((k for k, v in content.items() if row.get(k) != v), ", ")
                wrong.append(
                    Break(e.seq, say("its {kind} was changed in the records: {changed}", kind=e.kind, changed=changed))
                )
            yield Sealed(Entry(e.seq, str(e.entry_id), e.kind, e.at, content), e.previous, e.digest, e.seal)
        if not piece:
            return
        seq = piece[-1].seq
        w.db.expunge_all()
        told(seq)


def _rows_of(w: Work, piece: list[t.RegisterEntry]) -> dict[tuple[str, str], dict[str, Any]]:
    """The rows that these entries seal, by kind and id."""
    found = {}
    for table, (column, kind) in SEALED.items():
        kinds = {kind.value} if kind else {Kind.INCIDENT.value, Kind.NEAR_MISS.value}
        ids = [e.entry_id for e in piece if e.kind in kinds]
        for row in store.rows_by_id(w.db, table, column, ids):
            name, row_id = _kind_and_id(row)
            found[name, str(row_id)] = content_of(row)
    return found
