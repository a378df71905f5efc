"""The wheel shelf: what lies there, how old it is, and which machines sit on the same rim."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from types import MappingProxyType

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import Kind
from jentrik.core.machine.kept_wheel import KeptWheel
from jentrik.core.tire.dates import week_in_words
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.core.work.shelf import ShelfTire
from jentrik.store.listing import NO_MACHINE, Page, Rim, SameRim, Wanted
from jentrik.web.figures import fixed
from jentrik.web.live.undoing import NOTHING_TO_UNDO, UndoView
from jentrik.web.pages.things.view import Judged, judged_tire
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed, sums_of
from jentrik.web.parts.paging import Paging


@dataclass(frozen=True, slots=True)
class ShelfRow:
    """One tire on the shelf."""

    id: int
    code: str
    kind: Kind | str
    sums: str
    made: str
    judged: list[Judged]
    added: str
    same_rim: list[tuple[int, str]]
    more_on_rim: bool
    pieces: int
    make: str
    place: str
    whose: str
    reserved: str


@dataclass(frozen=True, slots=True)
class ShelfWheel:
    """One wheel on the shelf: the machine it came off, and those on the same rim."""

    wheel: KeptWheel
    machine_id: int | None
    machine: str
    same_rim: list[tuple[int, str]]
    more_on_rim: bool
    reserved: str


@dataclass(frozen=True, slots=True)
class ShelfView:
    """A page of the shelf, its wheels, and the field of a tire that comes onto it."""

    rows: list[ShelfRow]
    wheels: list[ShelfWheel]
    paging: Paging
    undo: UndoView
    labels: str  # where the labels of the tires shown are printed
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)


def shelf_view(
    listed: Page[ShelfTire],
    wanted: Wanted,
    path: str,
    today: date,
    undo: UndoView = NOTHING_TO_UNDO,
    *,
    wheels: Sequence[tuple[KeptWheel, str]] = (),
    same_rims: Mapping[Rim, SameRim],
    typed: Typed = NOTHING_TYPED,
    policy: Policy = DEFAULT_POLICY,
    jobs: Mapping[int, str] = MappingProxyType({}),
) -> ShelfView:
    """Return a page of the shelf with the machines that sit on each tire's rim.

    `jobs` are the open jobs something may be reserved for, in words.
    """
    return ShelfView(
        rows=[_row(tire, today, same_rims, policy, jobs) for tire in listed.rows],
        wheels=[_wheel_row(wheel, machine, same_rims, jobs) for wheel, machine in wheels],
        paging=Paging(path, wanted, more=listed.more, usual="newest"),
        undo=undo,
        labels=Paging(f"{path}/labels", wanted, more=False, usual="newest").at(page=wanted.page),
        typed=typed.values,
        complaints=typed.complaints(),
    )


def _row(
    tire: ShelfTire,
    today: date,
    same_rims: Mapping[Rim, SameRim],
    policy: Policy,
    jobs: Mapping[int, str],
) -> ShelfRow:
    reading = tire.reading
    on_rim = same_rims.get(rim_of(reading), NO_MACHINE)
    return ShelfRow(
        id=tire.id,
        code=tire.code,
        kind=reading.vehicle,
        sums=sums_of(reading),
        made=_made(tire, today),
        judged=judged_tire(tire, policy, today),
        added=f"{tire.added_on:%d %b %Y}",
        same_rim=_machines_of(on_rim),
        more_on_rim=on_rim.more,
        pieces=tire.pieces,
        make=tire.make,
        place=tire.place,
        whose=tire.whose,
        reserved=jobs.get(tire.job_id or 0, ""),
    )


def _wheel_row(
    wheel: KeptWheel, machine: str, same_rims: Mapping[Rim, SameRim], jobs: Mapping[int, str]
) -> ShelfWheel:
    rim = rim_of_wheel(wheel)
    on_rim = same_rims.get(rim, NO_MACHINE) if rim else NO_MACHINE
    return ShelfWheel(
        wheel,
        wheel.machine_id,
        machine,
        _machines_of(on_rim),
        on_rim.more,
        jobs.get(wheel.job_id or 0, ""),
    )


def rim_of(reading: Reading) -> Rim:
    """Return the bead seat a tire sits on, and of which kind of machine."""
    return reading.bead_seat_diameter_mm, str(reading.vehicle)


def rim_of_wheel(wheel: KeptWheel) -> Rim | None:
    """Return the bead seat of a wheel's tire; None without a tire, or with words for one."""
    try:
        return rim_of(known_code(wheel.text("tire")))
    except Refusal:
        return None


def _machines_of(on_rim: SameRim) -> list[tuple[int, str]]:
    return [(number, f"{name}, {' and '.join(ends)}") for number, name, ends in on_rim.shown]


def _made(tire: ShelfTire, today: date) -> str:
    if tire.week is None:
        return "age unknown"
    age = tire.age_years(today)
    old = "" if age is None else f"; {fixed(age, 1)} years"
    return f"{week_in_words(tire.week, tire.year)}{old}"
