"""Every refusal the program can make.

    Refusal
    ├── CodeError        a tire code that cannot be read; `position` says where
    ├── OutOfRange       a figure no machine can have, or a machine that cannot stand
    ├── DocumentError    a document of the wrong shape
    └── StoreError       the shop's data cannot take or give what was asked
        └── ChangedMeanwhile   someone else wrote there since the page was opened

A refusal is about what came in, never about our own mistakes: those are assertions.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, Self


class Refusal(ValueError):
    """Input we cannot work with: one sentence for a mechanic, and where it went wrong."""

    def __init__(
        self,
        message: str,
        *,
        field: str | None = None,
        position: int | None = None,
        expected: str | None = None,
        suggestions: tuple[str, ...] = (),
    ) -> None:
        super().__init__(message)
        self.message = message
        self.field = field
        self.position = position
        self.expected = expected
        self.suggestions = suggestions

    def under(self, path: str) -> Self:
        """Return this refusal with `path` put before its field, as it passes an edge."""
        joint = "" if self.field is None or self.field.startswith("[") else "."
        self.field = path if self.field is None else f"{path}{joint}{self.field}"
        return self

    def as_document(self) -> dict[str, Any]:
        """Return the error object of the API: plain values, `null` for what is unknown."""
        return {
            "error": {
                "message": self.message,
                "field": self.field,
                "position": self.position,
                "expected": self.expected,
                "suggestions": list(self.suggestions),
            }
        }


class CodeError(Refusal):
    """A tire code that cannot be read."""


class OutOfRange(Refusal):
    """A figure outside what can exist, or figures that contradict each other."""


class DocumentError(Refusal):
    """A document of the wrong shape."""


class StoreError(Refusal):
    """The shop's data cannot take or give what was asked."""


class ChangedMeanwhile(StoreError):
    """Someone else wrote there since the page was opened; both are shown."""


@contextmanager
def blamed_on(path: str) -> Iterator[None]:
    """Put `path` before the field of any refusal that passes."""
    try:
        yield
    except Refusal as refusal:
        raise refusal.under(path) from None
