"""Figures as a person sees and types them, against pint's own conversions."""

import re
from typing import Any

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.amounts import (
    bar,
    bare,
    difference,
    in_plain,
    in_words,
    kg,
    km,
    kmh,
    mm,
    published,
    rounded,
    torque,
    unit_alone,
)
from jentrik.core.errors import OutOfRange
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import CHOICES, METRIC, DisplayUnits

UNITS: Any = pint.UnitRegistry()
PINT = {
    "mm": "mm",
    "in": "inch",
    "km/h": "km/hour",
    "mph": "mile/hour",
    "kPa": "kPa",
    "bar": "bar",
    "psi": "psi",
    "kg": "kg",
    "lb": "lb",
    "N·m": "N*m",
    "lbf·ft": "force_pound*foot",
    "km": "km",
    "mi": "mile",
}
KEPT = {"length": "mm", "speed": "km/h", "pressure": "kPa", "mass": "kg", "torque": "N·m"}
CHOSEN = [(quantity, str(unit)) for quantity, units in CHOICES.items() for unit in units]
IMPERIAL = METRIC.having(
    {"length": "in", "speed": "mph", "pressure": "psi", "mass": "lb", "torque": "lbf·ft"}
)


def converted(value: float, kept: str, seen: str) -> float:
    return float(UNITS.Quantity(value, PINT[kept]).to(PINT[seen]).magnitude)


def test_every_quantity_has_a_choice_and_every_choice_is_checked() -> None:
    assert len(CHOSEN) == 11
    assert set(KEPT) == set(CHOICES)


