"""Backups on the Shop page.

GET  /shop/backups                  when the last was made, those that are kept
POST /shop/backups/make             one more, to download
POST /shop/backups                  one brought as a file
GET  /shop/backups/{name}           its file
GET  /shop/backups/{name}/restore   what it holds      POST  the shop becomes what it holds
"""

import shutil
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, HTMLResponse, RedirectResponse, Response
from starlette.datastructures import UploadFile

from jentrik.core.errors import DocumentError, Refusal, StoreError
from jentrik.store import backups
from jentrik.store.database import make_folder
from jentrik.store.files import written_whole
from jentrik.web.pages.backups.view import backups_view
from jentrik.web.shop import AForm, AnUpload, AShop, Shop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/shop/backups")


@router.get("", name="backups_page")
def backups_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show when the last backup was made and those that are kept."""
    return _render(request, shop)


@router.post("/make", name="make_backup")
def one_now(request: Request, shop: AShop, form: AForm) -> Response:
    """Make a backup now."""
    make_backup(shop)
    return _to_page(request)


def make_backup(shop: Shop) -> None:
    """Make a backup now."""
    now = shop.now()
    name = f"made-{now:%Y-%m-%d-%H%M%S}.zip"
    backups.backup(shop.folder, shop.folder / backups.FOLDER / name, now=now)


@router.post("", name="bring_backup")
def bring_backup(request: Request, shop: AShop, form: AnUpload) -> Response:
    """Take a backup brought as a file, and show what it holds."""
    part = form.get("backup")
    try:
        if not isinstance(part, UploadFile) or not part.filename:
            raise DocumentError("No file was chosen.", field="backup", expected="a backup")
        backups.holds_of(part.file)
        part.file.seek(0)
        there = shop.folder / backups.FOLDER / f"brought-{shop.now():%Y-%m-%d-%H%M%S}.zip"
        make_folder(there.parent)
        with written_whole(there) as file:
            shutil.copyfileobj(part.file, file)
    except Refusal as refusal:
        return _render(request, shop, complaint=refusal.message)
    name = request.app.url_path_for("backup_holds", name=there.name)
    return RedirectResponse(name, status_code=303)


@router.get("/{name}", name="backup_file")
def backup_file(name: str, shop: AShop) -> Response:
    """Return a backup to keep elsewhere."""
    return FileResponse(kept_backup(shop, name), media_type="application/zip", filename=name)


@router.get("/{name}/restore", name="backup_holds")
def backup_holds(request: Request, name: str, shop: AShop) -> HTMLResponse:
    """Show what a backup holds beside what the shop holds now."""
    return _asked(request, shop, name)


@router.post("/{name}/restore", name="restore_backup")
def restore_backup(request: Request, name: str, shop: AShop, form: AForm) -> Response:
    """Make the shop what a backup holds; what it holds now is backed up first."""
    there = kept_backup(shop, name)
    try:
        backups.restore_serving(there, shop.folder, shop.database, now=shop.now())
    except Refusal as refusal:
        return _asked(request, shop, name, complaint=refusal.message)
    return RedirectResponse(request.app.url_path_for("jobs_page"), status_code=303)


def kept_backup(shop: Shop, name: str) -> Path:
    """Return where a backup lies; refuses one that is not there."""
    there = shop.folder / backups.FOLDER / name
    if not backups.NAME.fullmatch(name) or not there.is_file():
        raise StoreError("There is no such backup.")
    return there


def _asked(request: Request, shop: Shop, name: str, *, complaint: str = "") -> HTMLResponse:
    there = kept_backup(shop, name)
    try:
        holds = backups.holds_of(there)
    except Refusal as refusal:
        return _render(request, shop, complaint=f"{name}: {refusal.message}")
    return page(
        request,
        "shop/restore.html",
        status=422 if complaint else 200,
        name=name,
        holds=holds,
        now=backups.holds_now(shop.now()),
        differs=backups.differences(there, shop.folder),
        complaint=complaint,
    )


def _render(request: Request, shop: Shop, *, complaint: str = "") -> HTMLResponse:
    keeper = request.app.state.keeper
    kept = backups.kept_backups(shop.folder)
    view = backups_view(shop, kept, keeper.trouble, keeper.second)
    return page(
        request,
        "shop/backups.html",
        status=422 if complaint else 200,
        view=view,
        complaint=complaint,
    )


def _to_page(request: Request) -> Response:
    return RedirectResponse(request.app.url_path_for("backups_page"), status_code=303)
