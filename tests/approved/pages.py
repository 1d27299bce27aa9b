"""The pages that are approved: each a name and its lines."""

from __future__ import annotations

import copy
import random
from collections.abc import Callable, Iterator
from fractions import Fraction
from typing import Any

import yaml

from incudo import shipped
from incudo.core.cutting.card import run_card
from incudo.core.cutting.dry.dry_run import DryRun, done_right, with_slip
from incudo.core.cutting.dry.slips import slips
from incudo.core.cutting.measure import judge_reading
from incudo.core.cutting.trouble import signs
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.measuring.verdict import Measured, School
from incudo.core.parts.drawing import render
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.drawing.printed import printed
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.requirement import Reading, elements, found
from incudo.core.planning import compare, needs
from incudo.core.planning.course import Course
from incudo.core.planning.judge import judge, judged
from incudo.core.planning.offer import offers
from incudo.core.practice.exercise import ask, check
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import RigSetup, begin, do, result
from incudo.core.practice.rigs.plan.planning import sound_job
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.setup.standard import HeadSchool, SetupRules, ViseSchool
from incudo.core.shop.machine import read_machine
from incudo.core.shop.workholding import read_holding
from incudo.core.skills.evidence import ActKind, EvidenceKind
from incudo.core.skills.permission import decide
from tests.approved.asked import editor, questions
from tests.approved.drawn import functions
from tests.approved.muddled import muddled, muddled_cards
from tests.approved.told import mark, told
from tests.core.cutting.test_worker import looked_at, rings_of
from tests.core.planning import shops
from tests.core.planning.spoiling import own
from tests.core.planning.test_spoiled import CASES
from tests.core.practice.test_exercise import FACTS
from tests.core.skills import records

PARTS = sorted(shipped.parts())
METRIC = SetupRules(unit=Unit.MM, head_rise="0.025", head_span="150", vise_rise="0.013")
#: How often a file is bent out of shape, and how long a clumsy hand goes on.
BENT, CLUMSY = 300, 40

#: What is free for a drawing on each paper, upright and lying, mm.
PAPERS = (
    (Projection.FIRST, "A4", ((180.0, 222.0), (267.0, 136.0))),
    (Projection.THIRD, "Letter", ((186.0, 204.0), (249.0, 142.0))),
)


def courses(more: int = 1) -> Iterator[tuple[str, Course]]:
    """Every shipped part with Incudo's own plan, on so many machines each."""
    for number, part in enumerate(PARTS):
        for machine in (shops.MACHINES[(number + i) % 4] for i in range(more)):
            yield f"{part} on {machine}", looked_at(part, machine)


def plans() -> Iterator[str]:
    """Incudo's own plans with their numbers, what the judge says, what they need and cost."""
    before: Course | None = None
    for name, c in courses(2):
        yield f"# {name}"
        for h, stages in c.held:
            yield f"{h.id}: " + told(h.model_copy(update={"operations": ()}))
            for s in stages:
                n = c.settled[s.index]
                yield f"  {told(s.operation)}"
                short = {k: v for k, v in vars(n).items() if k not in ("working", "path") and v not in (None, ())}
                yield f"    {told(short)} path {mark(n.path)} working {mark(n.working)}"
        for f in judge(c):
            yield f"  ! {f.code} {f.operation or f.holding}: {f.words} {f.cure}"
        yield told(compare.costs(c))
        yield from (told(e) for e in compare.errors(c))
        yield from (told(x) for x in needs.needs(c))
        for h, _ in c.held:
            for thing in (*c.piece.features, "top", "left"):
                yield f"  {h.id} {thing}: {mark(offers(c, h, thing))}"
        if before is not None and before.piece is c.piece:
            yield from compare.differences(before, c)
        before = c


def spoiled() -> Iterator[str]:
    """What is said of each spoilt plan of the tests, and what cures it."""
    for code, machine, part, spoil, shop in CASES:
        there = shops.on(machine, part)
        yield f"# {code}: {part} on {machine}"
        for f in judged(shops.piece(part), spoil(own(machine, part)), shop(there) if shop else there):
            yield f"{f.code} {f.operation or f.holding}: {f.words} {f.cure}"


def drawings() -> Iterator[str]:
    """Every shipped part as it is drawn: its views, its sizes and its print on both papers."""
    for part in PARTS:
        project = part_of(read_part(shipped.parts()[part])).project
        for projection, name, room in PAPERS:
            sheet = printed(project, *room, str, projection)
            size = f"{told(sheet.drawing.width)} × {told(sheet.drawing.height)}"
            yield f"{part} {projection.value} {name}: {size} at {sheet.scale} {mark(render(sheet.drawing))}"


