"""Working records at the machines: beginning one, a sweep, the next thing, accepting it; how setups stand."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction
from itertools import pairwise

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named, StepView
from incudo.app.parts.attempts import newest_attempt, own_attempt
from incudo.app.setup.standards import holding_of, setup_rules, vises
from incudo.app.setup.views import (
    AcceptCommand,
    BeginSetup,
    EffectView,
    HeadSettings,
    NextView,
    PassCommand,
    PassLine,
    SetupBench,
    SetupLine,
    SetupPage,
    SetupState,
    ViseChoice,
    VisePlan,
    ViseSettings,
    WanderPoint,
)
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.errors import Conflict, NotFound, NotPermitted, Refused
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.setup.effect import Effect, Job, head_effects, job_of, vise_effects
from incudo.core.setup.guide import (
    AXIS_WORDS,
    ends_of,
    head_words,
    head_working,
    needle,
    small,
    vise_words,
    vise_working,
)
from incudo.core.setup.jaw import JawSweep, lever_factor
from incudo.core.setup.record import (
    Do,
    HeadPass,
    Kept,
    SetupKind,
    VisePass,
    axes_in_order,
    counting,
    head_next,
    in_standard,
    pivot_learnt,
    standing,
    vise_next,
)
from incudo.core.setup.standard import SetupRules, ViseSchool
from incudo.core.setup.tram import STATIONS, HeadAxis, Sweep
from incudo.core.shop.machine import Machine, Vise
from incudo.store import schema as t
from incudo.store.setup import setups as store

#: How far back the history of a machine's head is drawn.
HISTORY = timedelta(days=400)


# ── how setups stand ──────────────────────────────────────────────────────


@dataclass(frozen=True)
class _Newest:
    setup: t.Setup
    end: t.SetupEnd
    by: str

    @property
    def kept(self) -> Kept:
        return Kept(self.end.at, str(self.setup.person_id), self.end.good)


def setup_states(
    w: Work, person: uuid.UUID, machine: uuid.UUID | None, assignment: uuid.UUID | None
) -> tuple[SetupState, ...]:
    """How head and vise of a machine and the holding of a job stand for a person, in a fixed number of queries."""
    rules, found = setup_rules(w), []
    if machine is not None:
        newest = {s.kind: _Newest(s, e, by) for s, e, by in store.newest_ends(w.db, [machine])}
        since = min((n.end.at for n in newest.values()), default=w.now)
        moved = store.moves(w.db, [machine], since)
        for kind in (SetupKind.HEAD, SetupKind.VISE):
            mine = [(m.at, m.words) for m in moved if m.kind == kind]
            found.append(_state(kind, newest.get(kind), mine, w.now, person, rules))
    if assignment is not None:
        held = next((_Newest(s, e, by) for s, e, by in store.holds_for(w.db, assignment)), None)
        found.append(_state(SetupKind.HOLD, held, (), w.now, person, rules))
    return tuple(found)


def _state(
    kind: SetupKind,
    newest: _Newest | None,
    moved: Sequence[tuple[datetime, str]],
    now: datetime,
    person: uuid.UUID,
    rules: SetupRules,
) -> SetupState:
    s = standing(kind, newest.kept if newest else None, moved, now, str(person), rules)
    return SetupState(
        kind=kind,
        state=s.state,
        reason=s.reason,
        by=newest.by if newest else "",
        at=newest.end.at if newest else None,
        words=newest.end.words if newest else "",
        setup=newest.setup.id if newest else None,
    )


def setup_bench(w: Work, who: Who, machine_id: uuid.UUID) -> SetupBench:
    """A machine as it is set up."""
    row = find(w, t.Machine, machine_id, "machine")
    rules = setup_rules(w)
    heads, vise_rows = (store.ended_setups(w.db, machine_id, k) for k in ("head", "vise"))
    wander = _wander(w, [h for h in heads if h[1].at > w.now - HISTORY], rules)
    lines = sorted((*heads, *vise_rows), key=lambda x: x[1].at, reverse=True)
    return SetupBench(
        machine=Named(id=row.id, name=row.name),
        about=row.about,
        spec=spec_of(row),
        rules=rules,
        states=setup_states(w, who.id, machine_id, None),
        begun=tuple(
            SetupLine(id=s.id, kind=SetupKind(s.kind), by=who.name, at=s.at, good=False, words="begun, not accepted")
            for s in store.begun(w.db, machine_id, who.id, w.now - timedelta(hours=rules.hours))
        ),
        history=tuple(
            SetupLine(id=s.id, kind=SetupKind(s.kind), by=by, at=e.at, good=e.good, words=e.words)
            for s, e, by in lines[:12]
        ),
        wander=tuple(wander),
        wander_words=_wander_words(wander, rules),
        allowed=float(rules.head.rise.mm),
        head=_head_proposal(spec_of(row)),
        vises=tuple(
            ViseChoice(id=row.id, name=row.name, settings=_vise_proposal(row.id, vise)) for row, vise in vises(w)
        ),
    )


#: Usual indicators, the spans that are read where the table is wide enough, and how far inside the jaw's ends.
_DIVISION = {Unit.INCH: "0.0005", Unit.MM: "0.01"}
_SPANS = {Unit.INCH: ("8", "6", "4"), Unit.MM: ("200", "150", "100")}
_INSIDE = {Unit.INCH: Length("0.25", Unit.INCH), Unit.MM: Length("6", Unit.MM)}
_RANGE = {Unit.INCH: "0.030", Unit.MM: "0.8"}
_CUTTER = {Unit.INCH: "2.5", Unit.MM: "63"}


def _head_proposal(spec: Machine) -> HeadSettings | None:
    """The widest usual span that the table bears front to back; the error shows most over it."""
    if not spec.head.tilt and spec.head.nod is None:
        return None
    u, width = spec.unit, spec.length(spec.table.width).mm
    span = next((x for x in _SPANS[u] if Length(x, u).mm < width), _SPANS[u][-1])
    return HeadSettings(unit=u, division=_DIVISION[u], span=span, cutter=_CUTTER[u], cutter_unit=u)


def _vise_proposal(id: uuid.UUID, vise: Vise) -> ViseSettings:
    """Read a little inside both ends of the jaw."""
    u = vise.unit
    at = (Length(vise.jaw, u).mm / 2 - _INSIDE[u].mm) / u.in_mm
    reach = in_places(at, 3 if u is Unit.INCH else 1)
    return ViseSettings(vise=id, unit=u, division=_DIVISION[u], left_at=f"-{reach}", right_at=reach, range=_RANGE[u])


def _wander(w: Work, heads: Sequence[tuple[t.Setup, t.SetupEnd, str]], rules: SetupRules) -> list[WanderPoint]:
    rows = store.passes(w.db, [s.id for s, _, _ in heads])
    found = []
    for s, end, by in heads:
        passes = _head_passes(HeadSettings.model_validate_json(s.settings), rows.get(s.id, []))
        last = counting(passes)
        for axis in HeadAxis:
            first = next((p.sweep for p in passes if p.sweep.axis is axis), None)
            if first and axis in last:
                left = last[axis]
                found.append(
                    WanderPoint(
                        at=end.at,
                        by=by,
                        axis=axis,
                        found=float(first.rise * rules.head.span.mm / first.span),
                        left=float(left.rise * rules.head.span.mm / left.span),
                    )
                )
    return found


def _wander_words(points: Sequence[WanderPoint], rules: SetupRules) -> str:
    """How fast the head wanders: from how it was left to how it was found next, per week."""
    weeks = moved = 0.0
    for axis in HeadAxis:
        mine = [p for p in points if p.axis is axis]
        for before, after in pairwise(mine):
            weeks += (after.at - before.at).total_seconds() / 604_800
            moved += abs(after.found - before.left)
    if weeks < 1:
        return "Two setups a week apart are needed to say how fast this head wanders."
    rate = moved / weeks
    unit = rules.head.rise.unit
    allowed = float(rules.head.rise.mm)
    last = allowed / rate if rate else 0
    tail = f"; left square it stays within the standard for about {max(round(last), 1)} weeks" if rate else ""
    return f"It wanders about {small(rate, unit)} over {rules.head.span.text} {unit} in a week{tail}."


# ── a working record ──────────────────────────────────────────────────────


def begin_setup(w: Work, who: Who, machine_id: uuid.UUID, command: BeginSetup) -> SetupPage:
    """Begin a record of a head or a vise. Raises ``Refused`` for a head that cannot be set or a place off the jaw."""
    row = find(w, t.Machine, machine_id, "machine")
    if command.assignment:
        own_attempt(w, who, command.assignment)
    settings = command.settings
    holding = None
    if isinstance(settings, HeadSettings):
        head = spec_of(row).head
        if not head.tilt and head.nod is None:
            raise Refused.of("machine", row.name, "must have a head that can be set; this one is fixed")
        _positive(settings.span, settings.unit, "span")
        _positive(settings.cutter, settings.cutter_unit, "cutter")
    else:
        holding = settings.vise
        jaw = holding_of(find(w, t.Workholding, settings.vise, "vise"))
        _stations(settings, jaw)
        if settings.range:
            _positive(settings.range, settings.unit, "range")
    division = _positive(settings.division, settings.unit, "division")
    if division.mm > 1:
        raise Refused.of("division", settings.division, "must be at most 1 mm: an indicator's division")
    setup = t.Setup(
        id=command.id,
        machine_id=row.id,
        kind=settings.kind,
        person_id=who.id,
        assignment_id=command.assignment,
        holding_id=holding,
        settings=settings.model_dump_json(),
        at=w.now,
    )
    insert_once(w, setup, ignoring=("at",))
    return setup_page(w, who, command.id)


def _positive(text: str, unit: Unit, field: str) -> Length:
    length = Length.parse(text, unit, field)
    if length.mm <= 0:
        raise Refused.of(field, text, "must be more than 0")
    return length


def _stations(s: ViseSettings, jaw: Vise) -> tuple[Fraction, Fraction]:
    """The two places along the jaw from its middle, in mm."""
    left, right = (Length.parse(v, s.unit, f).mm for v, f in ((s.left_at, "left_at"), (s.right_at, "right_at")))
    reach = Length(jaw.bolts, jaw.unit).mm / 2 + 80
    for field, place, text in (("left_at", left, s.left_at), ("right_at", right, s.right_at)):
        if abs(place) > reach:
            raise Refused.of(field, text, f"must lie within {small(reach, s.unit)} of the jaw's middle")
    if right <= left:
        raise Refused.of("right_at", s.right_at, "must lie beyond the other place")
    return left, right


def _head_passes(s: HeadSettings, rows: Iterable[t.SetupPass]) -> list[HeadPass]:
    span = Length(s.span, s.unit).mm
    found = []
    for row in rows:
        c = json.loads(row.content)
        low, high = (Length(c[k], s.unit).mm for k in ("low", "high"))
        found.append(HeadPass(Sweep(HeadAxis(c["axis"]), low, high, span), bool(c["tight"])))
    return found


def _vise_passes(s: ViseSettings, jaw: Vise, rows: Iterable[t.SetupPass]) -> list[VisePass]:
    """Sweeps as the jaw stands: the lever's sense and angle are taken out of the readings."""
    left_at, right_at = _stations(s, jaw)
    factor = s.sense * Fraction(lever_factor(s.lever_degrees)).limit_denominator(10**9)
    found = []
    for row in rows:
        c = json.loads(row.content)
        low, high = (Length(c[k], s.unit).mm * factor for k in ("low", "high"))
        found.append(VisePass(JawSweep(left_at, right_at, low, high), bool(c["tight"])))
    return found


