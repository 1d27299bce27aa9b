"""A shop of the first schema, with rows in every table, is brought up step by step: nothing that was there is lost."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from datetime import UTC, date, datetime
from typing import Any

import pytest
from alembic import command
from sqlalchemy import Column, Connection, MetaData, Table, create_engine, insert, select, text
from sqlalchemy import types as sql

from incudo.launch.mariadb import APP_ACCOUNT, PrivateMariaDB, Secrets
from incudo.store.kernel.migrate import alembic_config, migrate, steps_after

ROWS = 3
#: Not ours: what the migrations keep of themselves.
OWN = {"alembic_version", "migration_begun"}
#: What a column must hold for a migration to read it; everything else is made up by its type.
MEANT: dict[tuple[str, str], list[str]] = {
    ("person", "role"): ["instructor", "student", "assistant"],
    ("instrument", "tagged_out"): ["", "dropped", ""],
    ("machine", "tagged_out"): ["belt slips", "", ""],
    ("exercise_answer", "unit"): ["1/min", "mm", "in"],
    ("material", "content"): [
        json.dumps({"ranges": [{"operation": "milling", "f_low": "0.05", "f_high": f"0.{n + 1}"}]}) for n in range(ROWS)
    ],
}
#: Tables that got another name.
RENAMED = {"lost_motion": "measured_backlash"}
#: Columns whose values a migration changes, on purpose.
CHANGED = {("material", "content"), ("exercise_answer", "unit"), ("reckoned", "content")}


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[PrivateMariaDB]:
    database = PrivateMariaDB(tmp_path_factory.mktemp("old") / "mariadb", 0, Secrets("owner-secret", "app-secret"))
    database.install()
    database.start()
    yield database
    database.stop()


def made_up(table: Table, column: Column[Any], number: int) -> Any:
    """A value that its type can hold, another one for each row."""
    if (table.name, column.name) in MEANT:
        return MEANT[table.name, column.name][number]
    kind = column.type
    if isinstance(kind, (sql.Uuid, sql.CHAR)) and getattr(kind, "length", 32) in (None, 32, 36):
        return uuid.uuid5(uuid.NAMESPACE_OID, f"{table.name}.{column.name}.{number}").hex
    if isinstance(kind, sql.String):
        whole = f"{column.name} {number}"
        return whole[-kind.length :] if kind.length else json.dumps({"text": whole})
    if isinstance(kind, sql.DateTime):
        return datetime(2025, 1, 1 + number, 18, 0, tzinfo=UTC).replace(tzinfo=None)
    if isinstance(kind, sql.Date):
        return date(2025, 1, 1 + number)
    if isinstance(kind, (sql.Integer, sql.Numeric)):
        # MariaDB's truth is a number of one digit
        return number % 2 if getattr(kind, "display_width", None) == 1 else number + 1
    if kind.python_type is bytes:
        return bytes([number, 0, 255])
    raise AssertionError(f"{table.name}.{column.name}: {kind!r}")


def fill(db: Connection, tables: MetaData, filled: dict[str, list[dict[str, Any]]]) -> None:
    """Rows for every table that is new; what a row rests on is the row of the same number."""
    for table in tables.sorted_tables:
        if table.name in OWN or table.name in filled:
            continue
        rows = []
        for number in range(ROWS):
            row = {}
            for column in table.columns:
                if column.name in ("row_start", "row_end"):
                    continue
                keys = [k.column for k in column.foreign_keys]
                if keys and keys[0].table is table:
                    row[column.name] = None
                elif keys:
                    row[column.name] = filled[keys[0].table.name][number][keys[0].name]
                else:
                    row[column.name] = made_up(table, column, number)
            rows.append(row)
        db.execute(insert(table), rows)
        filled[table.name] = rows


def reflected(db: Connection) -> MetaData:
    tables = MetaData()
    tables.reflect(db)
    return tables


def test_nothing_is_lost_on_the_way_from_the_first_schema_to_this_one(server: PrivateMariaDB) -> None:
    engine = create_engine(server.owner_url)
    filled: dict[str, list[dict[str, Any]]] = {}
    steps = [s.revision for s in steps_after("")]
    assert steps[0] == "0001"
    with engine.begin() as db:
        db.execute(text("DROP DATABASE incudo"))
        db.execute(text("CREATE DATABASE incudo"))
    engine.dispose()
    for revision in steps:
        command.upgrade(alembic_config(server.owner_url), revision)
        with engine.begin() as db:
            fill(db, reflected(db), filled)
    migrate(server.owner_url, APP_ACCOUNT)
    with engine.connect() as db:
        tables = reflected(db).tables
        had = {RENAMED.get(name, name): rows for name, rows in filled.items()}
        assert set(had) == set(tables) - OWN, "every table had rows, and none was dropped with what it held"
        for name, rows in had.items():
            table = tables[name]
            there = [dict(r._mapping) for r in db.execute(select(table))]
            keys = [c.name for c in table.primary_key.columns if c.name in rows[0]]
            for row in rows:
                found = [x for x in there if all(plain(x[k]) == plain(row[k]) for k in keys)]
                assert len(found) == 1, (name, row)
                for column in row.keys() & found[0].keys():
                    if (name, column) not in CHANGED:
                        assert plain(found[0][column]) == plain(row[column]), (name, column)
        (material,) = [r for r in db.execute(select(tables["material"])).all() if '0.3"' in str(r) or "-0.3" in str(r)]
        assert '"chart"' in str(material), "what a migration changes on purpose is changed"
    engine.dispose()


def test_materials_of_one_name_are_told_apart_before_no_two_may_have_one(server: PrivateMariaDB) -> None:
    """Three of one name, renamed to it at one moment: rows of the past that end together must not clash either."""
    engine = create_engine(server.owner_url)
    with engine.begin() as db:
        db.execute(text("DROP DATABASE incudo"))
        db.execute(text("CREATE DATABASE incudo"))
    engine.dispose()
    command.upgrade(alembic_config(server.owner_url), "0025")
    made = [
        {"k": key, "name": name, "content": json.dumps({"material": {"key": key, "name": name}, "ranges": []})}
        for key, name in (("brass-a", "Brass"), ("brass-b", "Brass"), ("brass-c", "Brass"), ("bronze", "Bronze"))
    ]
    with engine.begin() as db:
        sent = "INSERT INTO material (`key`, name, place, content) VALUES (:k, 'as it was', 1, :content)"
        db.execute(text(sent), made)
    with engine.begin() as db:
        # in one transaction: their rows of the past end at one moment
        db.execute(text("UPDATE material SET name = :name WHERE `key` = :k"), made)
    migrate(server.owner_url, APP_ACCOUNT)
    with engine.connect() as db:
        found = db.execute(text("SELECT `key`, name, JSON_VALUE(content, '$.material.name') FROM material")).all()
    engine.dispose()
    names = {key: name for key, name, _ in found}
    assert (names["brass-a"], names["bronze"], len(set(names.values()))) == ("Brass", "Bronze", 4)
    assert all(name.startswith("Brass") for key, name in names.items() if key != "bronze")
    assert all(name == inside for _, name, inside in found), "row and content say the same"


def plain(value: Any) -> str:
    """As both sides would write it: a number without its last zeros, an id without dashes, a sentence unpacked."""
    if isinstance(value, uuid.UUID):
        return value.hex
    if isinstance(value, str) and value.startswith('{"say": '):
        return str(json.loads(value)["say"])
    text_of = str(value)
    return text_of.rstrip("0").rstrip(".") if "." in text_of and text_of.replace(".", "").isdigit() else text_of
