"""How a requirement of the drawing is measured and judged: which readings it takes, and what they come to together."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.quantity import plain
from incudo.core.kernel.say import say
from incudo.core.measuring import gauged, several
from incudo.core.measuring.instrument import Measure
from incudo.core.measuring.tolerance import Form, Limits, Tolerance
from incudo.core.measuring.verdict import Combined, Measured, Metal, School, Verdict, agree, combine, judge
from incudo.core.parts.project import Characteristic, Method, Project

#: The only thing that is read of most requirements.
ONLY = ""
SIZE, GO, NO_GO, LOOK = "size", "go", "no_go", "look"


@dataclass(frozen=True)
class Element:
    """One thing that is read of a requirement.

    ``limits`` are those that one reading is held against or (``alone`` false) only shown against; without them it is
    answered yes or no, to the question ``words``. A ``signed`` one is a place under an indicator: it may read below
    the zero that was set at another.
    """

    key: str
    words: str
    measure: Measure
    limits: Limits | None = None
    alone: bool = True
    yes: str = ""
    no: str = ""
    signed: bool = False

    @property
    def is_asked(self) -> bool:
        """Whether it is answered yes or no."""
        return self.limits is None


@dataclass(frozen=True)
class Reading:
    """One reading of an element: a length or an angle, or a yes or no."""

    element: str
    measured: Measured | None = None
    answer: bool | None = None


def elements(project: Project, c: Characteristic) -> tuple[Element, ...]:
    """What is read of a requirement, in the order in which one would."""
    match c.method:
        case Method.SIZE | Method.ANGLE | Method.MOVEMENT:
            places = c.method is Method.MOVEMENT
            return (Element(ONLY, "", _measure(c), project.limits(c), alone=not places, signed=places),)
        case Method.POSITION:
            zone = project.limits(c).upper or Fraction(0)
            made = [
                Element(b.axis.value, b.words, Measure.SIZE, _around(project, b.nominal, zone), alone=False)
                for b in c.basics
            ]
            if c.bonus is not None:
                made.append(Element(SIZE, say("Diameter, for the bonus"), Measure.SIZE, _bonus(project, c)))
            return tuple(made)
        case Method.THREAD:
            yes, no = say("It enters"), say("It does not enter")
            return (
                Element(GO, say("Go end, turned in by hand"), Measure.THREAD, yes=yes, no=no),
                Element(NO_GO, say("No-go end, beyond the turns its paper allows"), Measure.THREAD, yes=yes, no=no),
            )
        case Method.FINISH:
            yes, no = say("As fine, or finer"), say("Rougher")
            return (Element(LOOK, say("Against the specimen, by eye and fingernail"), Measure.FINISH, yes=yes, no=no),)


def _measure(c: Characteristic) -> Measure:
    if c.method is Method.ANGLE:
        return Measure.ANGLE
    return Measure.DIFFERENCE if c.difference else Measure.SIZE


def element_of(project: Project, c: Characteristic, key: str) -> Element | None:
    """The element with this key, if the requirement has one."""
    return next((e for e in elements(project, c) if e.key == key), None)


def _around(project: Project, nominal: str, zone: Fraction) -> Limits:
    """Half a zone to either side of where an axis should be, to be looked at."""
    at = project.length(nominal)
    half = plain(zone / 2, project.unit)
    return Tolerance(Form.PLUS_MINUS, project.length(half.rstrip("…"))).limits(at, {})


def _bonus(project: Project, c: Characteristic) -> Limits:
    assert c.bonus is not None  # noqa: S101 (asked for where there is one)
    low, high = (project.length(text) for text in c.bonus)
    return Tolerance(Form.LIMITS, low, high).limits(low, {})


def found(project: Project, c: Characteristic, readings: Iterable[Reading], school: School) -> Combined:
    """The verdict over all readings of a requirement that decide (there may be none)."""
    given = list(readings)

    def of(key: str) -> list[Measured]:
        return [r.measured for r in given if r.element == key and r.measured is not None]

    def answers(key: str) -> list[bool]:
        return [r.answer for r in given if r.element == key and r.answer is not None]

    limits = project.limits(c)
    match c.method:
        case Method.SIZE | Method.ANGLE:
            return combine(of(ONLY), limits, c.metal, school, c.spots, c.readings)
        case Method.MOVEMENT:
            return several.movement(of(ONLY), limits, school, c.readings)
        case Method.POSITION:
            axes = {str(b.words): (project.length(b.nominal).mm, of(b.axis.value)) for b in c.basics}
            bonus = (_bonus(project, c), of(SIZE)) if c.bonus is not None else None
            return several.position(axes, limits, school, bonus)
        case Method.THREAD:
            return gauged.gauged(answers(GO), answers(NO_GO))
        case Method.FINISH:
            return gauged.compared(answers(LOOK))


def wants(c: Characteristic) -> tuple[str, ...]:
    """Which elements must be read of a requirement before it can be judged, a place of a movement each."""
    match c.method:
        case Method.SIZE | Method.ANGLE:
            return (ONLY,)
        case Method.MOVEMENT:
            return (ONLY,) * c.readings
        case Method.POSITION:
            return (*(b.axis.value for b in c.basics), *((SIZE,) if c.bonus else ()))
        case Method.THREAD:
            return GO, NO_GO
        case Method.FINISH:
            return (LOOK,)


def alone(project: Project, c: Characteristic, reading: Reading, school: School) -> Verdict:
    """What can be said of one reading by itself: nothing of one that only decides with others."""
    element = element_of(project, c, reading.element)
    if element is None or not element.alone:
        return Verdict.NOT_MEASURED
    if reading.measured is not None:
        assert element.limits is not None  # noqa: S101 (what is a number by itself has limits)
        metal = c.metal if element.key == ONLY else Metal.INSIDE
        return judge(reading.measured, element.limits, metal, school, element.limits.unit).verdict
    verdict = found(project, c, [reading], school).judgement.verdict
    # a wrong answer decides at once; a right one is no verdict on the whole, but good by itself
    return Verdict.IN if verdict is Verdict.NOT_MEASURED else verdict


def agreed(
    project: Project, c: Characteristic, mine: Sequence[Reading], theirs: Sequence[Reading], school: School
) -> bool | None:
    """Whether two people agree, each element within both uncertainties; ``None`` where one has not all of it.

    What is answered yes or no, and movements, agree as a whole.
    """
    both = [found(project, c, r, school) for r in (mine, theirs)]
    if c.method is Method.POSITION:
        return _agree_on_axes(project, c, mine, theirs, school)
    verdicts = {b.judgement.verdict for b in both}
    if Verdict.NOT_MEASURED in verdicts:
        return None
    # both are numbers or neither is: it hangs on the method
    sizes = [b.size for b in both if b.size]
    return agree(*sizes) if sizes else len(verdicts) == 1


def _agree_on_axes(
    project: Project, c: Characteristic, mine: Sequence[Reading], theirs: Sequence[Reading], school: School
) -> bool | None:
    whole = True
    for e in elements(project, c):
        if e.limits is None:
            continue
        means = []
        for readings in (mine, theirs):
            of = [r.measured for r in readings if r.element == e.key and r.measured is not None]
            means.append(combine(of, e.limits, Metal.NONE, school, c.spots, 1).size)
        one, two = means
        if not (one and two):
            whole = False
        elif not agree(one, two):
            return False
    return True if whole else None
