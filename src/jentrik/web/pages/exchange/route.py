"""The shop as a document: all of it, or a part, taken away and brought in.

GET  /shop/exchange             what can be taken away, and a document to bring in
POST /shop/exchange             a document brought: what it would add, change and leave
POST /shop/exchange/table       a spreadsheet brought: which column is what   …/{name}  it comes in
GET  /shop/exchange/progress    how far it is   POST /shop/exchange/stop   it is stopped
POST /shop/exchange/{name}      it comes in; what the shop holds now is backed up first
GET  /api/export                the document        POST /api/import   one comes in
GET  /api/schema/{name}         its JSON Schema
GET  /api/owners.vcf            the owners as vCards
"""

import re
import secrets
import shutil
import tempfile
from collections.abc import Iterable
from pathlib import Path
from typing import IO, Annotated, Any, BinaryIO, cast

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response, StreamingResponse
from starlette.datastructures import UploadFile
from starlette.requests import ClientDisconnect

from jentrik.core.errors import DocumentError, Refusal, StoreError
from jentrik.core.text import counted
from jentrik.exchange.csv_reading import LARGEST_BYTES, Spreadsheet, matched, read_spreadsheet
from jentrik.exchange.shop_format import FORMAT, GROUPS, LISTS, Group
from jentrik.exchange.shop_schema import json_schema
from jentrik.exchange.strict_json import TooLargeError
from jentrik.exchange.vcard import Owner, vcards
from jentrik.store import backups, machines
from jentrik.store.database import make_folder
from jentrik.store.shop_export import Wanted, export
from jentrik.store.shop_ids import shop_mark
from jentrik.store.shop_import import Progress, Report, import_shop
from jentrik.store.undo import Scope
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.exchange.importing import Importing, Imports
from jentrik.web.pages.exchange.spreadsheet import (
    KINDS,
    MOST_NAMED,
    SUBJECT,
    LinesRefusedError,
    bring_in,
)
from jentrik.web.plain_json import PlainJSON
from jentrik.web.security.guard import LARGEST_UPLOADS
from jentrik.web.shop import AForm, AnUpload, AShop, Shop, opened_shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter()
FOLDER, IN_MEMORY_BYTES, CHUNK = "brought", 4_000_000, 1 << 16
LARGEST_IMPORT_BYTES = LARGEST_UPLOADS["/api/import"]
_NAME = re.compile(r"[0-9a-f]{16}")
_GROUP_WORDS = {
    "machines": "Machines, their set-ups and what was measured",
    "jobs": "Jobs, their cards and order lists",
    "wheels": "Wheels, wheel sets and the shelf",
    "log": "Logbook",
    "policies": "Shop limits and units",
    "templates": "Templates of job cards",
}


@router.get("/api/export", tags=["exchange"])
def export_shop(
    shop: AShop,
    machine: Annotated[
        list[int], Query(description="Only these machines and what is of them")
    ] = [],  # noqa: B006
    group: Annotated[list[Group], Query(description="Only these lists")] = [],  # noqa: B006
    photos: Annotated[bool, Query(description="Whether photographs come along")] = False,
) -> StreamingResponse:
    """Return the whole shop, or a part of it, as one document."""
    for machine_id in machine:
        machines.sheet(machine_id)
    wanted = Wanted(tuple(machine), tuple(group) or GROUPS, photos)
    name = f"jentrik-shop-{shop.today}.json"
    return StreamingResponse(
        _pieces(_written(export(shop.folder, wanted, now=shop.now()))),
        media_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


def _written(pieces: Iterable[str]) -> IO[bytes]:
    """Return a document written to the disk by one hand, as it is at one moment."""
    file = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY_BYTES)  # noqa: SIM115  # sent later
    for piece in pieces:
        file.write(piece.encode())
    file.seek(0)
    return cast("IO[bytes]", file)


def _pieces(file: IO[bytes]) -> Iterable[bytes]:
    with file:
        while piece := file.read(CHUNK):
            yield piece


@router.post("/api/import", tags=["exchange"])
async def import_document(
    request: Request,
    dry_run: Annotated[bool, Query(description="Only say what it would change")] = False,
) -> PlainJSON:
    """Bring a document in, all of it or none of it; return what it added, changed and left."""
    with tempfile.SpooledTemporaryFile(max_size=IN_MEMORY_BYTES) as file:
        size = 0
        try:
            async for piece in request.stream():
                size += len(piece)
                if size > LARGEST_IMPORT_BYTES:
                    raise TooLargeError(
                        f"The document is larger than {LARGEST_IMPORT_BYTES // 1_000_000} MB; "
                        "nothing was read. The command line takes larger ones.",
                        expected="a smaller document",
                    )
                file.write(piece)
        except ClientDisconnect:
            raise DocumentError("The document did not come whole.") from None
        file.seek(0)
        report = await run_in_threadpool(_imported, request, cast("BinaryIO", file), dry_run)
    return PlainJSON({"dry_run": dry_run, **report.as_document()})


