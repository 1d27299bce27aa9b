"""Changes the rules on purpose and sees whether a test notices: ``python -m tests.mutants core app --number 200``.

Works on a copy of the project in a temporary folder, never on the project itself. A change is one comparison moved
to its other side or across its bound, one constant doubled or stepped, one ``and`` for ``or``, one ``not`` left out.
Which tests walk over which line is found out once (``--seen FOLDER`` keeps it; needs ``pip install pytest-cov``). For
each change those tests are run, the quickest first, or all of its room if there are none; none red means that it
survived. A change inside a function is made in a child of a process that has read everything in already, which takes
a second (with a shop of its own, five); what survives there, and every other change, is made in a copy and run anew.
"""

from __future__ import annotations

import argparse
import ast
import functools
import gc
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
import xml.etree.ElementTree as ElementTree
from collections import defaultdict
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from queue import SimpleQueue
from types import CodeType, FunctionType

import pytest

ROOT = Path(__file__).resolve().parent.parent
#: Which sign stands for which comparison, and what it is changed to.
SIGNS = {ast.Lt: ("<", "<="), ast.LtE: ("<=", "<"), ast.Gt: (">", ">="), ast.GtE: (">=", ">"), ast.Eq: ("==", "!=")}
#: A bound as small as this, or of such a name, is for rounding and nothing lies just on it: there the comparison is
#: turned round, and the bound itself made a thousand times as wide.
ROUNDING, ROUNDINGS, WIDER = 1e-3, {"TINY", "CLOSE", "_NOTHING", "_SAME", "_UNDER"}, 1000
TURNED = {"<": ">=", "<=": ">", ">": "<=", ">=": "<"}
#: What is 1 or -1, or a number by chance: it never lies on the bound that it is held against.
NEVER_MET = re.compile(r"\b(out|sign|way|side|sense|flip)$|\.random\(\)$")
JOINTS = {ast.And: ("and", "or"), ast.Or: ("or", "and")}
#: Folders and files that only draw.
DRAWN = {"drawing", "looks", "scene", "picture"}
#: Seconds after which a change counts as noticed: what was reckoned does not end any more.
PATIENCE = 300
#: Seconds that the tests of one change may take in a child.
QUICK = 20.0
#: How many tests are asked first.
FIRST = 40
#: The mark of code that is a function's, not a module's or a class's.
OPTIMIZED = 1
QUIET = ("-x", "-qq", "-p", "no:cacheprovider")
STANDARD = ("-m", "not long")


@dataclass(frozen=True)
class Mutant:
    """One change of one place in one file."""

    file: str
    line: int
    start: int
    end: int
    new: str
    #: The name of the constant it changes, if it changes one.
    limit: str = ""

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
            sign, moved = SIGNS[type(node.ops[0])]
            turned = sign in TURNED and (_is_rounding(node.comparators[0]) or NEVER_MET.search(ast.unparse(node.left)))
            yield from between(node.left, node.comparators[0], sign, TURNED[sign] if turned else moved)
        elif isinstance(node, ast.BoolOp):
            for left, right in zip(node.values, node.values[1:], strict=False):
                yield from between(left, right, *JOINTS[type(node.op)])
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            a = at(node.lineno, node.col_offset)
            yield Mutant(file, node.lineno, a, a + len("not "), "")
        elif node in limits and isinstance(node, ast.Constant) and isinstance(node.value, int | float):
            a, b = at(node.lineno, node.col_offset), at(node.end_lineno or 0, node.end_col_offset or 0)
            more = node.value * (WIDER if _is_rounding(node) else 2)
            new = node.value + 1 if isinstance(node.value, int) else more
            yield Mutant(file, node.lineno, a, b, repr(new), limits[node])


def _is_rounding(bound: ast.expr) -> bool:
    if isinstance(bound, ast.BinOp):
        return _is_rounding(bound.right)
    if isinstance(bound, ast.Name):
        return bound.id in ROUNDINGS
    return isinstance(bound, ast.Constant) and isinstance(bound.value, float) and 0 < bound.value <= ROUNDING


