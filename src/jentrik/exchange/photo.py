"""A photo as it may be kept: read, turned upright, made small, written anew without metadata.

Pillow reads it, a well-kept library with no network; only the three formats cameras and phones
give are tried, so nothing that merely calls itself a picture is ever opened.
"""

import io
import math
import threading
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from jentrik.core.errors import DocumentError

LARGEST_PHOTO_BYTES = 12_000_000
LONGEST_SIDE, LONGEST_TO_MEASURE = 1600, 3200
_EXIF, _FOCAL_35 = 0x8769, 0xA405  # where a camera notes its focal length as of 35 mm film
_FILM_DIAGONAL_MM = 43.27  # 36 by 24
# A baseline JPEG is decoded at an eighth of its size; the others are unpacked whole first.
MOST_PIXELS_REDUCED, MOST_PIXELS_WHOLE = 80_000_000, 24_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
_QUALITY = 82
_ONE_AT_A_TIME = threading.Lock()


@dataclass(frozen=True, slots=True)
class PictureToMeasure:
    """A photograph written anew: its JPEG, its size, its focal length in px where it was noted."""

    jpeg: bytes
    size: tuple[int, int]
    focal_px: float | None


def read_to_measure(raw: bytes) -> PictureToMeasure:
    """Return a photograph large enough to measure on, without metadata; refuses as `read_photo`.

    The focal length is that of the 35 mm figure in the file, by the picture's diagonal; nothing
    else of the file is kept.
    """
    jpeg = read_photo(raw, longest=LONGEST_TO_MEASURE)
    with Image.open(io.BytesIO(jpeg)) as written:
        size = written.size
    with _ONE_AT_A_TIME, warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with Image.open(io.BytesIO(raw), formats=FORMATS) as picture:
            noted = picture.getexif().get_ifd(_EXIF).get(_FOCAL_35)
    try:
        film_mm = float(noted) if noted else 0.0
    except (TypeError, ValueError):
        film_mm = 0.0
    focal = film_mm / _FILM_DIAGONAL_MM * math.hypot(*size) if 8 <= film_mm <= 600 else None
    return PictureToMeasure(jpeg, size, focal)


def read_photo(raw: bytes, *, longest: int = LONGEST_SIDE) -> bytes:
    """Return a photo as a small JPEG without metadata; one photo is unpacked at a time.

    Refuses what is empty, too large, cut off, no picture, or unpacks to more than a picture.
    """
    if not raw:
        raise _refused("No photo was chosen.")
    if len(raw) > LARGEST_PHOTO_BYTES:
        raise _refused(f"The photo is larger than {LARGEST_PHOTO_BYTES // 1_000_000} MB.")
    with _ONE_AT_A_TIME:
        try:
            return _small(raw, longest)
        except (Image.DecompressionBombError, Image.DecompressionBombWarning):
            raise _refused("The photo unpacks to more than any camera takes.") from None
        except (UnidentifiedImageError, OSError, SyntaxError, ValueError, MemoryError):
            raise _refused("That is not a photo, or it is cut off.") from None


def _small(raw: bytes, longest: int) -> bytes:
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        picture = Image.open(io.BytesIO(raw), formats=FORMATS)
    with picture:
        reduced = picture.format == "JPEG" and not picture.info.get("progressive")
        most = MOST_PIXELS_REDUCED if reduced else MOST_PIXELS_WHOLE
        if picture.width * picture.height > most:
            raise Image.DecompressionBombError
        picture.draft("RGB", (longest, longest))
        picture.thumbnail((longest, longest))
        upright = ImageOps.exif_transpose(picture).convert("RGB")
    bare = Image.new("RGB", upright.size)
    bare.paste(upright)
    written = io.BytesIO()
    bare.save(written, "JPEG", quality=_QUALITY, optimize=True)
    return written.getvalue()


def _refused(said: str) -> DocumentError:
    return DocumentError(said, field="photo", expected="a JPEG, PNG or WebP of at most 12 MB")
