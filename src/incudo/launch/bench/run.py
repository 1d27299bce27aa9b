"""``incudo bench``: the college, the table, and where it is written."""

from __future__ import annotations

from pathlib import Path

from incudo.launch.bench.load import open_college
from incudo.launch.bench.measure import Bench, Measured, operations, quiet
from incudo.launch.bench.people import run_people
from incudo.launch.processes import collect_seldom

HEAD = ("operation", "p50 ms", "p95 ms", "budget", "SQL alone ms", "queries", "answer kB", "memory +MB")


def run_bench(*, fresh: bool, only: str, into: str, statements: int, load: float, pages: int) -> int:
    """Measure every operation and print the table; 1 when a budget is not met."""
    # as the web server does
    collect_seldom()
    supervisor = open_college(lambda x: print(f"  {x}", flush=True), fresh=fresh)
    try:
        if load:
            return run_people(supervisor, load, pages)
        bench = Bench(supervisor)
        found = []
        for operation in operations(bench.some):
            if only.lower() in operation.name.lower():
                with quiet():
                    found.append(bench.measure(operation))
                print(f"  {_line(found[-1])}", flush=True)
                for ms, statement in bench.slowest(statements):
                    print(f"    {ms:8.1f} ms  {statement[:2000]}")
    finally:
        supervisor.stop()
    table = "\n".join([_row(HEAD), _row(["---", *["--:"] * (len(HEAD) - 1)]), *(_line(m) for m in found)])
    print(f"\n{table}")
    if into:
        Path(into).write_text(f"{table}\n")
    return int(any(m.operation.budget and m.at(0.95) > m.operation.budget for m in found))


def _line(m: Measured) -> str:
    budget = f"{m.operation.budget:.0f}" if m.operation.budget else ""
    cells = (f"{m.at(0.5):.1f}", f"{m.at(0.95):.1f}", budget, f"{m.bare:.1f}", f"{m.queries}", f"{m.body / 1000:.1f}")
    return _row((m.operation.name, *cells, f"{m.grown:.1f}"))


def _row(cells: object) -> str:
    return f"| {' | '.join(cells)} |"  # type: ignore[arg-type]
