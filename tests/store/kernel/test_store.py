"""What the database itself holds to: grants, versions, the schema, lost connections and races."""

from __future__ import annotations

import threading
import uuid
from datetime import timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
from alembic import command
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError

from incudo.app.kernel.unit import DatabaseAway, Unit
from incudo.core.kernel.quantity import MAX_DECIMALS, Length, to_decimal
from incudo.core.kernel.quantity import Unit as LengthUnit
from incudo.launch.mariadb import PrivateMariaDB
from incudo.store.kernel.database import open_engine
from incudo.store.kernel.migrate import alembic_config
from incudo.store.schema import Base
from tests.shop import M01, TestShop, reading

APPEND = [t.name for t in Base.metadata.sorted_tables if t.info["writes"] == "append"]
VERSIONED = [t.name for t in Base.metadata.sorted_tables if t.info["writes"] == "versioned"]


def test_readings_signatures_and_decisions_are_append_only() -> None:
    assert {"reading", "sign_off", "withdrawal", "decision", "finding", "hand_in"} <= set(APPEND)


@pytest.mark.parametrize("table", APPEND)
@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE `{t}` SET `{c}` = `{c}`",
        "DELETE FROM `{t}`",
        "TRUNCATE `{t}`",
        "DROP TABLE `{t}`",
        "ALTER TABLE `{t}` ADD x INT",
    ],
    ids=lambda s: s.split()[0],
)
def test_the_applications_account_cannot_change_the_past(shop: TestShop, table: str, statement: str) -> None:
    column = next(iter(Base.metadata.tables[table].columns)).name
    with shop.unit.engine.connect() as connection, pytest.raises(DBAPIError) as refused:
        connection.execute(text(statement.format(t=table, c=column)))
    assert refused.value.orig.args[0] == 1142, "command denied by the server"  # type: ignore[union-attr]


def test_nor_can_it_by_cascade_or_by_another_table(shop: TestShop) -> None:
    """Deleting a person who has readings is refused, not passed on."""
    with shop.unit.engine.connect() as connection, pytest.raises(DBAPIError):
        connection.execute(text("DELETE FROM person WHERE login = 'orla'"))


@pytest.mark.parametrize("table", VERSIONED)
def test_what_changes_keeps_its_history(database: PrivateMariaDB, table: str) -> None:
    engine = create_engine(database.owner_url)
    with engine.connect() as connection:
        made = connection.execute(text(f"SHOW CREATE TABLE `{table}`")).one()[1]
    engine.dispose()
    assert "WITH SYSTEM VERSIONING" in made


def test_what_did_this_say_on_that_day(shop: TestShop) -> None:
    with shop.unit.engine.connect() as c:
        before = c.execute(text("SELECT NOW(6)")).scalar_one()
        was = c.execute(text("SELECT about FROM machine WHERE name = 'Petrel'")).scalar_one()
        c.execute(text("UPDATE machine SET about = 'new screws' WHERE name = 'Petrel'"))
        c.commit()
        then = text("SELECT about FROM machine FOR SYSTEM_TIME AS OF TIMESTAMP :t WHERE name = 'Petrel'")
        assert c.execute(then, {"t": before}).scalar_one() == was
        c.execute(text("UPDATE machine SET about = :w WHERE name = 'Petrel'"), {"w": was})
        c.commit()


def test_migrations_make_exactly_the_schema_of_the_code(database: PrivateMariaDB) -> None:
    command.check(alembic_config(database.owner_url))


digits = st.decimals(min_value=Decimal("-9999"), max_value=Decimal("9999"), places=MAX_DECIMALS)


@settings(max_examples=40, deadline=None)
@given(digits.map(lambda d: f"{d:f}"), st.sampled_from(LengthUnit))
def test_the_stored_millimetres_lose_no_digit(shop_engine: Any, typed: str, unit: LengthUnit) -> None:
    exact = Length(typed, unit).mm
    stored = to_decimal(exact, 8)
    assert Fraction(stored) == exact
    with shop_engine.connect() as c:
        back = c.execute(text("SELECT CAST(:x AS DECIMAL(16,8))"), {"x": stored}).scalar_one()
    assert Fraction(back) == exact


@pytest.fixture(scope="module")
def shop_engine(whole_shop: TestShop) -> Any:
    return whole_shop.unit.engine


def test_lost_connections_are_done_again(shop: TestShop) -> None:
    """Kill the connection under a use case: it runs again and its effect is there once."""
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    killed = []

    def use_case(w: Any) -> str:
        number = w.db.execute(text("SELECT CONNECTION_ID()")).scalar_one()
        if not killed:
            killed.append(number)
            with shop.unit.engine.connect() as other:
                other.execute(text(f"KILL {number}"))
            w.db.execute(text("SELECT 1"))
        return "done"

    assert shop.unit.run(use_case) == "done"
    assert student.read(attempt, 3, "0.9981", M01)


def test_a_database_that_is_away_is_said_so(shop: TestShop) -> None:
    nowhere = Unit(open_engine("mariadb+pymysql://nobody:x@127.0.0.1:9/none"))
    with pytest.raises(DatabaseAway):
        nowhere.run(lambda w: w.db.execute(text("SELECT 1")))


def test_the_same_reading_from_eight_devices_at_once_is_saved_once(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    body = reading(3, "0.9981", M01)
    answers: list[int] = []

    def send() -> None:
        client = shop.app.test_client()
        cookie = student.client.get_cookie("incudo_session")
        assert cookie is not None
        client.set_cookie("incudo_session", cookie.value)
        headers = {"X-Incudo-Token": student.me["token"]}
        path = f"/api/attempts/{attempt}/readings"
        answers.append(client.post(path, json=body, headers=headers).status_code)

    threads = [threading.Thread(target=send) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert answers == [200] * 8
    card = student.get(f"/api/job-cards/{assignment}")
    assert len(card["characteristics"][2]["readings"]) == 1


def test_ids_from_the_client_are_kept(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    body = reading(3, "0.9981", M01)
    student.post(f"/api/attempts/{attempt}/readings", body)
    with shop.unit.engine.connect() as c:
        query = text("SELECT text, unit, value_mm FROM reading WHERE id = :i")
        row = c.execute(query, {"i": str(uuid.UUID(body["id"]))}).one()
    assert tuple(row) == ("0.9981", "in", Decimal("25.35174000"))


def test_a_moment_comes_back_as_it_went_in(shop: TestShop) -> None:
    shop.clock.ahead = timedelta(hours=3)
    student = shop.ready_student()
    now = shop.clock()
    skills = student.get(f"/api/students/{student.id}/skills")["skills"]
    signed = skills[0]["events"][0]["at"]
    assert signed.endswith("Z")
    assert abs((shop.clock() - now).total_seconds()) < 60
    assert signed[:13] == now.isoformat()[:13]
