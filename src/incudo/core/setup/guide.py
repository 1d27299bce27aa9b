"""The next thing of a working record in words: what is wrong, where the needle should come to, which way."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.quantity import Length, Unit, in_places, sense, settable
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.setup.jaw import JawSweep, left_by_meeting
from incudo.core.setup.record import Do, HeadNext, ViseNext
from incudo.core.setup.standard import Slope, ViseSchool
from incudo.core.setup.tram import STATIONS, HeadAxis, Sweep, turn_words

AXIS_WORDS = {HeadAxis.TILT: say("side to side"), HeadAxis.NOD: say("front to back")}


@dataclass(frozen=True)
class Said:
    """What to do, in one heading and a few lines."""

    title: str
    lines: tuple[str, ...]


def needle(mm: Fraction, division: Length) -> str:
    """A needle's place, to half a division, with its unit."""
    return f"{settable(mm, division).text} {division.unit}"


def small(mm: Fraction | float, unit: Unit) -> str:
    """A small length, four places of an inch or three of a millimetre."""
    exact = mm if isinstance(mm, Fraction) else Fraction(mm)
    return f"{in_places(exact / unit.in_mm, 4 if unit is Unit.INCH else 3)} {unit}"


def head_words(nxt: HeadNext, last: Sweep | None, division: Length, *, learning: bool) -> Said:
    """The next thing of a head's record."""
    low, high = STATIONS[nxt.axis]
    way = AXIS_WORDS[nxt.axis]
    if nxt.do is Do.READ:
        again = say(" again: something was moved or tightened since") if nxt.again else ""
        return Said(
            say("Read {way}{again}", way=way, again=again),
            (
                say(
                    "Bring the tip down at the {low}, zero the bezel, swing half a turn by hand, read at the {high}.",
                    low=low,
                    high=high,
                ),
                say("Lift the tip over T-slots, or lay one good parallel under each station."),
            ),
        )
    if nxt.do is Do.TIGHTEN:
        return Said(
            say("Good. Tighten, then read again"),
            (
                say("Tighten crosswise, a little each: bolts move the head."),
                say("Then read {way} again with everything tight. It is not accepted without that.", way=way),
            ),
        )
    if nxt.do is Do.ACCEPT:
        return Said(say("Tight, read again, within the standard"), (say("Accept this setup."),))
    if last is None:
        raise ValueError(say("an adjustment follows from a sweep"))
    wrong, turn = turn_words(last)
    lines = [wrong, turn, say("Slacken to a drag, never loose: a head that is let go swings or drops.")]
    if nxt.target is None:
        lines.append(say("Where the nod pivots is not known: turn the screw a little, read both again. That tells it."))
        return Said(say("Adjust {way}", way=way), tuple(lines))
    t = nxt.target
    if nxt.axis is HeadAxis.TILT:
        lines.append(
            say("Both needles move by half and meet: bring the right one to {needle}.", needle=needle(t.high, division))
        )
    else:
        lines.append(
            say(
                "Bring the front needle to {needle}; the rear one then reads {needle2}.",
                needle=needle(t.low, division),
                needle2=needle(t.high, division),
            )
        )
        lines.append(
            say("They do not meet in the middle: the pivot lies behind the spindle")
            + (say(", learnt from your first turn.") if learning else ".")
        )
    return Said(say("Adjust {way}", way=way), tuple(lines))


def head_working(s: Sweep, standard: Slope, behind: Fraction | None, unit: Unit) -> tuple[Step, ...]:
    """The working of one sweep."""
    low, high = STATIONS[s.axis]
    steps = [
        Step(
            say("Difference"),
            f"{high} - {low}",
            f"{small(s.high, unit)} - {small(s.low, unit)}",
            small(s.rise, unit),
        ),
        Step(
            say("Angle"),
            "atan(difference / span)",
            f"atan({small(s.rise, unit)} / {small(s.span, unit)})",
            f"{s.degrees:.4f}°",
        ),
        Step(
            say("Allowed over this span"),
            say("rise of the standard x span / its span"),
            say("{words}, over {small}", words=standard.words, small=small(s.span, unit)),
            small(standard.over(s.span), unit),
        ),
    ]
    if s.axis is HeadAxis.NOD and behind is not None:
        d = s.low - s.high
        steps.append(
            Step(
                say("Front falls by"),
                say("d (e + s/2) / s, with d = front - rear, e the pivot behind the spindle"),
                f"{small(d, unit)} x ({small(behind, unit)} + {small(s.span / 2, unit)}) / {small(s.span, unit)}",
                small(d * (behind + s.span / 2) / s.span, unit),
            )
        )
    return tuple(steps)


