"""The wheel shelf: tires in stock, by what stands on them.

GET  /shelf         the list            POST /shelf        one more tire, as its sidewall reads
POST /shelf/drop    one less            POST /shelf/undo   the last change taken back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.store import journal, shelf
from jentrik.web.shelving import put_on_shelf
from jentrik.web.shop import AForm, AShop
from jentrik.web.templating import page
from jentrik.web.views.fields import Typed
from jentrik.web.views.shelf import shelf_view

router = APIRouter(include_in_schema=False, prefix="/shelf")


@router.get("", name="shelf_page")
def shelf_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what lies on the shelf."""
    return page(request, "shelf/list.html", view=shelf_view(shop.today))


@router.post("", name="add_to_shelf")
def add_to_shelf(request: Request, shop: AShop, form: AForm) -> Response:
    """Put a tire on the shelf; a refused text stays as typed."""
    text = str(form.get("code", ""))
    try:
        put_on_shelf(shop, text)
    except Refusal as refusal:
        view = shelf_view(shop.today, typed=Typed({"code": text}, {"code": refusal}))
        return page(request, "shelf/list.html", status=422, view=view)
    return _to_shelf(request)


@router.post("/drop", name="drop_from_shelf")
def drop_from_shelf(request: Request, shop: AShop, form: AForm) -> Response:
    """Take a tire off the shelf; one that is gone already is no trouble."""
    for tire in shelf.tires():
        if form.get("tire") == str(tire.id):
            label, subject = f"{tire.code} off the shelf", f"{shelf.SUBJECT} drop {tire.id}"
            with shop.step(label, subject) as step:
                shelf.drop_tire(step, tire.id)
    return _to_shelf(request)


@router.post("/undo", name="undo_shelf")
def undo_shelf(request: Request, shop: AShop, form: AForm) -> Response:
    """Take the last change of the shelf back."""
    journal.undo(shop.database, now=shop.now(), subject=shelf.SUBJECT)
    return _to_shelf(request)


def _to_shelf(request: Request) -> Response:
    return RedirectResponse(request.app.url_path_for("shelf_page"), status_code=303)