def _imported(request: Request, file: BinaryIO, dry_run: bool) -> Report:
    return _brought(opened_shop(request), file, dry_run=dry_run)


def _brought(
    shop: Shop, file: BinaryIO, *, dry_run: bool, progress: Progress | None = None
) -> Report:
    if not dry_run:
        name = f"before-import-{shop.now():%Y-%m-%d-%H%M%S}.zip"
        backups.backup(shop.folder, shop.folder / backups.FOLDER / name, now=shop.now())
    return import_shop(
        shop.database,
        shop.folder,
        file,
        now=shop.now(),
        author=shop.author,
        dry_run=dry_run,
        progress=progress,
    )


@router.get("/api/schema/{name}", tags=["exchange"])
def schema(name: str) -> PlainJSON:
    """Return the JSON Schema of a format of ours: `jentrik-shop`."""
    if name.removesuffix(".json") != FORMAT:
        raise StoreError(f"There is no format “{name[:40]}”.", expected=FORMAT)
    return PlainJSON(json_schema())


@router.get("/api/owners.vcf", name="owners_file", tags=["exchange"])
def owners_file(shop: AShop) -> Response:
    """Return the owners of the machines as vCards."""
    owners = (Owner(name, phone, names) for name, phone, names in machines.owners())
    text = vcards(owners, shop=shop_mark())
    return Response(
        text,
        media_type="text/vcard; charset=utf-8",
        headers={"Content-Disposition": 'attachment; filename="owners.vcf"'},
    )