def cards() -> Iterator[str]:
    """Run cards: what the hands are told, and every reading, step by step."""
    for number, (name, c) in enumerate(courses()):
        machine = name.rpartition(" ")[2]
        play, turned, rising = Fraction(1, 9), number % 2 == 1, number % 3 == 0
        rings = rings_of(machine, c.piece.part.file.material, play, turned=turned, rising=rising)
        yield f"# {name}"
        for step in run_card(c, rings, {}):
            yield f"{step.id} {step.title}: {' '.join(step.do)} {mark(step)}"
            for go in step.go:
                yield f"    {' '.join(go.told)}"
            if step.check is not None:
                for off in ("0", "0.02", "-0.02", "0.3", "-0.3", "1", "-25.4", "2.54"):
                    said = judge_reading(step.check, step.check.expected + Fraction(off), Fraction(5), c.piece.unit)
                    yield f"    read {off} mm off: {told(said)}"
        for s, n in c.each():
            yield f"  signs at {s.operation.id}: {mark(signs(c, n))}"


def dry_runs() -> Iterator[str]:
    """Dry runs: done right, and with each kind of slip once."""
    jobs = [
        (f"{p} on {m}", looked_at(p, m), m, p) for p, m in (("keel-step-gauge", "petrel"), ("cleat-base", "gannet"))
    ]
    runs = [
        (name, DryRun(c, rings_of(m, c.piece.part.file.material, Fraction(1, 9), turned=False, rising=True)))
        for name, c, m, _ in jobs
    ]
    for seed in range(6):
        chance = random.Random(seed)
        job = sound_job(chance.choice((Unit.MM, Unit.INCH)), chance)
        rings = rings_of(
            "petrel", "low-carbon-steel", Fraction(chance.randint(0, 40), 40), turned=seed % 2 == 0, rising=True
        )
        runs.append((f"a part made up by chance, {seed}", DryRun(Course(job.piece, job.plan, job.shop), rings)))
    for name, plain in runs:
        yield f"# {name}"
        yield from (told(c) for c in done_right(plain.course, plain.rings).came_out())
        seen: set[str] = set()
        for slip in slips(plain.course, plain.steps, plain.slides):
            if slip.code.value in seen:
                continue
            seen.add(slip.code.value)
            run = with_slip(plain, slip)
            yield f"{told(slip)}: {told(run.causes[:3])} {mark(run.came_out())}"


def rigs() -> Iterator[str]:
    """Practice rigs in a practised hand and in a clumsy one."""
    for ident, rig in RIGS.items():
        for level in rig.levels:
            for number, rules in enumerate((SetupRules(), METRIC)):
                schools = {"head_school": list(HeadSchool)[number % 2], "vise_school": list(ViseSchool)[number % 2]}
                setup = RigSetup(rules=rules.model_copy(update=schools), unit=rules.unit)
                seed = f"{ident}{level.number}{number}"
                s = begin(rig, setup, level.number, seed)
                yield f"# {ident}, level {level.number}, {rules.unit}: {rig.task(s)}"
                while not s.finished:
                    advice = rig.advice(s)
                    do(rig, s, advice.action)
                    yield f"{advice.words} -> {s.said} {mark(s.motion, rig.controls(s), rig.scene(s))}"
                yield f"{told(s.passes)} {told(result(rig, s))}"
                s, hand = begin(rig, setup, level.number, seed), random.Random(seed)
                went = []
                while not s.finished and s.count < CLUMSY:
                    offered = [c.action for c in rig.controls(s) if not c.closed and c.action.do != "finish"]
                    do(rig, s, hand.choice(offered) if offered else rig.advice(s).action)
                    went.append(mark(s.said, s.motion, rig.controls(s), rig.advice(s).words, rig.scene(s)))
                yield f"  {mark(went)} {told(s.faults)} {told(s.passes)} {told(result(rig, s))}"


def calculations() -> Iterator[str]:
    """Questions of every calculation with their answers, the working, and what is said of each slip."""
    for name in MAKERS:
        c = CALCULATIONS[name]
        for seed in range(8):
            q = ask(name, str(seed), FACTS)
            values = c.read(q.given)
            right = c.work(values)
            yield f"# {name} {seed}: {told(q)}"
            yield from (f"{r.name} {told(r.value)} {r.word if r.words else ''}".rstrip() for r in right.results)
            yield from (f"  {s.what}: {s.formula}: {s.put_in}: {s.result}" for s in right.steps)
            yield from (f"  {x}" for x in right.said)
            if c.draw is not None:
                yield f"  drawn {mark(c.draw(values, right))}"
            for guess in (right.answer.value * 2, right.answer.value / 2, right.answer.value + 1):
                if not right.answer.words:
                    yield f"  {told(guess)}: {mark(check(q, f'{float(guess):.4f}', q.unit))}"


def verdicts() -> Iterator[str]:
    """Readings by chance around the limits of every requirement of every shipped part, under every school."""
    for part in PARTS:
        project = part_of(read_part(shipped.parts()[part])).project
        for c in project.characteristics:
            limits, chance = project.limits(c), random.Random(f"{part} {c.number}")
            yield f"# {part} {c.number}: {told(limits)}"
            ends = [x for x in (limits.lower, limits.upper) if x is not None] or [Fraction(0)]
            for _ in range(6):
                given = []
                for e in elements(project, c):
                    for _ in range(chance.choice((1, 1, 2, 3))):
                        u = chance.choice([Fraction(1, 2000), Fraction(1, 200), Fraction(1, 50)])
                        at = chance.choice(ends) + chance.choice([-2, -1, 0, 0, 1, 2]) * u
                        if e.is_asked:
                            given.append(Reading(e.key, answer=chance.random() < 0.6))
                        elif chance.random() < 0.9:
                            given.append(Reading(e.key, Measured(at, u, u / 2)))
                school = chance.choice(list(School))
                came = found(project, c, given, school)
                values = [told(r.measured.x if r.measured else r.answer) for r in given]
                yield f"{school.value} {' '.join(values)}: {came.judgement.verdict.value} {mark(came)}"


