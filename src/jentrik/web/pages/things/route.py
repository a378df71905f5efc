"""A thing of the shelf: a tire or a wheel that is off, its fields, and where it can go.

GET  /shelf/tires/{id}           the tire; asked by htmx, the machines it may go on alone
POST /shelf/tires/{id}/answer    fields that save as they change
POST /shelf/tires/{id}/look      what a look over it found
POST /shelf/tires/{id}/reserve   pieces put aside for a job, or set free
POST /shelf/tires/{id}/photo     a photograph of it
GET, POST /wheels/{id}...        the same of a wheel, at the end it is made for
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet
from jentrik.store import jobs, machines, shelf, wheels
from jentrik.store.listing import MACHINE_SORTS, machines_listed
from jentrik.store.undo import Scope
from jentrik.web.live.command import sent_bytes
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.things.commands import (
    LookedOver,
    Reserved,
    photograph_tire,
    photograph_wheel,
)
from jentrik.web.pages.things.fields import tire_answers, wheel_answers
from jentrik.web.pages.things.view import ThingView, tire_view, wheel_view
from jentrik.web.pages.things.where import Changes, WhereRow, of_tire, of_wheel, where_rows
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.paging import Paging, wanted_of
from jentrik.web.shop import AForm, AnUpload, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
MOST_JOBS = 200
FIELD_KINDS = ("thing", "fact")


@router.get("/shelf/tires/{tire_id}", name="tire_page")
def tire_page(request: Request, tire_id: int, shop: AShop) -> HTMLResponse:
    """Show a tire of the shelf."""
    return _tire(request, shop, tire_id)


@router.post("/shelf/tires/{tire_id}/answer", name="tire_answer")
def tire_answer(request: Request, tire_id: int, shop: AShop, form: AForm) -> Response:
    """Write the fields of a tire."""
    fields = sent_fields(form.multi_items(), FIELD_KINDS)
    _, taken = take_fields(shop, fields, lambda: tire_answers(tire_id), live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(request, "tire_page", tire_id=tire_id)
    return taken.mark(_tire(request, shop, tire_id, typed=taken.typed))


@router.post("/shelf/tires/{tire_id}/look", name="look_over_tire")
def look_over_tire(request: Request, tire_id: int, shop: AShop, form: AForm) -> Response:
    """Write what a look over a tire found; refuses signs that cannot go together."""
    try:
        LookedOver.of(form).carry_out(shop, tire_id)
    except Refusal as refusal:
        return _tire(request, shop, tire_id, typed=Typed({}, {"look": refusal}))
    return _to(request, "tire_page", tire_id=tire_id)


@router.post("/shelf/tires/{tire_id}/reserve", name="reserve_tire")
def reserve_tire(request: Request, tire_id: int, shop: AShop, form: AForm) -> Response:
    """Reserve pieces of a line for a job, or set them free."""
    try:
        line = Reserved.of(form).of_tire(shop, tire_id)
    except Refusal as refusal:
        return _tire(request, shop, tire_id, typed=Typed({}, {"reserve": refusal}))
    return _to(request, "tire_page", tire_id=line)


@router.post("/shelf/tires/{tire_id}/photo", name="photograph_tire")
def tire_photo(request: Request, tire_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a photograph of a tire."""
    try:
        photograph_tire(shop, tire_id, sent_bytes(form.get("photo")))
    except Refusal as refusal:
        return _tire(request, shop, tire_id, typed=Typed({}, {"photo": refusal}))
    return _to(request, "tire_page", tire_id=tire_id)


