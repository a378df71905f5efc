"""Rides on setups.

POST /jobs/{id}/setups          a setup that is ridden
POST /jobs/{id}/rides           a ride on one
POST /jobs/{id}/outcome         keep; adjust or go back as a new proposal
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.work.ride import SETUP_FIELDS
from jentrik.web.pages.jobs.bench_page import bench_page
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.ride.commands import NewRide, Outcome, RideSetup
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AForm, AShop, Shop

router = APIRouter(include_in_schema=False)
OUTCOMES = ("keep", "adjust", "go back")


@router.post("/jobs/{job_id}/setups", name="add_setup")
def add_setup(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a setup; what is refused stays as typed."""
    parts = {known.key: str(form.get(known.key, "")) for known in SETUP_FIELDS}
    try:
        RideSetup(name=str(form.get("name", "")), parts=dict(parts)).carry_out(shop, job_id)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, "setup", refusal)
    return _to_ride(request, job_id)


@router.post("/jobs/{job_id}/rides", name="add_ride")
def add_ride(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a ride; what is refused stays as typed."""
    try:
        NewRide.of(form).carry_out(shop, job_id)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, "ride", refusal)
    return _to_ride(request, job_id)


@router.post("/jobs/{job_id}/outcome", name="ride_outcome")
def ride_outcome(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep it as it is, or go to the proposal it goes on with."""
    goes_on = Outcome.of(form).carry_out(shop, job_id)
    if goes_on is None:
        return _to_ride(request, job_id)
    there = Address(request.app.url_path_for("bench", job_id=goes_on[0]))
    return RedirectResponse(there.at(station="propose", proposal=goes_on[1]), status_code=303)


def _refused(
    request: Request, shop: Shop, job_id: int, form: AForm, name: str, refusal: Refusal
) -> HTMLResponse:
    there = on_bench(shop, job_id)
    address = Address(request.app.url_path_for("bench", job_id=job_id), station="ride")
    values = {key: value for key, value in form.items() if isinstance(value, str)}
    typed = Typed(values, {name: refusal})
    return bench_page(request, shop, there, address, typed=typed)


def _to_ride(request: Request, job_id: int) -> Response:
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="ride")
    return RedirectResponse(there, status_code=303)
