"""Which tire of one size suits a machine's use.

GET  /machines/{id}/tires           tires of one code on the shelf beside each other
POST /machines/{id}/tires/answer    the use, as fields of the machine's sheet
POST /machines/{id}/tires/propose   chosen tires as proposals of an open job, or of a new one
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import StoreError
from jentrik.core.machine.declared import End
from jentrik.core.text import counted
from jentrik.store import documents, jobs, machines, shelf
from jentrik.store.undo import Scope
from jentrik.web.live.answers import Answers
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.live.undoing import undo_view
from jentrik.web.pages.jobs.proposing_from import propose_tire
from jentrik.web.pages.tire_use.view import tire_use_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/tires")


@router.get("", name="tires_for_use")
def tires_for_use(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show tires of one size beside each other."""
    return _render(request, shop, machine_id)


@router.post("/answer", name="use_answer")
def use_answer(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Write how a machine is used."""

    def load() -> Answers:
        return Answers(machines.sheet(machine_id), shop.today)

    fields = sent_fields(form.multi_items(), ("sheet",))
    _, taken = take_fields(shop, fields, load, live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        there = request.app.url_path_for("tires_for_use", machine_id=machine_id)
        return RedirectResponse(f"{there}?{request.url.query}", status_code=303)
    return taken.mark(_render(request, shop, machine_id, typed=taken.typed))


@router.post("/propose", name="propose_tires")
def propose_tires(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Make a proposal of each chosen tire, and show them side by side."""
    end: End = "front" if form.get("end") == "front" else "rear"
    chosen = [number for one in form.getlist("tire") if (number := counted(one)) is not None]
    if not chosen:
        raise StoreError("Choose a tire first.", field="tire", expected="a tire of the table")
    with shop.step("tires proposed", f"machine {machine_id} tires", machine_id=machine_id) as step:
        sheet = machines.sheet(machine_id)
        tires = [shelf.known_tire(one) for one in chosen[:6]]
        wanted = counted(form.get("job"))
        known = next((job for job in jobs.open_jobs_of(machine_id) if job.id == wanted), None)
        if known is None:
            words = f"Which {end} tire: {tires[0].code}"
            job_id = jobs.add_job(step, machine_id=sheet.id, wanted=words[:120], at=shop.now())
        else:
            job_id = known.id
            documents.must_be_open(job_id)
        step.label = f"{len(tires)} tires proposed: {tires[0].code}"
        for tire in tires:
            propose_tire(step, job_id, end, tire)
    there = request.app.url_path_for("compare", job_id=job_id)
    return RedirectResponse(f"{there}#tires", status_code=303)


def _render(
    request: Request, shop: Shop, machine_id: int, *, typed: Typed = NOTHING_TYPED
) -> HTMLResponse:
    view = tire_use_view(
        machines.sheet(machine_id),
        request.query_params,
        shelf.tires(),
        [(job.id, job.tag) for job in jobs.open_jobs_of(machine_id) if not job.sealed],
        shop.policy,
        shop.today,
        undo=undo_view(shop, Scope(machine_id=machine_id)),
        typed=typed,
    )
    template = "machines/_tire_use.html" if wants_fragment(request) else "machines/tire_use.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)
