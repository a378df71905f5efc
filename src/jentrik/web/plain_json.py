"""Answers to programs: figures in the units they are kept in, and no marks in their sentences."""

from collections.abc import Mapping
from typing import Any

from fastapi.responses import JSONResponse

from jentrik.core.amounts import in_plain
from jentrik.core.errors import CodeError, DocumentError, OutOfRange, Refusal

REFUSED_HEADER = "Jentrik-Refused"


class PlainJSON(JSONResponse):
    """JSON whose sentences have an ordinary space before a unit."""

    def render(self, content: Any) -> bytes:
        """Return the content as JSON."""
        return in_plain(bytes(super().render(content)).decode()).encode()


def refused_json(
    refusal: Refusal, status: int, headers: Mapping[str, str] | None = None
) -> PlainJSON:
    """Return a refusal as a program reads it; a header says in a word what it is about."""
    about = {REFUSED_HEADER: _type_of(refusal)}
    return PlainJSON(refusal.as_document(), status_code=status, headers=about | dict(headers or {}))


def _type_of(refusal: Refusal) -> str:
    """Return what a refusal is about: what was sent, or how things stand in the shop."""
    for kind, name in ((CodeError, "code"), (OutOfRange, "range"), (DocumentError, "document")):
        if isinstance(refusal, kind):
            return name
    return "state"
