"""The order list of a job.

GET  /jobs/{id}/order         what each way of each proposal needs and costs
POST /jobs/{id}/order         prices, numbers, hours, lives; asked by htmx, its fragment alone
POST /jobs/{id}/order/undo    the last change taken back
GET  /orders                  every part that is ordered; POST /orders/{id}/arrived: one is here
GET, POST /jobs/{id}/order/suppliers   the same by supplier: what is ordered, arrived, sent back
"""

from dataclasses import dataclass
from datetime import date
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import FormData

from jentrik.core.errors import DocumentError
from jentrik.core.machine.fields import missing_of
from jentrik.core.text import counted
from jentrik.core.work.order_entries import KINDS, SOURCES, OrderState, checked_entry
from jentrik.store import costs, jobs, logbook
from jentrik.store.documents import OnBench
from jentrik.store.journal import Step
from jentrik.store.undo import Scope
from jentrik.web.live.fields import Answered, Write, is_live, sent_fields, take_fields
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.jobs.day_commands import PartArrived
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.order.orders import orders_view
from jentrik.web.pages.order.suppliers import suppliers_view
from jentrik.web.pages.order.view import order_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
LONGEST_KEY = 160


@router.get("/jobs/{job_id}/order", name="order_page")
def order_page(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show the order list of a job."""
    return _render(request, shop, job_id)


@dataclass(frozen=True, slots=True)
class OrderAnswers:
    """Reads what is typed on the order list of a job."""

    job_id: int
    entries: dict[str, str]
    today: date

    @property
    def subject(self) -> str:
        """What a change made here is of."""
        return f"job {self.job_id} order"

    def stored(self, name: str) -> str | None:
        """Return what a field shows; None where nothing was typed and a usual figure stands."""
        usual = {"quantity": "1", "source": SOURCES[0], "state": OrderState.OPEN.value}
        return self.entries.get(name, usual.get(name.partition(":")[0]))

    def unit(self, name: str) -> str:
        """Return the unit a field's figure is kept in; "" where it has none."""
        return "km" if name.partition(":")[0] in ("life", "km-a-year") else ""

    def read(self, name: str, text: str) -> list[Write]:
        """Return the write of one entry; none where it is as it was."""
        if len(name) > LONGEST_KEY:
            raise DocumentError("That is no part of this list.", expected="a part")
        value = checked_entry(name, text)
        if value == self.entries.get(name, ""):
            return []
        kind, _, part = name.partition(":")
        label = f"order list: {kind.replace('-', ' ')} {part} {value}".replace("  ", " ")
        kept = {name: value}
        if kind == "state":  # since when it is so stands with it
            kept[f"since:{part}"] = self.today.isoformat() if value else ""
        self.entries.update(kept)
        for key in [key for key in kept if not kept[key]]:
            self.entries.pop(key)

        def act(step: Step) -> None:
            for key, said in kept.items():
                costs.set_entry(step, self.job_id, key, said)

        return [Write(label, act, {"job_id": self.job_id})]


@router.post("/jobs/{job_id}/order", name="set_order")
def set_order(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what was written on the order list."""
    taken = _taken(request, job_id, shop, form)
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(request, "order_page", job_id)
    return taken.mark(_render(request, shop, job_id, typed=taken.typed))


def _taken(request: Request, job_id: int, shop: Shop, form: FormData) -> Answered:
    def load() -> OrderAnswers:
        return OrderAnswers(jobs.job(job_id).id, costs.entries(job_id), shop.today)

    fields = sent_fields(form.multi_items(), KINDS)
    return take_fields(shop, fields, load, live=is_live(request))[1]


@router.get("/jobs/{job_id}/order/suppliers", name="suppliers_page")
def suppliers_page(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show what is ordered of whom."""
    return _render_suppliers(request, shop, job_id)


@router.post("/jobs/{job_id}/order/suppliers", name="set_suppliers")
def set_suppliers(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep who supplies a part and how far it is."""
    taken = _taken(request, job_id, shop, form)
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(request, "suppliers_page", job_id)
    return taken.mark(_render_suppliers(request, shop, job_id, typed=taken.typed))


@router.get("/orders", name="orders_page")
def orders_page(request: Request, shop: AShop, find: str = "") -> HTMLResponse:
    """Show every part that is ordered, and say that one is here."""
    return _orders(request, shop, find)


@router.post("/orders/{job_id}/arrived", name="part_arrived")
def part_arrived(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Keep that a part is here and where it lies; says which job it frees."""
    arrived = PartArrived.of(form)
    arrived.carry_out(shop, job_id)
    here = request.app.url_path_for("orders_page")
    if not wants_fragment(request):
        asked = {"find": str(form.get("find", "")), "job": str(job_id), "part": arrived.part}
        return RedirectResponse(f"{here}?{urlencode(asked)}", status_code=303)
    return _orders(request, shop, str(form.get("find", "")), (job_id, arrived.part))


def _orders(
    request: Request, shop: Shop, find: str, here: tuple[int, str] | None = None
) -> HTMLResponse:
    query = request.query_params
    job_id = counted(query.get("job"), most=10**9)
    if here is None and job_id is not None:
        here = job_id, query.get("part", "")[:LONGEST_KEY]
    view = orders_view(costs.waited_for(), find, shop.today, here)
    template = "orders/_orders.html" if wants_fragment(request) else "orders/orders.html"
    return page(request, template, view=view)


@router.post("/jobs/{job_id}/order/undo", name="undo_order")
def undo_order(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take one change of this job back, or do it again."""
    jobs.job(job_id)
    undone = take_back(shop, Undoing.of(form), Scope(job_id=job_id))
    if request.query_params.get("of") == "suppliers":
        return _render_suppliers(request, shop, job_id, undone=undone)
    return _render(request, shop, job_id, undone=undone)


def _render(
    request: Request,
    shop: Shop,
    job_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
) -> HTMLResponse:
    there = _standing(shop, job_id)
    view = order_view(
        there,
        costs.entries(job_id),
        logbook.log(there.sheet.id),
        request.app.url_path_for("order_page", job_id=job_id),
        request.query_params.get("columns", "")[:40],
        typed=typed,
        undo=undone or undo_view(shop, Scope(job_id=job_id)),
    )
    template = "jobs/_order.html" if wants_fragment(request) else "jobs/order.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def _standing(shop: Shop, job_id: int) -> OnBench:
    there = on_bench(shop, job_id)
    if missing_of(there.sheet):
        raise DocumentError(
            "The order list waits for the machine's figures.",
            expected="the figures that are needed",
        )
    return there


def _render_suppliers(
    request: Request,
    shop: Shop,
    job_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
) -> HTMLResponse:
    view = suppliers_view(
        _standing(shop, job_id),
        costs.entries(job_id),
        costs.suppliers(),
        request.app.url_path_for("suppliers_page", job_id=job_id),
        counted(request.query_params.get("way"), most=999) or 0,
        typed=typed,
        undo=undone or undo_view(shop, Scope(job_id=job_id)),
    )
    template = "jobs/_suppliers.html" if wants_fragment(request) else "jobs/suppliers.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)


def _to(request: Request, name: str, job_id: int) -> Response:
    return RedirectResponse(request.app.url_path_for(name, job_id=job_id), status_code=303)
