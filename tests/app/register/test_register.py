"""The register of safety: one unbroken chain whoever writes, and every way of breaking it is found."""

from __future__ import annotations

import json
import threading
import uuid
from collections.abc import Callable, Iterator
from datetime import UTC
from uuid import UUID

import pytest
from sqlalchemy import create_engine, text

from incudo.app.kernel.unit import Unit, Who
from incudo.app.register import chain
from incudo.app.register.chain import state, verify, words_of
from incudo.app.shop.tags import IncidentCommand, IncidentKind, report_incident
from incudo.core.people.roles import Role
from incudo.core.register.chain import Entry, seal
from incudo.demo.load import key
from incudo.store.kernel.database import open_engine
from tests.shop import TestShop, new_id

WRITERS, EACH = 8, 12
ORLA = Who(key("person", "orla"), "Orla Finnis", Role.STUDENT)
Sql = Callable[..., None]


def near_miss(unit: Unit, words: str) -> None:
    command = IncidentCommand(id=uuid.uuid4(), kind=IncidentKind.NEAR_MISS, what=f"near miss number {words}")
    unit.run(lambda w: report_incident(w, ORLA, command))


def test_eight_writers_at_once_leave_one_unbroken_chain(shop: TestShop) -> None:
    before = shop.haldane.get("/api/register")["entries"]
    engine = open_engine(str(shop.unit.engine.url.render_as_string(hide_password=False)))
    unit = Unit(engine, shop.clock, shop.unit.key, shop.unit.on_head)
    failed: list[BaseException] = []

    def write(n: int) -> None:
        try:
            for i in range(EACH):
                near_miss(unit, f"{n}-{i}")
        except BaseException as error:
            failed.append(error)

    threads = [threading.Thread(target=write, args=(n,)) for n in range(WRITERS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failed == []
    engine.dispose()
    found = shop.haldane.get("/api/register")
    assert found["breaks"] == []
    assert found["entries"] == found["taken_away"] == before + WRITERS * EACH


@pytest.fixture
def shop(shop_apart: TestShop) -> TestShop:
    """A shop whose register may be left in any state."""
    return shop_apart


@pytest.fixture
def tamper(shop: TestShop) -> Iterator[Sql]:
    """Runs SQL as the owner of the database, which the application cannot; undoes it afterwards."""
    engine = create_engine(shop.owner_url)
    tables = ("register_entry", "sign_off")
    with engine.begin() as c:
        for t in tables:
            c.execute(text(f"CREATE TABLE kept_{t} AS SELECT * FROM {t}"))

    def run(statement: str, **values: object) -> None:
        with engine.begin() as connection:
            connection.execute(text(statement), values)

    yield run
    with engine.begin() as c:
        for t in tables:
            c.execute(text(f"DELETE FROM {t}"))
            c.execute(text(f"INSERT INTO {t} SELECT * FROM kept_{t}"))
            c.execute(text(f"DROP TABLE kept_{t}"))
    engine.dispose()


def checked(shop: TestShop) -> list[str]:
    """Every break of the whole register against itself and its rows alone."""
    return shop.unit.run(lambda w: [words_of(b) for b in verify(w, ())])


def walked(shop: TestShop) -> list[str]:
    """The whole register, checked step by step as the page does it."""
    at = shop.thorley.post("/api/register/walk", {"restart": True})
    while not at["done"] and not at["breaks"]:
        before = at["seq"]
        at = shop.thorley.post("/api/register/walk", {})
        assert at["seq"] > before
    return list(at["breaks"])


def test_an_untouched_register_holds(shop: TestShop) -> None:
    seen = shop.thorley.get("/api/register")
    assert seen["holds"], seen["breaks"]
    assert seen["taken_away"] == seen["entries"], "each head was written outside the database"


def test_a_changed_row_is_found(shop: TestShop, tamper: Sql) -> None:
    tamper("UPDATE sign_off SET note = 'never seen' ORDER BY at LIMIT 1")
    assert "sign_off was changed in the records: note" in checked(shop)[0]
    assert walked(shop) == checked(shop)
    assert not shop.haldane.get("/api/register")["holds"], "and the page of records says so from then on"


def test_a_changed_entry_is_found(shop: TestShop, tamper: Sql) -> None:
    tamper("UPDATE register_entry SET content = REPLACE(content, 'shown', 'shewn') WHERE seq = 40")
    assert any(b.startswith("entry 40: was changed") for b in checked(shop))


def test_a_row_that_was_slipped_in_is_found(shop: TestShop, tamper: Sql) -> None:
    tamper("DELETE FROM register_entry WHERE seq = (SELECT m FROM (SELECT MAX(seq) m FROM register_entry) x)")
    assert "in the records but not in the register" in checked(shop)[-1]


def test_where_a_check_ended_is_not_believed_unsealed(shop: TestShop, tamper: Sql) -> None:
    """Who can write the mark but has not the key cannot make a look begin behind what was changed."""
    assert walked(shop) == []
    tamper("UPDATE sign_off SET note = 'never seen' ORDER BY at LIMIT 1")
    tamper("UPDATE register_checked SET seal = REPEAT('0', 64)")
    assert [b for b in shop.unit.run(lambda w: state(w, ())).breaks if "was changed in the records: note" in b]


def test_a_shortened_register_is_found_by_its_heads(shop: TestShop, tamper: Sql) -> None:
    seen = shop.thorley.get("/api/register")
    tamper("DELETE FROM register_entry WHERE seq > :n", n=seen["entries"] - 3)
    state_now = shop.thorley.get("/api/register")
    assert any(f"shortened: it once reached entry {seen['entries']}" in b for b in state_now["breaks"])


def test_a_wholly_recomputed_chain_is_found(shop: TestShop, tamper: Sql) -> None:
    """Somebody owns the database, changes a sign-off and computes every hash anew; the key they have not."""
    tamper("UPDATE sign_off SET note = 'never seen' ORDER BY at LIMIT 1")
    engine = create_engine(shop.owner_url)
    with engine.begin() as c:
        changed = c.execute(text("SELECT id FROM sign_off WHERE note = 'never seen'")).scalar_one()
        rows = c.execute(text("SELECT seq, entry_id, kind, at, content FROM register_entry ORDER BY seq")).all()
        previous = "0" * 64
        for seq, entry_id, kind, at, content in rows:
            data = json.loads(content)
            if entry_id == changed and kind == "sign_off":
                data["note"] = "never seen"
            made = seal(
                Entry(seq, str(UUID(str(entry_id))), kind, at.replace(tzinfo=UTC), data), previous, "guessed key"
            )
            c.execute(
                text("UPDATE register_entry SET content=:c, previous=:p, digest=:d, seal=:s WHERE seq=:n"),
                {"c": json.dumps(data), "p": previous, "d": made.digest, "s": made.seal, "n": seq},
            )
            previous = made.digest
    engine.dispose()
    found = checked(shop)
    assert found[0] == "entry 1: was recomputed: its seal was not made with the shop's key"


def test_a_near_miss_without_a_name_names_nobody(shop: TestShop) -> None:
    student = shop.ready_student()
    told = {"id": new_id(), "kind": "near_miss", "what": "the key was still in the chuck", "with_name": False}
    student.post("/api/incidents", told)
    student.fails(422, "/api/incidents", told | {"id": new_id(), "kind": "incident"})
    page = shop.thorley.get("/api/registers/safety")
    entry = next(e for e in page["entries"] if e["id"] == told["id"])
    assert (entry["by"], entry["student"]) == ("without a name", "")
    with shop.unit.engine.connect() as c:
        kept = c.execute(text("SELECT content FROM register_entry WHERE kind = 'near_miss'")).scalars().all()
    assert not any(student.id in content for content in kept), "nowhere, not even in the register"


def test_what_came_since_the_last_check_is_checked_at_every_look(
    shop: TestShop, tamper: Sql, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(chain, "STEP", 200)
    assert walked(shop) == []
    seen = shop.thorley.get("/api/register")
    assert (seen["whole_entries"], seen["checked_from"]) == (seen["entries"], seen["entries"])
    assert not shop.thorley.post("/api/register/walk", {})["done"], "going on after the end begins anew"
    near_miss(shop.unit, "after the check")
    looked = shop.thorley.get("/api/register")
    assert (looked["holds"], looked["checked_from"]) == (True, seen["entries"])
    near_miss(shop.unit, "and another")
    tamper(
        "UPDATE register_entry SET content = REPLACE(content, 'another', 'nothing') WHERE seq = :n",
        n=seen["entries"] + 2,
    )
    again = shop.thorley.get("/api/register")
    assert [b for b in again["breaks"] if b.startswith(f"entry {seen['entries'] + 2}: was changed")]
    assert not again["holds"]
    tamper("DELETE FROM register_entry WHERE seq = :n", n=seen["entries"] + 2)
    assert [b for b in shop.unit.run(lambda w: state(w, ())).breaks if "in the records but not in the register" in b]
