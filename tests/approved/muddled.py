"""Plans that somebody took apart by chance, several things at once: what the judge says of each."""

from __future__ import annotations

import random
from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from pydantic import ValidationError

from incudo.core.cutting.card import run_card
from incudo.core.cutting.dry.dry_run import DryRun, done_right, with_slip
from incudo.core.cutting.dry.measured import measured
from incudo.core.cutting.dry.slips import slips
from incudo.core.cutting.trouble import signs
from incudo.core.kernel.errors import Refused
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import KEPT, OPPOSITE, STOP, HeldIn, OperationKind, Plan
from incudo.core.planning.judge import judged
from incudo.core.planning.piece import Piece
from incudo.core.planning.shop import PlanShop
from tests.approved.told import mark, short, told
from tests.core.cutting.test_worker import rings_of
from tests.core.planning import shops
from tests.core.planning.spoiling import own

#: The tests' own parts that a plan can be made for.
OWN = ("tee", "hollow", "hasp", "twin", "ledge")
#: So many plans of each part, with so many things changed in each at most.
PLANS, CHANGES = 7, 3
#: Run cards of so many of them, and so many slips of each.
CARDS, SLIPS = 3, 3
#: How far a reading is off, mm.
OFF = tuple(Fraction(x) for x in ("0", "0.02", "-0.05", "0.3", "-1"))
LENGTHS = ("0", "0.5", "1", "3", "10", "25", "60")


def _jobs(parts: list[str]) -> Iterator[tuple[str, str, Piece, PlanShop]]:
    """Each of these parts and of the tests' own, on the next machine."""
    for number, part in enumerate([*parts, *OWN]):
        machine = shops.MACHINES[number % len(shops.MACHINES)]
        yield part, machine, shops.piece(part), shops.on(machine, part)


def muddled(parts: list[str]) -> Iterator[str]:
    """Of each part some plans with chance changes: the changes, then each finding with its words in short."""
    for part, machine, piece, shop in _jobs(parts):
        yield f"# {part} on {machine}"
        for seed in range(PLANS):
            what, plan = muddle(part, machine, seed)
            if plan is None:
                yield what
                continue
            try:
                found = judged(piece, plan, shop)
            except Refused as refused:
                yield f"{what}: {'; '.join(f'{e.field}: {e.bound}' for e in refused.errors)}"
                continue
            codes = " ".join(f"{f.code}:{f.operation or f.holding}" for f in found)
            fixed = [told(f.fix(plan)) if f.fix else "" for f in found]
            yield f"{what}: {codes} {mark([(f.words, f.cure) for f in found], fixed)}"


def muddled_cards(parts: list[str]) -> Iterator[str]:
    """The run cards of such plans on machines of any make: a mark of each with its signs, its dry run, a few slips."""
    for part, machine, piece, shop in _jobs(parts):
        yield f"# {part} on {machine}"
        for seed in range(CARDS):
            what, plan = muddle(part, machine, seed)
            if plan is None:
                continue
            chance = random.Random(f"card {part} {seed}")
            play, turned, rising = Fraction(chance.randint(0, 36), 36), chance.random() < 0.5, chance.random() < 0.5
            rings = rings_of(machine, piece.part.file.material, play, turned=turned, rising=rising)
            try:
                course = Course(piece, plan, shop)
                steps = run_card(course, rings, {})
                read = {s.id: s.check.expected + chance.choice(OFF) for s in steps if s.check is not None}
                run = done_right(course, rings)
            except Refused as refused:
                yield f"{what}: {'; '.join(f'{e.field}: {e.bound}' for e in refused.errors)}"
                continue
            again = run_card(course, rings, read)
            yield f"{what}: {len(steps)} steps {mark(steps, again, [signs(course, n) for _, n in course.each()])}"
            yield f"    as it says: {mark(run.came_out())} {told(measured(run)[:2])}"
            plain = DryRun(course, rings)
            found = list(slips(course, plain.steps, plain.slides))
            for slip in chance.sample(found, min(SLIPS, len(found))):
                made = with_slip(plain, slip)
                yield short(f"    {told(slip)}: {told(made.causes[:2])} {mark(made.causes, made.came_out())}")


def muddle(part: str, machine: str, seed: int) -> tuple[str, Plan | None]:
    """What was changed by chance in Incudo's own plan, and the plan then; none where it is no plan any more."""
    piece, shop = shops.piece(part), shops.on(machine, part)
    chance, plan, what = random.Random(f"{part} {seed}"), own(machine, part), []
    for _ in range(chance.randint(1, CHANGES)):
        plan, one = _change(plan, piece, shop, chance)
        what.append(one)
    try:
        return "; ".join(what), Plan.model_validate_json(plan.model_dump_json())
    except ValidationError as fault:
        return f"{'; '.join(what)}: {told([e['msg'] for e in fault.errors()])}", None


def _change(plan: Plan, piece: Piece, shop: PlanShop, chance: random.Random) -> tuple[Plan, str]:
    holding = chance.choice([h for h in plan.holdings if h.operations])
    op = chance.choice([o for h in plan.holdings for o in h.operations])
    match chance.randrange(8):
        case 0:
            other = chance.choice([o for h in plan.holdings for o in h.operations])
            return change.moved(op.id, other.id, after=True)(plan), f"{op.id} after {other.id}"
        case 1 if len(list(plan.each())) > 2:
            return change.without(op.id)(plan), f"without {op.id}"
        case 2:
            up = chance.choice(sorted(OPPOSITE))
            fixed = chance.choice([f for f in sorted(OPPOSITE) if f not in (up, OPPOSITE[up])])
            return change.holding(holding.id, up=up, fixed=fixed)(plan), f"{holding.id} {up} up, {fixed} fixed"
        case 3:
            named: dict[str, tuple[Any, ...]] = {
                "held": tuple(HeldIn),
                "parallels": ("bed", "25 mm", "1 in", "10 mm"),
                "stop": ("", "left", "right"),
                "out": LENGTHS,
                "found": ("low", "high"),
                "soft_bar": (True, False),
                "spacer": (True, False),
                "straps": (0, 1, 2, 4),
            }
            return _field(plan, holding.id, named, chance, of_holding=True)
        case 4:
            zeros = ("", STOP, KEPT, *piece.features, "left", "right", "front", "rear", "top", "bottom")
            axis = chance.choice("xyz")
            return _field(plan, op.id, {axis: zeros}, chance)
        case 5:
            return _field(plan, op.id, {"cutter": tuple(sorted(shop.crib))}, chance)
        case 6:
            lengths: dict[str, tuple[Any, ...]] = dict.fromkeys(("leave", "feed", "depth", "width", "finish"), LENGTHS)
            return _field(plan, op.id, lengths | {"speed": (60, 300, 1200, 5000)}, chance)
        case _:
            named = {
                "direction": ("climb", "conventional"),
                "entry": ("outside", "plunge", "ramp", "hole"),
                "lock": ((), ("x",), ("x", "z"), ("y", "z"), ("x", "y", "z")),
                "approach": ("low", "high"),
                "measure": (True, False),
                "clear": (False,),
                "easing": (False,),
                "dubbed": (False,),
                "kind": tuple(OperationKind),
            }
            return _field(plan, op.id, named, chance)


def _field(
    plan: Plan, id_: str, named: dict[str, tuple[Any, ...]], chance: random.Random, *, of_holding: bool = False
) -> tuple[Plan, str]:
    name = chance.choice(sorted(named))
    value = chance.choice(named[name])
    how = change.holding if of_holding else change.operation
    return how(id_, **{name: value})(plan), f"{id_} {name} {told(value)}"