def skills() -> Iterator[str]:
    """Records by chance, and what they come to for every skill and as an answer before a start."""
    ids = [s.id for s in records.GRAPH.skills]
    for seed in range(40):
        chance = random.Random(seed)
        acts = list(records.upto(*chance.sample(ids, 3), days=chance.choice([3, 100, 400])))
        for _ in range(chance.randrange(6)):
            skill = records.GRAPH.get(chance.choice(ids))
            machine = chance.choice(records.MACHINES) if skill.per_machine else None
            kind = chance.choice(list(ActKind))
            acts.append(records.act(kind, skill.id, machine, chance.choice([0.1, 1, 2, 30, 200]), "slow"))
        rigs = [r.id for r in RIGS.values()]
        shown = [records.checked(b, chance.choice([1, 20, 500]), passed=chance.random() < 0.8) for b in records.BANKS]
        shown += [
            records.reached(chance.choice(rigs), chance.choice([1, 20, 500]), chance.choice([1, 2, 3]))
            for _ in range(9)
        ]
        shown = [e for e in shown if chance.random() < 0.8 and e.kind is not EvidenceKind.INSPECTED]
        there = [records.ago(d) for d in (1, 8, 40, 100, 300) if chance.random() < 0.7]
        b = records.book(*sorted(acts, key=lambda a: a.at), evidence=shown, presence=there)
        line = []
        for s in records.GRAPH.skills:
            for machine in records.MACHINES if s.per_machine else (None,):
                x = b.standing(s.id, machine)
                line.append(f"{s.id}: {x.state.value}")
        yield f"# {seed}: {', '.join(line)}"
        yield mark(*(b.standing(s.id, m) for s in records.GRAPH.skills for m in (*records.MACHINES, None)))
        for s in records.GRAPH.skills:
            if s.operation:
                d = decide(b, (s.id,), "petrel")
                yield f"  {s.id}: {d.answer.value} {' '.join(d.reasons)}"


def bent_files() -> Iterator[str]:
    """Files with one thing in them bent out of shape: which field is named, and which bound."""
    parts = shipped.parts()
    machines = yaml.safe_load(shops._equipment("machines.yaml"))
    holdings = {k: v["of"] for k, v in yaml.safe_load(shops._equipment("workholding.yaml")).items()}
    kinds: tuple[tuple[str, dict[str, Any], Callable[[Any], Any]], ...] = (
        ("part", parts, lambda data: part_of(read_part(data))),
        ("machine", machines, read_machine),
        ("workholding", holdings, read_holding),
    )
    for kind, files, read in kinds:
        for seed in range(BENT):
            chance = random.Random(f"{kind} {seed}")
            name = chance.choice(sorted(files))
            data, what = bent(copy.deepcopy(files[name]), chance)
            try:
                read(data)
                said = "taken"
            except Refused as refused:
                said = "; ".join(f"{e.field}: {e.bound}" for e in refused.errors)
            yield f"{kind} {name} {what}: {said}"


def bent(data: Any, chance: random.Random) -> tuple[Any, str]:
    """A file with one of its values changed, and what was changed."""
    places = list(_leaves(data, ()))
    path = chance.choice(places)
    inside = data
    for key in path[:-1]:
        inside = inside[key]
    old = inside[path[-1]]
    try:
        n = Fraction(str(old))
        new: Any = told(n * chance.choice([0, -1, 10, Fraction(1, 10), 2, Fraction(1, 2), 100]))
        new = new if isinstance(old, str) else float(new)
    except ValueError:
        new = chance.choice(["", "x", "left", "top", None, 3])
    inside[path[-1]] = new
    return data, f"{'.'.join(str(p) for p in path)} {old!r} -> {new!r}"


def _leaves(data: Any, path: tuple[Any, ...]) -> Iterator[tuple[Any, ...]]:
    inside = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in inside:
        if isinstance(value, dict | list):
            yield from _leaves(value, (*path, key))
        else:
            yield (*path, key)


PAGES: dict[str, Callable[[], Iterator[str]]] = {
    "plans": plans,
    "spoiled": spoiled,
    "muddled": lambda: muddled(PARTS),
    "muddled-cards": lambda: muddled_cards(PARTS),
    "drawings": drawings,
    "cards": cards,
    "dry-runs": dry_runs,
    "rigs": rigs,
    "calculations": calculations,
    "verdicts": verdicts,
    "skills": skills,
    "questions": questions,
    "editor": lambda: editor(PARTS),
    "bent-files": bent_files,
    "functions": functions,
}
