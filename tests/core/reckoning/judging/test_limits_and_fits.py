"""Limits from tolerances, title blocks, general classes and fits: against the standards' tables and formulas."""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.measuring import fits
from incudo.core.measuring.fits import deviations
from tests.core.reckoning.figures import INCH, result, slip, worked


def microns(size: float, letter: str, grade: int) -> tuple[float, float]:
    low, high = deviations(Fraction(str(size)), letter, grade)
    return float(low * 1000), float(high * 1000)


@pytest.mark.parametrize(
    ("size", "letter", "grade", "low", "high"),
    [
        (25, "H", 7, 0, 21),
        (3, "H", 7, 0, 10),
        (3.001, "H", 7, 0, 12),
        (25, "G", 7, 7, 28),
        (25, "F", 8, 20, 53),
        (25, "D", 10, 65, 149),
        (20, "JS", 7, -10.5, 10.5),
        (25, "K", 5, -8, 1),
        (25, "K", 6, -11, 2),
        (25, "K", 7, -15, 6),
        (25, "K", 8, -23, 10),
        (25, "M", 7, -21, 0),
        (25, "N", 7, -28, -7),
        (25, "N", 8, -36, -3),
        (25, "N", 9, -52, 0),
        (2, "N", 9, -29, -4),
        (2, "K", 7, -10, 0),
        (25, "P", 7, -35, -14),
        (25, "P", 8, -55, -22),
        (300, "M", 6, -41, -9),
        (100, "K", 7, -25, 10),
        (100, "P", 7, -59, -24),
        (20, "js", 6, -6.5, 6.5),
        (25, "h", 6, -13, 0),
        (25, "g", 6, -20, -7),
        (25, "f", 7, -41, -20),
        (25, "k", 6, 2, 15),
        (25, "k", 7, 2, 23),
        (25, "k", 8, 0, 33),
        (25, "m", 6, 8, 21),
        (25, "n", 6, 15, 28),
        (60, "p", 6, 32, 51),
        (60, "r", 6, 41, 60),
        (70, "r", 6, 43, 62),
        (25, "s", 6, 35, 48),
        (24, "u", 6, 41, 54),
        (24.1, "u", 6, 48, 61),
        (400, "u", 7, 435, 492),
    ],
)
def test_pairs_as_every_handbook_has_them(size: float, letter: str, grade: int, low: float, high: float) -> None:
    assert microns(size, letter, grade) == (low, high)


def test_js6_at_20_to_a_tenth_of_a_micron() -> None:
    found = worked("fit", size="20 mm", letter="js", grade="6")
    assert (result(found, "lower"), result(found, "upper")) == (19.9935, 20.0065)
    assert found.steps[1].result == "-6.5 to 6.5 µm"


@given(st.integers(1, 4000), st.sampled_from(fits.LETTERS), st.integers(5, 11))
def test_every_field_is_as_wide_as_its_grade(tenths: int, letter: str, grade: int) -> None:
    size = Fraction(tenths, 10)
    if letter == "K" and grade > 8:
        with pytest.raises(Refused, match="at most 8"):
            deviations(size, letter, grade)
        return
    low, high = deviations(size, letter, grade)
    widths = [w for top, w in zip(fits.SIZES, fits.GRADES[grade], strict=True) if size <= top]
    assert high - low == Fraction(widths[0], 1000)


@given(st.integers(31, 4000), st.sampled_from(("k", "m", "n", "p")), st.integers(6, 7))
def test_a_hole_of_one_grade_fits_as_a_shaft_of_the_finer_one(tenths: int, letter: str, grade: int) -> None:
    """H7/p6 and P7/h6 press alike: the rule that the delta is made for."""
    size = Fraction(tenths, 10)
    if letter == "m" and grade == 6 and 250 < size <= 315:
        return  # the standard's own exception
    shaft = deviations(size, letter, grade - 1)
    hole, basic_hole = deviations(size, letter.upper(), grade), deviations(size, "H", grade)
    basic_shaft = deviations(size, "h", grade - 1)
    assert shaft[1] - basic_hole[0] == basic_shaft[1] - hole[0]


