"""Grid of holes. Hole positions in rows and columns, each calculated from the datum so that no rounding adds up."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, draw_places, order_words, placed
from incudo.core.reckoning.inputs import Quantity, Values, count, length, shown


def _grid_places(v: Values) -> tuple[tuple[Fraction, Fraction], ...]:
    nx, ny = int(v["columns"]), int(v["rows"])
    return tuple((v["x"] + i * v["dx"], v["y"] + j * v["dy"]) for j in range(ny) for i in range(nx))


def _grid(v: Values) -> Outcome:
    places = _grid_places(v)
    if len(places) > 60:
        raise Refused.of("rows", shown(v["rows"]), say("makes more than 60 holes"))
    x, y = places[-1]
    steps = (
        Step(
            say("last column"),
            "first + (n − 1) · spacing",
            f"{v.num(v['x'])} + {shown(v['columns'] - 1)} · {v.num(v['dx'])}",
            v.len(x),
        ),
        Step(
            say("last row"), say("the same"), f"{v.num(v['y'])} + {shown(v['rows'] - 1)} · {v.num(v['dy'])}", v.len(y)
        ),
    )
    last = Output("last", say("X of the last column"), Quantity.LENGTH, x)
    return Outcome((last, *placed(places)), steps, (order_words(places),))


CALCULATION = Calculation(
    "hole-grid",
    say("Grid of holes"),
    GROUP,
    say("Hole positions in rows and columns, each calculated from the datum so that no rounding adds up."),
    (
        length("x", say("First hole, X"), 2000, low=-2000, default="0"),
        length("y", say("First hole, Y"), 2000, low=-2000, default="0"),
        count("columns", "Columns", 1, 30),
        count("rows", "Rows", 1, 30, default="1"),
        length("dx", say("Spacing along X"), 500),
        length("dy", say("Spacing along Y"), 500, default="10", default_inch="0.5"),
    ),
    _grid,
    (
        Slip(say("a spacing too many was counted"), lambda v: v.but(columns=v["columns"] + 1)),
        Slip(say("the first hole's place was forgotten"), lambda v: v.but(x=Fraction(0))),
        Slip(say("a spacing was forgotten"), lambda v: v.but(columns=max(v["columns"] - 1, Fraction(1)))),
    ),
    lambda v, _: draw_places(v, _grid_places(v), max(v["dx"] * v["columns"], v["dy"] * v["rows"]), None),
    order=300,
)
