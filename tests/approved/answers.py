"""What every page of the standing shop is told, for each who may ask: a line a question, a mark an answer."""

from __future__ import annotations

import io
import json
import re
import tempfile
from collections.abc import Iterator
from contextlib import AbstractContextManager
from itertools import product
from pathlib import Path
from typing import Any
from unittest.mock import patch

from openpyxl import load_workbook

from incudo.app.administration.papers import Paper
from incudo.demo import people as cast
from incudo.demo.story import key
from incudo.launch.shots import hand_in
from incudo.launch.supervise import Supervisor
from tests.api.administration.test_access import TABLE
from tests.api.conftest import behind_the_application
from tests.approved.told import mark
from tests.loaded import STANDING, standing_shop
from tests.shop import Clock, Person

ASKING = ("haldane", "dacosta", "thorley", "orla", "juno")
#: Some files say when they were made, signed ones stand by a key that every installation has of its own; a photo and
#: a queue of work are not there.
LEFT_OUT = re.compile(r"\.dxf|/photo|/rigs/runs/|/setups/|\.zip|credentials|/register$|sign_offs/file")
STUDENTS = ("orla", "juno", "ines")


class Standing(Clock):
    """A clock that stands."""

    def __call__(self) -> Any:
        return STANDING + self.ahead


class Unprinted:
    """A printed sheet before it is printed: what is on it, without when it was made."""

    def __init__(self, string: str, base_url: str) -> None:
        self.pages = [string.replace(base_url, "")]

    def render(self) -> Unprinted:
        """Nothing is laid out."""
        return self

    def copy(self, pages: list[str]) -> Unprinted:
        """These pages."""
        self.pages = pages
        return self

    def write_pdf(self) -> bytes:
        """The pages as they are."""
        return "".join(self.pages).encode()


def unprinted() -> AbstractContextManager[object]:
    """While it lasts nothing is laid out: what is printed is answered as it is written."""
    return patch("weasyprint.HTML", Unprinted)


def paths() -> Iterator[str]:
    """The address of everything that can be asked for, for several students and job cards where it is about one."""
    found = {
        "student": [str(key("person", s)) for s in STUDENTS],
        "assignment": [str(key("assignment", i)) for i, p in enumerate(cast.PARTS) if p.student in STUDENTS],
        "handed": [hand_in(i, 0) for i, p in enumerate(cast.PARTS) if p.student in STUDENTS and p.rounds],
        "study": [str(key("study"))],
    }
    for method, path, _ in TABLE.values():
        names = re.findall(r"{(\w+)}", path)
        if method == "GET" and not LEFT_OUT.search(path):
            for values in product(*(found[n] for n in names)):
                asked = path.format(**dict(zip(names, values, strict=True)))
                yield from (f"{asked}?paper={p}" for p in Paper) if asked.endswith(".pdf") else (asked,)


def answers() -> Iterator[str]:
    """Who gets which answer; an answer is everything in it but what tells one run of the server from another."""
    with tempfile.TemporaryDirectory() as folder, unprinted():
        started = Supervisor(standing_shop(Path(folder) / "instance"), workers=1)
        (Path(folder) / "web").mkdir()
        try:
            started.start_database()
            for shop in behind_the_application(started, Path(folder) / "web", clock=Standing()):
                asking = {who: shop.person(who) for who in ASKING}
                for path in paths():
                    said = [f"{who} {answer_to(person, path)}" for who, person in asking.items()]
                    yield f"{path}: {', '.join(s for s in said if ' 40' not in s)}"
        finally:
            started.stop()


def answer_to(person: Person, path: str) -> str:
    """Its status and a mark of what it says."""
    answer = person.ask("GET", path)
    if answer.is_json:
        found = json.loads(answer.get_data(as_text=True))
        if isinstance(found, dict):
            found.pop("token", None)
        return f"{answer.status_code} {mark(found)}"
    if "spreadsheet" in answer.content_type:
        book = load_workbook(io.BytesIO(answer.data))
        return f"{answer.status_code} {mark([[sheet.title, *sheet.values] for sheet in book])}"
    return f"{answer.status_code} {mark(answer.get_data(as_text=True))}"