@pytest.mark.parametrize("letter", sorted(fits.PRESS))
def test_pressing_shafts_follow_the_standards_formulas(letter: str) -> None:
    """Above 50 mm: s is IT7 + 0.4 D, u is IT7 + D, r the geometric mean of p and s; D the mean of its fine range."""
    for n, top in enumerate(fits.FINE_SIZES):
        if top <= 50:
            continue
        middle = math.sqrt(fits.FINE_SIZES[n - 1] * top)
        row = next(i for i, size in enumerate(fits.SIZES) if top <= size)
        it7, p = fits.GRADES[7][row], fits.ABOVE["p"][row]
        s = it7 + 0.4 * middle
        wanted = {"s": s, "u": it7 + middle, "r": math.sqrt(p * s)}[letter]
        assert fits.PRESS[letter][n] == pytest.approx(wanted, rel=0.03, abs=1.5), top


def test_pressing_shafts_rise_with_the_size_and_from_letter_to_letter() -> None:
    for row in fits.PRESS.values():
        assert list(row) == sorted(row)
    for n, top in enumerate(fits.FINE_SIZES):
        p = fits.ABOVE["p"][next(i for i, size in enumerate(fits.SIZES) if top <= size)]
        assert p < fits.PRESS["r"][n] < fits.PRESS["s"][n] < fits.PRESS["u"][n]


@pytest.mark.parametrize(
    ("size", "letter", "grade", "field"),
    [
        (0, "H", 7, "size"),
        (400.1, "H", 7, "size"),
        (10, "Z", 7, "letter"),
        (10, "H", 4, "grade"),
        (10, "H", 12, "grade"),
    ],
)
def test_outside_of_the_tables(size: float, letter: str, grade: int, field: str) -> None:
    with pytest.raises(Refused) as caught:
        deviations(Fraction(str(size)), letter, grade)
    assert caught.value.errors[0].field == field


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (24.980, ""),
        (24.984, "the next finer grade was taken"),
        (24.972, "the next coarser grade was taken"),
        (25.007, "hole and shaft were mixed up"),
        (24.993, "the other limit was given"),
        (24.8, "microns were read as hundredths"),
    ],
)
def test_slips_of_a_fit(answer: float, words: str) -> None:
    assert slip("fit", answer, 1e-4, size="25 mm", letter="g", grade="6") == words


@pytest.mark.parametrize(
    ("given", "limits"),
    [
        ({"nominal": "25", "upper": "0.1", "lower": "-0.05"}, (24.95, 25.1)),
        ({"nominal": "25", "upper": "-0.02", "lower": "-0.05"}, (24.95, 24.98)),
        ({"nominal": "1.000 in", "upper": "0.002 in", "lower": "0 in"}, (25.4, 25.4508)),
    ],
)
def test_nominal_and_deviations(given: dict[str, str], limits: tuple[float, float]) -> None:
    found = worked("limits", **given)
    assert (result(found, "lower"), result(found, "upper")) == pytest.approx(limits)
    assert result(found, "aim") == pytest.approx(sum(limits) / 2)
    assert result(found, "width") == pytest.approx(limits[1] - limits[0])


def test_limits_must_leave_a_width() -> None:
    with pytest.raises(Refused, match=r"lower.*must lie below the upper one"):
        worked("limits", nominal="25", upper="0.1", lower="0.1")


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (25.05, "the sign of the lower deviation was lost"),
        (24.9, "the upper deviation was taken for the lower"),
        (24.975, "the tolerance was halved"),
        (25.1, "the other limit was given"),
        (24.95, ""),
    ],
)
def test_slips_of_limits(answer: float, words: str) -> None:
    assert slip("limits", answer, nominal="25", upper="0.1", lower="-0.05") == words


BLOCK = {"places1": "0.030 in", "places2": "0.010 in", "places3": "0.005 in", "places4": "0.0005 in"}


