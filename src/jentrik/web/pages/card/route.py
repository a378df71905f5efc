"""The job card: made from a proposal, ticked at the machine, printed, with photos.

POST /jobs/{id}/card                    made from a template       GET  /jobs/{id}/card   to print
POST /jobs/{id}/card/steps              one more step
POST /jobs/{id}/card/steps/{step}       written down, ticked, waived, opened again
POST /jobs/{id}/card/photos             one more photo             .../drop  one less
POST /jobs/{id}/close, /jobs/{id}/open  the job closed, or opened again
GET  /photos/{file}                     a photo
GET  /shop/cards, POST /shop/cards      templates of cards
"""

from collections.abc import Mapping
from textwrap import shorten
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, HTMLResponse, RedirectResponse, Response
from starlette.datastructures import UploadFile

from jentrik.core.errors import DocumentError, OutOfRange, Refusal, StoreError
from jentrik.core.machine.fields import missing_of
from jentrik.core.plan.plan import Outcome
from jentrik.core.plan.uncertainty import tells
from jentrik.core.text import counted
from jentrik.core.units import read_figure
from jentrik.core.work.after_fitting import expectations
from jentrik.core.work.card import Card, CardStep, card_steps, checked_torque, outside
from jentrik.core.work.template import built_in, steps_of
from jentrik.devices.port import Taken
from jentrik.exchange.photo import read_photo
from jentrik.store import after_fitting, cards, documents, jobs, machines
from jentrik.store.documents import OnBench
from jentrik.store.fitting import carried_out, fit_job, worked_out
from jentrik.store.journal import Step
from jentrik.store.photo_files import FOLDER, NAME, keep_photo
from jentrik.store.stock import reserve_for
from jentrik.web.drawing.qr import qr_code
from jentrik.web.figures import plain
from jentrik.web.live.typed_values import checked_name
from jentrik.web.pages.card.view import FROM_CHANGES, TORQUE_SOURCES
from jentrik.web.pages.jobs.bench_page import bench_page, bench_seen
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.parts.gauging import step_reading
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.security.network import network_address
from jentrik.web.shop import AForm, AnUpload, AShop, Shop, refuse_program
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)
LONGEST_REASON = 200


