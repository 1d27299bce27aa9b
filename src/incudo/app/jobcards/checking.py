"""The second person's check: measured blind, compared, decided."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import Field

from incudo.app.jobcards.card import JobCard, card_of
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Note, View
from incudo.app.parts.attempts import AttemptFile, load_attempt, names_in
from incudo.app.parts.findings import finding_view, reading_view
from incudo.app.parts.taken import reading_of
from incudo.app.parts.views import FindingView, ReadingView
from incudo.core.kernel.errors import Conflict, NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import SEVERITY, Verdict
from incudo.core.parts.inspection import Disposition, Outcome, settle, what_to_check
from incudo.core.parts.project import Characteristic
from incudo.core.parts.requirement import agreed
from incudo.store import schema as t


class CheckRow(View):
    """One characteristic on the check sheet. ``theirs`` stays empty until the comparison is open."""

    number: int
    proposed: bool
    mine: tuple[ReadingView, ...]
    my_finding: FindingView
    theirs: tuple[ReadingView, ...]
    their_finding: FindingView | None
    agrees: bool | None
    of_record: Verdict | None


class SkillForPart(View):
    """A skill that this part gives evidence for, by these characteristics."""

    skill: str
    characteristics: tuple[int, ...]


class CheckSheet(View):
    """An assessor's check of a part that was handed in."""

    hand_in: uuid.UUID
    handed_in_at: datetime
    card: JobCard
    opened: bool
    may_decide: bool
    decided: bool
    rows: tuple[CheckRow, ...]
    gives: tuple[SkillForPart, ...]


class OpenCommand(Command):
    """My own readings are saved: show the student's beside them."""

    id: uuid.UUID


class DispositionCommand(Command):
    """What is decided about one characteristic."""

    characteristic: Annotated[int, Field(ge=1, le=99)]
    kind: Disposition
    reason: Note = ""
    counts: bool = False


class DecideCommand(Command):
    """The decision about a part."""

    id: uuid.UUID
    dispositions: Annotated[tuple[DispositionCommand, ...], Field(max_length=60)] = ()
    remark: Note = ""
    count_reworked: bool = False


def _load(w: Work, hand_in_id: uuid.UUID) -> tuple[t.HandIn, AttemptFile]:
    hand_in = find(w, t.HandIn, hand_in_id, "hand-in")
    return hand_in, load_attempt(w, hand_in.attempt_id)


def check_sheet(w: Work, who: Who, hand_in_id: uuid.UUID) -> CheckSheet:
    """The check sheet as this assessor may see it."""
    hand_in, file = _load(w, hand_in_id)
    opened = file.opened_by(who.id, hand_in.number) is not None
    decided = hand_in.id in file.decisions
    proposed = what_to_check(file.project, str(hand_in.id))
    names = names_in(w, file)
    show = opened or decided
    return CheckSheet(
        hand_in=hand_in.id,
        handed_in_at=hand_in.at,
        card=card_of(w, who, file),
        opened=opened,
        may_decide=opened and not decided and who.role == "instructor",
        decided=decided,
        rows=tuple(
            _row(file, hand_in, who, c, c.number in proposed, show, names) for c in file.project.characteristics
        ),
        gives=tuple(SkillForPart(skill=g.skill, characteristics=g.characteristics) for g in file.project.gives),
    )


def _row(
    file: AttemptFile,
    hand_in: t.HandIn,
    who: Who,
    c: Characteristic,
    proposed: bool,
    show: bool,
    names: dict[uuid.UUID, str],
) -> CheckRow:
    mine = file.checked(c.number, hand_in.number, who.id)
    theirs = file.counting(c.number, hand_in.number) if show else []
    return CheckRow(
        number=c.number,
        proposed=proposed,
        mine=tuple(reading_view(file, r, names) for r in mine),
        my_finding=finding_view(file, c, mine),
        theirs=tuple(reading_view(file, r, names) for r in theirs),
        their_finding=finding_view(file, c, theirs) if show else None,
        agrees=_agrees(file, c, mine, theirs),
        of_record=_of_record(file, c, hand_in.number, who.id)[0] if show else None,
    )


def _agrees(file: AttemptFile, c: Characteristic, mine: list[t.Reading], theirs: list[t.Reading]) -> bool | None:
    """Whether the two people's values agree within their uncertainties; ``None``: not both there."""
    return agreed(file.project, c, [reading_of(r) for r in mine], [reading_of(r) for r in theirs], file.school)


