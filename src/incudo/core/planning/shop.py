"""What a plan is made with: a machine, the shop's vises, parallels and cutters, the material. As they stand now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say, together
from incudo.core.measuring.instrument import Instrument
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import ON_ARBOR
from incudo.core.planning.pace import Pace
from incudo.core.reckoning.bench import Bench, chip_of
from incudo.core.setup.holding import JawVise, ParallelPair
from incudo.core.shop.cutter import Cutter, CutterKind, Holder, Thread
from incudo.core.shop.machine import Axis, Handle, Kind, Machine
from incudo.core.shop.material import Stock

#: Below so much power for a cubic centimetre a minute a material counts as soft (aluminium, brass), W·min/cm³.
SOFT = Fraction(25)
#: An end mill of so many flutes or fewer cuts to its middle unless its name says otherwise. Rule of thumb.
CENTRE_CUTTING_FLUTES = 3


#: How wide the collars of an arbor are where nobody says how a cutter is held, mm. Rule of thumb.
USUAL_COLLAR = Fraction(40)
#: A strap of a usual clamping kit.
USUAL_STRAP = Length("80", Unit.MM)
#: How wide a strap is where nobody has measured it, mm. Rule of thumb.
USUAL_STRAP_WIDTH = Fraction(25)


@dataclass(frozen=True)
class CribCutter:
    """A cutter of the crib: how many are left there, and why it may not be used, if so.

    ``unheld`` says what it would have to be held in and the shop has not got for this machine's taper.
    """

    cutter: Cutter
    left: int
    tagged: str = ""
    unheld: str = ""


@dataclass(frozen=True)
class VisePlace:
    """A vise by its name."""

    name: str
    jaws: JawVise


@dataclass(frozen=True)
class VBlockPlace:
    """A V-block by its name, and the bars that it takes: from ``least`` to ``most`` mm across."""

    name: str
    least: Fraction
    most: Fraction


@dataclass(frozen=True)
class PlanShop:
    """What stands in the shop for a plan. ``vises`` are in the order in which one reaches for them on this machine.

    ``nearest`` is the shop's school of taking a speed step; ``permitted`` says for each skill whether the student may
    work alone, only beside somebody, or not, in the words of the permission.
    """

    name: str
    machine: Machine
    vises: tuple[VisePlace, ...]
    drawer: tuple[ParallelPair, ...]
    crib: Mapping[str, CribCutter]
    holders: Mapping[str, Holder]
    threads: Mapping[str, Thread]
    stock: Stock
    nearest: bool = False
    #: How long the shop's straps are; without any it has no clamps.
    straps: tuple[Length, ...] = (USUAL_STRAP,)
    #: How wide the widest of them is, mm.
    strap_width: Fraction = USUAL_STRAP_WIDTH
    v_blocks: tuple[VBlockPlace, ...] = ()
    beside: Mapping[str, str] = field(default_factory=dict)
    #: The gauges whose readings decide today.
    gauges: tuple[Instrument, ...] = ()
    #: How wide this shop's own holders are where the cutter comes out of them, by their way of holding, mm.
    noses: Mapping[str, Fraction] = field(default_factory=dict)
    #: How fast this shop works on this machine, by kind of work.
    paces: Mapping[str, Pace] = field(default_factory=dict)
    #: What is asked again and again while a plan is searched: which cutters do what.
    memo: dict[object, object] = field(init=False, default_factory=dict, compare=False, repr=False)

    @property
    def soft(self) -> bool:
        """Whether the material is soft to cut."""
        return Fraction(self.stock.material.unit_power) < SOFT

    @property
    def level(self) -> bool:
        """Whether the spindle lies level, so that cutters sit on an arbor over the work."""
        return self.machine.kind is Kind.HORIZONTAL

    @property
    def beyond(self) -> frozenset[OperationKind]:
        """The kinds of operation that no cutter does here: on a level arbor all that come down from above."""
        by_hand = (OperationKind.DEBURR, OperationKind.MEASURE)
        return frozenset(OperationKind) - {*ON_ARBOR, *by_hand} if self.level else frozenset()

    def under_arbor(self, cutter: Cutter) -> Fraction:
        """How far a cutter stands out below the collars of its arbor, mm."""
        collar = self.nose(cutter.holder)
        return (cutter.real - (USUAL_COLLAR if collar is None else collar)) / 2

    @property
    def grabs(self) -> bool:
        """Whether a drill draws itself into this material unless its edge is dubbed: brass and bronze."""
        return self.stock.material.key in ("brass", "bronze")

    def v_block(self, bar: Fraction) -> VBlockPlace | None:
        """The first V-block that takes a bar this thick (mm)."""
        return next((v for v in self.v_blocks if v.least <= bar <= v.most), None)

    def nose(self, way: str) -> Fraction | None:
        """How wide a holder is where the cutter comes out, mm: the shop's own, else as is usual. None if unknown."""
        known = self.holders.get(way)
        return self.noses.get(way, Fraction(known.nose) if known else None)

    def cutter(self, name: str) -> Cutter | None:
        """A cutter of the crib by its name."""
        found = self.crib.get(name)
        return found.cutter if found else None

    def bench(self, cutter: Cutter | None) -> Bench:
        """The same as the calculations ask for it."""
        return Bench(self.machine, self.stock, cutter, self.cutters, self.threads)

    def chip(self, cutter: Cutter) -> tuple[Fraction, Fraction] | None:
        """The chip load for a cutter here, low and high, mm."""
        return chip_of(self.bench(cutter))

    @cached_property
    def handles(self) -> Mapping[Axis, Handle]:
        """The first handle of each axis."""
        return {h.axis: h for h in reversed(self.machine.handles)}

    @cached_property
    def by_kind(self) -> Mapping[CutterKind, tuple[CribCutter, ...]]:
        """The crib's cutters of each kind."""
        found: dict[CutterKind, list[CribCutter]] = {}
        for c in self.crib.values():
            found.setdefault(c.cutter.kind, []).append(c)
        return {k: tuple(v) for k, v in found.items()}

    @cached_property
    def cutters(self) -> tuple[Cutter, ...]:
        """Every cutter of the crib."""
        return tuple(c.cutter for c in self.crib.values())

    def backlash(self, axis: str) -> Fraction:
        """Measured backlash of X or Y in mm; 0 where none was measured."""
        handle = self.handles.get(Axis(axis))
        return Length(handle.backlash, handle.unit).mm if handle and handle.backlash else Fraction(0)

    def travel(self, axis: int) -> Fraction:
        """Travel of the machine along X, Y or Z, mm."""
        return self.machine.length(self.machine.travel[axis]).mm


def mm(text: str, unit: Unit) -> Fraction:
    """A number of a file in mm."""
    return Length(text, unit).mm


def cuts_to_middle(cutter: Cutter) -> bool:
    """Whether an end mill can go straight down: its teeth reach the middle."""
    if cutter.kind is CutterKind.END_MILL:
        return cutter.teeth <= CENTRE_CUTTING_FLUTES or "centre-cutting" in cutter.name.lower()
    return cutter.kind is CutterKind.BALL


def pair_label(pair: ParallelPair) -> str:
    """A pair of parallels by its height, as a plan names it: mm, exactly."""
    return f"{float(pair.height):g} mm"


def material_of(word: str, stocks: Iterable[Stock]) -> Stock:
    """The material of the shop's tables that a drawing means: of this key or name, or the first that begins so.

    Raises ``Refused`` naming those that there are.
    """
    known = list(stocks)
    said = word.strip().lower()
    for s in known:
        if said in (s.material.key, s.material.name.lower()):
            return s
    for s in known:
        if s.material.name.lower().startswith(said):
            return s
    names = together((s.material.name for s in known), ", ")
    raise Refused.of("material", word, say("must be one of the shop's tables: {names}", names=names))
