"""What happens in the shop while it happens, for other screens and other programs.

GET /api/changes           what happened after a place in the order
GET /api/events            the same while it happens, as server-sent events: one for a browser
"""

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Header, Query, Request
from fastapi.responses import Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from jentrik.core.text import counted
from jentrik.store.happenings import MOST, happened_since
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import marked
from jentrik.web.live.feed import Feed
from jentrik.web.shop import AShop

router = APIRouter(prefix="/api", tags=["seam"], dependencies=[KNOWN_ONLY])
RETRY_MS = 2000


@router.get("/changes")
def changes(
    shop: AShop,
    since: Annotated[int, Query(ge=0, le=2**62)] = 0,
    size: Annotated[int, Query(ge=1, le=MOST)] = MOST,
) -> Response:
    """Return what happened after a place in the order, oldest first; `next` is where to go on."""
    found = happened_since(since, most=size)
    last = found[-1].n if found else since
    return marked({"changes": [one.as_document() for one in found], "next": last})


@router.get("/events", response_class=EventSourceResponse)
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
    feed: Feed = request.app.state.feed
    async for one in feed.follow(after):
        if isinstance(one, int):
            yield ServerSentEvent(data={"job": one}, event="here")
        else:
            mine = bool(shop.screen) and one.screen == shop.screen
            data = {**one.as_document(), "machine": one.machine_id, "mine": mine}
            yield ServerSentEvent(data=data, event="change", id=str(one.n))
