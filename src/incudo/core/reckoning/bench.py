"""What a shop's machine, material and cutter say for the inputs of a calculation."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture, Shape
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.reckoning.inputs import UNITS, Quantity, shown
from incudo.core.shop.cutter import Cutter, CutterKind, Thread
from incudo.core.shop.machine import Axis, Handle, Machine
from incudo.core.shop.material import CutterMaterial, Operation, Range, Stock

#: What part of a drill's speed other tools in its place run at, and how often its feed (rules of thumb).
HOLE_TOOLS = {
    "drill": (Fraction(1), Fraction(1)),
    "reamer": (Fraction(1, 2), Fraction(2)),
    "countersink": (Fraction(1, 3), Fraction(1)),
}
#: Tools in a drill's place: what they are called in the reckoner, and their share of a drill's cutting speed.
HOLE_TOOL = {CutterKind.DRILL: "drill", CutterKind.REAMER: "reamer", CutterKind.COUNTERSINK: "countersink"}
SHARE_OF_DRILL = {
    **{kind: HOLE_TOOLS[name][0] for kind, name in HOLE_TOOL.items()},
    CutterKind.COUNTERBORE: HOLE_TOOLS["countersink"][0],
}
#: Cutters with a weak neck run at half the speed and with a chip between these, in mm (rule of thumb).
NECKED = (CutterKind.T_SLOT, CutterKind.DOVETAIL)
NECKED_SPEED, NECKED_CHIP = Fraction(1, 2), (Fraction(2, 100), Fraction(5, 100))


@dataclass(frozen=True)
class Filled:
    """A value for an input, with its unit and what is said of it."""

    value: str
    unit: str = ""
    words: str = ""


@dataclass(frozen=True)
class Bench:
    """What is chosen: a machine, a material, a cutter; and what the shop has besides."""

    machine: Machine | None = None
    stock: Stock | None = None
    cutter: Cutter | None = None
    drills: Sequence[Cutter] = ()
    threads: Mapping[str, Thread] | None = None

    @property
    def unit(self) -> Unit:
        """The unit to work in: the machine's, else the cutter's."""
        if self.machine:
            return self.machine.unit
        return self.cutter.unit if self.cutter else Unit.MM

    @property
    def thread(self) -> Thread | None:
        """The thread of the tap that is chosen."""
        return (self.threads or {}).get(self.cutter.thread) if self.cutter else None

    @property
    def range(self) -> Range | None:
        """How fast the chosen material is cut by the chosen cutter."""
        if self.stock is None:
            return None
        made_of = self.cutter.made_of if self.cutter else CutterMaterial.HSS
        operation = self.cutter.operation if self.cutter else Operation.MILLING
        return self.stock.range_for(made_of, operation) if operation else None


def fills(b: Bench) -> dict[str, Filled]:
    """Every value that what is chosen says, by the name that inputs ask for it by."""
    return {**_of_machine(b), **_of_cutter(b), **_of_material(b), **_of_drills(b)}


def x_handle(machine: Machine) -> Handle:
    """The handle that is meant when none is named: the first of the long travel, else the first."""
    return next((h for h in machine.handles if h.axis is Axis.X), machine.handles[0])


def _of_machine(b: Bench) -> dict[str, Filled]:
    if b.machine is None:
        return {}
    m, handle = b.machine, x_handle(b.machine)
    found = {
        "machine.turn": Filled(handle.per_turn, handle.unit, say("X handle, {place}", place=handle.place)),
        "machine.graduations": Filled(str(handle.graduations)),
        "machine.watts": Filled(str(m.spindle.watts), "W"),
        "machine.steps": Filled(" ".join(map(str, m.spindle.steps)), "rpm" if m.spindle.steps else ""),
        "machine.power_feeds": Filled(" ".join(m.power_feeds), f"{m.unit}/min" if m.power_feeds else ""),
        "machine.quill_feeds": Filled(" ".join(m.quill_feeds), m.unit if m.quill_feeds else ""),
        "machine.ranges": Filled(" ".join(map(str, _merged(m.spindle.ranges))), "rpm" if m.spindle.ranges else ""),
    }
    if handle.backlash is not None:
        found["machine.backlash"] = Filled(handle.backlash, handle.unit, say("as measured on the X screw"))
    return found


def _merged(ranges: Sequence[tuple[int, int]]) -> list[int]:
    """Ranges from, to, from, to, rising; those that meet or overlap are one."""
    found: list[int] = []
    for low, high in sorted(ranges):
        if found and low <= found[-1]:
            found[-1] = max(found[-1], high)
        else:
            found += [low, high]
    return found


def _of_cutter(b: Bench) -> dict[str, Filled]:
    c = b.cutter
    if c is None:
        return {}
    size = c.measured or c.diameter
    words = say("reground, nominally {diameter} {unit}", diameter=c.diameter, unit=c.unit) if c.measured else ""
    found: dict[str, Filled] = {}
    if c.kind is CutterKind.FINDER:
        found["cutter.tip"] = Filled(size, c.unit)
    elif c.kind not in (CutterKind.TAP, CutterKind.HEAD, CutterKind.BAR):
        found["cutter.diameter"] = Filled(size, c.unit, words)
    if c.kind in HOLE_TOOL:
        found["cutter.tool"] = Filled(HOLE_TOOL[c.kind])
    if c.teeth:
        found["cutter.teeth"] = Filled(str(c.teeth))
    if c.angle:
        found["cutter.angle"] = Filled(c.angle, "°")
    if c.dial:
        found["cutter.dial"] = Filled(c.dial)
    if c.tap:
        found["cutter.tap"] = Filled(c.tap)
    if t := b.thread:
        pitch = shown(t.pitch_mm / t.unit.in_mm, 6)
        found |= {
            "cutter.thread": Filled(t.diameter, t.unit, t.designation),
            "cutter.pitch": Filled(
                pitch, t.unit, say("{pitch} threads per inch", pitch=t.pitch) if t.unit is Unit.INCH else ""
            ),
            "thread.close": Filled(t.close, t.unit),
            "thread.free": Filled(t.free, t.unit),
        }
    return found


def _of_material(b: Bench) -> dict[str, Filled]:
    if b.stock is None:
        return {}
    m = b.stock.material
    found = {
        "material.power": Filled(m.unit_power, "W·min/cm³", m.name),
        "material.expansion": Filled(m.expansion, "", m.name),
    }
    if r := b.range:
        necked = b.cutter is not None and b.cutter.kind in NECKED
        share = SHARE_OF_DRILL.get(b.cutter.kind, Fraction(1)) if b.cutter else Fraction(1)
        low, high, unit = _surface(b, r, NECKED_SPEED if necked else share)
        words = say(
            "{low} to {high} {unit}: low for rough work, an old machine, poor holding", low=low, high=high, unit=unit
        )
        if necked:
            words = say(
                "{low} to {high} {unit}: half of an end mill's, for its thin neck (rule of thumb)",
                low=low,
                high=high,
                unit=unit,
            )
        elif share != 1:
            words = say(
                "{low} to {high} {unit}: {share} of a drill's (rule of thumb)",
                low=low,
                high=high,
                unit=unit,
                share=shown(share, 2),
            )
        found["material.surface"] = Filled(low, unit, words)
        if r.operation is Operation.DRILLING:
            low, high, unit = _surface(b, r, Fraction(1))
            found["material.drill"] = Filled(
                low, unit, say("{low} to {high} {unit} for a drill", low=low, high=high, unit=unit)
            )
        if b.cutter and (chip := chip_of(b)):
            per = "turn" if r.operation is Operation.DRILLING else "tooth"
            size = f"{shown(b.cutter.real / b.unit.in_mm, 3)} {b.unit}"
            f_low, f_high = (_chip_text(x, b.unit) for x in chip)
            words = say(
                "{f_low} to {f_high} {unit} per {per} at {size}: {chip_words}",
                f_low=f_low,
                f_high=f_high,
                unit=b.unit,
                per=per,
                size=size,
                chip_words=CHIP_WORDS,
            )
            found["material.turn" if per == "turn" else "material.chip"] = Filled(f_low, b.unit, words)
    return found


CHIP_WORDS = say("less rubs, more breaks")


def chip_of(b: Bench) -> tuple[Fraction, Fraction] | None:
    """The chip load for the chosen cutter in the chosen material, low and high, in mm; None where none is known."""
    return chip_in(b.range, b.cutter) if b.cutter is not None and b.range is not None else None


def chip_in(of: Range, cutter: Cutter) -> tuple[Fraction, Fraction]:
    """The chip load of a range for one of its cutters, low and high, in mm; what is thin in the neck takes less."""
    low, high = of.chip(cutter.real)
    if cutter.kind in NECKED:
        return min(low, NECKED_CHIP[0]), min(high, NECKED_CHIP[1])
    return low, high


def _chip_text(mm: Fraction, unit: Unit) -> str:
    """A chip load as a number: three figures, however small."""
    exact = mm / unit.in_mm
    places = 4 if unit is Unit.INCH else 3
    return shown(exact, places if exact >= Fraction(1, 10 ** (places - 1)) else places + 1)


def chip_chart(b: Bench) -> Picture | None:
    """Chip load against diameter for the chosen material and cutter, and where this cutter stands in it."""
    if b.cutter is None or b.range is None:
        return None
    chip = chip_in(b.range, b.cutter)
    points, real = b.range.points, b.cutter.real
    wide = float(max(points[-1].diameter, real)) * 1.1
    tall = float(max(points[-1].high, chip[1])) * 1.15

    def at(diameter: float, mm: float) -> tuple[float, float]:
        return 100 * diameter / wide, 56 * mm / tall

    along = [wide * i / 48 for i in range(1, 49)]
    band = [b.range.chip(Fraction(x).limit_denominator(1000)) for x in along]
    low = [(0.0, 0.0), *(at(x, float(c[0])) for x, c in zip(along, band, strict=True))]
    high = [(0.0, 0.0), *(at(x, float(c[1])) for x, c in zip(along, band, strict=True))]
    top, bottom = at(float(real), float(chip[1])), at(float(real), float(chip[0]))
    per = "turn" if b.range.operation is Operation.DRILLING else "tooth"
    unit = b.unit
    words = say(
        "{chip_text} to {chip_text2} {unit} per {per}",
        chip_text=_chip_text(chip[0], unit),
        chip_text2=_chip_text(chip[1], unit),
        unit=unit,
        per=per,
    )
    beside = top[0] + 4 if top[0] < 50 else top[0] - 4
    shapes = (
        p.line(Ink.SCRIBE, (0.0, 60.0), (0.0, 0.0), (100.0, 0.0)),
        p.area(Ink.CUT, *low, *reversed(high)),
        p.line(Ink.CUTTER, *low),
        p.line(Ink.CUTTER, *high),
        p.line(Ink.ANSWER, bottom, top),
        p.disc(Ink.ANSWER, bottom, 1.1),
        p.disc(Ink.ANSWER, top, 1.1),
        p.text((max(62.0, min(72.0, beside)), 64.0), words, Ink.ANSWER),
        *_axes(wide, tall, unit, say("{unit} per {per}", unit=unit, per=per)),
    )
    size = f"{shown(real / unit.in_mm, 3)} {unit}"
    return Picture(say("Chip load against diameter: at {size} it is {words}.", size=size, words=words), shapes)


def _axes(wide: float, tall: float, unit: Unit, upright: str) -> Iterator[Shape]:
    """Values on both axes of a plot 100 wide and 56 high: diameters along, chip loads up, in the shop's unit."""
    one = float(unit.in_mm)
    for text, value in p.steps(wide / one, 4):
        x = 100 * value * one / wide
        yield p.line(Ink.SCRIBE, (x, 0.0), (x, -1.5))
        yield p.text((x, -5.0), text)
    for text, value in p.steps(tall / one, 3):
        y = 56 * value * one / tall
        yield p.line(Ink.SCRIBE, (0.0, y), (-1.5, y))
        yield p.text((-9.0, y), text)
    yield p.text((92.0, -11.0), say("diameter, {unit}", unit=unit))
    yield p.text((2.0, 64.0), upright)


def _surface(b: Bench, r: Range, share: Fraction) -> tuple[str, str, str]:
    """The range of cutting speed, or a share of it, in the unit of the bench."""
    unit, places = ("ft/min", 0) if b.unit is Unit.INCH else ("m/min", 1)
    one = UNITS[Quantity.SURFACE][unit]
    low, high = (shown(Fraction(x) * share / one, places) for x in (r.v_low, r.v_high))
    return low, high, unit


def _of_drills(b: Bench) -> dict[str, Filled]:
    unit = b.thread.unit if b.thread else b.unit
    own = _sizes(b.drills, unit)
    found = {}
    if own:
        found["crib.own"] = Filled(own, unit, say("what the crib owns"))
    if others := _sizes(b.drills, unit.other):
        found["crib.others"] = Filled(others, unit.other)
    return found


def _sizes(drills: Sequence[Cutter], unit: Unit) -> str:
    """Each size once and rising, as the first drill of it says it."""
    here = [c.diameter for c in drills if c.unit is unit and c.kind is CutterKind.DRILL and c.owned]
    sizes = {Length(x, unit).mm: x for x in reversed(here)}
    return " ".join(text for _, text in sorted(sizes.items()))
