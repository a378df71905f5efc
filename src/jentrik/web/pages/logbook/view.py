"""The logbook: one time line, what is due, and each machine's tires with their strips."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date

from markupsafe import Markup

from jentrik.core.amounts import km, mm
from jentrik.core.days import days_after
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.due import Due
from jentrik.core.work.inspection import SIGNS, Look, Sign, judge_look
from jentrik.core.work.policy import Policy, PunctureSchool
from jentrik.core.work.wear import distances, factor_on
from jentrik.store.jobs import ClosedJob
from jentrik.store.listing import PAGE, Wanted
from jentrik.store.logbook import Log
from jentrik.store.machine_data import DueData, LogData, Ridden
from jentrik.web.drawing.log_strip import LogStrip, log_strip
from jentrik.web.drawing.wear import wear_drawing
from jentrik.web.figures import fixed
from jentrik.web.pages.order.costs import CostsView, costs_view
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.parts.paging import Paging
from jentrik.web.parts.tires_in_use import (
    TireInUse,
    asked_of,
    due_of_machine,
    due_of_standing,
    tires_in_use,
)

MOST_EVENTS, A_YEAR = 40, 365


@dataclass(frozen=True, slots=True)
class Event:
    """One line of the time line."""

    on: date
    machine_id: int
    machine: str
    kind: str
    says: str
    by: str = ""
    result: str = ""
    job_id: int | None = None


@dataclass(frozen=True, slots=True)
class TireView:
    """One tire in use: its strip and what is expected of it."""

    end: str
    code: str
    strip: Markup | None
    wear: Markup | None
    says: list[str]
    result: str
    reasons: list[str]


@dataclass(frozen=True, slots=True)
class LogView:
    """The logbook of the shop, or of one machine with the forms to add to it."""

    due: list[Due]
    events: list[Event]
    today: date
    sheet: Sheet | None = None
    tires: list[TireView] = field(default_factory=list)
    odometer: list[str] = field(default_factory=list)
    stands_since: date | None = None
    signs: list[tuple[str, str]] = field(default_factory=list)
    typed: dict[str, str] = field(default_factory=dict)
    complaints: dict[str, Complaint] = field(default_factory=dict)
    ticked: tuple[str, ...] = ()
    who: str = ""
    paging: Paging | None = None
    costs: CostsView | None = None
    looks: tuple[str, ...] = tuple(look.value for look in Look)
    puncture_school: str = ""

    @property
    def puncture_usual(self) -> str:
        """What becomes of a puncture by the shop's school, as the form words it."""
        repair = self.puncture_school == PunctureSchool.REPAIR
        return PunctureSchool.REPAIR.value if repair else "tire replaced"

    @property
    def this_week(self) -> list[Due]:
        """What is late or due this week."""
        return [one for one in self.due if one.this_week(self.today)]

    @property
    def this_year(self) -> list[Due]:
        """What is due within a year, after this week."""
        year = days_after(self.today, A_YEAR)
        return [one for one in self.due if one.on <= year and not one.this_week(self.today)]

    @property
    def later(self) -> list[Due]:
        """What is due after that."""
        return [one for one in self.due if one.on > days_after(self.today, A_YEAR)]

    def due_class(self, one: Due) -> str:
        """Return how a due day looks: late, this week, or neither."""
        return "stop" if one.late(self.today) else "caution" if one.this_week(self.today) else ""


MOST_DUE = 40  # on the page; the calendar file holds them all
JUDGED_BY = (
    "class",
    "front.tire",
    "rear.tire",
    *(f"{end}.{key}" for end in ENDS for key in ("fitted.most_kpa", "axle_load_kg")),
    *(f"spec.{end}.pressure_kpa" for end in ENDS),
    *(f"set.{end}.tire_id" for end in ENDS),
)


def shop_log(
    data: LogData, due: DueData, policy: Policy, today: date, wanted: Wanted, path: str
) -> LogView:
    """Return a page of the logbook of the whole shop."""
    there = events(data, policy)
    start = (wanted.page - 1) * PAGE
    return LogView(
        due=shop_due(due, policy, today, most=MOST_DUE),
        events=there[start : start + PAGE],
        today=today,
        paging=Paging(path, wanted, more=len(there) > start + PAGE, usual=""),
    )