def save_pass(w: Work, who: Who, setup_id: uuid.UUID, command: PassCommand) -> SetupPage:
    """Keep one sweep of one's own record."""
    row = _own(w, who, setup_id)
    if w.db.get(t.SetupEnd, setup_id):
        raise Conflict("This setup is accepted already: begin a new one.")
    rows = store.passes(w.db, [setup_id]).get(setup_id, [])
    known = next((r for r in rows if r.id == command.id), None)
    settings = _settings(row)
    axis = command.axis if isinstance(settings, HeadSettings) else None
    if isinstance(settings, HeadSettings) and axis is None:
        raise Refused.of("axis", "", "must be tilt or nod")
    low, high = (Length.parse(v, settings.unit, f) for v, f in ((command.low, "low"), (command.high, "high")))
    if isinstance(settings, ViseSettings) and settings.range:
        whole = Length.parse(settings.range, settings.unit, "range")
        if abs(high.mm - low.mm) > whole.mm:
            words = f"lies beyond the indicator's travel of {settings.range} {settings.unit}: tap the jaw in as you go"
            raise Refused.of("high", command.high, words)
    content = {"axis": axis.value if axis else "", "low": low.text, "high": high.text, "tight": command.tight}
    saved = t.SetupPass(
        id=command.id,
        setup_id=setup_id,
        number=known.number if known else len(rows) + 1,
        content=json.dumps(content),
        at=w.now,
    )
    insert_once(w, saved, ignoring=("at",))
    # reading it back now lets the core refuse what cannot be before it is kept
    return setup_page(w, who, setup_id)


