"""Which wheel size for this rider and ground.

GET  /machines/{id}/sizes   sizes beside each other; asked by htmx, its fragment alone
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from jentrik.core.errors import DocumentError, Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.finder import Wanted
from jentrik.core.plan.plan import as_measured
from jentrik.core.plan.sizes import standard_sizes
from jentrik.core.plan.wheel_sizes import SizePair, pairs_made_for, pairs_taken, usual_columns
from jentrik.core.tire.tables.wheel_size_arguments import SCHOOLS
from jentrik.store import jobs, machines
from jentrik.web.pages.choose.route import Searches
from jentrik.web.pages.wheel_sizes.view import (
    MOST_COLUMNS,
    WheelSizesView,
    key_of,
    wheel_sizes_view,
)
from jentrik.web.shop import AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
MOST_OFFERED = 24


@router.get("/machines/{machine_id}/sizes", name="wheel_sizes")
def wheel_sizes(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show wheel sizes beside each other for a small and a tall rider."""
    view = sizes_asked(request, shop, machine_id)
    template = (
        "machines/_wheel_sizes.html" if wants_fragment(request) else "machines/wheel_sizes.html"
    )
    return page(request, template, view=view, schools=SCHOOLS)


def sizes_asked(request: Request, shop: Shop, machine_id: int) -> WheelSizesView:
    """Return the sizes an address asks for, beside each other."""
    sheet, query = machines.sheet(machine_id), request.query_params
    made_for, found, complaint = query.get("made") == "1", None, ""
    offered: list[SizePair] = []
    chosen: list[SizePair] = []
    try:
        if missing_of(sheet):
            names = ", ".join(one.label.lower() for one in missing_of(sheet))
            raise DocumentError(f"The sizes wait for {names}.")
        bike = machine_of(sheet)
        found = as_measured(bike, policy=shop.policy, on=shop.today)
        sizes = standard_sizes(bike.kind)
        if made_for:
            offered = pairs_made_for(bike, sizes)
        else:
            searches: Searches = request.app.state.searches
            grid = searches.grid(machine_id, bike, Wanted(sizes, sizes), shop.policy)
            offered = pairs_taken(bike, grid) if grid is not None else []
        asked = query.getlist("at")
        chosen = [one for one in offered if key_of(one) in asked][: MOST_COLUMNS - 1]
        chosen = chosen or usual_columns(bike, offered)
    except Refusal as refusal:
        complaint = refusal.message
    return wheel_sizes_view(
        sheet,
        found,
        query,
        chosen,
        sorted(offered, key=lambda one: (one not in chosen, -one.choice))[:MOST_OFFERED],
        [(job.id, job.tag) for job in jobs.open_jobs_of(machine_id) if not job.sealed],
        made_for=made_for,
        complaint=complaint,
        units=shop.units,
    )
