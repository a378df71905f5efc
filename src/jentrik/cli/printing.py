"""What every command prints with: plain text, JSON, and the bytes of a document."""

import json
import sys
from pathlib import Path
from typing import Any

from jentrik.core.amounts import in_plain
from jentrik.core.errors import DocumentError
from jentrik.exchange.strict_json import LARGEST_DOCUMENT_BYTES


def print_json(document: Any) -> None:
    """Print a document as JSON."""
    print(in_plain(json.dumps(document, ensure_ascii=False, indent=2, allow_nan=False)))


def print_lines(lines: list[str]) -> None:
    """Print lines as plain text."""
    print(in_plain("\n".join(lines)))


def bytes_of(name: str) -> bytes:
    """Return the bytes of a document, or of standard input for "-"; refuses what is not there."""
    most = LARGEST_DOCUMENT_BYTES + 1
    if name == "-":
        return sys.stdin.buffer.read(most)
    try:
        with Path(name).open("rb") as file:
            return file.read(most)
    except OSError as error:
        raise DocumentError(
            f"{name} cannot be read: {(error.strerror or 'unknown reason').lower()}.",
            expected="a plan document",
        ) from None
