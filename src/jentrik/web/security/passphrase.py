"""The shop's passphrase: who knows it, the session it opens, and wrong ones slowed down.

A session is a signed day of expiry, so it outlives a restart and ends with another passphrase.
A wrong passphrase is answered late, and only a few wait at once for each address: guessing gets
slow, while a right one is answered at once.
"""

import asyncio
import base64
import binascii
import hmac
import secrets
from collections import OrderedDict
from pathlib import Path

SESSION_COOKIE, SESSION_DAYS = "jentrik_session", 30
SHORTEST_PASSPHRASE = 8
FIRST_DELAY_S, LONGEST_DELAY_S = 0.5, 8.0
MOST_WAITING, MOST_ADDRESSES = 5, 4096
_SECRET_FILE = "session.key"  # noqa: S105  # a name, not a secret
_DAY_S = 86_400


class Passphrase:
    """A passphrase, and the sessions it opens."""

    def __init__(self, text: str, *, secret: bytes = b"") -> None:
        self._text = text.encode()
        self._key = hmac.digest(secret or secrets.token_bytes(32), self._text, "sha256")

    def is_it(self, given: str) -> bool:
        """Whether that is the passphrase."""
        return hmac.compare_digest(given.encode("utf-8", "replace"), self._text)

    def session(self, session_id: str, *, now_s: float) -> str:
        """Return the cookie of a new session."""
        named = f"{session_id}.{int(now_s) + SESSION_DAYS * _DAY_S}"
        return f"{named}.{self._signed(named)}"

    def opened(self, cookie: str, *, now_s: float) -> str:
        """Return the id of the session a cookie is of; "" where it is none, or ran out."""
        named, _, signed = cookie.rpartition(".")
        session_id, _, until = named.partition(".")
        if not (until.isascii() and until.isdecimal() and len(until) <= 12):
            return ""
        given = signed.encode("utf-8", "replace")
        holds = hmac.compare_digest(given, self._signed(named).encode())
        return session_id if holds and int(until) > now_s else ""

    def _signed(self, until: str) -> str:
        return hmac.new(self._key, until.encode(), "sha256").hexdigest()


def given_in(authorization: str) -> str | None:
    """Return the password of a Basic `Authorization` header; None where there is none."""
    scheme, _, encoded = authorization.partition(" ")
    if scheme.lower() != "basic":
        return None
    try:
        return base64.b64decode(encoded, validate=True).decode().partition(":")[2]
    except (binascii.Error, UnicodeDecodeError):
        return ""


def kept_secret(folder: Path) -> bytes:
    """Return the secret that signs a shop's sessions, made where there is none yet."""
    file = folder / _SECRET_FILE
    if not file.exists():
        file.touch(0o600)
        file.write_bytes(secrets.token_bytes(32))
    return file.read_bytes()


class Slowdown:
    """How many wrong passphrases came from each address lately, and who waits for an answer."""

    def __init__(self) -> None:
        self._wrong: OrderedDict[str, int] = OrderedDict()
        self._waiting: dict[str, int] = {}

    def full(self, address: str) -> bool:
        """Whether so many wait from that address that no other passphrase is looked at."""
        return self._waiting.get(address, 0) >= MOST_WAITING

    async def wrong(self, address: str) -> None:
        """Count a wrong passphrase and wait, longer each time."""
        count = self._wrong.pop(address, 0) + 1
        self._wrong[address] = count
        while len(self._wrong) > MOST_ADDRESSES:
            self._wrong.popitem(last=False)
        self._waiting[address] = self._waiting.get(address, 0) + 1
        try:
            delay = min(FIRST_DELAY_S * 2 ** min(count - 1, 10), LONGEST_DELAY_S)
            # An answer whose asker left still takes its time.
            await asyncio.shield(asyncio.sleep(delay))
        finally:
            self._waiting[address] -= 1
            if not self._waiting[address]:
                del self._waiting[address]

    def right(self, address: str) -> None:
        """Forget the wrong ones of an address."""
        self._wrong.pop(address, None)
