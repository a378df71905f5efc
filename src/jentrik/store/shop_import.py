"""Brings a shop's document in: all of it in one transaction, or none of it.

A line known here by its name outside is compared and changed where it says otherwise; one that is
not known is added under a number of its own.  What is sealed here, a done job and the set-ups of
work that was done, stays as it is.  An empty shop takes the document's shop for its own, with its
numbers.  Nothing is deleted.
"""

import hashlib
from collections import Counter
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any, BinaryIO

import peewee

from jentrik.core.errors import DocumentError
from jentrik.exchange.shop_format import LISTS, Column, Listing
from jentrik.exchange.shop_reading import Head, Line, PhotoFile, read_shop
from jentrik.store import journal, photo_files, shop_check
from jentrik.store.journal import NO_ONE, Author, insert_row, next_id, update_row
from jentrik.store.models import TABLES
from jentrik.store.records import numbered
from jentrik.store.rows import Row, first_row, rows, writing
from jentrik.store.shop_columns import kept, same
from jentrik.store.shop_ids import TIRES, OutsideIds, adopt_mark, shop_mark
from jentrik.store.wheels import next_tire_id, use_tire_ids_up_to

_MODELS = {model._meta.table_name: model for model in TABLES}
_NAMED = ("machines", "people")  # lists that also keep a line's name case folded
_EVERY = 1000  # lines between two words about how far it is
Progress = Callable[[str, int], None]


@dataclass(slots=True)
class Report:
    """What a document adds, changes and leaves as it is, list by list, and what stays sealed."""

    shop: str
    exported_at: str
    added: Counter[str] = field(default_factory=Counter)
    changed: Counter[str] = field(default_factory=Counter)
    left: Counter[str] = field(default_factory=Counter)
    sealed: Counter[str] = field(default_factory=Counter)
    photos: int = 0

    def as_document(self) -> dict[str, Any]:
        """Return the counts as plain values."""
        return {
            "shop": self.shop,
            "exported_at": self.exported_at,
            **{
                name: {one.name: counts[one.name] for one in LISTS if counts[one.name]}
                for name, counts in (
                    ("added", self.added),
                    ("changed", self.changed),
                    ("left", self.left),
                    ("sealed", self.sealed),
                )
            },
            "photos": self.photos,
        }

    def in_words(self) -> str:
        """Return the counts in a sentence."""
        counted = {"added": self.added, "changed": self.changed, "left": self.left}
        said = [f"{counts.total()} {word}" for word, counts in counted.items()]
        if self.sealed:
            said.append(f"{self.sealed.total()} differ but are sealed here and stay")
        return ", ".join(said)


class _OnlyTried(Exception):  # no error: how a trial run leaves its transaction
    """Ends a trial run: what was written in it is taken back."""


def import_shop(
    database: peewee.SqliteDatabase,
    folder: Path,
    file: BinaryIO,
    *,
    now: datetime,
    author: Author = NO_ONE,
    dry_run: bool = False,
    progress: Progress | None = None,
) -> Report:
    """Bring a document in and return what it changed; a dry run changes nothing.

    Refuses a document that is not one of ours, or whose lines do not hold together here; then
    nothing is changed either.
    """
    there: _Import | None = None
    try:
        with suppress(_OnlyTried), writing(database):
            there = _Import(folder, dry_run=dry_run, progress=progress)
            there.read(file)
            if dry_run:
                raise _OnlyTried
            there.note(now, author)
    except peewee.IntegrityError as error:
        at = there.at if there else ""
        raise DocumentError(f"{at}: {_clash(str(error))}", field=at or None) from None
    assert there is not None
    return there.report


def _clash(said: str) -> str:
    """Return what a constraint of the database says, in a sentence."""
    if "machine.name_key" in said:
        return "another machine here has that name; rename one of them first."
    return "it does not go with what is stored here."