@pytest.mark.parametrize(("places", "plus_minus"), [("1", 0.03), ("2", 0.01), ("3", 0.005), ("4", 0.0005)])
def test_the_title_block_goes_by_the_places_as_written(places: str, plus_minus: float) -> None:
    found = worked("title-block", nominal="2.5 in", places=places, **BLOCK)
    assert result(found, "lower") / INCH == pytest.approx(2.5 - plus_minus)
    assert result(found, "upper") / INCH == pytest.approx(2.5 + plus_minus)


def test_a_title_block_that_says_nothing_for_so_many_places() -> None:
    with pytest.raises(Refused, match=r"places1.*says nothing for so many places"):
        worked("title-block", nominal="2.5 in", places="1", places2="0.010 in")
    with pytest.raises(Refused, match=r"places2.*must be more than 0"):
        worked("title-block", nominal="2.5 in", places="2", places2="0 in")


@pytest.mark.parametrize(
    ("places", "answer", "words"),
    [
        ("2", 2.47, "a decimal place was dropped"),
        ("3", 2.4975, "the tolerance was halved"),
        ("3", 2.4995, "a decimal place was added"),
        ("2", 2.51, "the other limit was given"),
        ("1", 2.49, "a decimal place was added"),
        ("4", 2.495, "a decimal place was dropped"),
        ("2", 2.49, ""),
    ],
)
def test_slips_of_the_title_block(places: str, answer: float, words: str) -> None:
    assert slip("title-block", answer * INCH, 1e-4, nominal="2.5 in", places=places, **BLOCK) == words


@pytest.mark.parametrize(
    ("nominal", "name", "plus_minus"),
    [
        ("0.5", "fine", 0.05),
        ("6", "fine", 0.05),
        ("6.01", "fine", 0.1),
        ("30", "medium", 0.2),
        ("30.1", "medium", 0.3),
        ("120", "medium", 0.3),
        ("400", "medium", 0.5),
        ("400.1", "coarse", 2),
        ("3.1", "very coarse", 0.5),
        ("2000", "very coarse", 6),
    ],
)
def test_general_classes_by_size(nominal: str, name: str, plus_minus: float) -> None:
    found = worked("general-class", nominal=nominal, **{"class": name})
    assert result(found, "upper") - float(nominal) == pytest.approx(plus_minus)
    assert float(nominal) - result(found, "lower") == pytest.approx(plus_minus)


def test_the_coarsest_class_has_none_for_the_smallest_sizes() -> None:
    with pytest.raises(Refused, match="it is given on the drawing"):
        worked("general-class", nominal="3", **{"class": "very coarse"})
    with pytest.raises(Refused, match="nominal"):
        worked("general-class", nominal="0.49")


def test_slips_of_a_class() -> None:
    assert slip("general-class", 99.85, nominal="100") == "the next finer class was taken"
    assert slip("general-class", 99.2, nominal="100") == "the next coarser class was taken"
    assert slip("general-class", 100.3, nominal="100") == "the other limit was given"
    assert slip("general-class", 99.7, nominal="100") == ""


