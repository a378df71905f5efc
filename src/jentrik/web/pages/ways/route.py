"""Ways back to a machine's geometry, and a comparison of what is proposed.

GET  /jobs/{id}/ways            what brings a proposal back; asked by htmx, its fragment alone
GET  /jobs/{id}/compare         every proposal side by side, to print and hand over
POST /jobs/{id}/ways/take       a way back, or a figure sought, as a new proposal
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import ValidationError

from jentrik.core.errors import StoreError
from jentrik.store import photographs
from jentrik.store.stock import lines_of
from jentrik.web.pages.jobs.compare import compare_view
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.photographs.view import over_photograph
from jentrik.web.pages.tire_use.view import tire_tables
from jentrik.web.pages.ways.commands import GONE, WayTaken, proposal_of
from jentrik.web.pages.ways.view import ways_view
from jentrik.web.parts.address import Address
from jentrik.web.shop import AForm, AShop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)


@router.get("/jobs/{job_id}/ways", name="ways")
def ways(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the ways back from a proposal."""
    there = on_bench(shop, job_id)
    kept = proposal_of(there.job, request.query_params.get("proposal", ""))
    without = frozenset(request.query_params.getlist("without"))
    view = ways_view(
        there.job, there.sheet, kept, request.query_params, without, there.policy, shop.units
    )
    template = "jobs/_ways.html" if wants_fragment(request) else "jobs/ways.html"
    return page(request, template, view=view)


@router.get("/jobs/{job_id}/compare", name="compare")
def compare(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show every proposal side by side."""
    path = request.app.url_path_for("compare", job_id=job_id)
    there = on_bench(shop, job_id)
    view = compare_view(there, path, request.query_params, shop.units)
    names = {column.name for column in view.columns}
    lines = {
        kept.name: lines_of(job_id, kept)
        for kept in there.job.proposals
        if kept.name in names and kept.readable
    }
    tables = tire_tables(there.sheet, lines, shop.policy, shop.today)
    pictures = photographs.photographs(there.sheet.id)
    times = {"3": 3, "6": 6}.get(request.query_params.get("magnify", ""), 1)
    stance = "road" if request.query_params.get("view") == "road" else "stand"
    over = over_photograph(there, pictures, view.over, view=stance, times=times)
    return page(request, "jobs/compare.html", view=view, tables=tables, over=over)


@router.post("/jobs/{job_id}/ways/take", name="take_way")
def take_way(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Make a way back a new proposal, and go to it on the bench."""
    knob, figure, wanted = (*str(form.get("sought", "")).split("|"), "", "", "")[:3]
    sought: dict[str, str] = {"knob": knob, "figure": figure, "wanted": wanted} if knob else {}
    try:
        way = WayTaken.model_validate({"steps": str(form.get("steps", "")).split(","), **sought})
    except ValidationError:
        raise StoreError(GONE) from None
    name = way.carry_out(shop, job_id, str(form.get("proposal", "")))
    url = request.app.url_path_for("bench", job_id=job_id)
    return RedirectResponse(Address(url).at(proposal=name), status_code=303)
