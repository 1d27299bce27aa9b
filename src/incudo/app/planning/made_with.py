"""What a plan is made with: the part with its stock, and the shop as it stands now, as the core takes them."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from fractions import Fraction
from functools import lru_cache, partial

from incudo import shipped
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.parts.attempts import AttemptFile, own_attempt
from incudo.app.setup.standards import vises
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.machines import spec_of
from incudo.app.shop.tags import closed_words
from incudo.app.shop.tooling import cutters, stocks
from incudo.app.skills.standings import standing_of
from incudo.core.kernel.errors import NotFound, Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.quantity import Length
from incudo.core.kernel.say import say
from incudo.core.parts.features.part import part_of
from incudo.core.parts.features.versions import file_of
from incudo.core.planning.course import Course
from incudo.core.planning.file import Plan
from incudo.core.planning.pace import paces
from incudo.core.planning.piece import Piece, piece_of
from incudo.core.planning.shop import USUAL_STRAP_WIDTH, CribCutter, PlanShop, VBlockPlace, VisePlace, material_of
from incudo.core.setup.holding import JawVise, ParallelPair
from incudo.core.shop.workholding import LOOSE_WAYS, Clamps, Parallels, ToolHolders, VBlocks, kept_holding
from incudo.core.skills.permission import Answer, decide
from incudo.store import schema as t
from incudo.store.cutting import run as runs
from incudo.store.kernel.database import cache_of
from incudo.store.parts import projects
from incudo.store.planning import plans as store
from incudo.store.setup import setups
from incudo.store.shop import instruments, machines


@lru_cache(maxsize=128)
def _piece(content: str) -> Piece:
    file = file_of(content)
    if file is None:
        raise Refused.of(
            "part", "incudo-project/1", say("is drawn in the older way, without features: its plan is made on paper")
        )
    return piece_of(part_of(file))


def piece_for(w: Work, version: uuid.UUID) -> Piece:
    """The part of a version with its stock; a version never changes, so that it is built once."""
    kept = cache_of(w.db)
    key = "piece", version
    if key not in kept:
        found = projects.contents(w.db, {version})
        if version not in found:
            raise NotFound(say("There is no such {what}.", what=say("project version")))
        kept[key] = _piece(found[version])
    piece: Piece = kept[key]
    return piece


def machine_for(w: Work, file: AttemptFile, machine: uuid.UUID | None) -> t.Machine:
    """The machine that a plan is made for: the job card's own, else the one that was chosen.

    Raises ``Refused`` where neither names one, and for another than the card's.
    """
    own = file.assignment.machine_id
    if own is not None and machine not in (None, own):
        raise Refused.of("machine", machine, say("must be the machine of the job card"))
    chosen = own or machine
    if chosen is None:
        raise Refused.of("machine", "", say("must be chosen: the job card names none"))
    return find(w, t.Machine, chosen, "machine")


def plan_shop(w: Work, machine: t.Machine, student: uuid.UUID, piece: Piece) -> PlanShop:
    """The shop as it stands now, for one student on one machine."""
    out = store.out_of_crib(w.db, student)
    spec, drawer, straps, v_blocks = spec_of(machine), [], [], []
    wide: list[Fraction] = []
    #: The ways to hold a cutter that are entered for this machine's taper.
    ways: set[str] = set()
    noses: dict[str, Fraction] = {}
    for row in machines.workholding(w.db):
        of = kept_holding(row.spec)
        if isinstance(of, Clamps):
            straps += [Length(x, of.unit) for x in of.straps]
            wide.append(Length(of.width, of.unit).mm if of.width is not None else USUAL_STRAP_WIDTH)
        if isinstance(of, ToolHolders) and alike(of.taper) == alike(spec.spindle.taper):
            ways.add(of.way)
            if of.nose is not None:
                # the widest of them: nobody says which one it will be
                noses[of.way] = max(noses.get(of.way, Fraction(0)), Length(of.nose, of.unit).mm)
        if isinstance(of, VBlocks):
            v_blocks.append(VBlockPlace(row.name, *(Length(x, of.unit).mm for x in (of.least, of.most))))
        if isinstance(of, Parallels):
            for x in of.pairs:
                drawer.append(ParallelPair(*(Length(v, of.unit).mm for v in (x.height, x.thickness, x.length))))
    closed = closed_words(w)
    tools = [
        x for x in (instrument_of(r, closed) for r in instruments.instruments(w.db)) if not x.cannot_decide(w.today)
    ]
    held = partial(_unheld, ways, spec.spindle.taper)
    crib = {
        c.name: CribCutter(c, max(c.owned - out.get(i, 0), 0), unheld=held(c.holder)) for i, c in cutters(w).items()
    }
    return PlanShop(
        name=machine.name,
        machine=spec,
        vises=_vises(w, machine),
        drawer=tuple(drawer),
        crib=crib,
        holders=shipped.holders(),
        threads=shipped.threads(),
        stock=material_of(piece.part.file.material, stocks(w, also_gone=True)),
        straps=tuple(straps),
        strap_width=max(wide, default=USUAL_STRAP_WIDTH),
        v_blocks=tuple(v_blocks),
        noses=noses,
        gauges=tuple(tools),
        beside=_beside(w, student, machine.id, piece.part.project.operations),
        paces=paces(runs.taken_on(w.db, machine.id)),
    )


def _unheld(ways: Collection[str], taper: str, way: str) -> str:
    """What a cutter would be held in and the shop has not got; nothing while no holder for this taper is entered."""
    known = shipped.holders().get(way)
    if known is None or not ways or way in ways or way in LOOSE_WAYS:
        return ""
    return say("It is held in: {holder}. The shop has none for a {taper}.", holder=known.name, taper=taper)


def _vises(w: Work, machine: t.Machine) -> tuple[VisePlace, ...]:
    """The shop's vises, the one that was last set on this machine first, then those that say its name."""
    on = {s.holding_id for s, _, _ in setups.newest_ends(w.db, [machine.id]) if s.kind == "vise"}
    found = sorted(vises(w), key=lambda x: (x[0].id not in on, machine.name not in x[0].name))
    return tuple(
        VisePlace(row.name, JawVise(*(Length(x, v.unit).mm for x in (v.jaw, v.depth, v.opening)))) for row, v in found
    )


def _beside(w: Work, student: uuid.UUID, machine: uuid.UUID, operations: tuple[str, ...]) -> dict[str, str]:
    """Operations that this student does not do alone here, with the first reason."""
    book = standing_of(w, student)
    found = {}
    for o in operations:
        decision = decide(book, (o,), str(machine))
        if decision.answer is not Answer.ALLOWED:
            found[o] = decision.reasons[0] if decision.reasons else book.graph.get(o).name
    return found


def course_of(
    w: Work, who: Who, assignment: uuid.UUID, plan: Plan, machine: uuid.UUID | None, *, complete: bool = True
) -> tuple[Course, AttemptFile, t.Machine]:
    """A plan of a job card, ready to be looked at. Raises ``NotFound`` for somebody else's card."""
    file = own_attempt(w, who, assignment)
    place = machine_for(w, file, machine)
    piece = piece_for(w, file.version.id)
    return Course(piece, plan, plan_shop(w, place, file.student.id, piece), complete), file, place
