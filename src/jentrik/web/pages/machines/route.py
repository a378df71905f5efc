"""Machines: the list, and one machine's sheet, where every figure can be changed.

GET  /machines                     the list, and a new machine in a few fields
POST /machines                     a new machine, then its sheet
GET  /machines/{id}                the sheet; asked by htmx, its fragment alone
POST /machines/{id}/answer         figures, then the same fragment (422: as typed)
POST /machines/{id}/lines/places, points, positions, pairs  one more  .../lines/drop  one less
POST /machines/{id}/undo           the last change taken back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal, StoreError
from jentrik.store import journal, machines
from jentrik.store.listing import MACHINE_SORTS, machines_listed, names_like
from jentrik.store.machine_data import machine_data
from jentrik.store.undo import Scope
from jentrik.web.live.answers import KINDS, Answers
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.live.typed_values import checked_name
from jentrik.web.live.undoing import Undoing, UndoView, must_stand, take_back, undo_view
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.jobs.newcomer import Newcomer, add_machine_on, copy_machine
from jentrik.web.pages.machines.commands import Gauged
from jentrik.web.pages.machines.places import add_line, drop_line
from jentrik.web.pages.machines.view import machine_view, machines_view
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.paging import LONGEST_FIND, wanted_of
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/machines")


@router.get("", name="machines_page")
def machines_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show machines, a page of them."""
    return _list(request, shop)


@router.get("/names", name="machine_names")
def machine_names(request: Request, shop: AShop, what: str = "") -> HTMLResponse:
    """Return names to choose from while one is typed."""
    return page(request, "machines/_names.html", names=names_like(what[:LONGEST_FIND]))


def _list(request: Request, shop: Shop, *, typed: Typed = NOTHING_TYPED) -> HTMLResponse:
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts=MACHINE_SORTS)
    path = request.app.url_path_for("machines_page")
    view = machines_view(machines_listed(wanted), wanted, path, typed=typed)
    template = "machines/_list.html" if wants_fragment(request) else "machines/list.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


@router.post("", name="new_machine")
def new_machine(request: Request, shop: AShop, form: AForm) -> Response:
    """Add a machine by its name and the tire it wears."""
    typed = {name: str(form.get(name, "")).strip() for name in ("what", "tire", "rear", "build")}
    try:
        name = checked_name(typed["what"])
        subject = f"{journal.STAYS} new machine {name}"
        with shop.step(f"new machine: {name}", subject) as step:
            step.machine_id = machine_id = add_machine_on(
                step, shop, Newcomer(name, typed["tire"], typed["rear"], typed["build"])
            )
    except Refusal as refusal:
        at = refusal.field if refusal.field in typed else "what"
        return _list(request, shop, typed=Typed(typed, {at: refusal}))
    return _to_sheet(request, machine_id)


@router.get("/{machine_id}", name="machine_page")
def machine_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show one machine's sheet."""
    return _render(request, shop, machine_id)


@router.post("/{machine_id}/copy", name="copy_machine")
def copy(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Add a machine like this one, its figures assumed until they are measured."""
    return _to_sheet(request, copy_machine(shop, machine_id, str(form.get("name", ""))))


@router.post("/{machine_id}/answer", name="machine_answer")
def machine_answer(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take figures; what is refused changes nothing and stays as typed."""

    def load() -> Answers:
        return Answers(machines.sheet(machine_id), shop.today, asks=True)

    fields = sent_fields(form.multi_items(), KINDS)
    _, taken = take_fields(shop, fields, load, live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to_sheet(request, machine_id)
    return taken.mark(_render(request, shop, machine_id, typed=taken.typed))


@router.post("/{machine_id}/lines/drop", name="machine_drop_line")
def machine_drop_line(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take a measured gap or a named point off the sheet."""
    drop_line(shop, machine_id, form)
    return _to_sheet(request, machine_id)


@router.post("/{machine_id}/lines/{which}", name="machine_add_line")
def machine_add_line(
    request: Request, machine_id: int, which: str, shop: AShop, form: AForm
) -> Response:
    """Add a line to one of the machine's lists: a gap, a point, a rear position, a pair."""
    typed = add_line(shop, machine_id, which, form)
    if typed.refusals:
        return _render(request, shop, machine_id, typed=typed)
    return _to_sheet(request, machine_id)


@router.post("/{machine_id}/gauge", name="take_reading")
def take_reading(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Fill a figure with what a gauge reads: value, ± and provenance."""
    try:
        Gauged.of(form).carry_out(shop, machine_id)
    except StoreError:
        raise
    except Refusal as refusal:
        typed = Typed({}, {f"sheet:{form.get('gauge')}": refusal})
        return _render(request, shop, machine_id, typed=typed)
    back = str(form.get("back", ""))
    if back.startswith("/jobs/"):
        return RedirectResponse(back, status_code=303)
    return _to_sheet(request, machine_id)


@router.post("/{machine_id}/undo", name="machine_undo")
def machine_undo(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take one change of this machine back, or do it again."""
    machines.sheet(machine_id)
    undone = take_back(
        shop, Undoing.of(form), Scope(machine_id=machine_id), check=must_stand(machine_id)
    )
    return _render(request, shop, machine_id, undone=undone)


def _render(
    request: Request,
    shop: Shop,
    machine_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
) -> HTMLResponse:
    path = request.app.url_path_for("machine_page", machine_id=machine_id)
    undone = undone or undo_view(shop, Scope(machine_id=machine_id))
    address = Address.of(path, {"field": request.query_params.get("field", "")})
    view = machine_view(machine_data(machine_id), address, typed=typed, undo=undone)
    template = "machines/_sheet.html" if wants_fragment(request) else "machines/sheet.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def _to_sheet(request: Request, machine_id: int) -> Response:
    href = request.app.url_path_for("machine_page", machine_id=machine_id)
    return RedirectResponse(href, status_code=303)