def shop_due(there: DueData, policy: Policy, today: date, *, most: int = 100_000) -> list[Due]:
    """Return what is due in the shop, the earliest first."""
    standing = (due_of_standing(*one, policy, today) for one in there.standing)
    return sorted((*there.due, *standing), key=lambda one: (one.on, one.key))[:most]


def machine_log(
    data: LogData,
    policy: Policy,
    today: date,
    who: str,
    typed: Typed = NOTHING_TYPED,
    ticked: tuple[str, ...] = (),
) -> LogView:
    """Return the logbook of one machine."""
    ((_, sheet),) = data.sheets.items()
    log = data.log
    return LogView(
        due=due_of_machine(sheet, data.open_jobs, log, policy, today),
        events=events(data, policy)[:MOST_EVENTS],
        today=today,
        sheet=sheet,
        tires=[_tire(sheet, tire, policy, today) for tire in tires_in_use(sheet, log, policy)],
        odometer=_odometer(sheet, log, today),
        costs=costs_view(data.documents, policy.money.currency),
        stands_since=log.standing.get(sheet.id),
        signs=[(one.name, _only(one)) for one in SIGNS],
        typed=dict(typed.values),
        complaints=typed.complaints(),
        ticked=ticked,
        who=who,
        puncture_school=policy.rubber.puncture_school.value,
    )


def events(data: LogData, policy: Policy) -> list[Event]:
    """Return every event, the last first."""
    sheets, log, ridden, closed = data.sheets, data.log, data.ridden, data.closed
    dated = [
        Event(on, machine_id, sheets[machine_id].name, kind, says, by, result, job_id)
        for on, machine_id, kind, says, by, result, job_id in (
            *_looks(sheets, log, policy),
            *_odometer_events(log),
            *_work(log, closed),
            *_rides(ridden),
        )
        if machine_id in sheets
    ]
    return sorted(dated, key=lambda one: one.on, reverse=True)


def _only(sign: Sign) -> str:
    """Return the class of a sign that only one of the looks asks for."""
    return f"only-{sign.looks[0].value.replace(' ', '-')}" if len(sign.looks) == 1 else ""


_Line = tuple[date, int, str, str, str, str, int | None]


def _looks(sheets: Mapping[int, Sheet], log: Log, policy: Policy) -> Iterator[_Line]:
    latest = sorted(log.looks, key=lambda kept: kept.look.on)[-MOST_EVENTS:]
    for kept in latest:
        look, sheet = kept.look, sheets.get(kept.machine_id)
        if sheet is None:
            continue
        judged = judge_look(look, asked_of(sheet, look.end, policy, look.tire), policy)
        says = f"{look.end} {look.tire}, {look.look}"
        if look.tread_mm is not None:
            says += f", tread {', '.join(str(mm(depth)) for depth in look.tread_mm)}"
        if look.simulated:
            says += ", simulated"
        reasons = " ".join(reason.says for reason in judged.reasons[:2])
        says = ". ".join(part for part in (says, reasons or look.note) if part)
        says += f" {look.note}" if reasons and look.note else ""
        yield look.on, kept.machine_id, "look", says, look.by, judged.result.value, None


def _odometer_events(log: Log) -> Iterator[_Line]:
    for machine_id, readings in log.odometer.items():
        for reading in readings:
            swapped = ", another instrument" if reading.swapped else ""
            says = f"{km(fixed(reading.km))}{swapped}"
            yield reading.on, machine_id, "odometer", says, "", "", None
    for machine_id, checks in log.checks.items():
        for check in checks:
            says = f"checked: {check.true_per_counted:.3f} true km for one counted"
            yield check.since, machine_id, "odometer", says, "", "", None


def _rides(ridden: tuple[Ridden, ...]) -> Iterator[_Line]:
    for machine_id, setup, one in ridden:
        scored = ", ".join(f"{name} {score}" for name, score in one.scores.items())
        says = f"“{setup}”, {one.weather}, {one.ground} ground"
        says = ". ".join(part for part in (says, scored, one.note) if part)
        yield one.on, machine_id, "ride", says, one.rider or one.by, "", one.job_id