@router.get("/shop/exchange", name="exchange_page", include_in_schema=False)
def exchange_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what can be taken away, and take a document to bring in."""
    return _render(request, shop)


@router.post("/shop/exchange", name="bring_document", include_in_schema=False)
def bring_document(request: Request, shop: AShop, form: AnUpload) -> Response:
    """Take a document and say what it would add, change and leave."""
    part = form.get("document")
    try:
        if not isinstance(part, UploadFile) or not part.filename:
            raise DocumentError("No file was chosen.", field="document", expected="a document")
        name = secrets.token_hex(8)
        there = _kept(shop, name)
        _make_room(there)
        with there.open("wb") as file:
            shutil.copyfileobj(part.file, file)
        importing = _begin(request, shop, name, dry_run=True)
    except Refusal as refusal:
        return _render(request, shop, complaint=refusal.message)
    return _ended(request, shop, importing) if importing.wait() else _to_progress(request)


def _begin(request: Request, shop: Shop, name: str, *, dry_run: bool) -> Importing:
    """Start to bring in a document that was brought, or to see what it would change."""

    def run(progress: Progress) -> Report:
        with _kept(shop, name).open("rb") as document:
            return _brought(shop, document, dry_run=dry_run, progress=progress)

    imports: Imports = request.app.state.imports
    return imports.begin(name, shop, run, dry_run=dry_run)


def _to_progress(request: Request) -> Response:
    there = request.app.url_path_for("import_progress")
    return RedirectResponse(there, status_code=303)


def _ended(request: Request, shop: Shop, importing: Importing) -> Response:
    """Show how an import ended: what it would change, where it goes on, or why it was refused."""
    if importing.refusal is not None:
        return _render(request, shop, complaint=importing.refusal.message)
    assert importing.report is not None
    if importing.dry_run:
        return _render(request, shop, report=importing.report, name=importing.name)
    _kept(shop, importing.name).unlink(missing_ok=True)
    return RedirectResponse(request.app.url_path_for("machines_page"), status_code=303)


@router.get("/shop/exchange/progress", name="import_progress", include_in_schema=False)
def import_progress(request: Request, shop: AShop) -> Response:
    """Show how far an import is; asked by htmx, that alone; once it has ended, how."""
    latest: Importing | None = request.app.state.imports.latest
    if latest is None:
        return RedirectResponse(request.app.url_path_for("exchange_page"), status_code=303)
    if wants_fragment(request):
        answer = page(request, "shop/_progress.html", importing=latest)
        if latest.done:
            answer.headers["HX-Redirect"] = request.app.url_path_for("import_progress")
        return answer
    if latest.done:
        return _ended(request, shop, latest)
    return page(request, "shop/progress.html", importing=latest)


@router.post("/shop/exchange/stop", name="stop_import", include_in_schema=False)
def stop_import(request: Request, shop: AShop, form: AForm) -> Response:
    """Stop an import; the shop stays as it was."""
    latest: Importing | None = request.app.state.imports.latest
    if latest is not None:
        latest.stop()
        latest.wait()
    return _to_progress(request)


@router.post("/shop/exchange/undo", name="undo_table", include_in_schema=False)
def undo_table(request: Request, shop: AShop, form: AForm) -> HTMLResponse:
    """Take the last imported table back, or bring it in again."""
    return _render(request, shop, undone=take_back(shop, Undoing.of(form), Scope(subject=SUBJECT)))


@router.post("/shop/exchange/table", name="bring_table", include_in_schema=False)
def bring_table(request: Request, shop: AShop, form: AnUpload) -> HTMLResponse:
    """Take a spreadsheet and ask which column is what."""
    part, kind = form.get("table"), str(form.get("kind", ""))
    try:
        if kind not in KINDS or not isinstance(part, UploadFile) or not part.filename:
            raise DocumentError("Choose what the lines are, and a file.", field="table")
        raw = part.file.read(LARGEST_BYTES + 1)
        sheet = read_spreadsheet(raw)
    except Refusal as refusal:
        return _render(request, shop, complaint_of_table=refusal.message)
    name = secrets.token_hex(8)
    there = _kept(shop, name, ".csv")
    _make_room(there)
    there.write_bytes(raw)
    columns = matched(sheet.heads, KINDS[kind].names())
    return _columns(request, kind, sheet, columns, name)


@router.post("/shop/exchange/table/{name}", name="import_table", include_in_schema=False)
def import_table(request: Request, name: str, shop: AShop, form: AForm) -> HTMLResponse:
    """Bring the lines of a spreadsheet in, its columns as they were named."""
    there, kind = _kept(shop, name, ".csv"), str(form.get("kind", ""))
    if not there.is_file() or kind not in KINDS:
        raise StoreError("That table is not here any more: choose the file again.")
    sheet = read_spreadsheet(there.read_bytes())
    columns: dict[str, int] = {}
    for field in KINDS[kind].fields:
        number = counted(form.get(field.key, ""), most=len(sheet.heads) - 1)
        if number is not None:
            columns[field.key] = number
    try:
        count = bring_in(shop, KINDS[kind], sheet, columns)
    except LinesRefusedError as refused:
        return _columns(request, kind, sheet, columns, name, refused=refused.refused)
    except Refusal as refusal:
        return _columns(request, kind, sheet, columns, name, complaint=refusal.message)
    there.unlink(missing_ok=True)
    return _render(request, shop, said=f"{count} lines imported as {KINDS[kind].label.lower()}.")


def _columns(
    request: Request,
    kind: str,
    sheet: Spreadsheet,
    columns: dict[str, int],
    name: str,
    *,
    complaint: str = "",
    refused: Iterable[tuple[int, str]] = (),
) -> HTMLResponse:
    """Show the columns of a table, what each is taken for, and the lines that were refused."""
    named = list(refused)
    return page(
        request,
        "shop/table.html",
        status=422 if complaint or named else 200,
        kind=kind,
        what=KINDS[kind],
        sheet=sheet,
        columns=columns,
        name=name,
        complaint=complaint,
        refused=named[:MOST_NAMED],
        more=max(len(named) - MOST_NAMED, 0),
    )


def _make_room(there: Path) -> None:
    """Make the folder of what is brought, and take away what was left in it."""
    make_folder(there.parent)
    for old in (*there.parent.glob("*.json"), *there.parent.glob("*.csv")):
        old.unlink(missing_ok=True)


@router.post("/shop/exchange/{name}", name="import_brought", include_in_schema=False)
def import_brought(request: Request, name: str, shop: AShop, form: AForm) -> Response:
    """Bring in a document whose effect was shown."""
    if not _kept(shop, name).is_file():
        raise StoreError("That document is not here any more: choose the file again.")
    try:
        importing = _begin(request, shop, name, dry_run=False)
    except Refusal as refusal:
        return _render(request, shop, complaint=refusal.message)
    return _ended(request, shop, importing) if importing.wait() else _to_progress(request)


def _kept(shop: Shop, name: str, ends: str = ".json") -> Path:
    if not _NAME.fullmatch(name):
        raise StoreError("There is no such document.")
    return shop.folder / FOLDER / f"{name}{ends}"


def _render(
    request: Request,
    shop: Shop,
    *,
    complaint: str = "",
    complaint_of_table: str = "",
    said: str = "",
    undone: UndoView | None = None,
    report: Report | None = None,
    name: str = "",
) -> HTMLResponse:
    counted: list[dict[str, Any]] = []
    if report is not None:
        counted = [
            {
                "name": one.name.replace("_", " "),
                "added": report.added[one.name],
                "changed": report.changed[one.name],
                "left": report.left[one.name],
                "sealed": report.sealed[one.name],
            }
            for one in LISTS
            if report.added[one.name] or report.changed[one.name] or report.sealed[one.name]
        ]
    return page(
        request,
        "shop/exchange.html",
        status=422 if complaint or complaint_of_table else 200,
        complaint=complaint,
        complaint_of_table=complaint_of_table,
        said=said,
        undo=undone or undo_view(shop, Scope(subject=SUBJECT)),
        kinds=KINDS,
        report=report,
        counted=counted,
        name=name,
        groups=_GROUP_WORDS,
        sheets=machines.names(),
    )
