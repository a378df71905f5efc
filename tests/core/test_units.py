"""Conversions against their definitions, and figures as people type them."""

from typing import Any

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.errors import OutOfRange
from jentrik.core.units import KG_PER_POUND, KMH_PER_MPH, inches_to_mm, read_figure
from jentrik.core.work.cost import money


def test_the_definitions() -> None:
    # International inch, mile and avoirdupois pound, exact since 1959.
    assert inches_to_mm(10) == 254
    assert KMH_PER_MPH == 1.609344
    assert KG_PER_POUND == 0.45359237


@pytest.mark.parametrize(
    ("typed", "figure"),
    [
        ("1046", 1046),
        (" 1046 mm ", 1046),
        ("1046mm", 1046),
        ("71,5", 71.5),
        ("71.5", 71.5),
        ("1 046", 1046),
        ("1\u2009046,5", 1046.5),
        ("-4", -4),
        ("\u22124", -4),
        ("+4", 4),
        (".5", 0.5),
        ("0", 0),
    ],
)
def test_a_figure_as_typed(typed: str, figure: float) -> None:
    assert read_figure(typed, unit="mm") == figure


@pytest.mark.parametrize(
    "typed",
    [
        "",
        " ",
        "abc",
        "1e400",
        "1e3",
        "NaN",
        "inf",
        "0x10",
        "1_000",
        "12..5",
        "1,2,3",
        "１２",
        "--4",
        "12 mm mm",
        "12 ft",
        "1 04",
        "10 0000",
        "9" * 9,
        "4 -",
        "½",
    ],
)
def test_what_is_no_figure_is_refused_and_says_what_is_wanted(typed: str) -> None:
    with pytest.raises(OutOfRange, match="mm") as refused:
        read_figure(typed, unit="mm")
    assert refused.value.expected == "a number in mm"


@pytest.mark.parametrize(
    ("typed", "mm"),
    [
        ("10 in", 254.0),
        ("16 1/4 in", 412.75),
        ('1/2"', 12.7),
        ("41,5 cm", 415.0),
        ("1.05 m", 1050.0),
        ("2 inches", 50.8),
    ],
)
def test_a_length_comes_in_any_unit(typed: str, mm: float) -> None:
    assert read_figure(typed, unit="mm") == pytest.approx(mm)


@pytest.mark.parametrize("typed", ["in", "cm", "1/0 in", "3 /4", "1 m 5"])
def test_half_a_length_is_refused(typed: str) -> None:
    with pytest.raises(OutOfRange):
        read_figure(typed, unit="mm")


def test_a_figure_without_a_unit_asks_for_none() -> None:
    with pytest.raises(OutOfRange) as refused:
        read_figure("x")
    assert refused.value.expected == "a number"


@given(st.floats(-99999, 99999).map(lambda value: round(value, 3)))
def test_what_is_written_plainly_reads_back(value: float) -> None:
    text = f"{value:.4f}"
    assert read_figure(text) == pytest.approx(value)
    assert read_figure(text.replace(".", ",").replace("-", "\u2212")) == pytest.approx(value)


@pytest.mark.parametrize("typed", ["1,234", "12,400", "999,000 km"])
def test_one_or_a_thousand_is_asked_about(typed: str) -> None:
    with pytest.raises(OutOfRange, match=f"“{typed.removesuffix(' km')}” can be"):
        read_figure(typed, unit="km")
    with pytest.raises(OutOfRange):
        money(typed)


@pytest.mark.parametrize(
    ("typed", "kpa"),
    [
        ("220", 220),
        ("220 kPa", 220),
        ("2.2", 220),
        ("2,2 bar", 220),
        ("32 psi", 220.63),
        ("9.9", 990),
    ],
)
def test_a_pressure_comes_in_kpa_bar_or_psi(typed: str, kpa: float) -> None:
    # A pound on a square inch is 6.894757 kPa; no tire runs at 9.9 kPa, so that is bar.
    assert read_figure(typed, unit="kPa") == pytest.approx(kpa, abs=0.01)


@pytest.mark.parametrize(
    ("typed", "kmh"),
    [("60 mph", 96.5606), ("60mph", 96.5606), ("95", 95), ("15,5 MPH", 24.9448), ("25 km/h", 25)],
)
def test_a_speed_comes_in_kmh_or_mph(typed: str, kmh: float) -> None:
    # An international mile is 1.609344 km.
    assert read_figure(typed, unit="km/h") == pytest.approx(kmh, abs=1e-4)


@pytest.mark.parametrize(
    ("typed", "unit", "as_pint"),
    [
        ("41.5 in", "mm", "41.5 inch"),
        ("4 cm", "mm", "4 cm"),
        ("36 psi", "kPa", "36 psi"),
        ("2.4 bar", "kPa", "2.4 bar"),
        ("62 mph", "km/h", "62 mile / hour"),
        ("1200 mi", "km", "1200 mile"),
        ("12 000 mi", "km", "12000 mile"),
        ("−5 lb", "kg", "-5 lb"),
        ("180 lb", "kg", "180 lb"),
        ("47 lbf·ft", "N·m", "47 force_pound * foot"),
        ("47 ft-lb", "N·m", "47 force_pound * foot"),
        ("64 Nm", "N·m", "64 newton * meter"),
    ],
)
def test_a_figure_in_another_unit_is_what_pint_makes_of_it(
    typed: str, unit: str, as_pint: str
) -> None:
    units: Any = pint.UnitRegistry()
    expected: Any = units.Quantity(as_pint).to(
        unit.replace("·", "*").replace("N*m", "newton*meter")
    )
    assert read_figure(typed, unit=unit) == pytest.approx(expected.magnitude, abs=0.006)


@pytest.mark.parametrize(("typed", "unit"), [("180 lb", "N·m"), ("5 ft ft", "N·m"), ("3 mi", "kg")])
def test_a_unit_of_something_else_is_refused(typed: str, unit: str) -> None:
    with pytest.raises(OutOfRange):
        read_figure(typed, unit=unit)
