"""What can be done with something that was touched on the part: kinds of operation, and the cutters that do them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.frame import SIDES
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import deep_of, fitting, unfit, why_not_there
from incudo.core.planning.file import OPPOSITE, OperationKind, Plan, PlanHolding, PlanOperation
from incudo.core.planning.kinds import CUTTERS, kind_words, stages_of
from incudo.core.planning.piece import Piece
from incudo.core.planning.shop import PlanShop

#: So many cutters that do not fit are named with their reason.
MOST_UNFIT = 12


@dataclass(frozen=True)
class CutterOffer:
    """A cutter that could be taken, or why it cannot."""

    name: str
    place: str
    why_not: str


@dataclass(frozen=True)
class Offer:
    """A kind of operation on what was touched, with its cutters, those that do it first."""

    kind: OperationKind
    words: str
    of: str
    why_not: str
    cutters: tuple[CutterOffer, ...]


def touched(piece: Piece, name: str) -> str:
    """The feature or the face of the body that something named on the part belongs to. Raises ``Refused``."""
    if name in SIDES or name in piece.features:
        return name
    named = piece.part.frame.named.get(name)
    if named is not None and named.feature:
        return named.feature
    known = together((*SIDES, *piece.features), ", ")
    raise Refused.of("name", name, say("must be a face or a feature of this part: {known}", known=known))


def offers(course: Course, holding: PlanHolding, name: str) -> tuple[Offer, ...]:
    """What can be done in a holding with a feature or a face. Raises ``Refused`` for a name that is not there."""
    piece = course.piece
    of = touched(piece, name)
    words = kind_words()
    if of in SIDES:
        if of == holding.up:
            kinds: tuple[OperationKind, ...] = (OperationKind.FACE,)
        elif of == OPPOSITE[holding.up]:
            kinds = ()
        else:
            kinds = (OperationKind.SIDE,)
        why = "" if of in piece.raw else say("It is as the stock has it: nothing has to come off.")
        if not kinds:
            why = say("It lies down in this holding.")
            kinds = (OperationKind.FACE,)
        return tuple(Offer(k, words[k], of, why, cutter_offers(piece, course.shop, k, None, of)) for k in kinds)
    feature = piece.features[of]
    why = ""
    if holding.up not in piece.ups[of]:
        ups = together((piece.words(u) for u in sorted(piece.ups[of])), say(" or "))
        why = say("It is cut with {ups} up.", ups=ups)
    return tuple(Offer(k, words[k], of, why, cutter_offers(piece, course.shop, k, feature)) for k in stages_of(feature))


def cutter_offers(
    piece: Piece,
    shop: PlanShop,
    kind: OperationKind,
    feature: Feature | None,
    face: str = "",
    deep: Fraction | None = None,
) -> tuple[CutterOffer, ...]:
    """The cutters of the right kind: those that do it, the best first; then the others with why not."""
    fit = fitting(piece, shop, kind, feature, face, deep)
    names = {c.name for c in fit}
    wanted = deep if deep is not None else deep_of(piece, kind, feature, face)
    found = [CutterOffer(c.name, c.place, "") for c in fit]
    others: list[CutterOffer] = []
    for k in CUTTERS.get(kind, ()):
        for c in shop.by_kind.get(k, ()):
            if c.cutter.name in names:
                continue
            why = why_not_there(c, c.cutter.name) or next(
                (u.words for u in unfit(piece, shop, kind, feature, c.cutter, wanted)), ""
            )
            others.append(CutterOffer(c.cutter.name, c.cutter.place, why))
    return (*found, *others[:MOST_UNFIT])


def with_operation(plan: Plan, holding: str, kind: OperationKind, of: Sequence[str], cutter: str) -> Plan:
    """A plan with one operation more: at the end of a holding, but before its deburring. Raises ``Refused``."""
    found = next((h for h in plan.holdings if h.id == holding), None)
    if found is None:
        raise Refused.of("holding", holding, say("there is no such holding in this plan"))
    new = PlanOperation(id=change.new_id(plan, f"o{len(plan.each()) + 1}"), kind=kind, of=tuple(of), cutter=cutter)
    last = found.operations[-1] if found.operations else None
    if last is not None and last.kind is OperationKind.DEBURR and kind is not OperationKind.DEBURR:
        return change.inserted(new, last.id)(plan)
    return change.appended(new, holding)(plan)


def best_of(course: Course, kind: OperationKind, of: str) -> str:
    """The cutter that one would reach for; empty when there is none."""
    feature = course.piece.features.get(of)
    fit = fitting(course.piece, course.shop, kind, feature, of if feature is None else "")
    return fit[0].name if fit else ""


def emptied(plan: Plan, gaps: Sequence[str]) -> Plan:
    """A plan with what an instructor leaves open taken out: order, cutters, speeds, datums, holdings."""
    holdings = list(plan.holdings)
    if "cutters" in gaps:
        holdings = [_each(h, cutter="", holder="", speed=None, feed=None) for h in holdings]
    if "speeds" in gaps:
        holdings = [_each(h, speed=None, feed=None, depth=None, width=None) for h in holdings]
    if "datums" in gaps:
        holdings = [_each(h, x="", y="", z="") for h in holdings]
    if "holdings" in gaps:
        holdings = [h.model_copy(update={"soft_bar": False, "stop": "", "parallels": "", "out": "0"}) for h in holdings]
    if "order" in gaps:
        holdings = [_by_name(h) for h in holdings]
    return plan.model_copy(update={"holdings": tuple(holdings)})


def _each(h: PlanHolding, **changes: object) -> PlanHolding:
    return h.model_copy(update={"operations": tuple(o.model_copy(update=changes) for o in h.operations)})


def _by_name(h: PlanHolding) -> PlanHolding:
    """The operations in an order that says nothing: by what they work on, backwards, deburring first."""
    mixed = sorted(h.operations, key=lambda o: (o.kind is not OperationKind.DEBURR, o.of, o.kind), reverse=True)
    return h.model_copy(update={"operations": tuple(mixed)})
