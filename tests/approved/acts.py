"""What every act in the standing shop answers, sent as it should be and spoiled at one place: a line for each.

The bodies are those of the table of access; each is first sent spoiled a few times, then whole. At the end every page
is asked for once more, then and two days later: what the acts have left.
"""

from __future__ import annotations

import copy
import itertools
import json
import random
import re
import tempfile
from collections import defaultdict
from collections.abc import Iterator
from contextlib import ExitStack
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from incudo.core.people.roles import Role
from incudo.demo.story import key
from incudo.launch.supervise import Supervisor
from tests import shop as shop_of_tests
from tests.api.administration import test_access as access
from tests.api.administration import test_own_shop as own_shop
from tests.api.conftest import behind_the_application
from tests.approved.answers import Standing, answer_to, paths, unprinted
from tests.approved.told import mark, short
from tests.loaded import standing_shop, steady_ids
from tests.shop import M01, PETREL, TIDE, Person, TestShop

#: How often a body is sent spoiled.
SPOILED = 3
#: Seconds between two acts.
BETWEEN = 5
#: Not spoiled: too many wrong ones lock the door, and whoever is no student any more signs no more as one.
SECRET = {"pin", "old", "new", "password", "role"}
#: What it does is different each time, or ends what comes after it.
LEFT_OUT = {"sign_out", "change_password", "begin_check", "new_code", "add_device", "take_out_data", "take_out_paper"}
_ID = re.compile(r"[0-9a-f-]{36}")
#: An id that was drawn, not one of the demo's own.
_OWN_ID = re.compile(r"\b[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[0-9a-f]{4}-[0-9a-f]{12}\b")
_NUMBER = re.compile(r"-?\d+(\.\d+)?")
_TEXT = 120


def acts() -> Iterator[str]:
    """Every act of everybody who may do it, and what every page says afterwards."""
    with tempfile.TemporaryDirectory() as folder, ExitStack() as fixed, unprinted():
        clock = Standing()
        # whoever is first loads the shop: not yet with the ids of this page
        started = Supervisor(standing_shop(Path(folder) / "instance"), workers=1)
        for module in (shop_of_tests, access):
            fixed.enter_context(patch.object(module, "stamp", lambda: clock().isoformat()))
        fixed.enter_context(patch.object(own_shop, "NEXT", "2027-12-29"))
        fixed.enter_context(patch.object(shop_of_tests, "_numbers", itertools.count(1)))
        fixed.enter_context(steady_ids("acts"))
        (Path(folder) / "web").mkdir()
        try:
            started.start_database()
            for shop in behind_the_application(started, Path(folder) / "web", clock=clock):
                yield from _all_acts(shop, clock)
                for day in (0, 2):
                    clock.ahead += timedelta(days=day)
                    asking = {who: shop.person(who) for who in ("haldane", "orla")}
                    for path in paths():
                        said = (f"{who} {answer_to(person, path)}" for who, person in asking.items())
                        yield f"day {day} {path}: {', '.join(s for s in said if ' 40' not in s)}"
        finally:
            started.stop()


def _all_acts(shop: TestShop, clock: Standing) -> Iterator[str]:
    scene = access.scene_of(shop)
    known = _choices(shop.checked.document)
    for operation, (method, path, statuses) in access.TABLE.items():
        if method == "GET" or operation in LEFT_OUT:
            continue
        for role, status in zip((Role.INSTRUCTOR, Role.ASSISTANT, Role.STUDENT), statuses, strict=False):
            if status == 403:
                continue
            chance = random.Random(f"{operation} {role}")
            person, before = scene["people"][role], None
            for n in range(SPOILED + 1):
                body, said = access.body_for(operation, role, scene, shop), "whole"
                if n < SPOILED:
                    if not list(_places(body)):
                        continue
                    said, body = _spoiled(body, chance, known, before)
                clock.ahead += timedelta(seconds=BETWEEN)
                answer = _said(person, method, path.format(**scene), body)
                yield short(f"{operation} {role.value}, {said}: {answer}")
                before = body


def _said(person: Person, method: str, path: str, body: Any) -> str:
    answer = person.ask(method, path, body)
    text = answer.get_data(as_text=True)
    if answer.status_code == 200:
        found = json.loads(_anonymous(text)) if answer.is_json else _anonymous(text)
        return f"200 {mark(found)}"
    return f"{answer.status_code} {_anonymous(json.loads(text)['detail'])}"


def _anonymous(text: str) -> str:
    """Without ids that are drawn: numbered as they come."""
    seen: dict[str, str] = {}
    return _OWN_ID.sub(lambda m: seen.setdefault(m[0], f"#{len(seen) + 1}"), text)


def _choices(document: dict[str, Any]) -> dict[str, list[str]]:
    """Field → what it may be, over all models of the document."""
    found = defaultdict(set)
    schemas = document["components"]["schemas"]
    for schema in schemas.values():
        for name, of in schema.get("properties", {}).items():
            for s in (of, of.get("items", {}), *of.get("allOf", ()), *of.get("anyOf", ())):
                target = schemas.get(s.get("$ref", "").rpartition("/")[2], s)
                found[name] |= {str(v) for v in target.get("enum", ())}
    return {name: sorted(values) for name, values in found.items() if values}


def _places(value: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    if at:
        yield at
    inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for step, inner in inside:
        if step not in SECRET:
            yield from _places(inner, (*at, step))


def _spoiled(body: Any, chance: random.Random, known: dict[str, list[str]], before: Any) -> tuple[str, Any]:
    """A body with one place of it changed, and a word on what."""
    body, place = copy.deepcopy(body), chance.choice(list(_places(body)))
    inside = body
    for step in place[:-1]:
        inside = inside[step]
    last, name = place[-1], ".".join(map(str, place))
    if name == "id" and before and chance.random() < 0.5:
        body["id"] = before.get("id")
        return "id sent again", body
    if chance.random() < 0.15:
        del inside[last]
        return f"without {name}", body
    field = next((k for k in reversed(place) if isinstance(k, str)), "")
    inside[last] = _other(inside[last], chance, known.get(field, []))
    return f"{name} = {_anonymous(json.dumps(inside[last], ensure_ascii=False))[:60]}", body


def _other(value: Any, chance: random.Random, known: list[str]) -> Any:
    match value:
        case bool():
            return not value
        case int():
            return chance.choice((0, -1, value + 1, value * 10, 10**6))
        case None:
            return chance.choice(("", "0", 1, [], {}))
        case list():
            return chance.choice(([], value * 2, value[1:], value[:1]))
        case str() if known:
            return chance.choice(known)
        case str() if _ID.fullmatch(value):
            return chance.choice((str(key("person", "orla")), TIDE, M01, PETREL, "no-id"))
        case str() if _NUMBER.fullmatch(value):
            return chance.choice(("", "0", f"-{value}", f"{value}0", f"{float(value) / 10:g}", "many"))
        case str() if len(value) > _TEXT:
            numbers = list(_NUMBER.finditer(value))
            if not numbers:
                return value[: len(value) // 2]
            found = chance.choice(numbers)
            new = chance.choice(("0", "-1", f"{found[0]}0", f"{float(found[0]) / 10:g}"))
            return value[: found.start()] + new + value[found.end() :]
        case str():
            return chance.choice(("", "  ", value[:1], f" {value} ", value * 12))
    return chance.choice(({}, [], None, ""))