def accept_setup(w: Work, who: Who, setup_id: uuid.UUID, command: AcceptCommand) -> SetupPage:
    """Accept a setup that was tightened and read again. Raises ``NotPermitted`` with what is still to do."""
    row = _own(w, who, setup_id)
    if w.db.get(t.SetupEnd, setup_id) is None:
        page = setup_page(w, who, setup_id)
        if page.next.do is not Do.ACCEPT:
            raise NotPermitted(f"Not yet: {page.next.title}.")
        words = ", ".join(_left_words(page))
        w.db.add(t.SetupEnd(setup_id=row.id, good=True, words=words[:400], at=w.now))
        w.db.flush()
    return setup_page(w, who, setup_id)


def _left_words(page: SetupPage) -> list[str]:
    last = {p.axis: p for p in page.passes}
    if page.kind is SetupKind.VISE:
        return [f"{page.holding}: {page.passes[-1].off} over the jaw"]
    return [f"{axis} {p.off}" for axis, p in last.items()]


def _own(w: Work, who: Who, setup_id: uuid.UUID) -> t.Setup:
    row = find(w, t.Setup, setup_id, "setup")
    if row.person_id != who.id:
        raise NotPermitted("A setup is read and accepted by the person who began it.")
    if row.kind == SetupKind.HOLD:
        raise NotFound("There is no such setup.")
    return row


