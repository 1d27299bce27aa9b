"""Thousands of requests made from the document itself, right in shape and wrong in value: no 5xx, ever.

INCUDO_FUZZ says how many; the same seed makes the same requests.
"""

from __future__ import annotations

import json
import os
import random
import uuid
from collections import Counter
from typing import Any
from urllib.parse import quote, urlencode

import pytest

from tests.paths import ROOT
from tests.shop import DUNLIN, PETREL, PINS, TUESDAY, Person, TestShop

HOW_MANY = int(os.environ.get("INCUDO_FUZZ", "1500"))
DOCUMENT = json.loads((ROOT / "web/src/api/openapi.json").read_text())
#: What would sign the fuzzing person out, or change what they sign in with.
LEFT_OUT = {"/api/sign-out", "/api/password", "/api/sign-in"}
TEXTS = (
    "", " ", "0", "-1", "1e999", "NaN", "1/3", "0.0005", "25.4", "٣", "ﬀ", "\u202eevil", "=1+1", "'; --",
    "x" * 5000, "🔩" * 40, "\t\n", "null", "../../etc", "%00", "2026-02-30", "facing", "1.000", "mm", "in",
)  # fmt: skip
NUMBERS = (0, -1, 1, 2, 7, 10**6, 2**31, 2**63, 10**40, 0.5, -0.0, 1e308)


class Maker:
    """Makes values for a schema: mostly what it asks for, sometimes something else altogether."""

    def __init__(self, chance: random.Random, ids: list[str]) -> None:
        self.chance, self.ids = chance, ids

    def value(self, schema: dict[str, Any], deep: int = 0) -> Any:
        chance = self.chance
        if "$ref" in schema:
            return self.value(DOCUMENT["components"]["schemas"][schema["$ref"].rpartition("/")[2]], deep)
        if deep > 6 or chance.random() < 0.04:
            return chance.choice((None, [], {}, True, *TEXTS, *NUMBERS))
        for several in ("anyOf", "oneOf", "allOf"):
            if several in schema:
                return self.value(chance.choice(schema[several]), deep + 1)
        if "enum" in schema:
            return chance.choice(schema["enum"])
        if "const" in schema:
            return schema["const"]
        match schema.get("type"):
            case "object":
                return self._object(schema, deep)
            case "array":
                most = min(schema.get("maxItems", 3), 3)
                items = schema.get("items") or {}
                return [self.value(items, deep + 1) for _ in range(chance.randint(0, most))]
            case "integer" | "number":
                return chance.choice((chance.randint(-3, 30), *NUMBERS))
            case "boolean":
                return chance.random() < 0.5
            case "null":
                return None
        return self._text(schema)

    def _object(self, schema: dict[str, Any], deep: int) -> dict[str, Any]:
        needed = schema.get("required", [])
        made = {
            name: self.value(inner, deep + 1)
            for name, inner in schema.get("properties", {}).items()
            if self.chance.random() < (0.97 if name in needed else 0.5)
        }
        if isinstance(schema.get("additionalProperties"), dict):
            made[self.chance.choice(TEXTS)] = self.value(schema["additionalProperties"], deep + 1)
        if "pin" in made and self.chance.random() < 0.9:
            made["pin"] = PINS["haldane"]
        return made

    def _text(self, schema: dict[str, Any]) -> str:
        chance = self.chance
        if schema.get("format") == "uuid":
            # drawn, so that the same seed makes the same request
            return chance.choice((*self.ids, str(uuid.UUID(int=chance.getrandbits(128), version=4))))
        if schema.get("format") in ("date", "date-time"):
            return chance.choice(("0001-01-01", "9999-12-31T23:59:59-23:59", "2026-02-03", "2026-02-30", "x"))
        if chance.random() < 0.4:
            return f"{chance.randint(0, 400)}.{chance.randint(0, 9999)}"
        return chance.choice(TEXTS)


def ids_of(person: Person) -> list[str]:
    """Ids of real things: everything in the first answers that is one."""
    found: list[str] = [PETREL, DUNLIN, TUESDAY]
    for path in (
        "/api/shop",
        "/api/bench",
        "/api/projects",
        "/api/stock",
        "/api/workholding",
        "/api/crib",
        "/api/class",
    ):
        answer = person.ask("GET", path)
        text = answer.get_data(as_text=True) if answer.status_code == 200 else ""
        found += [w for w in text.split('"') if len(w) == 36 and w.count("-") == 4][:12]
    return sorted(set(found))


@pytest.mark.long
def test_requests_made_from_the_document_never_break_the_server(shop_apart: TestShop) -> None:
    shop = shop_apart
    chance = random.Random("fuzz")
    student = shop.ready_student()
    people = (shop.haldane, student)
    ids = ids_of(shop.haldane) + ids_of(student)
    maker = Maker(chance, ids)
    operations = [
        (method, path, one)
        for path, methods in sorted(DOCUMENT["paths"].items())
        for method, one in sorted(methods.items())
        if path not in LEFT_OUT
    ]
    statuses: Counter[int] = Counter()
    for number in range(HOW_MANY):
        method, path, one = operations[number % len(operations)]
        query = {}
        for p in one.get("parameters", ()):
            value = str(maker.value(p.get("schema", {"type": "string"})))
            if p["in"] == "path":
                path = path.replace(f"{{{p['name']}}}", quote(value, safe="") or "x")
            elif chance.random() < 0.7:
                query[p["name"]] = value
        content = one.get("requestBody", {}).get("content", {}).get("application/json")
        body = maker.value(content["schema"]) if content else None
        answer = chance.choice(people).ask(method.upper(), f"{path}?{urlencode(query)}", body)
        statuses[answer.status_code] += 1
        assert answer.status_code < 500, (method, path, query, body, answer.get_data(as_text=True)[:300])
        assert not (method == "get" and answer.status_code == 409)
    assert statuses[200] > HOW_MANY / 20, "and not all of it is refused at the door"
    assert statuses[422] > HOW_MANY / 20