def named_limits(tree: ast.Module) -> dict[ast.AST, str]:
    """The numbers of constants that stand by name in a module, with that name: limits, thresholds, defaults."""
    found: dict[ast.AST, str] = {}
    for n in tree.body:
        if isinstance(n, ast.Assign | ast.AnnAssign) and n.value is not None and not isinstance(n.value, ast.Call):
            target = n.targets[0] if isinstance(n, ast.Assign) else n.target
            pairs = [(target, n.value)]
            if isinstance(target, ast.Tuple) and isinstance(n.value, ast.Tuple):
                pairs = list(zip(target.elts, n.value.elts, strict=True))
            for one, value in pairs:
                found |= dict.fromkeys(ast.walk(value), ast.unparse(one))
    return found


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


@dataclass(frozen=True)
class Seen:
    """Which tests walk over which line, and how long each takes."""

    folder: Path

    @cached_property
    def seconds(self) -> dict[str, float]:
        """Of each test, by ``file::name``."""
        found: dict[str, float] = {}
        for case in ElementTree.parse(self.folder / "times.xml").iter("testcase"):  # noqa: S314 (our own)
            file = case.get("classname", "").replace(".", "/") + ".py"
            found[f"{file}::{case.get('name')}"] = float(case.get("time", "0"))
        return found

    @cached_property
    def _lines(self) -> dict[str, dict[int, set[str]]]:
        from coverage import CoverageData

        data = CoverageData(str(self.folder / "coverage"))
        data.read()
        found: dict[str, dict[int, set[str]]] = {}
        for file in data.measured_files():
            where = found["src/incudo/" + file.rpartition("/src/incudo/")[2]] = defaultdict(set)
            for line, tests in data.contexts_by_lineno(file).items():
                where[line] = {t.rpartition("|")[0] for t in tests if "|" in t}
        return found

    def tests_of(self, m: Mutant, copy: Path) -> list[str]:
        """Those that walk over the changed line, or over a line that uses the changed constant; quickest first."""
        tests = self._lines.get(m.file, {}).get(m.line, set())
        if m.limit:
            tests = set()
            used = re.compile(rf"\b{re.escape(m.limit)}\b")
            for file, lines in self._lines.items():
                text = (copy / file).read_text() if (copy / file).exists() else ""
                if used.search(text):
                    for n, line in enumerate(text.splitlines(), 1):
                        tests = tests | lines.get(n, set()) if used.search(line) else tests
        found = sorted(tests, key=lambda t: (not t.startswith("tests/core"), self.seconds.get(t, 0), t))
        return [*_naming(m.limit), *found] if m.limit else found


def _naming(limit: str) -> list[str]:
    """Files of tests that name a constant themselves: they need not walk over a line that uses it."""
    named = re.compile(rf"\b{re.escape(limit)}\b")
    places = (ROOT / "tests" / layer for layer in ("core", "app", "api"))
    files = (p for place in places for p in sorted(place.rglob("test_*.py")) if named.search(p.read_text()))
    return [p.relative_to(ROOT).as_posix() for p in files]


