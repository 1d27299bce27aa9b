"""What a plan needs: stock, cutters, what holds the work, gauges; for one student, and for several at the same time."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from incudo.core.kernel.say import say
from incudo.core.parts.features.part import stock_words
from incudo.core.parts.gauging import gauges_for
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import why_not_there
from incudo.core.planning.file import HeldIn
from incudo.core.planning.gripping import grip_of


@dataclass(frozen=True)
class Need:
    """One thing: what, which, how it is held, where it is, how many are left, and why it is not to be had."""

    what: str
    name: str
    holder: str
    place: str
    left: int
    wanted: int
    why_not: str
    counted: bool = False

    @property
    def short(self) -> bool:
        """Whether there are too few; only of cutters the register says how many there are."""
        return bool(self.why_not) or (self.counted and self.left < self.wanted)


def needs(course: Course) -> tuple[Need, ...]:
    """The stock, what it is cut and held with, the gauges."""
    file = course.piece.part.file
    stock = say("{stock} ({unit}), {material}", stock=stock_words(file), unit=file.unit, material=file.material)
    # nobody counts bars: whether there is one is not known
    return (Need(say("stock"), stock, "", say("the saw"), 0, 0, ""), *tools_needed(course), *_gauges(course))


def tools_needed(course: Course) -> tuple[Need, ...]:
    """The cutters with their holders, then parallels and what else holds the work."""
    found: dict[str, Need] = {}
    shop = course.shop
    for s in course.stages:
        name = s.operation.cutter
        if not name or name in found:
            continue
        there = shop.crib.get(name)
        holder = s.operation.holder or (there.cutter.holder if there else "")
        found[name] = Need(
            say("cutter"),
            name,
            shop.holders[holder].name if holder in shop.holders else "",
            there.cutter.place if there else "",
            there.left if there else 0,
            1,
            why_not_there(there, name),
            counted=True,
        )
    for h, stages in course.held:
        grip = grip_of(course, h, stages)
        if grip is not None:
            found.setdefault(grip.vise.name, Need(say("vise"), grip.vise.name, "", "", 1, 1, ""))
        if grip is not None and grip.pair is not None:
            size = course.length(grip.pair.height)
            found.setdefault(size, Need(say("holding"), say("parallels {size}", size=size), "", "", 1, 1, ""))
        if h.soft_bar and stages:
            found.setdefault("bar", Need(say("holding"), say("soft round bar"), "", "", 1, 1, ""))
        if h.held is HeldIn.STRAPS and stages:
            found.setdefault("straps", Need(say("holding"), say("strap clamps"), "", "", h.straps, h.straps, ""))
        if h.held is HeldIn.V_BLOCK and stages:
            block = shop.v_block(course.piece.across)
            why_not = "" if block else say("The shop has none that takes this bar.")
            name = block.name if block else say("V-block")
            found.setdefault("v-block", Need(say("holding"), name, "", "", int(block is not None), 1, why_not))
    return tuple(found.values())


def _gauges(course: Course) -> Iterator[Need]:
    """The gauges that the drawing asks for; nothing of a shop that has entered none."""
    seen: set[str] = set()
    for c, names in gauges_for(course.piece.part.project, course.shop.gauges) if course.shop.gauges else ():
        if not names:
            what = say("for {number} {name}", number=c.number, name=c.name)
            yield Need(say("gauge"), what, "", "", 0, 1, say("No gauge of the shop is good enough."))
        for name in names:
            if name not in seen:
                seen.add(name)
                yield Need(say("gauge"), name, "", "", 1, 1, "")


@dataclass(frozen=True)
class NeededBy:
    """Something that several people's plans need, and who they are."""

    need: Need
    people: tuple[str, ...]


def together_needed(plans: Iterable[tuple[str, tuple[Need, ...]]]) -> tuple[NeededBy, ...]:
    """What the plans of these people need at the same time: how many of each, against how many there are.

    What is short comes first, then cutters before what holds the work, as the plans have them.
    """
    found: dict[tuple[str, str], NeededBy] = {}
    for person, plan in plans:
        for n in plan:
            kept = found.get((n.what, n.name))
            wanted = n.wanted + (kept.need.wanted if kept else 0)
            people = dict.fromkeys((*(kept.people if kept else ()), person))
            found[n.what, n.name] = NeededBy(replace(n, wanted=wanted), tuple(people))
    kinds = list(dict.fromkeys(x.need.what for x in found.values()))
    return tuple(sorted(found.values(), key=lambda x: (not x.need.short, kinds.index(x.need.what))))
