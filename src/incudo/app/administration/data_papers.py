"""The data of one person on paper: to be read, where the file is for machines."""

from __future__ import annotations

import json
import re
import uuid
from datetime import datetime
from typing import Any

from incudo.app.administration.papers import Paper, to_pdf
from incudo.app.kernel.unit import Who, Work
from incudo.app.people.own_data import KeptTable, TakeOut, person_data

#: So many entries of a table are printed, the newest; all are in the file.
MOST_ROWS, MOST_LETTERS = 40, 300
_ID = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")
_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?\+\d\d:\d\d$")


class TakeOutPaper(TakeOut):
    """Give somebody's data out on paper."""

    paper: Paper


def data_paper(w: Work, who: Who, person: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """What is kept of somebody, table by table. That it was given out is kept. Raises ``NotFound``."""
    found = person_data(w, who, person)
    values = {
        "data": found,
        "made": f"{w.local(found.made_at):%Y-%m-%d %H:%M}",
        "tables": [_printed(w, x) for x in found.tables],
    }
    return f"data-{found.login}.pdf", to_pdf(("own_data.html", paper, values))


def _printed(w: Work, table: KeptTable) -> dict[str, Any]:
    shown = table.rows[-MOST_ROWS:][::-1]
    return {
        "what": table.what,
        "count": len(table.rows),
        "more": len(table.rows) - len(shown),
        "rows": [[(_column(k), _text(w, v)) for k, v in row.items() if _says(v)] for row in shown],
    }


def _column(name: str) -> str:
    return name.removesuffix("_id").replace("_", " ")


def _says(value: Any) -> bool:
    """Whether it says anything to a reader; an id by itself does not."""
    return value not in (None, "", [], {}) and not (isinstance(value, str) and _ID.fullmatch(value))


def _text(w: Work, value: Any) -> str:
    if isinstance(value, str) and _MOMENT.match(value):
        return f"{w.local(datetime.fromisoformat(value)):%Y-%m-%d %H:%M}"
    text = value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
    return text if len(text) <= MOST_LETTERS else f"{text[:MOST_LETTERS]}…"
