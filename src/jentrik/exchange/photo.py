"""A photo as it may be kept: read, turned upright, made small, written anew without metadata.

Pillow reads it, a well-kept library with no network; only the three formats cameras and phones
give are tried, so nothing that merely calls itself a picture is ever opened.
"""

import io
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

from jentrik.core.errors import DocumentError

LARGEST_PHOTO_BYTES = 12_000_000
MOST_PIXELS = 60_000_000
LONGEST_SIDE = 1600
FORMATS = ("JPEG", "PNG", "WEBP")
_QUALITY = 82


def read_photo(raw: bytes) -> bytes:
    """Return a photo as a small JPEG without metadata.

    Refuses what is empty, too large, cut off, no picture, or unpacks to more than a picture.
    """
    if not raw:
        raise _refused("No photo was chosen.")
    if len(raw) > LARGEST_PHOTO_BYTES:
        raise _refused(f"The photo is larger than {LARGEST_PHOTO_BYTES // 1_000_000} MB.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(raw), formats=FORMATS) as picture:
                if picture.width * picture.height > MOST_PIXELS:
                    raise Image.DecompressionBombError
                picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
                upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise _refused("The photo unpacks to more than any camera takes.") from None
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError):
        raise _refused("That is not a photo, or it is cut off.") from None
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    bare = Image.new("RGB", upright.size)
    bare.paste(upright)
    written = io.BytesIO()
    bare.save(written, "JPEG", quality=_QUALITY, optimize=True)
    return written.getvalue()


def _refused(said: str) -> DocumentError:
    return DocumentError(said, field="photo", expected="a JPEG, PNG or WebP of at most 12 MB")
