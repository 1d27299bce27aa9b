"""Small changes of a plan, each giving a new one: what cures and editors are made of."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.core.planning.file import Plan, PlanHolding, PlanOperation

Fix = Callable[[Plan], Plan]


def _made(plan: Plan, holdings: list[PlanHolding]) -> Plan:
    return plan.model_copy(update={"holdings": tuple(holdings)})


def _each(plan: Plan, change: Callable[[PlanHolding], PlanHolding]) -> Plan:
    return _made(plan, [change(h) for h in plan.holdings])


def find_operation(plan: Plan, id_: str) -> tuple[PlanHolding, PlanOperation]:
    """An operation with its holding. Raises ``NotFound``."""
    for h, o in plan.each():
        if o.id == id_:
            return h, o
    raise NotFound(say("There is no such operation in this plan."))


def operation(id_: str, **changes: Any) -> Fix:
    """Change fields of one operation."""

    def fix(plan: Plan) -> Plan:
        def change(h: PlanHolding) -> PlanHolding:
            ops = tuple(o.model_copy(update=changes) if o.id == id_ else o for o in h.operations)
            return h.model_copy(update={"operations": ops})

        return _each(plan, change)

    return fix


def holding(id_: str, **changes: Any) -> Fix:
    """Change fields of one holding."""
    return lambda plan: _each(plan, lambda h: h.model_copy(update=changes) if h.id == id_ else h)


def without(*ids: str) -> Fix:
    """Take operations out; a holding without any goes with them."""

    def fix(plan: Plan) -> Plan:
        kept = []
        for h in plan.holdings:
            ops = tuple(o for o in h.operations if o.id not in ids)
            if ops or not h.operations:
                kept.append(h.model_copy(update={"operations": ops}))
        return _made(plan, kept)

    return fix


def inserted(new: PlanOperation, at: str, *, after: bool = False) -> Fix:
    """Put an operation in before (or after) another."""

    def fix(plan: Plan) -> Plan:
        def change(h: PlanHolding) -> PlanHolding:
            ops: list[PlanOperation] = []
            for o in h.operations:
                ops += ([o, new] if after else [new, o]) if o.id == at else [o]
            return h.model_copy(update={"operations": tuple(ops)})

        return _each(plan, change)

    return fix


def appended(new: PlanOperation, holding_id: str) -> Fix:
    """Put an operation at the end of a holding."""

    def change(h: PlanHolding) -> PlanHolding:
        return h.model_copy(update={"operations": (*h.operations, new)}) if h.id == holding_id else h

    return lambda plan: _each(plan, change)


def moved(id_: str, to: str, *, after: bool = False) -> Fix:
    """Move an operation to just before (or after) another, also into another holding."""

    def fix(plan: Plan) -> Plan:
        _, op = find_operation(plan, id_)
        kept = _each(plan, lambda h: h.model_copy(update={"operations": tuple(o for o in h.operations if o.id != id_)}))
        return inserted(op, to, after=after)(kept)

    return fix


def new_id(plan: Plan, stem: str) -> str:
    """An id that is not in the plan yet: the stem, with a number where it is taken."""
    taken = {h.id for h in plan.holdings} | {o.id for _, o in plan.each()}
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in range(2, 1000) if f"{stem}-{n}" not in taken)
