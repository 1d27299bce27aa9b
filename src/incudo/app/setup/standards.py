"""The shop's own rules for setting up, and what rigs are played on."""

from __future__ import annotations

from incudo.app.kernel.unit import Work, find
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import RigSetup
from incudo.core.setup.standard import SetupRules
from incudo.core.shop.workholding import Vise, kept_holding
from incudo.store import schema as t
from incudo.store.shop import machines


def setup_rules(w: Work) -> SetupRules:
    """The shop's rules; what it has not said follows the defaults."""
    return SetupRules.model_validate_json(find(w, t.Shop, 1, "shop").setup_rules)


def holding_of(row: t.Workholding) -> Vise:
    """A vise of the register. Raises ``Refused`` for what is none."""
    found = kept_holding(row.spec)
    if not isinstance(found, Vise):
        raise Refused.of("vise", row.name, say("must be a vise"))
    return found


def vises(w: Work) -> list[tuple[t.Workholding, Vise]]:
    """The shop's vises, in the order they are kept."""
    found = ((row, kept_holding(row.spec)) for row in machines.workholding(w.db))
    return [(row, v) for row, v in found if isinstance(v, Vise)]


def rig_setup(w: Work) -> RigSetup:
    """Rigs are played with the shop's rules and unit, on its first vise."""
    rules, unit = setup_rules(w), Unit(find(w, t.Shop, 1, "shop").unit)
    own = next((v for _, v in vises(w)), None)
    if own is None:
        return RigSetup(rules=rules, unit=unit)

    def mm(text: str) -> float:
        return float(Length(text, own.unit).mm)

    return RigSetup(rules=rules, unit=unit, jaw=mm(own.jaw), bolts=mm(own.bolts), bolts_before=mm(own.bolts_before))
