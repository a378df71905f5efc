"""What happens in the shop, told while it happens: to other screens and to other programs.

GET /jobs/{id}/here        who else is on a job, and where; its fragment alone
GET /api/changes           what happened after a place in the order
GET /api/events            the same while it happens, as server-sent events: one for a browser
"""

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Header, Query, Request
from fastapi.responses import HTMLResponse, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from jentrik.core.text import counted
from jentrik.store import jobs
from jentrik.store.happenings import MOST, happened_since
from jentrik.web.api.program import marked
from jentrik.web.live.feed import Feed
from jentrik.web.shop import AShop
from jentrik.web.templating import page

router = APIRouter()
RETRY_MS = 2000


def feed_of(request: Request) -> Feed:
    """Return the shop's feed."""
    feed: Feed = request.app.state.feed
    return feed


@router.get("/jobs/{job_id}/here", name="job_here", include_in_schema=False)
def here(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show who else is on a job."""
    return page(request, "jobs/_here.html", job=jobs.job(job_id))


@router.get("/api/changes", tags=["exchange"])
def changes(
    shop: AShop,
    since: Annotated[int, Query(ge=0, le=2**62)] = 0,
    size: Annotated[int, Query(ge=1, le=MOST)] = MOST,
) -> Response:
    """Return what happened after a place in the order, oldest first; `next` is where to go on."""
    found = happened_since(since, most=size)
    last = found[-1].n if found else since
    return marked({"changes": [one.as_document() for one in found], "next": last})


@router.get("/api/events", response_class=EventSourceResponse, tags=["exchange"])
async def events(
    request: Request,
    shop: AShop,
    since: Annotated[int | None, Query(ge=0, le=2**62)] = None,
    last_event_id: Annotated[str | None, Header()] = None,
) -> AsyncIterator[ServerSentEvent]:
    """Tell what happens while it happens, after a place in the order or from now on.

    `mine` is true of what this very browser wrote; an event `here` names a job that a screen
    opened or left.
    """
    after = since if last_event_id is None else counted(last_event_id)
    yield ServerSentEvent(comment="listening", retry=RETRY_MS)
    async for one in feed_of(request).follow(after):
        if isinstance(one, int):
            yield ServerSentEvent(data={"job": one}, event="here")
        else:
            mine = bool(shop.screen) and one.screen == shop.screen
            data = {**one.as_document(), "machine": one.machine_id, "mine": mine}
            yield ServerSentEvent(data=data, event="change", id=str(one.n))
