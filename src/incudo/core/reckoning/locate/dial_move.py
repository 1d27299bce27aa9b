"""Move by a dial. Whole turns, divisions and the dial's reading at arrival, with the backlash where the
handle turns back.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, sense
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating.dial import leg
from incudo.core.reckoning.bench import x_handle
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.locate.shared import BACKLASH, GRADUATIONS, GROUP, TURN, dial_of, dial_picture
from incudo.core.reckoning.question import Draw, Given, Question


def _move(v: Values) -> Outcome:
    dial = dial_of(v)
    by = v["by"]
    if not by:
        raise Refused.of("by", "0", say("must not be 0"))
    back = v.choice("last") == "the other way"
    start = v["start"] % dial.turn
    found = leg(dial, sense(by), abs(by), start, reversing=back)
    travel, turns, divisions = found.travel, found.turns, found.divisions
    rest = travel - turns * dial.turn
    # the dial counts what the handle turns, backlash included
    reading = (start + sense(by) * travel) % dial.turn
    steps = (
        *(
            (
                Step(
                    say("travel of the screw"),
                    "move + backlash",
                    f"{v.num(abs(by))} + {v.num(dial.backlash)}",
                    v.len(travel),
                ),
            )
            if back
            else ()
        ),
        Step(
            say("whole turns"),
            say("travel / travel of a turn, to half a division"),
            f"{v.num(travel)} / {v.num(dial.turn)}",
            str(turns),
        ),
        Step(
            "divisions",
            say("rest / travel of a division"),
            f"{v.num(rest)} / {v.num(dial.division)}",
            say("{rest}, set as {divisions}", rest=shown(rest / dial.division, 3), divisions=shown(divisions, 1)),
        ),
        Step(
            say("dial at arrival"),
            say("reading ± rest, within one turn"),
            f"{v.num(start)} {'+' if sense(by) == 1 else '−'} {v.num(rest)}",
            v.len(reading),
        ),
    )
    results = (
        Output("reading", say("dial at arrival"), Quantity.LENGTH, reading),
        Output("turns", say("whole turns"), Quantity.COUNT, Fraction(turns)),
        Output("divisions", say("and divisions"), Quantity.COUNT, divisions),
    )
    said = [say("Tick off every whole turn, not only the dial: a turn lost is a classic error.")]
    if back:
        said.append(say("Turning back, the backlash is turned away first; end every move in the same direction."))
    return Outcome(results, steps, tuple(said))


CALCULATION = Calculation(
    "dial-move",
    say("Move by a dial"),
    GROUP,
    say("Whole turns, divisions and the dial's reading at arrival, with the backlash where the handle turns back."),
    (
        length("by", say("Move (minus: numbers fall)"), 2000, low=-2000),
        TURN,
        GRADUATIONS,
        length("start", say("Dial reads now"), 25, zero=True, default="0"),
        BACKLASH,
        choice("last", say("The last turning was"), say("the same way"), say("the other way")),
    ),
    _move,
    (
        Slip(
            say("the backlash was forgotten"),
            lambda v: v.but(last=say("the same way")),
        ),
        Slip(
            say("the backlash was taken the wrong way"),
            lambda v: (
                v.but(by=v["by"] - (2 if v["by"] > 0 else -2) * v["backlash"])
                if v.choice("last") != "the same way"
                else v
            ),
        ),
        Slip(say("the backlash was added though nothing turned back"), lambda v: v.but(last=say("the other way"))),
        Slip(say("the dial was turned the wrong way"), lambda v: v.but(by=-v["by"])),
        Slip(say("the dial was taken to start from 0"), lambda v: v.but(start=Fraction(0))),
    ),
    lambda v, o: dial_picture(dial_of(v), o.answer.value, v.len(o.answer.value)),
    order=90,
)


def ask(d: Draw) -> Question:
    handle = x_handle(d.machine)
    division = Length(handle.per_turn, handle.unit).mm / handle.graduations
    back = bool(handle.backlash) and d.rng.random() < 0.5
    by = d.rng.randint(handle.graduations // 3, handle.graduations * 8) * d.rng.choice((1, -1))
    start = d.rng.randint(0, handle.graduations - 1)
    text = shown(by * division / handle.unit.in_mm, 4)
    given: Given = {
        "by": {"value": text, "unit": handle.unit},
        "per_turn": {"value": handle.per_turn, "unit": handle.unit},
        "graduations": {"value": str(handle.graduations), "unit": ""},
        "start": {"value": shown(start * division / handle.unit.in_mm, 4), "unit": handle.unit},
        "backlash": {"value": handle.backlash or "0", "unit": handle.unit},
        "last": {"value": say("the other way") if back else say("the same way"), "unit": ""},
    }
    words = say("{name}, X handle. What does the dial read at arrival?", name=d.name)
    return Question("dial-move", words, given, handle.unit, division / 2, say("to half a division"))
