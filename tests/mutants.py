"""Changes the rules on purpose and sees whether a test notices: ``python -m tests.mutants core app --number 200``.

Works on a copy of the project in a temporary folder, never on the project itself. A change is one comparison moved
to its other side or across its bound, one constant doubled or stepped, one ``and`` for ``or``, one ``not`` left out.
For each the tests of its room are run, then those of its layer and of the layers above; none red means it survived.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
#: Which sign stands for which comparison, and what it is changed to.
SIGNS = {ast.Lt: ("<", "<="), ast.LtE: ("<=", "<"), ast.Gt: (">", ">="), ast.GtE: (">=", ">"), ast.Eq: ("==", "!=")}
JOINTS = {ast.And: ("and", "or"), ast.Or: ("or", "and")}
#: Folders and files that only draw.
DRAWN = {"drawing", "scene", "picture"}
#: Seconds after which a change counts as noticed: what was reckoned does not end any more.
PATIENCE = 240


@dataclass(frozen=True)
class Mutant:
    """One change of one place in one file."""

    file: str
    line: int
    start: int
    end: int
    new: str

    def applied(self, text: str) -> str:
        """The file's text with the change made."""
        return text[: self.start] + self.new + text[self.end :]


def mutants_of(file: str, text: str) -> Iterator[Mutant]:
    """Every change that can be made in a module; docstrings, annotations and words are left alone."""
    raw = text.encode()
    starts = [0]
    for line in raw.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def at(line: int, column: int) -> int:
        return len(raw[: starts[line - 1] + column].decode())

    def between(left: ast.expr, right: ast.expr, word: str, new: str) -> Iterator[Mutant]:
        a, b = at(left.end_lineno or 0, left.end_col_offset or 0), at(right.lineno, right.col_offset)
        found = re.search(rf"(?<![<>=!\w]){re.escape(word)}(?![=\w])", text[a:b])
        if found:
            yield Mutant(file, right.lineno, a + found.start(), a + found.end(), new)

    tree = ast.parse(text)
    limits = named_limits(tree)
    for node in rules_in(tree):
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SIGNS:
            yield from between(node.left, node.comparators[0], *SIGNS[type(node.ops[0])])
        elif isinstance(node, ast.BoolOp):
            for left, right in zip(node.values, node.values[1:], strict=False):
                yield from between(left, right, *JOINTS[type(node.op)])
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            a = at(node.lineno, node.col_offset)
            yield Mutant(file, node.lineno, a, a + len("not "), "")
        elif node in limits and isinstance(node, ast.Constant) and isinstance(node.value, int | float):
            a, b = at(node.lineno, node.col_offset), at(node.end_lineno or 0, node.end_col_offset or 0)
            yield Mutant(
                file, node.lineno, a, b, repr(node.value + 1 if isinstance(node.value, int) else node.value * 2)
            )


def named_limits(tree: ast.Module) -> set[ast.AST]:
    """The numbers of constants that stand by name in a module: its limits, thresholds and defaults."""
    named = [n for n in tree.body if isinstance(n, ast.Assign | ast.AnnAssign) and n.value is not None]
    return {x for n in named if n.value is not None for x in ast.walk(n.value) if not isinstance(n.value, ast.Call)}


def rules_in(tree: ast.AST) -> Iterator[ast.AST]:
    """Every node that can hold a rule: not what is drawn, nor what only says a place in the order of work."""
    for node in ast.iter_child_nodes(tree):
        drawn = isinstance(node, ast.FunctionDef) and re.match(r"_?(draw|plot|picture|scene|section)", node.name)
        ordering = isinstance(node, ast.keyword) and node.arg == "order"
        if not (drawn or ordering or isinstance(node, ast.Assert)) and is_rule(node):
            yield node
            yield from rules_in(node)


def is_rule(node: ast.AST) -> bool:
    """An ``if`` is a rule unless it asks whether the module is run by itself."""
    return not isinstance(node, ast.If) or "__main__" not in ast.dump(node.test)


def stages(m: Mutant) -> Iterator[tuple[str, ...]]:
    """Which tests are asked, the likeliest to notice first: of its folder, its room, the layers above."""
    _, _, layer, *rooms = Path(m.file).parent.parts
    own = [Path("tests", layer, *rooms[:n]) for n in range(len(rooms), 0, -1)]
    yield from ((str(place),) for place in own if (ROOT / place).is_dir())
    if rooms and rooms[0] == "kernel":
        yield (f"tests/{layer}",)
    above = (Path("tests", x, *rooms[:1]) for x in ("core", "app", "api", "store") if x != layer)
    yield tuple(str(x) for x in above if rooms and (ROOT / x).is_dir())


def survives(m: Mutant, copy: Path, tests: tuple[str, ...], env: dict[str, str]) -> bool:
    """Whether the tests stay green with this change."""
    path = copy / m.file
    text = path.read_text()
    path.write_text(m.applied(text))
    try:
        done = subprocess.run(
            [sys.executable, "-B", "-m", "pytest", "-x", "-qq", "-p", "no:cacheprovider", *tests],
            cwd=copy,
            env=env,
            capture_output=True,
            timeout=PATIENCE,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return False
    finally:
        path.write_text(text)
    return done.returncode == 0


def main() -> None:
    """Read the command line, copy the project, make the changes one by one, print those that nothing noticed."""
    parser = argparse.ArgumentParser(prog="mutants")
    parser.add_argument("rooms", nargs="+", help="core, app, or a folder in them such as core/setup")
    parser.add_argument("--number", type=int, default=200, help="how many changes, drawn at random")
    parser.add_argument("--seed", default="1")
    args = parser.parse_args()
    copy = Path(tempfile.mkdtemp(prefix="incudo-mutants-"))
    for part in ("src", "tests"):
        shutil.copytree(ROOT / part, copy / part, ignore=shutil.ignore_patterns("__pycache__"))
    for part in ("pyproject.toml", "docs", "web", "incudo"):
        (copy / part).symlink_to(ROOT / part)
    shop = os.environ.get("INCUDO_TEST_SHOP", str(copy / "shop"))
    Path(shop).mkdir(exist_ok=True)
    env = os.environ | {"PYTHONPATH": str(copy / "src"), "INCUDO_TEST_SHOP": shop}
    every = [
        m
        for room in args.rooms
        for p in sorted((copy / "src/incudo" / room).rglob("*.py"))
        if not DRAWN & {*p.parts, p.stem}
        for m in mutants_of(p.relative_to(copy).as_posix(), p.read_text())
    ]
    drawn = random.Random(args.seed).sample(every, min(args.number, len(every)))
    print(f"{len(drawn)} of {len(every)} possible changes", flush=True)
    left = 0
    for n, m in enumerate(drawn, 1):
        if all(survives(m, copy, tests, env) for tests in stages(m) if tests):
            left += 1
            text = (copy / m.file).read_text()
            told = text.splitlines()[m.line - 1].strip()
            print(f"SURVIVED {m.file}:{m.line} {text[m.start : m.end]} -> {m.new or 'nothing'}   {told}", flush=True)
        if n % 20 == 0:
            print(f"{n}: {left} survived, {100 * left / n:.0f} %", flush=True)
    print(f"{left} of {len(drawn)} changes survived, {100 * left / max(1, len(drawn)):.1f} %")


if __name__ == "__main__":
    main()
