"""The JSON interface: the same answers as the command line."""

from datetime import date
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse

from jentrik import __version__
from jentrik.core.tirecode.sidewall import read_sidewall
from jentrik.exchange.job_document import found_document, shown_document
from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json
from jentrik.exchange.plan_parts import PlanDocument
from jentrik.exchange.reading_document import sidewall_document
from jentrik.exchange.sheet_document import setup_document, sheet_document, wheel_document
from jentrik.exchange.strict_json import LARGEST_DOCUMENT_BYTES, TooLargeError
from jentrik.store import documents, jobs, machines, setups, wheels
from jentrik.web.plain_json import PlainJSON
from jentrik.web.shop import AShop
from jentrik.web.templating import page

DESCRIPTION = (
    "Reads tire codes and computes what wheel sizes do to a bicycle or motorcycle. Lengths in "
    "mm, angles in degrees, loads in kg, speeds in km/h; an unknown value is null. A refusal is "
    "422 with one sentence, the field and, in a code, the character."
)
router = APIRouter(prefix="/api")


@router.get("/health", tags=["health"])
def health() -> dict[str, str]:
    """Say that the program runs, and which version."""
    return {"status": "ok", "version": __version__}


@router.get("/read", tags=["tire codes"])
def read(
    request: Request,
    code: Annotated[str, Query(description="A tire code as it stands on the sidewall")],
    vehicle: Annotated[
        Literal["bicycle", "motorcycle"] | None, Query(description="Settles a doubt")
    ] = None,
    on: Annotated[date | None, Query(description="The day to count a date mark's age to")] = None,
) -> PlainJSON:
    """Read one tire code, or a whole sidewall."""
    today = request.app.state.shop.today
    sidewall = read_sidewall(code, vehicle=vehicle, on=on or today)
    return PlainJSON(sidewall_document(sidewall, on=on))


@router.get("/jobs/{job_id}", tags=["jobs"])
def job(job_id: int, shop: AShop) -> PlainJSON:
    """Return a job: what was found, every proposal, what was fitted.

    Of a job that is done they are what they were on the day.
    """
    known, state = jobs.any_job(job_id)
    kept = documents.document(job_id)
    if kept is not None:
        return PlainJSON(shown_document(kept.values, state))
    sheet = machines.sheet(known.machine_id)
    values = found_document(known, sheet, shop.policy, shop.today)
    return PlainJSON(shown_document(values, state))


@router.get("/machines/{machine_id}", tags=["machines"])
def machine(machine_id: int, shop: AShop) -> PlainJSON:
    """Return a machine: its sheet, its set-ups with the oldest first, its wheels."""
    sheet = machines.sheet(machine_id)
    return PlainJSON(
        {
            "id": sheet.id,
            "name": sheet.name,
            "kind": sheet.kind,
            "owner": sheet.owner,
            "sheet": sheet_document(sheet),
            "setups": [setup_document(one) for one in setups.setups(machine_id)],
            "wheels": [wheel_document(one) for one in wheels.wheels_of(sheet)],
        }
    )


_PLAN_BODY = {
    "requestBody": {
        "required": True,
        "content": {
            "application/json": {
                "schema": PlanDocument.model_json_schema(
                    ref_template="#/components/schemas/{model}"
                )
            }
        },
    }
}


@router.post("/plan", tags=["plans"], openapi_extra=_PLAN_BODY)
async def plan(request: Request) -> PlainJSON:
    """Compute a plan document."""
    body = bytearray()
    async for chunk in request.stream():
        body += chunk
        if len(body) > LARGEST_DOCUMENT_BYTES:
            raise TooLargeError(
                "The document is larger than 1 MB; nothing was read.",
                expected="a document of at most 1 MB",
            )
    return await run_in_threadpool(_planned, bytes(body))


def _planned(body: bytes) -> PlainJSON:
    """Return the answer to a plan document; it takes its time, so not on the event loop."""
    return PlainJSON(result_document(plan_from_json(body)))


@router.get("/docs", include_in_schema=False)
def docs(request: Request) -> HTMLResponse:
    """Show the interface's description as a page."""
    operations = [
        {"path": path, "method": method.upper(), **about}
        for path, methods in request.app.openapi()["paths"].items()
        for method, about in methods.items()
        if path.startswith("/api/")
    ]
    schema: dict[str, Any] = request.app.openapi()["info"]
    return page(request, "api_docs.html", operations=operations, about=schema)