@router.post("/jobs/{job_id}/card", name="make_card")
def make_card(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Make the card of a job from the chosen proposal and template."""
    proposal, template = str(form.get("proposal", "")), str(form.get("template", ""))
    with shop.step("job card made", f"job {job_id} card", job_id=job_id) as step:
        documents.must_be_open(job_id)
        there = on_bench(shop, job_id)
        kept = there.job.proposal(proposal)
        known = cards.templates()
        text = "" if template in ("", FROM_CHANGES) else known.get(template)
        if kept is None or text is None:
            raise StoreError("Choose a proposal and a template.", expected="one of the lists")
        found, _ = found_of(there.sheet, missing_of(there.sheet), there.policy, there.today)
        outcome = judged(found, kept)
        if found is None or not isinstance(outcome, Outcome):
            raise DocumentError(
                "This proposal cannot stand yet, so no card can be made of it.",
                expected="a proposal that can be drawn",
            )
        steps = card_steps(found.bike, outcome, known, text, policy=there.policy)
        cards.make_card(
            step,
            job_id,
            proposal=proposal,
            template=template or FROM_CHANGES,
            steps=steps,
            at=shop.now(),
        )
        reserve_for(step, job_id, kept)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/card/steps", name="add_step")
def add_step(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Add a step of the shop's own, after another or at the card's end."""
    text = " ".join(str(form.get("text", "")).split())
    try:
        (plan,) = steps_of(text)
        with shop.step("step added", f"job {job_id} step", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            card = cards.card_of(job_id)
            if card is None:
                raise StoreError("There is no card yet.", expected="a card")
            cards.add_step(step, card, plan, after=counted(form.get("after")))
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {"new-step": refusal})
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/card/steps/{step_id}", name="write_step")
def write_step(request: Request, job_id: int, step_id: int, shop: AShop, form: AForm) -> Response:
    """Write down what was done in a step; a refusal changes nothing and keeps what was typed."""
    card = cards.card_of(job_id)
    known = next((one for one in card.steps if one.id == step_id), None) if card else None
    if known is None:
        raise StoreError("That step is not on the card any more.")
    if form.get("act") in ("up", "down", "split"):
        return _placed(request, job_id, known, shop, form)
    try:
        values = _written(known, form, shop.who, shop)
        if form.get("act") == "gauge":
            taken = _gauged(known, job_id, shop, values["torque_nm"])
            values |= {"reading": f"{taken.value:g}", "simulated": taken.simulated}
        seen = counted(form.get("version"))
        label = f"{shorten(known.plan.text, 60, placeholder='…')}: {form.get('act', 'kept')!s}"
        with shop.step(label, f"job {job_id} step {step_id}", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            cards.write_step(step, known, seen_version=-1 if seen is None else seen, **values)
            if known.plan.measures:
                _measured_on_card(step, shop, job_id, known, values.get("reading"))
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {f"step:{step_id}": refusal})
    return _to_fit(request, job_id, f"step-{step_id}")


def _placed(request: Request, job_id: int, known: CardStep, shop: Shop, form: AForm) -> Response:
    """Move a step up or down its card, or make two of it."""
    act = str(form.get("act"))
    try:
        with shop.step(f"step {act}", f"job {job_id} step", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            card = cards.card_of(job_id)
            if card is None:
                raise StoreError("There is no card yet.", expected="a card")
            if act == "split":
                first, second = (
                    steps_of(" ".join(str(form.get(name, "")).split()))[0].text
                    for name in ("first", "second")
                )
                cards.split_step(step, card, known, first, second)
            else:
                cards.move_step(step, card, known.id, -1 if act == "up" else 1)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {f"step:{known.id}": refusal})
    return _to_fit(request, job_id, f"step-{known.id}")


def _measured_on_card(
    step: Step, shop: Shop, job_id: int, known: CardStep, reading: str | None
) -> None:
    """Note a gap read on the card in the check after fitting, so that it is not typed again."""
    there = on_bench(shop, job_id)
    if there.job.sealed:
        _measured_on_sheet(step, shop, there, known, reading)
        return
    found, outcome = worked_out(there, carried_out(there))
    for one in expectations(found, outcome, tells(there.sheet, found, outcome.proposal)):
        if one.key == known.plan.measures:
            value = read_figure(reading, unit=one.unit) if reading else None
            after_fitting.set_measured(step, job_id, one, value, on=shop.today, by=shop.who)


def _measured_on_sheet(
    step: Step, shop: Shop, there: OnBench, known: CardStep, reading: str | None
) -> None:
    """Write what is read on the card of a job that was fitted onto the set-up it led to."""
    sheet = machines.sheet(there.job.machine_id)
    fitted = there.document.values.get("fitted_sheet") if there.document else None
    is_on = fitted and sheet.setup and fitted["setup"]["id"] == sheet.setup.id
    if is_on and reading and known.plan.unit not in ("", "words"):
        value = read_figure(reading, unit=known.plan.unit)
        after_fitting.measure(
            step, sheet, known.plan.measures, value, shop.today, simulated=known.simulated
        )


def _gauged(step: CardStep, job_id: int, shop: Shop, torque_nm: float | None) -> Taken:
    """Return what a tool of the shop reads for a step."""
    at, card = on_bench(shop, job_id), cards.card_of(job_id)
    found, _ = found_of(at.sheet, missing_of(at.sheet), at.policy, at.today)
    kept = at.job.proposal(card.proposal) if card else None
    outcome = judged(found, kept) if kept else None
    there = outcome if isinstance(outcome, Outcome) else None
    return step_reading(shop, at.sheet, step, there, torque_nm)


def _written(step: CardStep, form: AForm, who: str, shop: Shop) -> dict[str, Any]:
    """Return the columns a form writes on a step; refuses a tick that lacks what it needs."""
    act = str(form.get("act", "keep"))
    if act == "open":
        return {"done_at": None, "done_by": None, "waived": None, "reason": None}
    values = _figures(step, form, shop)
    if act == "waive":
        reason = " ".join(str(form.get("reason", "")).split())
        if not reason or len(reason) > LONGEST_REASON:
            raise OutOfRange(
                f"Say in a few words why this step is left out, at most {LONGEST_REASON} letters.",
                expected="a reason",
            )
        signed = f"{reason} ({who})" if who else reason
        return {**values, "waived": signed, "done_at": None, "done_by": None}
    if act == "tick":
        return {**values, **_ticked(step, form, values, who, shop)}
    return values


def _ticked(
    step: CardStep, form: AForm, values: Mapping[str, Any], who: str, shop: Shop
) -> dict[str, Any]:
    """Return the columns of a tick; refuses one without a name, a figure or a reason it needs."""
    if not who:
        raise OutOfRange(
            "Say above who is at the bench, then tick.",
            expected="who you are; a program names them as Jentrik-Person",
        )
    kept = CardStep(
        step.id,
        step.place,
        step.plan,
        values["torque_nm"],
        values["torque_source"],
        values["reading"],
    )
    if kept.missing():
        raise OutOfRange(f"First write down {kept.missing()}.", expected=kept.missing())
    off = outside(step.plan, values["reading"])
    why = " ".join(str(form.get("why", "")).split())[:LONGEST_REASON]
    if off and not why:
        raise OutOfRange(
            f"{off} Say why it is done all the same, or put it right.",
            expected="a reason, or a reading within its limits",
        )
    return {
        "done_by": who,
        "done_at": shop.now().isoformat(),
        "waived": None,
        "reason": f"{off} {why} ({who})" if off else None,
    }


def _figures(step: CardStep, form: AForm, shop: Shop) -> dict[str, Any]:
    torque = str(form.get("torque_nm", "")).strip()
    reading = str(form.get("reading", step.reading or "")).strip()  # the wrench's has no field
    source = str(form.get("torque_source", ""))
    newton = checked_torque(shop.figure(torque, unit="N·m")) if torque else None
    unit = step.plan.unit
    if reading and unit not in ("words", ""):
        reading = plain(shop.figure(reading, unit=unit))
    return {
        "torque_nm": newton,
        "torque_source": source if source in TORQUE_SOURCES and newton is not None else None,
        "reading": reading[:LONGEST_REASON] or None,
        "simulated": step.simulated and reading == (step.reading or ""),
    }


@router.get("/jobs/{job_id}/card", name="card_page")
def card_page(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the card as it is printed."""
    view = bench_seen(shop, on_bench(shop, job_id), _fit_of(request, job_id))
    there = network_address(request, request.app.url_path_for("bench", job_id=job_id))
    code = qr_code(there, f"Opens tag {view.job.tag} on a phone") if there else None
    return page(request, "jobs/card.html", view=view, job=view.job, sheet=view.sheet, qr=code)


@router.post("/jobs/{job_id}/card/photos", name="add_photo")
def add_photo(request: Request, job_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a photo, written anew without what the camera noted in it."""
    job = jobs.job(job_id)
    caption = " ".join(str(form.get("caption", "")).split())[:LONGEST_REASON]
    part = form.get("photo")
    try:
        small = read_photo(part.file.read() if isinstance(part, UploadFile) else b"")
        name = keep_photo(shop.folder, small)
        with shop.step("photo", f"job {job_id} photo", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            cards.add_photo(step, job.id, file=name, caption=caption, at=shop.now(), by=shop.who)
    except Refusal as refusal:
        return _refused(request, shop, job_id, form, {"photo": refusal})
    return _to_fit(request, job_id, "photos")


@router.post("/jobs/{job_id}/card/photos/drop", name="drop_photo")
def drop_photo(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take a photo off; undo brings it back."""
    with shop.step("photo taken off", f"job {job_id} photo", job_id=job_id) as step:
        jobs.must_not_be_done(job_id)
        for kept in cards.photos(job_id):
            if form.get("photo") == str(kept.id):
                cards.drop_photo(step, kept.id)
    return _to_fit(request, job_id, "photos")


@router.get("/photos/{file}", name="photo")
def photo(file: str, shop: AShop) -> Response:
    """Return a kept photo."""
    there = shop.folder / FOLDER / file
    if not NAME.fullmatch(file) or not there.is_file():
        raise StoreError("There is no such photo.")
    return FileResponse(there, media_type="image/jpeg")


@router.post("/jobs/{job_id}/close", name="close_job")
def close_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Close a job, what was done fitted and sealed; what is open is asked about, and recorded."""
    try:
        machine_id = jobs.job(job_id).machine_id
        with shop.step("job closed", f"job {job_id} close", machine_id=machine_id) as step:
            jobs.must_not_be_done(job_id)
            job, card = jobs.job(job_id), cards.card_of(job_id)
            answers = _answered(form, shop, card)
            if card is not None and not job.done and form.get("act") != "unfitted":
                fit_job(step, on_bench(shop, job_id), at=shop.now(), by=shop.who)
            if not documents.is_done(job_id):
                documents.write_done(
                    step, job, shop.policy, at=shop.now(), by=shop.who, answers=answers
                )
            jobs.close(step, job_id, at=shop.now())
    except StoreError as refusal:
        if refusal.field is None:
            raise
        return _refused(request, shop, job_id, form, {"close": refusal})
    return _to_fit(request, job_id)


def _answered(form: AForm, shop: Shop, card: Card | None) -> tuple[dict[str, str], ...]:
    """Return what was asked on closing and answered; refuses where it was not."""
    asked = []
    if card is None:
        asked.append("No card was made. Why is the job closed without one?")
    elif form.get("act") == "unfitted":
        asked.append("Nothing was fitted. Why?")
    if card is not None and card.holding:
        held = shorten(card.holding[0].plan.text, 60, placeholder="…")
        asked.append(
            f"{len(card.holding)} stop-level step{'s are' if len(card.holding) > 1 else ' is'} "
            f"open, first “{held}”. Why is the job closed all the same?"
        )
    why = " ".join(str(form.get("why", "")).split())[:LONGEST_REASON]
    if asked and not (why and shop.who):
        raise StoreError(
            f"{' '.join(asked)} Write it below"
            + ("." if shop.who else ", and say above who is at the bench."),
            field="close",
            expected="the reason, and who you are",
        )
    return tuple({"question": one, "answer": why, "by": shop.who} for one in asked)


@router.post("/jobs/{job_id}/open", name="open_job")
def open_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Open a closed job again."""
    with shop.step("job opened again", f"job {job_id} open", job_id=job_id) as step:
        machines.sheet(jobs.job(job_id).machine_id)  # refuses where either is in the bin
        jobs.close(step, job_id, at=None)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/corrections", name="correct_job")
def correct_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Write a correction beside the document of a job."""
    try:
        with shop.step("correction", f"job {job_id} correction", job_id=job_id) as step:
            text = str(form.get("correction", ""))
            documents.correct(step, job_id, text, at=shop.now(), by=shop.who)
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
def set_card_template(request: Request, shop: AShop, form: AForm) -> Response:
    """Write a template; no text takes the shop's own away."""
    name, text = str(form.get("name", "")), str(form.get("text", ""))
    try:
        name = checked_name(name)
        with shop.step(f"card “{name}”", f"cards {name}") as step:
            cards.set_template(step, name, text, on=shop.today)
    except Refusal as refusal:
        refuse_program(request, [refusal])
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
    refuse_program(request, refusals.values())
    values = {name: value for name, value in form.items() if isinstance(value, str)}
    there, address = on_bench(shop, job_id), _fit_of(request, job_id)
    return bench_page(request, shop, there, address, typed=Typed(values, refusals))


def _fit_of(request: Request, job_id: int) -> Address:
    return Address(request.app.url_path_for("bench", job_id=job_id), station="fit")
