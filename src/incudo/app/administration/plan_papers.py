"""A plan on paper and as a table: what the hands do, operation by operation, with the drawing and a measuring sheet."""

from __future__ import annotations

import csv
import io
import uuid

from incudo.app.administration.papers import Paper, part_values, to_pdf
from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.planning.keeping import plan_page
from incudo.app.planning.made_with import course_of
from incudo.app.planning.views import PlanLook, PlanPage, StageView
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.core.planning.file import PlanOperation
from incudo.core.planning.picture import frame_of
from incudo.store import schema as t


def _saved(w: Work, who: Who, assignment: uuid.UUID) -> tuple[PlanPage, PlanLook]:
    page = plan_page(w, who, assignment)
    if page.look is None or not page.number:
        raise NotFound(say("There is no saved plan to print."))
    return page, page.look


def plan_paper(w: Work, who: Who, assignment: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """The saved plan as a card: each holding with its operations, pictures and numbers; drawing and measuring sheet."""
    page, look = _saved(w, who, assignment)
    course, _, _ = course_of(w, who, assignment, look.plan, look.machine.id)
    frames = {s.operation.id: frame_of(course, s, n) for s, n in course.each()}
    stages = {s.id: s for s in look.stages}
    operations = {o.id: o for _, o in look.plan.each()}
    held = [
        {
            "title": h.title,
            "words": h.words,
            "operations": [
                {"number": n, "stage": stages[o], "frame": frames[o], "zeros": _zeros(stages[o], operations[o])}
                for n, o in enumerate(h.operations, 1 + sum(len(x.operations) for x in look.holdings[:i]))
            ],
        }
        for i, h in enumerate(look.holdings)
    ]
    values = {
        "shop": find(w, t.Shop, 1, "shop").name,
        "page": page,
        "look": look,
        "held": held,
        "now": f"{w.local(w.now):%Y-%m-%d %H:%M}",
    }
    part = part_values(w, page.version, paper)
    data = to_pdf(("plan.html", paper, values), ("part.html", paper, part))
    return f"plan-{part['part'].code}.pdf", data


def _zeros(stage: StageView, op: PlanOperation) -> list[tuple[str, str]]:
    """From where it is measured along each axis, in words."""
    chosen = {"x": op.x, "y": op.y, "z": op.z}
    found = []
    for axis, choices in zip(stage.axes, stage.zeros, strict=True):
        words = next((c.words for c in choices if c.key == chosen[axis]), say("none yet"))
        found.append((say("Zero {axis}", axis=axis.upper()), words))
    return found


def plan_table(w: Work, who: Who, assignment: uuid.UUID) -> str:
    """The saved plan as CSV: one line for each operation, its numbers in columns."""
    _, look = _saved(w, who, assignment)
    names = list(dict.fromkeys(line.name for s in look.stages for line in s.lines))
    titles = {h.id: h.title for h in look.holdings}
    text = io.StringIO()
    rows = csv.writer(text)
    rows.writerow(["number", "holding", "operation", "on", "cutter", *names])
    for n, s in enumerate(look.stages, 1):
        values = {line.name: speak(line.value) for line in s.lines}
        cells = [str(n), speak(titles[s.holding]), speak(s.title), s.on, s.cutter, *(values.get(k, "") for k in names)]
        rows.writerow([_plain(c) for c in cells])
    return text.getvalue()


def _plain(cell: str) -> str:
    """A cell that no program takes for a formula."""
    return f"'{cell}" if cell.startswith(("=", "+", "-", "@", "\t", "\r")) else cell
