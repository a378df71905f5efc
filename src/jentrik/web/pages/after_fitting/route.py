"""The fitted machine against the plan.

POST /jobs/{id}/measured         what was measured after fitting
POST /jobs/{id}/fitted           what was fitted follows what was found, into the logbook
GET  /logbook/sizes              how far tires lie from their marks, over all jobs
"""

from collections import defaultdict

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.amounts import Amount
from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.plan.uncertainty import tells
from jentrik.core.work.after_fitting import SizeAgainstMark, expectations
from jentrik.store import after_fitting, jobs
from jentrik.store.fitting import carried_out, fit_job, worked_out
from jentrik.web.pages.jobs.bench_page import bench_page
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AForm, AShop, Shop, refuse_program
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)
FAR_OFF = 0.25  # of the predicted figure: beyond it a slip in typing


@router.post("/jobs/{job_id}/measured", name="measure_after_fitting")
def measure_after_fitting(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Save measurements after fitting, all or nothing."""
    sheet, found, outcome = _carried_out(job_id, shop)
    asked = {
        one.key: one for one in expectations(found, outcome, tells(sheet, found, outcome.proposal))
    }
    asked |= {key: one.expected for key, one in after_fitting.measured_of(job_id).items()}
    for name, typed in form.items():
        kind, _, key = name.partition(":")
        if kind == "measured" and key not in asked and str(typed).strip():
            raise OutOfRange(
                f"“{key[:40]}” is not measured after this job.",
                field=name[:60],
                expected=f"one of {', '.join(asked)}" if asked else "nothing",
            )
    values: dict[str, float | None] = {}
    refusals: dict[str, Refusal] = {}
    for key, one in asked.items():
        name = f"measured:{key}"
        typed = str(form.get(name, "")).strip()
        if name not in form:
            continue
        try:
            values[key] = shop.figure(typed, unit=one.unit) if typed else None
            far = max(abs(one.predicted) * FAR_OFF, 20.0)
            measured = values[key]
            if measured is not None and abs(measured - one.predicted) > far:
                raise OutOfRange(
                    f"{Amount(measured, one.unit)} is far from the "
                    f"{Amount(one.predicted, one.unit):.0f} of the plan: read it again.",
                    expected=f"a figure near {one.predicted:.0f} {one.unit}",
                )
        except Refusal as refusal:
            refusals[name] = refusal
    refuse_program(request, refusals.values())
    if refusals:
        typed_all = {name: str(value) for name, value in form.items()}
        return _again(request, shop, job_id, Typed(typed_all, refusals))
    with shop.step("measured after fitting", f"job {job_id} measured", job_id=job_id) as step:
        _carried_out(job_id, shop)
        for key, value in values.items():
            kept = after_fitting.measured_of(job_id).get(key)
            if value is None and kept is None:
                continue
            after_fitting.set_measured(step, job_id, asked[key], value, on=shop.today, by=shop.who)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/fitted", name="put_on_sheet")
def put_on_sheet(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Let what was fitted follow what was found, and note the fitting in the logbook."""
    machine_id = jobs.job(job_id).machine_id
    with shop.step("fitted", f"job {job_id} fitted", machine_id=machine_id) as step:
        fit_job(step, on_bench(shop, job_id), at=shop.now(), by=shop.who)
    return _to_fit(request, job_id)


def _carried_out(job_id: int, shop: Shop) -> tuple[Sheet, PlanResult, Outcome]:
    """Return the machine as found and the outcome of the proposal on the job's card."""
    there = on_bench(shop, job_id)
    found, outcome = worked_out(there, carried_out(there))
    return there.sheet, found, outcome


def _again(request: Request, shop: Shop, job_id: int, typed: Typed) -> HTMLResponse:
    there = on_bench(shop, job_id)
    address = Address(request.app.url_path_for("bench", job_id=job_id), station="fit")
    return bench_page(request, shop, there, address, typed=typed)


def _to_fit(request: Request, job_id: int) -> RedirectResponse:
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="fit")
    return RedirectResponse(f"{there}#after-fitting", status_code=303)


@router.get("/logbook/sizes", name="sizes_page")
def sizes_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show how far tires lie from their marks, over all jobs."""
    by_mark: dict[tuple[str, str], list[SizeAgainstMark]] = defaultdict(list)
    for one in after_fitting.sizes_against_marks():
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
