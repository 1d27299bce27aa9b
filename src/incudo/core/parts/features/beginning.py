"""What a new part begins with: a piece of bar, a plate from an outline, a thread with the drill for it.

Sizes to begin with are the product's own choice and are there to be changed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal
from fractions import Fraction
from typing import Any, Literal

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.plate import LeftOut, plate_of
from incudo.core.shop.cutter import Drill, Thread
from incudo.core.shop.tapping import tap_drill_of

#: A new tapped hole has this share of its thread's height, in percent; rule of thumb for tapping by hand.
WANTED_THREAD = Fraction(75)
#: A thread that is not named yet is the first of at least so many mm.
FIRST_THREAD = 6
#: What the stock of a plate from a file is larger than the plate, along each axis: enough for a sawn edge.
OVER = {Unit.INCH: Decimal("0.125"), Unit.MM: Decimal(4)}


def begin_part(unit: Unit, form: Literal["block", "flat", "square", "round"]) -> dict[str, Any]:
    """The file of a new part that fits a small vise, a little smaller than its bar."""
    inch = unit is Unit.INCH
    long, stock_long = ("3.000", "3.125") if inch else ("80.0", "84")
    made: dict[str, Any] = {
        "format": "incudo-project/2",
        "code": "new-part",
        "name": say("New part"),
        "about": "",
        "unit": unit,
        "material": "Low-carbon steel",
        "features": [],
        "title_block": {"2": "0.010", "3": "0.005"} if inch else {"0": "0.5", "1": "0.2", "2": "0.05"},
        "characteristics": [],
        "datums": [],
        "needs": None,
        "operations": None,
        "gives": None,
        "hold_points": ["last_pass"],
    }
    if form == "round":
        wide = "1.000" if inch else "25"
        made["stock"] = {"form": "round", "diameter": wide, "length": stock_long}
        made["body"] = {"shape": "bar", "diameter": wide, "length": long}
        return made
    y, z = ("2.000", "1.000") if inch else ("50.0", "25.0")
    stock_y, stock_z = ("2.125", "1.125") if inch else ("55", "28")
    if form == "square":
        z, stock_z = y, stock_y
    made["stock"] = {"form": form, "x": stock_long, "y": stock_y, "z": stock_z, "sawn": ["left", "right"]}
    made["body"] = {"shape": "block", "x": long, "y": y, "z": z}
    made["datums"] = [
        {"letter": "A", "face": "bottom"},
        {"letter": "B", "face": "left"},
        {"letter": "C", "face": "front"},
    ]
    return made


def begin_plate(text: str, thickness: str, unit: Unit) -> tuple[dict[str, Any], tuple[LeftOut, ...]]:
    """The file of a plate from a DXF outline, its stock larger all round, and what was left out.

    ``unit`` is that of the thickness, and of the outline where the file names none. Raises ``Refused`` as ``plate_of``
    does, and for a thickness that is not above 0.
    """
    if Length.parse(thickness, unit, "thickness").mm <= 0:
        raise Refused.of("thickness", thickness, say("must be above 0"))
    found = plate_of(text, thickness, unit)
    own = Unit(found.data["unit"])
    if own is not unit:
        bound = say("must be given in {unit}, as the file is", unit=own)
        raise Refused.of("thickness", f"{thickness} {unit}", bound)
    made = begin_part(unit, "flat")
    sizes = {a: str(found.data[a]) for a in "xyz"}
    grown = {a: str(Decimal(v) + OVER[unit]) for a, v in sizes.items()}
    made["body"] = {"shape": "block", **sizes}
    made["stock"] = {"form": "flat", "sawn": ["left", "right"], **grown}
    made["features"] = found.data["features"]
    return made, found.left_out


def threaded(
    feature: dict[str, Any], name: str, unit: Unit, threads: Mapping[str, Thread], drills: Iterable[Drill]
) -> dict[str, Any]:
    """A tapped hole with a thread and the drill for it; without a name the first of a usual size.

    Raises ``Refused`` for a thread that the table does not have in this unit, and one that no drill suits.
    """
    own = [t for t in threads.values() if t.unit is unit]
    wanted = (t for t in own if (t.designation == name if name else t.diameter_mm >= FIRST_THREAD))
    thread = next(wanted, None)
    if thread is None:
        known = together((t.designation for t in own), ", ")
        raise Refused.of("thread", name, say("must be one of: {known}", known=known))
    sizes = [Length(d.diameter, d.unit).mm for d in drills if d.unit is unit]
    found = tap_drill_of(thread.diameter_mm, thread.pitch_mm, WANTED_THREAD, "cutting", sizes, ())
    if found is None:
        raise Refused.of("thread", name, say("has no drill in the table that suits it"))
    hole = in_places(found.drill / unit.in_mm, 4 if unit is Unit.INCH else 2).rstrip("0").rstrip(".")
    deep = (feature.get("thread") or {}).get("depth")
    spec = {"designation": thread.designation, "diameter": thread.diameter, "pitch": thread.pitch, "depth": deep}
    return {**feature, "made": "tapped", "diameter": hole, "thread": spec}