def _settings(row: t.Setup) -> HeadSettings | ViseSettings:
    model = HeadSettings if row.kind == SetupKind.HEAD else ViseSettings
    return model.model_validate_json(row.settings)


def setup_page(w: Work, who: Who, setup_id: uuid.UUID) -> SetupPage:
    """A working record with its next thing."""
    row = find(w, t.Setup, setup_id, "setup")
    if row.kind == SetupKind.HOLD:
        raise NotFound("There is no such setup.")
    settings = _settings(row)
    rows = store.passes(w.db, [setup_id]).get(setup_id, [])
    job = job_of(newest_attempt(w, row.assignment_id).project) if row.assignment_id else None
    if isinstance(settings, HeadSettings):
        return _head_page(w, who, row, settings, rows, job)
    return _vise_page(w, who, row, settings, rows, job)


def _effect_views(effects: Iterable[Effect]) -> tuple[EffectView, ...]:
    return tuple(
        EffectView(words=e.words, share=e.share_words, over=e.share is not None and e.share > 1) for e in effects
    )


def _head_page(
    w: Work, who: Who, row: t.Setup, s: HeadSettings, rows: Sequence[t.SetupPass], job: Job | None
) -> SetupPage:
    machine, rules = find(w, t.Machine, row.machine_id, "machine"), setup_rules(w)
    head = spec_of(machine).head
    axes = axes_in_order(rules, tilt=head.tilt, nod=head.nod is not None)
    passes = _head_passes(s, rows)
    known = spec_of(machine).pivot_behind
    learnt = pivot_learnt(passes)
    behind = known.mm if known else learnt
    division = Length(s.division, s.unit)
    nxt = head_next(passes, axes, rules.head, behind)
    last = next((p.sweep for p in reversed(passes) if p.sweep.axis is nxt.axis), None)
    said = head_words(nxt, last, division, learning=known is None and learnt is not None)
    newest = {p.sweep.axis: p.sweep for p in passes}
    cutter = Length(s.cutter, s.cutter_unit).mm
    low, high = STATIONS[nxt.axis]
    lines = []
    for r, p in zip(rows, passes, strict=True):
        off = abs(p.sweep.rise) * rules.head.span.mm / p.sweep.span
        lines.append(
            PassLine(
                number=r.number,
                axis=AXIS_WORDS[p.sweep.axis],
                low=json.loads(r.content)["low"],
                high=json.loads(r.content)["high"],
                off=small(off, s.unit),
                off_mm=float(off),
                within=rules.head.allows(p.sweep.rise, p.sweep.span),
                tight=p.tight,
                at=r.at,
            )
        )
    t_ = nxt.target
    return _page(
        w,
        who,
        row,
        s,
        job,
        standard=rules.head.words,
        standard_mm=float(rules.head.rise.mm),
        school=rules.head_school.value,
        ends=(low, high),
        axes=axes,
        fixed=_fixed_words(machine.name, axes, newest, cutter, job, s.unit),
        next=NextView(
            do=nxt.do,
            axis=nxt.axis,
            title=said.title,
            lines=said.lines,
            stations=(low, high),
            targets=(needle(t_.low, division), needle(t_.high, division)) if t_ else None,
            tight=nxt.do is Do.TIGHTEN or (nxt.do is Do.READ and (nxt.again or not passes)),
        ),
        passes=tuple(lines),
        lean={a.value: x.angle for a, x in newest.items()},
        effects=_effect_views(head_effects(newest, cutter, job, s.unit)),
        working=tuple(StepView.of(x) for x in (head_working(last, rules.head, behind, s.unit) if last else ())),
    )


