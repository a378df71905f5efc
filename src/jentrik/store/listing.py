"""Lists, a page at a time: searched, sorted and cut off in the database.

What a list shows of a row that takes computing stands in the line kept beside it.
"""

import json
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Generic, TypeVar

from jentrik.core.work.shelf import ShelfTire
from jentrik.store.rows import first_row, rows
from jentrik.store.shelf import tire_of

PAGE, MOST_A_PAGE = 20, 200
LAST_PAGE = 100_000
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is asked of a list: words to find, an order, a state, and the page, from 1."""

    find: str = ""
    sort: str = ""
    state: str = "open"
    page: int = 1
    who: str = ""  # whose jobs are mine
    today: date = date.min
    size: int = PAGE
    changed_since: str = ""  # a moment as it is kept; "" asks for all
    external_id: str = ""
    counted: bool = False  # whether how many there are in all is asked


@dataclass(frozen=True, slots=True)
class Page(Generic[T]):
    """A page of a list, and whether there is more."""

    rows: list[T]
    more: bool
    total: int | None = None  # in all, where it was asked


@dataclass(frozen=True, slots=True)
class JobLine:
    """One job in a list."""

    id: int
    tag: int
    machine_id: int
    machine: str
    owner: str
    machine_binned: bool
    wanted: str
    due_on: date | None
    closed_at: datetime | None
    changes: str
    proposals: str
    station: str
    so_far: str
    severity: str
    headline: str
    others: int
    says: str
    picture: str  # the machine drawn small, as SVG of our own making
    phone: str
    promised_time: str
    whose: str
    rung_at: datetime | None
    stage: str
    next: str
    hours: float
    waits_for: str
    waits_since: date | None
    arrived: int
    lies: str
    offer: str  # what became of the offer: state, proposal, day
    external_id: str
    state: str  # open, done or binned


@dataclass(frozen=True, slots=True)
class MachineLine:
    """One machine in a list: its jobs on the bench by id and tag, its wheel sets that are off."""

    id: int
    name: str
    owner: str
    build: str
    front: str
    rear: str
    wheelbase: str
    steering: str
    assumed: int
    picture: str
    jobs: tuple[tuple[int, int], ...]
    sets: tuple[tuple[int, str], ...] = ()  # wheel sets that are off, by number and name
    external_id: str = ""


_JOB = """SELECT job.id, job.tag, job.machine_id, job.wanted, job.due_on, job.closed_at,
       job.promised_time, job.whose, job.rung_at, job.external_id, job.binned_at,
       machine.name, machine.owner, machine.phone,
       machine.binned_at AS machine_binned, line.*, seen.picture
       FROM job JOIN machine ON machine.id = job.machine_id
       LEFT JOIN job_line AS line ON line.job_id = job.id
       LEFT JOIN machine_line AS seen ON seen.machine_id = job.machine_id"""
_OPEN = "job.closed_at IS NULL AND job.binned_at IS NULL"
_OF_THE_DAY = {  # states of open jobs that a day at the bench asks for
    "today": "job.due_on <= :today",
    "mine": "job.whose = :who AND :who != ''",
    "waits": "line.stage = 'waits'",
    "ready": "line.stage = 'ready'",
}
STATES = ("open", *_OF_THE_DAY, "done", "all")
_STATES = {
    "open": _OPEN,
    **{state: f"{_OPEN} AND {where}" for state, where in _OF_THE_DAY.items()},
    "done": "job.closed_at IS NOT NULL AND job.binned_at IS NULL",
    "all": "job.binned_at IS NULL",
    "any": "1",  # what lies in the bin too: for a program that follows what changes
}
_WEIGHT = (
    "CASE line.severity WHEN 'stop' THEN 0 WHEN 'caution' THEN 1 WHEN 'note' THEN 2 ELSE 3 END"
)
JOB_SORTS = {
    # what is promised first; of one hour what can be done before what waits
    "due": "job.due_on IS NULL, job.due_on, job.promised_time = '', job.promised_time,"
    " line.stage = 'waits', job.tag",
    "tag": "job.tag",
    "machine": "machine.name COLLATE NOCASE, job.tag",
    "owner": "machine.owner = '', machine.owner COLLATE NOCASE, job.tag",
    "state": "line.station, job.tag",
    "problem": f"{_WEIGHT}, job.tag",
    "done": "job.closed_at DESC, job.id DESC",
}
MACHINE_SORTS = {
    "name": "machine.name COLLATE NOCASE, machine.id",
    "owner": "machine.owner = '', machine.owner COLLATE NOCASE, machine.name",
    "front": "line.front_bead_seat_mm, line.front, machine.name",
    "rear": "line.rear_bead_seat_mm, line.rear, machine.name",
    "bench": "(SELECT MIN(tag) FROM job WHERE machine_id = machine.id AND closed_at IS NULL"
    " AND binned_at IS NULL) IS NULL, machine.name COLLATE NOCASE",
}
SHELF_SORTS = {
    "newest": "id DESC",
    "size": "code COLLATE NOCASE, id",
    "age": "year IS NULL, year, week, id",
}


def jobs_listed(wanted: Wanted) -> Page[JobLine]:
    """Return a page of jobs; those on the bench by the day they are due unless asked otherwise."""
    usual = "done" if wanted.state == "done" else "due"
    order = JOB_SORTS.get(wanted.sort, JOB_SORTS[usual])
    state = _STATES.get(wanted.state, _STATES["open"])
    values: list[str] = []
    for name, value in (("today", wanted.today.isoformat()), ("who", wanted.who)):
        values += [value] * state.count(f":{name}")
        state = state.replace(f":{name}", "?")
    where = [state]
    for word in _words_of(wanted.find):
        where.append(
            # The plus keeps the order's index in use: words are looked up, not walked.
            f"(+job.id IN {_with_word('job')} OR +job.machine_id IN {_with_word('machine')})"
        )
        values += [word, word]
    more, asked = _asked_of(wanted, "job")
    where, values = where + more, values + asked
    return _page(f"{_JOB} WHERE {' AND '.join(where)} ORDER BY {order}", values, wanted, _job_line)


def job_counts(who: str, today: date) -> dict[str, int]:
    """Return how many open jobs each filter of the day holds."""
    filters = {**_OF_THE_DAY, "arrived": "line.arrived > 0 AND line.stage = 'can start'"}
    sums = ", ".join(f"SUM({where}) AS {state}" for state, where in filters.items())
    row = first_row(
        f"SELECT COUNT(*) AS open, {sums} FROM job"  # noqa: S608  # our own words
        f" LEFT JOIN job_line AS line ON line.job_id = job.id WHERE {_OPEN}".replace(
            ":today", "?1"
        ).replace(":who", "?2"),
        today.isoformat(),
        who,
    )
    return {state: row[state] or 0 for state in ("open", *filters)} if row else {}


def promised_hours(until: date) -> dict[tuple[str, date], float]:
    """Return the hours of work promised up to a day, by who does it and the day."""
    found = rows(
        "SELECT whose, due_on, SUM(hours) AS hours FROM job JOIN job_line AS line"  # noqa: S608
        f" ON line.job_id = job.id WHERE {_OPEN} AND due_on <= ? AND line.stage != 'ready'"
        " GROUP BY whose, due_on",
        until.isoformat(),
    )
    return {(row["whose"], date.fromisoformat(row["due_on"])): row["hours"] for row in found}


def _job_line(row: dict[str, Any]) -> JobLine:
    return JobLine(
        row["id"],
        row["tag"],
        row["machine_id"],
        row["name"],
        row["owner"],
        row["machine_binned"] is not None,
        row["wanted"],
        date.fromisoformat(row["due_on"]) if row["due_on"] else None,
        datetime.fromisoformat(row["closed_at"]) if row["closed_at"] else None,
        row["changes"] or "",
        row["proposals"] or "",
        row["station"] or "read",
        row["so_far"] or "",
        row["severity"] or "",
        row["headline"] or "",
        row["others"] or 0,
        row["says"] or "",
        row["picture"] or "",
        row["phone"],
        row["promised_time"],
        row["whose"],
        datetime.fromisoformat(row["rung_at"]) if row["rung_at"] else None,
        "handed over" if row["closed_at"] else row["stage"] or "to offer",
        "" if row["closed_at"] else row["next"] or "",
        row["hours"] or 0.0,
        row["waits_for"] or "",
        date.fromisoformat(row["waits_since"]) if row["waits_since"] else None,
        row["arrived"] or 0,
        row["lies"] or "",
        row["offer"] or "",
        row["external_id"],
        "binned" if row["binned_at"] else "done" if row["closed_at"] else "open",
    )


def machines_listed(wanted: Wanted) -> Page[MachineLine]:
    """Return a page of machines, by name unless asked otherwise."""
    where, values = ["machine.binned_at IS NULL"], []
    for word in _words_of(wanted.find):
        where.append(f"machine.id IN {_with_word('machine')}")
        values.append(word)
    more, asked = _asked_of(wanted, "machine")
    where, values = where + more, values + asked
    order = MACHINE_SORTS.get(wanted.sort, MACHINE_SORTS["name"])
    lined = "FROM machine LEFT JOIN machine_line AS line ON line.machine_id = machine.id"
    found = f"SELECT machine.id {lined} WHERE {' AND '.join(where)} ORDER BY {order}"
    return _page(
        found,
        values,
        wanted,
        _machine_line,
        around="SELECT machine.id, machine.name, machine.owner, machine.drawn_as,"  # noqa: S608
        " machine.external_id, line.*,"
        " (SELECT json_group_array(json_array(id, tag)) FROM job WHERE machine_id = machine.id"
        "  AND closed_at IS NULL AND binned_at IS NULL) AS jobs,"
        " (SELECT json_group_array(json_array(id, name)) FROM wheel_set"
        "  WHERE machine_id = machine.id AND EXISTS (SELECT 1 FROM wheel WHERE wheel.id IN"
        "  (front_wheel_id, rear_wheel_id) AND kept <> 'machine' AND binned_at IS NULL)) AS sets"
        f" {lined} WHERE machine.id IN ({{found}}) ORDER BY {order}",
    )


def _machine_line(row: dict[str, Any]) -> MachineLine:
    on_bench = sorted((tag, job_id) for job_id, tag in json.loads(row["jobs"]))
    return MachineLine(
        row["id"],
        row["name"],
        row["owner"],
        row["drawn_as"],
        row["front"] or "–",
        row["rear"] or "–",
        row["wheelbase"] or "–",
        row["steering"] or "",
        row["assumed"] or 0,
        row["picture"] or "",
        tuple((job_id, tag) for tag, job_id in on_bench),
        tuple((number, name) for number, name in json.loads(row["sets"])),
        row["external_id"],
    )


def shelf_listed(wanted: Wanted) -> Page[ShelfTire]:
    """Return a page of tires on the shelf, the newest first unless asked otherwise."""
    where, values = ["1"], []
    for word in _words_of(wanted.find):
        where.append(f"id IN {_with_word('shelf')}")
        values.append(word)
    more, asked = _asked_of(wanted, "shelf_tire")
    where, values = where + more, values + asked
    order = SHELF_SORTS.get(wanted.sort, SHELF_SORTS["newest"])
    return _page(
        f"SELECT * FROM shelf_tire WHERE {' AND '.join(where)} ORDER BY {order}",  # noqa: S608
        values,
        wanted,
        tire_of,
    )


def _page(
    sql: str,
    values: list[str],
    wanted: Wanted,
    made: Callable[[dict[str, Any]], T],
    *,
    around: str = "{found}",
) -> Page[T]:
    """Return a page of a query; `around` is what is asked only of the rows that are shown."""
    size = min(max(wanted.size, 1), MOST_A_PAGE)
    start = (min(max(wanted.page, 1), LAST_PAGE) - 1) * size
    found = rows(around.format(found=f"{sql} LIMIT {size + 1} OFFSET {start}"), *values)
    total = None
    if wanted.counted:
        counted = first_row(f"SELECT COUNT(*) AS many FROM ({sql})", *values)  # noqa: S608  # ours
        total = counted["many"] if counted else 0
    return Page([made(row) for row in found[:size]], len(found) > size, total)


_TOUCHED = (  # rows of a table that were written, taken back or done again since a moment
    "SELECT json_extract(entry.value, '$.id') FROM change, json_each(change.entries) AS entry"
    " WHERE (at >= ? OR undone_at >= ?) AND json_extract(entry.value, '$.table') = "
)


def _asked_of(wanted: Wanted, table: str) -> tuple[list[str], list[str]]:
    """Return the conditions of another program's key and of a moment since, and their values."""
    where, values = list[str](), list[str]()
    if wanted.external_id:
        where.append(f"{table}.external_id = ?")
        values.append(wanted.external_id)
    if wanted.changed_since:
        ways = [f"{table}.id IN ({_TOUCHED}'{table}')"]  # tables of ours
        if table != "shelf_tire":
            ways.append(
                f"{table}.id IN (SELECT {table}_id FROM change"  # noqa: S608
                " WHERE at >= ? OR undone_at >= ?)"
            )
        where.append(f"({' OR '.join(ways)})")
        values += [wanted.changed_since] * 2 * len(ways)
    return where, values


