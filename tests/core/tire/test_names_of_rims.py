"""Marks as they stand on tires, and the rim each one names: the names as they are in use.

Sources: ISO 5775-1 for the bicycle names, UN Regulation 75 for rim codes, from memory.
"""

import pytest

from jentrik.core.tire.sidewall import read_sidewall

RIMS = {
    "140/70 R 18 M/C 67V TL": 457,
    "3.50-18 56P": 457,
    "4.00 H 18": 457,
    "MT90B16": 406,
    "4.00-18": 457,
    "100/100-18": 457,
    "47-622": 622,
    "29 x 2.1": 622,
    "28 x 2.0": 622,
    "27.5 x 2.4": 584,
    "26 x 1.5": 559,
    "26 x 2.1": 559,
    "24 x 1.75": 507,
    "24x2.1": 507,
    "20 x 1.5": 406,
    "20x2.0": 406,
    "18 x 1.75": 355,
    "16 x 1.75": 305,
    "16 x 2": 305,
    "14 x 1.75": 254,
    "12½ x 2¼": 203,
    "12 1/2 x 2 1/4": 203,
    "32 x 2.0": 686,
    "36 x 2.25": 787,
    "28 x 1 1/2": 635,
    "28 x 1 3/8": 642,
    "28 x 1 5/8 x 1 3/8": 622,
    "28 x 1 3/8 x 1 5/8": 622,
    "27 x 1 1/4": 630,
    "27 x 1 1/8": 630,
    "27 x 1": 630,
    "26 x 1 3/8": 590,
    "26 x 1 1/4": 597,
    "26 x 1 1/2": 584,
    "26 x 1 3/4": 571,
    "26 x 1": 571,
    "24 x 1 3/8": 540,
    "24 x 1 1/4": 547,
    "24 x 1": 520,
    "22 x 1 3/8": 501,
    "22 x 1.75": 457,
    "20 x 1 3/8": 451,
    "20 x 1 3/4": 419,
    "20 x 1 1/8": 451,
    "20 x 1 1/4": 451,
    "18 x 1 3/8": 400,
    "17 x 1 1/4": 369,
    "16 x 1 3/8": 349,
    "16 x 1 1/4": 349,
    "14 x 1 3/8": 298,
    "700A": 642,
    "700B": 635,
    "700C": 622,
    "700D": 587,
    "650A": 590,
    "650B": 584,
    "650C": 571,
    "600A": 541,
    "550A": 490,
    "500A": 440,
    "450A": 390,
    "400A": 340,
    "350A": 288,
    "P205/55R16 91V": 406,
    "LT235/75R15": 381,
    "ST205/75D14": 356,
    "T125/70D15": 381,
    "195R14C": 356,
    "225/70R15C": 381,
    "225/70R15 CP": 381,
    "205R16LT": 406,
    "175/65 R 14 XL": 356,
    "120/90-18 65M Reinf M+S NHS": 457,
    "150/70 R 18 M/C 70Q M+S": 457,
    "3.00-10 42J": 254,
    "100/80-10 53J": 254,
    "90/90-21 M/C 54H TT": 533,
    "4.60-18": 457,
    "MU85B16": 406,
    "130/90 HB 16": 406,
    "150/70-17 (69H)": 432,
}

SEVERAL = {
    "26 x 1 3/8": {597},
    "26 x 1 1/4": {599},
    "24 x 1 3/8": {547},
    "22 x 1 3/8": {489, 498},
    "20 x 1 3/8": {438, 440},
    "20 x 1 1/4": {438},
    "18 x 1 3/8": {390, 387},
    "16 x 1 3/8": {340, 337, 335},
    "14 x 1 3/8": {288},
    "24 x 1": {540},
    "700x38": {642, 635, 587},
}


@pytest.mark.parametrize("mark", RIMS)
def test_a_mark_names_its_rim(mark: str) -> None:
    assert read_sidewall(mark).reading.bead_seat_diameter_mm == RIMS[mark]


@pytest.mark.parametrize("mark", [*RIMS, *SEVERAL])
def test_a_name_of_several_rims_always_shows_the_others(mark: str) -> None:
    others = {other.bead_seat_diameter_mm for other in read_sidewall(mark).reading.alternatives}
    assert others == SEVERAL.get(mark, set())


def test_two_wheels_of_one_name_can_differ_by_45_mm() -> None:
    # Common practice, a trap worth a loud warning: 16-inch and 20-inch wheels.
    for decimal, fractional, apart in (
        ("16 x 1.75", "16 x 1 3/8", 44),
        ("20 x 1.75", "20 x 1 3/8", 45),
    ):
        rims = [read_sidewall(mark).reading.bead_seat_diameter_mm for mark in (decimal, fractional)]
        assert rims[1] - rims[0] == apart
