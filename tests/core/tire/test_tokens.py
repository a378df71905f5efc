"""From characters to pieces, and what the cursor remembers of an attempt."""

from typing import Any

import pytest

from jentrik.core.errors import CodeError
from jentrik.core.tire.tokens import ANY_CODE, LONGEST_CODE, Cursor, pieces_of


def spelled(text: str) -> list[Any]:
    return [(piece.kind, piece.value) for piece in pieces_of(text)]


@pytest.mark.parametrize(
    ("text", "pieces"),
    [
        ("37-622", [("figure", "37"), ("sign", "-"), ("figure", "622")]),
        ("37–622", [("figure", "37"), ("sign", "-"), ("figure", "622")]),
        ("29x2,4", [("figure", "29"), ("word", "X"), ("figure", "2.4")]),
        ("26 × 1½", [("figure", "26"), ("sign", "×"), ("figure", "1 1/2")]),
        ("½", [("figure", "1/2")]),
        ("m/c tl", [("word", "M/C"), ("word", "TL")]),
        ("M+S", [("word", "M+S")]),
        ("(66w)", [("sign", "("), ("figure", "66"), ("word", "W"), ("sign", ")")]),
        ("MT90B16", [("word", "MT"), ("figure", "90"), ("word", "B"), ("figure", "16")]),
        ("  ", []),
    ],
)
def test_pieces(text: str, pieces: list[Any]) -> None:
    assert spelled(text) == pieces


def test_a_piece_knows_its_place() -> None:
    for piece in pieces_of(" 120 / 70-17 M/C"):
        assert " 120 / 70-17 M/C"[piece.start : piece.end].upper() == piece.value


@pytest.mark.parametrize(("text", "place"), [("37-☃622", 3), ("37\x00", 2)])
def test_a_character_no_code_has_is_a_piece_of_its_own(text: str, place: int) -> None:
    (strange,) = [piece for piece in pieces_of(text) if piece.kind == "other"]
    assert (strange.start, strange.end) == (place, place + 1)


@pytest.mark.parametrize("text", ['29" x 2.4"', "29″x2.4″", "29 inch x 2.4in", "29er x 2.4"])
def test_an_inch_sign_belongs_to_its_figure(text: str) -> None:
    assert [piece.value for piece in pieces_of(text)] == ["29", "X", "2.4"]


def test_endless_text_is_refused_before_it_is_looked_at() -> None:
    pieces_of("9" * LONGEST_CODE)
    with pytest.raises(CodeError, match="at most"):
        pieces_of("9" * (LONGEST_CODE + 1))


def cursor_on(text: str) -> Cursor:
    return Cursor(text, pieces_of(text))


def test_a_token_may_span_pieces_and_keeps_the_text_as_marked() -> None:
    cursor = cursor_on("26 x 1 3/8")
    cursor.take("size", "size")
    assert cursor.cross()
    assert cursor.take("width", "width", 4) == "1 3/8"
    assert cursor.done
    assert cursor.position == len("26 x 1 3/8")


def test_going_back_forgets_tokens_but_not_what_was_wanted() -> None:
    cursor = cursor_on("37-623")
    cursor.take("width", "width")
    assert cursor.sign("-")
    cursor.want("a rim")
    cursor.rewind(0, 0)
    cursor.want("something at the start")
    assert cursor.tokens == []
    refusal = cursor.refusal()
    assert (refusal.position, refusal.expected) == (3, "a rim")
    assert "not “623”" in refusal.message


def test_wishes_at_one_place_are_joined_and_many_become_one() -> None:
    cursor = cursor_on("x")
    cursor.want("a")
    cursor.want("b")
    cursor.want("a")
    assert cursor.refusal().expected == "a or b"
    cursor.want("c")
    assert cursor.refusal().expected == ANY_CODE


def test_glued_means_no_space_between() -> None:
    cursor = cursor_on("14C 8")
    cursor.take("rim", "rim")
    assert cursor.glued()
    cursor.take("suffix", "suffix")
    assert not cursor.glued()
    assert not cursor_on("14").glued()