@router.post("/shelf/tires/{tire_id}/undo", name="undo_tire")
def undo_tire(request: Request, tire_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of the shelf back, or do it again."""
    undone = take_back(shop, Undoing.of(form), Scope(subject=shelf.SUBJECT))
    if shelf.tire(tire_id) is None:
        return _to(request, "shelf_page")
    return _tire(request, shop, tire_id, undone=undone)


@router.get("/wheels/{wheel_id}", name="wheel_page")
def wheel_page(request: Request, wheel_id: int, shop: AShop) -> HTMLResponse:
    """Show a wheel."""
    return _wheel(request, shop, wheel_id)


@router.post("/wheels/{wheel_id}/answer", name="wheel_answer")
def wheel_answer(request: Request, wheel_id: int, shop: AShop, form: AForm) -> Response:
    """Write the fields of a wheel."""
    fields = sent_fields(form.multi_items(), FIELD_KINDS)
    _, taken = take_fields(shop, fields, lambda: wheel_answers(wheel_id), live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(request, "wheel_page", wheel_id=wheel_id)
    return taken.mark(_wheel(request, shop, wheel_id, typed=taken.typed))


@router.post("/wheels/{wheel_id}/reserve", name="reserve_wheel")
def reserve_wheel(request: Request, wheel_id: int, shop: AShop, form: AForm) -> Response:
    """Reserve a wheel for a job, or set it free."""
    try:
        Reserved.of(form).of_wheel(shop, wheel_id)
    except Refusal as refusal:
        return _wheel(request, shop, wheel_id, typed=Typed({}, {"reserve": refusal}))
    return _to(request, "wheel_page", wheel_id=wheel_id)


@router.post("/wheels/{wheel_id}/photo", name="photograph_wheel")
def wheel_photo(request: Request, wheel_id: int, shop: AShop, form: AnUpload) -> Response:
    """Keep a photograph of a wheel."""
    try:
        photograph_wheel(shop, wheel_id, sent_bytes(form.get("photo")))
    except Refusal as refusal:
        return _wheel(request, shop, wheel_id, typed=Typed({}, {"photo": refusal}))
    return _to(request, "wheel_page", wheel_id=wheel_id)


@router.post("/wheels/{wheel_id}/undo", name="undo_wheel")
def undo_wheel(request: Request, wheel_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of the shelf back, or do it again."""
    undone = take_back(shop, Undoing.of(form), Scope(subject=shelf.SUBJECT))
    return _wheel(request, shop, wheel_id, undone=undone)


def _tire(
    request: Request,
    shop: Shop,
    tire_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
) -> HTMLResponse:
    tire = shelf.known_tire(tire_id)
    path = request.app.url_path_for("tire_page", tire_id=tire_id)
    where, paging = _where(request, shop, path, of_tire(tire))
    view = tire_view(
        tire,
        where,
        paging,
        jobs.open_tags(MOST_JOBS),
        shop.policy,
        shop.today,
        undo=undone or undo_view(shop, Scope(subject=shelf.SUBJECT)),
        typed=typed,
    )
    return _page(request, view)


def _wheel(
    request: Request,
    shop: Shop,
    wheel_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
) -> HTMLResponse:
    wheel = wheels.wheel_now(wheel_id)
    path = request.app.url_path_for("wheel_page", wheel_id=wheel_id)
    where, paging = _where(request, shop, path, of_wheel(wheel))
    view = wheel_view(
        wheel,
        where,
        paging,
        jobs.open_tags(MOST_JOBS),
        undo=undone or undo_view(shop, Scope(subject=shelf.SUBJECT)),
        sets=() if wheel.on or wheel.machine_id is None else _sets_with(wheel),
        typed=typed,
    )
    return _page(request, view)


def _sets_with(wheel: KeptWheel) -> tuple[WheelSet, ...]:
    """Return the sets of a wheel's machine that it belongs to."""
    there = wheels.sets_of(wheel.machine_id or 0)
    return tuple(one for one in there if one.wheel(wheel.end) == wheel.id)


def _where(
    request: Request, shop: Shop, path: str, changes: Changes
) -> tuple[list[WhereRow], Paging]:
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts=MACHINE_SORTS)
    listed = machines_listed(wanted)
    sheets = [machines.sheet(row.id) for row in listed.rows]
    rows = where_rows(sheets, changes, shop.policy, shop.today)
    return rows, Paging(path, wanted, more=listed.more, usual="name")


def _page(request: Request, view: ThingView) -> HTMLResponse:
    status = 422 if view.complaints else 200
    if not wants_fragment(request):
        return page(request, "shelf/thing.html", status=status, view=view)
    fragment = "shelf/_where.html" if request.method == "GET" else "shelf/_thing.html"
    return page(request, fragment, status=status, view=view)


def _to(request: Request, name: str, **ids: int) -> Response:
    return RedirectResponse(request.app.url_path_for(name, **ids), status_code=303)
