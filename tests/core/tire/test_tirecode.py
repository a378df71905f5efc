"""Codes against the standards' tables and the trade's worked examples."""

import math
import os
import random
import string

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from jentrik.core.errors import CodeError
from jentrik.core.tire.sidewall import read_code
from jentrik.core.tire.tables.iso5775 import BEAD_SEATS_MM, FRACTIONAL_INCH_MM, FRENCH_MM
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH

# Worked by hand: section height = width x aspect, diameter = bead seat + 2 x height.
SIZES = [
    # code, family, construction, bead seat, width, overall diameter
    ("130/80 ZR 18 M/C (66W) TL", "motorcycle-metric", "radial", 457, 130, 457 + 2 * 104),
    ("140/70 R 18 M/C 67V TL", "motorcycle-metric", "radial", 457, 140, 457 + 2 * 98),
    ("120/70-17", "motorcycle-metric", "bias", 432, 120, 600),
    ("120/70-12", "motorcycle-metric", "bias", 305, 120, 473),
    ("130/90 H 16", "motorcycle-metric", "bias", 406, 130, 640),
    ("120/70 ZR-17", "motorcycle-metric", "radial", 432, 120, 600),
    ("150/80 B 16", "motorcycle-metric", "bias-belted", 406, 150, 646),
    ("90/90-21 M/C 54H", "motorcycle-metric", "bias", 533, 90, 695),
    ("3.25-19", "motorcycle-inch", "bias", 483, 3.25 * 25.4, 483 + 2 * 3.25 * 25.4),
    ("4.00 H 18", "motorcycle-inch", "bias", 457, 101.6, 457 + 2 * 101.6),
    ("4.60-18", "motorcycle-inch", "bias", 457, 4.6 * 25.4, 457 + 2 * 0.82 * 4.6 * 25.4),
    ("2 3/4-16", "motorcycle-inch", "bias", 406, 2.75 * 25.4, 406 + 2 * 2.75 * 25.4),
    ("MT90B16", "motorcycle-alpha", "bias-belted", 406, 130, 640),
    ("MT 90 B 16 M/C 74H TL", "motorcycle-alpha", "bias-belted", 406, 130, 640),
    ("MH90-21", "motorcycle-alpha", "bias", 533, 80, 533 + 2 * 72),
    ("37-622", "bicycle-iso", None, 622, 37, 696),
    ("47 – 584", "bicycle-iso", None, 584, 47, 678),
    ("29x2.4", "bicycle-inch", None, 622, 60.96, 622 + 2 * 60.96),
    ("27.5 x 2.25", "bicycle-inch", None, 584, 57.15, 698.3),
    ("26 × 1,75", "bicycle-inch", None, 559, 44.45, 559 + 2 * 44.45),
    ("26 x 1 3/4", "bicycle-inch", None, 571, 44.45, 571 + 2 * 44.45),
    ("12½ x 2¼", "bicycle-inch", None, 203, 57.15, 203 + 2 * 57.15),
    ("28 x 1 5/8 x 1 3/8", "bicycle-inch", None, 622, 34.925, 622 + 2 * 34.925),
    ("28 x 1 3/8 x 1 5/8", "bicycle-inch", None, 622, 34.925, 622 + 2 * 34.925),
    ("700x38C", "bicycle-french", None, 622, 38, 698),
    ("650B x 47", "bicycle-french", None, 584, 47, 678),
    ("205/55R16", "car-metric", "radial", 406, 205, 406 + 2 * 112.75),
]


@pytest.mark.parametrize(("code", "family", "construction", "bead_seat", "width", "over"), SIZES)
def test_a_size_reads_as_the_standard_says(
    code: str, family: str, construction: str | None, bead_seat: int, width: float, over: float
) -> None:
    reading = read_code(code)
    assert (reading.family, reading.construction) == (family, construction)
    assert reading.bead_seat_diameter_mm == bead_seat
    assert reading.width_mm == pytest.approx(width)
    assert reading.overall_diameter_mm == pytest.approx(over)
    assert reading.circumference_mm == pytest.approx(math.pi * over)


def test_load_and_speed_of_a_whole_sidewall_line() -> None:
    reading = read_code("  130/80 ZR 18 M/C (66W) TL ")
    assert reading.text == "130/80 ZR 18 M/C (66W) TL"
    assert (reading.load_index, reading.load_kg) == (66, 300)
    assert (reading.speed_symbol, reading.speed_kmh) == ("W", 270)
    assert (reading.tube, reading.markings, reading.vehicle) == ("tubeless", ("M/C",), "motorcycle")
    assert any("Brackets" in note for note in reading.notes)
    assert [t.text for t in reading.tokens] == ["130", "80", "ZR", "18", "M/C", "66", "W", "TL"]


