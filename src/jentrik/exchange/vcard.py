"""Owners as vCards, for any address book.  Source: RFC 6350 (vCard 4.0): escapes and folding."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from uuid import NAMESPACE_URL, uuid5

_LONGEST = 75  # bytes of a line, without its end
_ESCAPED = re.compile(r"[\\,;]|\r?\n")


@dataclass(frozen=True, slots=True)
class Owner:
    """An owner: a name, a phone or none, and the machines they brought."""

    name: str
    phone: str
    machines: tuple[str, ...]


def vcards(owners: Iterable[Owner], *, shop: str) -> str:
    """Return one card an owner, each with an id that stays the same for the name in that shop."""
    return "".join(f"{line}\r\n" for owner in owners for line in _card(owner, shop))


def _card(owner: Owner, shop: str) -> Iterable[str]:
    yield "BEGIN:VCARD"
    yield "VERSION:4.0"
    yield f"UID:{uuid5(NAMESPACE_URL, f'{shop} {owner.name.casefold()}').urn}"
    yield from _folded(f"FN:{_text(owner.name)}")
    if owner.phone:
        yield from _folded(f"TEL:{_text(owner.phone)}")
    yield from _folded(f"NOTE:{_text(', '.join(owner.machines))}")
    yield "END:VCARD"


def _text(value: str) -> str:
    return _ESCAPED.sub(lambda one: "\\n" if one[0].endswith("\n") else f"\\{one[0]}", value)


def _folded(line: str) -> Iterable[str]:
    """Yield a line in pieces no longer than the standard's, never within a letter."""
    piece, size = "", 0
    for letter in line:
        width = len(letter.encode())
        if size + width > _LONGEST:
            yield piece
            piece, size = " ", 1
        piece, size = piece + letter, size + width
    yield piece
