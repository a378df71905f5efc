"""The JSON interface: the same answers as the command line."""

import shutil
from datetime import date
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse
from pydantic import BaseModel
from pydantic.json_schema import models_json_schema

from jentrik import __version__
from jentrik.core.days import with_offset
from jentrik.core.practice.make import MOST_ITEMS
from jentrik.core.tire.sidewall import LONGEST_SIDEWALL, read_sidewall
from jentrik.exchange.find_document import FindDocument, find_from_json
from jentrik.exchange.photo_marks import PhotoMarksDocument, photo_from_json
from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json
from jentrik.exchange.plan_parts import PlanDocument
from jentrik.exchange.practice_document import items_document
from jentrik.exchange.reading_document import sidewall_document
from jentrik.exchange.strict_json import LARGEST_DOCUMENT_BYTES, TooLargeError
from jentrik.store import shelf
from jentrik.store.backups import kept_backups
from jentrik.store.rows import first_row
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.page import operations_by_tag
from jentrik.web.plain_json import PlainJSON
from jentrik.web.shop import AShop
from jentrik.web.templating import page

DESCRIPTION = (
    "Reads tire codes and computes what wheel sizes do to a bicycle or motorcycle. Lengths in "
    "mm, angles in degrees, loads in kg, speeds in km/h; an unknown value is null. A refusal is "
    "422 with one sentence, the field and, in a code, the character."
)
TAGS = [
    {"name": "jobs", "description": "Jobs from the door to the log: proposals, offer, card, rides"},
    {"name": "machines", "description": "Machines, their figures, set-ups, wheels and logbook"},
    {"name": "shelf", "description": "Tires and wheels on the shelf"},
    {"name": "shop", "description": "Limits, templates, people, keys, backups, the bin"},
    {"name": "seam", "description": "What happens in the shop, for other programs"},
    {"name": "plans", "description": "Documents judged without a shop"},
    {"name": "practice", "description": "Practice items and answers"},
    {"name": "tire codes", "description": "Reading a sidewall"},
    {"name": "tables", "description": "Tables for spreadsheets"},
    {"name": "exchange", "description": "The whole shop as one document"},
    {"name": "health", "description": "Whether the program stands"},
]
ABOUT: dict[str, Any] = {
    "title": "Jentrik",
    "version": __version__,
    "description": DESCRIPTION,
    "servers": [{"url": "/", "description": "This shop"}],
    "license_info": {"name": "MIT", "identifier": "MIT"},
    "openapi_tags": TAGS,
    "openapi_url": "/api/openapi.json",
    "docs_url": None,
    "redoc_url": None,
}
router = APIRouter(prefix="/api", dependencies=[KNOWN_ONLY])


@router.get("/health", tags=["health"])
def health(shop: AShop) -> PlainJSON:
    """Say that the program runs and its database answers, how full its disk is, the last backup."""
    first_row("SELECT id FROM machine LIMIT 1")
    last = max((one.made_at for one in kept_backups(shop.folder)), default=None)
    return PlainJSON(
        {
            "status": "ok",
            "version": __version__,
            "database": "ok",
            "disk_free_mb": shutil.disk_usage(shop.folder).free // 1_000_000,
            "last_backup_at": with_offset(last) if last else None,
        }
    )


DOCUMENTS: tuple[type[BaseModel], ...] = (PlanDocument, FindDocument, PhotoMarksDocument)
_SCHEMAS = "#/components/schemas/{model}"


def _taking(document: type[BaseModel]) -> dict[str, Any]:
    """Return the description of a body that is a document."""
    schema = {"$ref": _SCHEMAS.format(model=document.__name__)}
    body = {"required": True, "content": {"application/json": {"schema": schema}}}
    return {"requestBody": body}


def document_schemas() -> dict[str, Any]:
    """Return the schemas of the documents and of their parts, by name."""
    asked = [(document, "validation") for document in DOCUMENTS]
    _, schemas = models_json_schema(asked, ref_template=_SCHEMAS)  # type: ignore[arg-type]
    named: dict[str, Any] = schemas["$defs"]
    return named


@router.get("/read", tags=["tire codes"])
def read(
    request: Request,
    code: Annotated[
        str,
        Query(
            description="A tire code as it stands on the sidewall",
            json_schema_extra={"minLength": 1, "maxLength": LONGEST_SIDEWALL, "pattern": r"\S"},
        ),
    ],
    vehicle: Annotated[
        Literal["bicycle", "motorcycle"] | None, Query(description="Settles a doubt")
    ] = None,
    on: Annotated[date | None, Query(description="The day to count a date mark's age to")] = None,
) -> PlainJSON:
    """Read one tire code, or a whole sidewall."""
    today = request.app.state.shop.today
    sidewall = read_sidewall(code, vehicle=vehicle, on=on or today)
    return PlainJSON(sidewall_document(sidewall, on=on))


@router.post("/find", tags=["plans"], openapi_extra=_taking(FindDocument))
async def find(request: Request) -> PlainJSON:
    """Return what can be put on a machine: a plan without proposals, and what is looked for."""
    body = await _whole_body(request)
    return await run_in_threadpool(_found, request, body)


def _found(request: Request, body: bytes) -> PlainJSON:
    request.app.state.shop.ready()
    return PlainJSON(find_from_json(body, shelf=shelf.prices))


@router.get("/practice", tags=["plans"])
def practice(
    seed: Annotated[int, Query(ge=0, le=2**53)] = 1,
    count: Annotated[int, Query(json_schema_extra={"minimum": 1, "maximum": MOST_ITEMS})] = 10,
) -> PlainJSON:
    """Return practice items with their computed answers; the same seed gives the same ones."""
    return PlainJSON(items_document(seed, count))


@router.post("/photo", tags=["plans"], openapi_extra=_taking(PhotoMarksDocument))
async def photo(request: Request) -> PlainJSON:
    """Return the figures of a machine from marks on a photograph, each with its ±."""
    return await run_in_threadpool(_photographed, await _whole_body(request))


def _photographed(body: bytes) -> PlainJSON:
    return PlainJSON(photo_from_json(body))


@router.post("/plan", tags=["plans"], openapi_extra=_taking(PlanDocument))
async def plan(request: Request) -> PlainJSON:
    """Compute a plan document."""
    today = request.app.state.shop.today
    return await run_in_threadpool(_planned, await _whole_body(request), today)


async def _whole_body(request: Request) -> bytes:
    """Return a document that was sent; refuses one that is too large to read."""
    body = bytearray()
    async for chunk in request.stream():
        body += chunk
        if len(body) > LARGEST_DOCUMENT_BYTES:
            raise TooLargeError(
                "The document is larger than 1 MB; nothing was read.",
                expected="a document of at most 1 MB",
            )
    return bytes(body)


def _planned(body: bytes, on: date) -> PlainJSON:
    """Return the answer to a plan document; it takes its time, so not on the event loop."""
    return PlainJSON(result_document(plan_from_json(body, on=on)))


@router.get("/docs", name="docs", include_in_schema=False)
def docs(request: Request) -> HTMLResponse:
    """Show the interface's description as a page."""
    described = request.app.openapi()
    operations = operations_by_tag(described)
    return page(request, "api_docs.html", operations=operations, about=described["info"])
