"""A machine's set-ups and wheel sets: named, added, put on, gone back to.

POST /machines/{id}/sets            a second set, or the wheels that are on under a name
POST /machines/{id}/put-on          a wheel set put on: a job with a short card, at once
POST /machines/{id}/go-back         an earlier set-up as a proposal of a new job
POST /machines/{id}/setups/{setup}  a set-up named
POST /machines/{id}/tires/{number}/shelf  a tire that came off, onto the shelf with its wear
POST /machines/{id}/wheels/{wheel}  a wheel named, kept elsewhere, or into the bin
"""

from collections.abc import Mapping

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import UploadFile

from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.text import counted
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.card import card_steps
from jentrik.exchange.photo import read_photo
from jentrik.store import cards, documents, jobs, machines, setups, wheels
from jentrik.store.fitting import worked_out
from jentrik.store.journal import Step
from jentrik.store.machine_data import machine_data
from jentrik.store.photo_files import keep_photo
from jentrik.store.proposing import propose_set, propose_setup
from jentrik.store.undo import Scope
from jentrik.web.live.typed_values import Holds, checked_name, held, words
from jentrik.web.live.undoing import undo_view
from jentrik.web.pages.card.view import FROM_CHANGES
from jentrik.web.pages.machines.view import machine_view
from jentrik.web.pages.shelf.shelving import put_back
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AForm, AnUpload, AShop, Shop, refuse_program
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}")
# Of a new wheel: field of the form, key of the wheel, what it holds.
WHEEL_FIELDS: tuple[tuple[str, str, Holds], ...] = (
    ("inner_width", "rim.inner_width_mm", "mm"),
    ("rotor", "hub.rotor_mm", "mm"),
    ("slots", "tone_ring_slots", ""),
    ("kpa", "fitted.pressure_kpa", "kPa"),
    ("make", "fitted.make", words),
    ("build", "rim.build", ("laced", "cast")),
)