#: Shafts as the tables have them, in microns above the nominal, by a size of each range.
TABLED = {
    ("g", 6): {2: (-8, -2), 5: (-12, -4), 8: (-14, -5), 15: (-17, -6), 40: (-25, -9), 60: (-29, -10), 100: (-34, -12),
               150: (-39, -14), 200: (-44, -15), 300: (-49, -17), 350: (-54, -18)},
    ("f", 7): {2: (-16, -6), 5: (-22, -10), 8: (-28, -13), 15: (-34, -16), 40: (-50, -25), 60: (-60, -30),
               100: (-71, -36), 150: (-83, -43), 200: (-96, -50), 300: (-108, -56), 350: (-119, -62)},
    ("e", 8): {2: (-28, -14), 5: (-38, -20), 8: (-47, -25), 15: (-59, -32), 40: (-89, -50), 100: (-126, -72)},
    ("d", 9): {2: (-45, -20), 5: (-60, -30), 8: (-76, -40), 15: (-93, -50), 40: (-142, -80), 100: (-207, -120)},
    ("k", 6): {2: (0, 6), 5: (1, 9), 8: (1, 10), 15: (1, 12), 40: (2, 18), 60: (2, 21), 100: (3, 25), 150: (3, 28)},
    ("m", 6): {2: (2, 8), 5: (4, 12), 8: (6, 15), 15: (7, 18), 40: (9, 25), 60: (11, 30), 100: (13, 35)},
    ("n", 6): {2: (4, 10), 5: (8, 16), 8: (10, 19), 15: (12, 23), 40: (17, 33), 60: (20, 39), 100: (23, 45)},
    ("p", 6): {2: (6, 12), 5: (12, 20), 8: (15, 24), 15: (18, 29), 40: (26, 42), 60: (32, 51), 100: (37, 59)},
    ("r", 6): {2: (10, 16), 5: (15, 23), 8: (19, 28), 15: (23, 34), 40: (34, 50), 60: (41, 60), 70: (43, 62),
               90: (51, 73), 110: (54, 76), 130: (63, 88), 150: (65, 90), 170: (68, 93), 190: (77, 106),
               210: (80, 109), 240: (84, 113)},
    ("s", 6): {2: (14, 20), 5: (19, 27), 8: (23, 32), 15: (28, 39), 40: (43, 59), 60: (53, 72), 70: (59, 78),
               90: (71, 93), 110: (79, 101), 130: (92, 117), 150: (100, 125), 170: (108, 133), 190: (122, 151),
               210: (130, 159), 240: (140, 169), 260: (158, 190), 300: (170, 202), 340: (190, 226), 380: (208, 244)},
    ("u", 6): {2: (18, 24), 5: (23, 31), 8: (28, 37), 15: (33, 44), 20: (41, 54), 28: (48, 61), 35: (60, 76),
               45: (70, 86), 60: (87, 106), 70: (102, 121), 90: (124, 146), 110: (144, 166)},
}  # fmt: skip


@pytest.mark.parametrize(("letter", "grade"), list(TABLED))
def test_shafts_as_the_tables_have_them(letter: str, grade: int) -> None:
    found = {size: microns(size, letter, grade) for size in TABLED[letter, grade]}
    assert found == TABLED[letter, grade]


#: The standard's own formulas: the deviation in microns over the geometric mean of a range in mm.
FORMULAS = {
    "d": lambda d: 16 * d**0.44,
    "e": lambda d: 11 * d**0.41,
    "f": lambda d: 5.5 * d**0.41,
    "g": lambda d: 2.5 * d**0.34,
    "n": lambda d: 5 * d**0.34,
}


@pytest.mark.parametrize("letter", FORMULAS)
@pytest.mark.parametrize("row", range(1, len(fits.SIZES)))
def test_every_deviation_is_what_its_formula_rounds_to(letter: str, row: int) -> None:
    """The tables round to whole microns below 45, to fives or tens above; no value lies further off than that."""
    low, high = fits.SIZES[row - 1], fits.SIZES[row]
    exact = FORMULAS[letter](math.sqrt(low * high))
    table = fits.BELOW if letter in fits.BELOW else fits.ABOVE
    assert abs(table[letter][row] - exact) <= (0.9 if exact < 45 else 3.0), exact


@pytest.mark.parametrize("row", range(2, len(fits.SIZES)))
def test_a_shaft_m_is_the_step_from_grade_6_to_grade_7(row: int) -> None:
    assert fits.ABOVE["m"][row] == fits.GRADES[7][row] - fits.GRADES[6][row]


@pytest.mark.parametrize("row", range(len(fits.SIZES)))
def test_every_grade_is_wider_than_the_one_before_by_a_step_of_the_series(row: int) -> None:
    widths = [fits.GRADES[g][row] for g in sorted(fits.GRADES)]
    assert all(1.2 <= b / a <= 1.9 for a, b in pairwise(widths)), widths
    assert fits.GRADES[11][row] == pytest.approx(10 * fits.GRADES[6][row], rel=0.07)


@pytest.mark.parametrize("n", range(len(fits.SIZES) - 1))
def test_a_size_on_an_end_belongs_to_the_lower_range(n: int) -> None:
    ends = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400)
    widths = (10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57)
    assert microns(ends[n], "H", 7)[1] == widths[n]
    assert microns(ends[n] + 0.001, "H", 7)[1] == widths[n + 1]
