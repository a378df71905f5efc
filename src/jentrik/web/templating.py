"""Jinja pages: autoescape on, addresses from route names, assets with the version in them."""

import hashlib
from functools import lru_cache
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from starlette.requests import Request
from starlette.responses import HTMLResponse

from jentrik.core.amounts import bare, unit_alone
from jentrik.core.shop.display_units import METRIC, DisplayUnits
from jentrik.web.drawing.silhouette import kept_silhouette
from jentrik.web.guard import TOKEN_FIELD, TOKEN_HEADER

HERE = Path(__file__).parent
STATIC = HERE / "static"

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


_environment.filters.update(bare=bare, unit=unit_alone)
_environment.globals.update(
    asset=asset, picture=kept_silhouette, TOKEN_FIELD=TOKEN_FIELD, TOKEN_HEADER=TOKEN_HEADER
)


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
        csrf_token=request.state.csrf_token,
        status=status,
        units=units,
        who_here=getattr(request.state, "who", ""),
        initials_here=getattr(request.state, "initials", ""),
        **context,
    )
    return HTMLResponse(units.restated(text), status_code=status)


def wants_fragment(request: Request) -> bool:
    """Whether htmx asks for a part of the page; going back through history wants it whole."""
    return "hx-request" in request.headers and "hx-history-restore-request" not in request.headers
