"""In which language this request is answered: the edge where sentences leave their templates.

English stands in the code. Another language is one file ``languages/CODE.po`` for server and pages alike
(``./incudo words`` writes the template to begin from); nothing else has to change. ``en-XA`` is no language: it puts
every text in brackets and makes it a third longer, so that a page shows which of its texts no catalogue could reach.
"""

from __future__ import annotations

import contextvars
import os
import re
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import fields, is_dataclass, replace
from datetime import date, datetime
from functools import cache, lru_cache
from gettext import c2py
from pathlib import Path
from typing import Any

from babel import Locale
from babel.dates import format_date, format_datetime
from babel.messages.pofile import read_po
from babel.numbers import format_decimal
from pydantic import BaseModel

from incudo import shipped
from incudo.core.kernel.say import Speaker, english_of, spoken

ENGLISH, PSEUDO = "en", "en-XA"
SHIPPED = Path(__file__).resolve().parents[2] / "shipped" / "languages"


class Catalogue:
    """A language: its templates, and numbers and days as it writes them."""

    def __init__(self, code: str, path: Path) -> None:
        self.code, self.locale = code, Locale.parse(code, sep="-")
        with path.open("rb") as f:
            self._read = read_po(f, locale=str(self.locale), ignore_obsolete=True)
        self._form = c2py(self._read.plural_expr)
        self._counted = {
            m.id[0]: (m.id[1], tuple(m.string or ()))
            for m in self._read
            if isinstance(m.id, tuple) and all(m.string or ())
        }
        self.messages: Mapping[str, str] = {
            m.id: m.string for m in self._read if isinstance(m.id, str) and isinstance(m.string, str) and m.string
        }

    def template(self, english: str) -> str:
        return self.messages.get(english, english)

    def counted(self, one: str, many: str, count: int) -> str:
        if one not in self._counted:
            return one if count == 1 else many
        return self._counted[one][1][self._form(count)]

    def for_pages(self) -> dict[str, str]:
        """The whole catalogue as the pages read it: what is counted by its plural and the kind of number."""
        found = dict(self.messages)
        for many, forms in self._counted.values():
            for n in range(200):
                found.setdefault(f"{many}_{self.locale.plural_form(n)}", forms[self._form(n)])
        return found

    def known(self, text: str) -> str:
        return self.messages.get(text, text) if text in shipped.texts() else text

    def value(self, value: object) -> str:
        return _value(value, self.locale)


class Spelled:
    """English as the shop spells it and names its tools."""

    code = ENGLISH

    def __init__(self, pairs: Mapping[str, str]) -> None:
        self.pairs = pairs
        self._words = re.compile(rf"\b({'|'.join(pairs)})\b", re.IGNORECASE)

    def template(self, english: str) -> str:
        return self._words.sub(self._written, english)

    def _written(self, found: re.Match[str]) -> str:
        word = self.pairs[found[0].lower()]
        return word[0].upper() + word[1:] if found[0][0].isupper() else word

    def counted(self, one: str, many: str, count: int) -> str:
        return self.template(one if count == 1 else many)

    def known(self, text: str) -> str:
        return self.template(text) if text in shipped.texts() else text

    def value(self, value: object) -> str:
        return str(english_of(value))


class Pseudo:
    """Every text in brackets and a third longer."""

    code = PSEUDO

    def template(self, english: str) -> str:
        return bracketed(english)

    def counted(self, one: str, many: str, count: int) -> str:
        return bracketed(one if count == 1 else many)

    def known(self, text: str) -> str:
        return bracketed(text) if text in shipped.texts() else text

    def value(self, value: object) -> str:
        return _value(value, Locale("en"))


def bracketed(text: str) -> str:
    """A text in brackets with a third more letters behind it."""
    letters = len(re.sub(r"\{\w+\}", "", text))
    more = " ".join("~" * min(6, letters // 3 - n) for n in range(0, letters // 3, 6))
    return f"[{text}{more}]"


def _value(value: object, locale: Locale) -> str:
    if isinstance(value, datetime):
        return format_datetime(value, "short", locale=locale)
    if isinstance(value, date):
        return format_date(value, "medium", locale=locale)
    if isinstance(value, int):
        return format_decimal(value, locale=locale, group_separator=False)
    return str(value)


_now: contextvars.ContextVar[Speaker | None] = contextvars.ContextVar("language", default=None)


def _folders() -> list[Path]:
    own = os.environ.get("INCUDO_LANGUAGES", "")
    return [SHIPPED, *([Path(own)] if own else [])]


@cache
def languages() -> dict[str, Path | None]:
    """Every language that is there by its code; English and the pseudo-locale have no file."""
    found: dict[str, Path | None] = {ENGLISH: None}
    for folder in _folders():
        found |= {p.stem: p for p in sorted(folder.glob("*.po"))}
    return {**found, PSEUDO: None}


@lru_cache(maxsize=16)
def speaker(code: str, spelling: str = "") -> Speaker | None:
    """Who says it in this language; ``None`` for English as it stands in the templates already.

    ``spelling`` is a key of ``shipped.spellings()`` or empty; it is of use to English alone.
    """
    if code == PSEUDO:
        return Pseudo()
    if code == ENGLISH and spelling:
        return Spelled(shipped.spellings()[spelling])
    path = languages().get(code)
    return Catalogue(code, path) if path else None


def use(code: str, spelling: str = "") -> None:
    """From now on this thread speaks a language: what a request begins with."""
    _now.set(speaker(code, spelling))


@contextmanager
def speaking(code: str, spelling: str = "") -> Iterator[None]:
    """Within this, views are made in a language."""
    token = _now.set(speaker(code, spelling))
    try:
        yield
    finally:
        _now.reset(token)


def code_now() -> str:
    """The language that is spoken now."""
    now = _now.get()
    return str(getattr(now, "code", ENGLISH))


def spelling_now() -> Mapping[str, str]:
    """Words that are written otherwise than they stand in the pages' texts."""
    now = _now.get()
    return now.pairs if isinstance(now, Spelled) else {}


def messages_now() -> Mapping[str, str]:
    """The whole catalogue of the language that is spoken now, for the pages."""
    now = _now.get()
    return now.for_pages() if isinstance(now, Catalogue) else {}


def speak(text: str) -> str:
    """A sentence in the language that is spoken now."""
    now = _now.get()
    return text if now is None else spoken(text, now)


def speak_all(data: Any) -> Any:
    """Every sentence in what a view is made of, in the language that is spoken now; views in it are spoken already."""
    now = _now.get()
    return data if now is None else _walk(data, now)


def _walk(data: Any, now: Speaker) -> Any:
    if isinstance(data, str):
        return spoken(data, now)
    if isinstance(data, tuple) and not hasattr(data, "_fields"):
        return tuple(_walk(x, now) for x in data)
    if isinstance(data, list):
        return [_walk(x, now) for x in data]
    if isinstance(data, dict):
        return {k: _walk(v, now) for k, v in data.items()}
    if isinstance(data, BaseModel) and not hasattr(data, "spoken_already"):
        walked = {k: _walk(v, now) for k, v in data}
        return data.model_copy(update={k: v for k, v in walked.items() if v is not getattr(data, k)})
    if is_dataclass(data) and not isinstance(data, type):
        fields_ = {f.name: _walk(getattr(data, f.name), now) for f in fields(data) if f.init}
        return replace(data, **fields_)
    return data
