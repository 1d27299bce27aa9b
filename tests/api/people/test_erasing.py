"""A former student is erased: nothing of theirs is left but what must stay, and nothing of anybody else is touched."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from typing import Any

import pytest
from sqlalchemy import Connection, create_engine, text

from incudo.app.kernel.unit import Unit
from incudo.app.people.erasing import erase
from incudo.app.register.chain import verify
from incudo.core.kernel.errors import Refused
from incudo.launch.erase import erase_in
from incudo.store import schema as t
from incudo.store.kernel.database import open_engine
from incudo.store.people import erasure
from incudo.store.people.own_data import people_in
from tests.api.people.test_own_data import NAMING
from tests.shop import PINS, TUESDAY, TestShop

#: In these only who teaches stands.
OF_WHO_TEACHES = {
    "supervision",
    "meeting",
    "meeting_machine",
    "exercise_sheet",
    "exercise_sheet_end",
    "rig_exercise",
    "shop_act",
    "project_version",
    "project_shelving",
    "gauge_check",
    "bank_version",
    "delegation",
    "study",
    "study_end",
    "machine_photo",
}


@pytest.fixture(scope="module")
def owner(shop_apart: TestShop) -> Iterator[Unit]:
    engine = open_engine(shop_apart.owner_url)
    yield Unit(engine, shop_apart.clock, shop_apart.unit.key, shop_apart.unit.on_head)
    engine.dispose()


@pytest.fixture
def db(shop_apart: TestShop) -> Iterator[Connection]:
    engine = create_engine(shop_apart.owner_url)
    with engine.connect() as connection:
        yield connection
    engine.dispose()


def named(db: Connection, person: str) -> dict[str, int]:
    """How many rows of each table name somebody, by the database's own word."""
    found = {}
    for table, column in db.execute(text(NAMING)).all():
        n = db.scalar(text(f"SELECT COUNT(*) FROM `{table}` WHERE `{column}` = :p"), {"p": uuid.UUID(person).hex})
        if n:
            found[table] = found.get(table, 0) + n
    return found


def others(db: Connection, person: str) -> dict[str, Any]:
    """All rows that name somebody, but not this person, and what the tables' history says of others."""
    who = {"p": uuid.UUID(person).hex}
    found: dict[str, Any] = {}
    for table, column in db.execute(text(NAMING)).all():
        query = f"SELECT COUNT(*) FROM `{table}` WHERE `{column}` IS NOT NULL AND `{column}` <> :p"
        found[f"{table}.{column}"] = db.scalar(text(query), who)
    for table, column in (("person", "id"), ("enrolment", "person_id")):
        past = f"FROM `{table}` FOR SYSTEM_TIME ALL WHERE `{column}` <> :p ORDER BY id, row_start"
        found[f"past of {table}"] = db.execute(text(f"SELECT *, row_start, row_end {past}"), who).all()
    return found


def test_every_table_that_names_a_student_is_sorted() -> None:
    sorted_ = {str(x.__tablename__) for x in (*erasure.OWN, *erasure.SEALED, *erasure.OF_THE_SHOP)}
    naming = {str(m.class_.__tablename__) for m in t.Base.registry.mappers if people_in(m.class_)}
    assert naming - sorted_ == OF_WHO_TEACHES
    assert not {str(x.__tablename__) for x in erasure.OWN} & {
        str(x.__tablename__) for x in (*erasure.SEALED, *erasure.OF_THE_SHOP)
    }


@pytest.mark.parametrize(("login", "why"), [("nobody", "former student"), ("haldane", "student"), ("kaia", "still")])
def test_who_cannot_be_erased_is_told(shop_apart: TestShop, owner: Unit, login: str, why: str) -> None:
    with pytest.raises(Refused, match=why):
        owner.run(lambda w: erase(w, login, really=True))


def test_nothing_but_what_must_stay_is_left(
    shop_apart: TestShop, owner: Unit, db: Connection, capsys: pytest.CaptureFixture[str]
) -> None:
    shop, kaia = shop_apart, shop_apart.person("kaia")
    # a change of the name leaves the old one in the table's history
    path, body = f"/api/people/{kaia.id}", {"role": "student", "group": None, "active": True, "pin": PINS["haldane"]}
    shop.haldane.put(path, body | {"name": "Kaia Oldname", "group": TUESDAY})
    shop.haldane.put(path, body | {"name": "Kaia Gone", "active": False})
    issues = db.execute(
        text("SELECT id FROM pending WHERE kind = 'issue' AND person_id = :p"), {"p": uuid.UUID(kaia.id).hex}
    ).all()
    if issues:
        with pytest.raises(Refused, match="crib"):
            owner.run(lambda w: erase(w, "kaia", really=True))
        for (issue,) in issues:
            shop.haldane.post(f"/api/crib/issues/{uuid.UUID(issue)}/return", {"condition": "fine", "note": ""})
    db.rollback()
    before, theirs = others(db, kaia.id), named(db, kaia.id)
    assert sum(theirs.values()) > 40
    db.rollback()

    assert erase_in(owner, "kaia", yes=False) == 0
    assert "Nothing was changed" in capsys.readouterr().out
    assert named(db, kaia.id) == theirs
    db.rollback()

    assert erase_in(owner, "kaia", yes=True) == 0
    said = capsys.readouterr().out
    assert "Kaia Gone is called “Former student" in said
    left = named(db, kaia.id)
    stays = {str(x.__tablename__) for x in (*erasure.SEALED, *erasure.OF_THE_SHOP)}
    assert set(left) <= stays | {"person_act"}
    assert {k: n for k, n in left.items() if k in stays} == {k: n for k, n in theirs.items() if k in stays}
    assert left["person_act"] == 1, "that they were erased"
    past = "SELECT DISTINCT name FROM person FOR SYSTEM_TIME ALL WHERE id = :p"
    names = db.scalars(text(past), {"p": uuid.UUID(kaia.id).hex}).all()
    assert len(names) == 1
    assert names[0].startswith("Former student")
    after = others(db, kaia.id)
    # who checked or signed their work is named less often; everything that does not belong to them is as it was
    assert {k: v for k, v in after.items() if k.startswith("past")} == {
        k: v for k, v in before.items() if k.startswith("past")
    }
    assert all(after[k] <= before[k] for k in after if not k.startswith("past"))
    for table in stays | OF_WHO_TEACHES:
        assert {k: v for k, v in after.items() if k.startswith(f"{table}.")} == {
            k: v for k, v in before.items() if k.startswith(f"{table}.")
        }, table
    mentions = [m for m in owner.run(lambda w: list(erasure.mentions(w.db, ("Kaia Gone", "Kaia Oldname"))))]
    assert mentions == []


def test_the_shop_goes_on_after_it(shop_apart: TestShop, owner: Unit) -> None:
    assert owner.run(lambda w: list(verify(w, []))) == []
    for page in (
        "class",
        "floor",
        "people",
        "session",
        "projects",
        "crib",
        "registers/sign_offs",
        "registers/withdrawals",
    ):
        answer = shop_apart.haldane.ask("GET", f"/api/{page}")
        assert answer.status_code in (200, 404), (page, answer.get_data(as_text=True)[:200])
    with pytest.raises(Refused):
        owner.run(lambda w: erase(w, "kaia", really=True))
