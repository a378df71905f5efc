"""What programs ask a server for: its icon, whether robots may read it, its figures.

GET /favicon.ico, /robots.txt     always
GET /metrics                      where it was opted for; the plain text form that collectors read
"""

import shutil
from functools import lru_cache

from fastapi import APIRouter, Request
from resvg_py import svg_to_bytes
from starlette.responses import PlainTextResponse, Response

from jentrik.core.errors import StoreError
from jentrik.store.backups import kept_backups
from jentrik.store.database import FILE_NAME
from jentrik.store.happenings import last_happened
from jentrik.store.rows import first_row
from jentrik.web.shop import AShop
from jentrik.web.templating import STATIC

router = APIRouter(include_in_schema=False)
ICON_PX = 48


@lru_cache(maxsize=1)
def _icon() -> bytes:
    drawn = (STATIC / "mark.svg").read_text("utf-8")
    return bytes(svg_to_bytes(svg_string=drawn, width=ICON_PX, height=ICON_PX))


@router.get("/favicon.ico")
def icon() -> Response:
    """Return the mark as a picture, for what reads no SVG."""
    return Response(_icon(), media_type="image/png", headers={"Cache-Control": "max-age=86400"})


@router.get("/robots.txt")
def robots() -> PlainTextResponse:
    """Say that no robot reads a shop."""
    return PlainTextResponse("User-agent: *\nDisallow: /\n")


@router.get("/metrics")
def metrics(request: Request, shop: AShop) -> PlainTextResponse:
    """Return how the shop and its server stand, a line a figure."""
    if not request.app.state.metrics:
        raise StoreError("Figures of the server are not given here.")
    counts = first_row(
        "SELECT (SELECT COUNT(*) FROM job WHERE closed_at IS NULL AND binned_at IS NULL) AS jobs,"
        " (SELECT COUNT(*) FROM machine WHERE binned_at IS NULL) AS machines"
    )
    assert counts is not None
    last = max((one.made_at.timestamp() for one in kept_backups(shop.folder)), default=0.0)
    listeners = len(request.app.state.feed.listening)
    figures: list[tuple[str, str, str, float]] = [
        ("jentrik_jobs_open", "gauge", "Jobs on the bench", counts["jobs"]),
        ("jentrik_machines", "gauge", "Machines of the shop", counts["machines"]),
        ("jentrik_changes_total", "counter", "Changes written", last_happened()),
        (
            "jentrik_database_bytes",
            "gauge",
            "Size of the database",
            (shop.folder / FILE_NAME).stat().st_size,
        ),
        (
            "jentrik_disk_free_bytes",
            "gauge",
            "Room on its disk",
            shutil.disk_usage(shop.folder).free,
        ),
        ("jentrik_last_backup_timestamp_seconds", "gauge", "When the last backup was made", last),
        ("jentrik_listeners", "gauge", "Screens and programs that listen", listeners),
    ]
    lines = [
        line
        for name, kind, words, value in figures
        for line in (f"# HELP {name} {words}", f"# TYPE {name} {kind}", f"{name} {value:.17g}")
    ]
    for (method, status), count in sorted(request.app.state.answered.items()):
        name = f'jentrik_requests_total{{method="{method}",status="{status}"}}'
        lines.append(f"{name} {count}")
    return PlainTextResponse("\n".join(lines) + "\n", media_type="text/plain; version=0.0.4")
