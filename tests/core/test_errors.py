"""Refusals: what they carry, and how each edge adds its path."""

from typing import Any

import pytest

from jentrik.core.errors import CodeError, DocumentError, OutOfRange, Refusal, StoreError, blamed_on


def test_a_refusal_becomes_the_error_object_of_the_api() -> None:
    refusal = CodeError(
        "No.", field="front.tire", position=4, expected="a rim", suggestions=("37-622",)
    )
    assert refusal.as_document() == {
        "error": {
            "message": "No.",
            "field": "front.tire",
            "position": 4,
            "expected": "a rim",
            "suggestions": ["37-622"],
        }
    }


def test_what_a_refusal_does_not_know_is_null() -> None:
    error = Refusal("No.").as_document()["error"]
    assert error["field"] is error["position"] is error["expected"] is None
    assert error["suggestions"] == []


@pytest.mark.parametrize(
    ("field", "path", "whole"),
    [
        (None, "bike", "bike"),
        ("tire", "front", "front.tire"),
        ("[1].name", "points", "points[1].name"),
        ("rear.tire", "proposals[0]", "proposals[0].rear.tire"),
    ],
)
def test_every_edge_puts_its_path_before_the_field(
    field: str | None, path: str, whole: str
) -> None:
    assert Refusal("No.", field=field).under(path).field == whole


def blamed_twice(refusal: OutOfRange | ZeroDivisionError) -> None:
    with blamed_on("bike"), blamed_on("front"):
        raise refusal


def test_blame_is_added_from_the_inside_out_and_the_kind_stays() -> None:
    with pytest.raises(OutOfRange) as refused:
        blamed_twice(OutOfRange("No.", field="tire"))
    assert refused.value.field == "bike.front.tire"


def test_only_refusals_are_blamed() -> None:
    with pytest.raises(ZeroDivisionError):
        blamed_twice(ZeroDivisionError())


@pytest.mark.parametrize("kind", [CodeError, OutOfRange, DocumentError, StoreError])
def test_every_kind_is_a_refusal_and_says_its_sentence(kind: type[Any]) -> None:
    assert issubclass(kind, Refusal)
    assert str(kind("One sentence.")) == "One sentence."
