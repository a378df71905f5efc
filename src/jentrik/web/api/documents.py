"""What the API answers with: jobs, cards, order lists, machines, shelf and log as plain values.

Keys as in the documents of an export; figures in the units they are kept in.
"""

from collections.abc import Mapping
from dataclasses import asdict
from datetime import date, datetime, time
from typing import Any

from jentrik.core.days import with_offset
from jentrik.core.errors import StoreError
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.plan.plan import as_measured
from jentrik.core.plan.remedies import remedies_of
from jentrik.core.work.card import CardStep
from jentrik.core.work.policy_fields import POLICY_FIELD
from jentrik.core.work.shelf import ShelfTire
from jentrik.core.work.tire_use import AspectRow, TireForUse
from jentrik.devices.simulated import Simulated
from jentrik.exchange.job_document import found_document, shown_document
from jentrik.exchange.plan_document import proposal_document, read_proposal
from jentrik.exchange.sheet_document import setup_document, sheet_document, wheel_document
from jentrik.store import (
    after_fitting,
    cards,
    costs,
    documents,
    jobs,
    machines,
    people,
    records,
    rides,
    setups,
    shelf,
    speeds,
    wheels,
)
from jentrik.store.backups import Kept
from jentrik.store.listing import (
    MOST_A_PAGE,
    JobLine,
    MachineLine,
    Page,
    Wanted,
    people_changed_since,
)
from jentrik.store.machine_data import log_of_machine
from jentrik.store.policy import stored_policy
from jentrik.web.pages.order.view import order_lines
from jentrik.web.pages.things.where import WhereRow
from jentrik.web.shop import Shop

NOT_SHOWN = ("picture", "says")
SHOWN_IN_WORDS = ("wheelbase", "steering")
MOST_CLOSED = 100


def plain_values(value: Any) -> Any:
    """Return a value of ours with its days, dataclasses and sets as plain values."""
    if isinstance(value, datetime):
        return with_offset(value)
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, dict):
        return {str(key): plain_values(one) for key, one in value.items()}
    if isinstance(value, list | tuple | frozenset | set):
        return [plain_values(one) for one in value]
    return value


def plain_fields(value: Any, *without: str) -> dict[str, Any]:
    """Return the fields of a dataclass of ours as plain values, without some of them."""
    fields = plain_values(asdict(value))
    return {name: one for name, one in fields.items() if name not in without}


def job_document(shop: Shop, job_id: int) -> dict[str, Any]:
    """Return a job: what was found, every proposal, what was fitted.

    Of a job that is done they are what they were on the day.
    """
    known, state = jobs.any_job(job_id)
    kept = documents.document(job_id)
    if kept is not None:
        values = kept.values
    else:
        sheet = machines.sheet(known.machine_id)
        values = found_document(known, sheet, shop.policy, shop.today)
    return {
        "id": job_id,
        "machine_id": known.machine_id,
        "external_id": known.external_id,
        "whose": known.whose,
        "due_on": known.due_on.isoformat() if known.due_on else None,
        "promised_at": _promised(known.due_on, known.promised_time),
        **shown_document(values, state),
    }


def machine_document(machine_id: int) -> dict[str, Any]:
    """Return a machine: its sheet, its set-ups with the oldest first, its wheels and wheel sets."""
    sheet = machines.sheet(machine_id)
    return {
        "id": sheet.id,
        "name": sheet.name,
        "kind": sheet.kind,
        "owner": sheet.owner,
        "phone": sheet.phone,
        "note": sheet.note,
        "external_id": sheet.external_id,
        "sheet": sheet_document(sheet),
        "setups": [
            {"id": setup.id, **setup_document(setup)} for setup in setups.setups(machine_id)
        ],
        "wheels": [wheel_document(wheel) for wheel in wheels.wheels_of(sheet)],
        "sets": [plain_fields(set_) for set_ in wheels.sets_of(machine_id)],
    }


def jobs_document(page: Page[JobLine]) -> dict[str, Any]:
    """Return a page of jobs."""
    return {"jobs": [_job_row(row) for row in page.rows], "more": page.more, "total": page.total}


def _job_row(line: JobLine) -> dict[str, Any]:
    """Return one job of a list, with its state and the moment it is promised for."""
    return {
        **plain_fields(line, *NOT_SHOWN),
        "promised_at": _promised(line.due_on, line.promised_time),
    }


def _promised(day: date | None, at: str) -> str | None:
    """Return when a job is promised: a moment, or the day alone where no hour is said."""
    if day is None or not at:
        return day.isoformat() if day else None
    return with_offset(datetime.combine(day, time.fromisoformat(at)))


def machines_document(page: Page[MachineLine]) -> dict[str, Any]:
    """Return a page of machines."""
    lines = [_machine_row(row) for row in page.rows]
    return {"machines": lines, "more": page.more, "total": page.total}


