"""Answers to programs: figures in the units they are kept in, and no marks in their sentences."""

from typing import Any

from fastapi.responses import JSONResponse

from jentrik.core.amounts import in_plain


class PlainJSON(JSONResponse):
    """JSON whose sentences have an ordinary space before a unit."""

    def render(self, content: Any) -> bytes:
        """Return the content as JSON."""
        return in_plain(bytes(super().render(content)).decode()).encode()
