"""What the documents say of files and numbers is what the code has: every field, every bound that is told."""

from __future__ import annotations

import re
from types import ModuleType
from typing import Any, get_args

import pytest
from pydantic import BaseModel

from incudo import shipped
from incudo.api.kernel.body import MOST_BYTES, MOST_BYTES_OF_A_FILE, MOST_VALUES
from incudo.core.kernel.wire import MOST_DEPTH, MOST_PARTS
from incudo.core.parts import project
from incudo.core.parts.features import asked, file, holes, milled, sloped
from incudo.core.planning import file as plan_file
from incudo.core.planning.judge import RULES
from incudo.core.planning.rules.base import weight_words
from incudo.core.practice.exercise import MAKERS
from incudo.core.reckoning import CALCULATIONS
from incudo.core.shop import machine
from incudo.core.skills import graph, questions
from incudo.launch.lanes import HEAVY, INTERLOCK, WORK
from incudo.launch.web import HEAVY_AT_ONCE, OF_ONE_ADDRESS
from tests.paths import ROOT

DOCS = ROOT / "docs"
MODULES = [
    ("machine.md", machine),
    ("skills.md", graph),
    ("questions.md", questions),
    ("plan.md", plan_file),
    *(("project.md", m) for m in (project, file, asked, holes, milled, sloped)),
]
#: They say which kind of thing it is: their value stands in the document, not their name in each place.
TELL_APART = {"format", "kind", "shape"}


def models(module: ModuleType) -> list[type[BaseModel]]:
    """The models that a module declares itself."""
    found = (x for x in vars(module).values() if isinstance(x, type) and issubclass(x, BaseModel))
    return [x for x in found if x.__module__ == module.__name__ and not x.__name__.startswith("_")]


CASES = [pytest.param(f, x, id=f"{f}-{x.__name__}") for f, module in MODULES for x in models(module)]


@pytest.mark.parametrize(("document", "model"), CASES)
def test_every_field_of_a_file_is_documented(document: str, model: type[BaseModel]) -> None:
    text = (DOCS / "formats" / document).read_text()
    words = set(re.findall(r"[a-z_]+", text))
    assert set(model.model_fields) - words - TELL_APART == set()
    for name in TELL_APART & set(model.model_fields):
        for value in get_args(model.model_fields[name].annotation):
            assert str(value) in text, f"{name} {value}"


def said(text: str, pattern: str) -> int:
    found = re.search(pattern, text)
    assert found, pattern
    return int(found[1].replace(",", ""))


README = (ROOT / "README.md").read_text()


@pytest.mark.parametrize(
    ("pattern", "count"),
    [
        (r"(\d+) calculations", len(CALCULATIONS)),
        (r"\*\*Exercises\*\* on (\d+) of them", len(MAKERS)),
        (r"(\d+) skills with prerequisites", len(shipped.graph().skills)),
        (r"knowledge checks \((\d+) questions", sum(len(b.live) for b in shipped.banks().values())),
    ],
)
def test_the_readme_counts_what_there_is(pattern: str, count: int) -> None:
    assert said(README, pattern) == count


OPERATIONS = (DOCS / "operations.md").read_text()


@pytest.mark.parametrize(
    ("pattern", "bound"),
    [
        (r"connections of one address \| (\d+)", OF_ONE_ADDRESS),
        (r"bytes of a body \| (\d+) KiB", MOST_BYTES // 1024),
        (r"bytes of a body \|.*?(\d+) MiB", MOST_BYTES_OF_A_FILE // 1024**2),
        (r"values in a body \| ([\d,]+)", MOST_VALUES),
        (r"values in a body \|.*?; ([\d,]+) in a file", MOST_PARTS),
        (r"depth of a body \| (\d+)", MOST_DEPTH),
        (r"printing and whole files at once \| (\d+)", HEAVY_AT_ONCE),
        (r"silence of the database \| (\d+) s interlock", int(INTERLOCK.database)),
        (r"silence of the database \|.*?(\d+) s work", int(WORK.database)),
        (r"silence of the database \|.*?(\d+) s files", int(HEAVY.database)),
    ],
)
def test_the_bounds_that_are_told_are_those_that_hold(pattern: str, bound: int) -> None:
    assert said(OPERATIONS, pattern) == bound


def test_every_setting_is_documented() -> None:
    used: set[str] = set()
    for source in (ROOT / "src").rglob("*.py"):
        used |= set(re.findall(r"\bINCUDO_[A-Z_]+\b", source.read_text()))
    # what the launcher tells its own children
    inner = {f"INCUDO_{x}" for x in ("WEB", "LANES", "RELOAD", "TRUSTED_PROXIES", "SECURE_COOKIES", "DEV_SERVER")}
    inner |= {"INCUDO_ADDRESS", "INCUDO_DEVICE_KEY"}
    told = set(re.findall(r"\bINCUDO_[A-Z_]+\b", OPERATIONS))
    assert used - inner <= told


@pytest.mark.parametrize("name", sorted(p.name for p in (DOCS / "screenshots").glob("*.png")))
def test_every_picture_is_linked(name: str) -> None:
    assert f"docs/screenshots/{name}" in README


def test_no_more_pictures_than_somebody_looks_at() -> None:
    found: list[Any] = list((DOCS / "screenshots").glob("*"))
    assert len(found) < 20


def test_every_rule_of_the_judge_stands_in_its_document_with_its_reason() -> None:
    told = (DOCS / "plan-rules.md").read_text()
    words = weight_words()
    for subject, rules in RULES.items():
        assert f"## {subject.capitalize()}" in told
        for r in rules:
            assert f"| `{r.code}` | {words[r.weight]} | {r.title} | {r.why} |" in told
