"""Ways back to a machine's geometry, and a comparison of what is proposed.

GET  /jobs/{id}/ways            what brings a proposal back; asked by htmx, its fragment alone
GET  /jobs/{id}/compare         every proposal side by side, to print and hand over
POST /jobs/{id}/ways/take       a way back, or a figure sought, as a new proposal
"""

from math import isfinite

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import StoreError
from jentrik.core.machine.machine import Proposal
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured
from jentrik.core.plan.remedies import remedies_of
from jentrik.core.plan.seek import KNOBS, seek
from jentrik.core.text import counted
from jentrik.core.work.job import Job, KeptProposal
from jentrik.exchange.plan_document import proposal_document, read_proposal
from jentrik.store import documents, jobs, photographs
from jentrik.store.stock import lines_of
from jentrik.web.pages.jobs.compare import compare_view
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.photographs.view import over_photograph
from jentrik.web.pages.tire_use.view import tire_tables
from jentrik.web.pages.ways.view import ways_view
from jentrik.web.parts.address import Address
from jentrik.web.shop import AForm, AShop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
GONE = "That combination is not there any more; check the list again."


@router.get("/jobs/{job_id}/ways", name="ways")
def ways(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the ways back from a proposal."""
    there = on_bench(shop, job_id)
    kept = _proposal(there.job, request.query_params.get("proposal", ""))
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
    names = {one.name for one in view.columns}
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
    there = on_bench(shop, job_id)
    job = there.job
    kept = _proposal(job, str(form.get("proposal", "")))
    bike = machine_of(there.sheet)
    proposal = read_proposal(kept.values())
    if form.get("sought"):
        knob, figure, wanted = (*str(form["sought"]).split("|"), "", "", "")[:3]
        if knob not in KNOBS:
            raise StoreError(GONE)
        sought = seek(as_measured(bike), proposal, KNOBS[knob], figure, _number(wanted))
        changed = sought.on(proposal)
    else:
        offered = {remedy.id: remedy.steps for remedy in remedies_of(bike, proposal)}
        changed = proposal
        for step in str(form.get("steps", "")).split(","):
            remedy, _, place = step.partition(":")
            steps, number = offered.get(remedy, ()), counted(place)
            if number is None or number >= len(steps):
                raise StoreError(GONE)
            changed = steps[number].on(changed)
    name = _kept(shop, job, changed)
    url = request.app.url_path_for("bench", job_id=job_id)
    return RedirectResponse(Address(url).at(proposal=name), status_code=303)


def _kept(shop: AShop, job: Job, proposal: Proposal) -> str:
    changes = proposal_document(proposal)
    changes.pop("name")
    with shop.step("restored geometry as a proposal", f"job {job.id} way", job_id=job.id) as step:
        documents.must_be_open(job.id)
        return jobs.add_proposal(step, job.id, changes)


def _number(text: str) -> float:
    try:
        number = float(text)
    except ValueError:
        raise StoreError(GONE) from None
    if not isfinite(number):
        raise StoreError(GONE)
    return number


def _proposal(job: Job, name: str) -> KeptProposal:
    found = job.proposal(name) or job.about
    if found is None:
        raise StoreError("This job has no proposal yet.", expected="a proposal")
    return found
