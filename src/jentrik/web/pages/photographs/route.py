"""Measuring by photograph.

GET  /machines/{id}/photographs               the pictures of a machine, and what they tell together
POST /machines/{id}/photographs               one more
GET  /machines/{id}/photographs/{p}           a picture with its marks
POST /machines/{id}/photographs/{p}/answer    marks and rulers, as fields that save as they change
POST /machines/{id}/photographs/{p}/name      a point or line of the shop's own
POST /machines/{id}/photographs/{p}/drop      the picture taken away
POST /machines/{id}/photographs/sheet         chosen figures onto the sheet
POST /machines/{id}/photographs/undo          the last change of the machine taken back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.together import merged
from jentrik.core.plan.plan import Outcome
from jentrik.core.text import counted
from jentrik.core.work.job import KeptProposal
from jentrik.store import jobs, machines, photographs
from jentrik.store.undo import Scope
from jentrik.web.live.command import sent_bytes
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.photographs.answers import PhotoAnswers
from jentrik.web.pages.photographs.commands import (
    OntoSheet,
    OwnMark,
    add_photograph,
    drop_photograph,
)
from jentrik.web.pages.photographs.view import figure_rows, photo_view, understood
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.shop import AForm, AnUpload, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/photographs")


@router.get("", name="photographs_page")
def photographs_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show the pictures of a machine, and what they tell together."""
    return _list(request, shop, machine_id)


@router.post("", name="add_photograph")
def one_more(request: Request, machine_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a picture to measure on, and go to it."""
    try:
        number = add_photograph(shop, machine_id, sent_bytes(form.get("photo")))
    except Refusal as refusal:
        return _list(request, shop, machine_id, typed=Typed({}, {"photo": refusal}))
    return _to(request, "photograph_page", machine_id=machine_id, photograph_id=number)


@router.post("/sheet", name="photographs_onto_sheet")
def onto_sheet(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Write chosen figures of one picture, or of all together, on the sheet."""
    OntoSheet.of(form).carry_out(shop, machine_id)
    return _to(request, "machine_page", machine_id=machine_id)


@router.post("/undo", name="undo_photographs")
def undo_photographs(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of the machine back, or do it again, and go back to the picture."""
    take_back(shop, Undoing.of(form), Scope(machine_id=machine_id))
    number = counted(request.query_params.get("photograph"))
    there = [photograph.id for photograph in photographs.photographs(machine_id)]
    if number in there:
        if wants_fragment(request):
            return _picture(request, shop, machine_id, number or 0)
        return _to(request, "photograph_page", machine_id=machine_id, photograph_id=number or 0)
    return _to(request, "photographs_page", machine_id=machine_id)


@router.get("/{photograph_id}", name="photograph_page")
def photograph_page(
    request: Request, machine_id: int, photograph_id: int, shop: AShop
) -> HTMLResponse:
    """Show a picture with its marks and what it tells."""
    return _picture(request, shop, machine_id, photograph_id)


@router.post("/{photograph_id}/answer", name="photo_answer")
def photo_answer(
    request: Request, machine_id: int, photograph_id: int, shop: AShop, form: AForm
) -> Response:
    """Write marks and rulers; what is refused changes nothing and stays as typed."""
    fields = sent_fields(form.multi_items(), ("photo",))

    def load() -> PhotoAnswers:
        return PhotoAnswers.of(machine_id, photograph_id)

    _, taken = take_fields(shop, fields, load, live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(request, "photograph_page", machine_id=machine_id, photograph_id=photograph_id)
    return taken.mark(_picture(request, shop, machine_id, photograph_id, typed=taken.typed))


@router.post("/{photograph_id}/name", name="name_photo_mark")
def name_photo_mark(
    request: Request, machine_id: int, photograph_id: int, shop: AShop, form: AForm
) -> Response:
    """Add a point or line of the shop's own."""
    try:
        OwnMark.of(form).carry_out(shop, machine_id, photograph_id)
    except Refusal as refusal:
        typed = Typed({}, {"own": refusal})
        return _picture(request, shop, machine_id, photograph_id, typed=typed)
    return _to(request, "photograph_page", machine_id=machine_id, photograph_id=photograph_id)


@router.post("/{photograph_id}/drop", name="drop_photograph")
def one_less(
    request: Request, machine_id: int, photograph_id: int, shop: AShop, form: AForm
) -> Response:
    """Take a picture away; undo brings it back."""
    drop_photograph(shop, machine_id, photograph_id)
    return _to(request, "photographs_page", machine_id=machine_id)


def _list(
    request: Request, shop: Shop, machine_id: int, *, typed: Typed = NOTHING_TYPED
) -> HTMLResponse:
    sheet, those = machines.sheet(machine_id), photographs.photographs(machine_id)
    known = [(one, understood(sheet, one)) for one in those]
    measured = merged([one.measured for _, one in known if one.measured is not None])
    return page(
        request,
        "machines/photographs.html",
        status=422 if typed.refusals else 200,
        sheet=sheet,
        pictures=[(one, what.trouble, what.measured) for one, what in known],
        rows=figure_rows(sheet, measured) if measured is not None else [],
        notes=measured.notes if measured is not None else (),
        count=sum(one.measured is not None for _, one in known),
        complaints=typed.complaints(),
        undo=undo_view(shop, Scope(machine_id=machine_id)),
    )


def _picture(
    request: Request,
    shop: Shop,
    machine_id: int,
    photograph_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
) -> HTMLResponse:
    sheet = machines.sheet(machine_id)
    there = _proposals(sheet)
    over = there.get(request.query_params.get("over", ""))
    found = outcome = None
    if over is not None:
        found, _ = found_of(sheet, missing_of(sheet), shop.policy, shop.today)
        outcome = judged(found, over[1])
    view = photo_view(
        sheet,
        PhotoAnswers.of(machine_id, photograph_id),
        request.query_params,
        [(key, words) for key, (words, _) in there.items()],
        found,
        outcome if isinstance(outcome, Outcome) else None,
        undo=undone or undo_view(shop, Scope(machine_id=machine_id)),
        typed=typed,
    )
    template = (
        "machines/_photograph.html" if wants_fragment(request) else "machines/photograph.html"
    )
    complaints = typed.complaints()
    status = 422 if typed.refusals else 200
    return page(request, template, status=status, view=view, complaints=complaints)


def _proposals(sheet: Sheet) -> dict[str, tuple[str, KeptProposal]]:
    """Return the proposals of the machine's open jobs that may be drawn, each in words, by key."""
    return {
        f"{job.id}:{kept.name}": (f"tag {job.tag}, {kept.name}", kept)
        for job in jobs.open_jobs_of(sheet.id)
        for kept in job.proposals
        if kept.readable
    }


def _to(request: Request, name: str, **ids: int) -> Response:
    return RedirectResponse(request.app.url_path_for(name, **ids), status_code=303)
