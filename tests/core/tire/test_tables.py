"""Published tables against independent statements of the same thing."""

from fractions import Fraction
from itertools import pairwise

import pytest

from jentrik.core.tire.tables import (
    iso5775,
    load_at_speed,
    load_index,
    motorcycle_sizes,
    rim_width,
    speed_symbol,
)
from jentrik.core.tire.tables.motorcycle_sizes import LETTER_WIDTH_MM, bead_seat_of_rim_code


def test_rim_codes_are_whole_millimetres_of_inches() -> None:
    # The trade's list: 10 is 254 mm and so on, each code times 25.4, rounded.
    listed = {10: 254, 12: 305, 14: 356, 15: 381, 16: 406, 17: 432, 18: 457, 19: 483, 21: 533}
    for code, millimetres in listed.items():
        assert bead_seat_of_rim_code(code) == millimetres
    assert bead_seat_of_rim_code(16.5) == 419


def test_load_indices_rise_without_a_gap() -> None:
    assert list(load_index.LOAD_KG) == list(range(127))
    loads = list(load_index.LOAD_KG.values())
    assert all(lighter < heavier for lighter, heavier in pairwise(loads))


# ISO 3, series R80, one decade, from memory.
R80 = (
    "1 1.03 1.06 1.09 1.12 1.15 1.18 1.22 1.25 1.28 1.32 1.36 1.4 1.45 1.5 1.55 1.6 1.65 1.7 1.75 "
    "1.8 1.85 1.9 1.95 2 2.06 2.12 2.18 2.24 2.3 2.36 2.43 2.5 2.58 2.65 2.72 2.8 2.9 3 3.07 3.15 "
    "3.25 3.35 3.45 3.55 3.65 3.75 3.87 4 4.12 4.25 4.37 4.5 4.62 4.75 4.87 5 5.15 5.3 5.45 5.6 "
    "5.8 6 6.15 6.3 6.5 6.7 6.9 7.1 7.3 7.5 7.75 8 8.25 8.5 8.75 9 9.25 9.5 9.75"
)


PREFERRED = [float(number) for number in R80.split()]


def test_load_indices_are_preferred_numbers_but_for_the_four_published_exceptions() -> None:
    # Index 0 is 45 kg, the 53rd number of the decade; each number is near the 80th root of ten.
    assert len(PREFERRED) == 80
    exceptions = {}
    for index, kg in load_index.LOAD_KG.items():
        decade, place = divmod(52 + index, 80)
        preferred = PREFERRED[place] * 10 ** (decade + 1)
        assert kg == pytest.approx(10 ** (1 + (52 + index) / 80), rel=0.013)
        if kg != pytest.approx(preferred, abs=1e-6):
            exceptions[index] = kg
    assert exceptions == {35: 121, 61: 257, 115: 1215, 117: 1285}
    assert set(exceptions) == set(load_index.OFF_THE_SERIES)


def test_speed_symbols_rise_in_the_order_of_the_regulation() -> None:
    # H stands between U and V; the rest is the alphabet (UN R75, from memory).
    order = "BCDEFGJKLMNPQRSTUHVWY"
    assert "".join(speed_symbol.SPEED_KMH) == order
    speeds = list(speed_symbol.SPEED_KMH.values())
    assert speeds == sorted(speeds)
    assert speed_symbol.SPEED_KMH["V"] == speed_symbol.ZR_ABOVE_KMH


def test_the_load_falls_near_the_top_speed_of_fast_tires() -> None:
    # UN R75, from memory: V 100/95/90/85 % at 210/220/230/240, W 95/85/75 % at 250/260/270 km/h.
    rows = {"V": {210: 100, 220: 95, 230: 90, 240: 85}, "W": {240: 100, 250: 95, 260: 85, 270: 75}}
    for symbol, result in rows.items():
        for kmh, percent in result.items():
            assert load_at_speed.load_percent(symbol, kmh) == percent
    assert load_at_speed.load_percent("V", 130) == 100
    assert load_at_speed.load_percent("W", 255) == pytest.approx(90)
    for symbol, kmh in (("V", 241), ("W", 271), ("ZR", 200), ("H", 200), ("Y", 290)):
        assert load_at_speed.load_percent(symbol, kmh) is None


def test_letter_widths_rise_with_the_alphabet() -> None:
    widths = [LETTER_WIDTH_MM[f"M{letter}"] for letter in "HJMNPRTUV"]
    assert widths == sorted(widths)
    assert set(motorcycle_sizes.LOW_SECTION_WIDTHS) == {
        "3.10",
        "3.60",
        "4.10",
        "4.60",
        "5.10",
        "6.10",
    }


def test_bead_seats_are_sorted_and_single() -> None:
    assert list(iso5775.BEAD_SEATS_MM) == sorted(set(iso5775.BEAD_SEATS_MM))


def inches(spelled: str) -> float:
    return float(sum(Fraction(part) for part in spelled.split()))


@pytest.mark.parametrize(("diameter", "width"), iso5775.FRACTIONAL_INCH_MM)
def test_a_fractional_name_is_near_its_inches(diameter: str, width: str) -> None:
    # The old names give the outside of tire and rim, once; a narrower tire on the same rim kept
    # the name of the old size, so the outside may lie up to an inch and a half below it.
    for bead_seat in iso5775.FRACTIONAL_INCH_MM[diameter, width]:
        outside = bead_seat / 25.4 + 2 * inches(width)
        assert -1.6 <= outside - inches(diameter) <= 1.1


def test_decimal_and_fractional_inches_of_equal_value_are_different_rims() -> None:
    assert iso5775.DECIMAL_INCH_MM["26"] != iso5775.FRACTIONAL_INCH_MM["26", "1 3/4"][0]
    assert iso5775.DECIMAL_INCH_MM["20"] + 45 == iso5775.FRACTIONAL_INCH_MM["20", "1 3/8"][0]


def test_wider_rims_take_wider_tires() -> None:
    pairs = [
        rim_width.BICYCLE_TIRE_WIDTH_MM[rim] for rim in sorted(rim_width.BICYCLE_TIRE_WIDTH_MM)
    ]
    for (low, high), (next_low, next_high) in pairwise(pairs):
        assert low <= next_low
        assert high <= next_high


def test_no_table_claims_a_page_no_one_had_open() -> None:
    for table in (load_index, speed_symbol, motorcycle_sizes, iso5775, rim_width):
        assert str(table.SOURCE).endswith("(from memory)")
