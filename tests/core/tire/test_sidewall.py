"""Whole sidewalls, dates, loads and pressures, grades: what stands beside the size."""

import calendar
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jentrik.core.errors import CodeError
from jentrik.core.tire.dates import week_and_year, weeks_of
from jentrik.core.tire.sidewall import LONGEST_SIDEWALL, read_sidewall
from jentrik.core.tire.sidewall_lines import Grade
from jentrik.exchange.reading_document import sidewall_document

A_MONDAY = date(2026, 11, 23)
FAST_FRONT = """120/70 ZR 17 M/C (58W)
TL FRONT  ROTATION
DOT AB12 CDE 4525
MAX LOAD 236 KG (520 LBS) AT 290 KPA (42 PSI) COLD
TREAD 2 PLIES STEEL + 1 PLY NYLON
harbourgrip"""


def test_a_whole_sidewall_is_read_line_by_line() -> None:
    sidewall = read_sidewall(FAST_FRONT, on=A_MONDAY)
    size = sidewall.reading
    assert (size.family, size.overall_diameter_mm) == ("motorcycle-metric", 600)
    assert (size.tube, size.position, size.load_kg) == ("tubeless", "front", 236)
    assert (sidewall.made.week, sidewall.made.year) == (45, 2025)
    assert [(line.kind, round(line.value)) for line in sidewall.quantities] == [
        ("load", 236),
        ("pressure", 290),
    ]
    assert [word.text for word in sidewall.unread] == ["harbourgrip"]


def test_nothing_of_a_sidewall_is_swallowed() -> None:
    sidewall = read_sidewall(FAST_FRONT)
    covered = {place for token in sidewall.tokens for place in range(token.start, token.end)}
    left = {c for place, c in enumerate(sidewall.text) if place not in covered}
    assert left <= set(" \n()/+-")
    for token in sidewall.tokens:
        assert sidewall.text[token.start : token.end] == token.text
        assert token.means


@pytest.mark.parametrize(
    ("text", "index", "symbol", "kg"),
    [("54H", 54, "H", 212), ("(58W)", 58, "W", 236), ("112/110 R", 112, "R", 1120)],
)
def test_a_lone_pair_is_a_service_reading(text: str, index: int, symbol: str, kg: int) -> None:
    reading = read_sidewall(text).reading
    assert (reading.family, reading.vehicle) == ("service", None)
    assert (reading.load_index, reading.speed_symbol, reading.load_kg) == (index, symbol, kg)


# 49 CFR 574.5, from memory: week, then year.
@pytest.mark.parametrize(
    ("text", "week", "year"),
    [
        ("1523", 15, 2023),
        ("DOT AB12 CDE 1523", 15, 2023),
        ("DOT XY 0824", 8, 2024),
        ("5323", 53, 2023),
        ("DOT ABC 158", 15, None),
        ("DOT 158", 15, None),
        ("0100", 1, 2000),
    ],
)
def test_a_date_is_week_then_year(text: str, week: int, year: int | None) -> None:
    reading = read_sidewall(text).reading
    assert (reading.family, reading.week, reading.year) == ("date", week, year)
    assert any("2000" in note for note in reading.notes) == (year is None)


@pytest.mark.parametrize(
    "digits", ["0023", "5423", "5320", "5304", "5309", "5315", "5321", "99", "12345", "1a23"]
)
def test_a_week_no_year_has_is_no_date(digits: str) -> None:
    assert week_and_year(digits) is None


def test_years_of_53_weeks_are_those_of_53_sundays() -> None:
    # 49 CFR 574.5, from memory: Sunday to Saturday, week 01 the first full one.
    for year in range(2000, 2060):
        sundays = calendar.Calendar(calendar.SUNDAY).yeardatescalendar(year, 12)[0]
        counted = {week[0] for month in sundays for week in month if week[0].year == year}
        assert weeks_of(year) == len(counted)
    assert [year for year in range(2000, 2025) if weeks_of(year) == 53] == [
        2000,
        2006,
        2012,
        2017,
        2023,
    ]


def test_age_runs_from_the_sunday_of_the_week() -> None:
    # The first Sunday of 2023 was 1 January; fourteen weeks later it was 9 April.
    made = read_sidewall("DOT AB 1523").made
    assert made.first_day == date(2023, 4, 9)
    assert made.age_years(date(2026, 4, 9)) == pytest.approx(1096 / 365.2425)
    assert made.age_years(made.first_day) == 0
    assert "week 15 of 2023, from Sunday 9 April 2023" in made.tokens[-1].means


