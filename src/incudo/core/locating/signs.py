"""Every sign and direction as a table that a machinist can read and check; docs/signs.md is made by this."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from incudo.core.kernel.quantity import Unit, sense
from incudo.core.kernel.say import say
from incudo.core.locating.centre import Sweep, block_by_dial, slot_by_dial
from incudo.core.locating.datum import goes, way_words
from incudo.core.locating.dial import Dial, Turning
from incudo.core.locating.finders import COMES, FACE_WORDS, Face
from incudo.core.shop.machine import Axis, Way

_HEAD = """# Signs and directions

Made from the program's own core (`python -m incudo.core.locating.signs`); a test holds this page and
the core together. A coordinate is the cutter's place over the work: X grows to the right, Y away from
the person who stands in front of the machine, Z upwards.
"""


def _table(head: Iterable[str], rows: Iterable[Iterable[str]]) -> str:
    names = list(head)
    lines = [f"| {' | '.join(names)} |", f"|{'---|' * len(names)}"]
    return "\n".join([*lines, *(f"| {' | '.join(r)} |" for r in rows)]) + "\n"


def _sign(sign: int) -> str:
    return "grows" if sign > 0 else "falls"


def page() -> str:
    """The whole page as Markdown."""
    axes = _table(
        ("axis", "coordinate", say("what goes where")),
        ((a.value, _sign(s), way_words(a, s)) for a in Axis for s in (1, -1)),
    )
    pairs = {
        Axis.X: (Way.LEFT, Way.RIGHT),
        Axis.Y: (Way.AWAY, Way.TOWARDS),
        Axis.KNEE: (Way.UP, Way.DOWN),
        Axis.QUILL: (Way.UP, Way.DOWN),
    }
    handles = _table(
        (
            "axis",
            say("clockwise moves table, knee or quill"),
            say("the coordinate grows by turning"),
            say("numbers rise clockwise"),
            say("numbers rise anticlockwise"),
        ),
        (
            (a.value, way.value, g, *(_numbers(g, up) for up in Turning))
            for a, ways in pairs.items()
            for way, g in _grows(a, ways)
        ),
    )
    faces = _table(
        ("touched", "axis", say("approached with the coordinate"), "seen", say("the face lies")),
        (
            (
                FACE_WORDS[f],
                axis.value,
                "growing" if s == 1 else "falling",
                way_words(axis, s),
                say("half a tip {word}", word="higher" if s == 1 else "lower"),
            )
            for f, (axis, s) in ((f, COMES[f]) for f in Face)
        ),
    )
    rounds = _table(
        ("shape", say("higher reading"), say("the spindle is off"), say("move the cutter")),
        (
            _round(boss, name, at)
            for boss in (False, True)
            for name, at in (("E, right", 0), ("N, rear", 1), ("W, left", 2), ("S, front", 3))
        ),
    )
    b, s = (
        f(Fraction(10), Fraction(60), Fraction(4), Fraction(1), Fraction(47)) for f in (block_by_dial, slot_by_dial)
    )
    dial = say(
        "By dial the two contacts of a block face opposite ways. With contacts at 10 and 60, a tip of 4, "
        "backlash of 1 (mm):\n\n* block: 60 − 10 + 1 − 4 = {width} wide; its middle 10 + 2 + 47/2 = {at}, "
        "from the low contact\n* slot: 60 − 10 − 1 + 4 = {width2} wide; with 47 measured its middle would "
        "be 60 + 2 − 47/2 = {at2}, from the high contact\n",
        width=b.width,
        at=float(b.at),
        width2=s.width,
        at2=float(s.at),
    )
    return "\n".join(
        (
            _HEAD,
            "## Axes\n",
            axes,
            "## Handles\n\nWhat the dial's numbers do while the coordinate grows:\n",
            handles,
            "## Faces\n",
            faces,
            "## Bore and boss, by an indicator turned in the spindle\n",
            rounds,
            "## Both sides by dial\n",
            dial,
            "## Depth\n\nPaper or gauge: the surface lies its thickness deeper than the touch. "
            "The knee comes upwards; then the coordinate falls.\n",
        )
    )


def _grows(axis: Axis, ways: tuple[Way, Way]) -> Iterable[tuple[Way, Turning]]:
    for way in ways:
        yield way, Turning.CLOCKWISE if goes(axis, 1) is way else Turning.ANTICLOCKWISE


def _numbers(grows: Turning, up: Turning) -> str:
    dial = Dial(Fraction(5), 250, Fraction(0), grows, up, Unit.MM)
    return "rise" if dial.reading(Fraction(1)) == 1 else "fall"


def _round(boss: bool, name: str, at: int) -> tuple[str, str, str, str]:
    east, north, west, south = (Fraction(2 if n == at else 0) for n in range(4))
    sweep = Sweep(east, north, west, south, boss=boss)
    return "boss" if boss else "bore", name, _compass(sweep.off), _compass(sweep.moves)


def _compass(off: tuple[Fraction, Fraction]) -> str:
    x, y = off
    if x:
        return say("to the right") if sense(x) == 1 else say("to the left")
    return say("to the rear") if sense(y) == 1 else say("to the front")


if __name__ == "__main__":
    print(page(), end="")
