"""The words of the trade: one sentence each, read from a text file."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from incudo.core.kernel.fields import Strict, Word, read_model
from incudo.core.kernel.say import say


class Term(Strict):
    """A word, what it means, what else it is called; ``tip`` when a student meets it first in a text of ours."""

    word: Word
    means: Annotated[str, Field(min_length=10, max_length=160)]
    also: tuple[Word, ...] = ()
    tip: bool = False


class Glossary(Strict):
    """All of them, in the order of the alphabet."""

    format: Literal["incudo-glossary/1"]
    terms: Annotated[tuple[Term, ...], Field(min_length=1, max_length=1000)]

    @model_validator(mode="after")
    def _in_order(self) -> Glossary:
        words = [t.word for t in self.terms]
        for before, word in pairwise(words):
            if before.lower() >= word.lower():
                raise ValueError(say("{word} must come before {before}, and only once", word=word, before=before))
        return self


def read_glossary(data: Any) -> Glossary:
    """Check a glossary's content. Raises ``Refused``."""
    return read_model(Glossary, data)