def _of_record(file: AttemptFile, c: Characteristic, round_: int, assessor: uuid.UUID) -> tuple[Verdict, bool]:
    """The verdict of record and whether it is the check's: the assessor's reading goes first.

    At different spots fewer check readings than the drawing wants cannot make
    the student's worse spot good: the worse of both verdicts stands then.
    """
    mine = file.checked(c.number, round_, assessor)
    theirs = file.combined(c, file.counting(c.number, round_)).judgement.verdict
    if not mine:
        return theirs, False
    own = file.combined(c, mine).judgement.verdict
    if own is Verdict.NOT_MEASURED:
        # begun and not finished: places, or one of the things that it takes, are missing
        return theirs, False
    if c.spots == "different" and len(mine) < c.readings and theirs is not Verdict.NOT_MEASURED:
        return min(own, theirs, key=SEVERITY.index), True
    return own, True


def open_comparison(w: Work, who: Who, hand_in_id: uuid.UUID, command: OpenCommand) -> CheckSheet:
    """Open the student's readings beside one's own, and show both."""
    keep_comparison(w, who, hand_in_id, command)
    return check_sheet(w, who, hand_in_id)


def keep_comparison(w: Work, who: Who, hand_in_id: uuid.UUID, command: OpenCommand) -> None:
    """Open the student's readings beside one's own. At least one own reading must be saved."""
    hand_in, file = _load(w, hand_in_id)
    mine = [r for r in file.readings if r.checking and r.person_id == who.id and r.round == hand_in.number]
    if not [r for r in mine if not r.undecided]:
        raise NotPermitted(say("Save at least one reading of your own before you see the student's."))
    if file.student.id == who.id:
        raise NotPermitted(say("Nobody checks their own part."))
    already = file.opened_by(who.id, hand_in.number)
    if already is None or already.id == command.id:
        row = t.Comparison(id=command.id, hand_in_id=hand_in_id, assessor_id=who.id, at=w.now)
        insert_once(w, row, ignoring=("at",))


def decide(w: Work, who: Who, hand_in_id: uuid.UUID, command: DecideCommand) -> CheckSheet:
    """Decide about the part, and show the sheet."""
    keep_decision(w, who, hand_in_id, command)
    return check_sheet(w, who, hand_in_id)


def keep_decision(w: Work, who: Who, hand_in_id: uuid.UUID, command: DecideCommand) -> None:
    """Decide about the part; a scrapped one starts a new attempt.

    Raises ``Refused`` naming each characteristic that still needs a decision.
    """
    hand_in, file = _load(w, hand_in_id)
    if file.student.id == who.id:
        raise NotPermitted(say("Nobody decides about their own part."))
    if file.opened_by(who.id, hand_in.number) is None:
        raise NotPermitted(say("Measure first and open the comparison, then decide."))
    there = file.decisions.get(hand_in_id)
    if there is not None:
        if there.id != command.id:
            raise Conflict(say("This part is decided already."))
        _same_decision(file, there, command)
        return
    record = {c.number: _of_record(file, c, hand_in.number, who.id) for c in file.project.characteristics}
    chosen = {d.characteristic: (d.kind, d.reason) for d in command.dispositions}
    if len(chosen) < len(command.dispositions):
        raise Refused.of("dispositions", "", say("each characteristic may appear only once"))
    outcome = settle({n: v for n, (v, _) in record.items()}, chosen)
    decision = t.Decision(
        id=command.id,
        hand_in_id=hand_in_id,
        assessor_id=who.id,
        outcome=outcome.value,
        remark=command.remark,
        at=w.now,
    )
    w.db.add(decision)
    w.db.flush()
    said = {d.characteristic: d for d in command.dispositions}
    for c in file.project.characteristics:
        verdict, by_check = record[c.number]
        d = said.get(c.number)
        reworked = file.reworked_in(c.number, hand_in.number) > 0
        w.db.add(
            t.Finding(
                decision_id=decision.id,
                characteristic=c.number,
                verdict=verdict.value,
                by_check=by_check,
                agrees=_agrees(
                    file,
                    c,
                    file.checked(c.number, hand_in.number, who.id),
                    file.counting(c.number, hand_in.number),
                ),
                disposition=d.kind.value if d else "",
                reason=d.reason if d else "",
                counts=d.counts if d else (command.count_reworked or not reworked),
            )
        )
    if outcome is Outcome.SCRAPPED:
        w.db.add(
            t.Attempt(
                id=uuid.uuid5(command.id, "next attempt"),
                assignment_id=file.assignment.id,
                number=file.attempt.number + 1,
                started_at=w.now,
            )
        )
    w.db.flush()


def _same_decision(file: AttemptFile, there: t.Decision, command: DecideCommand) -> None:
    was = {f.characteristic: (f.disposition, f.reason) for f in file.findings[there.id] if f.disposition}
    now = {d.characteristic: (d.kind.value, d.reason) for d in command.dispositions}
    if was != now or there.remark != command.remark:
        raise Conflict(say("This id was used before for another decision."))
