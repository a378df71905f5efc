"""A machine's set-ups and wheel sets: named, added, put on, gone back to.

POST /machines/{id}/sets            a second set, or the wheels that are on under a name
POST /machines/{id}/put-on          a wheel set put on: a job with a short card, at once
POST /machines/{id}/go-back         an earlier set-up as a proposal of a new job
POST /machines/{id}/setups/{setup}  a set-up named
POST /machines/{id}/tires/{number}/shelf  a tire that came off, onto the shelf with its wear
POST /machines/{id}/wheels/{wheel}  a wheel named, kept elsewhere, or into the bin
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS
from jentrik.store import cards, jobs
from jentrik.store.machine_data import machine_data
from jentrik.store.undo import Scope
from jentrik.web.live.command import sent_bytes
from jentrik.web.live.undoing import undo_view
from jentrik.web.pages.machines.view import machine_view
from jentrik.web.pages.setups.commands import (
    WHEEL_FIELDS,
    GoneBack,
    Named,
    NewSet,
    PutOn,
    WheelMoved,
    set_machine_photo,
)
from jentrik.web.pages.shelf.shelving import put_back
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AForm, AnUpload, AShop, Shop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}")


@router.post("/sets", name="add_set")
def add_set(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a second wheel set, or name the wheels that are on; a refusal keeps what was typed."""
    on = form.get("which") == "on"
    said = {
        end: {field: str(form.get(f"{end}_{field}", "")) for field, _, _ in WHEEL_FIELDS}
        for end in ENDS
    }
    try:
        NewSet(
            name=str(form.get("name", "")),
            which="on" if on else "new",
            front_tire=str(form.get("front_tire", "")),
            rear_tire=str(form.get("rear_tire", "")),
            front=dict(said["front"]),
            rear=dict(said["rear"]),
        ).carry_out(shop, machine_id)
    except Refusal as refusal:
        return _again(request, shop, machine_id, form, {"named-set" if on else "set": refusal})
    return _to_machine(request, machine_id)


@router.post("/put-on", name="put_on_set")
def put_on_set(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Put a wheel set on: a job, its proposal and its short card in one go."""
    job_id = PutOn.of(form).carry_out(shop, machine_id)
    url = request.app.url_path_for("bench", job_id=job_id)
    return RedirectResponse(Address(url).at(station="fit"), status_code=303)


@router.post("/go-back", name="go_back")
def go_back(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Propose a whole earlier set-up in a new job."""
    job_id = GoneBack.of(form).carry_out(shop, machine_id)
    url = request.app.url_path_for("bench", job_id=job_id)
    kept = jobs.job(job_id).about
    name = kept.name if kept else ""
    station = "fit" if cards.card_of(job_id) else "propose"
    return RedirectResponse(Address(url).at(station=station, proposal=name), status_code=303)


@router.post("/photo", name="set_machine_photo")
def machine_photo(request: Request, machine_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a photograph of a machine."""
    try:
        set_machine_photo(shop, machine_id, sent_bytes(form.get("photo")))
    except Refusal as refusal:
        return _again(request, shop, machine_id, form, {"machine-photo": refusal})
    return _to_machine(request, machine_id)


@router.post("/setups/{setup_id}", name="name_setup")
def name_setup(
    request: Request, machine_id: int, setup_id: int, shop: AShop, form: AForm
) -> Response:
    """Give a set-up another name; what it is stays."""
    Named.of(form).carry_out(shop, machine_id, setup_id)
    return _to_machine(request, machine_id)


@router.post("/tires/{number}/shelf", name="shelve_tire")
def shelve_tire(
    request: Request, machine_id: int, number: int, shop: AShop, form: AForm
) -> Response:
    """Put a tire that came off a machine on the shelf, with its wear, age and price."""
    return RedirectResponse(
        request.app.url_path_for("tire_page", tire_id=put_back(shop, machine_id, number)),
        status_code=303,
    )


@router.post("/wheels/{wheel_id}", name="move_wheel")
def move_wheel(
    request: Request, machine_id: int, wheel_id: int, shop: AShop, form: AForm
) -> Response:
    """Keep a wheel that is off elsewhere, name it, or put it in the bin."""
    WheelMoved.of(form).carry_out(shop, machine_id, wheel_id)
    return _to_machine(request, machine_id)


def _again(
    request: Request, shop: Shop, machine_id: int, form: AForm, refusals: dict[str, Refusal]
) -> HTMLResponse:
    values = {name: value for name, value in form.items() if isinstance(value, str)}
    path = request.app.url_path_for("machine_page", machine_id=machine_id)
    undo = undo_view(shop, Scope(machine_id=machine_id))
    typed = Typed(values, refusals)
    view = machine_view(machine_data(machine_id), Address(path), typed=typed, undo=undo)
    return page(request, "machines/sheet.html", status=422, view=view)


def _to_machine(request: Request, machine_id: int) -> Response:
    href = request.app.url_path_for("machine_page", machine_id=machine_id)
    return RedirectResponse(f"{href}#setups", status_code=303)
