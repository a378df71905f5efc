"""The fitted machine against the plan.

POST /jobs/{id}/measured         what was measured after fitting
POST /jobs/{id}/fitted           what was fitted follows what was found, into the logbook
GET  /logbook/sizes              how far tires lie from their marks, over all jobs
"""

from collections import defaultdict

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.work.after_fitting import SizeAgainstMark
from jentrik.store import after_fitting
from jentrik.web.pages.after_fitting.commands import check, measured_after, put_on_sheet, save
from jentrik.web.pages.jobs.bench_page import bench_page
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)


@router.post("/jobs/{job_id}/measured", name="measure_after_fitting")
def measure_after_fitting(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Save measurements after fitting, all or nothing."""
    typed = {
        key: str(value).strip()
        for (kind, _, key), value in ((name.partition(":"), value) for name, value in form.items())
        if kind == "measured"
    }
    asked = measured_after(shop, job_id, {key: text for key, text in typed.items() if text})
    values: dict[str, float | None] = {}
    refusals: dict[str, Refusal] = {}
    for key, text in typed.items():
        if key not in asked:
            continue
        try:
            values[key] = shop.figure(text, unit=asked[key].unit) if text else None
            check(asked[key], values[key])
        except Refusal as refusal:
            refusals[f"measured:{key}"] = refusal
    if refusals:
        typed_all = {name: str(value) for name, value in form.items()}
        return _again(request, shop, job_id, Typed(typed_all, refusals))
    save(shop, job_id, asked, values)
    return _to_fit(request, job_id)


@router.post("/jobs/{job_id}/fitted", name="put_on_sheet")
def fitted(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Let what was fitted follow what was found, and note the fitting in the logbook."""
    put_on_sheet(shop, job_id)
    return _to_fit(request, job_id)


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
    for mark in after_fitting.sizes_against_marks():
        by_mark[mark.tire, mark.what].append(mark)
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
