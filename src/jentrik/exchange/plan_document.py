"""The plan document: what other programs send, and the answer they get.

Format "jentrik-plan", version 1.  Keys end in their units; an absent or null key is unknown.
"""

from collections.abc import Callable, Sequence
from dataclasses import asdict, replace
from datetime import date
from typing import Any, TypeVar

from pydantic import ValidationError

from jentrik.core.errors import DocumentError, Refusal, blamed_on
from jentrik.core.machine import building, machine
from jentrik.core.machine import wheel as wheels
from jentrik.core.machine.building import unique, wheel_change_of
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.proposal import ContactChange, Proposal
from jentrik.core.plan.plan import PlanResult, compute
from jentrik.core.plan.proposed_setup import PLAIN_CHANGES, flat, nested
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.plan_parts import BikeDocument, DocumentPart, PlanDocument, ProposalDocument
from jentrik.exchange.strict_json import parse_json

T = TypeVar("T")
D = TypeVar("D")


def plan_from_json(raw: bytes, *, on: date | None = None) -> PlanResult:
    """Return the computed plan of a document; refuses it with one sentence and a full path.

    Ages count to the day the document names, else to `on`; without either they are not judged.
    """
    document = validated(PlanDocument, parse_json(raw))
    with blamed_on("bike"):
        bike = bike_of(document.bike)
    unique([proposal.name for proposal in document.proposals], "proposals")
    proposals = _each("proposals", document.proposals, proposal_of)
    return replace(compute(bike, proposals, on=document.on or on), advise=document.advise)


def read_bike(values: dict[str, Any]) -> machine.Bike:
    """Return the machine of a bike object as plain values, as in a plan document."""
    return bike_of(validated(BikeDocument, values))


def read_proposal(values: dict[str, Any]) -> Proposal:
    """Return the proposal of an object as plain values, as in a plan document."""
    return proposal_of(validated(ProposalDocument, values))


M = TypeVar("M", bound=DocumentPart)


def read_kept(kept: KeptProposal) -> Proposal:
    """Return a proposal as kept; what it takes of wheels and set-ups is there already.

    A wheel that was on this machine before brings a sensor that its control unit reads.
    """
    proposal = read_proposal(kept.values())
    whole = "setup" in kept.takes
    started = kept.takes.get("changes", {})
    owned = tuple(
        end
        for end in ENDS
        if (whole or end in kept.takes) and kept.changes.get(end) == started.get(end)
    )
    return replace(
        proposal,
        front=_known_sensor(proposal.front) if "front" in owned else proposal.front,
        rear=_known_sensor(proposal.rear) if "rear" in owned else proposal.rear,
        owned=owned,
        as_before=whole,
        gaps_mm=kept.takes.get("gaps_mm", {}) if whole and kept.changes == started else {},
    )


def _known_sensor(change: wheels.WheelChange) -> wheels.WheelChange:
    if change.tire is None:
        return change
    return replace(change, sensor=wheels.merged(wheels.Sensor("same", "same"), change.sensor))


def validated(model: type[M], values: Any) -> M:
    """Return plain values as a document; refuses the first thing that is wrong with them."""
    try:
        return model.model_validate(values)
    except ValidationError as error:
        raise _one_sentence(error) from None


_WORDS = {
    "missing": ("is missing", "this key"),
    "extra_forbidden": ("is not a key of this document", "only known keys"),
    "string_type": ("must be text", "text in quotes"),
    "float_type": ("must be a number", "a number without quotes"),
    "int_type": ("must be a whole number", "a whole number without quotes"),
    "finite_number": ("must be a finite number", "a finite number"),
    "list_type": ("must be a list", "a list"),
    "model_type": ("must be an object", "an object"),
    "dict_type": ("must be an object", "an object"),
    "model_attributes_type": ("must be an object", "an object"),
}