def _fixed_words(
    name: str,
    axes: Sequence[HeadAxis],
    newest: dict[HeadAxis, Sweep],
    cutter: Fraction,
    job: Job | None,
    unit: Unit,
) -> tuple[str, ...]:
    """What a head that lacks an axis means: it cannot be set there, and this remains."""
    found = []
    for axis in HeadAxis:
        if axis in axes:
            continue
        words = f"{name}'s head cannot be set {AXIS_WORDS[axis]}. Read it all the same: what is out there remains."
        if axis in newest:
            remains = "; ".join(e.words for e in head_effects({axis: newest[axis]}, cutter, job, unit))
            words = f"{name}'s head cannot be set {AXIS_WORDS[axis]}. This remains: {remains}."
        found.append(words)
    return tuple(found)


def _vise_page(
    w: Work, who: Who, row: t.Setup, s: ViseSettings, rows: Sequence[t.SetupPass], job: Job | None
) -> SetupPage:
    rules = setup_rules(w)
    holding = find(w, t.Workholding, s.vise, "vise")
    vise = holding_of(holding)
    jaw, bolts = Length(vise.jaw, vise.unit).mm, Length(vise.bolts, vise.unit).mm
    standard, division = rules.vise.mm, Length(s.division, s.unit)
    passes = _vise_passes(s, vise, rows)
    pivot_at = -bolts / 2 if s.pivot == "left" else bolts / 2
    end = "right" if s.pivot == "left" else "left"
    nxt = vise_next(passes, rules.vise_school, jaw, standard, pivot_at, end)
    last = passes[-1].sweep if passes else None
    said = vise_words(nxt, last, rules.vise_school, s.along, division, pivot_at, s.sense)
    ends = ends_of(s.along)
    lengths = [("the part's length", job.length)] if job else []
    targets = None
    if nxt.bring and last:
        aims = {"left": last.left, "right": last.right, nxt.bring.end: nxt.bring.to}
        if rules.vise_school is not ViseSchool.WALK_IN:
            aims = dict.fromkeys(aims, nxt.bring.to)
        targets = (needle(aims["left"] * s.sense, division), needle(aims["right"] * s.sense, division))
    lines = tuple(
        PassLine(
            number=r.number,
            axis="",
            low=json.loads(r.content)["low"],
            high=json.loads(r.content)["high"],
            off=small(p.sweep.over(jaw), s.unit),
            off_mm=float(p.sweep.over(jaw)),
            within=in_standard(p.sweep, jaw, standard),
            tight=p.tight,
            at=r.at,
        )
        for r, p in zip(rows, passes, strict=True)
    )
    return _page(
        w,
        who,
        row,
        s,
        job,
        standard=f"{rules.vise.text} {rules.vise.unit} over the jaw",
        standard_mm=float(standard),
        school=rules.vise_school.value,
        along=s.along,
        ends=ends,
        holding=holding.name,
        plan=VisePlan(
            jaw=float(jaw),
            bolts=float(bolts),
            bolts_before=float(Length(vise.bolts_before, vise.unit).mm),
            left_at=float(_stations(s, vise)[0]),
            right_at=float(_stations(s, vise)[1]),
            pivot=s.pivot,
            bring=dict(zip(("left", "right"), ends, strict=True)).get(nxt.bring.end, "") if nxt.bring else "",
        ),
        next=NextView(
            do=nxt.do,
            axis=None,
            title=said.title,
            lines=said.lines,
            stations=ends,
            targets=targets,
            tight=nxt.do is Do.TIGHTEN,
        ),
        passes=lines,
        lean={"jaw": float(last.slope)} if last else {},
        effects=_effect_views(vise_effects(last, job, jaw, s.unit) if last else ()),
        working=tuple(StepView.of(x) for x in (vise_working(last, jaw, lengths, s.unit) if last else ())),
    )


