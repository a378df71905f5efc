"""Fields that save as they change: one protocol between the pages and every answer.

A page sends `name=text`, with it `seen:name` (what stood there when the person began) and
`visit:name` (one stay in that field).  Asked with the header `X-Live`, each field is stored or
refused for itself, in order, and the header `X-Fields` of the answer says of each what became of
it and what is stored now.  A plain form is all or nothing.  Either way a figure that was changed
since it was seen is refused, with both values.
"""

import json
import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol, TypeVar

from fastapi import Request
from starlette.responses import Response

from jentrik.core.errors import ChangedMeanwhile, Refusal
from jentrik.store.journal import Step
from jentrik.store.once import note_stored
from jentrik.store.rows import first_row, writing
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import Shop

LIVE_HEADER, FIELDS_HEADER = "X-Live", "X-Fields"
LONGEST_SUBJECT, LONGEST_VISIT = 200, 40


@dataclass(frozen=True, slots=True)
class Sent:
    """One field as it was sent: its name, its text, what its writer saw, and which visit it was."""

    name: str
    text: str
    seen: str | None = None
    visit: str = ""


@dataclass(frozen=True, slots=True)
class Write:
    """A write that an answer asks for: its words, what it does, and whose change it is."""

    label: str
    act: Callable[[Step], object]
    scope: Mapping[str, int]


class Reader(Protocol):
    """What reads the answers of one page: a sheet and its job, the policy, an order list."""

    @property
    def subject(self) -> str:
        """What a change made through it is of."""

    def stored(self, name: str) -> str | None:
        """Return the text a field of the page shows now; None where it is no field of it."""

    def unit(self, name: str) -> str:
        """Return the unit a field's figure is kept in; "" where it has none, or is a name."""

    def read(self, name: str, text: str) -> list[Write]:
        """Return the writes one answer asks for; refuses what the field cannot hold."""


AReader = TypeVar("AReader", bound=Reader)


@dataclass(frozen=True, slots=True)
class Answered:
    """What became of the fields that were sent."""

    typed: Typed
    labels: list[str]
    fields: dict[str, dict[str, str | None]] = field(default_factory=dict)

    def mark(self, response: Response) -> Response:
        """Return a response that says of each field what became of it."""
        if self.fields:
            response.headers[FIELDS_HEADER] = json.dumps(self.fields)
        return response


def is_live(request: Request) -> bool:
    """Whether a request is of fields that save as they change."""
    return LIVE_HEADER in request.headers


def sent_fields(form: Iterable[tuple[str, Any]], kinds: Iterable[str]) -> list[Sent]:
    """Return the fields of these kinds in a form, in order, each once with its last text."""
    texts = {name: value for name, value in form if isinstance(value, str)}
    wanted = frozenset(kinds)
    return [
        Sent(name, text, texts.get(f"seen:{name}"), texts.get(f"visit:{name}", "")[:LONGEST_VISIT])
        for name, text in texts.items()
        if name.partition(":")[0] in wanted
    ]


def take_fields(
    shop: Shop, fields: list[Sent], load: Callable[[], AReader], *, live: bool
) -> tuple[AReader, Answered]:
    """Read, check and write fields in one transaction; return the reader as it stands after it."""
    if live:
        with writing(shop.database):
            answered = _one_by_one(shop, fields, load, load())
        if answered[1].labels:
            note_stored()
        return answered
    with writing(shop.database):
        reader = load()
        refusals: dict[str, Refusal] = {}
        writes: list[Write] = []
        for one in fields:
            if one.seen is not None and one.text == one.seen:
                continue  # left as it was seen
            try:
                writes += _read(shop, reader, one)
            except Refusal as refusal:
                refusals[one.name] = refusal
        if not refusals and writes:
            subject = f"{reader.subject} {' '.join(one.name for one in fields)}"[:LONGEST_SUBJECT]
            label = "; ".join(one.label for one in writes)
            with shop.step(label, subject, scope=_scope(writes)) as step:
                for write in writes:
                    write.act(step)
        if refusals:
            reader = load()
    if writes and not refusals:
        note_stored()
    typed = Typed({one.name: one.text for one in fields}, refusals) if refusals else NOTHING_TYPED
    return reader, Answered(typed, [] if refusals else [one.label for one in writes])


def _scope(writes: list[Write]) -> Mapping[str, int]:
    """Return whose change several writes are: the machine's where one of them is."""
    return next((write.scope for write in writes if "machine_id" in write.scope), writes[0].scope)


def _one_by_one(
    shop: Shop, fields: list[Sent], load: Callable[[], AReader], reader: AReader
) -> tuple[AReader, Answered]:
    labels: list[str] = []
    refusals: dict[str, Refusal] = {}
    became: dict[str, dict[str, str | None]] = {}
    for one in fields:
        try:
            for write in _read(shop, reader, one):
                subject = f"{reader.subject} {one.name}"[:LONGEST_SUBJECT]
                with shop.step(write.label, subject, visit=one.visit, scope=write.scope) as step:
                    write.act(step)
                labels.append(write.label)
        except Refusal as refusal:
            reader = load()
            refusals[one.name] = refusal
    for one in fields:
        why = refusals.get(one.name)
        became[one.name] = {
            "state": "stored" if why is None else "refused",
            "text": _as_seen(shop, reader, one.name),
            "why": shop.units.restated(why.message) if why else "",
        }
    texts = {one.name: one.text for one in fields if one.name in refusals}
    return reader, Answered(Typed(texts, refusals), labels, became)


def _as_seen(shop: Shop, reader: Reader, name: str) -> str | None:
    """Return the text a field shows whoever is at this screen."""
    stored = reader.stored(name)
    return None if stored is None else shop.units.as_seen(stored, reader.unit(name))


def _read(shop: Shop, reader: Reader, one: Sent) -> list[Write]:
    """Return the writes one field asks for; what is typed without a unit is in the one seen."""
    now = _as_seen(shop, reader, one.name)
    _refuse_unseen(reader, one, now)
    if one.text == now:
        confirm = getattr(reader, "confirm", None) if one.visit else None
        return confirm(one.name) if confirm else []
    figure, how = how_said(one.text)
    kept = shop.units.in_kept(figure, reader.unit(one.name))
    return reader.read(one.name, f"{kept} {how}".rstrip())


_HOW = re.compile(r"(?P<figure>.*\S) (?P<how>corrected|changed)")


def how_said(text: str) -> tuple[str, str]:
    """Return a typed figure, and the word behind it that says why it is another: "" for none."""
    said = _HOW.fullmatch(text)
    return (text, "") if said is None else (said["figure"], said["how"])


def _refuse_unseen(reader: Reader, one: Sent, now: str | None) -> None:
    """Refuse a change of a figure that was changed by another since its writer saw it."""
    if one.seen is None or now is None or now in (one.seen, one.text):
        return
    raise ChangedMeanwhile(
        f"{_last_writer(reader, one.name)} put {f'“{now}”' if now else 'nothing'} here since you "
        f"opened it; you typed {f'“{one.text}”' if one.text else 'nothing'}. Choose one.",
        field=one.name,
        expected="a choice between the two",
        suggestions=tuple(dict.fromkeys((now, one.text))),
    )


def _last_writer(reader: Reader, name: str) -> str:
    row = first_row(
        "SELECT by FROM change WHERE subject = ? AND undone_at IS NULL ORDER BY id DESC LIMIT 1",
        f"{reader.subject} {name}"[:LONGEST_SUBJECT],
    )
    return (row["by"] if row else "") or "Another screen"
