"""Reads a shop's document line by line, however long it is, and refuses what is no line of ours.

The ijson library reads it as a stream: no more than one line is held.  Everything that is wrong is
refused with the place where it stands, such as `jobs[3].due_on`.
"""

import base64
import binascii
import json
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from io import BytesIO
from typing import Any, BinaryIO

import ijson

from jentrik.core.errors import DocumentError
from jentrik.core.text import LONGEST_KEY, DocumentBytes
from jentrik.exchange.shop_checks import check_line
from jentrik.exchange.shop_format import FORMAT, LIST_BY_NAME, LISTS, VERSION, Column, Listing
from jentrik.exchange.strict_json import parse_json

DEEPEST, LONGEST_TEXT, LARGEST_PHOTO_BYTES = 60, 2_000_000, 20_000_000
ID = re.compile(r"(?P<shop>[0-9a-f]{8})-(?P<number>[1-9][0-9]{0,17})")
_SHOP = re.compile(r"[0-9a-f]{8}")
_PHOTO_NAME = re.compile(r"[0-9a-f]{32}\.(?:jpg|png|webp)")
_HEAD = ("format", "version", "exported_at", "shop", "program")
_ORDER = (*_HEAD, *(one.name for one in LISTS), "photo_files")
_KEYS = {one.name: frozenset({"id", *(c.name for c in one.columns)}) for one in LISTS}
LARGEST_OUT_OF_ORDER_BYTES = 60_000_000
_WHAT = {
    "text": "a text",
    "day": "a day like 2026-11-26",
    "moment": "a moment like 2026-11-26T09:00:00",
    "whole": "a whole number",
    "figure": "a figure",
    "yes": "true or false",
    "figures": "a list of figures",
    "words": "a list of words",
    "object": "an object",
    "ref": "the id of another line",
    "tire": "the number of a tire",
    "value": "a figure or a word",
    "parts": "an object of figures",
    "takes": "an object",
}


@dataclass(frozen=True, slots=True)
class Line:
    """A line of a list: where it stands, its list, its id and its values by key."""

    at: str
    listing: Listing
    id: str
    values: dict[str, Any]


@dataclass(frozen=True, slots=True)
class PhotoFile:
    """A photo's file as the document carries it."""

    name: str
    contents: bytes


@dataclass(frozen=True, slots=True)
class Head:
    """Which shop a document is of, or which other program, and when it was made."""

    shop: str
    exported_at: str
    another: bool = False  # no shop of ours: its lines have its own ids, and may leave keys out


def read_shop(file: BinaryIO) -> Iterator[Head | Line | PhotoFile]:
    """Yield the document's head, then every line in the order of the lists.

    The whole document is read once before the first line comes, so that one that is cut off or is
    no JSON is refused early.  Lists in another order are put in order where the document is not
    too large for that.  Refuses what is no document of ours.
    """
    try:
        file = _in_order(_Looked(file))
        yield from _Reader(file).items()
    except (ijson.JSONError, UnicodeDecodeError) as error:
        ends = any(word in str(error).lower() for word in ("incomplete", "premature"))
        said = "is cut off" if ends else "cannot be read as JSON"
        raise DocumentError(f"The document {said}.", expected="a whole JSON document") from None


class _Looked:
    """A document's file, looked at piece by piece before the parser sees it."""

    def __init__(self, file: BinaryIO) -> None:
        self._file = file
        self._digits = DocumentBytes()

    def read(self, size: int = -1) -> bytes:
        """Return the next piece; refuses digits no figure has."""
        return self._digits.look(self._file.read(size))

    def tell(self) -> int:
        """Return how far the file was read."""
        return self._file.tell()

    def seek(self, place: int) -> int:
        """Go to a place of the file."""
        self._digits = DocumentBytes()
        return self._file.seek(place)


def _in_order(file: Any) -> Any:
    """Return the document with its lists in order; the file is at its start again."""
    names, deep = [], 0
    for event, value in ijson.basic_parse(file):
        if event in ("start_map", "start_array"):
            deep += 1
            if deep > DEEPEST:
                raise _too_deep()
        elif event in ("end_map", "end_array"):
            deep -= 1
        elif event == "map_key" and deep == 1:
            names.append(value)
    size = file.tell()
    file.seek(0)
    places = [_ORDER.index(name) for name in names if name in _ORDER]
    if places == sorted(places):
        return file
    if size > LARGEST_OUT_OF_ORDER_BYTES:
        raise DocumentError(
            "The lists do not stand in their order, and the document is too large to be put in "
            "order here.",
            expected="the lists as an export writes them",
        )
    document = parse_json(file.read(), largest=LARGEST_OUT_OF_ORDER_BYTES)
    known = {name: document[name] for name in _ORDER if name in document}
    return BytesIO(json.dumps(known | document, ensure_ascii=False).encode())


