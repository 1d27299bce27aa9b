"""The second person's check of a part that was handed in, and what follows from it."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from random import Random

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import Verdict
from incudo.core.parts.project import Project


class Disposition(StrEnum):
    """What the instructor decides about a characteristic that is out or doubtful."""

    REWORK = "rework"
    ACCEPT = "accept"
    SCRAP = "scrap"


class Outcome(StrEnum):
    """What the decision means for the part."""

    ACCEPTED = "accepted"
    REWORK = "rework"
    SCRAPPED = "scrapped"


def what_to_check(project: Project, seed: str) -> tuple[int, ...]:
    """The default check: the tightest characteristic and one at random of the others.

    Tightest is the smallest width of limits; the first one of equals. ``seed``
    makes the random one repeatable for one hand-in.
    """
    widths = [(project.width(c), c.number) for c in project.characteristics]
    known = [(w, n) for w, n in widths if w is not None]
    tightest = min(known)[1] if known else widths[0][1]
    rest = [n for _, n in widths if n != tightest]
    return (tightest, Random(seed).choice(rest)) if rest else (tightest,)


def settle(
    verdicts: Mapping[int, Verdict],
    chosen: Mapping[int, tuple[Disposition, str]],
) -> Outcome:
    """The outcome of a decision.

    ``verdicts`` are those of record per characteristic number, ``chosen`` the
    dispositions with their reasons. Every characteristic that is not in needs a
    disposition, one that is in takes none; accepting needs a reason of at least
    three letters; rework of a part with metal gone makes no sense for a size
    that only can be cut further. Raises ``Refused`` with all faults together.
    """
    faults = []
    for number, verdict in verdicts.items():
        if verdict is not Verdict.IN and number not in chosen:
            faults.append(FieldError(f"dispositions.{number}", "", say("decide: rework, accept or scrap")))
    for number, (kind, reason) in chosen.items():
        field = f"dispositions.{number}"
        if number not in verdicts:
            faults.append(FieldError(field, kind, say("the project has no such characteristic")))
        elif verdicts[number] is Verdict.IN:
            faults.append(FieldError(field, kind, say("is in; there is nothing to decide")))
        elif kind is Disposition.ACCEPT and len(reason.strip()) < 3:
            faults.append(FieldError(f"{field}.reason", reason, say("accepting needs a reason of 3 letters or more")))
        elif kind is Disposition.REWORK and verdicts[number] is Verdict.METAL_GONE:
            faults.append(FieldError(field, kind, say("the metal is gone: accept with a reason, or scrap")))
    if faults:
        raise Refused(*faults)
    kinds = {kind for kind, _ in chosen.values()}
    if Disposition.SCRAP in kinds:
        return Outcome.SCRAPPED
    return Outcome.REWORK if Disposition.REWORK in kinds else Outcome.ACCEPTED
