"""Station Ride: the brief before the first ride, setups and their rides, and what they say."""

from dataclasses import dataclass, field
from datetime import date

from jentrik.core.amounts import THIN, km
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.setup import Setup
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.card import first_ride
from jentrik.core.work.job import Job
from jentrik.core.work.ride import (
    FORM,
    GROUND,
    SCORES,
    SETUP_FIELDS,
    WEATHER,
    Comparison,
    Ride,
    SetupField,
    compare,
    setup_fields,
)
from jentrik.store.bench_data import BenchData
from jentrik.store.rides import KeptTrack
from jentrik.web.figures import fixed, plain
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed


@dataclass(frozen=True, slots=True)
class RiddenSetup:
    """One setup: what it is in words, its rides, its mean scores."""

    setup: Setup
    says: str
    rides: list[Ride]
    means: list[str]


@dataclass(frozen=True, slots=True)
class RideView:
    """What station Ride shows."""

    brief: list[str]
    rows: list[RiddenSetup]
    comparison: Comparison | None
    pair: tuple[str, str]
    ids: tuple[int, int]
    fields: list[tuple[SetupField, str]]
    today: date
    can_go_back: bool
    tracks: dict[int, str]  # of each ride, how far and how long; nothing without a track
    typed: dict[str, str] = field(default_factory=dict)
    complaints: dict[str, Complaint] = field(default_factory=dict)
    scores: tuple[str, ...] = SCORES
    weather: tuple[str, ...] = WEATHER
    ground: tuple[str, ...] = GROUND
    form: tuple[str, ...] = FORM


def ride_view(data: BenchData, pair: tuple[str, str], typed: Typed = NOTHING_TYPED) -> RideView:
    """Return the rides of a job's machine; `pair` are the ids of the set-ups to compare."""
    job, sheet, policy, today = data.on.job, data.on.sheet, data.on.policy, data.on.today
    known, ridden = list(data.setups), list(data.rides)
    of = {one.id: [ride for ride in ridden if ride.setup_id == one.id] for one in known}
    chosen = _pair(known, [one for one in known if of[one.id]], pair)
    comparison = None
    if chosen is not None:
        before, after = chosen
        comparison = compare(before, of[before.id], after, of[after.id], policy, made_for(sheet))
    return RideView(
        brief=_brief(job, sheet, ridden),
        rows=[RiddenSetup(one, _words(one), of[one.id], _means(of[one.id])) for one in known],
        comparison=comparison,
        pair=(chosen[0].name, chosen[1].name) if chosen else ("", ""),
        ids=(chosen[0].id, chosen[1].id) if chosen else (0, 0),
        fields=_fields(sheet, typed),
        today=today,
        can_go_back=len(known) > 1,
        tracks={one.id: _way(data.tracks.get(one.id)) for one in ridden},
        typed=dict(typed.values),
        complaints=typed.complaints(),
    )


def _way(track: KeptTrack | None) -> str:
    """Return how far a ride went and how long it took, in words."""
    if track is None:
        return ""
    hours, minutes = divmod(round(track.seconds / 60), 60)
    return f"{km(track.km):.1f} in {hours}:{minutes:02d} h"


def _pair(
    known: list[Setup], ridden: list[Setup], pair: tuple[str, str]
) -> tuple[Setup, Setup] | None:
    """Return the two set-ups asked for, else the last two that were ridden, else the last two."""
    by_id = {str(one.id): one for one in known}
    if pair[0] in by_id and pair[1] in by_id and pair[0] != pair[1]:
        return by_id[pair[0]], by_id[pair[1]]
    usual = ridden if len(ridden) > 1 else known
    return (usual[-2], usual[-1]) if len(usual) > 1 else None


def _brief(job: Job, sheet: Sheet, ridden: list[Ride]) -> list[str]:
    """Return the go-easy brief while no one has ridden since the fitting."""
    if job.done is not None and any(ride.on >= job.done.on for ride in ridden):
        return []
    return first_ride(sheet.kind)


def _words(setup: Setup) -> str:
    said = []
    for known in SETUP_FIELDS:
        figure = setup.parts.get(known.key)
        if figure is not None:
            unit = f"{THIN}{known.unit}" if known.unit else ""
            said.append(f"{known.label.lower()} {plain(figure.value)}{unit}")
    return ", ".join(said) or "nothing said"


def _means(ridden: list[Ride]) -> list[str]:
    averages = []
    for name in SCORES:
        given = [ride.scores[name] for ride in ridden if name in ride.scores]
        averages.append(fixed(sum(given) / len(given), 1) if given else "")
    return averages


def made_for(sheet: Sheet) -> dict[str, float]:
    """Return the bead seat diameter that each rear position is made for, where it is known."""
    return {
        position.name: position.bead_seat_diameter_mm
        for position in sheet.positions
        if position.bead_seat_diameter_mm is not None
    }


def _fields(sheet: Sheet, typed: Typed) -> list[tuple[SetupField, str]]:
    """Return the fields of a set-up, filled with how the machine is set up now."""
    now = {key: plain(figure.value) for key, figure in sheet.figures.items()}
    for end in ENDS:
        placard = sheet.figures.get(f"spec.{end}.pressure_kpa")
        if placard is not None:
            now.setdefault(f"{end}.fitted.pressure_kpa", plain(placard.value))
    at = next(
        (position.name for position in sheet.positions if not (position.x_mm or position.y_mm)), ""
    )
    now.setdefault("set.position", at)
    return [(one, typed.values.get(one.key, now.get(one.key, ""))) for one in setup_fields(sheet)]
