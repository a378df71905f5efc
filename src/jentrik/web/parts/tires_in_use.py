"""The tires a machine wears: their looks, how they wear, the days they reach a limit."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date

from jentrik.core.amounts import km, mm
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.sheet import Sheet, leans
from jentrik.core.tire.dates import DateReading, date_of
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.due import Due, next_look, next_move
from jentrik.core.work.inspection import (
    Inspection,
    Look,
    Result,
    TireDemands,
    as_it_stands,
    judge_look,
)
from jentrik.core.work.job import Job
from jentrik.core.work.policy import AgeSchool, Policy
from jentrik.core.work.wear import (
    TreadLook,
    WearRate,
    day_at,
    day_of_age,
    distances,
    first_to,
    km_a_day,
    km_to,
    run_on,
    wear_rate,
    worn_since,
)
from jentrik.store.logbook import Fitting, Log


@dataclass(frozen=True, slots=True)
class TireInUse:
    """One tire on a machine: its looks since it was fitted, how it wears, its limits."""

    end: End
    code: str
    looks: tuple[Inspection, ...]
    made: DateReading | None
    rates: tuple[WearRate, ...]  # of each place across that wears
    pace_km_a_day: float | None
    rule_tread_mm: float | None

    @property
    def last(self) -> Inspection | None:
        """The last look, with what earlier ones saw and it did not look at."""
        return as_it_stands(self.looks)

    def rate(self, limit_mm: float) -> WearRate | None:
        """Return how the place wears that reaches a tread limit first."""
        return first_to(limit_mm, self.rates)

    def tread_day(self, limit_mm: float) -> date | None:
        """Return the day a tread limit is reached at the machine's pace."""
        rate = self.rate(limit_mm)
        return day_at(limit_mm, rate, self.pace_km_a_day) if rate else None

    def tread_km(self, limit_mm: float) -> float | None:
        """Return the km until a tread limit."""
        rate = self.rate(limit_mm)
        return km_to(limit_mm, rate) if rate else None

    def age_day(self, years: float) -> date | None:
        """Return the day it reaches an age."""
        return day_of_age(self.made, years) if self.made else None


def tires_in_use(sheet: Sheet, log: Log, policy: Policy) -> tuple[TireInUse, ...]:
    """Return both tires of a machine as the logbook knows them."""
    driven = distances(log.odometer.get(sheet.id, ()), log.corrections(sheet.id))
    pace = km_a_day(driven)
    return tuple(_tire(sheet, log, policy, end, driven, pace) for end in ENDS)


def _tire(
    sheet: Sheet,
    log: Log,
    policy: Policy,
    end: End,
    driven: tuple[tuple[date, float], ...],
    pace: float | None,
) -> TireInUse:
    fitted = [f for f in log.fittings if f.machine_id == sheet.id and f.tire(end)]
    known = sheet.figures.get(f"set.{end}.tire_id")
    number = None if known is None else int(float(known.value))
    mounted = log.mounted.get(number, ()) if number is not None else ()
    looks = looks_of_tire(
        [k.look for k in log.looks if k.machine_id == sheet.id], end, fitted, number
    )
    treads: tuple[list[TreadLook], ...] = ([], [], [])
    counted = log.counted(sheet.id)
    for look in looks:
        km = run_on(look.on, driven, mounted, counted)
        if look.tread_mm is not None and km is not None:
            for place, tread_mm in zip(treads, look.tread_mm, strict=True):
                place.append(TreadLook(look.on, km, tread_mm))
    dated = next((look.made for look in reversed(looks) if look.made), None)
    return TireInUse(
        end=end,
        code=sheet.text(f"{end}.tire") or "",
        looks=looks,
        made=date_of(dated) if dated else None,
        rates=_rates(treads, looks),
        pace_km_a_day=pace,
        rule_tread_mm=rule_tread(sheet, policy),
    )


def _rates(
    treads: Sequence[Sequence[TreadLook]], looks: Sequence[Inspection]
) -> tuple[WearRate, ...]:
    """Return how each place across wears, from the last tread on wherever the odometer stood."""
    newest = next((look for look in reversed(looks) if look.tread_mm), None)
    rates = []
    for place, known in enumerate(treads):
        rate = wear_rate(known)
        if rate is None:
            continue
        if newest is not None and newest.tread_mm is not None and newest.on > rate.last.on:
            rate = worn_since(rate, newest.on, newest.tread_mm[place])
        rates.append(rate)
    return tuple(rates)


def looks_of_tire(
    looks: Sequence[Inspection], end: End, fitted: Sequence[Fitting], number: int | None = None
) -> tuple[Inspection, ...]:
    """Return the looks at the tire that is on a wheel now; `fitted` are that wheel's fittings.

    A tire with a number has its own looks, whatever else was on the machine meanwhile.

    One before mounting belongs to the tire it was of: it counts, for the day of the fitting, once
    a tire so marked went on; until then it says nothing of the tire on the machine.
    """
    ordered = sorted(fitted, key=lambda one: one.on)
    since = ordered[-1].on if ordered else date.min
    before = ordered[-2].on if len(ordered) > 1 else date.min
    mine = [look for look in looks if look.end == end]
    own = [one for one in mine if number is not None and one.tire_id == number]
    mine = [one for one in mine if one.tire_id is None]
    new = [
        replace(one, on=since)
        for one in mine
        if ordered
        and one.look is Look.RECEIVING
        and before <= one.on <= since
        and _marked_alike(one.tire, ordered[-1].tire(end) or "")
    ]
    used = [one for one in mine if one.look is Look.PERIODIC and one.on >= since]
    if own:
        return (*new[-1:], *sorted([*own, *used], key=lambda one: one.on))
    return (*new[-1:], *used)