def _one_sentence(error: ValidationError) -> DocumentError:
    first = error.errors(include_url=False, include_context=True, include_input=False)[0]
    path = ""
    for step in first["loc"]:
        path += f"[{step}]" if isinstance(step, int) else f".{step}" if path else str(step)
    refusal = (first.get("ctx") or {}).get("error")
    if isinstance(refusal, Refusal):
        return DocumentError(
            refusal.message,
            field=path or None,
            position=refusal.position,
            expected=refusal.expected,
            suggestions=refusal.suggestions,
        )
    said, expected = _WORDS.get(first["type"], ("", ""))
    if first["type"] == "too_long" and "max_length" in (first.get("ctx") or {}):
        most = first["ctx"]["max_length"]
        said, expected = f"has more than {most} entries", f"at most {most} entries"
    if not said:
        wanted = (first.get("ctx") or {}).get("expected")
        expected = str(wanted or first["msg"][:1].lower() + first["msg"][1:]).replace("'", "“", 1)
        expected = expected.replace("'", "”") if "“" in expected else expected
        said = f"must be {wanted}" if wanted else f"is refused: {first['msg'].lower()}"
    return DocumentError(
        f"“{path or 'the document'}” {said}.", field=path or None, expected=expected
    )


def _each(path: str, documents: Sequence[D], build: Callable[[D], T]) -> tuple[T, ...]:
    """Return what `build` makes of every document of a list; refusals name the place in it."""
    built = []
    for place, document in enumerate(documents):
        with blamed_on(f"{path}[{place}]"):
            built.append(build(document))
    return tuple(built)


def _named(name: str) -> str:
    if not name.strip():
        raise DocumentError("The name is blank.", field="name", expected="a name")
    return name


def bike_of(document: DocumentPart) -> machine.Bike:
    """Return the machine a validated document describes; paths are relative to it."""
    return building.bike_of(document.model_dump(by_alias=True, exclude_none=True))


def proposal_of(document: DocumentPart) -> Proposal:
    """Return the proposal a validated document describes; paths are relative to it."""
    said = document.model_dump(exclude_none=True)
    with blamed_on("front"):
        front = _wheel_change(said.get("front"))
    with blamed_on("rear"):
        rear = _wheel_change(said.get("rear"))
    with blamed_on("contact"):
        contact = ContactChange(**said.get("contact") or {})
    named = dict(flat(said))
    plain: dict[str, Any] = {
        one.name: named[one.keys[0]] for one in PLAIN_CHANGES if one.keys[0] in named
    }
    return Proposal(_named(said["name"]), front, rear, contact=contact, **plain)


def _wheel_change(said: dict[str, Any] | None) -> wheels.WheelChange:
    return wheels.UNCHANGED if said is None else wheel_change_of(said)


def proposal_document(proposal: Proposal) -> dict[str, Any]:
    """Return a proposal as a plan document holds it, with only what it changes."""
    usual = Proposal(proposal.name)
    plain = {
        one.keys[0]: value
        for one in PLAIN_CHANGES
        if (value := getattr(proposal, one.name)) != getattr(usual, one.name)
    }
    said = nested(plain)
    if shift := said.get("rear_axle_shift_mm"):
        said["rear_axle_shift_mm"] = {"x": 0.0, "y": 0.0, **shift}
    document: dict[str, Any] = {
        "name": proposal.name,
        "front": _wheel_document(proposal.front),
        "rear": _wheel_document(proposal.rear),
        **said,
        "contact": {name: value for name, value in asdict(proposal.contact).items() if value},
    }
    return {name: part for name, value in document.items() if (part := _kept(value))}


def _kept(value: Any) -> Any:
    """Return a part without what it does not say; an empty part is nothing."""
    if isinstance(value, dict):
        parts = {name: part for name, one in value.items() if (part := _kept(one)) is not None}
        return parts or None
    return list(value) if isinstance(value, tuple) else value


def _wheel_document(change: wheels.WheelChange) -> dict[str, Any]:
    return {
        "tire": change.tire.text if change.tire else None,
        "overall_diameter_mm": change.overall_diameter_mm,
        "rim": (asdict(change.rim) if change.rim else None),
        "tone_ring_slots": change.tone_ring_slots,
        "brake": change.brake,
        "rim_brake": asdict(change.rim_brake) if change.rim_brake else None,
        "guard": change.guard,
        "guard_inside_mm": change.guard_inside_mm,
        "fitted": asdict(change.fitted),
        "hub": asdict(change.hub),
        "sensor": asdict(change.sensor),
    }
