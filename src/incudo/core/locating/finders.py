"""Edge finders: kinds, tips, speeds; and which side of a part is approached in which direction."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.shop.machine import Axis


class FinderKind(StrEnum):
    """How a finder tells that it touches."""

    KICK = "kick"
    WIGGLER = "wiggler"
    LIGHT = "light"
    PIN = "pin"


@dataclass(frozen=True)
class Finder:
    """A finder of the drawer. ``tip`` and ``body`` are diameters, ``reach`` the tip's length below the body.

    ``speed`` is the band in rpm, none for one that stands still.
    """

    id: str
    name: str
    kind: FinderKind
    tip: Length
    body: Length
    reach: Length
    speed: tuple[int, int] | None
    tells: str


#: Sizes in which such finders are usually made; the speed bands are the commonly published ones.
FINDERS = {
    f.id: f
    for f in (
        Finder(
            "kick-in",
            say("spring finder, 0.200 in tip"),
            FinderKind.KICK,
            Length("0.200", Unit.INCH),
            Length("0.375", Unit.INCH),
            Length("0.35", Unit.INCH),
            (800, 1200),
            say("the tip wobbles, runs true, and at the touch kicks sideways"),
        ),
        Finder(
            "kick-mm",
            say("spring finder, 10 mm tip"),
            FinderKind.KICK,
            Length("10", Unit.MM),
            Length("10", Unit.MM),
            Length("20", Unit.MM),
            (400, 800),
            say("the tip wobbles, runs true, and at the touch kicks sideways"),
        ),
        Finder(
            "wiggler-in",
            say("wiggler with a 0.250 in ball"),
            FinderKind.WIGGLER,
            Length("0.250", Unit.INCH),
            Length("0.375", Unit.INCH),
            Length("1.5", Unit.INCH),
            (500, 1000),
            say("the ball swings less and less, runs true, then walks off along the face"),
        ),
        Finder(
            "light-mm",
            say("finder with a lamp, 10 mm ball"),
            FinderKind.LIGHT,
            Length("10", Unit.MM),
            Length("20", Unit.MM),
            Length("40", Unit.MM),
            None,
            say("the lamp lights at the touch; spindle stopped; work and machine must both conduct"),
        ),
        Finder(
            "pin-in",
            say("ground pin 0.2500 in with paper"),
            FinderKind.PIN,
            Length("0.2500", Unit.INCH),
            Length("0.2500", Unit.INCH),
            Length("1", Unit.INCH),
            None,
            say("a strip of paper between pin and face just drags; its thickness counts"),
        ),
    )
}


class Face(StrEnum):
    """A side that is touched. Of the part from outside; a jaw or a stop from where the part will be."""

    LEFT = "left"
    RIGHT = "right"
    FRONT = "front"
    REAR = "rear"
    JAW = "jaw"
    STOP = "stop"


#: The axis of a face and the sign in which a finder comes to it.
COMES = {
    Face.LEFT: (Axis.X, 1),
    Face.RIGHT: (Axis.X, -1),
    Face.FRONT: (Axis.Y, 1),
    Face.REAR: (Axis.Y, -1),
    Face.JAW: (Axis.Y, 1),
    Face.STOP: (Axis.X, -1),
}

FACE_WORDS = {
    Face.LEFT: say("the part's left edge"),
    Face.RIGHT: say("the part's right edge"),
    Face.FRONT: say("the part's front edge"),
    Face.REAR: say("the part's rear edge"),
    Face.JAW: say("the fixed jaw at the rear, where the part's rear edge will be"),
    Face.STOP: say("the stop at the left, where the part's left edge will be"),
}


def face_at(face: Face, x: tuple[Fraction, Fraction], y: tuple[Fraction, Fraction]) -> Fraction:
    """The part's coordinate of a face, from where the part begins and ends along X and Y."""
    at = {
        Face.LEFT: x[0],
        Face.RIGHT: x[1],
        Face.FRONT: y[0],
        Face.REAR: y[1],
        Face.JAW: y[1],
        Face.STOP: x[0],
    }
    return at[face]
