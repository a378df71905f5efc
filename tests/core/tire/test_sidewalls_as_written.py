"""Two hundred sidewalls as people write them, names and all; figures by hand from each mark.

Inch widths are inches x 25.4, rim codes x 25.4 to the millimetre, bead seats those of ISO 5775.
"""

import csv
from pathlib import Path

import pytest

from jentrik.core.errors import CodeError
from jentrik.core.tire.sidewall import read_code, read_sidewall

_FILE = Path(__file__).with_name("sidewalls.csv")
ROWS = list(csv.DictReader(_FILE.read_text(encoding="utf-8").splitlines()))
SEPARATORS = set(" \t\n-–/()[],×x*")


def test_there_are_two_hundred() -> None:
    assert len(ROWS) >= 200


@pytest.mark.parametrize("row", ROWS, ids=lambda row: row["text"])
def test_a_sidewall_reads_without_one_false_word(row: dict[str, str]) -> None:
    sidewall = read_sidewall(row["text"])
    size = sidewall.reading
    assert size.width_mm == pytest.approx(float(row["width_mm"]), abs=0.005)
    assert size.bead_seat_diameter_mm == int(row["bead_seat_diameter_mm"])
    assert str(size.load_index or "") == row["load_index"]
    symbol = size.speed_symbol or ""
    assert (symbol if symbol != "ZR" else "") == row["speed_symbol"]
    assert " ".join(token.text for token in sidewall.unread) == row["unread"]
    assert read_code(row["text"]).bead_seat_diameter_mm == size.bead_seat_diameter_mm
    covered = {place for token in sidewall.tokens for place in range(token.start, token.end)}
    left = {sign for place, sign in enumerate(sidewall.text) if place not in covered}
    assert left <= SEPARATORS


# Family and vehicle as the marks say them.
@pytest.mark.parametrize(
    ("text", "family", "vehicle"),
    [
        ("31x10.50R15LT", "flotation", "car"),
        ("AT25x8-12", "flotation", "car"),
        ("25x8-12", "flotation", "car"),
        ("7.50R16LT", "car-metric", "car"),
        ("195 R 16 C", "car-metric", "car"),
        ("400-18", "motorcycle-inch", "motorcycle"),
        ("110/70x17", "motorcycle-metric", "motorcycle"),
        ("26 1 3/8", "bicycle-inch", "bicycle"),
        ("700-28", "bicycle-french", "bicycle"),
        ("2 1/4 - 16", "motorcycle-inch", "motorcycle"),
        ("6x1 1/4", "bicycle-inch", "bicycle"),
        ("200x50", "bicycle-french", "bicycle"),
    ],
)
def test_families_of_marks_written_freely(text: str, family: str, vehicle: str) -> None:
    size = read_sidewall(text).reading
    assert (size.family, size.vehicle) == (family, vehicle)


def test_a_mark_by_overall_diameter_has_the_height_that_is_left() -> None:
    # (31 - 15) / 2 = 8 in, but the rim code counts as 381 mm: (787.4 - 381) / 2 = 203.2.
    size = read_sidewall("31x10.50R15LT").reading
    assert size.overall_diameter_mm == pytest.approx(787.4)
    assert size.section_height_mm == pytest.approx(203.2)


@pytest.mark.parametrize(
    ("text", "said", "suggestion"),
    [
        ("28 inch", "635 mm", "28 x 1 1/2"),
        ("26 inch", "559 mm", "26 x 1.75"),
        ("37-623", "No rim has a bead seat of 623 mm", "37-622"),
        ("120/70 R 99", "rim code in inches", "120/70R17"),
        ("26 x 1 5/8", "made for this wheel size", "26 x 1 3/8"),
        ("5311", "2011 has no week 53", None),
        ("5309", "2009 has 52 weeks by the regulation, 53 by ISO 8601", "5209"),
        ("DOT AB12 CDE 5320", "about the end of 2020", "DOT AB12 CDE 5220"),
        ("622-37", "the wrong way round", "37-622"),
        ("406-50", "has the width first, 50-406", "50-406"),
        ("DOT 4H57 R72", "shows no date", None),
        ("300H", "the series ends at 279", None),
        ("37-622 280H", "ends at 279", None),
        ("120/70R17 112/281H", "ends at 279", None),
        ("harbour", "A size starts with", None),
    ],
)
def test_a_refusal_speaks_as_a_mechanic_and_names_the_nearest_size(
    text: str, said: str, suggestion: str | None
) -> None:
    with pytest.raises(CodeError) as refused:
        read_sidewall(text)
    assert said in refused.value.message
    assert suggestion is None or suggestion in refused.value.suggestions
    assert "Expected" not in refused.value.message


def test_the_last_load_index_of_the_series_is_read() -> None:
    assert read_sidewall("120/70R17 279H").reading.load_index == 279


@pytest.mark.parametrize(
    ("text", "others", "note"),
    [
        ("26 x 1.375", [597, 559], "26 x 1 3/8"),
        ("24x1.375", [547, 507], "24 x 1 3/8"),
        ("27.5 x 2.25", [], "about 27.5 inches"),  # 584 + 2 x 57.15 = 698.3
        ("120/70ZR17 58W\nDOT AB12 CDE 5320", [], "Week 53 of 2020 is in doubt"),
        ("200x50", [], "a child's vehicle"),
    ],
)
def test_what_a_mark_may_mean_besides_is_said(text: str, others: list[int], note: str) -> None:
    sidewall = read_sidewall(text)
    assert [other.bead_seat_diameter_mm for other in sidewall.reading.alternatives] == others
    assert note in " ".join(sidewall.notes)