@router.post("/sets", name="add_set")
def add_set(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a second wheel set, or name the wheels that are on; a refusal keeps what was typed."""
    try:
        name = checked_name(str(form.get("name", "")))
        with shop.step(
            f"wheel set “{name}”", f"machine {machine_id} set", machine_id=machine_id
        ) as step:
            sheet = machines.sheet(machine_id)
            if form.get("which") == "on":
                wheels.number_wheels(step, machine_id, name=name, on=shop.today)
                now = wheels.wheels_of(machines.sheet(machine_id))
                there = {one.end: one.id for one in now if one.kept == "machine"}
            else:
                there = _new_wheels(step, shop, form, machine_id, name)
            wheels.add_set(step, sheet.id, name=name, wheels=there)
    except Refusal as refusal:
        at = "named-set" if form.get("which") == "on" else "set"
        return _again(request, shop, machine_id, form, {at: refusal})
    return _to_machine(request, machine_id)


def _new_wheels(step: Step, shop: Shop, form: AForm, machine_id: int, name: str) -> dict[End, int]:
    there: dict[End, int] = {}
    for end in ENDS:
        parts = _wheel_parts(form, end, shop)
        if parts:
            there[end] = wheels.add_wheel(
                step,
                machine_id,
                end=end,
                name=f"{name}, {end}",
                kept="owner",
                parts=parts,
                on=shop.today,
            )
    if not there:
        raise OutOfRange(
            "A wheel set has at least one wheel: say its tire.",
            field="set",
            expected="a tire code, front or rear",
        )
    return there


def _wheel_parts(form: AForm, end: End, shop: Shop) -> dict[str, Figure]:
    """Return the figures of a new wheel as typed; nothing where no tire was named."""
    code = " ".join(str(form.get(f"{end}_tire", "")).split())
    if not code:
        return {}
    reading = known_code(code)
    parts = {
        "tire": Figure(code, Provenance.MEASURED, shop.today),
        "rim.bead_seat_diameter_mm": Figure(
            float(reading.bead_seat_diameter_mm), Provenance.ASSUMED, shop.today
        ),
    }
    for field, key, holds in WHEEL_FIELDS:
        typed = " ".join(str(form.get(f"{end}_{field}", "")).split())
        if not typed:
            continue
        unit = holds if isinstance(holds, str) else ""
        value = held(holds, shop.units.in_kept(typed, unit), key=key)
        if not isinstance(value, str):
            check_key(f"{end}.{key}", value)
        parts[key] = Figure(value, Provenance.MEASURED, shop.today)
    return parts


@router.post("/put-on", name="put_on_set")
def put_on_set(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Put a wheel set on: a job, its proposal and its short card in one go."""
    job_id = start_put_on(request, machine_id, shop, form)
    url = request.app.url_path_for("bench", job_id=job_id)
    return RedirectResponse(Address(url).at(station="fit"), status_code=303)


def start_put_on(request: Request, machine_id: int, shop: Shop, form: AForm) -> int:
    """Start putting a set on, and return the job; one that is being put on leads to its job."""
    with shop.step("wheels changed", f"machine {machine_id} put on", machine_id=machine_id) as step:
        known = wheels.wheel_set(machine_id, counted(form.get("set")))
        at_work = _being_done(
            machine_id, {end: number for end in ENDS if (number := known.wheel(end)) is not None}
        )
        if at_work is not None:
            return at_work
        step.label = f"“{known.name}” on"
        wheels.number_wheels(step, machine_id, name="Wheels as found", on=shop.today)
        job_id = jobs.add_job(step, machine_id=machine_id, wanted=f"{known.name} on", at=shop.now())
        name = propose_set(step, job_id, machine_id, known)
        there = documents.on_bench(jobs.job(job_id), shop.policy, shop.today)
        kept = there.job.proposal(name)
        assert kept is not None
        found, outcome = worked_out(there, kept)
        steps = card_steps(found.bike, outcome, cards.templates(), policy=shop.policy)
        cards.make_card(
            step, job_id, proposal=name, template=FROM_CHANGES, steps=steps, at=shop.now()
        )
    return job_id


def _being_done(machine_id: int, takes: Mapping[str, int]) -> int | None:
    """Return the open job of a machine that takes just that; None where there is none."""
    for job in jobs.open_jobs_of(machine_id):
        for kept in job.proposals:
            taken = {key: value for key, value in kept.takes.items() if key != "changes"}
            if job.done is None and taken and taken.items() <= takes.items():
                return job.id
    return None


@router.post("/go-back", name="go_back")
def go_back(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Propose a whole earlier set-up in a new job."""
    job_id = start_going_back(request, machine_id, shop, form)
    url = request.app.url_path_for("bench", job_id=job_id)
    kept = jobs.job(job_id).about
    name = kept.name if kept else ""
    return RedirectResponse(Address(url).at(station="propose", proposal=name), status_code=303)


def start_going_back(request: Request, machine_id: int, shop: Shop, form: AForm) -> int:
    """Propose an earlier set-up, and return the job; one that is proposed leads to its job."""
    with shop.step("back to before", f"machine {machine_id} back", machine_id=machine_id) as step:
        setup = setups.setup(machine_id, counted(form.get("setup")))
        at_work = _being_done(machine_id, {"setup": setup.id})
        if at_work is not None:
            return at_work
        step.label = f"back to “{setup.name}”"
        wheels.number_wheels(step, machine_id, name="Wheels as found", on=shop.today)
        job_id = jobs.add_job(
            step, machine_id=machine_id, wanted=f"Back to {setup.name}", at=shop.now()
        )
        propose_setup(step, job_id, machine_id, setup)
    return job_id


@router.post("/photo", name="set_machine_photo")
def set_machine_photo(request: Request, machine_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a photograph of a machine, written anew without what the camera noted in it."""
    part = form.get("photo")
    try:
        small = read_photo(part.file.read() if isinstance(part, UploadFile) else b"")
        name = keep_photo(shop.folder, small)
        with shop.step("photograph", f"machine {machine_id} photo", machine_id=machine_id) as step:
            machines.set_word(step, machines.sheet(machine_id).id, "photo", name)
    except Refusal as refusal:
        return _again(request, shop, machine_id, form, {"machine-photo": refusal})
    return _to_machine(request, machine_id)


@router.post("/setups/{setup_id}", name="name_setup")
def name_setup(
    request: Request, machine_id: int, setup_id: int, shop: AShop, form: AForm
) -> Response:
    """Give a set-up another name; what it is stays."""
    name = checked_name(str(form.get("name", "")))
    with shop.step(
        f"set-up named {name}", f"machine {machine_id} set-up", machine_id=machine_id
    ) as step:
        setups.rename(step, machine_id, setup_id, name)
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
    act = str(form.get("act", ""))
    with shop.step("wheel", f"machine {machine_id} wheel", machine_id=machine_id) as step:
        known = wheels.wheel(wheel_id)
        if known.machine_id != machine_id:
            raise StoreError("That wheel is of another machine.", expected="one of its wheels")
        step.label = f"{known.name}: {act}"
        if act == "bin":
            wheels.drop_wheel(step, wheel_id, at=shop.now().isoformat())
        elif act == "name":
            wheels.rename_wheel(step, wheel_id, checked_name(str(form.get("name", ""))))
        else:
            wheels.keep_where(step, wheel_id, act)
    return _to_machine(request, machine_id)


def _again(
    request: Request, shop: Shop, machine_id: int, form: AForm, refusals: dict[str, Refusal]
) -> HTMLResponse:
    refuse_program(request, refusals.values())
    values = {name: value for name, value in form.items() if isinstance(value, str)}
    path = request.app.url_path_for("machine_page", machine_id=machine_id)
    undo = undo_view(shop, Scope(machine_id=machine_id))
    typed = Typed(values, refusals)
    view = machine_view(machine_data(machine_id), Address(path), typed=typed, undo=undo)
    return page(request, "machines/sheet.html", status=422, view=view)


def _to_machine(request: Request, machine_id: int) -> Response:
    href = request.app.url_path_for("machine_page", machine_id=machine_id)
    return RedirectResponse(f"{href}#setups", status_code=303)
