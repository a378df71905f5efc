"""The answer to a proposal, beside its bench: drawing and figures come first, then this.

GET  /jobs/{id}/advice   the answer; asked by htmx, its fragment alone
POST /jobs/{id}/advice   a cure, or a size that goes, as a proposal of its own
"""

import json
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import DocumentError, StoreError
from jentrik.core.plan.answer import Answer, answer_of
from jentrik.core.plan.plan import Outcome
from jentrik.core.rules import TITLES
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import documents, jobs
from jentrik.store.documents import OnBench
from jentrik.web.pages.answers.view import answer_view
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.address import Address
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/jobs/{job_id}/advice")
LONGEST_CHANGE = 2000


@router.get("", name="advice")
def advice(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show whether a proposal goes, and what would."""
    address = Address.of(request.app.url_path_for("bench", job_id=job_id), request.query_params)
    on, kept, answer = answered(shop, job_id, address.proposal)
    view = answer_view(on, kept, answer, TITLES, address)
    template = "jobs/_answer.html" if wants_fragment(request) else "jobs/answer.html"
    return page(request, template, view=view)


def answered(shop: Shop, job_id: int, name: str) -> tuple[OnBench, KeptProposal, Answer]:
    """Return a proposal of a job with its answer; refuses one that cannot be judged."""
    on = on_bench(shop, job_id)
    kept = on.job.proposal(name) or on.job.about
    if kept is None:
        raise StoreError("There is no such proposal any more.", expected="a proposal")
    found, impossible = found_of(on.sheet, (), on.policy, on.today)
    outcome = judged(found, kept) if found is not None else impossible
    if found is None or not isinstance(outcome, Outcome):
        raise StoreError(str(outcome) or "The answer waits for figures.", expected="a machine")
    return on, kept, answer_of(found, outcome)


@router.post("", name="take_cure")
def take_cure(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Make what cures a stop a proposal of its own, put on top of the one it was said of."""
    with shop.step("a cure proposed", f"job {job_id} cure", job_id=job_id) as step:
        documents.must_be_open(job_id)
        kept = jobs.job(job_id).proposal(str(form.get("proposal", "")))
        if kept is None:
            raise StoreError("There is no such proposal any more.", expected="a proposal")
        changes = put_on(kept.changes, _change(str(form.get("change", ""))))
        read_proposal({"name": kept.name, **changes})
        name = jobs.add_proposal(step, job_id, changes)
        step.label = f"proposal {name}: {kept.name} with a cure"
    address = Address(request.app.url_path_for("bench", job_id=job_id))
    return RedirectResponse(address.at(station="propose", proposal=name), status_code=303)


def _change(typed: str) -> dict[str, Any]:
    """Return the change a press sends; refuses anything that is none."""
    try:
        change = json.loads(typed[:LONGEST_CHANGE])
    except ValueError:
        change = None
    if not isinstance(change, dict) or not change:
        raise DocumentError("That is no change of a proposal.", expected="one of those offered")
    return change


def put_on(changes: dict[str, Any], more: dict[str, Any]) -> dict[str, Any]:
    """Return a proposal's changes with others put on top; another tire drops what the old had."""
    out = dict(changes)
    for name, value in more.items():
        there = out.get(name)
        if isinstance(value, dict) and isinstance(there, dict):
            out[name] = put_on(there, value)
            if "tire" in value:
                out[name] = {
                    key: part
                    for key, part in out[name].items()
                    if key not in ("overall_diameter_mm", "fitted")
                }
        else:
            out[name] = value
    return out
