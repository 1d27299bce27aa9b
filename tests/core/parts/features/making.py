"""Parts for tests: one to change, random legal ones, and the shipped ones."""

from __future__ import annotations

import copy
import random
from functools import cache
from typing import Any

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.parts.features import kinds
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.asking import kinds_for, meant
from incudo.core.parts.features.checks import what_is_left
from incudo.core.parts.features.frame import Axle, Plane, RoundWall, Slope
from incudo.core.parts.features.part import Part, part_of, read_part, resolved_or_faults, shaped
from incudo.core.parts.features.resolving import Resolved

SHIPPED = sorted(shipped.parts())

#: A plate of 80 x 50 x 20 with one of each: tests change one number of it.
PLATE: dict[str, Any] = {
    "format": "incudo-project/2",
    "code": "plate",
    "name": "Plate",
    "unit": "mm",
    "material": "brass",
    "stock": {"form": "flat", "x": "84", "y": "54", "z": "22"},
    "body": {"shape": "block", "x": "80", "y": "50", "z": "20"},
    "title_block": {"0": "0.5", "1": "0.2"},
    "features": [
        {"kind": "step", "name": "shoulder", "face": "top", "side": "right", "length": "12", "depth": "6"},
        {"kind": "slot", "name": "key", "along": "x", "at": "40", "width": "6", "depth": "5",
         "start": "10", "end": "40"},
        {"kind": "pocket", "name": "well", "at": ["26", "18"], "size": ["24", "16"], "radius": "4", "depth": "8"},
        {
            "kind": "hole", "name": "bolt",
            "layout": {"layout": "row", "at": ["48", "8"], "along": "y", "count": 2, "pitch": "22"},
            "diameter": "5", "countersink": {"diameter": "9", "angle": "90"},
        },
        {"kind": "chamfer", "name": "edge", "face": "top", "side": "front", "size": "1.5"},
    ],
    "datums": [{"letter": "A", "face": "bottom"}],
    "characteristics": [
        {"number": 1, "kind": "distance", "of": ["left", "right"]},
        {"number": 2, "kind": "distance", "of": ["bottom", "shoulder.floor"], "tolerance": "±0.1"},
        {"number": 3, "kind": "distance", "of": ["left", "bolt 1.axis"], "along": "x", "tolerance": "±0.1"},
        {"number": 4, "kind": "diameter", "of": ["bolt.bore"], "tolerance": "H11"},
        {"number": 5, "kind": "parallel", "of": ["top"], "datum": "A", "tolerance": "0.05"},
    ],
}  # fmt: skip

#: The datums of random parts.
LETTERS = {"A": "bottom", "B": "left", "C": "front"}

BAR: dict[str, Any] = {
    **PLATE,
    "stock": {"form": "round", "diameter": "20", "length": "84"},
    "body": {"shape": "bar", "diameter": "20", "length": "80"},
    "features": [{"kind": "flat", "name": "land", "face": "top", "end": "left", "length": "20", "across": "16"}],
    "characteristics": [{"number": 1, "kind": "distance", "of": ["bottom", "land.floor"]}],
}


def changed(base: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """A file with another value at a path such as `features.2.radius`."""
    made = copy.deepcopy(base)
    at: Any = made
    *steps, last = path.split(".")
    for step in steps:
        at = at[int(step)] if isinstance(at, list) else at[step]
    at[int(last) if isinstance(at, list) else last] = value
    return made


def faults(data: dict[str, Any]) -> dict[str, str]:
    """What is wrong with a file, by field."""
    try:
        part_of(read_part(data))
    except Refused as refused:
        return {e.field: str(e.bound) for e in refused.errors}
    return {}


def shipped_part(code: str) -> Part:
    return part_of(read_part(shipped.parts()[code]))


@cache
def random_part(seed: int) -> Part:
    """A legal part of up to eight features and up to twelve requirements; the same for the same seed."""
    draw = random.Random(seed)
    data = _body(draw)
    for n in range(draw.randint(1, 8)):
        frame = shaped(read_part(data)).frame
        on = "bar" if frame.bar else "block"
        kind = draw.choice([k.key for k in kinds.kinds() if on in k.on])
        face = draw.choice([f.name for f in frame.faces])
        feature = _bent(draw, kinds.begin(kind, face, frame, f"f{n}"))
        if kind == "hole":
            for group in ("layout", "countersink", "counterbore"):
                if draw.random() < 0.5:
                    variants = next(g.variants for g in kinds.kinds()[3].groups if g.path == group)
                    feature = kinds.vary(feature, group, draw.choice(variants).key, frame)
        tried = {**data, "features": [*data["features"], feature]}
        if not shaped(read_part(tried)).faults:
            data = tried
    return _asked(draw, data)


def _body(draw: random.Random) -> dict[str, Any]:
    unit = draw.choice([Unit.INCH, Unit.MM])
    by, places = (40, 3) if unit is Unit.INCH else (1, 1)
    x, y, z = (round(draw.uniform(*r) / by, places) for r in ((40, 120), (20, 70), (10, 40)))
    over = 4 / by
    text = [f"{v:.{places}f}" for v in (x, y, z)]
    grown = [f"{v + over:.{places}f}" for v in (x, y, z)]
    data: dict[str, Any] = {**PLATE, "unit": unit, "features": [], "characteristics": []}
    data["datums"] = [{"letter": letter, "face": face} for letter, face in LETTERS.items()]
    data["title_block"] = {str(n): "0.005" if unit is Unit.INCH else "0.1" for n in range(7)}
    if draw.random() < 0.2:
        data["body"] = {"shape": "bar", "diameter": text[2], "length": text[0]}
        data["stock"] = {"form": "round", "diameter": text[2], "length": grown[0]}
    else:
        data["body"] = {"shape": "block", **dict(zip("xyz", text, strict=True))}
        data["stock"] = {"form": "block", **dict(zip("xyz", grown, strict=True))}
    return data


def _bent(draw: random.Random, value: Any) -> Any:
    """The numbers of a feature, each a little off where it began."""
    if isinstance(value, dict):
        return {k: v if k in ("tip", "angle", "start") and v else _bent(draw, v) for k, v in value.items()}
    if isinstance(value, list):
        return [_bent(draw, v) for v in value]
    if isinstance(value, str) and value.replace(".", "", 1).isdigit():
        return f"{float(value) * draw.uniform(0.6, 1.3):.3f}"
    return value


def _asked(draw: random.Random, data: dict[str, Any]) -> Part:
    file = read_part(data)
    shape = shaped(file)
    named = [
        n
        for n in shape.frame.named.values()
        if isinstance(n, (Axle, RoundWall, Slope)) or (isinstance(n, Plane) and n.out)
    ]
    things = [n for n in named if not isinstance(n, Plane) or what_is_left(n, shape.solid)]
    wanted = draw.randint(1, 12)
    asked: list[dict[str, Any]] = []
    for _ in range(60):
        if len(asked) == wanted:
            break
        names = tuple(t.name for t in draw.sample(things, draw.choice([1, 2, 2, 2])))
        could = kinds_for(names, shape.frame)
        try:
            one = meant(names, shape.frame, LETTERS, len(asked) + 1, draw.choice(could) if could else None)
        except Refused:
            continue
        if not set(one["of"]) <= {t.name for t in things}:
            continue
        if isinstance(resolved_or_faults(Asked.model_validate(one), shape.frame, file, ""), Resolved):
            asked.append(one)
    return part_of(read_part({**data, "characteristics": asked}))
