"""What a shop's machine, material and cutter say for the inputs of a calculation."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.quantity import Length, Unit
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
        "machine.turn": Filled(handle.per_turn, handle.unit, f"X handle, {handle.place}"),
        "machine.graduations": Filled(str(handle.graduations)),
        "machine.watts": Filled(str(m.spindle.watts), "W"),
        "machine.steps": Filled(" ".join(map(str, m.spindle.steps)), "1/min" if m.spindle.steps else ""),
        "machine.ranges": Filled(" ".join(map(str, _merged(m.spindle.ranges))), "1/min" if m.spindle.ranges else ""),
    }
    if handle.backlash is not None:
        found["machine.backlash"] = Filled(handle.backlash, handle.unit, "as measured on the X screw")
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
    words = f"reground, nominally {c.diameter} {c.unit}" if c.measured else ""
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
            "cutter.pitch": Filled(pitch, t.unit, f"{t.pitch} threads per inch" if t.unit is Unit.INCH else ""),
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
        share = SHARE_OF_DRILL.get(b.cutter.kind, Fraction(1)) if b.cutter else Fraction(1)
        low, high, unit = _surface(b, r, share)
        words = f"{low} to {high} {unit}: low for rough work, an old machine, poor holding"
        if share != 1:
            words = f"{low} to {high} {unit}: {shown(share, 2)} of a drill's (rule of thumb)"
        found["material.surface"] = Filled(low, unit, words)
        f_low, f_high = (
            shown(Fraction(x) / b.unit.in_mm, 4 if b.unit is Unit.INCH else 3) for x in (r.f_low, r.f_high)
        )
        if r.operation is Operation.DRILLING:
            low, high, unit = _surface(b, r, Fraction(1))
            found["material.drill"] = Filled(low, unit, f"{low} to {high} {unit} for a drill")
            found["material.turn"] = Filled(
                f_low, b.unit, f"{f_low} to {f_high} {b.unit} a turn, larger for a larger drill"
            )
        else:
            words = f"{f_low} to {f_high} {b.unit} a tooth: never so low that it rubs"
            found["material.chip"] = Filled(f_low, b.unit, words)
    return found


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
        found["crib.own"] = Filled(own, unit, "what the crib owns")
    if others := _sizes(b.drills, unit.other):
        found["crib.others"] = Filled(others, unit.other)
    return found


def _sizes(drills: Sequence[Cutter], unit: Unit) -> str:
    sizes = {c.diameter for c in drills if c.unit is unit and c.kind is CutterKind.DRILL and c.owned}
    return " ".join(sorted(sizes, key=lambda x: Length(x, unit).mm))
