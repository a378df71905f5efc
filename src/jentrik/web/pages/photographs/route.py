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

from collections.abc import Iterable

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import UploadFile

from jentrik.core.errors import Refusal, StoreError
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.measured import PhotoFigures
from jentrik.core.photo.together import merged
from jentrik.core.plan.plan import Outcome
from jentrik.core.text import counted
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.photo import read_to_measure
from jentrik.store import jobs, machines, photographs
from jentrik.store.journal import Step
from jentrik.store.photo_files import keep_photo
from jentrik.store.photographs import Photograph
from jentrik.store.undo import Scope
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.photographs.answers import PhotoAnswers
from jentrik.web.pages.photographs.view import (
    figure_rows,
    on_sheet,
    photo_view,
    sheet_key,
    understood,
)
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.shop import AForm, AnUpload, AShop, Shop, refuse_program
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/photographs")


@router.get("", name="photographs_page")
def photographs_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show the pictures of a machine, and what they tell together."""
    return _list(request, shop, machine_id)


@router.post("", name="add_photograph")
def add_photograph(request: Request, machine_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a picture to measure on, and go to it."""
    part = form.get("photo")
    try:
        picture = read_to_measure(part.file.read() if isinstance(part, UploadFile) else b"")
        name = keep_photo(shop.folder, picture.jpeg)
        with shop.step(
            "photograph to measure on", f"machine {machine_id} photographs", machine_id=machine_id
        ) as step:
            number = photographs.add_photograph(
                step,
                machines.sheet(machine_id).id,
                file=name,
                size=picture.size,
                focal_px=picture.focal_px,
                at=shop.now(),
                by=shop.who,
            )
    except Refusal as refusal:
        refuse_program(request, [refusal])
        return _list(request, shop, machine_id, typed=Typed({}, {"photo": refusal}))
    return _to(request, "photograph_page", machine_id=machine_id, photograph_id=number)


@router.post("/sheet", name="photographs_onto_sheet")
def onto_sheet(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Write chosen figures of one picture, or of all together, on the sheet."""
    chosen = [str(one) for one in form.getlist("figure")]
    with shop.step(
        "figures by photograph", f"machine {machine_id} photographs", machine_id=machine_id
    ) as step:
        sheet = machines.sheet(machine_id)
        number = counted(form.get("photograph"))
        those = photographs.photographs(machine_id)
        if number is not None:
            those = [photographs.photograph(machine_id, number)]
        measured = merged(list(_measured(sheet, those)))
        written = (
            [] if measured is None else [_write(step, shop, sheet, measured, one) for one in chosen]
        )
        names = [one for one in written if one]
        if not names:
            raise StoreError(
                "Choose figures that the pictures tell.", field="figure", expected="figures"
            )
        step.label = f"by photograph: {', '.join(names)}"[:200]
    return _to(request, "machine_page", machine_id=machine_id)


def _write(step: Step, shop: Shop, sheet: Sheet, measured: PhotoFigures, name: str) -> str:
    """Write one figure on a sheet and return its key; nothing where no picture tells it."""
    one = measured.figures.get(name)
    if one is None:
        return ""
    key = sheet_key(sheet, name)
    figure = Figure(
        on_sheet(key, one.value), Provenance.PHOTOGRAPH, shop.today, round(one.plus_minus, 1)
    )
    machines.set_figure(step, sheet.id, key, figure)
    return key


@router.post("/undo", name="undo_photographs")
def undo_photographs(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of the machine back, or do it again, and go back to the picture."""
    take_back(shop, Undoing.of(form), Scope(machine_id=machine_id))
    number = counted(request.query_params.get("photograph"))
    there = [one.id for one in photographs.photographs(machine_id)]
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
        with shop.step(
            "photograph: a mark named", f"machine {machine_id} photographs", machine_id=machine_id
        ) as step:
            answers = PhotoAnswers.of(machine_id, photograph_id)
            kind = "line" if form.get("kind") == "line" else "point"
            answers.add_named(kind, str(form.get("name", "")))
            photographs.set_marks(step, photograph_id, answers.marks)
    except Refusal as refusal:
        refuse_program(request, [refusal])
        typed = Typed({}, {"own": refusal})
        return _picture(request, shop, machine_id, photograph_id, typed=typed)
    return _to(request, "photograph_page", machine_id=machine_id, photograph_id=photograph_id)


@router.post("/{photograph_id}/drop", name="drop_photograph")
def drop_photograph(
    request: Request, machine_id: int, photograph_id: int, shop: AShop, form: AForm
) -> Response:
    """Take a picture away; undo brings it back."""
    with shop.step(
        "photograph taken away", f"machine {machine_id} photographs", machine_id=machine_id
    ) as step:
        photographs.drop_photograph(step, photographs.photograph(machine_id, photograph_id).id)
    return _to(request, "photographs_page", machine_id=machine_id)


def _measured(sheet: Sheet, those: Iterable[Photograph]) -> Iterable[PhotoFigures]:
    for one in those:
        known = understood(sheet, one).measured
        if known is not None:
            yield known


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
