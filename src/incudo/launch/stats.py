"""``./incudo stats``: lines of code, lines of tests, and their ratio. Blank lines do not count."""

from __future__ import annotations

from pathlib import Path

from incudo.launch.configuration import ROOT

_ENDINGS = {".py", ".ts", ".tsx", ".css", ".html", ".js", ""}


def _lines(path: Path) -> int:
    return sum(1 for line in path.read_text(errors="replace").splitlines() if line.strip())


def _count(*places: str, without: tuple[str, ...] = ()) -> int:
    total = 0
    for place in places:
        start = ROOT / place
        files = [start] if start.is_file() else sorted(start.rglob("*"))
        for path in files:
            made = any(part in path.as_posix() for part in without) or "__pycache__" in path.parts
            if path.is_file() and path.suffix in _ENDINGS and not made:
                total += _lines(path)
    return total


def print_stats() -> None:
    """Print the table."""
    generated = ("migrations/versions", "schema.d.ts", ".egg-info")
    rows = [
        (f"src/incudo/{room}", _count(f"src/incudo/{room}", without=generated))
        for room in ("core", "app", "store", "api", "demo", "launch")
    ]
    rows.append(("web/src", _count("web/src", without=generated)))
    rows.append(("incudo (launcher)", _count("incudo")))
    code, tests = sum(n for _, n in rows), _count("tests", "web/tests")
    for name, n in rows:
        print(f"{name:<22}{n:>7}")
    print(f"{'code':<22}{code:>7}\n{'tests':<22}{tests:>7}")
    print(f"tests are {100 * tests / (code + tests):.0f} % of all code lines (wanted: 25 to 33)")
