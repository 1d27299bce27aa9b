"""The glossary as it goes out."""

from __future__ import annotations

from incudo import shipped
from incudo.app.kernel.views import View
from incudo.core.kernel.say import say


class TermView(View):
    """A word, what it means, what else it is called; ``key`` is the English word."""

    key: str
    word: str
    means: str
    also: tuple[str, ...]
    tip: bool


class GlossaryView(View):
    """Every word of the trade."""

    terms: tuple[TermView, ...]


def glossary() -> GlossaryView:
    """Every word, in the order of the English alphabet."""
    return GlossaryView(
        terms=tuple(
            TermView(key=t.word, word=say(t.word), means=say(t.means), also=tuple(map(say, t.also)), tip=t.tip)
            for t in shipped.glossary().terms
        )
    )
