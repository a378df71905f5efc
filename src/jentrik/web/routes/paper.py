"""What is printed and hung on things.

GET  /machines/{id}/paper   the machine's sheet on one page
GET  /wheels/{id}/label     the label of a wheel
GET  /jobs/{id}/tag         the tag of a job, with the code that opens it on a phone
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse
from markupsafe import Markup

from jentrik.store import machines, wheels
from jentrik.web.drawing.qr import qr_code
from jentrik.web.network import network_address
from jentrik.web.on_bench import on_bench
from jentrik.web.shop import AShop
from jentrik.web.templating import page
from jentrik.web.views.paper import machine_paper, wheel_label
from jentrik.web.views.words import due_in_words

router = APIRouter(include_in_schema=False)


def _code(request: Request, path: str, title: str) -> Markup | None:
    there = network_address(request, path)
    return qr_code(there, title) if there else None


@router.get("/machines/{machine_id}/paper", name="machine_paper")
def machine_on_paper(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show a machine's sheet as it is printed."""
    sheet = machines.sheet(machine_id)
    path = request.app.url_path_for("machine_page", machine_id=machine_id)
    code = _code(request, path, f"Opens {sheet.name} on a phone")
    return page(request, "paper/machine.html", view=machine_paper(sheet, shop.today), qr=code)


@router.get("/wheels/{wheel_id}/label", name="wheel_label")
def label_of_wheel(request: Request, wheel_id: int, shop: AShop) -> HTMLResponse:
    """Show the label of a wheel as it is printed."""
    known = wheels.wheel(wheel_id)
    sheet = machines.sheet(known.machine_id) if known.machine_id is not None else None
    view = wheel_label(known, sheet.name if sheet else "", sheet.owner if sheet else "")
    path = request.app.url_path_for("shelf_page")
    if sheet is not None:
        path = request.app.url_path_for("machine_page", machine_id=sheet.id)
    return page(
        request,
        "paper/label.html",
        view=view,
        qr=_code(request, path, "Opens its machine on a phone"),
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
        qr=_code(request, path, f"Opens tag {there.job.tag} on a phone"),
    )
