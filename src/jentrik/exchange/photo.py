"""A photo as it may be kept: read, turned upright, made small, written anew without metadata.

Pillow reads it, a well-kept library with no network; only the three formats cameras and phones
give are tried, so nothing that merely calls itself a picture is ever opened.
"""

import io
import threading
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

from jentrik.core.errors import DocumentError

LARGEST_PHOTO_BYTES = 12_000_000
LONGEST_SIDE = 1600
# A baseline JPEG is decoded at an eighth of its size; the others are unpacked whole first.
MOST_PIXELS_REDUCED, MOST_PIXELS_WHOLE = 80_000_000, 24_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
_QUALITY = 82
_ONE_AT_A_TIME = threading.Lock()


def read_photo(raw: bytes) -> bytes:
    """Return a photo as a small JPEG without metadata; one photo is unpacked at a time.

    Refuses what is empty, too large, cut off, no picture, or unpacks to more than a picture.
    """
    if not raw:
        raise _refused("No photo was chosen.")
    if len(raw) > LARGEST_PHOTO_BYTES:
        raise _refused(f"The photo is larger than {LARGEST_PHOTO_BYTES // 1_000_000} MB.")
    with _ONE_AT_A_TIME:
        try:
            return _small(raw)
        except (Image.DecompressionBombError, Image.DecompressionBombWarning):
            raise _refused("The photo unpacks to more than any camera takes.") from None
        except (UnidentifiedImageError, OSError, SyntaxError, ValueError, MemoryError):
            raise _refused("That is not a photo, or it is cut off.") from None


def _small(raw: bytes) -> bytes:
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        picture = Image.open(io.BytesIO(raw), formats=FORMATS)
    with picture:
        reduced = picture.format == "JPEG" and not picture.info.get("progressive")
        most = MOST_PIXELS_REDUCED if reduced else MOST_PIXELS_WHOLE
        if picture.width * picture.height > most:
            raise Image.DecompressionBombError
        picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
        picture.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
        upright = ImageOps.exif_transpose(picture).convert("RGB")
    bare = Image.new("RGB", upright.size)
    bare.paste(upright)
    written = io.BytesIO()
    bare.save(written, "JPEG", quality=_QUALITY, optimize=True)
    return written.getvalue()


def _refused(said: str) -> DocumentError:
    return DocumentError(said, field="photo", expected="a JPEG, PNG or WebP of at most 12 MB")
