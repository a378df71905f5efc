"""The paper of a job.

GET  /jobs/{id}/customer              the offer, or after the work the hand-over
POST /jobs/{id}/agreed                what became of the offer, sealed with what was shown
GET  /jobs/{id}/agreed/{number}       a sealed offer as it was shown
GET  /jobs/{id}/look-again.ics        when the shop looks at the machine again, for a calendar
"""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal, StoreError
from jentrik.core.work.due import Due
from jentrik.core.work.look_again import WANTED, in_words
from jentrik.exchange.calendar import due_calendar
from jentrik.store import costs, jobs, look_again, machines, photographs
from jentrik.store.happenings import revisions
from jentrik.store.offers import offers
from jentrik.store.shop_ids import shop_mark
from jentrik.web.drawing.qr import qr_code
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.offer.commands import HOW, OfferAnswered
from jentrik.web.pages.offer.view import Paper, named, paper
from jentrik.web.pages.photographs.view import over_photograph
from jentrik.web.security.network import code_for
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
# A page that was kept is shown as it was, and can do nothing.
_SEALED = (
    "default-src 'none'; style-src 'self'; img-src 'self'; font-src 'self'; "
    "sandbox allow-same-origin"
)


@router.get("/jobs/{job_id}/customer", name="customer_page")
def customer_page(request: Request, job_id: int, shop: AShop, proposal: str = "") -> HTMLResponse:
    """Show the paper of a job."""
    return _render(request, shop, job_id, proposal)


def _paper(request: Request, shop: Shop, job_id: int, proposal: str) -> Paper:
    path = request.app.url_path_for("customer_page", job_id=job_id)
    there = on_bench(shop, job_id)
    return paper(there, costs.entries(job_id), proposal, path, offers(job_id))


def _render(
    request: Request,
    shop: Shop,
    job_id: int,
    proposal: str,
    *,
    refusal: Refusal | None = None,
    by: str = "",
) -> HTMLResponse:
    view = _paper(request, shop, job_id, proposal)
    fragment = wants_fragment(request) and refusal is None
    template = "offer/_offer.html" if fragment else "offer/offer.html"
    return page(
        request,
        template,
        status=422 if refusal else 200,
        **_shown(request, shop, view),
        refusal=refusal,
        by=by,
        how=HOW,
    )


def _shown(request: Request, shop: Shop, view: Paper) -> dict[str, Any]:
    there = request.app.url_path_for("machine_page", machine_id=view.sheet.id)
    code = code_for(request, there, f"machine {view.sheet.id}")
    over = None
    if len(view.options) == 1:
        pictures = photographs.photographs(view.sheet.id)
        over = over_photograph(on_bench(shop, view.job.id), pictures, view.options[0].name)
    return {
        "view": view,
        "over": over,
        "named": named,
        "qr": qr_code(code, f"Opens {view.sheet.name} in the shop"),
    }


@router.post("/jobs/{job_id}/agreed", name="set_agreed")
def set_agreed(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what became of the offer, with the paper as it was shown."""
    shown = str(form.get("shown", "")) or str(form.get("proposal", ""))
    try:
        said = OfferAnswered.of(form)
        view = _paper(request, shop, job_id, said.proposal)
        sealed = page(request, "offer/_paper.html", **_shown(request, shop, view))
        said.carry_out(shop, job_id, bytes(sealed.body).decode())
    except Refusal as refusal:
        return _render(
            request, shop, job_id, shown, refusal=refusal, by=str(form.get("by", ""))[:80]
        )
    path = request.app.url_path_for("customer_page", job_id=job_id)
    return RedirectResponse(f"{path}?proposal={shown}", status_code=303)


@router.get("/jobs/{job_id}/agreed/{number}", name="sealed_offer")
def sealed_offer(request: Request, job_id: int, number: int, shop: AShop) -> Response:
    """Show a sealed offer as it was shown; what stands in it can do nothing."""
    jobs.job(job_id)
    kept = next((one for one in offers(job_id) if one.id == number), None)
    if kept is None:
        raise StoreError("There is no such offer.", expected="a sealed offer of this job")
    answer = page(request, "offer/sealed.html", kept=kept, body=str(kept.values.get("page", "")))
    answer.headers["Content-Security-Policy"] = _SEALED
    return answer


@router.get("/jobs/{job_id}/look-again.ics", name="look_again_calendar")
def look_again_calendar(job_id: int, shop: AShop) -> Response:
    """Return when the machine of a job is looked at again, as a calendar file."""
    sheet = machines.sheet(jobs.job(job_id).machine_id)
    day = look_again.day_of(sheet.id)
    if day is None:
        raise StoreError("Nothing is looked at again yet.", expected="a job that was fitted")
    due = Due(f"look-again-{sheet.id}", day, WANTED, in_words(day), sheet.id, sheet.name, job_id)
    return Response(
        due_calendar([due], revisions(), now=shop.now(), shop=shop_mark()),
        media_type="text/calendar",
        headers={"Content-Disposition": 'attachment; filename="look-again.ics"'},
    )
