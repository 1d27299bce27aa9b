"""Parts in and out as files: the library as a zip, prints, and the shop's projection."""

from __future__ import annotations

import base64
import io
import json
import zipfile
from typing import Any

import pytest

from incudo.app.parts import packed as packing
from tests.core.parts.features.making import PLATE
from tests.shop import TIDE_V1, TestShop, new_id


def packed(**files: Any) -> str:
    found = io.BytesIO()
    with zipfile.ZipFile(found, "w") as z:
        for name, data in files.items():
            z.writestr(f"{name}.json", data if isinstance(data, str) else json.dumps(data))
    return base64.b64encode(found.getvalue()).decode()


def library(shop: TestShop) -> dict[str, Any]:
    answer = shop.haldane.ask("GET", "/api/projects/library.zip")
    assert answer.content_type == "application/zip"
    with zipfile.ZipFile(io.BytesIO(answer.get_data())) as z:
        return {n.removesuffix(".json"): json.loads(z.read(n)) for n in z.namelist()}


def test_a_library_goes_out_and_comes_in(shop: TestShop) -> None:
    files = library(shop)
    assert {"tide-block", "lantern-foot"} <= files.keys()
    taken = shop.haldane.post("/api/projects/library", {"id": new_id(), "zip": packed(**files)})["taken"]
    assert {t["became"] for t in taken} == {"the same as here"}
    assert {t["code"] for t in taken} == files.keys()

    changed = {**files["slip-pad"], "about": "Thicker than before."}
    new = {**PLATE, "code": "made-elsewhere", "name": "Made elsewhere"}
    body = {"id": new_id(), "zip": packed(a=changed, b=new)}
    first = {t["code"]: t["became"] for t in shop.haldane.post("/api/projects/library", body)["taken"]}
    assert first == {"slip-pad": "version 2", "made-elsewhere": "new"}
    again = {t["code"]: t["became"] for t in shop.haldane.post("/api/projects/library", body)["taken"]}
    assert set(again.values()) == {"the same as here"}
    cards = {p["name"]: p for p in shop.haldane.get("/api/projects")["projects"]}
    assert cards["Slip pad"]["about"] == "Thicker than before."
    assert cards["Made elsewhere"]["version_number"] == 1


def test_one_part_that_cannot_be_made_keeps_all_out(shop: TestShop) -> None:
    good = {**PLATE, "code": "good-one", "name": "Good one"}
    bad = {**PLATE, "code": "bad-one", "features": [{**PLATE["features"][0], "depth": "20"}]}
    refused = shop.haldane.fails(422, "/api/projects/library", {"id": new_id(), "zip": packed(good=good, bad=bad)})
    assert refused["errors"][0]["field"] == "bad.json: features.0.depth"
    assert "Good one" not in {p["name"] for p in shop.haldane.get("/api/projects")["projects"]}
    twice = packed(one=good, two=good)
    refused = shop.haldane.fails(422, "/api/projects/library", {"id": new_id(), "zip": twice})
    assert refused["errors"][0]["field"] == "two.json: code"


def test_as_many_parts_and_as_many_bytes_as_fit_and_one_more(shop: TestShop, monkeypatch: pytest.MonkeyPatch) -> None:
    data = packed(a="no part", b="no part either")
    for name, fits in (("MOST_PARTS", 2), ("MOST_BYTES", 21)):
        for most in (fits, fits - 1):
            monkeypatch.setattr(packing, name, most)
            refused = shop.haldane.fails(422, "/api/projects/library", {"id": new_id(), "zip": data})
            assert ("parts" in refused["errors"][0]["bound"]) is (most < fits), (name, most)
        monkeypatch.undo()


def test_what_is_no_library_is_refused(shop: TestShop) -> None:
    stray = io.BytesIO()
    with zipfile.ZipFile(stray, "w") as z:
        z.writestr("notes.txt", "no part")
    large = io.BytesIO()
    with zipfile.ZipFile(large, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("large.json", " " * 8_000_001)
    broken = bytearray(base64.b64decode(packed(one={**PLATE, "about": "x" * 300})))
    broken[len(broken) // 2] ^= 0xFF
    squeezed = io.BytesIO()
    with zipfile.ZipFile(squeezed, "w", zipfile.ZIP_BZIP2) as z:
        z.writestr("one.json", json.dumps(PLATE))
    locked = bytearray(base64.b64decode(packed(one=PLATE)))
    locked[locked.index(b"PK\x01\x02") + 8] |= 1
    nothing = io.BytesIO()
    zipfile.ZipFile(nothing, "w").close()
    for data in (
        b"no zip at all",
        stray.getvalue(),
        large.getvalue(),
        nothing.getvalue(),
        bytes(broken),
        squeezed.getvalue(),
        bytes(locked),
    ):
        text = base64.b64encode(data).decode()
        refused = shop.haldane.fails(422, "/api/projects/library", {"id": new_id(), "zip": text})
        assert refused["errors"][0]["field"] == "zip"
    refused = shop.haldane.fails(422, "/api/projects/library", {"id": new_id(), "zip": "%%%"})
    assert refused["errors"][0]["field"] == "zip"


def test_a_drawing_is_kept_until_the_shop_draws_otherwise(shop: TestShop) -> None:
    thole = next(p for p in shop.haldane.get("/api/projects")["projects"] if p["name"] == "Thole block")["version"]
    rules = shop.haldane.get("/api/shop")
    before = shop.haldane.ask("GET", f"/api/versions/{thole}/drawing")
    tag = before.headers["ETag"]
    assert shop.haldane.client.get(f"/api/versions/{thole}/drawing", headers={"If-None-Match": tag}).status_code == 304
    change = {"school": rules["school"], "confirmed_minutes": rules["confirmed_minutes"]}
    try:
        assert shop.haldane.put("/api/shop", {**change, "projection": "first"})["projection"] == "first"
        # a change that leaves it out leaves it as it is
        assert shop.haldane.put("/api/shop", change)["projection"] == "first"
        after = shop.haldane.client.get(f"/api/versions/{thole}/drawing", headers={"If-None-Match": tag})
        assert (after.status_code, "first angle" in after.get_json()["svg"]) == (200, True)
        tide = shop.haldane.ask("GET", f"/api/versions/{TIDE_V1}/drawing").get_json()["svg"]
        assert "first angle" in tide
        shop.haldane.fails(422, "/api/shop", {**change, "projection": "second"}, method="PUT")
    finally:
        shop.haldane.put("/api/shop", {**change, "projection": "third"})


def test_prints_in_both_papers(shop: TestShop) -> None:
    for paper in ("A4", "Letter"):
        answer = shop.haldane.ask("GET", f"/api/versions/{TIDE_V1}/drawing.pdf?paper={paper}")
        assert answer.status_code == 200
        assert answer.get_data().startswith(b"%PDF")
        assert "tide-block-" in answer.headers["Content-Disposition"]


def test_which_machines_a_part_fits(shop: TestShop) -> None:
    cards = {p["name"]: p for p in shop.haldane.get("/api/projects")["projects"]}
    assert "Petrel" in cards["Tide block"]["machines"]
    assert len(cards["Tide block"]["machines"]) >= len(cards["Oar rack rail"]["machines"])
