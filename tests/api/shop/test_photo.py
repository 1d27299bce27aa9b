"""A photograph of a machine: made small, upright, without what the camera wrote into it; what is none is refused."""

from __future__ import annotations

import base64
import io

import pytest
from PIL import Image

from tests.shop import DUNLIN, TestShop

PATH = f"/api/machines/{DUNLIN}/photo"


def picture(size: tuple[int, int] = (2000, 1000), form: str = "JPEG", *, camera: bool = False) -> str:
    """A picture whose left half is dark; ``camera``: held upright, with a place and a maker written into it."""
    drawn = Image.new("RGB", size, "white")
    drawn.paste("black", (0, 0, size[0] // 2, size[1]))
    out, exif = io.BytesIO(), Image.Exif()
    if camera:
        exif[0x0112], exif[0x010F] = 6, "Somebody's telephone"
        exif.get_ifd(0x8825)[1] = "N"
    drawn.save(out, form, **({"exif": exif} if camera else {}))
    return base64.b64encode(out.getvalue()).decode()


def kept(shop: TestShop) -> Image.Image:
    answer = shop.student().ask("GET", PATH)
    assert answer.status_code == 200
    assert answer.headers["Content-Type"] == "image/jpeg"
    return Image.open(io.BytesIO(answer.data))


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_it_is_kept_small_and_everybody_sees_it(shop: TestShop, form: str) -> None:
    assert shop.haldane.put(PATH, {"image": picture(form=form)})["photo"]
    assert kept(shop).size == (1280, 640)
    shop.haldane.put(PATH, {"image": ""})
    assert shop.haldane.ask("GET", PATH).status_code == 404
    words = [a["words"] for a in shop.haldane.get("/api/gone")["acts"][:2]]
    assert words == ["Photograph of Dunlin: removed", "Photograph of Dunlin: another one"]


def test_it_stands_upright_and_says_nothing_of_who_took_it_where(shop: TestShop) -> None:
    shop.haldane.put(PATH, {"image": picture((400, 200), camera=True)})
    found = kept(shop)
    assert found.size == (200, 400)
    assert not dict(found.getexif())
    # turned as the camera said: what was at the left is on top
    assert found.getpixel((100, 20)) < (60, 60, 60)
    assert found.getpixel((100, 380)) > (200, 200, 200)
    shop.haldane.put(PATH, {"image": ""})


@pytest.mark.parametrize(
    "image",
    [
        "not base64!",
        base64.b64encode(b"GIF89a no picture").decode(),
        base64.b64encode(b"<svg xmlns='http://www.w3.org/2000/svg'/>").decode(),
        picture()[:400],
        picture((12_001, 1), "PNG"),
    ],
)
def test_what_is_no_photograph_is_refused_and_changes_nothing(shop: TestShop, image: str) -> None:
    refused = shop.haldane.fails(422, PATH, {"image": image}, method="PUT")
    assert [e["field"] for e in refused["errors"]] == ["image"]
    assert shop.haldane.get(f"/api/machines/{DUNLIN}")["photo"] is None


def test_the_widest_is_taken_and_ones_own_data_say_only_how_large_it_is(shop: TestShop) -> None:
    shop.haldane.put(PATH, {"image": picture((12_000, 10), "PNG")})
    mine = shop.haldane.post(f"/api/people/{shop.haldane.id}/data", {"pin": ""})
    (row,) = next(x["rows"] for x in mine["tables"] if x["table"] == "machine_photo")
    assert row["content"].endswith(" bytes")
    shop.haldane.put(PATH, {"image": ""})
