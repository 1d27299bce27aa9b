"""What a tilted head does to the part. Two readings of an indicator half a turn apart: the tilt, and the hollow,
steps and lean it leaves.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, shown
from incudo.core.reckoning.locate.shared import GROUP
from incudo.core.setup import tram


def _tilt(v: Values) -> Outcome:
    s = tram.Sweep(tram.HeadAxis.TILT, v["left"], v["right"], v["span"])
    lean = Fraction(tram.lean(s.angle, v["deep"]))
    hollow = Fraction(tram.hollow(s.angle, v["diameter"], v["width"]))
    step = Fraction(tram.step(s.angle, v["width"]))
    put = f"({v.num(v['right'])} − {v.num(v['left'])}) / {v.num(v['span'])}"
    steps = (
        Step("tilt", "atan((right − left) / span)", put, f"{shown(s.degrees, 4)}°"),
        Step(
            say("hollow of a facing cut"),
            "(R − √(R² − (w/2)²)) · sin(tilt)",
            f"D {v.num(v['diameter'])}, w {v.num(v['width'])}",
            v.len(hollow, 5),
        ),
        Step(say("step between passes"), "stepover · tan(tilt)", f"{v.num(v['width'])} · tan", v.len(step, 5)),
        Step(say("lean of a hole or wall"), "depth · tan(tilt)", f"{v.num(v['deep'])} · tan", v.len(lean, 5)),
    )
    results = (
        Output("hollow", say("hollow along the feed"), Quantity.LENGTH, hollow),
        Output("step", say("step across the feed"), Quantity.LENGTH, step),
        Output("lean", say("lean of a hole by the quill, of a wall"), Quantity.LENGTH, lean),
        Output("tilt", "tilt", Quantity.ANGLE, Fraction(s.degrees)),
    )
    way = (
        say("The head is square.")
        if not s.rise
        else say("The top of the head leans right.")
        if sense(s.rise) == 1
        else say("The top of the head leans left.")
    )
    return Outcome(results, steps, (way,))


def _draw_tilt(v: Values, o: Outcome) -> Picture:
    lean = float(o.results[3].value)
    # drawn much more than it is
    seen = max(-8.0, min(8.0, lean * 60))
    a, b = p.arc((0, 0), 60, 180 - seen, 180 - seen, 1)[0], p.arc((0, 0), 60, -seen, -seen, 1)[0]
    top = p.arc((0, 0), 70, 90 - seen, 90 - seen, 1)[0]
    shapes = (
        p.box(Ink.WORK, -75, -20, 75, -10),
        p.line(Ink.CUTTER, a, b),
        p.line(Ink.CUTTER, (0, 0), top),
        p.line(Ink.SCRIBE, (0, -10), (0, 75), dashed=True),
        p.text((-60, 18), f"left {v.num(v['left'])}"),
        p.text((60, 18), f"right {v.num(v['right'])}"),
        p.text((30, 66), f"{shown(abs(o.results[3].value), 4)}°", Ink.ANSWER),
    )
    return Picture(
        say("The head from the front, its tilt of {lean}° drawn much larger than it is.", lean=shown(lean, 4)), shapes
    )


CALCULATION = Calculation(
    "head-tilt",
    say("What a tilted head does to the part"),
    GROUP,
    say("Two readings of an indicator half a turn apart: the tilt, and the hollow, steps and lean it leaves."),
    (
        length("left", say("Reading at the left"), 50, low=-50),
        length("right", say("Reading at the right"), 50, low=-50),
        length("span", say("Between the two stations"), 1000, low=10),
        length("diameter", say("Cutter"), 300, fills="cutter.diameter"),
        length("width", say("Width of the cut"), 300),
        length("deep", say("Depth of a hole or wall"), 300),
    ),
    _tilt,
    (
        Slip(say("the radius was taken for the diameter"), lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip(say("the lean was taken for the hollow"), answer=lambda _, o: o.results[2].value),
        Slip(say("the step was taken for the hollow"), answer=lambda _, o: o.results[1].value),
    ),
    _draw_tilt,
    order=160,
)
