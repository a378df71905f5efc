"""What was: every change of a machine, and the bin.

GET  /machines/{id}/history        who changed what, when, from and to
POST /machines/{id}/history/undo   one of them taken back, or done again
POST /machines/{id}/bin, /jobs/{id}/bin   into the bin
GET  /bin, POST /bin/restore       what lies there, and one thing back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import ValidationError

from jentrik.core.errors import Refusal
from jentrik.core.text import counted
from jentrik.store import machines, records
from jentrik.store.undo import Scope
from jentrik.web.live.undoing import NOTHING_TO_UNDO, Undoing, UndoView, must_stand, take_back
from jentrik.web.pages.records.commands import Restored, bin_job, bin_machine
from jentrik.web.shop import AForm, AShop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)


@router.get("/machines/{machine_id}/history", name="machine_history")
def machine_history(
    request: Request, machine_id: int, shop: AShop, before: str = ""
) -> HTMLResponse:
    """Show the changes of a machine, a page of them, the last first."""
    return _history(request, machine_id, before)


@router.post("/machines/{machine_id}/history/undo", name="undo_change")
def undo_change(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take back one change of a machine or of a job of it, however old, or do it again."""
    machines.sheet(machine_id)
    scope = Scope(machine_id, records.job_of_change(machine_id, counted(form.get("change"))))
    undone = take_back(shop, Undoing.of(form), scope, check=must_stand(machine_id))
    return _history(request, machine_id, str(form.get("before", "")), undone)


def _history(
    request: Request, machine_id: int, before: str, undone: UndoView = NOTHING_TO_UNDO
) -> HTMLResponse:
    changes = records.history(machine_id, before=counted(before))
    return page(
        request,
        "logbook/history.html",
        sheet=machines.sheet(machine_id),
        changes=changes,
        full=len(changes) == records.MOST_CHANGES,
        before=before,
        undone=undone,
    )


@router.post("/machines/{machine_id}/bin", name="bin_machine")
def machine_into_bin(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Put a machine in the bin; one on the bench stays."""
    bin_machine(shop, machine_id)
    return _to(request, "bin_page")


@router.post("/jobs/{job_id}/bin", name="bin_job")
def job_into_bin(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Put a job in the bin."""
    bin_job(shop, job_id)
    return _to(request, "bin_page")


@router.get("/bin", name="bin_page")
def bin_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what lies in the bin."""
    return page(request, "logbook/bin.html", binned=records.binned(), complaint="")


@router.post("/bin/restore", name="restore")
def restore(request: Request, shop: AShop, form: AForm) -> Response:
    """Bring one thing back."""
    kind, _, row = str(form.get("what", "")).partition(":")
    try:
        Restored.model_validate({"kind": kind, "id": row}).carry_out(shop)
    except ValidationError:
        return _to(request, "bin_page")
    except Refusal as refusal:
        return page(
            request,
            "logbook/bin.html",
            status=422,
            binned=records.binned(),
            complaint=refusal.message,
        )
    return _to(request, "machines_page" if kind == "machine" else "jobs_page")


def _to(request: Request, name: str) -> RedirectResponse:
    return RedirectResponse(request.app.url_path_for(name), status_code=303)
