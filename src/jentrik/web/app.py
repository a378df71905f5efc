"""The application: routes, the door in front of them, and one way for refusals to leave."""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, RedirectResponse
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.requests import Request
from starlette.responses import Response
from starlette.staticfiles import StaticFiles

from jentrik import __version__
from jentrik.core.errors import DocumentError, Refusal, StoreError
from jentrik.demo.harbour import fill
from jentrik.exchange.strict_json import TooLargeError
from jentrik.store.database import open_database
from jentrik.web.guard import Guard, Guarding
from jentrik.web.live import is_live
from jentrik.web.passphrase import Passphrase, kept_secret
from jentrik.web.routes import (
    api,
    card,
    confront,
    jobs,
    logbook,
    machines,
    order,
    reading,
    records,
    ride,
    session,
    shelf,
    shop,
    speed,
    ways,
)
from jentrik.web.shop import ForgedFormError, Shop
from jentrik.web.templating import STATIC, page


class KeptStaticFiles(StaticFiles):
    """Files we ship: an address that carries the contents' mark may be kept for a year."""

    async def get_response(self, path: str, scope: Any) -> Response:
        """Return the file, with how long it may be kept."""
        response = await super().get_response(path, scope)
        if b"v=" in scope.get("query_string", b""):
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response


def create_app(
    data: Path,
    *,
    demo: bool = False,
    now: Callable[[], datetime] = datetime.now,
    passphrase: str | None = None,
) -> FastAPI:
    """Return the application on the shop kept in that folder."""
    app = FastAPI(
        title="Jentrik",
        version=__version__,
        description=api.DESCRIPTION,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
    )
    database = open_database(data)
    app.state.shop = Shop(database, now, data)
    if demo:
        fill(database, now=now())
    app.mount("/static", KeptStaticFiles(directory=STATIC), name="static")
    app.include_router(jobs.router)
    app.include_router(ways.router)
    app.include_router(card.router)
    app.include_router(confront.router)
    app.include_router(order.router)
    app.include_router(logbook.router)
    app.include_router(records.router)
    app.include_router(ride.router)
    app.include_router(machines.router)
    app.include_router(reading.router)
    app.include_router(session.router)
    app.include_router(shelf.router)
    app.include_router(shop.router)
    app.include_router(speed.router)
    app.include_router(api.router)
    secret = kept_secret(data) if passphrase else b""
    app.state.guarding = Guarding(Passphrase(passphrase, secret=secret) if passphrase else None)
    app.add_middleware(Guard, guarding=app.state.guarding)
    app.add_middleware(GZipMiddleware, minimum_size=600, compresslevel=5)
    app.add_exception_handler(Refusal, _refused)
    app.add_exception_handler(HTTPException, _no_such_page)
    app.add_exception_handler(RequestValidationError, _bad_request)

    @app.get("/", include_in_schema=False)
    def home() -> RedirectResponse:
        return RedirectResponse(app.url_path_for("jobs_page"))

    return app


def _status_of(refusal: Refusal) -> int:
    if isinstance(refusal, TooLargeError):
        return 413
    if isinstance(refusal, ForgedFormError):
        return 403
    return 404 if isinstance(refusal, StoreError) and refusal.field is None else 422


def _wants_json(request: Request) -> bool:
    return request.url.path.startswith("/api/") or is_live(request)


async def _refused(request: Request, error: Exception) -> Response:
    assert isinstance(error, Refusal)
    status = _status_of(error)
    if _wants_json(request):
        return JSONResponse(error.as_document(), status_code=status)
    return page(request, "refused.html", status=status, message=error.message)


async def _no_such_page(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    said = {
        404: "There is no such page.",
        405: "This address does not take that kind of request.",
    }.get(error.status_code, "The request could not be read.")
    refusal = DocumentError(said)
    if _wants_json(request):
        return JSONResponse(refusal.as_document(), status_code=error.status_code)
    return page(request, "refused.html", status=error.status_code, message=said)


async def _bad_request(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    name = str(first["loc"][-1])
    if request.url.path.startswith("/api/"):
        refusal = DocumentError(
            f"“{name}” is missing or not what is wanted here.", field=name, expected=first["msg"]
        )
        return JSONResponse(refusal.as_document(), status_code=422)
    return page(request, "refused.html", status=404, message="There is no such page.")
