"""Text as it may come in: no character that is not seen, and digits no parser chokes on.

Control characters, zero-width and bidirectional marks and halves of a character are no letters of
any name or note here; in a drawing, a calendar or a table they break what is around them.  What
is typed loses them, a document that carries one is refused.
"""

import re

from jentrik.core.amounts import JOINER, UNIT_SAID_ONCE
from jentrik.core.errors import DocumentError, OutOfRange

LONGEST_DIGITS = 2000  # in a row: no figure of a machine, shop or clock has as many
_UNSEEN = re.compile(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u00ad\u034f\u061c\u115f\u1160\u17b4\u17b5\u180b-\u180f"
    "\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufe00-\ufe0f\ufeff\ufff0-\ufffb\ud800-\udfff"
    "\U000e0000-\U000e0fff]"
)
# An escaped half of a pair that the other half does not follow, or stand before.
_HALF = re.compile(
    rb"(?<!\\)(?:\\\\)*(?:\\u[dD][89abAB][0-9a-fA-F]{2}(?=[^\\]|\\(?!u[dD][c-fC-F]))"
    rb"|(?<!\\u[dD][89abAB][0-9a-fA-F]{2})\\u[dD][c-fC-F][0-9a-fA-F]{2})"
)
_LONG_RUN = re.compile(rb"[0-9]{%d}" % LONGEST_DIGITS)


def seen_text(text: str) -> str:
    """Return a typed text without the characters that are not seen."""
    return text if text.isascii() and text.isprintable() else _UNSEEN.sub("", text)


def refuse_unseen(value: object, at: str = "") -> None:
    """Refuse a document's value that carries an unseen character anywhere, by its path."""
    if isinstance(value, str):
        found = None if value.isascii() and value.isprintable() else _UNSEEN.search(_bare(value))
        if found is not None:
            raise DocumentError(
                f"“{at or 'the document'}” has a character that is not seen "
                f"(U+{ord(found[0]):04X}).",
                field=at or None,
                position=found.start(),
                expected="text without control or invisible characters",
            )
    elif isinstance(value, dict):
        for key, part in value.items():
            refuse_unseen(key, at)
            refuse_unseen(part, f"{at}.{key}" if at else str(key))
    elif isinstance(value, list):
        for place, part in enumerate(value):
            refuse_unseen(part, f"{at}[{place}]")


def _bare(text: str) -> str:
    """Return a text with our own marks of a unit said once as blanks: each place stays."""
    return UNIT_SAID_ONCE.sub(lambda mark: " " * len(mark[0]), text) if JOINER in text else text


class DocumentBytes:
    """Looks at a document piece by piece for what makes a parser fail before it can refuse.

    More digits in a row than any figure has, and half of a character written as an escape.
    """

    def __init__(self) -> None:
        self._tail = b""

    def look(self, piece: bytes) -> bytes:
        """Return the piece; refuses it before any parser sees it."""
        whole = self._tail + piece
        if _HALF.search(whole):
            raise DocumentError(
                "The document has half of a character.", expected="text of whole characters"
            )
        if _LONG_RUN.search(whole):
            raise DocumentError(
                f"A figure in the document has more than {LONGEST_DIGITS} digits.",
                expected="ordinary figures",
            )
        self._tail = piece[-LONGEST_DIGITS:]
        return piece


def one_line(text: str, *, most: int) -> str:
    """Return words with single spaces between; refuses more than a field holds."""
    line = " ".join(text.split())
    if len(line) > most:
        raise OutOfRange(
            f"That is {len(line)} characters; at most {most} stand here.", expected="fewer words"
        )
    return line


LONGEST_KEY = 100


def external_key(typed: str) -> str:
    """Return another program's own key of a thing, "" for none; refuses a longer one."""
    return one_line(typed, most=LONGEST_KEY)


def counted(typed: object, *, most: int = 2**62) -> int | None:
    """Return a whole number from 0 to `most` as it is typed; None where it is none."""
    text = str(typed if typed is not None else "")
    if not (text.isascii() and text.isdecimal() and len(text) <= len(str(most))):
        return None
    number = int(text)
    return number if number <= most else None
