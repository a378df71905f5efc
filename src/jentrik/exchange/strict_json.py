"""JSON as our documents want it: every key once, finite figures, a bounded size."""

import json
from typing import Any, NoReturn

from jentrik.core.errors import DocumentError
from jentrik.core.text import DocumentBytes, refuse_unseen

LARGEST_DOCUMENT_BYTES = 1_000_000


class TooLargeError(DocumentError):
    """A document beyond the size we read."""


def parse_json(raw: bytes, *, largest: int = LARGEST_DOCUMENT_BYTES) -> Any:
    """Return the values of a JSON text; refuses what is not one, with the line it breaks at."""
    if len(raw) > largest:
        raise TooLargeError(
            f"The document has {len(raw):,} bytes; at most {largest:,} are read.".replace(",", " "),
            expected="a document of at most 1 MB",
        )
    try:
        DocumentBytes().look(raw)
        values = json.loads(
            raw.decode("utf-8-sig"),
            object_pairs_hook=_object_with_single_keys,
            parse_constant=_refuse_constant,
        )
        json.dumps(values, ensure_ascii=False).encode()  # half a character is no text
        refuse_unseen(values)
        return values
    except json.JSONDecodeError as error:
        raise DocumentError(
            f"This is not JSON: it breaks at line {error.lineno}, column {error.colno}.",
            expected="a JSON document",
        ) from None
    except (UnicodeError, RecursionError):
        raise DocumentError(
            "This is not readable JSON text.", expected="a JSON document in UTF-8"
        ) from None
    except ValueError as error:
        if isinstance(error, DocumentError):
            raise
        raise DocumentError(  # an integer of thousands of digits
            "A figure in the document has too many digits.", expected="ordinary figures"
        ) from None


def _object_with_single_keys(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    members = dict(pairs)
    if len(members) < len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise DocumentError(
            f"“{twice[:60]}” stands twice in one object.",
            field=twice[:60],
            expected="every key once",
        )
    return members


def _refuse_constant(name: str) -> NoReturn:
    raise DocumentError(f"{name} is not a figure.", expected="a finite number")