def _work(log: Log, closed: tuple[ClosedJob, ...]) -> Iterator[_Line]:
    for fitting in log.fittings:
        yield (
            fitting.on,
            fitting.machine_id,
            "fitted",
            fitting.summary,
            fitting.by,
            "",
            fitting.job_id,
        )
    for hole in log.punctures:
        says = f"{hole.end}: {hole.what}; {hole.done}"
        yield hole.on, hole.machine_id, "puncture", says, hole.by, "", None
    for one_closed in closed:
        says = f"tag {one_closed.tag}: {one_closed.wanted or 'done'}"
        day, job_id = one_closed.closed_at.date(), one_closed.id
        yield day, one_closed.machine_id, "job closed", says, "", "", job_id


def _odometer_in_words(factor: float) -> str:
    """Return how far an odometer is off, from the true km in one it counts."""
    off = (1 / factor - 1) * 100
    if abs(off) < 0.05:
        return "Odometer reads right."
    return f"Odometer reads {fixed(abs(off), 1)} % {'high' if off > 0 else 'low'} now."


def _odometer(sheet: Sheet, log: Log, today: date) -> list[str]:
    readings = log.odometer.get(sheet.id, ())
    if not readings:
        return []
    corrections = log.corrections(sheet.id)
    dated = distances(readings, corrections)
    lines = [f"{km(fixed(readings[-1].km))} on the odometer on {readings[-1].on:%d %b %Y}."]
    if len(dated) > 1:
        swap = (
            ", over the swapped instrument by the pace"
            if any(reading.swapped for reading in readings[1:])
            else ""
        )
        lines.append(f"{km(fixed(dated[-1][1]))} ridden since {dated[0][0]:%d %b %Y}{swap}.")
    if corrections:
        lines.append(_odometer_in_words(factor_on(today, corrections)))
    return lines


def _tire(sheet: Sheet, tire: TireInUse, policy: Policy, today: date) -> TireView:
    rubber = policy.rubber
    limits = [("shop", rubber.own_tread_mm)] if sheet.kind == "motorcycle" else []
    if tire.rule_tread_mm is not None:
        limits.append(("rule", tire.rule_tread_mm))
    lowest = min((mm for _, mm in limits), default=None)
    end_day = tire.tread_day(lowest) if lowest is not None else None
    strip = LogStrip(
        title=f"{tire.end.capitalize()} tire, tread and age",
        looks=[(look.on, mm) for look in tire.looks if (mm := look.least_tread_mm) is not None],
        expected=(end_day, lowest) if end_day and lowest is not None else None,
        limits=limits,
        made=tire.made.first_day if tire.made else None,
        ages=[
            (f"{years:g} years", day)
            for years in (rubber.look_yearly_from_years, rubber.replace_at_years)
            if (day := tire.age_day(years)) is not None
        ],
        today=today,
    )
    asked = asked_of(sheet, tire.end, policy, tire.code)
    last = tire.last
    tread = last.tread_mm if last else None
    judged = judge_look(last, asked, policy) if last else None
    return TireView(
        end=tire.end,
        code=tire.code,
        strip=log_strip(strip),
        wear=wear_drawing(tread, f"{tire.end.capitalize()} tire, wear across") if tread else None,
        says=_expected(tire, policy, limits),
        result=judged.result.value if judged else "",
        reasons=[reason.says for reason in judged.reasons] if judged else [],
    )


def _expected(tire: TireInUse, policy: Policy, limits: list[tuple[str, float]]) -> list[str]:
    """Return how the tire wears, the days its limits are reached, and which comes first."""
    lines, days = [], []
    rate = tire.rate(min((limit for _, limit in limits), default=0.0))
    if rate is not None:
        lines.append(
            f"Wears {mm(fixed(rate.mm_per_1000_km, 2))} for {km(1000)}, at the "
            "place that ends first."
        )
    for name, limit in limits:
        day, left = tire.tread_day(limit), tire.tread_km(limit)
        if day is not None and left is not None:
            days.append((day, "tread"))
            lines.append(f"{mm(fixed(limit, 1))} ({name}) in about {km(fixed(left))}, {day:%b %Y}.")
    old = tire.age_day(policy.rubber.replace_at_years)
    if old is not None:
        days.append((old, "age"))
        lines.append(f"{policy.rubber.replace_at_years:g} years old in {old:%b %Y}.")
    if {kind for _, kind in days} == {"tread", "age"}:
        first = min(days)[1]
        lines.append("Wears out first." if first == "tread" else "Ages out first.")
    return lines
