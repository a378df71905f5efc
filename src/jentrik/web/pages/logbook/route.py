"""The logbook of the shop and of each machine.

GET  /logbook                    time line and what is due         GET /logbook/due.ics  a calendar
GET  /machines/{id}/log          one machine's
POST /machines/{id}/log/look     a look at a tire                  .../odometer  a reading
POST /machines/{id}/log/check    the odometer over a known way     .../puncture  a puncture
POST /machines/{id}/log/stand    since when it stands, or ridden again
"""

from collections.abc import Callable, Mapping
from datetime import date

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import FormData

from jentrik.core.amounts import Amount
from jentrik.core.days import read_day
from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.machine.declared import End
from jentrik.core.machine.sheet import Sheet
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.inspection import Inspection, Look
from jentrik.core.work.wear import Odometer
from jentrik.devices.port import GaugeQuantity
from jentrik.exchange.calendar import due_calendar
from jentrik.store import logbook, machines
from jentrik.store.journal import Step
from jentrik.store.listing import PAGE
from jentrik.store.machine_data import LogData, due_in_shop, log_of_machine, log_of_shop
from jentrik.web.live.typed_values import noted, words
from jentrik.web.pages.jobs.list_refresh import refresh
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
from jentrik.web.shop import AForm, AShop, Shop, refuse_program
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
    return Response(due_calendar(due, now=shop.now()), media_type="text/calendar; charset=utf-8")


@router.get("/machines/{machine_id}/log", name="machine_log")
def machine_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show one machine's logbook."""
    view = machine_log(_log_of(machine_id), shop.policy, shop.today, shop.who)
    return page(request, "logbook/machine.html", view=view)


@router.post("/machines/{machine_id}/log/look", name="add_look")
def add_look(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a look at a tire."""

    def act(sheet: Sheet) -> tuple[str, Callable[[Step], None]]:
        end: End = "rear" if form.get("end") == "rear" else "front"
        which = Look(str(form.get("look"))) if form.get("look") in list(Look) else Look.PERIODIC
        look = Inspection(
            end=end,
            look=which,
            on=_day(form, shop),
            tire=_looked_at(form, which) or sheet.text(f"{end}.tire") or "",
            tread_mm=_treads(form, shop),
            signs=tuple(str(one) for one in form.getlist("signs")),
            pressure_kpa=_optional(shop, form, "pressure_kpa", "kPa"),
            made=str(form.get("made", "")).strip() or None,
            km=_optional(shop, form, "km", "km"),
            by=shop.who,
            note=noted(form.get("note", "")),
            simulated=bool(form.get("simulated"))
            and form.get("simulated") in (_as_read(form, "tread"), _as_read(form, "pressure")),
        )

        def write(step: Step) -> None:
            logbook.add_look(step, sheet.id, look, today=shop.today)
            if look.km is not None:
                logbook.add_odometer(step, sheet.id, Odometer(look.on, look.km), today=shop.today)

        return f"inspect the {end} tire", write

    return _write(request, shop, machine_id, form, "look", act)


def _looked_at(form: FormData, look: Look) -> str:
    """Return the code of a tire that is still to be mounted; nothing where it is the sheet's."""
    typed = " ".join(str(form.get("tire", "")).split())
    return read_code(typed).text if typed and look is Look.RECEIVING else ""


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
                typed[f"look:tread_{place}"] = shop.units.as_seen(f"{one.value:g}", "mm")
        if any(one.simulated for one in readings):
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


_TREADS = ("tread_left", "tread_middle", "tread_right")


def _treads(form: FormData, shop: Shop) -> tuple[float, float, float] | None:
    typed = [str(form.get(f"tread_{place}", "")).strip() for place in ("left", "middle", "right")]
    if not any(typed):
        return None
    if not all(typed):
        raise OutOfRange(
            "Tread is taken at three places: left, middle and right.",
            field="tread",
            expected="three depths",
        )
    left, middle, right = (shop.figure(one, unit="mm") for one in typed)
    return left, middle, right


@router.post("/machines/{machine_id}/log/odometer", name="add_odometer")
def add_odometer(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what stands on the odometer."""

    def act(sheet: Sheet) -> tuple[str, Callable[[Step], None]]:
        km = shop.figure(str(form.get("km", "")), unit="km")
        reading = Odometer(_day(form, shop), km, swapped=form.get("swapped") == "yes")
        return f"odometer {Amount(km, 'km')}", lambda step: logbook.add_odometer(
            step, sheet.id, reading, today=shop.today
        )

    return _write(request, shop, machine_id, form, "odometer", act)


@router.post("/machines/{machine_id}/log/check", name="add_check")
def add_check(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep what the odometer counted over a known distance."""

    def act(sheet: Sheet) -> tuple[str, Callable[[Step], None]]:
        counted = shop.figure(str(form.get("counted_km", "")), unit="km")
        true = shop.figure(str(form.get("true_km", "")), unit="km")
        on = _day(form, shop)
        return "odometer checked", lambda step: logbook.add_check(
            step, sheet.id, on=on, counted_km=counted, true_km=true, today=shop.today
        )

    return _write(request, shop, machine_id, form, "check", act)


@router.post("/machines/{machine_id}/log/puncture", name="add_puncture")
def add_puncture(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Keep a puncture and what became of it."""

    def act(sheet: Sheet) -> tuple[str, Callable[[Step], None]]:
        what, done = noted(form.get("what", "")), words(" ".join(str(form.get("done", "")).split()))
        if not what or not done:
            raise OutOfRange(
                "Say what was found and what was done.",
                field="puncture",
                expected="a few words each",
            )
        end, on = str(form.get("end", "")), _day(form, shop)
        return f"puncture {end}", lambda step: logbook.add_puncture(
            step, sheet.id, end=end, on=on, what=what, done=done, by=shop.who, today=shop.today
        )

    return _write(request, shop, machine_id, form, "puncture", act)


@router.post("/machines/{machine_id}/log/stand", name="set_standing")
def set_standing(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Note since when a machine stands, or that it is ridden again."""

    def act(sheet: Sheet) -> tuple[str, Callable[[Step], None]]:
        since = None if form.get("ridden") else _day(form, shop)
        label = "ridden again" if since is None else f"stands since {since}"
        return label, lambda step: logbook.stand(step, sheet.id, since, today=shop.today)

    return _write(request, shop, machine_id, form, "stand", act)


def _day(form: FormData, shop: Shop) -> date:
    typed = str(form.get("on", "")).strip()
    return read_day(typed) if typed else shop.today


def _optional(shop: Shop, form: FormData, name: str, unit: str) -> float | None:
    typed = str(form.get(name, "")).strip()
    return shop.figure(typed, unit=unit) if typed else None


def _log_of(machine_id: int) -> LogData:
    return log_of_machine(machine_id, most=MOST_EVENTS)


def _write(
    request: Request,
    shop: Shop,
    machine_id: int,
    form: FormData,
    name: str,
    act: Callable[[Sheet], tuple[str, Callable[[Step], None]]],
) -> Response:
    """Write one entry, all or nothing; a refusal shows the page again with what was typed."""
    machines.sheet(machine_id)
    try:
        with shop.step("", f"machine {machine_id} log", machine_id=machine_id) as step:
            step.label, write = act(machines.sheet(machine_id))
            write(step)
    except Refusal as refusal:
        refuse_program(request, [refusal])
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
