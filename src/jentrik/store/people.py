"""Who works here: a name, initials, and, for those who choose one, a passphrase to write under it.

A passphrase is kept as scrypt makes it (RFC 7914; N 2^14, r 8, p 1: about 16 MB and 50 ms a try).
"""

import hashlib
import hmac
import secrets
import unicodedata
from dataclasses import dataclass

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.text import seen_text
from jentrik.core.units import read_figure
from jentrik.store import journal, models
from jentrik.store.rows import Row, first_row, rows

LONGEST_NAME, LONGEST_INITIALS, SHORTEST_PASSPHRASE = 40, 4, 6


@dataclass(frozen=True, slots=True)
class Person:
    """Someone who works here."""

    id: int
    name: str
    initials: str
    secret: str | None = None
    hours_a_day: float | None = None  # at the bench; None is as the shop's day
    external_id: str = ""  # another program's own key

    @property
    def locked(self) -> bool:
        """Whether their passphrase is asked for before a screen takes their name."""
        return self.secret is not None


def people() -> list[Person]:
    """Return who works here, by name."""
    return [_person(row) for row in rows("SELECT * FROM person ORDER BY name_key")]


def name_key(name: str) -> str:
    """Return what two spellings of one name share: letters alike, single spaces, nothing unseen."""
    plain = unicodedata.normalize("NFKC", seen_text(name))
    return " ".join(plain.split()).casefold()


def person(name: str) -> Person | None:
    """Return someone by their name, however it is spelled; None where they are not listed."""
    key = name_key(name)
    return next((one for one in people() if name_key(one.name) == key), None) if key else None


def listed_name(name: str) -> str:
    """Return the name of someone on the list as it stands there, "" for none; refuses others."""
    known = person(name) if name.strip() else None
    if name.strip() and known is None:
        raise OutOfRange(
            f"“{name.strip()[:40]}” is not on the list of people.",
            field="whose",
            expected="someone who works here",
        )
    return known.name if known else ""


def person_of(person_id: int) -> Person | None:
    """Return someone by their number; None where they are not listed."""
    row = first_row("SELECT * FROM person WHERE id = ?", person_id)
    return None if row is None else _person(row)


def _person(row: Row) -> Person:
    return Person(
        row["id"],
        row["name"],
        row["initials"],
        row["secret"],
        row["hours_a_day"],
        row["external_id"],
    )


def initials_of(name: str) -> str:
    """Return the first letters of a name's words, in capitals."""
    return "".join(word[0] for word in name.split())[:LONGEST_INITIALS].upper()


def add_person(step: journal.Step, name: str, initials: str = "") -> Person:
    """Add someone within a step; who is listed already stays as they are."""
    name, initials = " ".join(seen_text(name).split()), "".join(initials.split())
    if not name or len(name) > LONGEST_NAME:
        raise OutOfRange(
            f"A name has at most {LONGEST_NAME} letters.", field="name", expected="a name"
        )
    if len(initials) > LONGEST_INITIALS:
        raise OutOfRange(f"Initials have at most {LONGEST_INITIALS} letters.", field="initials")
    known = person(name)
    if known is not None:
        return known
    initials = initials or initials_of(name)
    row_id = step.insert(
        models.PersonTable,
        name=name,
        name_key=name_key(name),
        initials=initials,
        secret=None,
        hours_a_day=None,
    )
    return Person(row_id, name, initials)


def set_external_id(step: journal.Step, known: Person, key: str) -> None:
    """Change someone's key in another program within a step."""
    step.update(models.PersonTable, known.id, external_id=key)


def set_hours(step: journal.Step, known: Person, typed: str) -> None:
    """Change how many hours a day someone is there within a step; blank is as the shop's day."""
    hours = None if not typed.strip() else read_figure(typed, unit="h")
    if hours is not None and not 0.5 <= hours <= 24:
        raise OutOfRange("Hours a day are 0.5 to 24.", field="hours", expected="hours")
    step.update(models.PersonTable, known.id, hours_a_day=hours)


def set_initials(step: journal.Step, known: Person, initials: str) -> None:
    """Change someone's initials within a step."""
    initials = "".join(initials.split())
    if not 0 < len(initials) <= LONGEST_INITIALS:
        raise OutOfRange(f"Initials are one to {LONGEST_INITIALS} letters.", field="initials")
    step.update(models.PersonTable, known.id, initials=initials)


def set_passphrase(step: journal.Step, known: Person, passphrase: str) -> None:
    """Set someone's passphrase within a step; "" asks for none any more."""
    if passphrase and len(passphrase) < SHORTEST_PASSPHRASE:
        raise OutOfRange(
            f"A passphrase has at least {SHORTEST_PASSPHRASE} letters.",
            field="passphrase",
            expected="a longer passphrase",
        )
    secret = None
    if passphrase:
        salt = secrets.token_bytes(16)
        secret = f"{salt.hex()}${_scrypt(passphrase, salt).hex()}"
    step.update(models.PersonTable, known.id, secret=secret)


def remove_person(step: journal.Step, person_id: int) -> None:
    """Take someone off the list within a step; what they wrote keeps their name."""
    if first_row("SELECT 1 FROM person WHERE id = ?", person_id) is None:
        raise StoreError("They are not on the list any more.", expected="someone on the list")
    step.delete(models.PersonTable, person_id)


def is_passphrase(known: Person, given: str) -> bool:
    """Whether that is someone's passphrase; who has none needs none."""
    if known.secret is None:
        return True
    salt, _, kept = known.secret.partition("$")
    return hmac.compare_digest(_scrypt(given, bytes.fromhex(salt)).hex(), kept)


def _scrypt(passphrase: str, salt: bytes) -> bytes:
    return hashlib.scrypt(passphrase.encode("utf-8", "replace"), salt=salt, n=2**14, r=8, p=1)