def _too_deep() -> DocumentError:
    return DocumentError(
        f"The document is nested deeper than {DEEPEST} levels.", expected="an export of a shop"
    )


class _Reader:
    """Builds one value after another out of the stream's events, and counts how deep it is."""

    def __init__(self, file: BinaryIO) -> None:
        self.events = ijson.basic_parse(file)
        self.head = Head("", "")

    def items(self) -> Iterator[Head | Line | PhotoFile]:
        event, _ = self._next()
        if event != "start_map":
            raise DocumentError("The document is no object.", expected=f"a {FORMAT} document")
        head: dict[str, Any] = {}
        given = False
        for name in self._keys("document"):
            if name in _HEAD:
                head[name] = self._value(name, 1)
                continue
            if not given:
                self.head = _head_of(head)
                yield self.head
                given = True
            if name == "photo_files":
                yield from self._photos()
                continue
            if name not in LIST_BY_NAME:
                raise DocumentError(
                    f"“{name[:40]}” is no list of a shop's document.", field=name[:40]
                )
            yield from self._lines(LIST_BY_NAME[name])
        if not given:
            yield _head_of(head)
        for _ in self.events:
            raise DocumentError("Something follows the document's end.")

    def _next(self) -> tuple[str, Any]:
        try:
            event, value = next(self.events)
        except StopIteration:
            raise DocumentError("The document is cut off.", expected="a whole document") from None
        return event, value

    def _keys(self, at: str) -> Iterator[str]:
        """Yield the keys of the object that just began; each is there once."""
        seen: set[str] = set()
        while True:
            event, key = self._next()
            if event == "end_map":
                return
            if key in seen:
                raise DocumentError(f"“{key[:40]}” stands twice in {at}.", field=at)
            seen.add(key)
            yield key

    def _value(self, at: str, deep: int) -> Any:
        event, value = self._next()
        return self._built(event, value, at, deep)

    def _built(self, event: str, value: Any, at: str, deep: int) -> Any:
        if deep > DEEPEST:
            raise _too_deep()
        if event == "start_map":
            return {key: self._value(f"{at}.{key}", deep + 1) for key in self._keys(at)}
        if event == "start_array":
            return list(self._array(at, deep))
        if isinstance(value, Decimal):
            return float(value)
        if isinstance(value, str) and len(value) > LONGEST_TEXT:
            raise DocumentError("That text is longer than any of ours.", field=at[:80])
        return value

    def _array(self, at: str, deep: int) -> Iterator[Any]:
        while True:
            event, value = self._next()
            if event == "end_array":
                return
            yield self._built(event, value, at, deep + 1)

    def _lines(self, listing: Listing) -> Iterator[Line]:
        event, _ = self._next()
        if event != "start_array":
            raise DocumentError(f"“{listing.name}” is no list.", field=listing.name)
        seen: set[str] = set()
        for number, values in enumerate(self._array(listing.name, 1)):
            line = _line(listing, values, f"{listing.name}[{number}]", self.head)
            if line.id in seen:
                raise DocumentError(f"{line.at} has the id of a line before it.", field=line.at)
            seen.add(line.id)
            yield line

    def _photos(self) -> Iterator[PhotoFile]:
        event, _ = self._next()
        if event != "start_map":
            raise DocumentError("“photo_files” is no object.", field="photo_files")
        for name in self._keys("photo_files"):
            event, text = self._next()
            if not _PHOTO_NAME.fullmatch(name) or event != "string":
                raise DocumentError(
                    f"“{name[:50]}” is no photo's file.", field="photo_files", expected="a photo"
                )
            if len(text) > LARGEST_PHOTO_BYTES * 4 // 3 + 4:
                raise DocumentError(f"The photo {name} is too large.", field="photo_files")
            try:
                yield PhotoFile(name, base64.b64decode(text, validate=True))
            except binascii.Error:
                raise DocumentError(
                    f"The photo {name} cannot be read.", field="photo_files", expected="base64"
                ) from None


def _head_of(head: dict[str, Any]) -> Head:
    if head.get("format") != FORMAT:
        raise DocumentError(
            f"This is no {FORMAT} document.", field="format", expected=f"“{FORMAT}” first of all"
        )
    if head.get("version") != VERSION or isinstance(head["version"], bool):
        raise DocumentError(
            f"This is version {str(head.get('version'))[:20]} of the format; version {VERSION} "
            "is read here.",
            field="version",
            expected=f"version {VERSION}",
        )
    shop, at = head.get("shop"), head.get("exported_at")
    another = shop.get("name") if isinstance(shop, dict) and shop.keys() == {"name"} else None
    name = shop if another is None else another
    long = another is not None and 0 < len(str(name).strip()) <= LONGEST_KEY
    if not isinstance(name, str) or not (long or _SHOP.fullmatch(name)):
        raise DocumentError(
            "The document does not say of which shop it is.",
            field="shop",
            expected="a shop's mark, or the name of another program",
        )
    if not isinstance(at, str) or not _is_moment(at):
        raise DocumentError("The document does not say when it was made.", field="exported_at")
    return Head(name, at, another=another is not None)