def see(folder: Path) -> None:
    """Run the tests of core, store, app and api once and keep which of them walk over which line."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "coveragerc").write_text("[run]\nsource_pkgs = incudo\nomit = */launch/*,*/migrations/*\n")
    subprocess.run(
        [
            *(sys.executable, "-m", "pytest", "-n", "2", "--dist", "loadfile", *STANDARD),
            *("--cov=incudo", f"--cov-config={folder}/coveragerc", "--cov-context=test", "--cov-report="),
            *(f"--junitxml={folder}/times.xml", "tests/core", "tests/store", "tests/app", "tests/api"),
        ],
        cwd=ROOT,
        env=os.environ | {"COVERAGE_FILE": str(folder / "coverage")},
        check=True,
    )


def stages(m: Mutant, seen: Seen, copy: Path) -> Iterator[Sequence[str]]:
    """Which tests are asked, the likeliest to notice first: those that walk over it; without any, those of its room."""
    tests = seen.tests_of(m, copy)
    core = [t for t in tests if t.startswith("tests/core")]
    above = [t for t in tests if not t.startswith("tests/core")]
    yield from (core[:FIRST], core[FIRST:], above)
    _, _, layer, *rooms = Path(m.file).parent.parts
    if layer != "core":
        # bounds of what is sent stand in the document that the front end is made from
        yield ["tests/api/parts/test_parts.py::test_the_document_and_the_types_are_fresh"]
    if tests:
        return
    places = (Path("tests", x, *rooms[:1]) for x in {"core": ("core",), "app": ("app", "api")}.get(layer, (layer,)))
    yield [*STANDARD, *(str(x) for x in places if rooms and (ROOT / x).is_dir())]


def survives(m: Mutant, copy: Path, seen: Seen, env: dict[str, str]) -> bool:
    """Whether the tests stay green with this change."""
    path = copy / m.file
    text = path.read_text()
    path.write_text(m.applied(text))
    try:
        for tests in stages(m, seen, copy):
            if tests and tests[-1] not in STANDARD:
                done = subprocess.run(
                    [sys.executable, "-B", "-m", "pytest", *QUIET, *tests],
                    cwd=copy,
                    env=env,
                    capture_output=True,
                    timeout=PATIENCE,
                    check=False,
                )
                if done.returncode != 0:
                    return False
    except subprocess.TimeoutExpired:
        return False
    finally:
        path.write_text(text)
    return True


def swaps(m: Mutant, text: str) -> list[tuple[FunctionType, CodeType]]:
    """The functions that a change is in, as they were read in, each with its new code; empty if it is in none."""
    module = m.file.removeprefix("src/").removesuffix(".py").replace("/", ".").removesuffix(".__init__")
    pairs = list(_differing(compile(text, m.file, "exec"), compile(m.applied(text), m.file, "exec")))
    found = []
    for function in gc.get_objects():
        if isinstance(function, FunctionType) and function.__module__ == module:
            found += [(function, new) for old, new in pairs if new is not None and function.__code__ == old]
    return [] if any(new is None for _, new in pairs) else found


def _differing(old: CodeType, new: CodeType) -> Iterator[tuple[CodeType, CodeType | None]]:
    """Functions that differ between two versions of a module or a class; none beside what differs outside of one."""
    plain = [tuple(c for c in code.co_consts if not isinstance(c, CodeType)) for code in (old, new)]
    if old.co_code != new.co_code or plain[0] != plain[1]:
        yield old, None
    for one, two in zip(old.co_consts, new.co_consts, strict=False):
        if isinstance(one, CodeType) and isinstance(two, CodeType) and one != two:
            if one.co_flags & OPTIMIZED:
                yield one, two
            else:
                yield from _differing(one, two)


def noticed_in_a_child(m: Mutant, text: str, tests: Sequence[str]) -> bool:
    """Whether a child with the change goes red. Everything that the tests need has been read in by this process."""
    found = swaps(m, text)
    if not found or not tests:
        return False
    child = os.fork()
    if child == 0:
        nothing = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nothing, 1)
        os.dup2(nothing, 2)
        for function, code in found:
            function.__code__ = code
        for kept in gc.get_objects():
            if isinstance(kept, functools._lru_cache_wrapper):
                kept.cache_clear()
        os._exit(int(pytest.main([*QUIET, "-p", "no:xdist", *tests]) != 0))
    end = time.monotonic() + PATIENCE
    while time.monotonic() < end:
        done, status = os.waitpid(child, os.WNOHANG)
        if done:
            return status != 0
        time.sleep(0.02)
    os.kill(child, 9)
    os.waitpid(child, 0)
    return True


def tried_in_children(drawn: Sequence[Mutant], seen: Seen, copy: Path, workers: int) -> list[Mutant]:
    """The changes that no child noticed, in order."""
    layers = sorted(
        {f"tests/{m.file.split('/')[2]}" for m in drawn} | ({"tests/api", "tests/store"} if above(drawn) else set())
    )
    pytest.main([*QUIET, "-p", "no:xdist", "--collect-only", *layers])
    tests = {m: quick_of(m, seen, copy) for m in drawn}
    lists = [copy.parent / f"noticed-{worker}" for worker in range(workers)]
    started = []
    for worker, told in enumerate(lists):
        told.touch()
        if (process := os.fork()) == 0:
            for n, m in enumerate(drawn[worker::workers]):
                if noticed_in_a_child(m, (copy / m.file).read_text(), tests[m]):
                    with told.open("a") as out:
                        out.write(f"{worker + n * workers}\n")
            os._exit(0)
        started.append(process)
    for process in started:
        os.waitpid(process, 0)
    noticed = {int(line) for told in lists for line in told.read_text().split()}
    print(f"{len(noticed)} of {len(drawn)} noticed in children", flush=True)
    return [m for n, m in enumerate(drawn) if n not in noticed]


def above(drawn: Sequence[Mutant]) -> bool:
    """Whether a change is among them that core's tests alone cannot answer."""
    return any(not m.file.startswith("src/incudo/core/") for m in drawn)


