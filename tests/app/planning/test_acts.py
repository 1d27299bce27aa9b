"""What a plan's acts propose and cure."""

from __future__ import annotations

import pytest

from incudo.app.planning.acts import AddHolding, CureFault, _cured, _one_more
from incudo.app.planning.looking import _numbers
from incudo.core.kernel.errors import Refused
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind, Plan
from incudo.core.planning.judge import judge
from incudo.core.planning.settle import Settled
from tests.core.planning import shops
from tests.core.planning.spoiling import both, own, sets

KEEL = "keel-step-gauge"


def course(plan: Plan) -> Course:
    return Course(shops.piece(KEEL), plan, shops.on("petrel", KEEL))


def test_what_is_milled_by_then_is_proposed_for_the_fixed_jaw() -> None:
    plan = own("petrel", KEEL)
    first = plan.holdings[0]
    act = AddHolding(act="hold", up="left")
    assert _one_more(course(Plan()), act).holdings[0].fixed == "rear", "nothing is milled: any face beside"
    after = _one_more(course(plan.model_copy(update={"holdings": (first,)})), act)
    assert after.holdings[1].fixed == first.up


def test_the_fault_that_is_named_is_cured_and_no_other() -> None:
    plan = both(sets("step", "first step", x=""), sets("step", "second step", clear=False))(own("petrel", KEEL))
    found = judge(course(plan))
    assert len(found) > 1
    for f in found:
        act = CureFault(act="cure", code=f.code, holding=f.holding, operation=f.operation)
        if f.fix is None:
            with pytest.raises(Refused):
                _cured(course(plan), act)
            continue
        left = {(g.code, g.operation) for g in judge(course(_cured(course(plan), act)))}
        assert left == {(g.code, g.operation) for g in found if g is not f}
    with pytest.raises(Refused):
        _cured(course(plan), CureFault(act="cure", code=found[0].code, holding="h9"))


@pytest.mark.parametrize(("wanted", "said"), [(500, "500 rpm"), (501, "500 rpm (calculated 501)")])
def test_a_speed_says_what_was_calculated_where_it_is_another(wanted: int, said: str) -> None:
    c = course(own("petrel", KEEL))
    stage = next(s for s in c.stages if s.kind is OperationKind.STEP)
    lines = {x.name: x.value for x in _numbers(c, stage, Settled(speed=500, wanted=wanted))}  # type: ignore[arg-type]
    assert lines["speed"] == said
