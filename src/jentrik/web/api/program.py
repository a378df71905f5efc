"""How a program works with the shop: typed bodies in, the changed thing out, each write once.

A write is one transaction.  `Idempotency-Key` names it: sent again it is not done again, and gives
the same answer.  `If-Match` with the `ETag` of what was read refuses a change of what has changed
since.  The steps themselves are those of the pages.
"""

import hashlib
import json
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager, nullcontext
from dataclasses import dataclass, replace
from datetime import date
from typing import Annotated, Any, TypeVar
from urllib.parse import unquote

from fastapi import Body, Depends, Header, Request
from pydantic import BaseModel
from starlette.responses import Response

from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.text import seen_text
from jentrik.core.work.display_units import METRIC
from jentrik.store.once import KeptAnswer, keep_answer, kept_answer, note_stored
from jentrik.store.people import person, person_of
from jentrik.store.rows import writing
from jentrik.web.plain_json import PlainJSON
from jentrik.web.server.tags import bare_tags
from jentrik.web.shop import LONGEST_WHO, AShop, Shop

LONGEST_KEY, LARGEST_PHOTO_BYTES = 100, 12_000_000
# What a page of another site could make a browser send without asking first.
_FORMS = ("application/x-www-form-urlencoded", "multipart/form-data", "text/plain")
T = TypeVar("T")


class ChangedSinceRead(Refusal):
    """A change of something that is not as it was read any more."""


class NotOfAProgram(Refusal):
    """A form, which a browser sends without asking."""


class NotForAKey(Refusal):
    """Something that a key does not open, whichever it is."""


class NamedTwice(Refusal):
    """One idempotency key for two writes."""


def etag_of(answer: Response) -> str:
    """Return the mark of an answer: another one where a byte of it differs."""
    return f'"{hashlib.sha256(bytes(answer.body)).hexdigest()[:32]}"'


def marked(document: Any, *, status: int = 200) -> PlainJSON:
    """Return a document as an answer with its mark."""
    answer = PlainJSON(document, status_code=status)
    answer.headers["ETag"] = etag_of(answer)
    return answer


@contextmanager
def fields_named(names: Mapping[str, str]) -> Iterator[None]:
    """Let a refusal within name the field of the body, not that of the page."""
    try:
        yield
    except Refusal as refusal:
        refusal.field = names.get(refusal.field or "", refusal.field)
        raise


def as_text(value: object) -> str:
    """Return a value as it is typed into a field; None clears it."""
    if value is None:
        return ""
    if value is True:
        return "yes"
    if isinstance(value, float):
        return f"{value:.15g}"
    return value.isoformat() if isinstance(value, date) else str(value)


@dataclass(frozen=True, slots=True)
class Program:
    """A program that asks: the shop it works in, and how it names and guards its write."""

    request: Request
    shop: Shop
    key: str = ""
    seen: str = ""

    def write(
        self,
        act: Callable[[], T],
        answer: Callable[[T], Any],
        *,
        now: Callable[[], Any] | None,
        sent: object = None,
        status: int = 200,
        long: bool = False,
        shown_once: str = "",
    ) -> Response:
        """Carry a write out once and return its answer; `now` gives the thing as it stands.

        Without `now` the write makes something new, which no `If-Match` can name.  One that is
        `long` and writes files alone lets others write meanwhile.  `shown_once` is what an answer
        sent again has as null.

        Refuses a thing that is not as the program read it, and a key that named another write.
        """
        with nullcontext() if long else writing(self.shop.database):
            asked = self._asked(sent)
            kept = kept_answer(self.client, self.key) if self.key else None
            if kept is not None:
                return self._again(kept, asked)
            if self.seen:
                self._refuse_changed(now)
            document = answer(act())
            given = marked(document, status=status)
            if self.key:
                kept_document = {**document, shown_once: None} if shown_once else document
                body = bytes(PlainJSON(kept_document).body).decode()
                done = KeptAnswer(asked, given.status_code, body)
                keep_answer(self.client, self.key, done, at=self.shop.now())
        note_stored()
        return given

    def _refuse_changed(self, now: Callable[[], Any] | None) -> None:
        """Refuse a write whose `If-Match` names no tag of what stands: one, a list, or any (*)."""
        tags = bare_tags(self.seen)
        if now is not None and (tags == {"*"} and now() is not None):
            return
        if now is None or etag_of(PlainJSON(now())) not in tags:
            raise ChangedSinceRead(
                "It was changed since you read it: read it again, then decide.",
                field="If-Match",
                expected="the ETag of what stands now",
            )

    @property
    def client(self) -> str:
        """Whose keys name its writes: the program's own, in whatever person's name it writes."""
        return f"program {getattr(self.request.state, 'program', '')}".strip()

    def _asked(self, sent: object) -> str:
        said = sent.model_dump_json() if isinstance(sent, BaseModel) else json.dumps(sent)
        url = self.request.url
        whole = f"{self.request.method} {url.path}?{url.query} {said}"
        return hashlib.sha256(whole.encode()).hexdigest()

    def _again(self, kept: KeptAnswer, asked: str) -> Response:
        if kept.asked != asked:
            raise NamedTwice(
                "That Idempotency-Key named another write: give each its own.",
                field="Idempotency-Key",
                expected="a key of its own",
            )
        answer = Response(kept.body, status_code=kept.status, media_type="application/json")
        answer.headers.update({"ETag": etag_of(answer), "Idempotent-Replay": "true"})
        return answer


def _person_named(given: str) -> str:
    """Return the name a header gives: a person's id, or a name percent-encoded in UTF-8."""
    try:
        name = seen_text(unquote(given, errors="strict")) if given.isascii() else ""
    except UnicodeDecodeError:
        name = ""
    if not name.strip():
        raise DocumentError(
            "The person's name must be percent-encoded UTF-8, like J%C3%B6rg, or an id.",
            field="Jentrik-Person",
            expected="a percent-encoded name, or a person's id",
        )
    by_id = person_of(int(name)) if name.isdecimal() and len(name) < 10 else None
    return by_id.name if by_id else " ".join(name.split())


def _program(
    request: Request,
    shop: AShop,
    idempotency_key: Annotated[
        str, Header(max_length=LONGEST_KEY, description="Names a write, so that it is done once")
    ] = "",
    if_match: Annotated[
        str, Header(max_length=2000, description="ETags of what was read, or *; else refused")
    ] = "",
    jentrik_person: Annotated[
        str, Header(max_length=LONGEST_WHO, description="Who the change is by")
    ] = "",
) -> Program:
    kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
    if kind in _FORMS:
        raise NotOfAProgram(
            "The API takes JSON, not a form.", field="Content-Type", expected="application/json"
        )
    request.state.units = METRIC
    program = getattr(request.state, "program", "")
    by = f"program {program}" if program else shop.who
    if jentrik_person:
        jentrik_person = _person_named(jentrik_person)
        known = person(jentrik_person)
        if known is not None and known.locked:
            raise OutOfRange(
                f"{known.name} has a passphrase: what {known.name} writes comes from a screen.",
                field="Jentrik-Person",
                expected="a person without a passphrase",
            )
        by = jentrik_person
    there = replace(shop, who=by[:LONGEST_WHO], screen="api", units=METRIC)
    return Program(request, there, idempotency_key, if_match)


# Whatever its kind is called, a picture is told by what it holds.
APicture = Annotated[
    bytes, Body(media_type="application/octet-stream", min_length=1, max_length=LARGEST_PHOTO_BYTES)
]
AProgram = Annotated[Program, Depends(_program)]
