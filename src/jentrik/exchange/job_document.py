"""A job as a document: what was found, every proposal as it was judged, what was fitted.

Written on the day the work is done and never changed.  Pages of a job that is done read it, and
`GET /api/jobs/{id}` shows it; a job that is open shows the same keys as they are now.
"""

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from datetime import date
from typing import Any

from jentrik.core.days import with_offset
from jentrik.core.errors import Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.setup import Setup
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.plan.proposed_setup import proposed
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.work.job import Job, KeptProposal
from jentrik.core.work.policy import Policy
from jentrik.exchange.plan_answer import geometry_document
from jentrik.exchange.plan_document import read_kept
from jentrik.exchange.sheet_document import setup_document, sheet_document

FORMAT, VERSION = "jentrik-job", 1


def state_document(sheet: Sheet, policy: Policy, on: date) -> dict[str, Any]:
    """Return a machine as it is set up: set-up, geometry (null where it cannot stand), findings."""
    assert sheet.setup is not None
    found, _ = _found(sheet, policy, on)
    outcome = None if found is None else outcome_of(found, Proposal("as found"))
    return {
        "setup": setup_document(sheet.setup),
        "geometry": None if outcome is None else geometry_document(outcome.figures.geometry),
        "findings": [] if outcome is None else findings_document(outcome.findings),
    }


def _found(sheet: Sheet, policy: Policy, on: date) -> tuple[PlanResult | None, str]:
    if missing_of(sheet):
        return None, "Figures are missing."
    try:
        return as_measured(machine_of(sheet), policy=policy, on=on), ""
    except Refusal as refusal:
        return None, refusal.message


def proposals_document(
    sheet: Sheet, kept: Iterable[KeptProposal], policy: Policy, on: date
) -> list[dict[str, Any]]:
    """Return proposals with the set-up each asks for, and what each comes to."""
    found, why = _found(sheet, policy, on)
    return [_proposal_document(sheet, found, one, on, why) for one in kept]


def _proposal_document(
    sheet: Sheet, found: PlanResult | None, kept: KeptProposal, on: date, why: str
) -> dict[str, Any]:
    assert sheet.setup is not None
    outcome: Outcome | None = None
    try:
        if found is not None:
            outcome = outcome_of(found, read_kept(kept))
    except Refusal as refusal:
        why = refusal.message
    parts = proposed(sheet.setup.parts, kept.changes, on=on, turned_deg=sheet.turned_deg)
    return {
        "name": kept.name,
        "changes": kept.changes,
        "takes": dict(kept.takes),
        "setup": setup_document(Setup(0, kept.name, parts, on)),
        "geometry": None if outcome is None else geometry_document(outcome.figures.geometry),
        "findings": [] if outcome is None else findings_document(outcome.findings),
        "refused": "" if outcome is not None else why,
    }


def findings_document(findings: Iterable[Finding]) -> list[dict[str, Any]]:
    """Return findings as plain values."""
    return [asdict(finding) | {"severity": finding.severity.value} for finding in findings]


def findings_of(document: Iterable[Mapping[str, Any]]) -> tuple[Finding, ...]:
    """Return the findings of a document of ours."""
    return tuple(
        Finding(
            one["rule"],
            Severity(one["severity"]),
            one["where"],
            one["headline"],
            one["message"],
            one["source"],
            tuple(one["figures"]),
            tuple(one["policy"]),
            one["law"],
            one["variant"],
        )
        for one in document
    )


def found_document(job: Job, sheet: Sheet, policy: Policy, on: date) -> dict[str, Any]:
    """Return what of a job's document is settled before anything is fitted."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "tag": job.tag,
        "machine": sheet.name,
        "wanted": job.wanted,
        "judged_on": on.isoformat(),
        "found": state_document(sheet, policy, on),
        "found_sheet": sheet_document(sheet),
        "proposals": proposals_document(sheet, job.proposals, policy, on),
        "fitted": None,
    }


def shown_document(document: Mapping[str, Any], state: str) -> dict[str, Any]:
    """Return a job's document as others read it."""
    hidden = ("found_sheet", "fitted_sheet", "policy", "format", "version")
    return {
        "tag": document["tag"],
        "machine": document["machine"],
        "wanted": document["wanted"],
        "state": state,
        **{key: _said(key, value) for key, value in document.items() if key not in hidden},
    }


def _said(key: str, value: Any) -> Any:
    """Return a kept value as others read it: every moment with its offset."""
    if isinstance(value, Mapping):
        return {name: _said(name, one) for name, one in value.items()}
    if isinstance(value, list):
        return [_said(key, one) for one in value]
    moment = key in ("at", "done_at", "made_at") and isinstance(value, str)
    return with_offset(value) if moment else value
