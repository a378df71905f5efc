"""Rides on setups.

POST /jobs/{id}/setups          a setup that is ridden
POST /jobs/{id}/rides           a ride on one
POST /jobs/{id}/outcome         keep; adjust or go back as a new proposal
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.days import read_day
from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.logbook.ride import SCORES, SETUP_FIELDS, Ride
from jentrik.core.machine.suspension import ENDS
from jentrik.core.tirecode.sidewall import known_code
from jentrik.core.units import read_figure
from jentrik.store import cards, jobs, machines, rides
from jentrik.store.undo import Scope
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page
from jentrik.web.typed_values import checked_name, noted, whole_number, words
from jentrik.web.undoing import undo_view
from jentrik.web.views.address import Address
from jentrik.web.views.bench import bench_view
from jentrik.web.views.fields import Typed

router = APIRouter(include_in_schema=False)
OUTCOMES = ("keep", "adjust", "go back")


@router.post("/jobs/{job_id}/setups", name="add_setup")
def add_setup(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a setup; what is refused stays as typed."""
    job = jobs.job(job_id)
    try:
        name = checked_name(str(form.get("name", "")))
        parts: dict[str, str | float] = {}
        for known in SETUP_FIELDS:
            typed = " ".join(str(form.get(known.key, "")).split())
            if typed and known.unit:
                parts[known.key] = read_figure(typed, unit=known.unit)
            elif typed:
                if known.key.endswith("_tire"):
                    known_code(typed)
                parts[known.key] = words(typed)
        with shop.step(
            f"setup “{name}”", f"machine {job.machine_id} setup", machine_id=job.machine_id
        ) as step:
            rides.add_setup(step, job.machine_id, name, parts, on=shop.today)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, "setup", refusal)
    return _to_ride(request, job_id)


@router.post("/jobs/{job_id}/rides", name="add_ride")
def add_ride(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a ride; what is refused stays as typed."""
    job = jobs.job(job_id)
    try:
        note, typed_day = noted(form.get("note", "")), str(form.get("on", "")).strip()
        setup = whole_number(form.get("setup"))
        ride = Ride(
            id=0,
            setup_id=-1 if setup is None else setup,
            on=read_day(typed_day) if typed_day else shop.today,
            weather=str(form.get("weather", "")),
            ground=str(form.get("ground", "")),
            form=str(form.get("form", "")),
            rider=words(" ".join(str(form.get("rider", "")).split())),
            trail=words(" ".join(str(form.get("trail", "")).split())),
            scores=_scores(form),
            note=note,
            by=shop.who,
            job_id=job_id,
        )
        with shop.step("ride", f"machine {job.machine_id} ride", machine_id=job.machine_id) as step:
            rides.add_ride(step, job.machine_id, ride, today=shop.today)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, "ride", refusal)
    return _to_ride(request, job_id)


def _scores(form: AForm) -> dict[str, int]:
    scores = {}
    for name in SCORES:
        typed = str(form.get(f"score:{name}", "")).strip()
        if typed:
            score = whole_number(typed, most=9)
            if score is None:
                raise OutOfRange(f"“{typed[:10]}” is no score.", expected="a number from 1 to 5")
            scores[name] = score
    return scores


@router.post("/jobs/{job_id}/outcome", name="ride_outcome")
def ride_outcome(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep it as it is, or make a proposal to adjust it or to go back to a setup."""
    outcome = str(form.get("outcome", ""))
    if outcome not in OUTCOMES:
        raise StoreError("Keep it, adjust it or go back.", expected="one of the three")
    with shop.step(f"after the rides: {outcome}", f"job {job_id} outcome", job_id=job_id) as step:
        job = jobs.job(job_id)
        if outcome == "keep":
            jobs.want(step, job_id, f"{job.wanted[:60]} (kept)")
            return _to_ride(request, job_id)
        if outcome == "adjust":
            card = cards.card_of(job_id)
            sheet = machines.sheet(job.machine_id)
            kept = job.to_judge_named(card.proposal, sheet) if card else None
            changes = dict(kept.changes) if kept else {}
            name = jobs.add_proposal(step, job_id, changes)
        else:
            name = jobs.add_proposal(step, job_id, _back(job.machine_id, str(form.get("setup"))))
    there = Address(request.app.url_path_for("bench", job_id=job_id))
    return RedirectResponse(there.at(proposal=name), status_code=303)


def _back(machine_id: int, setup_id: str) -> dict[str, object]:
    """Return what brings a machine back to a setup: its tires and position, where they differ."""
    setup = next((one for one in rides.setups(machine_id) if str(one.id) == setup_id), None)
    if setup is None:
        raise StoreError("Choose the setup to go back to.", expected="a setup")
    sheet = machines.sheet(machine_id)
    changes: dict[str, object] = {
        end: {"tire": setup.parts[f"{end}_tire"]}
        for end in ENDS
        if setup.parts.get(f"{end}_tire") not in (None, sheet.text(f"{end}.tire"))
    }
    position = setup.parts.get("position")
    names = {one.name: one for one in sheet.positions}
    if position in names and (names[str(position)].x_mm or names[str(position)].y_mm):
        changes["position"] = position
    return changes


def _refused(
    request: Request, shop: Shop, job_id: int, form: AForm, name: str, refusal: Refusal
) -> HTMLResponse:
    job = jobs.job(job_id)
    address = Address(request.app.url_path_for("bench", job_id=job_id), station="ride")
    values = {key: value for key, value in form.items() if isinstance(value, str)}
    undo = undo_view(shop, Scope(machine_id=job.machine_id, job_id=job_id))
    view = bench_view(
        job,
        machines.sheet(job.machine_id),
        address,
        shop.policy,
        shop.today,
        typed=Typed(values, {name: refusal}),
        who=shop.who,
        undo=undo,
    )
    return page(request, "jobs/bench.html", status=422, view=view)


def _to_ride(request: Request, job_id: int) -> Response:
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="ride")
    return RedirectResponse(there, status_code=303)