@pytest.mark.parametrize(
    ("code", "symbol", "kmh"),
    [
        ("120/70 ZR 17", "ZR", 240),
        ("4.00 H 18", "H", 210),
        ("130/90 VB 16", "V", 240),
        ("3.50-18 56P", "P", 150),
        ("37-622", None, None),
    ],
)
def test_speed_symbol_from_middle_or_service(
    code: str, symbol: str | None, kmh: int | None
) -> None:
    assert (read_code(code).speed_symbol, read_code(code).speed_kmh) == (symbol, kmh)


def test_load_index_table_against_the_trade() -> None:
    # Trade cross-checks (common practice) at 0.45359237 kg: 87 is 1201 lb, 92 1389, 102 1874.
    assert len(LOAD_KG) == 127
    assert [LOAD_KG[i] for i in (69, 87, 92, 102, 116)] == [325, 545, 630, 850, 1250]
    for index, pounds in ((87, 1201), (92, 1389), (102, 1874)):
        assert LOAD_KG[index] / 0.45359237 == pytest.approx(pounds, abs=1)
    # The indices follow the rounded-number series: 10**(1/80) a step, so ten steps are a third.
    for index in range(117):
        assert LOAD_KG[index + 10] / LOAD_KG[index] == pytest.approx(10 ** (10 / 80), rel=0.03)


def test_speed_symbols_against_the_mph_column() -> None:
    # Trade figures in whole mph; 1 mile is 1.609344 km.
    mph = {"Q": 99, "R": 106, "S": 112, "T": 118, "U": 124, "H": 130, "V": 149, "W": 168, "Y": 186}
    for symbol, miles in mph.items():
        assert SPEED_KMH[symbol] / 1.609344 == pytest.approx(miles, abs=0.8)


def test_every_name_of_a_bicycle_rim_is_a_bead_seat_of_the_standard() -> None:
    named = {bead for beads in FRACTIONAL_INCH_MM.values() for bead in beads}
    assert named | set(FRENCH_MM.values()) <= set(BEAD_SEATS_MM)


def test_published_computer_settings_agree_with_nominal_circumference() -> None:
    # Common bicycle-computer settings, mm (common practice), within about 1 %.
    for width, setting in ((23, 2096), (25, 2105), (28, 2136), (32, 2155), (40, 2200)):
        nominal = read_code(f"{width}-622").circumference_mm
        assert nominal == pytest.approx(setting, rel=0.012)


def test_a_name_of_several_rims_gives_the_commonest_and_every_other() -> None:
    reading = read_code("26 x 1 3/8")
    assert reading.bead_seat_diameter_mm == 590
    assert [other.bead_seat_diameter_mm for other in reading.alternatives] == [597]
    assert "not the same rim" in reading.alternatives[0].note
    assert {o.bead_seat_diameter_mm for o in read_code("20 x 1 3/8").alternatives} >= {438}


def test_the_iso_mark_wins_and_disagreement_is_named() -> None:
    agreed = read_code("28 x 1 5/8 x 1 3/8 (37-622)")
    assert (agreed.family, agreed.also[0].family) == ("bicycle-iso", "bicycle-inch")
    assert agreed.notes == ()
    quarrel = read_code("26x1.75 (37-622)")
    assert quarrel.bead_seat_diameter_mm == 622
    assert "disagree" in quarrel.notes[0]


def test_a_bare_700c_has_no_diameter() -> None:
    reading = read_code("700C")
    assert (reading.bead_seat_diameter_mm, reading.rim_code) == (622, "700C")
    assert reading.width_mm is reading.overall_diameter_mm is reading.circumference_mm is None


@pytest.mark.parametrize(
    ("code", "vehicle"),
    [
        ("P130/80R18", "car"),
        ("205/55R16 M/C", "motorcycle"),
        ("205/55-16", "car"),
        ("120/70R17", "motorcycle"),
        ("165R14C", "car"),
        ("128/80-18", "motorcycle"),
    ],
)
def test_which_vehicle_a_metric_code_is_for(code: str, vehicle: str) -> None:
    assert read_code(code).vehicle == vehicle


def test_vehicle_settles_what_the_mark_leaves_open() -> None:
    assert read_code("165/60R16", vehicle="motorcycle").family == "motorcycle-metric"
    with pytest.raises(CodeError, match="a bicycle mark is wanted"):
        read_code("120/70-17", vehicle="bicycle")


