"""What is printed and hung on things.

GET  /machines/{id}/paper   the machine's sheet on one page
GET  /wheels/{id}/label     the label of a wheel; /shelf/tires/{id}/label that of a tire
GET  /shelf/labels          the labels of a page of the shelf
GET  /jobs/{id}/tag         the tag of a job, with the code that opens it on a phone
"""

from dataclasses import replace
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse
from markupsafe import Markup

from jentrik.core.work.shelf import ShelfTire
from jentrik.store import machines, shelf, wheels
from jentrik.store.listing import SHELF_SORTS, shelf_listed
from jentrik.web.drawing.qr import qr_code
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.paper.view import ThingLabel, machine_paper, tire_label, wheel_label
from jentrik.web.parts.paging import wanted_of
from jentrik.web.parts.words import due_in_words
from jentrik.web.security.network import code_for
from jentrik.web.shop import AShop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)
LABEL_SHEETS = {"wide": "2 across, 105 × 57 mm", "small": "3 across, 70 × 42 mm"}


def _code(request: Request, path: str, tag: str, title: str) -> Markup:
    return qr_code(code_for(request, path, tag), title)


@router.get("/machines/{machine_id}/paper", name="machine_paper")
def machine_on_paper(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show a machine's sheet as it is printed."""
    sheet = machines.sheet(machine_id)
    path = request.app.url_path_for("machine_page", machine_id=machine_id)
    code = _code(request, path, f"machine {machine_id}", f"Opens {sheet.name} on a phone")
    return page(request, "paper/machine.html", view=machine_paper(sheet, shop.today), qr=code)


@router.get("/wheels/{wheel_id}/label", name="wheel_label")
def label_of_wheel(request: Request, wheel_id: int, shop: AShop) -> HTMLResponse:
    """Show the label of a wheel as it is printed."""
    known = wheels.wheel_now(wheel_id)
    sheet = machines.sheet(known.machine_id) if known.machine_id is not None else None
    path = request.app.url_path_for("wheel_page", wheel_id=wheel_id)
    label = wheel_label(known, sheet.name if sheet else "", sheet.owner if sheet else "", path)
    return _labels(request, [label])


@router.get("/shelf/tires/{tire_id}/label", name="tire_label")
def label_of_tire(request: Request, tire_id: int, shop: AShop) -> HTMLResponse:
    """Show the label of a tire of the shelf as it is printed."""
    return _labels(request, [_tire_label(request, shelf.known_tire(tire_id))])


@router.get("/shelf/labels", name="shelf_labels")
def labels_of_shelf(request: Request, shop: AShop) -> HTMLResponse:
    """Show the labels of a page of the shelf, to print on one sheet."""
    listed = shelf_listed(wanted_of(dict(request.query_params), sorts=SHELF_SORTS))
    return _labels(request, [_tire_label(request, row) for row in listed.rows])


def _tire_label(request: Request, tire: ShelfTire) -> ThingLabel:
    return tire_label(tire, request.app.url_path_for("tire_page", tire_id=tire.id))


def _labels(request: Request, labels: list[ThingLabel]) -> HTMLResponse:
    coded = [
        replace(label, qr=_code(request, label.path, label.number, "Opens it on a phone"))
        for label in labels
    ]
    size = request.query_params.get("sheet", "")
    sheet = size if size in LABEL_SHEETS else ""
    kept = [(key, one) for key, one in request.query_params.multi_items() if key != "sheet"]
    return page(
        request,
        "paper/label.html",
        labels=coded,
        sheets=LABEL_SHEETS,
        sheet=sheet,
        page_at=urlencode(kept),
    )


@router.get("/jobs/{job_id}/tag", name="job_tag")
def tag_of_job(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the tag tied to a machine, as it is printed."""
    there = on_bench(shop, job_id)
    path = request.app.url_path_for("bench", job_id=job_id)
    return page(
        request,
        "paper/tag.html",
        job=there.job,
        sheet=there.sheet,
        due=due_in_words(there.job.due_on, shop.today)[0],
        qr=_code(request, path, f"tag {there.job.tag}", f"Opens tag {there.job.tag} on a phone"),
    )