def _with_what_is_usual(listing: Listing, values: dict[str, Any], head: Head) -> dict[str, Any]:
    """Return a line of another program, with what it leaves out as it usually is."""
    usual: dict[str, Any] = {
        "text": "",
        "day": head.exported_at[:10],
        "moment": head.exported_at,
        "whole": 1,
        "yes": False,
        "figures": [],
        "words": [],
        "object": {},
        "takes": {},
    }
    filled = {
        one.name: None if one.optional else usual[one.kind]
        for one in listing.columns
        if one.optional or (one.kind in usual and not one.among)
    }
    if "external_id" in filled:
        filled["external_id"] = values.get("id", "")
    return filled | values


def _line(listing: Listing, values: Any, at: str, head: Head) -> Line:
    if not isinstance(values, dict):
        raise DocumentError(f"{at} is no object.", field=at, expected="an object")
    later = {column.name: column.absent for column in listing.columns if column.later}
    values = later | (_with_what_is_usual(listing, values, head) if head.another else values)
    if values.keys() != _KEYS[listing.name]:
        raise _other_keys(values, _KEYS[listing.name], at)
    own = values["id"]
    if not _is_id(own, head):
        raise DocumentError(f"{at} has no id.", field=f"{at}.id", expected="an id like 0a1b2c3d-7")
    for column in listing.columns:
        if not _holds(column, values[column.name], head):
            one_of = f"one of {', '.join(column.among)}" if column.among else _WHAT[column.kind]
            raise DocumentError(
                f"{at}.{column.name} is not {one_of}.", field=f"{at}.{column.name}", expected=one_of
            )
    known = {column.name: values[column.name] for column in listing.columns}
    check_line(listing, known, at)
    return Line(at, listing, own, known)


def _other_keys(values: dict[str, Any], known: frozenset[str], at: str) -> DocumentError:
    """Return the refusal of a line that has a key too many or too few."""
    unknown = next((key for key in values if key not in known), None)
    if unknown is not None:
        return DocumentError(f"{at} has “{unknown[:40]}”, which is no key of it.", field=at)
    missing = next(key for key in sorted(known) if key not in values)
    return DocumentError(f"{at} has no “{missing}”.", field=at, expected=f"the key “{missing}”")


def _holds(column: Column, value: Any, head: Head) -> bool:
    """Whether a value can stand in a column."""
    if value is None:
        return column.optional
    if column.kind in ("ref", "tire"):
        return _is_id(value, head)
    if column.among:
        return value in column.among
    return bool(_CAN[column.kind](value))


def _is_figure(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < 1e12


def _is_whole(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool) and abs(value) < 2**53


def _is_day(value: Any) -> bool:
    try:
        return isinstance(value, str) and date.fromisoformat(value).isoformat() == value
    except ValueError:
        return False


def _is_moment(value: Any) -> bool:
    try:
        return isinstance(value, str) and datetime.fromisoformat(value).year > 0
    except ValueError:
        return False


def _is_id(value: Any, head: Head) -> bool:
    """Whether a value is the id of a line: one of a shop's, or another program's own."""
    if not isinstance(value, str):
        return False
    return 0 < len(value.strip()) <= LONGEST_KEY if head.another else bool(ID.fullmatch(value))


def _are_parts(value: Any) -> bool:
    return isinstance(value, dict) and all(
        isinstance(one, dict)
        and (_is_figure(one.get("value")) or isinstance(one.get("value"), str))
        and _is_day(one.get("taken_on"))
        for one in value.values()
    )


def _are(kind: Any) -> Any:
    return lambda value: isinstance(value, list) and all(map(kind, value))


_CAN: dict[str, Any] = {
    "text": lambda value: isinstance(value, str),
    "day": _is_day,
    "moment": _is_moment,
    "whole": _is_whole,
    "figure": _is_figure,
    "yes": lambda value: isinstance(value, bool),
    "figures": _are(_is_figure),
    "words": _are(lambda value: isinstance(value, str)),
    "object": lambda value: isinstance(value, dict),
    "value": lambda value: isinstance(value, str) or _is_figure(value),
    "parts": _are_parts,
    "takes": lambda value: isinstance(value, dict),
}
