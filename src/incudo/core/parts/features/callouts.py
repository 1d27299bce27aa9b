"""Requirements that the drawing gives in a frame or in words: form, runout, position, thread, angle, finish."""

from __future__ import annotations

import re
from decimal import Decimal

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit, plain
from incudo.core.kernel.say import capital, say, together
from incudo.core.measuring.tolerance import Form
from incudo.core.measuring.verdict import Metal
from incudo.core.parts.features.asked import Asked, Beside, outline, texts
from incudo.core.parts.features.distances import between, limits_of
from incudo.core.parts.features.frame import Axle, Frame, Named, Plane, RoundWall, Slope, Spot, others, text_of
from incudo.core.parts.features.tolerances import read_tolerance
from incudo.core.parts.project import AXES, Basic, Method, PointedPlace, Symbol, ToleranceSpec

FORM_SYMBOLS = {"parallel": Symbol.PARALLEL, "square": Symbol.SQUARE, "flat": Symbol.FLAT}
#: A flat face is read at so many places at least when it is judged from several: three of them level it.
LEAST_FLAT = 4
#: The roughness Ra that comparison specimens are made for, by unit of the drawing (µm, µin). Source: the grade numbers
#: N5 to N10 of the standard for indicating surface texture, with the inch values that stand beside them.
ROUGHNESS = {Unit.MM: ("0.4", "0.8", "1.6", "3.2", "6.3", "12.5"), Unit.INCH: ("16", "32", "63", "125", "250", "500")}
_ZONE = re.compile(r"(?:[⌀øØ]|dia\.?)?\s*(\d*\.?\d+)\s*(M|Ⓜ)?", re.IGNORECASE)
_MOST = re.compile(r"(\d*\.?\d+)\s*(?:max\.?)?", re.IGNORECASE)


def _most(a: Asked) -> str:
    """The most that an indicator may show. Raises ``Refused`` at the tolerance."""
    found = _MOST.fullmatch(a.tolerance.strip())
    if not found or Decimal(found[1]) <= 0:
        raise Refused.of("tolerance", a.tolerance, say("must be the most a reading may show, such as 0.002"))
    return f"0{found[1]}" if found[1].startswith(".") else found[1]


def form(a: Asked, things: list[Named]) -> dict[str, object]:
    """A face's own form: what an indicator shows over it, never more than the number."""
    face = things[0]
    if len(things) != 1 or not isinstance(face, Plane) or not face.out:
        raise Refused.of("of.0", a.of[0], say("must be a flat face"))
    if (a.kind == "flat") == bool(a.datum):
        bound = (
            say("a flat face needs no datum") if a.datum else say("must be the letter of the face it is held against")
        )
        raise Refused.of("datum", a.datum, bound)
    text = _most(a)
    if a.kind == "flat" and 1 < a.readings < LEAST_FLAT:
        bound = say("must be 1, the whole movement, or {least} places and more", least=LEAST_FLAT)
        raise Refused.of("readings", a.readings, bound)
    words = {
        "parallel": say("{face} parallel to {datum}", face=face.words, datum=a.datum),
        "square": say("{face} square to {datum}", face=face.words, datum=a.datum),
        "flat": say("{face} flat", face=face.words),
    }
    lines = list(outline(face))
    return {
        "name": capital(words[a.kind]),
        "nominal": text,
        "tolerance": ToleranceSpec(form=Form.MAXIMUM),
        "metal": Metal.NONE,
        "symbol": FORM_SYMBOLS[a.kind],
        "method": Method.MOVEMENT if a.readings > 1 else Method.SIZE,
        "place": _at_face(face),
        "lights": tuple(lines),
    }


def _at_face(face: Plane) -> PointedPlace:
    """A leader to a face, seen from its edge."""
    spot = texts(tuple(sum(s, Decimal(0)) / 2 for s in face.spans))  # type: ignore[arg-type]
    lines = list(outline(face))
    return PointedPlace(kind="pointed", axis=AXES[face.axis], at=spot, edge=(lines[0][0], lines[1][1]))