def _machine_row(line: MachineLine) -> dict[str, Any]:
    """Return one machine of a list, with figures where the page shows them with their words."""
    angle, _, which = line.steering.partition("° ")
    known = {"head": None, "rake": None, which: _figure(angle)}
    return {
        **plain_fields(line, *NOT_SHOWN, *SHOWN_IN_WORDS),
        "front": None if line.front == "–" else line.front,
        "rear": None if line.rear == "–" else line.rear,
        "wheelbase_mm": _figure(line.wheelbase),
        "head_angle_deg": known["head"],
        "rake_deg": known["rake"],
        "jobs": [{"id": job, "tag": tag} for job, tag in line.jobs],
        "sets": [{"id": number, "name": name} for number, name in line.sets],
    }


def _figure(shown: str) -> float | None:
    return None if shown in ("", "–") else float(shown)


def shelf_document(page: Page[ShelfTire]) -> dict[str, Any]:
    """Return a page of the tires on the shelf."""
    tires = [_tire_document(tire) for tire in page.rows]
    return {"tires": tires, "more": page.more, "total": page.total}


def tire_document(tire_id: int) -> dict[str, Any]:
    """Return one tire on the shelf; refuses one that is gone."""
    return _tire_document(shelf.known_tire(tire_id))


def _tire_document(tire: ShelfTire) -> dict[str, Any]:
    fields = plain_fields(tire, "facts", "job_id", "tire_id")
    price = None if tire.price is None else f"{tire.price:f}"
    return {**fields, "price": price, "reserved_for": tire.job_id, "facts": tire.facts.values()}


def where_document(rows: list[WhereRow], *, more: bool) -> dict[str, Any]:
    """Return a page of machines with what the rules say of a thing at each end."""
    return {"machines": [plain_fields(row) for row in rows], "more": more}


def tires_document(
    code: str, sizes: Mapping[str, int], rows: list[AspectRow], found: list[TireForUse]
) -> dict[str, Any]:
    """Return tires of one size for a use: aspect by aspect, and what each gives and gives away."""
    return {
        "code": code,
        "sizes": dict(sizes),
        "tires": [
            {
                "id": one.tire.id,
                "make": one.tire.make,
                "gives": list(one.gives),
                "gives_away": list(one.gives_away),
                "cost_a_year": f"{one.years.cost_a_year}"
                if one.years and one.years.cost_a_year is not None
                else None,
            }
            for one in found
        ],
        "aspects": [
            {"name": row.name, "said": [one.words for one in row.said], "best": list(row.best)}
            for row in rows
        ],
    }


def card_document(job_id: int) -> dict[str, Any]:
    """Return the card of a job with its steps, and its photographs; refuses where there is none."""
    jobs.any_job(job_id)
    card = cards.card_of(job_id)
    if card is None:
        raise StoreError("There is no card yet.", expected="a card")
    return {
        "id": card.id,
        "proposal": card.proposal,
        "template": card.template,
        "made_at": with_offset(card.made_at),
        "groups": [
            {"name": group.name, "steps": [step.id for step in group.steps]}
            for group in card.groups
        ],
        "steps": [_step_document(step) for step in card.steps],
        **photos_document(job_id),
    }


def photos_document(job_id: int) -> dict[str, Any]:
    """Return the photographs of a job; the picture itself is at `/photos/{file}`."""
    return {"photos": [plain_fields(photo) for photo in cards.photos(job_id)]}


def _step_document(step: CardStep) -> dict[str, Any]:
    plan = step.plan
    return {
        "id": step.id,
        "place": step.place,
        "text": plan.text,
        "stop": plan.stop,
        "caution": plan.caution,
        "fastener": plan.fastener,
        "reading": {
            "what": plan.reading,
            "unit": plan.unit,
            "at_least": plan.at_least,
            "at_most": plan.at_most,
            "from": plan.limits_from,
            "value": step.reading,
            "plus_minus": step.plus_minus,
            "simulated": step.simulated,
        }
        if plan.reading
        else None,
        "state": "waived" if step.waived else "done" if step.done_at else "open",
        "torque_nm": step.torque_nm,
        "torque_source": step.torque_source,
        "done": {"by": step.done_by, "at": with_offset(step.done_at), "why": step.reason}
        if step.done_at
        else None,
        "waived": step.waived,
        "version": step.version,
    }


def order_document(shop: Shop, job_id: int) -> dict[str, Any]:
    """Return the order list of a job: its lines with the keys they are written under."""
    there = documents.on_bench(jobs.job(job_id), shop.policy, shop.today)
    return {"lines": order_lines(there, costs.entries(job_id)), "entries": costs.entries(job_id)}


