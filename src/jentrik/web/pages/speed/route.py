"""One machine's instrument against the truth.

GET  /machines/{id}/speed          pairs, the line through them
POST /machines/{id}/speed/pairs    one more pair          .../drop  one less, or all of them
POST /machines/{id}/speed/track    pairs from a GPX track and the shown speeds beside it
POST /machines/{id}/speed/use      the line onto the sheet
"""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from starlette.datastructures import FormData, UploadFile

from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.figures.track import Aligned, TrackPaces
from jentrik.core.text import counted
from jentrik.exchange.gpx_track import SHOWN, TRACK, read_shown
from jentrik.store import machines, speeds
from jentrik.web.pages.speed.commands import (
    PairsDropped,
    SpeedPair,
    pairs_of_track,
    put_line_on_sheet,
    read_pair,
)
from jentrik.web.pages.speed.view import speed_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import AForm, AnUpload, AShop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/speed")


@router.get("", name="speed_page")
def speed_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show what is known of a machine's instrument."""
    return _render(request, machine_id)


@router.post("/pairs", name="add_pair")
def add_pair(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Add a pair of speeds as typed."""
    said = FormData({f"{name}_kmh": str(form.get(name, "")) for name in ("true", "shown")})
    try:
        SpeedPair.of(said, shop.units).carry_out(shop, machine_id)
    except Refusal as refusal:
        typed = {f"pair:{name}": str(form.get(name, "")) for name in ("true", "shown")}
        at = "pair:shown" if refusal.field == "shown_kmh" else "pair:true"
        return _render(request, machine_id, typed=Typed(typed, {at: refusal}))
    return _to(request, machine_id)


@router.post("/gauge", name="gauge_pair")
def gauge_pair(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Add a pair from logger and instrument reader."""
    try:
        read_pair(shop, machine_id)
    except Refusal as refusal:
        return _render(request, machine_id, typed=Typed({}, {"pair:true": refusal}))
    return _to(request, machine_id)


@router.post("/track", name="add_track")
def add_track(request: Request, machine_id: int, shop: AShop, form: AnUpload) -> Response:
    """Take pairs from a track and the shown speeds beside it; all or nothing."""
    text = str(form.get("typed", ""))
    try:
        listed = _bytes_of(form.get("list"))
        shown = read_shown(_text_of(listed)) if listed else read_shown(text, unit=shop.units.speed)
        paces, found = pairs_of_track(shop, machine_id, _bytes_of(form.get("track")), shown)
    except Refusal as refusal:
        at = TRACK if refusal.field == TRACK else SHOWN
        return _render(request, machine_id, typed=Typed({SHOWN: text}, {at: refusal}))
    return _render(request, machine_id, notes=_told(paces, found))


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


@router.post("/drop", name="drop_pair")
def drop_pair(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Take one pair away, or all; undo brings them back."""
    wanted = str(form.get("pair", ""))
    pair_id = counted(wanted)
    if wanted == "all" or pair_id is not None:
        PairsDropped(pair=pair_id).carry_out(shop, machine_id)
    return _to(request, machine_id)


@router.post("/use", name="use_line")
def use_line(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Put the line through the pairs onto the sheet, measured."""
    try:
        put_line_on_sheet(shop, machine_id)
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
    view = speed_view(
        machines.sheet(machine_id), speeds.pairs(machine_id), typed=typed, notes=notes
    )
    return page(request, "machines/speed.html", status=422 if typed.refusals else 200, view=view)
