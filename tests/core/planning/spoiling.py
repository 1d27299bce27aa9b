"""Ways to spoil a plan, one fault each: small functions from a plan to a plan."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache, reduce
from typing import Any

from incudo.core.planning import change
from incudo.core.planning.file import OperationKind, Plan, PlanHolding, PlanOperation
from incudo.core.planning.own import own_plan
from tests.core.planning import shops

Spoil = Callable[[Plan], Plan]


@cache
def own(machine: str, code: str) -> Plan:
    """Incudo's own plan, which every spoilt one begins with."""
    found = own_plan(shops.piece(code), shops.on(machine, code))
    assert found.plan is not None, found.reasons
    return found.plan


def which(plan: Plan, kind: OperationKind | str, of: str = "") -> PlanOperation:
    """The first operation of a kind, on a feature or a face if one is named."""
    return next(o for _, o in plan.each() if o.kind == kind and (not of or of in o.of))


def holding_of(plan: Plan, op: PlanOperation) -> PlanHolding:
    """The holding that an operation is in."""
    return next(h for h, o in plan.each() if o.id == op.id)


def sets(kind: OperationKind | str, of: str = "", **changes: Any) -> Spoil:
    """Fields of an operation otherwise."""
    return lambda plan: change.operation(which(plan, kind, of).id, **changes)(plan)


def drops(kind: OperationKind | str, of: str = "") -> Spoil:
    """An operation forgotten."""
    return lambda plan: change.without(which(plan, kind, of).id)(plan)


def holds(n: int, **changes: Any) -> Spoil:
    """A holding otherwise; counted from 1, from the end below 0."""
    return lambda plan: change.holding(plan.holdings[n - 1 if n > 0 else n].id, **changes)(plan)


def moves(kind: OperationKind | str, of: str, before: OperationKind | str, other: str = "") -> Spoil:
    """An operation before another one."""
    return lambda plan: change.moved(which(plan, kind, of).id, which(plan, before, other).id)(plan)


def puts_last(kind: OperationKind | str, of: str) -> Spoil:
    """An operation at the end of its holding, before the deburring."""

    def spoil(plan: Plan) -> Plan:
        op = which(plan, kind, of)
        return change.moved(op.id, holding_of(plan, op).operations[-1].id)(plan)

    return spoil


def undeburred(n: int) -> Spoil:
    """A holding that is not deburred."""

    def spoil(plan: Plan) -> Plan:
        burr = next(o for o in plan.holdings[n - 1].operations if o.kind is OperationKind.DEBURR)
        return change.without(burr.id)(plan)

    return spoil


def adds(kind: OperationKind | str, of: str, to: OperationKind | str, other: str, **fields: Any) -> Spoil:
    """One more operation after another."""

    def spoil(plan: Plan) -> Plan:
        at = which(plan, to, other)
        new = PlanOperation(id="new", kind=OperationKind(kind), of=(of,) if of else (), **fields)
        return change.inserted(new, at.id, after=True)(plan)

    return spoil


def splits(n: int, at: OperationKind | str, of: str = "") -> Spoil:
    """A holding taken apart before an operation, held the same way again."""

    def spoil(plan: Plan) -> Plan:
        h = plan.holdings[n - 1]
        i = next(i for i, o in enumerate(h.operations) if o.kind == at and (not of or of in o.of))
        burr = PlanOperation(id="burr", kind=OperationKind.DEBURR)
        one = h.model_copy(update={"operations": (*h.operations[:i], burr)})
        two = h.model_copy(update={"id": "again", "operations": h.operations[i:]})
        return plan.model_copy(update={"holdings": (*plan.holdings[: n - 1], one, two, *plan.holdings[n:])})

    return spoil


def late(kind: OperationKind | str, of: str, up: str, fixed: str, **zeros: Any) -> Spoil:
    """An operation at the very end, in a holding of its own."""

    def spoil(plan: Plan) -> Plan:
        op = which(plan, kind, of)
        kept = change.without(op.id)(plan)
        ops = (op.model_copy(update=zeros), PlanOperation(id="burr", kind=OperationKind.DEBURR))
        held = PlanHolding(id="late", up=up, fixed=fixed, operations=ops)  # type: ignore[arg-type]
        return kept.model_copy(update={"holdings": (*kept.holdings, held)})

    return spoil


def both(*spoils: Spoil) -> Spoil:
    """Several changes that make one fault together."""
    return lambda plan: reduce(lambda p, s: s(p), spoils, plan)
