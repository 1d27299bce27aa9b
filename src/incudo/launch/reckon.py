"""``./incudo reckon``: every calculation on the command line, input and output as JSON."""

from __future__ import annotations

import json
import sys
from typing import Any

from incudo.app.reckoning.reckoner import calculation_view, reckon
from incudo.core.kernel.errors import DomainError, Refused
from incudo.core.reckoning import CALCULATIONS

MOST_INPUT = 100_000


def main(name: str, *, listed: bool, as_json: bool) -> int:
    """List the calculations, or work one out from standard input. Exit code 2 for what cannot be."""
    if listed or not name:
        views = [calculation_view(c).model_dump(mode="json") for c in CALCULATIONS.values()]
        _print(json.dumps(views, ensure_ascii=False, indent=1) if as_json else _table(views))
        return 0
    try:
        answer = reckon(name, _given(sys.stdin.read(MOST_INPUT + 1)))
    except DomainError as error:
        fields = [{"field": e.field, "value": e.value, "bound": e.bound} for e in getattr(error, "errors", ())]
        _print(json.dumps({"detail": str(error), "errors": fields}, ensure_ascii=False, indent=1))
        return 2
    if as_json:
        _print(json.dumps(answer.model_dump(mode="json"), ensure_ascii=False, indent=1))
    else:
        for r in answer.results:
            _print(f"{r.label}: " + (r.word or " = ".join(f"{v.value} {v.unit}".strip() for v in r.values)))
        for s in answer.working:
            _print(f"  {s.what}: {s.formula} = {s.put_in} = {s.result}")
        for words in answer.said:
            _print(f"  {words}")
    return 0


def _given(text: str) -> dict[str, Any]:
    if len(text) > MOST_INPUT:
        raise Refused.of("input", "", f"must be at most {MOST_INPUT} characters")
    try:
        given = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise Refused.of("input", text[:40], f"must be JSON: {str(error)[:80]}") from None
    if not isinstance(given, dict):
        raise Refused.of("input", text[:40], 'must be an object such as {"diameter": {"value": "0.625", "unit": "in"}}')
    return given


def _table(views: list[dict[str, Any]]) -> str:
    lines = []
    for v in views:
        lines.append(f"{v['id']}{' (also an exercise)' if v['exercise'] else ''}: {v['about']}")
        for i in v["inputs"]:
            bounds = i["bounds"].values()
            tail = f"one of {', '.join(i['choices'])}" if i["choices"] else "; or ".join(bounds)
            starts = dict.fromkeys(f"{s['value']} {s['unit']}".strip() for s in i["starts"].values() if s["value"])
            default = f" (else {' or '.join(starts)})" if starts else " (may be left out)" if i["optional"] else ""
            lines.append(f"  {i['name']}: {i['label']}, {tail or 'whole numbers, rising'}{default}")
    return "\n".join(lines)


def _print(text: str) -> None:
    sys.stdout.write(text + "\n")
