"""The logbook of the shop and of each machine.

GET  /logbook                    time line and what is due         GET /logbook/due.ics  a calendar
GET  /machines/{id}/log          one machine's
POST /machines/{id}/log/look     a look at a tire                  .../odometer  a reading
POST /machines/{id}/log/check    the odometer over a known way     .../puncture  a puncture
POST /machines/{id}/log/stand    since when it stands, or ridden again
"""

from collections.abc import Callable, Mapping

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import FormData

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import End
from jentrik.devices.port import GaugeQuantity
from jentrik.exchange.calendar import due_calendar
from jentrik.store import machines
from jentrik.store.happenings import revisions
from jentrik.store.listing import PAGE
from jentrik.store.machine_data import LogData, due_in_shop, log_of_machine, log_of_shop
from jentrik.store.shop_ids import shop_mark
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.logbook.commands import (
    Entry,
    Inspected,
    OdometerChecked,
    OdometerRead,
    Punctured,
    Standing,
)
from jentrik.web.pages.logbook.view import (
    JUDGED_BY,
    MOST_DUE,
    MOST_EVENTS,
    machine_log,
    shop_due,
    shop_log,
)
from jentrik.web.parts.fields import Typed
from jentrik.web.parts.gauging import pressure_place, take, tread_places
from jentrik.web.parts.paging import wanted_of
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)


@router.get("/logbook", name="logbook_page")
def logbook_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show the time line of the shop and what is due."""
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts={})
    path = request.app.url_path_for("logbook_page")
    data = log_of_shop(wanted.page * PAGE + 1, find=wanted.find, figures=JUDGED_BY)
    due = due_in_shop(most=MOST_DUE)
    view = shop_log(data, due, shop.policy, shop.today, wanted, path)
    template = "logbook/_shop.html" if wants_fragment(request) else "logbook/shop.html"
    return page(request, template, view=view)


@router.get("/logbook/due.ics", name="due_calendar")
def calendar(request: Request, shop: AShop) -> Response:
    """Return what is due as a calendar, for a calendar program to follow."""
    refresh(shop)
    due = shop_due(due_in_shop(), shop.policy, shop.today)
    return Response(
        due_calendar(due, revisions(), now=shop.now(), shop=shop_mark()),
        media_type="text/calendar; charset=utf-8",
    )


@router.get("/machines/{machine_id}/log", name="machine_log")
def machine_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show one machine's logbook."""
    view = machine_log(_log_of(machine_id), shop.policy, shop.today, shop.who)
    return page(request, "logbook/machine.html", view=view)


@router.post("/machines/{machine_id}/log/look", name="add_look")
def add_look(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a look at a tire."""
    simulated = bool(form.get("simulated")) and form.get("simulated") in (
        _as_read(form, "tread"),
        _as_read(form, "pressure"),
    )

    def read() -> Inspected:
        return Inspected.of(form, shop.units).as_read(simulated=simulated)

    return _write(request, shop, machine_id, form, "look", read)


@router.post("/machines/{machine_id}/log/look/gauge", name="gauge_look")
def gauge_look(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Fill the look being typed with what a gauge reads; nothing is kept yet."""
    sheet = machines.sheet(machine_id)
    end: End = "rear" if form.get("end") == "rear" else "front"
    typed = {f"look:{key}": str(value) for key, value in form.items()}
    refusals: dict[str, Refusal] = {}
    try:
        if form.get("gauge") == "pressure":
            readings = take(shop, GaugeQuantity.PRESSURE, pressure_place(sheet, end))
            typed["look:pressure_kpa"] = shop.units.as_seen(f"{readings[0].value:g}", "kPa")
        else:
            readings = take(shop, GaugeQuantity.TREAD, *tread_places(sheet, end, shop.policy))
            for place, one in zip(("left", "middle", "right"), readings, strict=True):
                typed[f"look:tread_{place}_mm"] = shop.units.as_seen(f"{one.value:g}", "mm")
        if any(reading.simulated for reading in readings):
            asked = str(form.get("gauge", "tread"))
            typed["look:simulated"] = _as_read(
                {key.partition(":")[2]: value for key, value in typed.items()}, asked
            )
    except Refusal as refusal:
        refusals["look"] = refusal
    ticked = tuple(str(one) for one in form.getlist("signs"))
    view = machine_log(
        _log_of(machine_id), shop.policy, shop.today, shop.who, Typed(typed, refusals), ticked
    )
    return page(request, "logbook/machine.html", status=422 if refusals else 200, view=view)


def _as_read(form: Mapping[str, object], gauge: str) -> str:
    """Return the figures of a look that a tool reads, as they are typed."""
    fields = ("pressure_kpa",) if gauge == "pressure" else _TREADS
    return " ".join(str(form.get(field, "")).strip() for field in fields)


_TREADS = ("tread_left_mm", "tread_middle_mm", "tread_right_mm")


@router.post("/machines/{machine_id}/log/odometer", name="add_odometer")
def add_odometer(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what stands on the odometer."""
    return _write(
        request, shop, machine_id, form, "odometer", lambda: OdometerRead.of(form, shop.units)
    )


@router.post("/machines/{machine_id}/log/check", name="add_check")
def add_check(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what the odometer counted over a known distance."""
    return _write(
        request, shop, machine_id, form, "check", lambda: OdometerChecked.of(form, shop.units)
    )


@router.post("/machines/{machine_id}/log/puncture", name="add_puncture")
def add_puncture(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a puncture and what became of it."""
    return _write(
        request, shop, machine_id, form, "puncture", lambda: Punctured.of(form, shop.units)
    )


@router.post("/machines/{machine_id}/log/stand", name="set_standing")
def set_standing(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Note since when a machine stands, or that it is ridden again."""
    return _write(request, shop, machine_id, form, "stand", lambda: Standing.of(form, shop.units))


def _log_of(machine_id: int) -> LogData:
    return log_of_machine(machine_id, most=MOST_EVENTS)


def _write(
    request: Request,
    shop: Shop,
    machine_id: int,
    form: FormData,
    name: str,
    read: Callable[[], Entry],
) -> Response:
    """Write one entry, all or nothing; a refusal shows the page again with what was typed."""
    machines.sheet(machine_id)
    try:
        read().carry_out(shop, machine_id)
    except Refusal as refusal:
        typed = {f"{name}:{key}": str(value) for key, value in form.items()}
        view = machine_log(
            _log_of(machine_id),
            shop.policy,
            shop.today,
            shop.who,
            Typed(typed, {name: refusal}),
            tuple(str(one) for one in form.getlist("signs")),
        )
        return page(request, "logbook/machine.html", status=422, view=view)
    there = request.app.url_path_for("machine_log", machine_id=machine_id)
    return RedirectResponse(there, status_code=303)
