"""What was: every change of a machine, and the bin.

GET  /machines/{id}/history        who changed what, when, from and to
POST /machines/{id}/history/undo   one of them taken back, or done again
POST /machines/{id}/bin, /jobs/{id}/bin   into the bin
GET  /bin, POST /bin/restore       what lies there, and one thing back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.text import counted
from jentrik.store import jobs, machines, records
from jentrik.store.undo import Scope
from jentrik.web.live.undoing import NOTHING_TO_UNDO, UndoView, must_stand, take_back
from jentrik.web.shop import AForm, AShop, refuse_program
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
    undone = take_back(shop, form, scope, check=must_stand(machine_id))
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
def bin_machine(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Put a machine in the bin; one on the bench stays."""
    with shop.step("", f"bin machine {machine_id}") as step:
        step.label = f"{machines.sheet(machine_id).name} into the bin"
        records.bin_machine(step, machine_id, at=shop.now())
    return _to(request, "bin_page")


@router.post("/jobs/{job_id}/bin", name="bin_job")
def bin_job(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Put a job in the bin."""
    with shop.step("", f"bin job {job_id}") as step:
        step.label = f"tag {jobs.job(job_id).tag} into the bin"
        records.bin_job(step, job_id, at=shop.now())
    return _to(request, "bin_page")


@router.get("/bin", name="bin_page")
def bin_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what lies in the bin."""
    return page(request, "logbook/bin.html", binned=records.binned(), complaint="")


@router.post("/bin/restore", name="restore")
def restore(request: Request, shop: AShop, form: AForm) -> Response:
    """Bring one thing back."""
    kind, _, row = str(form.get("what", "")).partition(":")
    there = {"machine": records.bin_machine, "job": records.bin_job}.get(kind)
    known = {(one.kind, str(one.id)): one for one in records.binned()}
    one = known.get((kind, row))
    if there is None or one is None:
        return _to(request, "bin_page")
    try:
        with shop.step(f"{one.name} out of the bin", f"restore {kind} {row}") as step:
            there(step, one.id, at=None)
    except Refusal as refusal:
        refuse_program(request, [refusal])
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
