"""Machines: the list, and one machine's sheet, where every figure can be changed.

GET  /machines                     the list, and a new machine in two fields
POST /machines                     a new machine, then its sheet
GET  /machines/{id}                the sheet; asked by htmx, its fragment alone
POST /machines/{id}/answer         figures, then the same fragment (422: as typed)
POST /machines/{id}/lines/places, points, positions, pairs  one more  .../lines/drop  one less
POST /machines/{id}/undo           the last change taken back
"""

from collections.abc import Callable

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal, StoreError
from jentrik.core.gauged import gauge_for
from jentrik.core.sheet import Provenance, Sheet
from jentrik.core.sheet_fields import FIELD_BY_KEY
from jentrik.devices.port import Quantity
from jentrik.store import journal, machines
from jentrik.web.answers import Answers, read_answers
from jentrik.web.gauging import figure_place, take
from jentrik.web.newcomer import add_machine_on
from jentrik.web.places import ADD_LINE, drop_line
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment
from jentrik.web.typed_values import checked_name
from jentrik.web.views.fields import NOTHING_TYPED, Typed
from jentrik.web.views.machines import machine_view, machines_view

router = APIRouter(include_in_schema=False, prefix="/machines")


@router.get("", name="machines_page")
def machines_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show every machine."""
    return page(request, "machines/list.html", view=machines_view())


@router.post("", name="new_machine")
def new_machine(request: Request, shop: AShop, form: AForm) -> Response:
    """Add a machine by its name and the tire it wears."""
    what, tire = str(form.get("what", "")), str(form.get("tire", "")).strip()
    try:
        name = checked_name(what)
        subject = f"{journal.STAYS} new machine {name}"
        with shop.step(f"new machine: {name}", subject) as step:
            step.machine_id = machine_id = add_machine_on(step, shop, name, tire)
    except Refusal as refusal:
        at = "tire" if refusal.field == "tire" else "what"
        view = machines_view(typed=Typed({"what": what, "tire": tire}, {at: refusal}))
        return page(request, "machines/list.html", status=422, view=view)
    return _to_sheet(request, machine_id)


@router.get("/{machine_id}", name="machine_page")
def machine_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show one machine's sheet."""
    return _render(request, shop, machines.sheet(machine_id))


@router.post("/{machine_id}/answer", name="machine_answer")
def machine_answer(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take figures; what is refused changes nothing and stays as typed."""
    taken = read_answers(Answers(machines.sheet(machine_id)), form, shop.today)
    if taken.refusals:
        values = {name: value for name, value in form.items() if isinstance(value, str)}
        return _render(
            request, shop, machines.sheet(machine_id), typed=Typed(values, taken.refusals)
        )
    if taken.writes:
        subject = f"machine {machine_id} {' '.join(n for n in form if ':' in n)}"[:200]
        label = "; ".join(taken.labels)[:200]
        with shop.step(label, subject, machine_id=machine_id) as step:
            for write in taken.writes:
                write(step)
    if not wants_fragment(request):
        return _to_sheet(request, machine_id)
    return _render(request, shop, taken.sheet)


@router.post("/{machine_id}/lines/drop", name="machine_drop_line")
def machine_drop_line(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take a measured gap or a named point off the sheet."""
    return _line(request, shop, machine_id, lambda sheet: drop_line(shop, sheet, form))


@router.post("/{machine_id}/lines/{which}", name="machine_add_line")
def machine_add_line(
    request: Request, machine_id: int, which: str, shop: AShop, form: AForm
) -> Response:
    """Add a line to one of the machine's lists: a gap, a point, a rear position, a pair."""
    add = ADD_LINE.get(which)
    if add is None:
        raise StoreError("There is no such list.", expected="a list of the sheet")
    return _line(request, shop, machine_id, lambda sheet: add(shop, sheet, form))


@router.post("/{machine_id}/gauge", name="take_reading")
def take_reading(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Fill a figure with what a gauge reads: value, ± and provenance."""
    sheet, key = machines.sheet(machine_id), str(form.get("gauge", ""))
    known, quantity = FIELD_BY_KEY.get(key), gauge_for(key)
    if known is None or quantity is None:
        raise StoreError("No tool of this shop measures that.", expected="a figure with a tool")
    try:
        (taken,) = take(shop, Quantity(quantity), figure_place(sheet, key))
        answers = Answers(sheet)
        answers.take(f"sheet:{key}", f"{taken.value:g} ± {taken.plus_minus:g}", shop.today)
        answers.take(f"from:{key}", Provenance.MEASURED.value, shop.today)
        for refusal in answers.refusals.values():
            raise refusal
    except Refusal as refusal:
        return _render(request, shop, sheet, typed=Typed({}, {f"sheet:{key}": refusal}))
    label = f"{known.label.lower()} by {taken.gauge.lower()}: {taken.value:g}"
    with shop.step(label, f"machine {machine_id} gauge {key}", machine_id=machine_id,
                   joins=False) as step:  # fmt: skip
        for write in answers.writes:
            write(step)
    back = str(form.get("back", ""))
    if back.startswith("/jobs/"):
        return RedirectResponse(back, status_code=303)
    return _to_sheet(request, machine_id)


@router.post("/{machine_id}/undo", name="machine_undo")
def machine_undo(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of this machine back."""
    label = journal.undo(shop.database, now=shop.now(), machine_id=machine_id)
    if not wants_fragment(request):
        return _to_sheet(request, machine_id)
    done = f"Taken back: {label}" if label else "Nothing left to take back."
    return _render(request, shop, machines.sheet(machine_id), done=done)


def _line(request: Request, shop: Shop, machine_id: int, act: Callable[[Sheet], Typed]) -> Response:
    sheet = machines.sheet(machine_id)
    typed = act(sheet)
    if typed.refusals:
        return _render(request, shop, sheet, typed=typed)
    return _to_sheet(request, machine_id)


def _render(
    request: Request,
    shop: Shop,
    sheet: Sheet,
    *,
    typed: Typed = NOTHING_TYPED,
    done: str = "",
) -> HTMLResponse:
    label = journal.last_label(machine_id=sheet.id)
    path = request.app.url_path_for("machine_page", machine_id=sheet.id)
    view = machine_view(sheet, path, typed=typed, undo_label=label, done=done)
    template = "machines/_sheet.html" if wants_fragment(request) else "machines/sheet.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def _to_sheet(request: Request, machine_id: int) -> Response:
    href = request.app.url_path_for("machine_page", machine_id=machine_id)
    return RedirectResponse(href, status_code=303)
