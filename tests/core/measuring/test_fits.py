"""The tables of limits and fits, entered a second time the other way round: range of size by range of size.

A change of one micron in one place goes to somebody's hands; the formulas behind the tables are rounded and do not
tell it (tests/core/reckoning/judging holds them against those).
"""

from __future__ import annotations

from fractions import Fraction

import pytest

from incudo.core.measuring.fits import FINE_SIZES, GENERAL_SIZES, SIZES, deviations, general

#: Upper end in mm; widths of grades 5 to 11; d, e, f, g below the nominal; k, m, n, p above it. Microns.
RANGES = """
  3 |  4  6 10 14  25  40  60 |  20  14  6  2 | 0  2  4  6
  6 |  5  8 12 18  30  48  75 |  30  20 10  4 | 1  4  8 12
 10 |  6  9 15 22  36  58  90 |  40  25 13  5 | 1  6 10 15
 18 |  8 11 18 27  43  70 110 |  50  32 16  6 | 1  7 12 18
 30 |  9 13 21 33  52  84 130 |  65  40 20  7 | 2  8 15 22
 50 | 11 16 25 39  62 100 160 |  80  50 25  9 | 2  9 17 26
 80 | 13 19 30 46  74 120 190 | 100  60 30 10 | 2 11 20 32
120 | 15 22 35 54  87 140 220 | 120  72 36 12 | 3 13 23 37
180 | 18 25 40 63 100 160 250 | 145  85 43 14 | 3 15 27 43
250 | 20 29 46 72 115 185 290 | 170 100 50 15 | 4 17 31 50
315 | 23 32 52 81 130 210 320 | 190 110 56 17 | 4 20 34 56
400 | 25 36 57 89 140 230 360 | 210 125 62 18 | 4 21 37 62
"""
#: Upper end in mm; r, s, u. Microns.
FINE = """
3 10 14 18/6 15 19 23/10 19 23 28/18 23 28 33/24 28 35 41/30 28 35 48/40 34 43 60/50 34 43 70/65 41 53 87/80 43 59 102
100 51 71 124/120 54 79 144/140 63 92 170/160 65 100 190/180 68 108 210/200 77 122 236/225 80 130 258/250 84 140 284
280 94 158 315/315 98 170 350/355 108 190 390/400 114 208 435
"""
#: Upper end in mm; fine, medium, coarse, very coarse, in mm.
CLASSES = """
3 0.05 0.1 0.2 -/6 0.05 0.1 0.3 0.5/30 0.1 0.2 0.5 1/120 0.15 0.3 0.8 1.5/400 0.2 0.5 1.2 2.5/1000 0.3 0.8 2 4
2000 0.5 1.2 3 6
"""


def _rows(text: str) -> list[list[str]]:
    return [line.replace("|", " ").split() for line in text.replace("/", "\n").split("\n") if line.strip()]


def _both_ends(ends: list[int], n: int) -> tuple[Fraction, Fraction]:
    """Just above the range below, and the upper end of this one."""
    return (Fraction(ends[n - 1]) if n else Fraction(1, 2)) + Fraction(1, 1000), Fraction(ends[n])


def _microns(size: Fraction, letter: str, grade: int) -> tuple[Fraction, Fraction]:
    low, high = deviations(size, letter, grade)
    return low * 1000, high * 1000


WHOLE = [[int(x) for x in row] for row in _rows(RANGES)]


@pytest.mark.parametrize("n", range(len(WHOLE)))
def test_grades_and_deviations_of_a_range(n: int) -> None:
    end, *widths = WHOLE[n][:8]
    below, above = dict(zip("defg", WHOLE[n][8:12], strict=True)), dict(zip("kmnp", WHOLE[n][12:], strict=True))
    assert SIZES[n] == end
    for size in _both_ends([row[0] for row in WHOLE], n):
        for grade, width in enumerate(widths, 5):
            assert _microns(size, "h", grade) == (-width, 0)
            assert _microns(size, "H", grade) == (0, width)
            for letter, off in below.items():
                assert _microns(size, letter, grade) == (-off - width, -off)
                assert _microns(size, letter.upper(), grade) == (off, off + width)
            for letter, off in above.items():
                near = 0 if letter == "k" and grade > 7 else off
                assert _microns(size, letter, grade) == (near, near + width)


FINER = [[int(x) for x in row] for row in _rows(FINE)]


@pytest.mark.parametrize("n", range(len(FINER)))
def test_shafts_that_press(n: int) -> None:
    end, *press = FINER[n]
    assert FINE_SIZES[n] == end
    width = next(row[3] for row in WHOLE if row[0] >= end)  # of grade 7
    for size in _both_ends([row[0] for row in FINER], n):
        for letter, near in zip("rsu", press, strict=True):
            assert _microns(size, letter, 7) == (near, near + width)


def test_the_general_classes() -> None:
    rows = _rows(CLASSES)
    ends = [int(row[0]) for row in rows]
    assert list(GENERAL_SIZES) == ends
    for n, (_, *widths) in enumerate(rows):
        for size in _both_ends(ends, n):
            for name, width in zip(("fine", "medium", "coarse", "very coarse"), widths, strict=True):
                if width != "-":
                    assert general(size, name) == Fraction(width)


def test_holes_of_grade_5_that_hold_a_shaft() -> None:
    """K5: the shaft's deviation turned round, and what grade 5 is wider than grade 4 on top. Microns."""
    uppers = (0, 0, 1, 2, 1, 2, 3, 2, 3, 2, 3, 3)
    for row, upper in zip(WHOLE, uppers, strict=True):
        assert _microns(Fraction(row[0]), "K", 5) == (upper - row[1], upper)