def people_changed_since(moment: str) -> set[int]:
    """Return the numbers of people who were written of since a moment."""
    found = rows(f"{_TOUCHED}'person'", moment, moment)
    return {number for row in found for number in row.values()}


def _with_word(kind: str) -> str:
    return f"(SELECT rowid FROM {kind}_words WHERE {kind}_words MATCH ?)"  # noqa: S608  # our own


def _words_of(find: str) -> list[str]:
    """Return the words of a search as full-text phrases, each the beginning of a word."""
    words = [word.replace('"', "") for word in find.split()[:8]]
    return [f'"{word}"*' for word in words if any(one.isalnum() for one in word)]


def matching(find: str) -> str:
    """Return a search as the full-text tables take it; empty where nothing is looked for."""
    return " ".join(_words_of(find))


def names_like(find: str, *, most: int = 20) -> list[str]:
    """Return names of machines that begin so, the newest first; without words the newest."""
    words = matching(find)
    if not words:
        found = rows(
            "SELECT name FROM machine WHERE binned_at IS NULL ORDER BY id DESC LIMIT ?", most
        )
    else:
        found = rows(
            "SELECT name FROM machine WHERE binned_at IS NULL AND id IN (SELECT rowid FROM"
            " machine_words WHERE machine_words MATCH ? LIMIT 200) ORDER BY id DESC LIMIT ?",
            words,
            most,
        )
    return [row["name"] for row in found]