def above_core(rooms: Sequence[str]) -> bool:
    """Whether changes are asked for in rooms that have a database under them."""
    return any(room.partition("/")[0] != "core" for room in rooms)


def quick_of(m: Mutant, seen: Seen, copy: Path) -> list[str]:
    """The quickest tests that can notice a change, as many as fit in so many seconds; of core's code, core's alone."""
    found, left = [], QUICK
    for test in seen.tests_of(m, copy):
        left -= seen.seconds.get(test, 0.0)
        if (test.startswith("tests/core") or above([m])) and left > 0:
            found.append(test)
    return found


def copied(at: Path) -> Path:
    """A copy of what the tests need."""
    at.mkdir()
    for part in ("src", "tests"):
        shutil.copytree(ROOT / part, at / part, ignore=shutil.ignore_patterns("__pycache__"))
    for part in ("pyproject.toml", "docs", "web", "incudo"):
        (at / part).symlink_to(ROOT / part)
    return at


def told(m: Mutant, copy: Path) -> str:
    """A change in a line: where, what, and what stands there."""
    text = (copy / m.file).read_text()
    return (
        f"{m.file}:{m.line} {text[m.start : m.end]} -> {m.new or 'nothing'}   {text.splitlines()[m.line - 1].strip()}"
    )


def main() -> None:
    """Read the command line, copy the project, make the changes one by one, print those that nothing noticed."""
    parser = argparse.ArgumentParser(prog="mutants")
    parser.add_argument("rooms", nargs="+", help="core, app, or a folder in them such as core/setup")
    parser.add_argument("--number", type=int, default=200, help="how many changes, drawn at random")
    parser.add_argument("--seed", default="1")
    parser.add_argument("--seen", type=Path, help="a folder that keeps which tests walk over which line")
    parser.add_argument("--limits", action="store_true", help="named limits, thresholds and defaults only")
    parser.add_argument("--children", action="store_true", help="only what children notice; nothing is tried anew")
    parser.add_argument("--workers", type=int, default=2)
    args = parser.parse_args()
    base = Path(tempfile.mkdtemp(prefix="incudo-mutants-"))
    seen = Seen(args.seen or base / "seen")
    if not (seen.folder / "times.xml").exists():
        see(seen.folder)
    os.environ.setdefault("INCUDO_TEST_SHOP", str(base / "shop"))
    Path(os.environ["INCUDO_TEST_SHOP"]).mkdir(exist_ok=True)
    if above_core(args.rooms):
        # loaded by the rules as they are, before anything is changed
        subprocess.run([sys.executable, "-m", "tests.loaded"], cwd=ROOT, check=True)
    copies: SimpleQueue[Path] = SimpleQueue()
    for n in range(args.workers):
        copies.put(copied(base / str(n)))
    every = [
        m
        for room in args.rooms
        for p in sorted((ROOT / "src/incudo" / room).rglob("*.py"))
        if not DRAWN & {*p.parts, *p.stem.split("_")}
        for m in mutants_of(p.relative_to(ROOT).as_posix(), p.read_text())
        if m.limit or not args.limits
    ]
    drawn = random.Random(args.seed).sample(every, min(args.number, len(every)))
    print(f"{len(drawn)} of {len(every)} possible changes", flush=True)

    def tried(m: Mutant) -> bool:
        copy = copies.get()
        try:
            return survives(m, copy, seen, os.environ | {"PYTHONPATH": str(copy / "src")})
        finally:
            copies.put(copy)

    rest = tried_in_children(drawn, seen, base / "0", args.workers)
    if args.children:
        for m in rest:
            print(told(m, base / "0"))
        return
    left = 0
    with ThreadPoolExecutor(args.workers) as pool:
        for n, (m, survived) in enumerate(zip(rest, pool.map(tried, rest), strict=True), 1):
            if survived:
                left += 1
                print(f"SURVIVED {told(m, base / '0')}", flush=True)
            if n % 20 == 0:
                print(f"{n} of {len(rest)} tried anew: {left} survived", flush=True)
    print(f"{left} of {len(drawn)} changes survived, {100 * left / max(1, len(drawn)):.1f} %")
    shutil.rmtree(base)


if __name__ == "__main__":
    main()
