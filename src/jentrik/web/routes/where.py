"""Where a wheel or a tire of the shop can go.

GET  /shelf/tires/{id}/where   a tire on the shelf, at either end of every machine
GET  /wheels/{id}/where        a wheel that is off, at the end it is made for
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from jentrik.core.errors import StoreError
from jentrik.store import machines, shelf, wheels
from jentrik.store.listing import MACHINE_SORTS, machines_listed
from jentrik.web.list_refresh import refresh
from jentrik.web.shop import AShop, Shop
from jentrik.web.templating import page, wants_fragment
from jentrik.web.views.paging import Paging, wanted_of
from jentrik.web.views.where import Changes, WhereView, of_tire, of_wheel, where_rows

router = APIRouter(include_in_schema=False)


@router.get("/shelf/tires/{tire_id}/where", name="where_tire")
def where_tire(request: Request, tire_id: int, shop: AShop) -> HTMLResponse:
    """Show where a tire of the shelf can go."""
    tire = shelf.tire(tire_id)
    if tire is None:
        raise StoreError("That tire is not on the shelf any more.")
    made = f"made {tire.week:02d}/{tire.year}" if tire.week else ""
    path = request.app.url_path_for("where_tire", tire_id=tire_id)
    return _render(request, shop, path, tire.code, made, of_tire(tire))


@router.get("/wheels/{wheel_id}/where", name="where_wheel")
def where_wheel(request: Request, wheel_id: int, shop: AShop) -> HTMLResponse:
    """Show where a wheel can go."""
    wheel = wheels.wheel(wheel_id)
    path = request.app.url_path_for("where_wheel", wheel_id=wheel_id)
    return _render(request, shop, path, wheel.name, wheel.says, of_wheel(wheel))


def _render(
    request: Request, shop: Shop, path: str, name: str, says: str, changes: Changes
) -> HTMLResponse:
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts=MACHINE_SORTS)
    listed = machines_listed(wanted)
    sheets = [machines.sheet(one.id) for one in listed.rows]
    view = WhereView(
        name,
        says,
        where_rows(sheets, changes, shop.policy, shop.today),
        Paging(path, wanted, more=listed.more, usual="name"),
    )
    template = "shelf/_where.html" if wants_fragment(request) else "shelf/where.html"
    return page(request, template, view=view)
