"""What a program reads beside the shop's things: rules, words, pictures, plan documents.

GET /api/rules            every rule, with what it asks for and where it comes from
GET /api/words            the terms of the trade
GET /api/photos/{file}    a kept picture
GET /api/machines/{id}/plan, /api/jobs/{id}/plan      the document that `plan` takes
GET /api/jobs/{id}/compare    how each proposal moves each figure
GET /api/jobs/{id}/before-fitted    what was measured, and what is still open
"""

from typing import Any

from fastapi import APIRouter
from fastapi.responses import FileResponse
from starlette.responses import Response

from jentrik.core.rules import RULES, TITLES
from jentrik.core.tire.tables.glossary import TERMS
from jentrik.exchange.plan_written import plan_of
from jentrik.store import after_fitting, cards, jobs, machines
from jentrik.web.api import documents as documented
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import marked
from jentrik.web.pages.after_fitting.commands import measured_after
from jentrik.web.pages.card.route import kept_photo
from jentrik.web.shop import AShop, Shop

router = APIRouter(prefix="/api", dependencies=[KNOWN_ONLY])


@router.get("/rules", tags=["plans"])
def rules() -> Response:
    """Return every check of every rule: its severity, what it asks for, its limit and source."""
    return marked(
        {
            "rules": [
                {
                    "rule": one.id,
                    "title": TITLES[one.id],
                    "severity": one.severity.value,
                    "kinds": list(one.kinds),
                    "figures": list(one.needs),
                    "limits": list(one.policy),
                    "limit": one.limit,
                    "source": str(one.source),
                    "law": one.law,
                }
                for one in RULES
            ]
        }
    )


@router.get("/words", tags=["plans"])
def terms() -> Response:
    """Return the terms of the trade, each with what it is and the figures it stands for."""
    return marked({"words": [documented.plain_fields(one, "shows") for one in TERMS]})


@router.get("/photos/{file}", tags=["jobs"])
def picture(shop: AShop, file: str) -> FileResponse:
    """Return a kept picture by the name it is listed with."""
    return kept_photo(shop, file)


@router.get("/machines/{machine_id}/plan", tags=["machines"])
def plan_of_machine(machine_id: int) -> Response:
    """Return a machine as the document that `POST /api/plan` takes."""
    return marked(plan_of(machines.sheet(machine_id)))


@router.get("/jobs/{job_id}/plan", tags=["jobs"])
def plan_of_job(job_id: int) -> Response:
    """Return a job's machine and proposals as the document that `POST /api/plan` takes."""
    job = jobs.job(job_id)
    return marked(plan_of(machines.sheet(job.machine_id), job.proposals))


@router.get("/jobs/{job_id}/compare", tags=["jobs"])
def compare(shop: AShop, job_id: int) -> Response:
    """Return how each proposal moves each figure, and how many findings of a kind it has."""
    document = documented.job_document(shop, job_id)
    found = _figures(document["found"]["geometry"])
    return marked(
        {
            "found": found,
            "proposals": [
                {
                    "name": one["name"],
                    "refused": one["refused"],
                    "moves": _moved(found, _figures(one["geometry"])),
                    "findings": _counted(one["findings"]),
                }
                for one in document["proposals"]
            ],
        }
    )


def _figures(geometry: Any, path: str = "") -> dict[str, float]:
    """Return the figures of a geometry by their whole keys."""
    if isinstance(geometry, dict):
        parts = [_figures(one, f"{path}.{key}" if path else key) for key, one in geometry.items()]
        return {key: value for part in parts for key, value in part.items()}
    known = isinstance(geometry, int | float) and not isinstance(geometry, bool)
    return {path: geometry} if known else {}


def _moved(found: dict[str, float], proposed: dict[str, float]) -> dict[str, float]:
    both = found.keys() & proposed.keys()
    return {key: round(proposed[key] - found[key], 6) for key in sorted(both)}


def _counted(findings: list[dict[str, Any]]) -> dict[str, int]:
    severities = [one["severity"] for one in findings]
    return {kind: severities.count(kind) for kind in ("stop", "caution", "note")}


@router.get("/jobs/{job_id}/before-fitted", tags=["jobs"])
def before_fitted(shop: AShop, job_id: int) -> Response:
    """Return what was measured of what was put on, and what still lacks before `fitted`."""
    return marked(_before_fitted(shop, job_id))


def _before_fitted(shop: Shop, job_id: int) -> dict[str, Any]:
    measured = after_fitting.measured_of(job_id)
    asked = measured_after(shop, job_id, {})
    card = cards.card_of(job_id)
    return {
        "measured": {key: one.measured for key, one in measured.items()},
        "lacks": [
            documented.plain_fields(one)
            for key, one in asked.items()
            if key not in measured or measured[key].measured is None
        ],
        "open_steps": [
            {"id": step.id, "text": step.plan.text, "stop": step.plan.stop}
            for step in (card.steps if card else ())
            if not (step.done_at or step.waived)
        ],
    }