class _Import:
    """One document on its way in."""

    def __init__(self, folder: Path, *, dry_run: bool, progress: Progress | None) -> None:
        self.folder, self.dry_run, self.progress = folder, dry_run, progress
        self.report = Report("", "")
        self.at, self.newest_tire = "", 0
        self.machines: set[int] = set()
        self._late: list[tuple[Line, Column, int]] = []
        self._there: dict[str, set[int]] = {}
        self._photos: set[str] = set()
        self._lists = {one.name: one for one in LISTS}

    def read(self, file: BinaryIO) -> None:
        """Bring every line in, then see that it holds together."""
        items = read_shop(file)
        head = next(items)
        assert isinstance(head, Head)
        self.report.shop, self.report.exported_at = head.shop, head.exported_at
        if not head.another and head.shop != shop_mark() and _is_empty():
            adopt_mark(head.shop)
        self.ids = OutsideIds(head.shop if head.another else "")
        self.another = head.another
        self.sealed_jobs = _numbers("SELECT DISTINCT job_id FROM job_document WHERE kind = 'job'")
        self.sealed_setups = _numbers("SELECT id FROM setup WHERE sealed_on IS NOT NULL")
        for count, item in enumerate(items):
            if isinstance(item, PhotoFile):
                self._photo(item)
            elif isinstance(item, Line):
                self._line(item)
            if self.progress and count % _EVERY == 0:
                self.progress(self.at.partition("[")[0], count)
        for line, column, number in self._late:
            self.at = line.at
            value = self._kept(line, column)
            update_row(_MODELS[line.listing.table], number, {column.kept: value})
        self.at = ""
        shop_check.check_machines(sorted(self.machines))
        if self.report.added["templates"] or self.report.changed["templates"]:
            shop_check.check_templates()

    def note(self, now: datetime, author: Author) -> None:
        """Write into the journal that a document came in; it is not taken back by undo."""
        if self.report.added or self.report.changed:
            insert_row(
                _MODELS["change"],
                {
                    "id": next_id(_MODELS["change"]),
                    "at": now.isoformat(),
                    "subject": f"{journal.STAYS} imported",
                    "label": f"imported: {self.report.in_words()}"[: journal.LONGEST_LABEL],
                    "entries": "[]",
                    "by": author.name,
                    "screen": author.screen,
                    "visit": "",
                },
            )

    def _numbers_of(self, name: str) -> set[int]:
        if name not in self._there:
            self._there[name] = _numbers(f"SELECT id FROM {self._lists[name].table}")  # noqa: S608
        return self._there[name]

    def _find(self, name: str, outside: str) -> int:
        """Return the number here of a line of a list; refuses one that is not here."""
        number = self.ids.number(name, outside)
        if name == TIRES:
            if number is None:
                number = next_tire_id()
                self.ids.keep(TIRES, outside, number)
            if number > self.newest_tire:  # the next one made here or read is a newer one
                self.newest_tire = number
                use_tire_ids_up_to(number)
            return number
        if number is None or number not in self._numbers_of(name):
            raise DocumentError(
                f"{self.at} speaks of {outside}, which is not among the {name.replace('_', ' ')}.",
                field=self.at,
                expected=f"a line of {name}",
            )
        return number

    def _kept(self, line: Line, column: Column) -> Any:
        return kept(column, line.values, self._find)

    def _line(self, line: Line) -> None:
        self.at, listing = line.at, line.listing
        number = self.ids.number(listing.name, line.id)
        key = line.values.get("external_id")
        if number is None and self.another and key:
            number = numbered(listing.table, external_id=str(key))
        here = number is not None and number in self._numbers_of(listing.name)
        there = _row(listing, number) if here and number is not None else None
        if there is None and listing.key:
            there = _row_by_key(listing, line)
        late = _LATE.get(listing.name, ())
        new = {
            column.kept: None if column in late else self._kept(line, column)
            for column in listing.columns
        }
        if listing.name in _NAMED:
            new["name_key"] = str(new["name"]).casefold()
        if there is None:
            number = self._add(line, number, new)
        else:
            number = int(there["id"])
            if self.another:
                self.ids.keep(listing.name, line.id, number)
            self._compare(line, there, new, late)
        if listing.name == "machines" or "machine_id" in new:
            machine = number if listing.name == "machines" else new["machine_id"]
            if machine is not None:
                self.machines.add(int(machine))
        self._late += [(line, column, number) for column in late if line.values[column.name]]

    def _add(self, line: Line, number: int | None, new: Row) -> int:
        listing, model = line.listing, _MODELS[line.listing.table]
        if number is None or number in self._numbers_of(listing.name):
            number = next_id(model)
        if listing.name == "jobs":
            new["tag"] = _free_tag(new["tag"])
        insert_row(model, {"id": number, **new})
        self.ids.keep(listing.name, line.id, number)
        self._numbers_of(listing.name).add(number)
        self.report.added[listing.name] += 1
        return number

    def _compare(self, line: Line, there: Row, new: Row, late: tuple[Column, ...]) -> None:
        listing = line.listing
        own = line.id.startswith(self.ids.mark)
        differs = {
            column.kept: new[column.kept]
            for column in listing.columns
            if column not in late
            and not (column.name == "tag" and not own)  # a tag taken here is another one there
            and not same(column, there[column.kept], new[column.kept])
        }
        if not differs:
            self.report.left[listing.name] += 1
        elif self._is_sealed(listing, there):
            self.report.sealed[listing.name] += 1
        else:
            if "name" in differs and listing.name in _NAMED:
                differs["name_key"] = new["name_key"]
            update_row(_MODELS[listing.table], there["id"], differs)
            self.report.changed[listing.name] += 1

    def _is_sealed(self, listing: Listing, there: Row) -> bool:
        """Whether a line is of work that was done here, which nothing changes any more."""
        if listing.sealed:
            return True
        if listing.of == "job":
            return there["job_id"] in self.sealed_jobs
        if listing.of == "card":
            card = first_row("SELECT job_id FROM card WHERE id = ?", there["card_id"])
            return card is not None and card["job_id"] in self.sealed_jobs
        setup = there["id"] if listing.name == "setups" else there.get("setup_id")
        return listing.name != "machines" and setup in self.sealed_setups

    def _photo(self, photo: PhotoFile) -> None:
        mark = hashlib.sha256(photo.contents).hexdigest()[:32]
        if photo.name != f"{mark}.jpg":
            raise DocumentError(
                f"The photo {photo.name} is not what it was: its mark does not hold.",
                field="photo_files",
            )
        self.report.photos += 1
        if not self.dry_run:
            photo_files.keep_photo(self.folder, photo.contents)


# References into a list that is read later: what a machine is set up as.
_LATE: dict[str, tuple[Column, ...]] = {
    "machines": tuple(one for one in LISTS[0].columns if one.name == "setup")
}


def _is_empty() -> bool:
    tables = ("machine", "job", "wheel", "shelf_tire", "template", "policy", "outside_id")
    return not any(rows(f"SELECT 1 FROM {table} LIMIT 1") for table in tables)  # noqa: S608


def _numbers(sql: str) -> set[int]:
    return {int(next(iter(row.values()))) for row in rows(sql)}


def _row(listing: Listing, number: int) -> Row | None:
    return first_row(f"SELECT * FROM {listing.table} WHERE id = ?", number)  # noqa: S608


def _row_by_key(listing: Listing, line: Line) -> Row | None:
    where = " AND ".join(f"{name} = ?" for name in listing.key)
    values = [line.values[name] for name in listing.key]
    return first_row(f"SELECT * FROM {listing.table} WHERE {where}", *values)  # noqa: S608


def _free_tag(tag: int) -> int:
    if first_row("SELECT 1 FROM job WHERE tag = ?", tag) is None:
        return tag
    row = first_row("SELECT MAX(tag) + 1 AS free FROM job")
    assert row is not None
    return int(row["free"])
