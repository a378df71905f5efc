"""What a job's bench shows besides the job itself, loaded once: its pages then query nothing."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet
from jentrik.core.machine.setup import Setup
from jentrik.core.work.card import Card
from jentrik.core.work.ride import Ride
from jentrik.core.work.shelf import ShelfTire
from jentrik.store import after_fitting, cards, documents, people, rides, setups, shelf, wheels
from jentrik.store.after_fitting import Measured
from jentrik.store.cards import KeptPhoto
from jentrik.store.documents import Correction, OnBench
from jentrik.store.rides import KeptTrack
from jentrik.store.rows import first_row

MOST_TIRES = 12  # of the shelf to make a proposal of; the shelf itself shows them all


@dataclass(frozen=True, slots=True)
class ProposalParts:
    """What a proposal can be made of: wheels, sets, earlier set-ups and tires that are there."""

    wheels: tuple[KeptWheel, ...] = ()
    sets: tuple[WheelSet, ...] = ()
    setups: tuple[tuple[int, str, date], ...] = ()
    tires: tuple[ShelfTire, ...] = ()


@dataclass(frozen=True, slots=True)
class CardData:
    """A job's card with its photos, the shop's templates, and what was measured and corrected."""

    card: Card | None = None
    templates: tuple[str, ...] = ()
    photos: tuple[KeptPhoto, ...] = ()
    corrections: tuple[Correction, ...] = ()
    answers: tuple[dict[str, str], ...] = ()
    people: tuple[str, ...] = ()  # who can be the one who ticks


@dataclass(frozen=True, slots=True)
class BenchData:
    """Everything the stations of a bench show; what only another station shows is left empty."""

    on: OnBench
    ticked: tuple[int, int, int] | None = None  # steps done, steps in all, steps that hold
    rides_noted: int = 0
    parts: ProposalParts = ProposalParts()
    card: CardData = CardData()
    measured: Mapping[str, Measured] = field(default_factory=dict)
    setups: tuple[Setup, ...] = ()
    rides: tuple[Ride, ...] = ()
    tracks: Mapping[int, KeptTrack] = field(default_factory=dict)  # of rides


def bench_data(on: OnBench, station: str, *, made_of: bool = False) -> BenchData:
    """Return a job with everything one of its stations shows.

    `made_of` asks for what a proposal can be made of, too.
    """
    job, machine_id = on.job, on.sheet.id
    rides_there = station == "ride"
    ticked, ridden = _standing(job.id, machine_id)
    return BenchData(
        on,
        ticked=ticked,
        rides_noted=ridden,
        parts=_parts(on) if made_of and not job.sealed else ProposalParts(),
        card=_card(on) if station == "fit" else CardData(),
        measured=after_fitting.measured_of(job.id) if station in ("check", "fit") else {},
        setups=tuple(setups.setups(machine_id)) if rides_there else (),
        rides=tuple(rides.rides(machine_id)) if rides_there else (),
        tracks=rides.tracks(machine_id) if rides_there else {},
    )


def _standing(job_id: int, machine_id: int) -> tuple[tuple[int, int, int] | None, int]:
    """Return how far a job's card is, None without one, and how many rides its machine has."""
    row = first_row(
        "SELECT COUNT(*) AS steps, SUM(done_at IS NOT NULL OR waived IS NOT NULL) AS done,"
        " SUM(done_at IS NULL AND waived IS NULL AND plan LIKE '!%') AS holding,"
        " (SELECT COUNT(*) FROM ride WHERE machine_id = ?) AS rides"
        " FROM card JOIN card_step ON card_step.card_id = card.id WHERE card.job_id = ?",
        machine_id,
        job_id,
    )
    assert row is not None  # a count is always there
    return (row["done"], row["steps"], row["holding"]) if row["steps"] else None, row["rides"]


def _parts(on: OnBench) -> ProposalParts:
    sheet = on.sheet
    now = sheet.setup.id if sheet.setup else 0
    owned = [wheel for wheel in wheels.wheels_of(sheet) if wheel.kept == "owner"]
    return ProposalParts(
        wheels=(*owned, *wheels.on_shelf()),
        sets=tuple(wheels.sets_of(sheet.id)),
        setups=tuple(name for name in setups.names(sheet.id) if name[0] != now),
        tires=tuple(shelf.newest(MOST_TIRES)),
    )


def _card(on: OnBench) -> CardData:
    job = on.job
    return CardData(
        cards.card_of(job.id),
        tuple(cards.templates()),
        tuple(cards.photos(job.id)),
        tuple(documents.corrections(job.id)) if job.sealed else (),
        tuple(on.document.values.get("answers", ())) if job.sealed and on.document else (),
        tuple(person.name for person in people.people()),
    )