def _at_wall(wall: RoundWall, centre: Spot | None = None) -> PointedPlace:
    """A leader to a circle."""
    at = texts(centre or wall.centre)
    return PointedPlace(kind="pointed", axis=AXES[wall.axis], at=at, radius=text_of(wall.diameter / 2))


def runout(a: Asked, things: list[Named]) -> dict[str, object]:
    """How far a round wall runs out to a datum: the whole movement of an indicator in one turn."""
    wall = things[0]
    if len(things) != 1 or not _is_wall(wall):
        raise Refused.of("of.0", a.of[0], say("must be a bore or the round of a bar"))
    if not a.datum:
        raise Refused.of("datum", "", say("must be the letter of the face it is held against"))
    assert isinstance(wall, RoundWall)  # noqa: S101 (asked just now)
    return {
        "name": capital(say("{name}, runout to {datum}", name=wall.words, datum=a.datum)),
        "nominal": _most(a),
        "tolerance": ToleranceSpec(form=Form.MAXIMUM),
        "metal": Metal.NONE,
        "symbol": Symbol.RUNOUT,
        "place": _at_wall(wall),
    }


def _is_wall(thing: Named) -> bool:
    """Whether it is a whole round wall: no corner, and no circle that holes lie on."""
    return isinstance(thing, RoundWall) and not thing.corner and not thing.name.endswith(".circle")


def position(a: Asked, things: list[Named], frame: Frame, beside: Beside) -> dict[str, object]:
    """Where the axis of a hole lies, from two faces that have letters."""
    hole = things[0]
    wall = _wall_of(hole, frame)
    if wall is None or not isinstance(hole, (Axle, RoundWall)):
        raise Refused.of("of.0", a.of[0], say("must be a hole, or the axis of one"))
    if len(things) != 3:
        bound = say("a position is from two faces that have letters: name the hole and both faces")
        raise Refused.of("of", together(a.of, ", "), bound)
    axes = others(hole.axis)
    basics, letters = [], ""
    for n, face in enumerate(things[1:], start=1):
        if not isinstance(face, Plane) or not face.out or face.axis not in axes:
            raise Refused.of(f"of.{n}", a.of[n], say("must be a flat face along the hole"))
        axes = tuple(x for x in axes if x != face.axis)  # type: ignore[assignment]
        letter = next((letter for letter, name in beside.letters.items() if name == face.name), "")
        if not letter:
            raise Refused.of(f"of.{n}", a.of[n], say("must be a datum: give the face a letter first"))
        away = text_of(abs(hole.centre[face.axis] - face.at))
        words = say("{face} to the axis, along {axis}", face=capital(face.words), axis="XYZ"[face.axis])
        place = between((face, hole), face.axis, frame)
        basics.append(Basic.model_construct(axis=AXES[face.axis], nominal=away, words=words, place=place))
        letters += letter
    zone = _ZONE.fullmatch(a.tolerance.strip())
    if not zone or Decimal(zone[1]) <= 0:
        bound = say("must be the diameter of the zone, such as 0.010, with an M after it for the bonus")
        raise Refused.of("tolerance", a.tolerance, bound)
    return {
        "name": capital(say("{name}, position", name=hole.words)),
        "nominal": f"0{zone[1]}" if zone[1].startswith(".") else zone[1],
        "tolerance": ToleranceSpec(form=Form.MAXIMUM),
        "metal": Metal.NONE,
        "symbol": Symbol.POSITION,
        "datum": letters,
        "method": Method.POSITION,
        "basics": tuple(basics),
        "bonus": _bonus(a, wall, frame, beside) if zone[2] else None,
        "place": _at_wall(wall, hole.centre),
    }


def _wall_of(thing: Named, frame: Frame) -> RoundWall | None:
    """The wall of a hole: it itself, or that of the feature whose axis it is."""
    if isinstance(thing, RoundWall):
        return thing if thing.name.endswith(".bore") else None
    found = frame.named.get(f"{thing.feature}.bore")
    is_axis = isinstance(thing, Axle) and thing.name.endswith(".axis")
    return found if is_axis and isinstance(found, RoundWall) else None


