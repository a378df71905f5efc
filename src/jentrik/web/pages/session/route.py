"""The session of a browser: its token, and the passphrase where the shop asks for one.

GET  /session   as JSON this browser's form token; as a page the passphrase asked for
POST /session   the passphrase, then where the person was going
"""

import secrets
import time

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.text import seen_text
from jentrik.store import sessions
from jentrik.web.live.fields import is_live
from jentrik.web.plain_json import refused_json
from jentrik.web.security.guard import Guarding
from jentrik.web.security.passphrase import SESSION_COOKIE, SESSION_DAYS
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)
_A_DAY_S = 86_400


class WrongPassphrase(Refusal):
    """Not the shop's passphrase."""


@router.get("/session", name="session_page")
def session_page(request: Request, to: str = "/jobs") -> Response:
    """Return this browser's token, or the page that asks for the passphrase."""
    if "text/html" in request.headers.get("accept", ""):
        return _asked(request, to)
    return JSONResponse({"csrf_token": request.state.csrf_token})


@router.post("/session", name="open_session")
async def open_session(request: Request, shop: AShop, form: AForm) -> Response:
    """Open a session with the passphrase; a wrong one is answered late."""
    guarding: Guarding = request.app.state.guarding
    to = str(form.get("to", "/jobs"))
    passphrase = guarding.passphrase
    if passphrase is not None:
        address = request.client.host if request.client else ""
        if guarding.slowdown.full(address):
            return _wrong(request, to, "Too many wrong passphrases at once: wait a little.", 429)
        if not passphrase.is_it(str(form.get("passphrase", ""))):
            await guarding.slowdown.wrong(address)
            return _wrong(request, to, "That is not the passphrase.", 401)
        guarding.slowdown.right(address)
    there: Response = RedirectResponse(_inside(to), status_code=303)
    if is_live(request):
        there = JSONResponse({"status": "ok"})
    if passphrase is not None:
        session_id = secrets.token_hex(8)
        await run_in_threadpool(_keep, request, shop, session_id)
        there.set_cookie(
            SESSION_COOKIE,
            passphrase.session(session_id, now_s=time.time()),
            httponly=True,
            max_age=SESSION_DAYS * _A_DAY_S,
            secure=request.url.scheme == "https",
            samesite="strict",
        )
    return there


def _keep(request: Request, shop: Shop, session_id: str) -> None:
    shop.ready()
    sessions.open_session(
        shop.database,
        session_id,
        agent=seen_text(request.headers.get("user-agent", "")),
        address=request.client.host if request.client else "",
        at=shop.now(),
    )


def _inside(to: str) -> str:
    """Return an address of ours; another becomes the list of jobs."""
    return to if to.startswith("/") and not to.startswith(("//", "/\\")) else "/jobs"


def _wrong(request: Request, to: str, message: str, status: int) -> Response:
    if is_live(request):
        return refused_json(WrongPassphrase(message), status)
    return _asked(request, to, message, status)


def _asked(request: Request, to: str, message: str = "", status: int = 200) -> HTMLResponse:
    return page(request, "session.html", status=status, to=_inside(to), message=message)
