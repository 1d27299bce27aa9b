"""The register's chain: what makes it break, and that it says where."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from incudo.core.register.chain import START, Entry, Head, Sealed, breaks, seal
from tests.core.skills.records import ago

KEY = "the shop's key"


def chain(count: int, key: str = KEY) -> list[Sealed]:
    found: list[Sealed] = []
    for n in range(1, count + 1):
        entry = Entry(n, f"row {n}", "sign_off", ago(400 - n), {"skill": "facing", "note": f"ü {n}"})
        found.append(seal(entry, found[-1].digest if found else START, key))
    return found


def head(s: Sealed) -> Head:
    return Head(s.entry.seq, s.digest, s.seal)


def words(entries: list[Sealed], *heads: Head) -> str:
    return "; ".join(f"{b.seq}: {b.words}" for b in breaks(entries, KEY, heads))


@given(st.integers(0, 12), st.data())
def test_an_untouched_register_holds_and_any_change_shows(count: int, data: st.DataObject) -> None:
    entries = chain(count)
    assert words(entries, *(head(e) for e in entries)) == ""
    if not entries:
        return
    n = data.draw(st.integers(0, count - 1))
    lied = replace(entries[n].entry, content={"skill": "boring", "note": "ü"})
    assert f"{n + 1}: was changed" in words([*entries[:n], replace(entries[n], entry=lied), *entries[n + 1 :]])
    if n < count - 1:
        assert f"entries {n + 1} to {n + 1} are missing" in words(entries[:n] + entries[n + 1 :])


def test_a_shortened_register_shows_by_the_heads_taken_away() -> None:
    entries = chain(5)
    assert words(entries[:3]) == "", "by itself it cannot show"
    assert "once reached entry 5" in words(entries[:3], head(entries[4]))


def test_a_chain_made_anew_shows_by_its_seals_and_by_the_heads() -> None:
    entries = chain(5)
    forged = chain(5, key="somebody else's key")
    assert "1: was recomputed" in words(forged)
    cut = chain(4)
    other = [*cut, seal(replace(entries[4].entry, id="another row"), cut[-1].digest, KEY)]
    assert words(other) == "", "whoever has the key can write"
    assert "5: is not the entry" in words(other, head(entries[4])), "but not over a head that was taken away"
    assert "wrong seal" in words(entries, Head(5, entries[4].digest, "0" * 64))