def test_a_date_in_the_future_is_named_only_against_a_day() -> None:
    future = f"37-622\nDOT AB {(A_MONDAY + timedelta(weeks=3)).isocalendar().week:02d}26"
    assert any("future" in note for note in read_sidewall(future, on=A_MONDAY).notes)
    assert read_sidewall(future).notes == ()


# 49 CFR 575.104, from memory: traction in g on wet asphalt, temperature in mph.
@pytest.mark.parametrize(
    ("line", "kind", "value", "said"),
    [
        ("TREADWEAR 300", "treadwear", "300", "100"),
        ("TRACTION AA", "traction", "AA", "0.54"),
        ("TRACTION C", "traction", "C", "0.38"),
        ("TEMPERATURE A", "temperature", "A", "115"),
        ("TEMPERATURE C", "temperature", "C", "85"),
    ],
)
def test_quality_grades(line: str, kind: str, value: str, said: str) -> None:
    (grade,) = read_sidewall(f"P205/55R16 91V {line}").grades
    assert isinstance(grade, Grade)
    assert (grade.kind, grade.value) == (kind, value)
    assert said in grade.means


@pytest.mark.parametrize(
    ("line", "kind", "least", "most"),
    [
        ("MAX LOAD 545 KG (1201 LBS)", "load", None, 545),
        ("1389 LBS", "load", None, 630),  # trade cross-check: index 92
        ("INFLATE TO 3.5-6.0 BAR (50-87 PSI)", "pressure", 350, 600),
        ("50 - 85 PSI", "pressure", 345, 586),
        ("MAX 290 KPA COLD", "pressure", None, 290),
        ("MIN 2 TO 4 BAR", "pressure", 200, 400),
    ],
)
def test_load_and_pressure_lines(line: str, kind: str, least: int | None, most: int) -> None:
    (quantity,) = read_sidewall(f"37-622\n{line}").quantities
    assert quantity.kind == kind
    assert quantity.value == pytest.approx(most, abs=0.6)
    assert quantity.least == (None if least is None else pytest.approx(least, abs=0.6))
    assert quantity.quarrel == ""


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("26x1.75 (37-622)", "disagree"),
        ("120/70-17 58H\nREAR\nFRONT", "both front and rear"),
        ("120/70-17 REAR\nDOT AB 1523\nFRONT", "both front and rear"),
        ("120/70-17 58H TL\nDOT AB 1523\nTUBE TYPE", "both tubeless and tube type"),
        ("120/70-17 58H\nDOT AB 1523\n66W", "load and speed marks disagree"),
        ("120/70-17 58H\nMAX LOAD 300 KG", "load index 236 kg"),
        ("37-622\n3.5 BAR (90 PSI)", "two units"),
    ],
)
def test_contradictions_are_named(text: str, said: str) -> None:
    notes = read_sidewall(text, on=A_MONDAY).notes
    assert sum(said in note for note in notes) == 1


def test_agreement_is_not_remarked_on() -> None:
    text = "120/70-17 58H FRONT TL\nFRONT TUBELESS 58H\nMAX LOAD 236 KG (520 LBS)"
    assert read_sidewall(text).notes == ()


@pytest.mark.parametrize(
    ("text", "position"),
    [
        ("130/80 R foo", 9),
        ("37-623", 3),
        ("harbourgrip", 0),
        ("9999", 0),
        ("", 0),
        ("harbourgrip TL", 0),
        ("one\ntwo\nthree", 0),
    ],
)
def test_a_single_wrong_code_is_still_refused_at_its_character(text: str, position: int) -> None:
    with pytest.raises(CodeError) as refused:
        read_sidewall(text)
    assert refused.value.position == position


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("TREADWEAR 300 TRACTION A TEMPERATURE A", ["300", "0.47 g", "over 115 mph"]),
        ("MAX LOAD 236 KG (520 LBS) AT 290 KPA (42 PSI) COLD", ["236 kg", "2.9 bar"]),
        # 85 psi x 6.894757 = 586 kPa
        ("INFLATE TO MIN 50 MAX 85 PSI", ["the least", "5.9 bar (85 psi)"]),
        ("TREAD 4 PLIES: 2 NYLON + 2 STEEL", ["under the tread", "layers", "casing cord"]),
        ("ROTATION", ["trust the arrow"]),
    ],
)
def test_lines_without_a_size_are_read_for_what_they_are(text: str, said: list[str]) -> None:
    sidewall = read_sidewall(text)
    assert (sidewall.reading, sidewall.code, sidewall.unread) == (None, None, ())
    meanings = " ".join(token.means for token in sidewall.tokens)
    assert [words for words in said if words not in meanings] == []
    document = sidewall_document(sidewall)
    assert (document["family"], document["text"]) == (None, text)


