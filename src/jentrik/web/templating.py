"""Jinja pages: autoescape on, addresses from route names, assets with the version in them."""

import hashlib
import secrets
from functools import lru_cache
from pathlib import Path
from typing import Any
from urllib.parse import quote, urlencode

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from starlette.requests import Request
from starlette.responses import HTMLResponse

from jentrik.core.amounts import bare, in_plain, unit_alone
from jentrik.core.errors import StoreError
from jentrik.core.rules.joined import NO_FINDING, NOTHING_TO_CHECK
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.store.people import people
from jentrik.store.policy import stored_policy
from jentrik.web.drawing.silhouette import kept_silhouette
from jentrik.web.drawing.standalone import as_png, drawings_in, standalone
from jentrik.web.parts.gauging import QUANTITY_OF_UNIT, tools_of
from jentrik.web.security.guard import ONCE_FIELD, TOKEN_FIELD, TOKEN_HEADER

HERE = Path(__file__).parent
STATIC = HERE / "static"

_DRAWINGS = "drawings.html"
MOST_PATHS = 5000  # addresses kept made up: the router looks a name up in every route

_environment = Environment(
    loader=FileSystemLoader(HERE / "templates"),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
    auto_reload=False,
)


@lru_cache(maxsize=256)
def asset(name: str) -> str:
    """Return the address of a file we ship, with its contents' mark, so it can be kept for long."""
    mark = hashlib.sha256((STATIC / name).read_bytes()).hexdigest()[:12]
    return f"/static/{name}?v={mark}"


def new_id() -> str:
    """Return the id of one form as it stands on a page: what it stores is stored once."""
    return secrets.token_urlsafe(9)


_environment.filters.update(bare=bare, unit=unit_alone)
_environment.globals.update(
    asset=asset,
    picture=kept_silhouette,
    new_id=new_id,
    NO_FINDING=NO_FINDING,
    ONCE_FIELD=ONCE_FIELD,
    NOTHING_TO_CHECK=NOTHING_TO_CHECK,
    TOKEN_FIELD=TOKEN_FIELD,
    TOKEN_HEADER=TOKEN_HEADER,
)


class _Tools:
    """What the tools of the shop can read, looked up where a page asks."""

    def __init__(self, request: Request) -> None:
        self._request = request
        self._known: frozenset[str] | None = None

    def __contains__(self, quantity: object) -> bool:
        if self._known is None:
            self._known = tools_of(self._request.app.state.shop.folder)
        return quantity in self._known

    def of_unit(self, unit: str) -> bool:
        """Whether a tool reads figures of a unit."""
        return QUANTITY_OF_UNIT.get(unit) in self


def page(request: Request, template: str, *, status: int = 200, **context: Any) -> HTMLResponse:
    """Return a page or a fragment, every amount in the units of whoever looks at it."""

    def url(name: str, /, **parameters: Any) -> str:
        key = (name, *parameters.items())
        known = paths.get(key)
        if known is None:
            known = paths[key] = str(request.app.url_path_for(name, **parameters))
        return known

    paths: dict[Any, str] = request.app.state.paths
    units: DisplayUnits = getattr(request.state, "units", METRIC)
    if len(paths) > MOST_PATHS:
        paths.clear()

    text = _environment.get_template(template).render(
        url=url,
        path=request.url.path,
        query=request.url.query,
        csrf_token=request.state.csrf_token,
        status=status,
        units=units,
        tools=_Tools(request),
        who_here=getattr(request.state, "who", ""),
        backup_trouble=request.app.state.keeper.trouble,
        initials_here=getattr(request.state, "initials", ""),
        shop_head=lambda: stored_policy().head,
        others_here=lambda job_id: _others(request, job_id),
        people_here=lambda: [one.name for one in people()],
        **context,
    )
    seen = units.restated(text)
    asked = {"drawing", "drawings"} & request.query_params.keys()
    if asked and request.method == "GET" and status == 200 and template != _DRAWINGS:
        return _drawing_of(request, seen)
    return HTMLResponse(seen, status_code=status)


def _others(request: Request, job_id: int) -> Any:
    """Return who else is on a job, at another screen."""
    return request.app.state.feed.others(job_id, request.state.screen)


def _drawing_of(request: Request, seen: str) -> HTMLResponse:
    """Return one drawing of a page as a file, or the list of them."""
    query, found = request.query_params, drawings_in(seen)
    place = query.get("drawing", "")
    if not place:
        kept = [(name, one) for name, one in query.multi_items() if name != "drawings"]
        here = f"{request.url.path}?{urlencode(kept)}{'&' if kept else ''}"
        return page(request, _DRAWINGS, here=here, back=here.rstrip("?&"), drawings=found)
    if not (place.isascii() and place.isdecimal() and int(place[:6]) < len(found)):
        raise StoreError("There is no such drawing on that page.")
    one = found[int(place)]
    kind = "png" if query.get("as") == "png" else "svg"
    file = drawing_file(one.text, kind)
    name = "".join(c if c.isalnum() else "-" for c in in_plain(one.title)[:60].lower()).strip("-")
    file.headers["Content-Disposition"] = attachment(f"{name}.{kind}")
    return file


def drawing_file(drawn: str, kind: str) -> HTMLResponse:
    """Return a drawing as a file: "svg" or "png"."""
    if kind == "png":
        return HTMLResponse(as_png(drawn), media_type="image/png")
    return HTMLResponse(in_plain(standalone(drawn)), media_type="image/svg+xml")


def attachment(name: str) -> str:
    """Return the header that names a download; what is not ASCII in its own form (RFC 6266)."""
    plain = name.encode("ascii", "ignore").decode() or "drawing"
    return f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"


def wants_fragment(request: Request) -> bool:
    """Whether htmx asks for a part of the page; going back through history needs it whole."""
    return "hx-request" in request.headers and "hx-history-restore-request" not in request.headers