@pytest.mark.parametrize(("quantity", "unit"), CHOSEN)
@given(tenths=st.integers(-99_999, 99_999), whole=st.booleans())
def test_an_amount_is_shown_as_pint_has_it(
    quantity: str, unit: str, tenths: int, whole: bool
) -> None:
    units, kept = METRIC.having({quantity: unit}), KEPT[quantity]
    value = float(tenths // 10) if whole else tenths / 10
    text = bare(f"{value:.{0 if whole else 1}f}", kept)
    shown = units.restated(text)
    decimals = len(shown.partition(".")[2])
    exact = converted(value, kept, unit)
    finest = 3 if shown.endswith("0") or decimals < 3 else decimals
    assert abs(float(shown.replace("−", "-")) - exact) <= 0.5 * 10.0**-decimals + 10.0**-finest / 2


@pytest.mark.parametrize(("quantity", "unit"), CHOSEN)
@given(hundredths=st.integers(1, 990_000))
def test_what_is_typed_bare_is_in_the_unit_seen(quantity: str, unit: str, hundredths: int) -> None:
    typed, kept = f"{hundredths / 100:.2f}", KEPT[quantity]
    if unit in ("bar", "kPa"):
        typed = f"{hundredths / 100_000:.4f}" if unit == "bar" else f"{10 + hundredths / 100:.2f}"
    units = METRIC.having({quantity: unit})
    value = read_figure(units.in_kept(typed, kept), unit=kept)
    assert value == pytest.approx(converted(float(typed), unit, kept), abs=0.006)


@pytest.mark.parametrize(("quantity", "unit"), CHOSEN)
def test_any_unit_may_be_typed_whatever_is_seen(quantity: str, unit: str) -> None:
    kept = KEPT[quantity]
    for _, other in (one for one in CHOSEN if one[0] == quantity):
        units = METRIC.having({quantity: other})
        value = read_figure(units.in_kept(f"5 {unit}", kept), unit=kept)
        assert value == pytest.approx(converted(5, unit, kept), abs=0.006)


def test_a_way_goes_with_the_speed() -> None:
    assert IMPERIAL.restated(f"{km(1000)}") == "621\u2009mi"
    assert read_figure(IMPERIAL.in_kept("621", "km"), unit="km") == pytest.approx(999.4, abs=0.1)


def test_a_sentence_is_restated_and_a_bead_seat_stays() -> None:
    sentence = (
        f"Tread {mm(1.6):g}, {mm(-3):.0f}, {kmh(100):g}, {bar(230):.1f}, {torque(50):g}, "
        f"{kg(300):g}, 12\u2009000\u2009km, 17–23\u2009mm; bead seat 622 mm, 30 mm typed by hand"
    )
    # 1.6 / 25.4; 100 / 1.609; 230 / 6.895; 50 / 1.356; 300 / 0.4536; 12000 / 1.609; 17, 23 / 25.4.
    assert in_plain(IMPERIAL.restated(sentence).replace("\u2009", " ")) == (
        "Tread 0.063 in, −0.12 in, 62 mph, 33 psi, 37 lbf·ft, 661 lb, 7 456 mi, 0.67–0.91 in; "
        "bead seat 622 mm, 30 mm typed by hand"
    )
    assert METRIC.restated(sentence) == sentence
    assert in_plain(sentence).startswith("Tread 1.6 mm, -3 mm, 100 km/h, 2.3 bar, 50 N·m, 300 kg")


@pytest.mark.parametrize(
    ("made", "metric", "imperial"),
    # By hand: 101.7 / 25.4 = 4.0039, 92.4 / 25.4 = 3.6378; 1.5 / 25.4 = 0.0591.
    [
        (mm(rounded(101.7, 0)), "102 mm", "4.00 in"),
        (mm(difference(101.7, 92.4, 0)), "−10 mm", "−0.36 in"),
        (mm(1.5), "1.5 mm", "0.059 in"),
        (f"{mm(1.5):.0f}", "2 mm", "0.06 in"),
        (mm(difference(98.4, 97.6, 0)), "0 mm", "−0.03 in"),
        (mm(difference(98.4, 98.6, 0)), "+1 mm", "+0.01 in"),
        (mm(rounded(0.3, 0)), "0 mm", "0.01 in"),
        (mm(rounded(-0.3, 0)), "0 mm", "−0.01 in"),
        (bare(rounded(-25.6, 0), "mm"), "−26", "−1.01"),
        (kmh(rounded(99.6, 0)), "100 km/h", "62 mph"),
    ],
)
def test_another_unit_is_made_of_the_figure_before_it_was_rounded(
    made: object, metric: str, imperial: str
) -> None:
    # A difference is that of what stands beside it: 102 - 92, 4.00 - 3.64, 98 - 98, 3.87 - 3.84.
    assert METRIC.restated(f"{made}").replace("\u2009", " ") == metric
    assert IMPERIAL.restated(f"{made}").replace("\u2009", " ") == imperial
    assert in_plain(f"{made}") == metric


def test_a_published_limit_stays_in_its_unit_and_another_follows() -> None:
    rule = f"{published(4, 'km/h')} for a moped, {published(100, 'mm')} for toes"
    assert METRIC.restated(rule) == in_plain(rule) == "4 km/h for a moped, 100 mm for toes"
    said = IMPERIAL.restated(rule).replace("\u2009", " ")  # 4 / 1.609 = 2.49; 100 / 25.4 = 3.94
    assert said == "4 km/h (2.5 mph) for a moped, 100 mm (3.94 in) for toes"


def test_figures_whose_unit_stands_elsewhere_stand_alone() -> None:
    cells = f"<td>{bare('+5', 'mm')}</td><td>{bare('1050; 1052 ± 2', 'mm')}</td>"
    head = f"<th>Gap, {unit_alone('mm')}</th>"
    assert METRIC.restated(head + cells) == ("<th>Gap, mm</th><td>+5</td><td>1050; 1052 ± 2</td>")
    assert IMPERIAL.restated(head + cells) == (
        "<th>Gap, in</th><td>+0.20</td><td>41.34; 41.42 ± 0.08</td>"
    )
    assert in_plain(cells) == "<td>+5</td><td>1050; 1052 ± 2</td>"
    assert bare("71.5", "°") == "71.5"
    assert bare("–", "mm") == "–"


def test_an_inch_typed_comes_back_as_it_was() -> None:
    for typed in ("41.5", "41.34", "0.625", "18 1/2"):
        kept = read_figure(IMPERIAL.in_kept(typed, "mm"), unit="mm")
        shown = IMPERIAL.as_seen(f"{kept:.10g}", "mm")
        assert read_figure(f"{shown} in", unit="mm") == pytest.approx(kept, abs=0.01)


def test_readings_and_their_doubt_are_each_in_the_unit_seen() -> None:
    assert IMPERIAL.in_kept("41.5; 41.6 ± 0.1", "mm") == "41.5 in ; 41.6 in ± 0.1 in"
    assert IMPERIAL.in_kept("41.5 in; 1057 mm", "mm") == "41.5 in; 1057 mm"
    assert IMPERIAL.in_kept("71.5", "°") == "71.5"
    assert METRIC.in_kept("41.5", "mm") == "41.5"


def test_names_that_are_no_choice_change_nothing() -> None:
    assert METRIC.having({"length": "ell", "colour": "in"}) == METRIC
    assert METRIC.having({"length": "in"}).length == "in"
    with pytest.raises(OutOfRange):
        read_figure("5 ell", unit="mm")


def test_compound_units_are_left_alone() -> None:
    text = f"{unit_alone('N/mm')} 3\u2009kg·m² 4\u2009mm² 5\u2009mm/s"
    assert DisplayUnits.restated(IMPERIAL, text) == text
    assert re.search("mm", in_plain(text))
    for odd in ("²\u2009mm", "\u2009mm", "x\u2009mm", "٣\u2009mm\u2060"):  # no figure of ours
        assert "3" not in IMPERIAL.restated(odd)
    assert in_words("rim.bead_seat_diameter_mm", "622", "mm") == "622 mm"
    assert in_words("wheelbase_mm", "1050", "mm") == "1050\u2009mm"
