"""From what a file asks to a requirement of the drawing, with all that follows from the part."""

from __future__ import annotations

from dataclasses import dataclass

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.parts.features import callouts
from incudo.core.parts.features.asked import Asked, Beside
from incudo.core.parts.features.distances import distance, round_size
from incudo.core.parts.features.frame import Frame, Named
from incudo.core.parts.project import Characteristic


@dataclass(frozen=True)
class Resolved:
    """A requirement with all that follows from the part; ``features`` are those that it is measured on."""

    characteristic: Characteristic
    features: frozenset[str]


def resolve(a: Asked, frame: Frame, beside: Beside) -> Resolved:
    """Raises ``Refused`` for names that are not there, things that have no such dimension, and tolerances."""
    things = [_thing(name, n, frame) for n, name in enumerate(a.of)]
    features = frozenset(t.feature for t in things if t.feature)
    made: dict[str, object] = {
        "number": a.number,
        "where": a.where,
        "datum": a.datum,
        "spots": a.spots,
        "readings": a.readings,
    }
    match a.kind:
        case "distance":
            made |= distance(a, things, frame)
        case "diameter" | "radius":
            made |= round_size(a, things, frame)
        case "parallel" | "square" | "flat":
            made |= callouts.form(a, things)
        case "runout":
            made |= callouts.runout(a, things)
        case "position":
            made |= callouts.position(a, things, frame, beside)
        case "thread":
            made |= callouts.thread(a, things)
        case "angle":
            made |= callouts.angle(a, things, frame)
        case "finish":
            made |= callouts.finish(a, things, frame)
    if a.name:
        made["name"] = a.name
    # a model keeps plain text only: a name of ours stays a sentence that can be spoken
    return Resolved(Characteristic.model_validate(made).model_copy(update={"name": made["name"]}), features)


def _thing(name: str, n: int, frame: Frame) -> Named:
    found = frame.named.get(name)
    if found is None:
        bound = say("there is nothing of this name on the part: {names}", names=together(frame.named, ", "))
        raise Refused.of(f"of.{n}", name, bound)
    return found
