"""What somebody is asked, and what the editor of parts begins with: every question, every face of every part."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from itertools import combinations
from typing import Any

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.parts.features import kinds
from incudo.core.parts.features.asking import kinds_for, meant
from incudo.core.parts.features.frame import SIDES
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.skills.questions import Number, judge_answer, present, solve
from tests.approved.told import mark, short, told

#: So many pairs of things of a part are asked about, and so many wrong answers tried.
PAIRS, WRONG = 25, 3
DATUMS = ({}, {"A": "bottom"}, {"A": "bottom", "B": "front", "C": "left"})


def questions() -> Iterator[str]:
    """Every question of every bank as it is put, its answer, and what is said of a right and of a wrong one."""
    sources = shipped.sources()
    for name, bank in shipped.banks().items():
        yield f"# {name}"
        for n, q in enumerate(bank.questions):
            seed = str(n % 3)
            right, number = solve(q, seed, sources)
            shown, chance = present(q, seed, sources), random.Random(f"{name} {n}")
            tried = [judge_answer(q, seed, sources, right, number)]
            for _ in range(WRONG):
                places = list(range(1 + max(right, default=0)))
                chance.shuffle(places)
                typed = f"{float(number or 0) * chance.choice((0.5, 1.001, 2, -1)):.3f}"
                given = (), typed
                if not isinstance(q, Number):
                    given = tuple(places[: len(right)]), ""
                try:
                    tried.append(judge_answer(q, seed, sources, *given))
                except Refused as refused:
                    tried.append(refused)  # type: ignore[arg-type]
            yield short(f"{q.id}: {told(tried[0])} {mark(shown)} {mark(*map(_said, tried))}")


def _said(x: Any) -> Any:
    return str(x) if isinstance(x, Refused) else x


def editor(codes: list[str]) -> Iterator[str]:
    """What the editor begins a feature with on every face, its variants, and what could be asked of any two things."""
    for code in codes:
        file = read_part(shipped.parts()[code])
        frame = part_of(file).frame
        yield f"# {code}"
        for kind in kinds.kinds():
            for face in SIDES:
                try:
                    made = kinds.begin(kind.key, face, frame, "new")
                except Refused as refused:
                    yield f"{kind.key} {face}: {refused}"
                    continue
                varied = [kinds.vary(made, g.path, v.key, frame) for g in kind.groups for v in g.variants]
                yield short(f"{kind.key} {face}: {json.dumps(made, sort_keys=True)} {mark(varied)}")
        names, chance = sorted(frame.named), random.Random(code)
        pairs = list(combinations(names, 2))
        for of in [*((n,) for n in names), *chance.sample(pairs, min(PAIRS, len(pairs)))]:
            asked = []
            for kind_asked in kinds_for(of, frame):
                for datums in DATUMS:
                    try:
                        asked.append(meant(of, frame, datums, 7, kind_asked))
                    except Refused as refused:
                        asked.append({"refused": str(refused)})
            yield short(f"{' + '.join(of)}: {' '.join(kinds_for(of, frame))} {mark(asked)}")
