"""The language of an answer: which one, from where, and that nothing but the words changes."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from pathlib import Path

import pytest
from pydantic import BaseModel

from incudo import shipped
from incudo.app.kernel import language
from incudo.app.kernel.language import PSEUDO, Catalogue, Pseudo, bracketed, code_now, speak, speaking
from incudo.app.kernel.views import View
from incudo.core.kernel.say import Text, say, say_many
from incudo.launch.words import catalogue, in_pages, in_python

GERMAN = """
msgid ""
msgstr ""
"Content-Type: text/plain; charset=utf-8\\n"
"Plural-Forms: nplurals=2; plural=(n != 1);\\n"

msgid "Lower the {part} {by}"
msgstr "{part} um {by} senken"

msgid "{count} turn"
msgid_plural "{count} turns"
msgstr[0] "{count} Umdrehung"
msgstr[1] "{count} Umdrehungen"

msgid "Surroundings"
msgstr "Umgebung"

msgid "not yet"
msgstr ""
"""


@pytest.fixture
def german(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """A shop that has put a catalogue of its own beside the program."""
    (tmp_path / "de.po").write_text(GERMAN)
    monkeypatch.setenv("INCUDO_LANGUAGES", str(tmp_path))
    _forget()
    yield
    _forget()


def _forget() -> None:
    language.languages.cache_clear()
    language.speaker.cache_clear()


class _Row(BaseModel):
    key: str
    words: Text


@dataclass(frozen=True)
class _Note:
    words: str


class _Page(View):
    one: str
    many: tuple[str, ...] = ()
    by: dict[str, str]
    row: _Row | None = None
    notes: tuple[_Note, ...] = ()


def test_a_view_is_made_in_the_language_of_its_request(german: None) -> None:
    said = say("Lower the {part} {by}", part="knee", by=say_many("{count} turn", "{count} turns", 2))
    make = lambda: _Page(  # noqa: E731
        one=said,
        many=(said, "a note"),
        by={"x": say("not yet")},
        row=_Row(key="Lower the {part} {by}", words=said),
        notes=(_Note(said),),
    )
    english = make()
    assert english.one == english.many[0] == "Lower the knee 2 turns"
    with speaking("de"):
        page = make()
        assert code_now() == "de"
    assert page.one == page.many[0] == "knee um 2 Umdrehungen senken"
    assert page.row is not None
    assert (page.row.words, page.row.key) == (page.one, "Lower the {part} {by}")
    assert page.notes[0].words == page.one
    # what a catalogue lacks stays English, and what somebody wrote stays theirs
    assert (page.by["x"], page.many[1]) == ("not yet", "a note")
    assert code_now() == "en"


def test_what_a_shop_starts_with_is_said_too(german: None) -> None:
    with speaking("de"):
        assert speak("Surroundings") == "Umgebung"
        assert speak("Surroundings are tidy, said Orla") == "Surroundings are tidy, said Orla"


def test_the_pages_get_the_same_catalogue(german: None, tmp_path: Path) -> None:
    messages = Catalogue("de", tmp_path / "de.po").for_pages()
    assert messages["Lower the {part} {by}"] == "{part} um {by} senken"
    assert (messages["{count} turns_one"], messages["{count} turns_other"]) == (
        "{count} Umdrehung",
        "{count} Umdrehungen",
    )
    assert "not yet" not in messages


def test_a_language_that_is_not_there_is_english() -> None:
    with speaking("xx"):
        assert speak(say("Lower the {part}", part="knee")) == "Lower the knee"


@pytest.mark.parametrize(
    ("text", "said"), [("Stop", "[Stop~]"), ("Lower the {part} now", "[Lower the {part} now~~~~]")]
)
def test_the_pseudo_locale_is_a_third_longer_and_in_brackets(text: str, said: str) -> None:
    assert bracketed(text) == said
    with speaking(PSEUDO):
        assert speak(say(text, part="Petrel")) == said.replace("{part}", "Petrel")
        assert speak(say("{a} {b}", a="1", b="in")) == "1 in"


def test_every_text_is_found_where_it_stands() -> None:
    python = (
        'x = say("Lower {part}" " now", part=p)\ny = say_many("{count} turn", "{count} turns", n)\nz = said("no")\n'
    )
    assert list(in_python(python, "m.py")) == [
        ("Lower {part} now", "", "m.py:1"),
        ("{count} turn", "{count} turns", "m.py:2"),
    ]
    page = '<b>{say("Stop \\"now\\"")}</b>\n<Rich text={"<b>x</b> y"} />\n{sayMany("{count} a", "{count} b", n)}'
    assert [(one, many) for one, many, _ in in_pages(page, "P.tsx")] == [
        ('Stop "now"', ""),
        ("<b>x</b> y", ""),
        ("{count} a", "{count} b"),
    ]


def test_the_template_has_the_texts_of_server_pages_and_shop() -> None:
    found = catalogue()
    for text in ("signed on {day} by {by}", "Stop all", "Surroundings", "end mill", "The line"):
        assert text in found, text
    assert found.get("{count} whole turn").id == ("{count} whole turn", "{count} whole turns")


@pytest.mark.parametrize(
    ("spelling", "said"),
    [
        ("", "Centre the vise 5 metres towards the wrench"),
        ("american", "Center the vise 5 meters toward the wrench"),
        ("british", "Centre the vice 5 metres towards the spanner"),
    ],
)
def test_a_shop_spells_english_its_own_way(spelling: str, said: str) -> None:
    with speaking("en", spelling):
        assert speak(say("Centre the {what} {n} metres towards the wrench", what=say("vise"), n=5)) == said
        # what somebody wrote stays as they wrote it
        assert speak(say("{note}", note="the centre of the vise")) == "the centre of the vise"
        assert speak(say("on {day}", day=date(2026, 7, 1))) == "on 1 July 2026"


def test_no_word_is_exchanged_twice_and_each_is_met_somewhere() -> None:
    texts = " ".join(str(m.id) for m in catalogue())
    for spelling, pairs in shipped.spellings().items():
        assert not set(pairs) & set(pairs.values()), spelling
        for word in pairs:
            assert re.search(rf"\b{word}\b", texts, re.IGNORECASE), f"{word} stands in no text of ours"


@pytest.mark.parametrize(("count", "said"), [(0, "chips"), (1, "chip"), (2, "chips")])
def test_what_a_catalogue_does_not_count_is_counted_in_english(tmp_path: Path, count: int, said: str) -> None:
    (tmp_path / "de.po").write_text(GERMAN)
    assert Catalogue("de", tmp_path / "de.po").counted("chip", "chips", count) == said


@pytest.mark.parametrize(("count", "said"), [(0, "things"), (1, "thing"), (2, "things")])
def test_the_pseudo_locale_counts_as_english_does(count: int, said: str) -> None:
    assert Pseudo().counted("thing", "things", count) == bracketed(said)
