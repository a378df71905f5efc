"""The job card: made from a proposal, ticked at the machine, printed, with photos.

POST /jobs/{id}/card                    made from a template       GET  /jobs/{id}/card   to print
POST /jobs/{id}/card/steps              one more step
POST /jobs/{id}/card/groups             the steps of a group ticked
POST /jobs/{id}/card/set-on             a known wheel set put on, and the job closed
POST /jobs/{id}/card/steps/{step}       written down, ticked, waived, opened again
POST /jobs/{id}/card/photos             one more photo             .../drop  one less
POST /jobs/{id}/close, /jobs/{id}/open  the job closed, or opened again
GET  /photos/{file}                     a photo
GET  /shop/cards, POST /shop/cards      templates of cards
"""

from dataclasses import replace

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.text import counted
from jentrik.core.work.template import built_in
from jentrik.store import cards
from jentrik.store.photo_files import FOLDER, NAME
from jentrik.web.drawing.qr import qr_code
from jentrik.web.live.command import sent_bytes
from jentrik.web.pages.card.commands import (
    Closing,
    Correction,
    GroupTicked,
    NewCard,
    NewStep,
    SetOn,
    StepWritten,
    add_photo,
    drop_photo,
    open_again,
    set_card_template,
    step_of,
)
from jentrik.web.pages.jobs.bench_page import bench_page, bench_seen
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.people.route import WrongPassphraseError, here_now
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.security.network import code_for
from jentrik.web.shop import AForm, AnUpload, AShop, Shop, remember_who
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)


@router.post("/jobs/{job_id}/card", name="make_card")
def make_card(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Make the card of a job from the chosen proposal and template."""
    NewCard.of(form).carry_out(shop, job_id)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/card/steps", name="add_step")
def add_step(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Add a step of the shop's own, after another or at the card's end."""
    try:
        NewStep.of(form).carry_out(shop, job_id)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {"new-step": refusal})
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/card/steps/{step_id}", name="write_step")
def write_step(request: Request, job_id: int, step_id: int, shop: AShop, form: AForm) -> Response:
    """Write down what was done in a step; a refusal changes nothing and keeps what was typed."""
    known = step_of(job_id, step_id)
    try:
        ticking = someone(shop, form)
        torque = str(form.get("torque_nm", "")).strip()
        said = {name: str(value) for name, value in form.items() if name in _OF_A_STEP}
        StepWritten.model_validate(
            {
                "act": "tick" if "who" in form else "keep",
                "torque_source": str(form.get("said_source", "")) or None,
                "reading": known.reading,  # the wrench's has no field
                **{name: value for name, value in said.items() if value or name == "reading"},
                "version": counted(form.get("version")),
                "torque_nm": shop.figure(torque, unit="N·m") if torque else None,
            }
        ).carry_out(ticking, job_id, known)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {f"step:{step_id}": refusal})
    return kept_as(_to_fit(request, job_id, f"step-{step_id}"), shop, ticking)