@dataclass(frozen=True, slots=True)
class TirePlaces:
    """Where a tire can go: open jobs as (id, tag, machine, proposal), and machines."""

    on_bench: tuple[tuple[int, int, str, str], ...] = ()
    machines: tuple[tuple[int, str], ...] = ()


NO_PLACES = TirePlaces()


def where_a_tire_goes(kind: str, *, most: int = 15) -> TirePlaces:
    """Return open jobs of a kind of machine, those due first, and the newest machines."""
    on_bench = rows(
        "SELECT job.id, job.tag, machine.name AS machine, proposal.name AS proposal FROM job"
        " JOIN machine ON machine.id = job.machine_id JOIN proposal ON proposal.job_id = job.id"
        " WHERE job.closed_at IS NULL AND job.binned_at IS NULL AND machine.kind = ?"
        " AND machine.binned_at IS NULL"
        " ORDER BY job.due_on IS NULL, job.due_on, job.tag, proposal.id LIMIT ?",
        kind,
        most,
    )
    known = rows(
        "SELECT id, name FROM machine WHERE kind = ? AND binned_at IS NULL"
        " ORDER BY id DESC LIMIT ?",
        kind,
        most,
    )
    return TirePlaces(
        tuple((row["id"], row["tag"], row["machine"], row["proposal"]) for row in on_bench),
        tuple((row["id"], row["name"]) for row in known),
    )