def _marked_alike(one: str, other: str) -> bool:
    return "".join(one.casefold().split()) == "".join(other.casefold().split())


def rule_tread(sheet: Sheet, policy: Policy) -> float | None:
    """Return the tread the common rule asks of a machine; None for bicycles."""
    if sheet.kind == "bicycle":
        return None
    moped = sheet.text("class") == "moped"
    return policy.rubber.rule_moped_tread_mm if moped else policy.rubber.rule_tread_mm


def asked_of(sheet: Sheet, end: End, policy: Policy, tire: str) -> TireDemands:
    """Return what a tire so marked must hold on this machine.

    The sidewall's most is that of the tire on the sheet.
    """

    def figure(key: str) -> float | None:
        known = sheet.figures.get(key)
        return None if known is None else float(known.value)

    mounted = tire == sheet.text(f"{end}.tire")
    return TireDemands(
        rule_tread_mm=rule_tread(sheet, policy),
        placard_kpa=figure(f"spec.{end}.pressure_kpa"),
        sidewall_kpa=figure(f"{end}.fitted.most_kpa") if mounted else None,
        axle_load_kg=figure(f"{end}.axle_load_kg"),
        load_kg=known_code(tire).load_kg if tire else None,
        leans=leans(sheet),
    )


def due_of_machine(
    sheet: Sheet, open_jobs: Sequence[Job], log: Log, policy: Policy, today: date
) -> list[Due]:
    """Return everything due of one machine, the earliest first."""
    due = [
        Due(
            f"job-{job.id}",
            job.due_on,
            job.wanted or "job",
            f"For job {job.tag}.",
            job.machine_id,
            sheet.name,
            job.id,
        )
        for job in open_jobs
        if job.due_on is not None
    ]
    due += due_of_tires(sheet, log, policy)
    since = log.standing.get(sheet.id)
    if since is not None:
        due.append(due_of_standing(sheet.id, sheet.name, since, policy, today))
    return sorted(due, key=lambda one: (one.on, one.key))


def due_of_tires(sheet: Sheet, log: Log, policy: Policy) -> list[Due]:
    """Return what is due of a machine's tires."""
    return [
        one for tire in tires_in_use(sheet, log, policy) for one in _of_tire(sheet, tire, policy)
    ]


def due_of_standing(machine_id: int, name: str, since: date, policy: Policy, today: date) -> Due:
    """Return the day the wheels of a machine that stands are moved next."""
    day = next_move(since, policy.upkeep.move_weeks, today)
    why = f"It stands since {since:%d %b %Y}; rubber that never flexes hardens."
    return Due(f"stand-{machine_id}", day, "move or turn the wheels", why, machine_id, name)


def _of_tire(sheet: Sheet, tire: TireInUse, policy: Policy) -> list[Due]:
    if tire.last is None:
        return []
    last, end = tire.last, tire.end
    looked = [look.on for look in tire.looks if look.look is Look.PERIODIC] or [last.on]
    due = [
        (
            "look",
            next_look(looked[-1], policy.upkeep.look_months),
            f"inspect the {end} tire",
            f"Last inspection {looked[-1]:%d %b %Y}.",
        )
    ]
    judged = judge_look(last, asked_of(sheet, end, policy, tire.code), policy)
    if judged.result in (Result.REPLACE, Result.MEND):
        what = "replace" if judged.result is Result.REPLACE else "mend"
        due.append(("judged", last.on, f"{what} the {end} tire", judged.reasons[0].says))
    due += _wear_and_age(tire, policy)
    return [
        Due(f"{kind}-{sheet.id}-{end}", day, what, why, sheet.id, sheet.name)
        for kind, day, what, why in due
    ]


def _wear_and_age(tire: TireInUse, policy: Policy) -> Iterator[tuple[str, date, str, str]]:
    """Return the days on which a tire is worn out and too old, with what and why."""
    rubber, end = policy.rubber, tire.end
    limit = tire.rule_tread_mm if tire.rule_tread_mm is not None else rubber.own_tread_mm
    if tire.rule_tread_mm is not None:
        limit = max(limit, rubber.own_tread_mm)
    worn = tire.tread_day(limit) if tire.rule_tread_mm is not None else None
    rate = tire.rate(limit)
    if worn is not None and rate is not None:
        yield (
            "tread",
            worn,
            f"{end} tire worn to {mm(limit)}",
            f"{mm(rate.mm_per_1000_km):.1f} for {km(1000)} at its worst.",
        )
    old = tire.age_day(rubber.replace_at_years)
    if old is not None and rubber.age_school is AgeSchool.YEARS:
        yield (
            "age",
            old,
            f"{end} tire {rubber.replace_at_years:g} years old",
            "This shop replaces by years.",
        )