def _bonus(a: Asked, wall: RoundWall, frame: Frame, beside: Beside) -> tuple[str, str]:
    """The limits of the hole's diameter, as the drawing asks for it."""
    for other in beside.others:
        if other.kind == "diameter" and other.of == (wall.name,):
            limits = limits_of(other, wall, frame)
            if limits is not None:
                low, high = (plain(x, frame.unit) for x in limits)
                return low, high
    bound = say("takes its bonus from the hole's diameter: ask for that too, with limits to both sides")
    raise Refused.of("tolerance", a.tolerance, bound)


def thread(a: Asked, things: list[Named]) -> dict[str, object]:
    """A tapped hole by its go and no-go gauge; the tolerance is its class, such as 2B or 6H."""
    wall = things[0]
    if len(things) != 1 or not isinstance(wall, RoundWall) or not wall.thread:
        raise Refused.of("of.0", a.of[0], say("must be a tapped hole"))
    fit = a.tolerance.strip().upper()
    if fit and not re.fullmatch(r"\d[A-Z]", fit):
        raise Refused.of("tolerance", a.tolerance, say("must be the thread's class, such as 2B or 6H, or empty"))
    return {
        "name": capital(say("{name}, thread", name=wall.words)),
        "nominal": text_of(wall.diameter),
        "tolerance": ToleranceSpec(form=Form.MAXIMUM),
        "metal": Metal.INSIDE,
        "method": Method.THREAD,
        "callout": f"{wall.thread} {fit}".strip(),
        "thread": wall.thread,
        "place": _at_wall(wall),
    }


def angle(a: Asked, things: list[Named], frame: Frame) -> dict[str, object]:
    """The angle of a sloped face, in degrees."""
    slope = things[0]
    if len(things) != 1 or not isinstance(slope, Slope):
        raise Refused.of("of.0", a.of[0], say("must be a chamfer or a face at an angle"))
    nominal = text_of(slope.angle)
    is_fit = re.match(r"\s*[A-Za-z]{1,2}\s?\d", a.tolerance) is not None
    spec = ToleranceSpec(form=Form.TITLE_BLOCK) if is_fit else read_tolerance(a.tolerance, nominal, frame.unit)
    if spec.form is Form.TITLE_BLOCK:
        raise Refused.of("tolerance", a.tolerance, say("must say how many degrees, such as ±0.5"))
    face = frame.named.get(slope.face)
    return {
        "name": capital(
            say("{name}, angle to {face}", name=slope.words, face=face.words if face is not None else slope.face)
        ),
        "nominal": nominal,
        "tolerance": spec,
        "metal": Metal.NONE,
        "method": Method.ANGLE,
        "place": PointedPlace(kind="pointed", axis=AXES[slope.axis], at=texts(slope.middle)),
    }


def finish(a: Asked, things: list[Named], frame: Frame) -> dict[str, object]:
    """How rough a face may be, judged beside specimens."""
    thing = things[0]
    if len(things) != 1 or not (_is_wall(thing) or (isinstance(thing, Plane) and thing.out)):
        raise Refused.of("of.0", a.of[0], say("must be a flat face or a round wall"))
    given = a.tolerance.strip().removeprefix("Ra").strip()
    known = ROUGHNESS[frame.unit]
    if given not in known:
        bound = say("must be one of the specimens' values: Ra {known}", known=together(known, ", "))
        raise Refused.of("tolerance", a.tolerance, bound)
    name = capital(say("{face}, finish", face=thing.words))
    unit = "µm" if frame.unit is Unit.MM else "µin"
    made: dict[str, object] = {
        "name": name,
        "nominal": given,
        "tolerance": ToleranceSpec(form=Form.MAXIMUM),
        "metal": Metal.NONE,
        "symbol": Symbol.FINISH,
        "method": Method.FINISH,
        "callout": f"Ra {given} {unit}",
    }
    if isinstance(thing, Plane):
        return made | {"place": _at_face(thing), "lights": tuple(outline(thing))}
    assert isinstance(thing, RoundWall)  # noqa: S101 (``_is_wall``)
    return made | {"place": _at_wall(thing)}
