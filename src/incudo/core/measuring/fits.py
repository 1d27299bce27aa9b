"""Standard tables of limits: tolerance grades, deviations of holes and shafts, general classes for linear sizes.

The values are those of the international standards for limits and fits and for general tolerances, in microns
(grades, deviations) and in mm (general classes); the checks hold them against the standards' own formulas.
"""

from __future__ import annotations

from bisect import bisect_left
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together

#: Upper ends of the ranges of size, in mm; a size on an end belongs to the lower range.
SIZES = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400)
#: Width of each grade, in microns, by range.
GRADES: dict[int, tuple[int, ...]] = {
    5: (4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25),
    6: (6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36),
    7: (10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57),
    8: (14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89),
    9: (25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140),
    10: (40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230),
    11: (60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360),
}
#: The shaft's deviation nearest to the nominal, in microns: below it for d to g (a hole's lies as far above).
BELOW: dict[str, tuple[int, ...]] = {
    "d": (20, 30, 40, 50, 65, 80, 100, 120, 145, 170, 190, 210),
    "e": (14, 20, 25, 32, 40, 50, 60, 72, 85, 100, 110, 125),
    "f": (6, 10, 13, 16, 20, 25, 30, 36, 43, 50, 56, 62),
    "g": (2, 4, 5, 6, 7, 9, 10, 12, 14, 15, 17, 18),
    "h": (0,) * 12,
}
#: Above it for shafts that press; k is 0 from grade 8 on.
ABOVE: dict[str, tuple[int, ...]] = {
    "k": (0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4),
    "m": (2, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21),
    "n": (4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37),
    "p": (6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62),
}
#: The finer ranges in which shafts that press hard are tabled, and their deviations, in microns.
FINE_SIZES = (3, 6, 10, 18, 24, 30, 40, 50, 65, 80, 100, 120, 140, 160, 180, 200, 225, 250, 280, 315, 355, 400)
PRESS: dict[str, tuple[int, ...]] = {
    "r": (10, 15, 19, 23, 28, 28, 34, 34, 41, 43, 51, 54, 63, 65, 68, 77, 80, 84, 94, 98, 108, 114),
    "s": (14, 19, 23, 28, 35, 35, 43, 43, 53, 59, 71, 79, 92, 100, 108, 122, 130, 140, 158, 170, 190, 208),
    "u": (18, 23, 28, 33, 41, 48, 60, 70, 87, 102, 124, 144, 170, 190, 210, 236, 258, 284, 315, 350, 390, 435),
}
#: Grade 4, in microns: what the deviations of holes of grade 5 are worked out with.
_GRADE_4 = (3, 4, 4, 5, 6, 7, 8, 10, 12, 14, 16, 18)
HOLES = ("H", "D", "E", "F", "G", "JS", "K", "M", "N", "P")
SHAFTS = ("h", "d", "e", "f", "g", "js", "k", "m", "n", "p", "r", "s", "u")
LETTERS = (*HOLES, *SHAFTS)

GENERAL_SIZES = (3, 6, 30, 120, 400, 1000, 2000)
#: ± in mm, by range; the coarsest class has none for the smallest sizes.
GENERAL: dict[str, tuple[str, ...]] = {
    "fine": ("0.05", "0.05", "0.1", "0.15", "0.2", "0.3", "0.5"),
    "medium": ("0.1", "0.1", "0.2", "0.3", "0.5", "0.8", "1.2"),
    "coarse": ("0.2", "0.3", "0.5", "0.8", "1.2", "2", "3"),
    "very coarse": ("", "0.5", "1", "1.5", "2.5", "4", "6"),
}


def deviations(size: Fraction, letter: str, grade: int) -> tuple[Fraction, Fraction]:
    """Lower and upper deviation in mm. Raises ``Refused`` outside of the tables."""
    if not 0 < size <= SIZES[-1]:
        raise Refused.of("size", str(float(size)), say("must be more than 0 and at most {sizes} mm", sizes=SIZES[-1]))
    if grade not in GRADES:
        raise Refused.of("grade", str(grade), say("must be one of: {listed}", listed=together(map(str, GRADES), ", ")))
    if letter not in LETTERS:
        raise Refused.of("letter", letter, say("must be one of: {listed}", listed=together(LETTERS, ", ")))
    row = bisect_left(SIZES, size)
    width = Fraction(GRADES[grade][row], 1000)
    if letter in ("JS", "js"):
        return -width / 2, width / 2
    small = letter.lower()
    if letter in PRESS:
        near = Fraction(PRESS[letter][bisect_left(FINE_SIZES, size)], 1000)
        return near, near + width
    if letter in ("K", "M", "N", "P"):
        upper = Fraction(_upper_of_hole(letter, grade, row), 1000)
        return upper - width, upper
    if small in ABOVE:
        near = Fraction(0 if small == "k" and grade > 7 else ABOVE[small][row], 1000)
        return near, near + width
    near = Fraction(BELOW[small][row], 1000)
    return (near, near + width) if letter.isupper() else (-near - width, -near)


def _upper_of_hole(letter: str, grade: int, row: int) -> int:
    """The upper deviation of a hole K, M, N or P, in microns: the shaft's turned round, and a delta on top.

    The delta is the grade less the next finer one: it lets a hole of one grade fit like a shaft of the finer one.
    Up to 3 mm there is none. Raises ``Refused`` for K above grade 8, which no table has.
    """
    shaft = ABOVE[letter.lower()][row]
    finer = GRADES[grade - 1][row] if grade > min(GRADES) else _GRADE_4[row]
    delta = GRADES[grade][row] - finer if row else 0
    if letter == "P":
        return -shaft + (delta if grade <= 7 else 0)
    if grade > 8:
        if letter == "K":
            raise Refused.of("grade", str(grade), say("must be at most 8 for a hole K"))
        return (0 if row else -shaft) if letter == "N" else -shaft
    # the standard's one exception: M6 from 250 to 315 mm
    return -9 if (letter, grade, row) == ("M", 6, 10) else -shaft + delta


def general(size: Fraction, name: str) -> Fraction:
    """The ± of a general class, in mm. Raises ``Refused`` where the class has none for the size."""
    if not Fraction(1, 2) <= size <= GENERAL_SIZES[-1]:
        raise Refused.of(
            "nominal",
            str(float(size)),
            say("must be at least 0.5 and at most {general_sizes} mm", general_sizes=GENERAL_SIZES[-1]),
        )
    found = GENERAL[name][bisect_left(GENERAL_SIZES, size)]
    if not found:
        raise Refused.of("class", name, say("has no tolerance for sizes up to 3 mm: it is given on the drawing"))
    return Fraction(found)


def next_class(name: str, by: int) -> str:
    """A finer (-1) or coarser (1) class. Raises ``ValueError`` at the end of the table."""
    names = tuple(GENERAL)
    at = names.index(name) + by
    if not 0 <= at < len(names):
        raise ValueError(say("no such class"))
    return names[at]
