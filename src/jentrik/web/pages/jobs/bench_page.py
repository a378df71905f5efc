"""One answer for everything that ends on a job's bench: its page, or asked by htmx its fragment."""

from fastapi import Request
from fastapi.responses import HTMLResponse

from jentrik.store.bench_data import bench_data
from jentrik.store.documents import OnBench
from jentrik.store.undo import Scope
from jentrik.web.live.undoing import UndoView, undo_view
from jentrik.web.pages.jobs.bench import BenchView, bench_view
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.verdict import Known
from jentrik.web.shop import Shop
from jentrik.web.templating import page, wants_fragment


def bench_page(
    request: Request,
    shop: Shop,
    there: OnBench,
    address: Address,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
    known: Known | None = None,
) -> HTMLResponse:
    """Return a job's bench as seen from an address: 422 where something typed was refused."""
    view = bench_seen(shop, there, address, typed=typed, undone=undone, known=known)
    template = "jobs/_bench_swapped.html" if wants_fragment(request) else "jobs/bench.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def bench_seen(
    shop: Shop,
    there: OnBench,
    address: Address,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
    known: Known | None = None,
) -> BenchView:
    """Return a job's bench with what can be undone, as whoever is there sees it."""
    job = there.job
    undo = undone or undo_view(shop, Scope(machine_id=job.machine_id, job_id=job.id))
    data = bench_data(there, address.station, made_of=bool(address.made_of))
    return bench_view(data, address, typed=typed, undo=undo, who=shop.who, known=known)
