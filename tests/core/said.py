"""What a sentence was made of, so that tests of core ask for values and not for prose."""

from __future__ import annotations

from incudo.core.kernel.say import Sentence


def told(text: object) -> tuple[object, ...]:
    """The values that stand in a sentence, those of sentences in it in their place; nothing of a plain text."""
    if not isinstance(text, Sentence):
        return ()
    found: list[object] = []
    for value in text.values.values():
        found += told(value) if isinstance(value, Sentence) and value.values else [value]
    return tuple(found)
