"""The parts of the grammar that several families share."""

import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.tire.construction import read_middle
from jentrik.core.tire.descriptors import Descriptors, read_descriptor
from jentrik.core.tire.fractions import fraction_ahead
from jentrik.core.tire.rimcode import read_rim_code
from jentrik.core.tire.tokens import Cursor, pieces_of


def cursor_on(text: str) -> Cursor:
    return Cursor(text, pieces_of(text))


@pytest.mark.parametrize(
    ("text", "inches", "spelling"),
    [
        ("2.4", 2.4, "2.4"),
        ("26", 26, "26"),
        ("1 3/8", 1.375, "1 3/8"),
        ("1-3/8", 1.375, "1 3/8"),
        ("1½", 1.5, "1 1/2"),
        ("1 ½", 1.5, "1 1/2"),
        ("12½", 12.5, "12 1/2"),
        ("2 3/4-16", 2.75, "2 3/4"),
    ],
)
def test_inches_as_marked(text: str, inches: float, spelling: str) -> None:
    ahead = fraction_ahead(cursor_on(text))
    assert (ahead.inches, ahead.spelling) == (inches, spelling)
    assert ahead.decimal == ("." in text)


@pytest.mark.parametrize("text", ["x", "-", "TL", ""])
def test_where_no_figure_comes_there_are_no_inches(text: str) -> None:
    assert fraction_ahead(cursor_on(text)) is None


def test_a_strange_denominator_is_not_part_of_the_fraction() -> None:
    assert fraction_ahead(cursor_on("1 3/7")).spelling == "1"


@pytest.mark.parametrize(
    ("text", "construction", "speed", "sign"),
    [
        ("-17", "bias", None, "-"),
        ("D 17", "bias", None, "D"),
        ("R17", "radial", None, "R"),
        ("ZR-17", "radial", "ZR", "R"),
        ("VR 17", "radial", "V", "R"),
        ("B16", "bias-belted", None, "B"),
        ("HB16", "bias-belted", "H", "B"),
        ("H 18", "bias", "H", "speed"),
    ],
)
def test_what_stands_between_size_and_rim(
    text: str, construction: str, speed: str | None, sign: str
) -> None:
    middle = read_middle(cursor_on(text))
    assert (middle.construction, middle.speed, middle.sign) == (construction, speed, sign)


@pytest.mark.parametrize("text", ["QQR 17", "17", "XB 17"])
def test_an_unknown_middle_is_not_read(text: str) -> None:
    assert read_middle(cursor_on(text)) is None


@pytest.mark.parametrize("code", ["10", "17", "16.5", "21"])
def test_rim_codes_come_back_as_marked(code: str) -> None:
    assert read_rim_code(cursor_on(code)) == code


@pytest.mark.parametrize("code", ["3", "31", "17.3", "622", "R", "½"])
def test_what_is_no_rim_code(code: str) -> None:
    cursor = cursor_on(code)
    assert read_rim_code(cursor) is None
    assert "rim code" in cursor.wanted[0]


def described(text: str) -> tuple[Descriptors, Cursor]:
    cursor, found = cursor_on(text), Descriptors()
    while not cursor.done and read_descriptor(cursor, found):
        pass
    return found, cursor


@pytest.mark.parametrize(
    ("text", "index", "symbol", "bracketed"),
    [("58H", 58, "H", False), ("(66W)", 66, "W", True), ("58 H", 58, "H", False)],
)
def test_service_descriptions(text: str, index: int, symbol: str, bracketed: bool) -> None:
    found, cursor = described(text)
    assert (found.load_index, found.speed_symbol, found.bracketed) == (index, symbol, bracketed)
    assert cursor.done


def test_a_dual_index_gives_the_single_wheel_and_notes_the_other() -> None:
    found, _ = described("112/110 R")
    assert found.load_index == 112
    assert "1060 kg" in in_plain(found.notes[0])  # index 110, ISO 4000-1, from memory


def test_an_index_beyond_the_table_is_unknown_and_said() -> None:
    found, _ = described("200H")
    assert found.load_index == 200
    assert "unknown" in found.notes[0]


@pytest.mark.parametrize(
    ("text", "what", "value"),
    [
        ("TL", "tube", "tubeless"),
        ("tubeless", "tube", "tubeless"),
        ("TT", "tube", "tube-type"),
        ("Tube Type", "tube", "tube-type"),
        ("FRONT", "position", "front"),
        ("rear", "position", "rear"),
        ("Reinf", "markings", ["REINF"]),
        ("M/C M/C", "markings", ["M/C"]),
        ("M+S NHS", "markings", ["M+S", "NHS"]),
        ("4PR", "markings", ["4PR"]),
        ("CP", "markings", ["CP"]),
        ("rotation outer", "markings", ["ROTATION", "OUTSIDE"]),
        ("Inside TWI", "markings", ["INSIDE", "TWI"]),
    ],
)
def test_words_behind_a_size(text: str, what: str, value: list[str] | str) -> None:
    found, cursor = described(text)
    assert getattr(found, what) == value
    assert cursor.done


def test_a_second_service_description_is_left_unread() -> None:
    found, cursor = described("58H 66W")
    assert found.load_index == 58
    assert not cursor.done