@router.post("/jobs/{job_id}/card/groups", name="write_group")
def write_group(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Tick the steps of a group that go together, all of them or none."""
    group = str(form.get("group", ""))[:20]
    try:
        known = someone(shop, form)
        GroupTicked.of(form).carry_out(known, job_id)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {group: refusal})
    return kept_as(_to_fit(request, job_id, group), shop, known)


@router.post("/jobs/{job_id}/card/set-on", name="set_on")
def set_on(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Put a known wheel set on: everything that is open ticked, and the job closed."""
    try:
        known = someone(shop, form)
        SetOn.of(form, shop.units).carry_out(known, job_id)
    except Refusal as refusal:
        at = (refusal.field or "").partition(".")[0]
        return _refused(request, shop, job_id, form, {at or "set-on": refusal})
    return kept_as(_to_fit(request, job_id), shop, known)


def someone(shop: Shop, form: AForm) -> Shop:
    """Return the shop with whoever ticks: as they are known here, else as they say in the form."""
    name = str(form.get("who", "")) or str(form.get("new_name", ""))
    if not name.strip():
        return shop
    try:
        return replace(shop, who=here_now(shop, name, ""))
    except WrongPassphraseError:
        raise OutOfRange(
            f"{name.strip()} has a passphrase: give it where it says who is at the bench.",
            field="who",
            expected="their passphrase, given above",
        ) from None


def kept_as(answer: RedirectResponse, before: Shop, now: Shop) -> RedirectResponse:
    """Return an answer after which this screen is whoever was named in it."""
    if now.who != before.who:
        remember_who(answer, now.who, now.secret)
    return answer


_OF_A_STEP = ("act", "reading", "torque_source", "why", "reason", "first", "second")


@router.get("/jobs/{job_id}/card", name="card_page")
def card_page(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the card as it is printed."""
    view = bench_seen(shop, on_bench(shop, job_id), _fit_of(request, job_id))
    path = request.app.url_path_for("bench", job_id=job_id)
    tag = f"tag {view.job.tag}"
    code = qr_code(code_for(request, path, tag), f"Opens {tag} on a phone")
    return page(request, "jobs/card.html", view=view, job=view.job, sheet=view.sheet, qr=code)


@router.post("/jobs/{job_id}/card/photos", name="add_photo")
def one_more_photo(request: Request, job_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a photo of a job."""
    try:
        add_photo(shop, job_id, sent_bytes(form.get("photo")), str(form.get("caption", "")))
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {"photo": refusal})
    return _to_fit(request, job_id, "photos")


@router.post("/jobs/{job_id}/card/photos/drop", name="drop_photo")
def one_photo_less(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take a photo off; undo brings it back."""
    drop_photo(shop, job_id, counted(form.get("photo")))
    return _to_fit(request, job_id, "photos")


@router.get("/photos/{file}", name="photo")
def photo(file: str, shop: AShop) -> Response:
    """Return a kept photo."""
    return kept_photo(shop, file)


def kept_photo(shop: Shop, file: str) -> FileResponse:
    """Return a kept picture as an answer; refuses one that is not there."""
    there = shop.folder / FOLDER / file
    if not NAME.fullmatch(file) or not there.is_file():
        raise StoreError("There is no such photo.")
    return FileResponse(there, media_type="image/jpeg")


@router.post("/jobs/{job_id}/close", name="close_job")
def close_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Close a job, what was done fitted and sealed; what is open is asked about, and recorded."""
    try:
        Closing.of(form).carry_out(shop, job_id)
    except StoreError as refusal:
        if refusal.field is None:
            raise
        return _refused(request, shop, job_id, form, {"close": refusal})
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/open", name="open_job")
def open_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Open a closed job again."""
    open_again(shop, job_id)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/corrections", name="correct_job")
def correct_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Write a correction beside the document of a job."""
    try:
        Correction(correction=str(form.get("correction", ""))).carry_out(shop, job_id)
    except StoreError as refusal:
        if refusal.field is None:
            raise
        return _refused(request, shop, job_id, form, {"correction": refusal})
    return _to_fit(request, job_id, "corrections")


@router.get("/shop/cards", name="card_templates")
def card_templates(request: Request, shop: AShop, name: str = "") -> HTMLResponse:
    """Show the templates, one of them to be written."""
    return _templates(request, name)


@router.post("/shop/cards", name="set_card_template")
def write_template(request: Request, shop: AShop, form: AForm) -> Response:
    """Write a template; no text takes the shop's own away."""
    name, text = " ".join(str(form.get("name", "")).split()), str(form.get("text", ""))
    try:
        set_card_template(shop, name, text)
    except Refusal as refusal:
        return _templates(request, name, text=text, refusal=refusal)
    there = request.app.url_path_for("card_templates")
    return RedirectResponse(f"{there}?name={name}" if text.strip() else there, status_code=303)


def _templates(
    request: Request, name: str, *, text: str | None = None, refusal: Refusal | None = None
) -> HTMLResponse:
    known = cards.templates()
    view = {
        "names": sorted(known),
        "name": name,
        "own": sorted(set(known) - set(built_in())),
        "text": known.get(name, "") if text is None else text,
        "complaint": refusal.message if refusal else "",
    }
    return page(request, "shop/cards.html", status=422 if refusal else 200, view=view)


def _to_fit(request: Request, job_id: int, place: str = "") -> RedirectResponse:
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="fit")
    return RedirectResponse(f"{there}#{place}" if place else there, status_code=303)


def _refused(
    request: Request, shop: Shop, job_id: int, form: AForm, refusals: dict[str, Refusal]
) -> HTMLResponse:
    values = {name: value for name, value in form.items() if isinstance(value, str)}
    there, address = on_bench(shop, job_id), _fit_of(request, job_id)
    return bench_page(request, shop, there, address, typed=Typed(values, refusals))


def _fit_of(request: Request, job_id: int) -> Address:
    return Address(request.app.url_path_for("bench", job_id=job_id), station="fit")