def ways_document(shop: Shop, job_id: int, proposal: str) -> dict[str, Any]:
    """Return what could bring a proposal back to the geometry as found, step by step."""
    there = documents.on_bench(jobs.job(job_id), shop.policy, shop.today)
    kept = there.job.proposal(proposal)
    if kept is None:
        raise StoreError("That proposal is not there any more.", expected="a proposal")
    if missing_of(there.sheet):
        raise StoreError("Figures of the machine are missing.", field="figures")
    bike, changes = machine_of(there.sheet), read_proposal(kept.values())
    as_measured(bike)
    return {
        "remedies": [
            {
                "id": remedy.id,
                "name": remedy.name,
                "watch_out_for": remedy.mind,
                "steps": [
                    {
                        "take": f"{remedy.id}:{place}",
                        "words": step.words,
                        "changes": _changed(step.on(changes)),
                    }
                    for place, step in enumerate(remedy.steps)
                ],
            }
            for remedy in remedies_of(bike, changes)
        ]
    }


def _changed(proposal: Proposal) -> dict[str, Any]:
    changes: dict[str, Any] = proposal_document(proposal)
    changes.pop("name")
    return changes


def measured_document(job_id: int) -> dict[str, Any]:
    """Return what was measured after fitting, by key."""
    return {
        key: {"measured": one.measured, "expected": plain_fields(one.expected)}
        for key, one in after_fitting.measured_of(job_id).items()
    }


def rides_document(machine_id: int) -> dict[str, Any]:
    """Return the rides of a machine."""
    machines.sheet(machine_id)
    tracked = rides.tracks(machine_id)
    return {
        "rides": [
            {
                **plain_fields(ride),
                "km": tracked[ride.id].km if ride.id in tracked else None,
                "seconds": tracked[ride.id].seconds if ride.id in tracked else None,
            }
            for ride in rides.rides(machine_id)
        ]
    }


def log_document(machine_id: int) -> dict[str, Any]:
    """Return everything in a machine's logbook, oldest first."""
    log = log_of_machine(machine_id, most=MOST_CLOSED).log
    return {
        "inspections": [{"id": look.id, **plain_fields(look.look)} for look in log.looks],
        "odometer": [plain_fields(one) for one in log.odometer.get(machine_id, ())],
        "odometer_checks": [plain_fields(one) for one in log.checks.get(machine_id, ())],
        "fittings": [plain_fields(fitting) for fitting in log.fittings],
        "punctures": [plain_fields(puncture) for puncture in log.punctures],
        "stands_since": plain_values(log.standing.get(machine_id)),
    }


def speed_document(machine_id: int) -> dict[str, Any]:
    """Return the pairs of true and shown speed of a machine."""
    machines.sheet(machine_id)
    return {
        "pairs": [
            {"id": pair.id, "true_kmh": pair.pair.true_kmh, "shown_kmh": pair.pair.shown_kmh}
            for pair in speeds.pairs(machine_id)
        ]
    }


def policy_document() -> dict[str, Any]:
    """Return what the shop judges by, key by key."""
    policy = stored_policy()
    return {key: plain_values(policy.at(key)) for key in POLICY_FIELD}


def history_document(machine_id: int, before: int | None) -> dict[str, Any]:
    """Return a page of the changes of a machine, the last first."""
    found = records.history(machine_id, before=before)
    return {"changes": [plain_fields(one) for one in found]}


def people_document(wanted: Wanted | None = None) -> dict[str, Any]:
    """Return who works here, a page of those asked for, and how many they are."""
    wanted = wanted or Wanted(size=MOST_A_PAGE)
    known = people.people()
    if wanted.external_id:
        known = [one for one in known if one.external_id == wanted.external_id]
    if wanted.changed_since:
        changed = people_changed_since(wanted.changed_since)
        known = [one for one in known if one.id in changed]
    start = (wanted.page - 1) * wanted.size
    shown = known[start : start + wanted.size]
    return {
        "people": [plain_fields(person, "secret") for person in shown],
        "more": len(known) > start + wanted.size,
        "total": len(known),
    }


def gauges_document(drawer: list[Simulated]) -> dict[str, Any]:
    """Return the gauges as they lie in their drawers."""
    return {
        "gauges": [
            {
                "tool": one.tool.id,
                "name": one.name,
                "quantity": one.quantity.value,
                "on": one.on,
                "zero_error": one.zero_error,
                "battery_percent": one.battery_percent,
            }
            for one in drawer
        ]
    }


def backups_document(kept: list[Kept]) -> dict[str, Any]:
    """Return the backups the shop keeps."""
    return {"backups": [plain_fields(one) for one in kept]}


def bin_document() -> dict[str, Any]:
    """Return what lies in the bin."""
    return {"binned": [plain_fields(one) for one in records.binned()]}
