"""Entering and changing a material by form."""

from __future__ import annotations

from typing import Any

import pytest

from incudo import shipped
from tests.at_once import at_once
from tests.shop import TestShop, new_id

POINTS = [{"diameter": "3", "low": "0.01", "high": "0.02"}, {"diameter": "12.5", "low": "0.04", "high": "0.08"}]
MILLING = {"cutter": "high-speed steel", "operation": "milling", "v_low": "25", "v_high": "40", "chart": POINTS}


def bronze(**change: Any) -> dict[str, Any]:
    """An entry as the form sends it."""
    return {
        "name": "Aluminium bronze",
        "unit_power": "40",
        "expansion": "16.2",
        "fluid": "dry, or soluble oil",
        "cautions": ["Its dust is not breathed."],
        "note": "",
        "ranges": [MILLING],
        **change,
    }


def of(page: dict[str, Any], name: str) -> dict[str, Any]:
    return next(m["of"] for m in page["materials"] if m["of"]["material"]["name"] == name)


def names(shop: TestShop) -> list[str]:
    return [m["of"]["material"]["name"] for m in shop.haldane.get("/api/stock")["materials"]]


def form(shop: TestShop, key: str) -> dict[str, Any]:
    return next(m for m in shop.haldane.get("/api/materials")["materials"] if m["key"] == key)


def test_a_material_is_looked_at_before_it_is_kept(shop: TestShop) -> None:
    seen = shop.haldane.post("/api/materials/look", bronze())
    (milling,) = seen["ranges"]
    # 1000 · v / (π · D) at 3, 9.525 and 70 mm; the chip from point to point: 0.04 - 0.01 over 9.5 mm, then level
    assert milling["lines"] == [
        "End mill 3 mm, 2 flutes: 2653 to 4244 rpm, 0.010 to 0.020 mm per tooth",
        "End mill 3/8 in, 3 flutes, for aluminium: 835 to 1337 rpm, 0.0012 to 0.0024 in per tooth",
        "Angle cutter 45°: 114 to 182 rpm, 0.0016 to 0.0031 in per tooth",
    ]
    assert milling["chart"]["shapes"]
    assert seen["doubts"] == []
    assert not [
        m for m in shop.haldane.get("/api/stock")["materials"] if m["of"]["material"]["name"] == bronze()["name"]
    ]


def test_a_speed_in_the_wrong_unit_is_asked_about(shop: TestShop) -> None:
    feet = bronze(ranges=[MILLING | {"v_low": "820", "v_high": "990"}])
    (doubt,) = shop.haldane.post("/api/materials/look", feet)["doubts"]
    assert "more than twice what any other material here is cut at" in doubt


def test_a_material_is_entered_once_and_can_be_reckoned_with(shop: TestShop) -> None:
    body = bronze(id=new_id(), name="Silicon bronze")
    page = shop.haldane.post("/api/materials", body)
    assert of(page, "Silicon bronze")["ranges"][0]["source"] == "measured here"
    assert shop.haldane.post("/api/materials", body)["materials"] == page["materials"]
    shop.haldane.fails(409, "/api/materials", body | {"id": new_id(), "fluid": "lard oil"})
    # another name that files would know it by
    shop.haldane.fails(409, "/api/materials", body | {"id": new_id(), "name": "Silicon-bronze"})
    fills = shop.haldane.get("/api/reckoning-fills?material=silicon-bronze")
    assert fills["chart"] is None
    assert (fills["values"]["material.surface"]["value"], fills["fluid"]) == ("25", "dry, or soluble oil")


def test_two_who_enter_the_same_material_enter_it_once(shop: TestShop) -> None:
    name = f"Bronze {new_id()[-6:]}"
    people = (shop.person("haldane"), shop.person("selby"))
    codes = at_once([lambda p=p: p.ask("POST", "/api/materials", bronze(id=new_id(), name=name)) for p in people])  # type: ignore[misc]
    codes = [c.status_code for c in codes]
    assert codes == [200, 200]
    assert names(shop).count(name) == 1


def test_two_materials_do_not_take_one_name_at_the_same_moment(shop: TestShop) -> None:
    name, changes = f"Bronze {new_id()[-6:]}", {}
    were = {key: form(shop, key)["entry"]["name"] for key in ("brass", "acetal")}
    for key in were:
        shown = form(shop, key)
        changes[key] = shown["entry"] | {"name": name, "based_on": shown["mark"]}
    people = dict(zip(changes, (shop.person("haldane"), shop.person("selby")), strict=True))
    asks = [lambda k=k: people[k].ask("PUT", f"/api/materials/{k}", changes[k]) for k in changes]  # type: ignore[misc]
    try:
        assert sorted(answer.status_code for answer in at_once(asks)) == [200, 422]
        assert names(shop).count(name) == 1
    finally:
        for key, change in changes.items():
            shown = form(shop, key)
            shop.haldane.put(f"/api/materials/{key}", change | {"name": were[key], "based_on": shown["mark"]})


