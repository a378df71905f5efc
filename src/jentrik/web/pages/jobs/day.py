"""How far each job is and what the day holds: kept with the job's line, shown over the list."""

from datetime import date
from typing import Any

from jentrik.core.days import days_after
from jentrik.core.errors import Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.day import (
    HOURS_A_STEP,
    HOURS_UNKNOWN,
    DayOf,
    JobFacts,
    OfferState,
    first_day_with_room,
    parts_state,
    stage_of,
)
from jentrik.core.work.job import Job
from jentrik.core.work.offer import Offer, offer_of
from jentrik.core.work.order_entries import OrderState
from jentrik.core.work.policy import Policy
from jentrik.exchange.plan_document import read_kept
from jentrik.store import cards, costs, offers
from jentrik.store.listing import promised_hours
from jentrik.store.people import people
from jentrik.web.pages.offer.offered import changed_since
from jentrik.web.shop import Shop

DAYS_AHEAD = 60  # among which the next day with room is looked for


def day_line(shop: Shop, job: Job, sheet: Sheet, *, free: frozenset[str]) -> dict[str, Any]:
    """Return what a job's line keeps of the day: stage, next thing, hours, what it waits for.

    `free` are the proposals on which no stop stands.
    """
    last, entries = offers.last_offer(job.id), costs.entries(job.id)
    kept = (job.proposal(last.proposal) if last else None) or job.about
    missing = bool(missing_of(sheet))
    offer: Offer | None = None
    if kept is not None and kept.changes and not missing and job.done is None:
        try:
            offer = offer_of(machine_of(sheet), read_kept(kept), entries, shop.policy.money)
        except Refusal:  # it cannot be built; its line says so
            offer = None
    had = (
        [] if offer is None else [*offer.lines, *(x for x in offer.maybe if _asked(entries, x.key))]
    )
    parts = parts_state([(x.key, f"{x.part} {x.size}".strip()) for x in had], entries)
    agreed = last if last and last.state is OfferState.AGREED else None
    moved = bool(agreed and kept and offer and changed_since(agreed, kept, offer))
    ticked = cards.progress(job.id).get(job.id)
    facts = JobFacts(
        changes=any(one.changes for one in job.proposals),
        missing=missing,
        stops=job.done is None and not (free & {agreed.proposal} if agreed else free),
        offer=last.state if last else None,
        moved=moved,
        parts=parts,
        ticked=ticked[:2] if ticked else None,
        fitted=job.done is not None,
        rung=job.rung_at is not None,
        phone=bool(sheet.phone),
        closed=job.closed_at is not None,
    )
    stage, then = stage_of(facts)
    waits_for, since = parts.first
    return {
        "stage": stage.value,
        "next": then.value,
        "hours": _hours(offer, facts, sheet),
        "waits_for": waits_for,
        "waits_since": since.isoformat() if since else None,
        "arrived": parts.arrived,
        "lies": ", ".join(parts.lies),
        "offer": f"{last.state.value} {last.proposal} {last.at.date()}" if last else "",
    }


def _asked(entries: dict[str, str], key: str) -> bool:
    """Whether someone ordered a part that is only needed if the work shows it."""
    return entries.get(f"state:{key}", OrderState.OPEN) != OrderState.OPEN


def _hours(offer: Offer | None, facts: JobFacts, sheet: Sheet) -> float:
    if offer is not None and offer.work:
        return float(sum(line.hours for line in offer.work))
    if facts.ticked and not facts.changes:
        return round(facts.ticked[1] * HOURS_A_STEP, 2)
    return HOURS_UNKNOWN[sheet.kind]


def promised_on(day: date, policy: Policy) -> list[DayOf]:
    """Return what each person has promised up to a day, late jobs too, beside their hours."""
    promised: dict[str, float] = {}
    for (who, _), hours in promised_hours(day).items():
        promised[who] = promised.get(who, 0.0) + hours
    there = {one.name: one.hours_a_day or policy.day.hours for one in people()}
    names = [*there, *(who for who in promised if who and who not in there)]
    rows = [
        DayOf(name, promised.get(name, 0.0), there.get(name, policy.day.hours)) for name in names
    ]
    if promised.get(""):
        rows.append(DayOf("", promised[""], 0.0))
    return rows


def next_day_with_room(job_hours: float, whose: str, today: date, policy: Policy) -> date | None:
    """Return the next day on which a person still has room for a job; Sundays are left out."""
    days = [days_after(today, ahead) for ahead in range(DAYS_AHEAD)]
    promised: dict[date, float] = {}
    for (who, day), hours in promised_hours(days[-1]).items():
        if who == whose:
            at = max(day, today)  # what is late is done first
            promised[at] = promised.get(at, 0.0) + hours
    there = {one.name: one.hours_a_day for one in people()}.get(whose) or policy.day.hours
    open_days = (day for day in days if day.isoweekday() < 7)
    return first_day_with_room(open_days, promised, job_hours, there)
