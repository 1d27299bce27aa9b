"""Changes the rules on purpose and sees whether a test notices: ``python -m tests.mutants core app --number 200``.

Works on a copy of the project in a temporary folder, never on the project itself. A change is one comparison moved
to its other side or across its bound, one constant doubled or stepped, one ``and`` for ``or``, one ``not`` left out.
For each only those tests are run that ran through the changed line; none of them red means that it survived.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SUITES = {
    "core": ("tests/core", "tests/api", "tests/app"),
    "app": ("tests/app", "tests/api", "tests/store"),
}
#: Which sign stands for which comparison, and what it is changed to.
SIGNS = {ast.Lt: ("<", "<="), ast.LtE: ("<=", "<"), ast.Gt: (">", ">="), ast.GtE: (">=", ">"), ast.Eq: ("==", "!=")}
JOINTS = {ast.And: ("and", "or"), ast.Or: ("or", "and")}
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

    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in SIGNS:
            yield from between(node.left, node.comparators[0], *SIGNS[type(node.ops[0])])
        elif isinstance(node, ast.BoolOp):
            for left, right in zip(node.values, node.values[1:], strict=False):
                yield from between(left, right, *JOINTS[type(node.op)])
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            a = at(node.lineno, node.col_offset)
            yield Mutant(file, node.lineno, a, a + len("not "), "")
        elif isinstance(node, ast.Constant) and isinstance(node.value, int | float) and node.value not in (0, 1):
            a, b = at(node.lineno, node.col_offset), at(node.end_lineno or 0, node.end_col_offset or 0)
            yield Mutant(
                file, node.lineno, a, b, repr(node.value + 1 if isinstance(node.value, int) else node.value * 2)
            )


#: For every file and line the tests that ran through it.
Ran = dict[str, dict[int, set[str]]]


def ran_through(copy: Path, suites: tuple[str, ...], env: dict[str, str], python: str) -> Ran:
    """Runs all tests once under watch; what is done at import has none of its own."""
    (copy / ".coveragerc").write_text("[run]\nsource = incudo\ndynamic_context = test_function\ndata_file = .cov\n")
    started = time.monotonic()
    subprocess.run([python, "-m", "coverage", "run", "-m", "pytest", *suites], cwd=copy, env=env, check=True)
    subprocess.run(
        [python, "-m", "coverage", "json", "--show-contexts", "-o", "cov.json"], cwd=copy, env=env, check=True
    )
    print(f"all tests once, under watch: {time.monotonic() - started:.0f} s", flush=True)
    found: Ran = {}
    for file, told in json.loads((copy / "cov.json").read_text())["files"].items():
        lines = found.setdefault(file, {})
        for line, contexts in told["contexts"].items():
            lines[int(line)] = {c for c in contexts if c.startswith("tests.")}
    return found


def node_of(context: str, copy: Path) -> str:
    """``tests.core.shop.test_x.test_y`` as pytest names it."""
    module, _, function = context.rpartition(".")
    path = module.replace(".", "/") + ".py"
    return f"{path}::{function}" if (copy / path).exists() else ""


def survives(m: Mutant, copy: Path, tests: list[str], env: dict[str, str], python: str) -> bool:
    """Whether the tests stay green with this change."""
    path = copy / m.file
    text = path.read_text()
    path.write_text(m.applied(text))
    try:
        done = subprocess.run(
            [python, "-B", "-m", "pytest", "-x", "-qq", "-p", "no:cacheprovider", *tests],
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
    parser.add_argument("--keep", default="", help="a folder that keeps the copy and which test ran where")
    args = parser.parse_args()
    copy = Path(args.keep or tempfile.mkdtemp(prefix="incudo-mutants-"))
    for part in ("src", "tests"):
        shutil.rmtree(copy / part, ignore_errors=True)
        shutil.copytree(ROOT / part, copy / part, ignore=shutil.ignore_patterns("__pycache__"))
    for part in ("pyproject.toml", "docs", "web", "incudo"):
        if not (copy / part).exists():
            (copy / part).symlink_to(ROOT / part)
    env = os.environ | {"PYTHONPATH": str(copy / "src"), "INCUDO_TEST_SHOP": str(copy / "shop"), "CI": ""}
    (copy / "shop").mkdir(exist_ok=True)
    python = sys.executable
    suites = tuple(dict.fromkeys(s for room in args.rooms for s in SUITES[room.split("/")[0]]))
    known = copy / "ran.json"
    if args.keep and known.exists():
        ran = {f: {int(n): set(c) for n, c in lines.items()} for f, lines in json.loads(known.read_text()).items()}
    else:
        ran = ran_through(copy, suites, env, python)
        known.write_text(json.dumps({f: {n: sorted(c) for n, c in lines.items()} for f, lines in ran.items()}))
    every = [
        m
        for room in args.rooms
        for p in sorted((copy / "src/incudo" / room).rglob("*.py"))
        for m in mutants_of(p.relative_to(copy).as_posix(), p.read_text())
    ]
    drawn = random.Random(args.seed).sample(every, min(args.number, len(every)))
    print(f"{len(drawn)} of {len(every)} possible changes", flush=True)
    left = 0
    for n, m in enumerate(drawn, 1):
        lines = ran.get(m.file, {})
        through = lines.get(m.line) or set().union(*lines.values())
        tests = sorted({node for c in through if (node := node_of(c, copy))}, key=lambda x: ("tests/core" not in x, x))
        if not tests or survives(m, copy, tests, env, python):
            left += 1
            text = (copy / m.file).read_text()
            told = text.splitlines()[m.line - 1].strip()
            print(f"SURVIVED {m.file}:{m.line} {text[m.start : m.end]} -> {m.new or 'nothing'}   {told}", flush=True)
        if n % 20 == 0:
            print(f"{n}: {left} survived, {100 * left / n:.0f} %", flush=True)
    print(f"{left} of {len(drawn)} changes survived, {100 * left / max(1, len(drawn)):.1f} %")


if __name__ == "__main__":
    main()
