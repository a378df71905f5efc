"""Station Ride: the brief before the first ride, setups and their rides, and what they say."""

from dataclasses import dataclass, field
from datetime import date

from jentrik.core.card.card import FIRST_RIDE
from jentrik.core.job.job import Job
from jentrik.core.logbook.ride import (
    FORM,
    GROUND,
    SCORES,
    SETUP_FIELDS,
    WEATHER,
    Comparison,
    Ride,
    Setup,
    SetupField,
    compare,
    setup_fields,
)
from jentrik.core.machine.suspension import ENDS
from jentrik.core.sheet.sheet import Sheet
from jentrik.core.shop.policy import Policy
from jentrik.store import rides
from jentrik.web.views.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.views.figures import THIN, fixed, plain


@dataclass(frozen=True, slots=True)
class SetupRow:
    """One setup: what it is in words, its rides, its mean scores."""

    setup: Setup
    says: str
    rides: list[Ride]
    means: list[str]


@dataclass(frozen=True, slots=True)
class RideView:
    """What station Ride shows."""

    brief: list[str]
    rows: list[SetupRow]
    comparison: Comparison | None
    pair: tuple[str, str]
    ids: tuple[int, int]
    fields: list[tuple[SetupField, str]]
    today: date
    can_go_back: bool
    typed: dict[str, str] = field(default_factory=dict)
    complaints: dict[str, Complaint] = field(default_factory=dict)
    scores: tuple[str, ...] = SCORES
    weather: tuple[str, ...] = WEATHER
    ground: tuple[str, ...] = GROUND
    form: tuple[str, ...] = FORM


def ride_view(
    job: Job,
    sheet: Sheet,
    policy: Policy,
    today: date,
    pair: tuple[str, str],
    typed: Typed = NOTHING_TYPED,
) -> RideView:
    """Return the rides of a job's machine; `pair` are the ids of the setups to compare."""
    setups, ridden = rides.setups(sheet.id), rides.rides(sheet.id)
    of = {one.id: [ride for ride in ridden if ride.setup_id == one.id] for one in setups}
    chosen = _pair(setups, pair)
    comparison = None
    if chosen is not None:
        before, after = chosen
        comparison = compare(before, of[before.id], after, of[after.id], policy)
    return RideView(
        brief=_brief(job, sheet, ridden),
        rows=[SetupRow(one, _words(one), of[one.id], _means(of[one.id])) for one in setups],
        comparison=comparison,
        pair=(chosen[0].name, chosen[1].name) if chosen else ("", ""),
        ids=(chosen[0].id, chosen[1].id) if chosen else (0, 0),
        fields=_fields(sheet, typed),
        today=today,
        can_go_back=len(setups) > 1,
        typed=dict(typed.values),
        complaints=typed.complaints(),
    )


def _pair(setups: list[Setup], pair: tuple[str, str]) -> tuple[Setup, Setup] | None:
    by_id = {str(one.id): one for one in setups}
    if pair[0] in by_id and pair[1] in by_id and pair[0] != pair[1]:
        return by_id[pair[0]], by_id[pair[1]]
    return (setups[-2], setups[-1]) if len(setups) > 1 else None


def _brief(job: Job, sheet: Sheet, ridden: list[Ride]) -> list[str]:
    """Return the go-easy brief while no one has ridden since the fitting."""
    if job.done is not None and any(ride.on >= job.done.on for ride in ridden):
        return []
    lines = [part.strip() for part in FIRST_RIDE.partition(": ")[2].split(";")]
    if sheet.kind == "motorcycle":
        lines.append("with ABS or traction control watch the lamps")
    return [f"{line[:1].upper()}{line[1:]}." for line in lines]


def _words(setup: Setup) -> str:
    said = []
    for known in SETUP_FIELDS:
        value = setup.parts.get(known.key)
        if value is not None:
            unit = f"{THIN}{known.unit}" if known.unit else ""
            said.append(f"{known.label.lower()} {plain(value)}{unit}")
    return ", ".join(said) or "nothing said"


def _means(ridden: list[Ride]) -> list[str]:
    averages = []
    for name in SCORES:
        given = [ride.scores[name] for ride in ridden if name in ride.scores]
        averages.append(fixed(sum(given) / len(given), 1) if given else "")
    return averages


def _fields(sheet: Sheet, typed: Typed) -> list[tuple[SetupField, str]]:
    """Return the fields of a new setup, filled with what the sheet holds now."""
    now: dict[str, str] = {}
    for end in ENDS:
        now[f"{end}_tire"] = sheet.text(f"{end}.tire") or ""
        for key, known in (
            (f"{end}_kpa", f"spec.{end}.pressure_kpa"),
            (f"{end}_sag_mm", f"suspension.{end}.sag_mm"),
        ):
            figure = sheet.figures.get(known)
            now[key] = "" if figure is None else plain(figure.value)
    now["position"] = next((one.name for one in sheet.positions if not (one.x_mm or one.y_mm)), "")
    return [(one, typed.values.get(one.key, now.get(one.key, ""))) for one in setup_fields(sheet)]
