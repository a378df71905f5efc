"""The fitted machine against the plan.

POST /jobs/{id}/confront         what was measured after fitting
POST /jobs/{id}/confront/sheet   what was fitted onto the machine's sheet, and into the logbook
GET  /logbook/sizes              how far tires lie from their marks, over all jobs
"""

from collections import defaultdict

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.job.confront import SizeAgainstMark, expectations
from jentrik.core.job.job import Job
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.plan.uncertainty import tells
from jentrik.core.sheet.fields import missing_of
from jentrik.core.sheet.sheet import Sheet
from jentrik.core.units import read_figure
from jentrik.exchange.plan_document import read_bike
from jentrik.store import cards, confronted, jobs, machines
from jentrik.store.undo import Scope
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page
from jentrik.web.undoing import undo_view
from jentrik.web.views.address import Address
from jentrik.web.views.bench import bench_view
from jentrik.web.views.fields import Typed
from jentrik.web.views.verdict import found_of, judged
from jentrik.web.views.words import change_in_words

router = APIRouter(include_in_schema=False)
FAR_OFF = 0.25  # of the predicted figure: beyond it a slip in typing


@router.post("/jobs/{job_id}/confront", name="confront")
def confront(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what was measured after fitting, all or nothing."""
    job = jobs.job(job_id)
    sheet, found, outcome = _carried_out(job, shop)
    asked = {
        one.key: one for one in expectations(found, outcome, tells(sheet, found, outcome.proposal))
    }
    asked |= {key: one.expected for key, one in confronted.measured_of(job_id).items()}
    values: dict[str, float | None] = {}
    refusals: dict[str, Refusal] = {}
    for key, one in asked.items():
        name = f"measured:{key}"
        typed = str(form.get(name, "")).strip()
        if name not in form:
            continue
        try:
            values[key] = read_figure(typed, unit=one.unit) if typed else None
            far = max(abs(one.predicted) * FAR_OFF, 20.0)
            measured = values[key]
            if measured is not None and abs(measured - one.predicted) > far:
                raise OutOfRange(
                    f"{typed} is far from the {one.predicted:.0f} of the plan: read it again.",
                    expected=f"a figure near {one.predicted:.0f} {one.unit}",
                )
        except Refusal as refusal:
            refusals[name] = refusal
    if refusals:
        typed_all = {name: str(value) for name, value in form.items()}
        return _again(request, shop, job, sheet, Typed(typed_all, refusals))
    with shop.step("measured after fitting", f"job {job_id} confront", job_id=job_id) as step:
        _carried_out(jobs.job(job_id), shop)
        for key, value in values.items():
            kept = confronted.measured_of(job_id).get(key)
            if value is None and kept is None:
                continue
            confronted.set_measured(step, job_id, asked[key], value, on=shop.today, by=shop.who)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/confront/sheet", name="put_on_sheet")
def put_on_sheet(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Make the sheet what was fitted, and note the fitting in the logbook."""
    machine_id = jobs.job(job_id).machine_id
    with shop.step("fitted, onto the sheet", f"job {job_id} fitted", machine_id=machine_id) as step:
        job = jobs.job(job_id)
        sheet, found, outcome = _carried_out(job, shop)
        kept = next(one for one in job.proposals if one.name == outcome.proposal.name)
        confronted.put_on_sheet(
            step,
            job_id,
            sheet,
            found,
            outcome,
            on=shop.today,
            by=shop.who,
            summary=change_in_words(sheet, kept.changes),
        )
        read_bike(machines.sheet(sheet.id).bike_values()).chassis()  # it must stand as written
    return _to_fit(request, job_id)


def _carried_out(job: Job, shop: Shop) -> tuple[Sheet, PlanResult, Outcome]:
    """Return the machine and the outcome of the proposal on the job's card."""
    card = cards.card_of(job.id)
    if card is None:
        raise DocumentError("There is no card yet: nothing was fitted.", expected="a job card")
    if job.done:
        raise DocumentError(
            "It stands on the sheet already; measure on the machine's own sheet.",
            expected="the machine's sheet",
        )
    sheet = machines.sheet(job.machine_id)
    found, _ = found_of(sheet, missing_of(sheet), shop.policy, shop.today)
    kept = job.to_judge_named(card.proposal, sheet)
    outcome = judged(found, kept) if kept else ""
    if found is None or not isinstance(outcome, Outcome):
        raise DocumentError("The card's proposal can no longer be read.", expected="a proposal")
    return sheet, found, outcome


def _again(request: Request, shop: Shop, job: Job, sheet: Sheet, typed: Typed) -> HTMLResponse:
    address = Address(request.app.url_path_for("bench", job_id=job.id), station="fit")
    undo = undo_view(shop, Scope(machine_id=job.machine_id, job_id=job.id))
    view = bench_view(
        job, sheet, address, shop.policy, shop.today, typed=typed, who=shop.who, undo=undo
    )
    return page(request, "jobs/bench.html", status=422, view=view)


def _to_fit(request: Request, job_id: int) -> RedirectResponse:
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="fit")
    return RedirectResponse(f"{there}#confront", status_code=303)


@router.get("/logbook/sizes", name="sizes_page")
def sizes_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show how far tires lie from their marks, over all jobs."""
    by_mark: dict[tuple[str, str], list[SizeAgainstMark]] = defaultdict(list)
    for one in confronted.sizes_against_marks():
        by_mark[one.tire, one.what].append(one)
    lines = [
        (
            tire,
            what,
            f"{seen[0].nominal_mm:.0f}",
            len(seen),
            f"{sum(one.measured_mm for one in seen) / len(seen):.1f}",
            f"{sum(one.off_percent for one in seen) / len(seen):+.1f}".replace("-", "−"),
        )
        for (tire, what), seen in sorted(by_mark.items())
    ]
    return page(request, "logbook/sizes.html", lines=lines)
