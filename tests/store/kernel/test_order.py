"""Rows of one moment come in one order: every order of a query ends with something that is each row's own."""

from __future__ import annotations

import ast
from pathlib import Path

import incudo.store

#: Keys of one column, and numbers that are counted within what the query is narrowed to.
OWN = {"id", "key", "seq", "number", "run_id", "setup_id", "bank", "student_id", "characteristic"}


def last_columns() -> dict[str, str]:
    """Where an order is given in the store, with the column that comes last in it."""
    root = Path(incudo.store.__file__).parent
    found = {}
    for path in sorted(root.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "order_by":
                last = node.args[-1]
                while isinstance(last, ast.Call) and isinstance(last.func, ast.Attribute):
                    last = last.func.value
                if isinstance(last, ast.Attribute):
                    found[f"{path.relative_to(root)}:{node.lineno}"] = last.attr
    return found


def test_no_order_is_left_to_the_database() -> None:
    found = last_columns()
    assert len(found) > 60
    assert {place: column for place, column in found.items() if column not in OWN} == {}
