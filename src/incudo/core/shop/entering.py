"""Cutters as they are entered from a drawer: one kind in several sizes, in one go."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from pydantic import ValidationError

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.quantity import Length, LengthUnit, Unit, in_places
from incudo.core.kernel.say import say, together
from incudo.core.shop.cutter import ANGLES, ON_ARBOR, TEETH, Cutter, CutterKind, Drill, Holder, Thread, implausible
from incudo.core.shop.material import CutterMaterial
from incudo.core.shop.table import field_errors

#: So many sizes of one kind are entered at once.
MOST_SIZES = 60


#: How a kind is usually held, where it is not by the first holder of the table.
_HELD = {
    CutterKind.TAP: "tap-wrench",
    **dict.fromkeys((CutterKind.DRILL, CutterKind.SPOT, CutterKind.COUNTERSINK, CutterKind.REAMER), "chuck"),
}


@dataclass(frozen=True)
class Usual:
    """What an entry of a kind can be: teeth from and to (none: not asked), angles, holders, how it makes a thread and
    what its dial reads on. The usual one stands first.
    """

    kind: CutterKind
    teeth: tuple[int, int] | None
    angles: tuple[int, ...]
    holders: tuple[str, ...]

    @property
    def wide(self) -> bool:
        """Its length is how wide it cuts, and has to be said."""
        return self.kind in ON_ARBOR

    @property
    def threads(self) -> bool:
        """Its sizes are threads."""
        return self.kind is CutterKind.TAP

    @property
    def taps(self) -> tuple[Literal["cutting", "forming"], ...]:
        """How it can make its thread, the usual way first; empty where it makes none."""
        return ("cutting", "forming") if self.threads else ()

    @property
    def dials(self) -> tuple[Literal["diameter", "radius"], ...]:
        """What a dial of its own can read on, the usual one first; empty where it has none."""
        return ("diameter", "radius") if self.kind is CutterKind.HEAD else ()


def usual(holders: Mapping[str, Holder]) -> tuple[Usual, ...]:
    """Every kind with what its entry can be."""

    def held(kind: CutterKind) -> tuple[str, ...]:
        fit = (key for key, h in holders.items() if kind.value in h.kinds)
        return tuple(sorted(fit, key=lambda key: key != _HELD.get(kind)))

    return tuple(Usual(k, TEETH.get(k), ANGLES.get(k, ()), held(k)) for k in CutterKind)


@dataclass(frozen=True)
class Drawer:
    """What lies in a drawer: a kind in some sizes, all alike but for their size.

    A size is a diameter as a decimal, a fraction as it is stamped ("3/16", "1 1/4"), for drills a number or a letter,
    for taps a thread. ``name`` is what all are called; empty: made from the kind. ``owned`` and ``keep``: of each size.
    """

    kind: CutterKind
    unit: LengthUnit
    sizes: tuple[str, ...]
    owned: int
    name: str = ""
    made_of: CutterMaterial = CutterMaterial.HSS
    teeth: int = 0
    length: str = ""
    angle: str = ""
    tap: Literal["", "cutting", "forming"] = ""
    dial: Literal["", "diameter", "radius"] = ""
    holder: str = ""
    place: str = ""
    keep: int = 0
    stickout: str = ""


def cutters_of(
    drawer: Drawer, threads: Mapping[str, Thread], drills: Sequence[Drill], holders: Mapping[str, Holder]
) -> tuple[Cutter, ...]:
    """The cutters of a drawer, each with a name that says its size.

    Raises ``Refused`` at ``sizes`` for a size that cannot be read or is listed twice, and at the field of whatever
    cannot be for one of them.
    """
    if not 1 <= len(drawer.sizes) <= MOST_SIZES:
        raise Refused.of("sizes", len(drawer.sizes), say("must be 1 to {most}", most=MOST_SIZES))
    for field, given in (("length", drawer.length), ("stickout", drawer.stickout)):
        if given and len(drawer.sizes) > 1:
            raise Refused.of(field, given, say("is for one size alone: cutters of several sizes differ in it"))
    found: dict[tuple[Fraction, str], Cutter] = {}
    for size in drawer.sizes:
        diameter, unit = _diameter(drawer, size, threads, drills)
        cutter = _cutter(drawer, size, diameter, unit)
        # a thread and a size: a tap M6 and one of 1/4-20 are two, an end mill 1/4 and one of 0.25 are one
        key = Length(cutter.diameter, cutter.unit).mm, cutter.thread
        if key in found:
            raise Refused.of("sizes", size, say("{size} is listed twice", size=size))
        if words := implausible(cutter, threads, holders):
            raise Refused(*(_at(x) for x in words))
        found[key] = cutter
    return tuple(found.values())


def _at(words: str) -> FieldError:
    field, _, bound = words.partition(": ")
    return FieldError(field, "", bound or words)


def _diameter(
    drawer: Drawer, size: str, threads: Mapping[str, Thread], drills: Sequence[Drill]
) -> tuple[str, LengthUnit]:
    """What a size measures, as text in a unit."""
    if drawer.kind is CutterKind.TAP:
        if size not in threads:
            raise Refused.of("sizes", size, say("{size} must be a thread of the table, such as 1/4-20", size=size))
        return threads[size].diameter, threads[size].unit
    if drawer.kind is CutterKind.DRILL:
        # numbers and letters are inches whatever the drawer's unit; every other size measures as its table says
        series = {"number", "letter", "metric" if drawer.unit is Unit.MM else "fraction"}
        known = {d.designation.casefold(): d for d in drills if d.series in series}
        if stamped := known.get(size.casefold()):
            return stamped.diameter, stamped.unit
    if "/" in size and drawer.unit is Unit.MM:
        raise Refused.of("sizes", size, say("{size} is in inches, and this drawer in mm", size=size))
    return _plain(size), drawer.unit


def _plain(size: str) -> str:
    """A diameter as a decimal: "0.25", "1/4", "1 1/4" are read."""
    whole, _, part = size.rpartition(" ")
    if "/" not in part:
        try:
            return Length.parse(size, Unit.MM, "sizes").text
        except Refused as refused:
            raise Refused.of("sizes", size, f"{size}: {refused.errors[0].bound}") from None
    top, _, bottom = part.partition("/")
    numbers = top.isdecimal() and bottom.isdecimal() and (whole.isdecimal() or not whole)
    if not numbers or int(bottom) not in _PARTS or not 0 < int(top) < int(bottom):
        raise Refused.of("sizes", size, say("{size} must be such as 0.25, 1/4 or 1 1/4", size=size))
    exact = Fraction(int(whole or 0)) + Fraction(int(top), int(bottom))
    return in_places(exact, 6).rstrip("0").rstrip(".")


#: Kinds that lie in a drawer in the same size with two flutes and with four.
_FLUTED = (CutterKind.END_MILL, CutterKind.ROUGHING, CutterKind.BALL)
#: What an inch is divided into by whoever stamps sizes as fractions.
_PARTS = (2, 4, 8, 16, 32, 64)


def _cutter(drawer: Drawer, size: str, diameter: str, unit: LengthUnit) -> Cutter:
    """One of them. Raises ``Refused`` with every field that cannot be."""
    tap = drawer.kind is CutterKind.TAP
    said = f"{size} {unit}" if size[:1].isdecimal() and not tap else size
    called = f"{drawer.name or drawer.kind.value.capitalize()} {said}"
    if drawer.kind in ON_ARBOR:
        called = say("{called}, {width} {unit} wide", called=called, width=drawer.length, unit=unit)
    if drawer.kind in _FLUTED:
        called = say("{called}, {teeth} flutes", called=called, teeth=drawer.teeth)
    values = {
        "name": called,
        "kind": drawer.kind,
        "unit": unit,
        "diameter": diameter,
        "owned": drawer.owned,
        "made_of": drawer.made_of,
        "teeth": drawer.teeth,
        "length": drawer.length or None,
        "angle": drawer.angle or None,
        "thread": size if tap else "",
        "tap": drawer.tap,
        "dial": drawer.dial,
        "holder": drawer.holder,
        "place": drawer.place,
        "keep": drawer.keep,
        "stickout": drawer.stickout or None,
    }
    try:
        return Cutter.model_validate(values)
    except ValidationError as error:
        raise Refused(*(_of_size(e, size) for e in field_errors(error))) from None


def _of_size(e: FieldError, size: str) -> FieldError:
    """What is wrong with a size is said of that size."""
    return FieldError("sizes", size, f"{size}: {e.bound}") if e.field in {"diameter", "thread"} else e


def already(cutters: Sequence[Cutter], there: Sequence[str]) -> None:
    """Refuse names that the register has already. Raises ``Refused`` at ``sizes`` with all of them."""
    known = {alike(x) for x in there}
    if twice := [c.name for c in cutters if alike(c.name) in known]:
        raise Refused.of("sizes", together(twice, "; "), say("are in the register already; change them there"))
