"""Sentences: a whole template with named values, kept apart until somebody reads them.

``say("Lower the knee {amount}", amount=…)`` reads as the English sentence wherever text is wanted, and still knows its
template and its values, so that the edge can speak it in another language. Nothing here
knows which languages there are.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from datetime import date, datetime
from typing import Annotated, Any, Protocol

from pydantic import SkipValidation

#: A text of a model that may be a sentence and stays one (validation would make plain text of it).
Text = Annotated[str, SkipValidation]


#: What a kept sentence begins with.
_KEPT = '{"say": '


class Speaker(Protocol):
    """Says templates in a language."""

    def template(self, english: str) -> str:
        """The template in this language, with the same names in braces."""

    def counted(self, one: str, many: str, count: int) -> str:
        """The template for so many, as this language counts."""

    def known(self, text: str) -> str:
        """A text that is not the code's own: what a shop starts with (a skill, a question), or what people wrote."""

    def value(self, value: object) -> str:
        """A number or a day as this language writes it."""


class Sentence(str):
    """A sentence that reads as English and remembers what it was made of."""

    template: str
    many: str
    values: Mapping[str, object]

    def __new__(cls, template: str, values: Mapping[str, object], many: str = "") -> Sentence:
        """Filled in English; ``many`` is taken when the value ``count`` is not 1."""
        chosen = many if many and values["count"] != 1 else template
        made = super().__new__(cls, chosen.format_map({k: english_of(v) for k, v in values.items()}))
        made.template, made.many, made.values = template, many, values
        return made

    def __add__(self, other: str) -> Sentence:
        """Two one after the other, neither changed: a sum of sentences can still be spoken in another language."""
        return _in_a_row(self, other)

    def __radd__(self, other: str) -> Sentence:
        return _in_a_row(other, self)

    def __reduce__(self) -> tuple[Any, ...]:
        return (Sentence, (self.template, dict(self.values), self.many))

    def __deepcopy__(self, _memo: object) -> Sentence:
        return self


def _in_a_row(one: str, two: str) -> Sentence:
    return Sentence("{part0}{part1}", {"part0": one, "part1": two})


def english_of(value: object) -> object:
    """A value as English writes it: a day such as 4 November 2026, a moment with its time."""
    if isinstance(value, datetime):
        return f"{value.day} {value:%B %Y, %H:%M}"
    return f"{value.day} {value:%B %Y}" if isinstance(value, date) else value


def say(template: str, /, **values: object) -> str:
    """A sentence from its template; names in braces stand for the values (text, numbers, or sentences themselves).

    ``KeyError`` when the template names a value that is not given.
    """
    return Sentence(template, values)


def say_many(one: str, many: str, /, count: int, **values: object) -> str:
    """A sentence about so many of something: ``one`` for a single one, else ``many``; ``{count}`` is the number."""
    return Sentence(one, {"count": count, **values}, many)


def together(parts: Iterable[object], between: str = " ") -> str:
    """Sentences one after the other, none changed; empty ones are left out."""
    kept = [p for p in parts if p]
    names = [f"part{n}" for n in range(len(kept))]
    glue = between.replace("{", "{{").replace("}", "}}")
    return Sentence(glue.join(f"{{{n}}}" for n in names), dict(zip(names, kept, strict=True)))


def capital(text: str) -> str:
    """A sentence that begins with a capital."""
    if not isinstance(text, Sentence) or text.many:
        return text[:1].upper() + text[1:]
    if not text.template.startswith("{"):
        return Sentence(text.template[:1].upper() + text.template[1:], text.values)
    name = text.template[1 : text.template.index("}")]
    return Sentence(text.template, {**text.values, name: capital(str_of(text.values[name]))})


def str_of(value: object) -> str:
    """A value as text; a sentence stays one."""
    return value if isinstance(value, str) else str(value)


def spoken(text: str, speaker: Speaker) -> str:
    """A text as this speaker says it; what somebody wrote (a name, a note) stays as it is."""
    if not isinstance(text, Sentence):
        # a member of an enumeration is a code, whatever it reads as
        return speaker.known(text) if type(text) is str else text
    values = {k: spoken(v, speaker) if isinstance(v, str) else speaker.value(v) for k, v in text.values.items()}
    if text.many:
        count = text.values["count"]
        return speaker.counted(text.template, text.many, int(str(count))).format_map(values)
    if not _has_words(text.template):
        return text.template.format_map(values)
    return speaker.template(text.template).format_map(values)


def _has_words(template: str) -> bool:
    """Whether there is anything to say in a template besides its values."""
    depth = 0
    for c in template:
        depth += (c == "{") - (c == "}")
        if not depth and c.isalpha():
            return True
    return False


def packed(text: str) -> str:
    """A sentence as it is kept in a record: its template and values as JSON; a plain text stays what it is.

    A text that somebody typed to look like a kept sentence is kept as the value of one, and comes back as typed.
    """
    if not isinstance(text, Sentence):
        if not text.startswith(_KEPT):
            return text
        text = Sentence("{text}", {"text": text})
    return json.dumps(_plain(text), ensure_ascii=False)


def unpacked(kept: str) -> str:
    """What was kept by ``packed``."""
    if not kept.startswith(_KEPT):
        return kept
    found: str = _said(json.loads(kept))
    return found


def as_json(data: Any) -> Any:
    """Data for JSON in which sentences keep their template and values."""
    if isinstance(data, Sentence):
        return _plain(data)
    if isinstance(data, Mapping):
        return {k: as_json(v) for k, v in data.items()}
    return [as_json(x) for x in data] if isinstance(data, (list, tuple)) else data


def from_json(data: Any) -> Any:
    """What ``as_json`` made, read again."""
    if isinstance(data, dict):
        return _said(data) if data.keys() >= {"say", "with"} else {k: from_json(v) for k, v in data.items()}
    return [from_json(x) for x in data] if isinstance(data, list) else data


def _plain(value: object) -> object:
    if isinstance(value, Sentence):
        found: dict[str, object] = {"say": value.template, "with": {k: _plain(v) for k, v in value.values.items()}}
        return found | ({"many": value.many} if value.many else {})
    if isinstance(value, date):
        return {"day": value.isoformat()}
    return value if isinstance(value, int) else str(value)


def _said(kept: object) -> Any:
    if not isinstance(kept, dict):
        return kept
    if "day" in kept:
        return datetime.fromisoformat(kept["day"]) if "T" in kept["day"] else date.fromisoformat(kept["day"])
    return Sentence(kept["say"], {k: _said(v) for k, v in kept["with"].items()}, kept.get("many", ""))