@pytest.mark.parametrize(
    ("code", "position"),
    [
        ("", 0),
        ("abc", 0),
        ("37-", 3),
        ("37-623", 3),
        ("130/80", 6),
        ("130/80 R", 8),
        ("26 x", 4),
        ("120/70 ZR 99", 10),
        ("130/8I R 18", 4),
        ("☃", 0),
        ("٣٧-622", 0),
        ("37\x00", 2),
        ("120/70R17 300H", 10),
    ],
)
def test_a_refusal_points_at_the_character(code: str, position: int) -> None:
    with pytest.raises(CodeError) as refused:
        read_code(code)
    assert refused.value.position == position
    assert refused.value.message.endswith(".")


def test_a_rim_no_one_makes_suggests_the_nearest() -> None:
    with pytest.raises(CodeError) as refused:
        read_code("47-585")
    assert refused.value.suggestions[0] == "47-584"


PIECES = (
    "37",
    "622",
    "-",
    "/",
    " ",
    "x",
    "26",
    "1",
    "3/8",
    "130",
    "80",
    "ZR",
    "18",
    "M/C",
    "(",
    ")",
    "66W",
    "TL",
    "700",
    "C",
    "½",
    "MT",
    "B",
    "4.00",
    "H",
    ",",
    "1.75",
    "R",
    "\n",
    "é",
    "PR",
)


@pytest.mark.parametrize(
    ("typed", "plain"),
    [
        ("130/80ZR18M/C(66W)TL", "130/80 ZR 18 M/C (66W) TL"),
        ("130/80zr18m/c66wtl", "130/80 ZR 18 M/C 66W TL"),
        ("120 / 70 – 17  58 h", "120/70-17 58H"),
        ("3,25-19", "3.25-19"),
        ("26×1¾", "26 x 1 3/4"),
        ("26 * 1.75", "26x1.75"),
        ("26X1-3/8", "26 x 1 3/8"),
        ("mt90b16 74hreinf", "MT 90 B 16 74H REINF"),
        ("700 X 38 c", "700x38C"),
        ("[37-622]", "37-622"),
    ],
)
def test_writing_varies_and_the_reading_does_not(typed: str, plain: str) -> None:
    one, other = read_code(typed), read_code(plain)
    for name in (
        "family",
        "width_mm",
        "section_height_mm",
        "bead_seat_diameter_mm",
        "construction",
        "load_index",
        "speed_symbol",
        "tube",
        "markings",
    ):
        assert getattr(one, name) == getattr(other, name), name
    assert one.text == typed


def test_of_two_widths_the_first_counts() -> None:
    reading = read_code("4.10/3.50-4")
    assert (reading.width_mm, reading.bead_seat_diameter_mm) == (pytest.approx(104.14), 102)
    assert reading.aspect_percent is None
    assert read_code("4.25/85-18").aspect_percent == 85


@pytest.mark.parametrize("typed", ["4O-622", "13O/80 R 18", "700x4OC"])
def test_a_letter_o_is_read_as_nought_only_with_a_note(typed: str) -> None:
    reading = read_code(typed)
    plain = read_code(typed.replace("O", "0"))
    assert reading.overall_diameter_mm == plain.overall_diameter_mm
    assert any("letter O" in note for note in reading.notes)
    assert not any("letter O" in note for note in plain.notes)
    assert "O" in reading.tokens[0].text + reading.tokens[1].text


def test_texts_of_pieces_are_read_or_refused() -> None:
    chance = random.Random(5775)
    for _ in range(int(os.environ.get("JENTRIK_EXAMPLES", "4000"))):
        read_or_refused("".join(chance.choices(PIECES, k=chance.randint(0, 9))))


@given(st.one_of(st.lists(st.sampled_from(PIECES), max_size=9).map("".join), st.text(max_size=40)))
@example("9" * 5000)
@example("½½ x ½")
def test_any_text_is_read_or_refused_and_tokens_cover_it(text: str) -> None:
    read_or_refused(text)


def read_or_refused(text: str) -> None:
    """Fail where a text is neither refused at a place of its own nor read, every figure a token."""
    refusal = reading = None
    try:
        reading = read_code(text)
    except CodeError as error:
        refusal = error
    if reading is None:
        assert refusal.position is None or 0 <= refusal.position <= len(text)
        return
    covered = set()
    end = 0
    for token in reading.tokens:
        assert reading.text[token.start : token.end] == token.text
        assert token.start >= end
        end = token.end
        covered |= set(range(token.start, token.end))
    left = {c for i, c in enumerate(reading.text) if i not in covered and not c.isspace()}
    assert not left & set(string.digits)
    assert left <= set("-–/()[],;x×X*⁄‐‑‒—―−✕")
    assert read_code(reading.text).bead_seat_diameter_mm == reading.bead_seat_diameter_mm
