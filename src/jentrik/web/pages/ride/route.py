"""Rides on setups.

POST /jobs/{id}/setups          a setup that is ridden
POST /jobs/{id}/rides           a ride on one
POST /jobs/{id}/outcome         keep; adjust or go back as a new proposal
"""

from textwrap import shorten

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.days import read_day
from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.text import counted
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.ride import SCORES, SETUP_FIELDS, Ride
from jentrik.store import jobs, rides, setups
from jentrik.store.proposing import propose_setup
from jentrik.web.live.typed_values import checked_name, noted, words
from jentrik.web.pages.jobs.bench_page import bench_page
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.jobs.proposing_from import job_to_go_on_with
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AForm, AShop, Shop, refuse_program

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
                parts[known.key] = shop.figure(typed, unit=known.unit)
            elif typed:
                if known.key.endswith(".tire"):
                    known_code(typed)
                parts[known.key] = words(typed)
        with shop.step(
            f"setup “{name}”", f"machine {job.machine_id} setup", machine_id=job.machine_id
        ) as step:
            rides.set_up(step, job.machine_id, name, parts, on=shop.today, job_id=job_id)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, "setup", refusal)
    return _to_ride(request, job_id)


@router.post("/jobs/{job_id}/rides", name="add_ride")
def add_ride(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a ride; what is refused stays as typed."""
    job = jobs.job(job_id)
    try:
        note, typed_day = noted(form.get("note", "")), str(form.get("on", "")).strip()
        setup = counted(form.get("setup"))
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
            score = counted(typed, most=9)
            if score is None:
                raise OutOfRange(f"“{typed[:10]}” is no score.", expected="a number from 1 to 5")
            scores[name] = score
    return scores


@router.post("/jobs/{job_id}/outcome", name="ride_outcome")
def ride_outcome(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep it as it is, or make a proposal to adjust it or to go back to a whole set-up.

    What was fitted stays as it was: both are proposals of another job, where this one was fitted.
    """
    outcome = str(form.get("outcome", ""))
    if outcome not in OUTCOMES:
        raise StoreError("Keep it, adjust it or go back.", expected="one of the three")
    machine_id = jobs.job(job_id).machine_id
    with shop.step(
        f"after the rides: {outcome}", f"job {job_id} outcome", machine_id=machine_id
    ) as step:
        job = jobs.job(job_id)
        if outcome == "keep":
            if not job.sealed:
                jobs.want(step, job_id, f"{shorten(job.wanted, 60, placeholder='…')} (kept)")
            return _to_ride(request, job_id)
        back = outcome == "go back"
        goes_on = job_to_go_on_with(
            step, shop, job, wanted="Back to how it was" if back else "Adjust after the rides"
        )
        if back:
            setup = setups.setup(machine_id, counted(form.get("setup")))
            name = propose_setup(step, goes_on, machine_id, setup)
        else:
            name = jobs.add_proposal(step, goes_on, {})
    there = Address(request.app.url_path_for("bench", job_id=goes_on))
    return RedirectResponse(there.at(station="propose", proposal=name), status_code=303)


def _refused(
    request: Request, shop: Shop, job_id: int, form: AForm, name: str, refusal: Refusal
) -> HTMLResponse:
    refuse_program(request, [refusal])
    there = on_bench(shop, job_id)
    address = Address(request.app.url_path_for("bench", job_id=job_id), station="ride")
    values = {key: value for key, value in form.items() if isinstance(value, str)}
    typed = Typed(values, {name: refusal})
    return bench_page(request, shop, there, address, typed=typed)


def _to_ride(request: Request, job_id: int) -> Response:
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="ride")
    return RedirectResponse(there, status_code=303)
