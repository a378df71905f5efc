"""The wheel shelf: tires in stock, by what stands on them.

GET  /shelf         the list            POST /shelf        one more tire, as its sidewall reads
POST /shelf/drop    one less            POST /shelf/undo   the last change taken back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.text import counted
from jentrik.store import jobs, shelf, wheels
from jentrik.store.listing import SHELF_SORTS, same_rims, shelf_listed
from jentrik.store.undo import Scope
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.shelf.shelving import put_on_shelf, take_off_shelf
from jentrik.web.pages.shelf.view import rim_of, rim_of_wheel, shelf_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.paging import wanted_of
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/shelf")
RECEIVED = ("pieces", "price", "place")


@router.get("", name="shelf_page")
def shelf_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what lies on the shelf."""
    return _render(request, shop)


@router.post("", name="add_to_shelf")
def add_to_shelf(request: Request, shop: AShop, form: AForm) -> Response:
    """Put a tire on the shelf; a refused text stays as typed."""
    typed = {name: str(form.get(name, "")) for name in ("code", *RECEIVED)}
    try:
        put_on_shelf(shop, typed["code"], typed)
    except Refusal as refusal:
        at = refusal.field if refusal.field in RECEIVED else "code"
        return _render(request, shop, typed=Typed(typed, {at: refusal}))
    return _to_shelf(request)


@router.post("/drop", name="drop_from_shelf")
def drop_from_shelf(request: Request, shop: AShop, form: AForm) -> Response:
    """Take a tire off the shelf; one that is gone already is no trouble."""
    take_off_shelf(shop, counted(form.get("tire")))
    return _to_shelf(request)


@router.post("/undo", name="undo_shelf")
def undo_shelf(request: Request, shop: AShop, form: AForm) -> Response:
    """Take one change of the shelf back, or do it again."""
    return _render(
        request, shop, undone=take_back(shop, Undoing.of(form), Scope(subject=shelf.SUBJECT))
    )


def _render(
    request: Request, shop: Shop, *, typed: Typed = NOTHING_TYPED, undone: UndoView | None = None
) -> HTMLResponse:
    undone = undone or undo_view(shop, Scope(subject=shelf.SUBJECT))
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts=SHELF_SORTS)
    path = request.app.url_path_for("shelf_page")
    listed, kept = shelf_listed(wanted), wheels.on_shelf_of()
    rims = [rim_of(tire.reading) for tire in listed.rows]
    rims += [rim for wheel, _ in kept if (rim := rim_of_wheel(wheel)) is not None]
    view = shelf_view(
        listed,
        wanted,
        path,
        shop.today,
        undone,
        wheels=kept,
        same_rims=same_rims(rims),
        typed=typed,
        policy=shop.policy,
        jobs=jobs.reserved_tags(),
    )
    return page(request, "shelf/list.html", status=422 if typed.refusals else 200, view=view)


def _to_shelf(request: Request) -> Response:
    return RedirectResponse(request.app.url_path_for("shelf_page"), status_code=303)
