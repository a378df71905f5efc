"""The order list of a job.

GET  /jobs/{id}/order         what each way of each proposal needs and costs
POST /jobs/{id}/order         prices, numbers, hours, lives; asked by htmx, its fragment alone
POST /jobs/{id}/order/undo    the last change taken back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import DocumentError, Refusal
from jentrik.core.sheet_fields import missing_of
from jentrik.store import costs, jobs, journal, machines
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment
from jentrik.web.views.fields import NOTHING_TYPED, Typed
from jentrik.web.views.order import checked_entry, order_view

router = APIRouter(include_in_schema=False)
KINDS = ("price", "quantity", "source", "hours", "life", "km-a-year")
LONGEST_KEY = 160


@router.get("/jobs/{job_id}/order", name="order_page")
def order_page(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the order list of a job."""
    return _render(request, shop, job_id)


@router.post("/jobs/{job_id}/order", name="set_order")
def set_order(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what was written on the order list, all or nothing."""
    jobs.job(job_id)
    values: dict[str, str] = {}
    refusals: dict[str, Refusal] = {}
    for key, typed in form.items():
        if key.partition(":")[0] not in KINDS or not isinstance(typed, str):
            continue
        try:
            if len(key) > LONGEST_KEY:
                raise DocumentError("That is no part of this list.", expected="a part")
            values[key] = checked_entry(key, typed)
        except Refusal as refusal:
            refusals[key] = refusal
    if refusals:
        typed_all = {name: str(value) for name, value in form.items()}
        return _render(request, shop, job_id, typed=Typed(typed_all, refusals))
    kept = costs.entries(job_id)
    changed = {key: value for key, value in values.items() if value != kept.get(key, "")}
    if changed:
        first = next(iter(changed))
        label = f"order list: {first.replace(':', ' ', 1)} {changed[first]}"
        with shop.step(label[:200], f"job {job_id} order {first}", job_id=job_id) as step:
            for key, value in changed.items():
                costs.set_entry(step, job_id, key, value)
    if not wants_fragment(request):
        return _to(request, job_id)
    return _render(request, shop, job_id)


@router.post("/jobs/{job_id}/order/undo", name="undo_order")
def undo_order(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of this job back."""
    journal.undo(shop.database, now=shop.now(), job_id=job_id)
    return _to(request, job_id)


def _render(
    request: Request, shop: Shop, job_id: int, *, typed: Typed = NOTHING_TYPED
) -> HTMLResponse:
    job = jobs.job(job_id)
    sheet = machines.sheet(job.machine_id)
    if missing_of(sheet):
        raise DocumentError("The order list waits for the machine's figures.",
                            expected="the figures that are needed")  # fmt: skip
    view = order_view(job, sheet, shop.policy, shop.today, typed=typed,
                      undo_label=journal.last_label(job_id=job_id))  # fmt: skip
    template = "jobs/_order.html" if wants_fragment(request) else "jobs/order.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def _to(request: Request, job_id: int) -> Response:
    return RedirectResponse(request.app.url_path_for("order_page", job_id=job_id), status_code=303)
