"""The run card on paper, for when no tablet may lie beside the machine."""

from __future__ import annotations

import uuid

from incudo.app.administration.papers import Paper, to_pdf
from incudo.app.cutting.run import run_page
from incudo.app.kernel.unit import Who, Work, find
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.store import schema as t


def run_paper(w: Work, who: Who, assignment: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """Every step of a run card with its turnings and readings, a box to tick, and a line for what is measured.

    Raises ``NotFound`` where there is no card yet.
    """
    card = run_page(w, who, assignment)
    if not card.steps:
        raise NotFound(card.cannot or say("There is no run card to print."))
    values = {
        "shop": find(w, t.Shop, 1, "shop").name,
        "card": card,
        "now": f"{w.local(w.now):%Y-%m-%d %H:%M}",
    }
    return "run-card.pdf", to_pdf(("run.html", paper, values))
