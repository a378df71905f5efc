"""Photos: upright, small, without what the camera noted."""

import io
from typing import Any

import pytest
from PIL import Image

from jentrik.core.errors import DocumentError
from jentrik.exchange.photo import LONGEST_SIDE, read_photo


def picture(
    size: tuple[int, int] = (60, 40), kind: str = "JPEG", mode: str = "RGB", **options: Any
) -> bytes:
    raw = io.BytesIO()
    Image.new(mode, size).save(raw, kind, **options)
    return raw.getvalue()


def kept(raw: bytes) -> Any:
    return Image.open(io.BytesIO(read_photo(raw)))


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_the_three_formats_come_out_as_jpeg(kind: str) -> None:
    small = kept(picture(kind=kind))
    assert (small.format, small.size, small.mode) == ("JPEG", (60, 40), "RGB")


@pytest.mark.parametrize(("size", "out"), [((4000, 1000), (1600, 400)), ((900, 3200), (450, 1600))])
def test_the_longest_side_is_bounded_and_the_shape_kept(
    size: tuple[int, int], out: tuple[int, int]
) -> None:
    assert kept(picture(size)).size == out
    assert max(out) == LONGEST_SIDE


def test_a_picture_taken_on_its_side_is_turned_upright() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # turned a quarter
    assert kept(picture((60, 40), exif=exif)).size == (40, 60)


def test_place_and_camera_are_gone() -> None:
    exif = Image.Exif()
    exif[0x010F], exif[0x8825] = "Someone's camera", {1: "N"}
    raw = picture(exif=exif, comment=b"a secret")
    small = kept(raw)
    assert not small.getexif()
    assert b"secret" not in read_photo(raw)
    assert b"Exif" not in read_photo(raw)


def test_a_picture_with_holes_in_it_is_kept_as_far_as_it_goes() -> None:
    assert kept(picture(mode="RGBA", kind="PNG")).mode == "RGB"
    assert kept(picture(mode="L")).mode == "RGB"


@pytest.mark.parametrize("raw", [b"GIF89a" + b"\0" * 50, b"%PDF-1.7", b"\xff\xd8\xff", b"BM" * 99])
def test_what_only_calls_itself_a_picture_is_refused(raw: bytes) -> None:
    with pytest.raises(DocumentError) as refused:
        read_photo(raw)
    assert refused.value.field == "photo"


@pytest.mark.parametrize(
    ("kind", "options", "side", "taken"),
    [
        ("PNG", {}, 7700, False),
        ("JPEG", {"progressive": True}, 7700, False),
        ("JPEG", {}, 7700, True),
        ("JPEG", {}, 9500, False),
        ("PNG", {}, 4000, True),
    ],
)
def test_what_must_be_unpacked_whole_is_bounded_tighter(
    kind: str, options: dict[str, Any], side: int, taken: bool
) -> None:
    raw = io.BytesIO()
    Image.new("L", (side, side)).save(raw, kind, **options)
    if taken:
        assert kept(raw.getvalue()).size == (LONGEST_SIDE, LONGEST_SIDE)
    else:
        with pytest.raises(DocumentError, match="unpacks to more"):
            read_photo(raw.getvalue())
