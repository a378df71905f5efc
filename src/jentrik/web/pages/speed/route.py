"""One machine's instrument against the truth.

GET  /machines/{id}/speed          pairs, the line through them
POST /machines/{id}/speed/pairs    one more pair          .../drop  one less, or all of them
POST /machines/{id}/speed/track    pairs from a GPX track and the shown speeds beside it
POST /machines/{id}/speed/use      the line onto the sheet
"""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import UploadFile

from jentrik.core.amounts import kmh
from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.figures.calibration import SpeedPair, calibrate
from jentrik.core.figures.speed import shown_kmh
from jentrik.core.figures.track import Aligned, TrackPaces, aligned, paces_of
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.text import counted
from jentrik.devices.port import GaugeQuantity, Place
from jentrik.exchange.gpx_track import SHOWN, TRACK, read_shown, read_track
from jentrik.store import machines, speeds
from jentrik.web.pages.speed.view import speed_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.gauging import take
from jentrik.web.shop import AForm, AnUpload, AShop, refuse_program
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/speed")
SLOWEST_KMH, FASTEST_KMH = 3.0, 400.0


@router.get("", name="speed_page")
def speed_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show what is known of a machine's instrument."""
    return _render(request, machine_id)


@router.post("/pairs", name="add_pair")
def add_pair(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Add a pair of speeds as typed."""
    typed = {name: str(form.get(name, "")) for name in ("true", "shown")}
    values, refusals = {}, {}
    for name, text in typed.items():
        try:
            values[name] = shop.figure(text, unit="km/h")
            if not SLOWEST_KMH <= values[name] <= FASTEST_KMH:
                raise OutOfRange(
                    f"{kmh(values[name])} is outside {kmh(SLOWEST_KMH)} to {kmh(FASTEST_KMH)}.",
                    expected="a speed in km/h",
                )
        except Refusal as refusal:
            refusals[f"pair:{name}"] = refusal
    if refusals:
        shown = {f"pair:{name}": text for name, text in typed.items()}
        return _render(request, machine_id, typed=Typed(shown, refusals))
    pair = SpeedPair(values["true"], values["shown"])
    return _keep(request, shop, machine_id, (pair,), [])


@router.post("/gauge", name="gauge_pair")
def gauge_pair(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Add a pair from logger and instrument reader, at a steady speed no one has ridden yet."""
    sheet = machines.sheet(machine_id)
    meter = machine_of(sheet).speedometer if not missing_of(sheet) else None
    ridden = [kept.pair.true_kmh for kept in speeds.pairs(sheet.id)]
    kmh = next((one for one in STEADY_KMH if all(abs(one - r) > 5 for r in ridden)), STEADY_KMH[0])
    shown = shown_kmh(kmh, meter, sensed_ratio=1.0)
    try:
        (true,) = take(shop, GaugeQuantity.TRUE_SPEED, Place(sheet.id, "true speed", kmh))
        there = Place(sheet.id, "shown speed", None if shown is None else float(shown))
        (read,) = take(shop, GaugeQuantity.SHOWN_SPEED, there)
    except Refusal as refusal:
        return _render(request, machine_id, typed=Typed({}, {"pair:true": refusal}))
    pair = SpeedPair(true.value, read.value)
    return _keep(request, shop, machine_id, (pair,), [], simulated=true.simulated or read.simulated)


STEADY_KMH = (50.0, 90.0, 30.0, 70.0, 110.0)


@router.post("/track", name="add_track")
def add_track(request: Request, machine_id: int, shop: AShop, form: AnUpload) -> Response:
    """Take pairs from a track and the shown speeds beside it; all or nothing."""
    text = str(form.get("typed", ""))
    try:
        paces = paces_of(read_track(_bytes_of(form.get("track"))))
        listed = _bytes_of(form.get("list"))
        shown = read_shown(_text_of(listed)) if listed else read_shown(text, unit=shop.units.speed)
        found = aligned(paces.paces, shown.speeds, own_clock=shown.own_clock)
    except Refusal as refusal:
        at = TRACK if refusal.field == TRACK else SHOWN
        return _render(request, machine_id, typed=Typed({SHOWN: text}, {at: refusal}))
    return _keep(request, shop, machine_id, found.pairs, _told(paces, found))


def _told(paces: TrackPaces, found: Aligned) -> list[str]:
    """Return what became of a track, in words."""
    out = ", ".join(f"{count} {name}" for name, count in paces.left_out.items())
    return [
        f"{len(found.pairs)} pairs taken from {len(paces.paces)} steady stretches"
        f"{f'; left out: {out}' if out else ''}.",
        f"The instrument's clock was shifted by {found.shift_s:.0f} s."
        if abs(found.shift_s) < 86400
        else "The instrument's own clock was brought to the track's.",
    ]


def _keep(
    request: Request,
    shop: Any,
    machine_id: int,
    pairs: tuple[SpeedPair, ...],
    notes: list[str],
    *,
    simulated: bool = False,
) -> Response:
    sheet = machines.sheet(machine_id)
    try:
        label = f"{len(pairs)} speed pair{'s' if len(pairs) > 1 else ''}"
        with shop.step(label, f"machine {sheet.id} speed", machine_id=sheet.id) as step:
            speeds.add_pairs(step, sheet.id, pairs, on=shop.today, simulated=simulated)
    except Refusal as refusal:
        return _render(request, machine_id, typed=Typed({}, {"pair:true": refusal}))
    return _render(request, machine_id, notes=notes) if notes else _to(request, machine_id)


@router.post("/drop", name="drop_pair")
def drop_pair(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take one pair away, or all; undo brings them back."""
    wanted = str(form.get("pair", ""))
    pair_id = counted(wanted)
    if wanted == "all" or pair_id is not None:
        with shop.step(
            "speed pairs taken off", f"machine {machine_id} pair", machine_id=machine_id
        ) as step:
            speeds.drop_pairs(step, machine_id, pair_id)
    return _to(request, machine_id)


@router.post("/use", name="use_line")
def use_line(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Put the line through the pairs onto the sheet, measured."""
    try:
        with shop.step(
            "speed reading from pairs", f"machine {machine_id} speed line", machine_id=machine_id
        ) as step:
            sheet = machines.sheet(machine_id)
            kept_pairs = speeds.pairs(sheet.id)
            line = calibrate([kept.pair for kept in kept_pairs])
            simulated = any(kept.simulated for kept in kept_pairs)
            source = Provenance.SIMULATED if simulated else Provenance.MEASURED
            figures = {
                "speedometer.reads_over_percent": round(line.reads_over_percent, 2),
                "speedometer.offset_kmh": round(line.offset_kmh, 2),
                "speedometer.within_kmh": round(line.plus_minus_kmh(line.mean_kmh), 2),
                "speedometer.within_at_kmh": round(line.mean_kmh, 1),
                "speedometer.within_percent": round(line.slope_error_percent, 2),
            }
            for key, value in figures.items():
                check_key(key, value)
                figure = Figure(value, source, shop.today)
                machines.set_figure(step, sheet.id, key, figure)
    except OutOfRange as refusal:
        return _render(request, machine_id, typed=Typed({}, {"pair:true": refusal}))
    return _to(request, machine_id)


def _bytes_of(part: Any) -> bytes:
    """Return the contents of an uploaded file; nothing where none was chosen."""
    if not isinstance(part, UploadFile):
        return b""
    return bytes(part.file.read())


def _text_of(raw: bytes) -> str:
    """Return the text of a list: UTF-8, or what older programs write."""
    if b"\0" in raw:
        raise DocumentError("The shown speeds are not a text.", field=SHOWN, expected="a CSV file")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("cp1252", errors="replace")


def _to(request: Request, machine_id: int) -> Response:
    there = request.app.url_path_for("speed_page", machine_id=machine_id)
    return RedirectResponse(there, status_code=303)


def _render(
    request: Request,
    machine_id: int,
    *,
    typed: Typed = NOTHING_TYPED,
    notes: list[str] | None = None,
) -> HTMLResponse:
    refuse_program(request, typed.refusals.values())
    view = speed_view(
        machines.sheet(machine_id), speeds.pairs(machine_id), typed=typed, notes=notes
    )
    return page(request, "machines/speed.html", status=422 if typed.refusals else 200, view=view)
