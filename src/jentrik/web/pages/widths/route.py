"""How wide it may be.

GET  /machines/{id}/widths          the chart and the lines; asked by htmx, its fragment alone
POST /machines/{id}/widths/answer   figures of lines, then the same fragment
POST /machines/{id}/widths/lines    one more line         .../drop  one less
"""

from collections.abc import Iterator

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.plan.width_chart import Seat
from jentrik.core.text import counted
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.job import Job
from jentrik.exchange.plan_document import read_kept
from jentrik.store import jobs, machines, wheels
from jentrik.web.live.answers import Answers
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.pages.machines.places import add_line, drop_line
from jentrik.web.pages.widths.view import WidthsView, widths_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/widths")


@router.get("", name="widths_page")
def widths_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show how wide a tire may be."""
    return _render(request, shop, machine_id)


@router.post("/answer", name="widths_answer")
def widths_answer(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take figures of the lines; what is refused changes nothing and stays as typed."""

    def load() -> Answers:
        return Answers(machines.sheet(machine_id), shop.today, asks=True)

    fields = sent_fields(form.multi_items(), ("room",))
    _, taken = take_fields(shop, fields, load, live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(request, machine_id)
    return taken.mark(_render(request, shop, machine_id, typed=taken.typed))


@router.post("/lines", name="widths_add")
def widths_add(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Add a line as typed, or say why not."""
    typed = add_line(shop, machine_id, "room", form)
    if typed.refusals:
        return _render(request, shop, machine_id, typed=typed)
    return _to(request, machine_id)


@router.post("/lines/drop", name="widths_drop")
def widths_drop(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take a line off the sheet."""
    drop_line(shop, machine_id, form)
    return _to(request, machine_id)


def _to(request: Request, machine_id: int) -> Response:
    url = request.app.url_path_for("widths_page", machine_id=machine_id)
    asked = f"?{request.url.query}" if request.url.query else ""
    return RedirectResponse(f"{url}{asked}", status_code=303)


def _render(
    request: Request, shop: Shop, machine_id: int, *, typed: Typed = NOTHING_TYPED
) -> HTMLResponse:
    view = widths_of(request, shop, machine_id, typed=typed)
    template = "machines/_widths.html" if wants_fragment(request) else "machines/widths.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def widths_of(
    request: Request, shop: Shop, machine_id: int, *, typed: Typed = NOTHING_TYPED
) -> WidthsView:
    """Return how wide a tire may be on a machine, with the proposals of the job asked for."""
    sheet, query = machines.sheet(machine_id), request.query_params
    there = [job for job in jobs.open_jobs_of(machine_id) if not job.sealed]
    wanted = counted(query.get("job"))
    job = next((one for one in there if one.id == wanted), there[0] if there else None)
    result: PlanResult | None = None
    outcomes: dict[str, Outcome] = {}
    complaint = ""
    if missing_of(sheet):
        names = ", ".join(one.label.lower() for one in missing_of(sheet))
        complaint = f"How wide it may be waits for {names}."
    else:
        result = as_measured(machine_of(sheet), policy=shop.policy, on=shop.today)
        outcomes = dict(_outcomes(job, result))
    return widths_view(
        sheet,
        result,
        outcomes,
        dict(_rims(sheet)),
        job=job,
        both=query.get("ends") != "free",
        rare=query.get("rare") == "1",
        typed=typed,
        complaint=complaint,
    )


def _outcomes(job: Job | None, result: PlanResult) -> Iterator[tuple[str, Outcome]]:
    for kept in job.proposals if job else ():
        try:
            yield kept.name, outcome_of(result, read_kept(kept))
        except Refusal:
            continue  # a proposal that cannot stand has no tick; its own page says why


def _rims(sheet: Sheet) -> Iterator[tuple[Seat, float]]:
    """Yield the inner widths of the wheels kept for a machine, by end and bead seat."""
    for wheel in wheels.wheels_of(sheet):
        width, code = wheel.parts.get("rim.inner_width_mm"), wheel.text("tire")
        if width is not None and code and wheel.end:
            yield (wheel.end, known_code(code).bead_seat_diameter_mm), float(width.value)