Rim = tuple[int, str]  # bead seat diameter in mm, and the kind of machine


@dataclass(frozen=True, slots=True)
class SameRim:
    """Machines that sit on one bead seat: those shown with the ends, and whether there are more."""

    shown: tuple[tuple[int, str, tuple[str, ...]], ...]
    more: bool


NO_MACHINE = SameRim((), more=False)


def same_rims(asked: Iterable[Rim], *, most: int = 3) -> dict[Rim, SameRim]:
    """Return the machines on each bead seat and kind that is asked for, so many of each."""
    return {rim: _same_rim(*rim, most=most) for rim in set(asked)}


def _same_rim(bead_seat_mm: int, kind: str, *, most: int) -> SameRim:
    """Return machines of a kind whose tire sits on a bead seat, the first that came in first."""
    at_end = " UNION ".join(
        "SELECT machine_id FROM (SELECT machine_id FROM machine_line AS line JOIN machine"  # noqa: S608
        f" ON machine.id = line.machine_id WHERE {end}_bead_seat_mm = ? AND kind = ?"
        " AND binned_at IS NULL ORDER BY machine_id LIMIT ?)"
        for end in ("front", "rear")
    )
    found = rows(
        "SELECT machine.id, name, front_bead_seat_mm AS front, rear_bead_seat_mm AS rear"  # noqa: S608
        f" FROM ({at_end}) AS found JOIN machine ON machine.id = found.machine_id"
        " JOIN machine_line AS line ON line.machine_id = machine.id ORDER BY machine.id",
        *(bead_seat_mm, kind, most + 1) * 2,
    )
    shown = tuple(
        (
            row["id"],
            row["name"],
            tuple(end for end in ("front", "rear") if row[end] == bead_seat_mm),
        )
        for row in found[:most]
    )
    return SameRim(shown, len(found) > most)


def is_empty() -> bool:
    """Whether the shop has no job at all."""
    return first_row("SELECT id FROM job LIMIT 1") is None
