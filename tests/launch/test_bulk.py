"""Rows in bulk are what the same rows would be through the schema: a column that is not given has its default."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime
from pathlib import Path

from incudo.launch.bench.bulk import Bulk
from incudo.store import schema as t


def test_a_row_has_its_defaults_and_its_letters_are_escaped(tmp_path: Path) -> None:
    bulk, ident, at = Bulk(tmp_path), uuid.uuid4(), datetime(2026, 3, 1, 18, 5, 0, 250, UTC)
    bulk.add(t.Reading, id=ident, text="1.0", why="a\tb\\c\nd", late=False, measured_at=at)
    for file in bulk._files.values():
        file.close()
    (line,) = (tmp_path / "reading.tsv").read_text().splitlines()
    row = dict(zip(bulk._columns[t.Reading], line.split("\t"), strict=True))
    assert row["element"] == "", "not NULL: the column has a default"
    assert row["verdict"] == r"\N"
    assert (row["id"], row["late"], row["why"]) == (str(ident), "0", r"a\tb\\c\nd")
    assert row["measured_at"] == "2026-03-01 18:05:00.000250"
    assert bulk.counts == {"reading": 1}
