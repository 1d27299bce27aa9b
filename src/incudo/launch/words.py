"""``incudo words``: every text that a person can meet, as a gettext template to translate from."""

from __future__ import annotations

import ast
import io
import json
import re
from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po

from incudo import shipped
from incudo.core.reckoning import CALCULATIONS
from incudo.core.shop.cutter import CutterKind
from incudo.core.shop.table import Source
from incudo.launch.configuration import ROOT

#: A text, its plural where there is one, and where it stands.
Text = tuple[str, str, str]
#: A string of TypeScript, and the calls in which it is a text.
_STRING = r'"((?:[^"\\]|\\.)*)"'
_SAID = re.compile(rf"\bsay\(\s*{_STRING}")
_COUNTED = re.compile(rf"\bsayMany\(\s*{_STRING},\s*{_STRING}")
_MARKED = re.compile(rf"\btext=\{{{_STRING}\}}")
_IN_PAPER = re.compile(rf"\bsay\({_STRING}")


def in_python(source: str, where: str) -> Iterator[Text]:
    """The texts of a module: what ``say`` and ``say_many`` are called with."""
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
            continue
        given = [a.value for a in node.args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
        if node.func.id == "say" and given:
            yield given[0], "", f"{where}:{node.lineno}"
        elif node.func.id == "say_many" and len(given) > 1:
            yield given[0], given[1], f"{where}:{node.lineno}"


def in_pages(source: str, where: str) -> Iterator[Text]:
    """The texts of a page."""
    for pattern in (_SAID, _MARKED, _COUNTED):
        for m in pattern.finditer(source):
            one, *many = (json.loads(f'"{x}"') for x in m.groups())
            yield one, many[0] if many else "", f"{where}:{source.count(chr(10), 0, m.start()) + 1}"


def every_text() -> Iterator[Text]:
    """Every text of server, pages, printed sheets, and what a shop starts with."""
    for file in sorted((ROOT / "src" / "incudo").rglob("*.py")):
        if not {"launch", "migrations"} & set(file.parts):
            yield from in_python(file.read_text(), _where(file))
    for file in sorted((ROOT / "src" / "incudo" / "app" / "templates").glob("*.html")):
        yield from ((json.loads(f'"{m[1]}"'), "", _where(file)) for m in _IN_PAPER.finditer(file.read_text()))
    for file in sorted((ROOT / "web" / "src").rglob("*.ts*")):
        yield from in_pages(file.read_text(), _where(file))
    yield from ((text, "", "src/incudo/shipped") for text in sorted(shipped.texts()))
    terms = shipped.glossary().terms
    yield from ((x, "", "src/incudo/shipped/glossary.yaml") for t in terms for x in (t.word, t.means, *t.also))
    choices = {str(x) for c in CALCULATIONS.values() for i in c.inputs for x in i.choices}
    yield from (
        (x, "", "src/incudo/core") for x in sorted(choices | {k.value for e in (CutterKind, Source) for k in e})
    )


def _where(file: Path) -> str:
    return str(file.relative_to(ROOT))


def catalogue() -> Catalog:
    """All of them as a template, each once, with every place where it stands."""
    made = Catalog(project="Incudo", copyright_holder="", msgid_bugs_address="")
    for one, many, where in every_text():
        if re.search(r"[A-Za-z]", re.sub(r"\{\w+\}", "", one)):
            file, _, line = where.partition(":")
            made.add((one, many) if many else one, locations=[(file, int(line or 0))])
    return made


def write_words(into: str) -> int:
    """Write the template and say how many texts it has."""
    made, text = catalogue(), io.BytesIO()
    write_po(text, made, width=120, sort_output=True)
    if into:
        Path(into).write_bytes(text.getvalue())
        print(f"{len(made)} texts in {into}")
    else:
        print(text.getvalue().decode())
    return 0