def ends_of(along: str) -> tuple[str, str]:
    """What the ends of a jaw along X or Y are called, the lower coordinate first."""
    return ("left", "right") if along == "x" else ("front", "rear")


def vise_words(
    nxt: ViseNext,
    s: JawSweep | None,
    school: ViseSchool,
    along: str,
    division: Length,
    pivot_at: Fraction,
    factor: Fraction,
) -> Said:
    """The next thing of a vise's record.

    ``factor`` is what the jaw really moves for what the needle shows: below 1 for a lever at an angle, negative
    where the lever turns the needle the other way. What is said of the needle is what it will show.
    """
    ends = dict(zip(("left", "right"), ends_of(along), strict=True))
    if nxt.do is Do.READ:
        if nxt.short:
            return Said(
                say("Read over the full length"),
                (say("The last sweep was too short: run over at least three quarters of the jaw."),),
            )
        return Said(say("Read the fixed jaw"), _begin(school, ends))
    if nxt.do is Do.TIGHTEN:
        return Said(
            say("True. Tighten, then read again"),
            (
                say("Tighten alternately, a little each, with the indicator on the jaw."),
                say("Then run the full length again with both bolts tight. It is not accepted without that."),
            ),
        )
    if nxt.do is Do.ACCEPT:
        return Said(say("Tight, read again, true"), (say("Accept this setup."),))
    b = nxt.bring
    assert b is not None and s is not None  # noqa: S101, PT018 (an adjustment follows from a sweep)
    end, rise = ends[b.end], sense(b.by) == 1
    way = say("towards the tip") if rise else say("away from the tip")
    if along == "x":
        way += say(" (towards you)") if rise else say(" (away from you)")
    up = "rise" if (rise if sense(factor) == 1 else not rise) else "fall"
    lines = [
        say(
            "Tap the {end} end {way}, with a soft hammer, on the fixed jaw's part. The needle has to {up}.",
            end=end,
            way=way,
            up=up,
        ),
        say(
            "It shows {needle}: bring it to {needle2}.",
            needle=needle(b.now / factor, division),
            needle2=needle(b.to / factor, division),
        ),
    ]
    if school is ViseSchool.WALK_IN:
        lines.append(
            say("That is half of the difference: the other end takes the other half. Zero and read both again.")
        )
    else:
        rest = left_by_meeting(s, pivot_at, b.end)
        if rest and abs(rest) >= division.mm / 2:
            lines.append(
                say(
                    "Brought simply to the other end's reading it would still be {needle} out: the bolt is not where "
                    "you read.",
                    needle=needle(abs(rest), division),
                )
            )
    if nxt.jumped:
        lines.insert(0, say("Tightening made it jump: dirt lies underneath. Lift it, wipe, stone, set it down again."))
    return Said(say("Bring it true"), tuple(lines))


def _begin(school: ViseSchool, ends: dict[str, str]) -> tuple[str, ...]:
    low, high = ends["left"], ends["right"]
    common = say("Wipe table and base, stone the dings. Push the tip in by hand and see which way the needle turns.")
    match school:
        case ViseSchool.PIVOT:
            return (
                common,
                say(
                    "Leave the {low} bolt snug, it is the pivot; the {high} one loose. Zero at the {low} end, run to "
                    "the {high} end, read.",
                    low=low,
                    high=high,
                ),
            )
        case ViseSchool.WALK_IN:
            return (
                common,
                say("Both bolts lightly snug. Zero at the {low} end, run to the {high} end, read.", low=low, high=high),
            )
        case ViseSchool.LONG_PARALLEL:
            return (
                common,
                say(
                    "Clamp a parallel that reaches beyond both bolts. The {low} bolt snug, the {high} one loose: one "
                    "end rises as the other falls. Zero at one end, run to the other, read.",
                    low=low,
                    high=high,
                ),
            )
    raise AssertionError(school)


def vise_working(s: JawSweep, jaw: Fraction, lengths: Sequence[tuple[str, Fraction]], unit: Unit) -> tuple[Step, ...]:
    """The working of one sweep of a jaw, and the taper over each length of the job."""
    steps = [
        Step(say("Difference"), "far - near", f"{small(s.right, unit)} - {small(s.left, unit)}", small(s.rise, unit)),
        Step(
            say("Out over the jaw"),
            say("difference x jaw / travel"),
            f"{small(abs(s.rise), unit)} x {small(jaw, unit)} / {small(s.travel, unit)}",
            small(s.over(jaw), unit),
        ),
    ]
    steps += [
        Step(
            say("Taper over {name}", name=name),
            say("difference x length / travel"),
            f"{small(abs(s.rise), unit)} x {small(length, unit)} / {small(s.travel, unit)}",
            small(s.over(length), unit),
        )
        for name, length in lengths
    ]
    return tuple(steps)
