"""A machine and its workholding as they really stand in the shop.

Numbers are text with a unit of their own, as on the machine's plate or on the
record of a measurement; a dial's unit may differ from the plate's.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import date
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from incudo.core.kernel.fields import Line, Num, Strict, Word, read_model
from incudo.core.kernel.quantity import Length, LengthUnit, plain
from incudo.core.kernel.say import say


class Kind(StrEnum):
    """How the machine is built, as far as setting it up goes."""

    TURRET_KNEE = "turret_knee"
    PLAIN_VERTICAL = "plain_vertical"
    BENCH = "bench"
    HORIZONTAL = "horizontal"


class Axis(StrEnum):
    """What a handle moves."""

    X = "x"
    Y = "y"
    KNEE = "knee"
    QUILL = "quill"


#: On which scale of a readout each is read.
READOUT_OF: Mapping[Axis, Literal["x", "y", "z"]] = {Axis.X: "x", Axis.Y: "y", Axis.KNEE: "z", Axis.QUILL: "z"}


class Way(StrEnum):
    """Where the table, the knee or the quill goes."""

    LEFT = "left"
    RIGHT = "right"
    AWAY = "away"
    TOWARDS = "towards"
    UP = "up"
    DOWN = "down"


_WAYS = {
    Axis.X: (Way.LEFT, Way.RIGHT),
    Axis.Y: (Way.AWAY, Way.TOWARDS),
    Axis.KNEE: (Way.UP, Way.DOWN),
    Axis.QUILL: (Way.UP, Way.DOWN),
}


def ways_of(axis: Axis) -> tuple[Way, ...]:
    """Where an axis can go."""
    return _WAYS[axis]


class Handle(Strict):
    """One handle with its dial. ``clockwise`` is where the table (knee, quill) goes then.

    ``per_turn`` is the travel of one turn, ``backlash`` the backlash measured on
    ``measured``; ``dial_up`` says which turning makes the dial's numbers grow.
    """

    axis: Axis
    place: Word
    clockwise: Way
    dial_up: Literal["clockwise", "anticlockwise"] = "clockwise"
    unit: LengthUnit
    per_turn: Num
    graduations: Annotated[int, Field(ge=10, le=1000)]
    backlash: Num | None = None
    measured: date | None = None

    @model_validator(mode="after")
    def _holds(self) -> Handle:
        if self.clockwise not in _WAYS[self.axis]:
            raise ValueError(
                say("clockwise: the {axis} axis goes {listed}", axis=self.axis, listed=" or ".join(_WAYS[self.axis]))
            )
        turn = Length(self.per_turn, self.unit)
        if turn.mm <= 0:
            raise ValueError(say("per_turn: must be more than 0"))
        if self.backlash is not None and not 0 <= Length(self.backlash, self.unit).mm <= turn.mm:
            raise ValueError(
                say(
                    "backlash: must lie between 0 and one turn, {per_turn} {unit}",
                    per_turn=self.per_turn,
                    unit=self.unit,
                )
            )
        return self

    @property
    def division(self) -> str:
        """The travel of one division of the dial, with its unit."""
        return f"{plain(Length(self.per_turn, self.unit).mm / self.graduations, self.unit)} {self.unit}"


class Nod(Strict):
    """The head's fore-and-aft axis; ``behind`` is how far its pivot lies behind the spindle, if known."""

    behind: Num | None = None


class Head(Strict):
    """Which ways the head can be set over. ``tilt`` is side to side, pivoted over the spindle."""

    tilt: bool = True
    nod: Nod | None = None


class Table(Strict):
    """The table: its size, and its T-slots as distances of their middles from the front edge."""

    length: Num
    width: Num
    slots: Annotated[tuple[Num, ...], Field(max_length=7)] = ()
    slot_width: Num = "0"


class Spindle(Strict):
    """Speeds: the steps of belts and gears, or one range; power in watts; the taper's name."""

    taper: Word
    watts: Annotated[int, Field(ge=50, le=50_000)]
    steps: Annotated[tuple[Annotated[int, Field(ge=10, le=20_000)], ...], Field(max_length=40)] = ()
    ranges: Annotated[tuple[tuple[int, int], ...], Field(max_length=6)] = ()
    changes_running: bool = False
    low_range_reverses: bool = False

    @model_validator(mode="after")
    def _speeds(self) -> Spindle:
        if bool(self.steps) == bool(self.ranges):
            raise ValueError(say("steps: give the steps or the ranges, one of both"))
        if list(self.steps) != sorted(set(self.steps)):
            raise ValueError(say("steps: must rise from each to the next"))
        for low, high in self.ranges:
            if not 10 <= low < high <= 20_000:
                raise ValueError(say("ranges: each from a lower to a higher speed, 10 to 20000 rpm"))
        return self


class Machine(Strict):
    """A machine's entry in the register. Its name and its place stand outside of it."""

    format: Literal["incudo-machine/1"] = "incudo-machine/1"
    kind: Kind
    make: Word
    unit: LengthUnit
    head: Head
    table: Table
    travel: tuple[Num, Num, Num]
    spindle: Spindle
    quill_travel: Num = "0"
    quill_feeds: Annotated[tuple[Num, ...], Field(max_length=12)] = ()
    handles: Annotated[tuple[Handle, ...], Field(min_length=1, max_length=10)]
    readout: tuple[Literal["x", "y", "z"], ...] = ()
    power_feed: tuple[Literal["x", "y", "z"], ...] = ()
    #: Steps of the table's power feed per minute, where it has steps.
    power_feeds: Annotated[tuple[Num, ...], Field(max_length=24)] = ()
    wear: Line = ""

    def length(self, text: str) -> Length:
        """A number of this entry as a length in the entry's unit."""
        return Length(text, self.unit)

    def reaches(self, one: Fraction, two: Fraction) -> bool:
        """Whether a part this long and wide (mm) lies within the travel of the table, one way round or the other.

        What a cutter runs over at the ends is not counted.
        """
        part = sorted((one, two))
        return all(
            size <= self.length(t).mm for size, t in zip(part, sorted(self.travel[:2], key=Fraction), strict=True)
        )

    @property
    def pivot_behind(self) -> Length | None:
        """How far the nod's pivot lies behind the spindle, where it is known."""
        nod = self.head.nod
        return None if nod is None or nod.behind is None else self.length(nod.behind)


def read_machine(data: Any) -> Machine:
    """A register entry from its file content. Raises ``Refused`` with every field that cannot be."""
    return read_model(Machine, data)


@lru_cache(maxsize=128)
def kept_machine(text: str) -> Machine:
    """A register entry as the register keeps it; the same text is read once. Raises ``Refused``."""
    return read_machine(json.loads(text))
