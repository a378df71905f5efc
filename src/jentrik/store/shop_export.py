"""Writes the whole shop, or chosen machines and lists, as one document, line by line."""

import base64
import json
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from jentrik import __version__
from jentrik.core.days import with_offset
from jentrik.exchange.shop_format import FORMAT, GROUPS, LISTS, VERSION, Listing
from jentrik.store import photo_files
from jentrik.store.models import MachineTable
from jentrik.store.shop_columns import said
from jentrik.store.shop_ids import OutsideIds

_AT_ONCE = 500
_OF_JOB = "SELECT id FROM job WHERE machine_id IN ({of})"


@dataclass(frozen=True, slots=True)
class Wanted:
    """What of the shop is to be written; without machines and groups named, all of it."""

    machines: tuple[int, ...] = ()
    groups: Collection[str] = GROUPS
    photos: bool = False


def export(folder: Path, wanted: Wanted, *, now: datetime) -> Iterator[str]:
    """Yield the document in pieces, as it is at one moment."""
    database = MachineTable._meta.database
    with database.atomic():  # one moment, however long the reader takes
        ids = OutsideIds()
        head = {
            "format": FORMAT,
            "version": VERSION,
            "exported_at": with_offset(now.replace(microsecond=0)),
            "shop": ids.mark,
            "program": __version__,
        }
        yield "{\n" + ",\n".join(f" {_json(key)}: {_json(value)}" for key, value in head.items())
        files: list[str] = []
        for listing in LISTS:
            if listing.group not in wanted.groups or (wanted.machines and _of_shop(listing)):
                continue
            yield f",\n {_json(listing.name)}: ["
            between = "\n  "
            for line in _lines(listing, wanted.machines, ids):
                if listing.name in ("photos", "photographs"):
                    files.append(line["file"])
                elif line.get("photo"):
                    files.append(line["photo"])
                elif line.get("key") == "head.sign":
                    files.append(line["value"])
                yield between + _json(line)
                between = ",\n  "
            yield "]"
        if wanted.photos:
            yield from _photos(folder, files)
        yield "\n}\n"


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False)


def _of_shop(listing: Listing) -> bool:
    return listing.of == "shop" and listing.name != "machines"


def _lines(
    listing: Listing, machines: tuple[int, ...], ids: OutsideIds
) -> Iterator[dict[str, Any]]:
    """Yield the lines of a list by the number they have outside."""
    where, values = _where(listing, machines)
    found = MachineTable._meta.database.execute_sql(
        f"SELECT {listing.table}.*, outside FROM {listing.table}"  # noqa: S608  # tables of ours
        f" LEFT JOIN outside_id ON list = ? AND row_id = {listing.table}.id{where}"
        " ORDER BY outside IS NOT NULL, substr(outside, 1, 8),"
        " CAST(substr(outside, 10) AS INTEGER),"
        f" {listing.table}.id",
        (listing.name, *values),
    )
    names = [column[0] for column in found.description]
    for values_of in iter(lambda: found.fetchmany(_AT_ONCE), []):
        for value in values_of:
            row = dict(zip(names, value, strict=True))
            line: dict[str, Any] = {"id": ids.name(listing.name, row["id"])}
            yield line | {
                column.name: said(listing, column, row, ids) for column in listing.columns
            }


def _where(listing: Listing, machines: tuple[int, ...]) -> tuple[str, tuple[int, ...]]:
    if not machines:
        return "", ()
    of = ", ".join("?" for _ in machines)
    jobs = _OF_JOB.format(of=of)
    if listing.name == "machines":
        return f" WHERE {listing.table}.id IN ({of})", machines
    if listing.of == "machine":
        return f" WHERE machine_id IN ({of})", machines
    if listing.of == "ride":
        return f" WHERE ride_id IN (SELECT id FROM ride WHERE machine_id IN ({of}))", machines  # noqa: S608
    if listing.of == "card":
        return f" WHERE card_id IN (SELECT id FROM card WHERE job_id IN ({jobs}))", machines  # noqa: S608
    return f" WHERE job_id IN ({jobs})", machines


def _photos(folder: Path, files: Iterable[str]) -> Iterator[str]:
    yield ',\n "photo_files": {'
    between = "\n  "
    for name in sorted(set(files)):
        contents = photo_files.contents(folder, name)
        if contents is not None:
            yield f'{between}{_json(name)}: "{base64.b64encode(contents).decode()}"'
            between = ",\n  "
    yield "}"