def test_a_change_keeps_where_the_other_numbers_are_from(shop: TestShop) -> None:
    shown = form(shop, "brass")
    before = of(shop.haldane.get("/api/stock"), shown["entry"]["name"])
    entry = shown["entry"]
    first, *others = entry["ranges"]
    change = entry | {"ranges": [first | {"v_low": str(float(first["v_low"]) + 1)}, *others], "based_on": shown["mark"]}
    after = of(shop.haldane.put("/api/materials/brass", change), entry["name"])
    assert after["material"] == before["material"]
    assert [r["source"] for r in after["ranges"]] == ["measured here", *(r["source"] for r in before["ranges"][1:])]
    # the same again is no second change; another one from the old page is
    shop.haldane.put("/api/materials/brass", change)
    refused = shop.haldane.fails(409, "/api/materials/brass", change | {"fluid": "none"}, "PUT")
    assert "was changed meanwhile" in refused["detail"]
    back = entry | {"based_on": form(shop, "brass")["mark"]}
    shop.haldane.put("/api/materials/brass", back)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": " "}, "name"),
        ({"name": "—"}, "name"),
        ({"unit_power": "0.9"}, "unit_power"),
        ({"unit_power": "200.1"}, "unit_power"),
        ({"expansion": "4.9"}, "expansion"),
        ({"expansion": "a little"}, "expansion"),
        ({"fluid": "no"}, "fluid"),
        ({"ranges": [MILLING] * 7}, "ranges"),
        ({"ranges": [MILLING, MILLING]}, "ranges.1.operation"),
        ({"ranges": [MILLING | {"v_low": "2.9"}]}, "ranges.0.v_low"),
        ({"ranges": [MILLING | {"v_low": "41"}]}, "ranges.0.v_high"),
        ({"ranges": [MILLING | {"v_high": "251"}]}, "ranges.0.v_high"),
        ({"ranges": [MILLING | {"chart": [POINTS[1], POINTS[0]]}]}, "ranges.0.chart"),
        ({"ranges": [MILLING | {"chart": [POINTS[0], POINTS[1] | {"high": "0.5"}]}]}, "ranges.0.chart.1"),
        ({"ranges": [MILLING | {"chart": [POINTS[0] | {"diameter": "a bit"}]}]}, "ranges.0.chart.0"),
    ],
)
def test_what_cannot_be_is_said_at_its_field_and_nothing_is_kept(
    shop: TestShop, change: dict[str, Any], field: str
) -> None:
    for path in ("/api/materials/look", "/api/materials"):
        body = bronze(**{"name": "Bell metal", **change}) | ({} if path.endswith("look") else {"id": new_id()})
        said = shop.haldane.fails(422, path, body)
        assert [e["field"].removeprefix("body.") for e in said["errors"]] == [field], said
    assert "Bell metal" not in names(shop)


def test_a_material_of_a_table_that_has_no_ranges_yet_gets_one(shop: TestShop) -> None:
    columns = "key,name,unit_power,expansion,fluid,cautions,source"
    row = "zinc-bare,Zinc as imported,20,30,dry,Its chips burn; its dust is not breathed,rule of thumb"
    shop.haldane.put("/api/tables/materials", {"text": f"{columns}\n{row}\n"})
    shown = form(shop, "zinc-bare")
    assert (shown["entry"]["ranges"], len(shown["entry"]["cautions"])) == ([], 2)
    page = shop.haldane.put(
        "/api/materials/zinc-bare", shown["entry"] | {"ranges": [MILLING], "based_on": shown["mark"]}
    )
    kept = of(page, "Zinc as imported")
    assert (kept["material"]["source"], kept["ranges"][0]["source"]) == ("rule of thumb", "measured here")


def test_every_shipped_material_goes_through_the_form_unchanged(shop: TestShop) -> None:
    before = shop.haldane.get("/api/stock")["materials"]
    for shown in shop.haldane.get("/api/materials")["materials"]:
        page = shop.haldane.put(f"/api/materials/{shown['key']}", shown["entry"] | {"based_on": shown["mark"]})
        assert page["materials"] == before
    assert len(shipped.materials()) <= len(before)


@pytest.mark.parametrize(
    ("names", "line"),
    [(("Brass, free-cutting",), 2), (("BRASS, free-cútting",), 2), (("Zinc one", "zinc ONE"), 3)],
)
def test_a_table_gives_no_two_materials_one_name(shop: TestShop, names: tuple[str, ...], line: int) -> None:
    columns = "key,name,unit_power,expansion,fluid,cautions,source"
    rows = [f'twice-{n},"{name}",20,30,dry,Mind the chips,rule of thumb' for n, name in enumerate(names)]
    table = {"text": "\n".join([columns, *rows, ""])}
    looked = shop.haldane.post("/api/tables/materials/check", table)
    assert [x["number"] for x in looked["lines"] if x["status"] == "refused"] == [line]
    refused = shop.haldane.fails(422, "/api/tables/materials", table, "PUT")
    assert [e["field"] for e in refused["errors"]] == [f"line {line}"]
    assert "is the name of another material" in refused["errors"][0]["bound"]