def test_a_hundred_kilobytes_are_refused_at_once() -> None:
    with pytest.raises(CodeError, match="at most"):
        read_sidewall("37-622 " * 15_000)
    read_sidewall("37-622\n" * (LONGEST_SIDEWALL // 7))


_lines = st.sampled_from(
    [
        "37-622",
        "120/70 ZR 17",
        "M/C",
        "(58W)",
        "TL",
        "TT",
        "FRONT",
        "DOT AB12 1523",
        "1523",
        "158",
        "MAX LOAD 236 KG",
        "(520 LBS)",
        "290 KPA",
        "TREADWEAR 300",
        "TRACTION A",
        "26 x 1 3/8",
        "2 PLIES NYLON",
        "harbourgrip",
        "®",
        "-",
        "(",
        "54H",
        "→",
        "700x38C",
        "é9",
        "½",
    ]
)


@given(
    st.one_of(
        st.text(max_size=60),
        st.lists(_lines, max_size=9).map("\n".join),
        st.lists(_lines, max_size=9).map(" ".join),
    )
)
def test_any_text_is_read_or_refused_and_nothing_else_happens(text: str) -> None:
    refusal = sidewall = None
    try:
        sidewall = read_sidewall(text, on=A_MONDAY)
    except CodeError as error:
        refusal = error
    if sidewall is None:
        assert refusal.message.endswith((".", "?"))
        return
    end = 0
    for token in sidewall.tokens:
        assert token.start >= end
        assert sidewall.text[token.start : token.end] == token.text
        end = token.end
    again = read_sidewall(sidewall.text, on=A_MONDAY)
    assert again == sidewall


APPROVALS = (
    *("E4 75R-0001424", "E11 75R-00 0424", "75R-0001424", "30R-0021508", "E4 30R 0021508"),
    *("E13 000424", "E4\n75R-00\n0424", "E4 75R 0001424"),
)


@pytest.mark.parametrize("approval", APPROVALS)
@pytest.mark.parametrize("gap", [" ", "\n"])
def test_an_approval_number_is_never_a_date_load_or_speed(approval: str, gap: str) -> None:
    # Week 23 of 2008 stands on the tire; the digits of an approval say nothing of it.
    for text in (f"DOT 2308{gap}{approval}", f"{approval}{gap}DOT 2308"):
        sidewall = read_sidewall(text)
        assert (sidewall.made.week, sidewall.made.year) == (23, 2008), text
        assert [mark.family for mark in sidewall.marks] == ["date"], text
    with_size = read_sidewall(f"120/70 ZR 17{gap}{approval}{gap}DOT AB12 2308")
    assert (with_size.reading.load_index, with_size.reading.speed_symbol) == (None, "ZR")
    assert (with_size.made.week, with_size.made.year) == (23, 2008)
    with pytest.raises(CodeError, match="approval number"):
        read_sidewall(approval)


@pytest.mark.parametrize(
    ("half", "likely"),
    [
        ("180/55 2R 17", "180/55R17"),
        ("26 x 1 3/", "26 x 1 3/8"),
        ("26 x 1 3/0", "26 x 1 3/8"),
        ("26 x 1 /8", "26 x 1 3/8"),
    ],
)
def test_half_a_mark_is_refused_with_the_likely_one(half: str, likely: str) -> None:
    with pytest.raises(CodeError, match="only in part") as refused:
        read_sidewall(half)
    assert likely in refused.value.suggestions
    with pytest.raises(CodeError, match="only in part"):
        read_sidewall(f"{half}\nDOT AB12 1523")


def test_a_worn_leading_one_is_doubted() -> None:
    for code, whole in (("80/55 ZR 17", "180/55"), ("90/55 ZR 17", "190/55"), ("120/70 R 7", "17")):
        note = read_sidewall(code).notes[0]
        assert "leading 1 may be worn" in note
        assert whole in note
    for code in ("80/90-21", "90/90-19", "180/55 ZR 17", "70/100-17", "100/90-19"):
        assert not any("worn" in note for note in read_sidewall(code).notes)
