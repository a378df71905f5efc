"""JSON as our documents want it."""

import pytest

from jentrik.core.errors import DocumentError
from jentrik.core.tire.sidewall import read_code
from jentrik.exchange.reading_document import reading_document
from jentrik.exchange.strict_json import TooLargeError, parse_json


def test_an_ordinary_document_is_read_with_or_without_a_mark_of_order() -> None:
    assert parse_json(b'{"a": [1, 2.5, null, "\xc3\xa9"]}') == {"a": [1, 2.5, None, "é"]}
    assert parse_json(b'\xef\xbb\xbf{"a": 1}') == {"a": 1}


def test_where_it_breaks_is_said() -> None:
    with pytest.raises(DocumentError, match="line 2, column 7"):
        parse_json(b'{"a": 1,\n "b": +}')


def test_a_key_twice_is_refused_at_any_depth() -> None:
    with pytest.raises(DocumentError) as refused:
        parse_json(b'{"a": {"b": 1, "c": 2, "b": 3}}')
    assert refused.value.field == "b"


@pytest.mark.parametrize("constant", [b"NaN", b"Infinity", b"-Infinity"])
def test_constants_that_are_no_json_are_refused(constant: bytes) -> None:
    with pytest.raises(DocumentError, match="not a figure"):
        parse_json(b"[" + constant + b"]")


@pytest.mark.parametrize(
    "text", [b"[" * 50_000 + b"]" * 50_000, b"\xff", b'"\xed\xa0\x80"', b"9" * 9000]
)
def test_nothing_makes_it_stumble(text: bytes) -> None:
    with pytest.raises(DocumentError):
        parse_json(text)


def test_size_is_looked_at_first() -> None:
    with pytest.raises(TooLargeError, match="1 000 001 bytes"):
        parse_json(b" " * 1_000_001)
    with pytest.raises(TooLargeError):
        parse_json(b"{}  ", largest=3)


def test_a_reading_as_a_document_says_null_for_what_it_does_not_know() -> None:
    document = reading_document(read_code("700C"))
    for key in ("width_mm", "overall_diameter_mm", "circumference_mm", "load_kg", "speed_kmh"):
        assert document[key] is None
    assert "also" not in document
    both = reading_document(read_code("700x38C 40-622"))
    assert both["text"] == "700x38C 40-622"
    assert [other["family"] for other in both["also"]] == ["bicycle-french"]
    assert both["also"][0]["text"] == "700x38C"
