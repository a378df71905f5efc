"""How a program asks a shop: the address, its key, each write once.  The three beside use it.

JENTRIK_URL=http://127.0.0.1:8765 JENTRIK_KEY=… python booking.py bookings.json
"""

import json
import os
from typing import Any
from urllib.error import HTTPError
from urllib.request import Request, urlopen

URL = os.environ.get("JENTRIK_URL", "http://127.0.0.1:8765")
KEY = os.environ.get("JENTRIK_KEY", "")


class RefusedError(Exception):
    """What a shop said no to: its sentence, and the status it came with."""

    def __init__(self, status: int, error: dict[str, Any]) -> None:
        super().__init__(f"{error['message']} ({error['field']})")
        self.status = status


def ask(method: str, path: str, body: dict[str, Any] | None = None, once: str = "") -> Any:
    """Return what the shop answers; sent again with the same `once` nothing is done again."""
    headers = {"Content-Type": "application/json"}
    if KEY:
        headers["Authorization"] = f"Bearer {KEY}"
    if once:
        headers["Idempotency-Key"] = once
    raw = None if body is None else json.dumps(body).encode()
    try:
        with urlopen(Request(f"{URL}/api{path}", raw, headers, method=method)) as answer:
            return json.load(answer)
    except HTTPError as refused:
        raise RefusedError(refused.code, json.load(refused)["error"]) from None