def _page(
    w: Work,
    who: Who,
    row: t.Setup,
    s: HeadSettings | ViseSettings,
    job: Job | None,
    *,
    standard: str,
    standard_mm: float,
    school: str,
    ends: tuple[str, str],
    next: NextView,
    passes: tuple[PassLine, ...],
    lean: dict[str, float],
    effects: tuple[EffectView, ...],
    working: tuple[StepView, ...],
    along: str = "x",
    holding: str = "",
    plan: VisePlan | None = None,
    axes: tuple[HeadAxis, ...] = (),
    fixed: tuple[str, ...] = (),
) -> SetupPage:
    """What both kinds of record share, put around what each works out."""
    machine, person = find(w, t.Machine, row.machine_id, "machine"), find(w, t.Person, row.person_id, "person")
    end = w.db.get(t.SetupEnd, row.id)
    return SetupPage(
        id=row.id,
        kind=SetupKind(row.kind),
        machine=Named(id=machine.id, name=machine.name),
        by=Named(id=person.id, name=person.name),
        mine=person.id == who.id,
        at=row.at,
        assignment=row.assignment_id,
        job=job.name if job else "",
        unit=s.unit,
        division=s.division,
        standard=standard,
        standard_mm=standard_mm,
        school=school,
        along=along,
        ends=ends,
        holding=holding,
        plan=plan,
        axes=axes,
        fixed=fixed,
        next=next,
        passes=passes,
        lean=lean,
        effects=effects,
        working=working,
        accepted_at=end.at if end else None,
        accepted=end.words if end else "",
    )
