"""The plan document: what other programs send, and the answer they get.

Format "jentrik-plan", version 1.  Keys end in their units; an absent or null key is unknown.
"""

import math
import threading
from collections.abc import Callable, Sequence
from dataclasses import asdict, replace
from typing import Any, TypeVar

from pydantic import ValidationError

from jentrik.core.errors import DocumentError, OutOfRange, blamed_on
from jentrik.core.job.job import KeptProposal
from jentrik.core.machine import machine
from jentrik.core.machine import wheel as wheels
from jentrik.core.machine.gearing import UNGEARED, Gearing
from jentrik.core.machine.magnitudes import LIMITS, check_figure
from jentrik.core.machine.suspension import ENDS, RIGID, Position, Shock, State, Suspension, Travel
from jentrik.core.plan.plan import PlanResult, compute
from jentrik.core.sheet.sheet import Sheet
from jentrik.exchange.plan_parts import (
    BikeDocument,
    CenterStandDocument,
    ClearanceDocument,
    ContactDocument,
    DesignDocument,
    ForkDocument,
    GearingDocument,
    Part,
    PlanDocument,
    PointDocument,
    PositionDocument,
    ProposalDocument,
    SideStandDocument,
    SpeedometerDocument,
    SuspensionDocument,
)
from jentrik.exchange.plan_wheels import approved, part_of, specs, wheel, wheel_change
from jentrik.exchange.strict_json import parse_json

T = TypeVar("T")
D = TypeVar("D")


def plan_from_json(raw: bytes) -> PlanResult:
    """Return the computed plan of a document; refuses it with one sentence and a full path."""
    document = _validated(PlanDocument, parse_json(raw))
    with blamed_on("bike"):
        bike = bike_of(document.bike)
    _unique([proposal.name for proposal in document.proposals], "proposals")
    return compute(bike, _each("proposals", document.proposals, proposal_of))


def read_bike(values: dict[str, Any]) -> machine.Bike:
    """Return the machine of a bike object as plain values, as in a plan document."""
    return bike_of(_validated(BikeDocument, values))


class _Last(threading.local):
    """The sheet this thread read last, and its machine: a request asks for it several times."""

    sheet: Sheet | None = None
    bike: machine.Bike | None = None


_last = _Last()


def read_sheet(sheet: Sheet) -> machine.Bike:
    """Return the machine of a sheet; refuses one with figures no machine has."""
    if _last.sheet is not sheet or _last.bike is None:
        _last.bike, _last.sheet = read_bike(sheet.bike_values()), sheet
    return _last.bike


def read_proposal(values: dict[str, Any]) -> machine.Proposal:
    """Return the proposal of an object as plain values, as in a plan document."""
    return proposal_of(_validated(ProposalDocument, values))


M = TypeVar("M", bound=Part)


def read_kept(kept: KeptProposal) -> machine.Proposal:
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
    )


def _known_sensor(change: wheels.WheelChange) -> wheels.WheelChange:
    if change.tire is None:
        return change
    return replace(change, sensor=wheels.merged(wheels.Sensor("same", "same"), change.sensor))


def _validated(model: type[M], values: Any) -> M:
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


def _unique(names: list[str], path: str) -> None:
    seen: set[str] = set()
    for place, name in enumerate(names):
        field = f"{path}[{place}].name"
        if not name.strip():
            raise DocumentError("The name is blank.", field=field, expected="a name")
        if name.strip() in seen:
            raise DocumentError(
                f"The name “{name}” is used twice.", field=field, expected="names that differ"
            )
        seen.add(name.strip())


def _head_angle(document: BikeDocument) -> float:
    head, rake = document.head_angle_deg, document.rake_deg
    if head is None and rake is None:
        raise DocumentError(
            "“head_angle_deg” is missing; a motorcycle may give “rake_deg” instead.",
            field="head_angle_deg",
            expected="a head angle or a rake",
        )
    if head is None:
        assert rake is not None
        within = LIMITS["rake_deg"]
        if not within[0] <= rake <= within[1]:
            raise OutOfRange(
                f"{rake:g} is outside 0 to 70 degrees.",
                field="rake_deg",
                expected="0 to 70 degrees",
            )
        return 90.0 - rake
    if rake is not None and not abs(90.0 - rake - head) <= 1e-6:
        raise OutOfRange(
            f"A head angle of {head:g}° is a rake of {90 - head:g}°, not {rake:g}°.",
            field="rake_deg",
            expected="head angle and rake that add up to 90°",
        )
    return head


def _fork_length(fork: ForkDocument) -> float:
    """Return the length along the axis; one given straight is the longer side of a triangle."""
    straight = fork.axle_to_crown_mm
    if straight is None:
        if fork.length_mm is None:
            raise DocumentError(
                "“fork.length_mm” is missing; “fork.axle_to_crown_mm” may stand in its place.",
                field="fork.length_mm",
                expected="a length in mm",
            )
        return fork.length_mm
    if straight <= abs(fork.offset_mm):
        raise OutOfRange(
            f"Axle to crown, {straight:g} mm, is not longer than the offset of {fork.offset_mm:g}.",
            field="fork.axle_to_crown_mm",
            expected="a length above the offset",
        )
    length = math.sqrt(straight**2 - fork.offset_mm**2)
    if fork.length_mm is not None and abs(fork.length_mm - length) > _SAME_LENGTH_MM:
        raise OutOfRange(
            f"A fork of {straight:g} mm axle to crown is {length:.1f} mm along the axis, not "
            f"{fork.length_mm:g}.",
            field="fork.axle_to_crown_mm",
            expected="one of the two lengths, or both alike",
        )
    return length if fork.length_mm is None else fork.length_mm


_SAME_LENGTH_MM = 0.5


def _point(document: PointDocument) -> machine.NamedPoint:
    return machine.NamedPoint(**document.model_dump())


def _clearance(document: ClearanceDocument) -> machine.Clearance:
    return machine.Clearance(**document.model_dump())


def _speedometer(document: SpeedometerDocument | None) -> machine.Speedometer | None:
    if document is None:
        return None
    with blamed_on("speedometer"):
        return machine.Speedometer(**document.model_dump())


def _gearing(document: GearingDocument | None) -> Gearing:
    if document is None:
        return UNGEARED
    with blamed_on("gearing"):
        return Gearing(
            chainrings=tuple(document.chainrings),
            sprockets=tuple(document.sprockets),
            primary_ratio=document.primary_ratio,
            gear_ratios=tuple(document.gear_ratios),
            front_sprocket=document.front_sprocket,
            rear_sprocket=document.rear_sprocket,
            most_rpm=document.most_rpm,
        )


def _side_stand(document: SideStandDocument | None) -> machine.SideStand | None:
    if document is None:
        return None
    with blamed_on("side_stand"):
        return machine.SideStand(**document.model_dump())


def _center_stand(document: CenterStandDocument | None) -> machine.CenterStand | None:
    if document is None:
        return None
    with blamed_on("center_stand"):
        return machine.CenterStand(**document.model_dump())


def _suspension(document: SuspensionDocument | None) -> Suspension:
    if document is None:
        return RIGID
    front, rear = document.front, document.rear
    with blamed_on("suspension.front"):
        front_travel = Travel(front.travel_mm, front.sag_mm)
    with blamed_on("suspension.rear"):
        rear_travel = Travel(rear.travel_mm, rear.sag_mm)
        shock = Shock(rear.shock_mm, rear.leverage, rear.link_ratio)
        pivot = None
        if rear.pivot_x_mm is not None and rear.pivot_height_mm is not None:
            pivot = (rear.pivot_x_mm, rear.pivot_height_mm)
        return Suspension(State(document.measured), front_travel, rear_travel, shock, pivot)


def _position(document: PositionDocument) -> Position:
    return Position(**document.model_dump())


def _design(document: DesignDocument | None) -> dict[str, float]:
    """Return the maker's own figures by key; a rake is given as the head angle it is."""
    if document is None:
        return {}
    figures = {name: value for name, value in document.model_dump().items() if value is not None}
    rake = figures.pop("rake_deg", None)
    if rake is not None:
        figures.setdefault("head_angle_deg", 90.0 - rake)
    for name, value in figures.items():
        with blamed_on("design"):
            check_figure(name, value)
    return figures


def bike_of(document: BikeDocument) -> machine.Bike:
    """Return the machine a validated document describes; paths are relative to it."""
    _named(document.name)
    _unique([point.name for point in document.points], "points")
    _unique([place.name for place in document.clearances], "clearances")
    _unique([position.name for position in document.positions], "positions")
    _unique([pair.name for pair in document.approved], "approved")
    with blamed_on("front"):
        front = wheel(document.front)
    with blamed_on("rear"):
        rear = wheel(document.rear)
    return machine.Bike(
        name=document.name,
        kind=document.kind,
        vehicle_class=document.vehicle_class or document.kind,
        wheelbase_mm=document.wheelbase_mm,
        head_angle_deg=_head_angle(document),
        fork_length_mm=_fork_length(document.fork),
        fork_offset_mm=document.fork.offset_mm,
        chainstay_mm=document.chainstay_mm,
        bb_height_mm=document.bb_height_mm,
        seat_angle_deg=document.seat_angle_deg,
        steering_lock_deg=document.steering_lock_deg,
        stack_mm=document.stack_mm,
        reach_mm=document.reach_mm,
        crank_mm=document.crank_mm,
        front=front,
        rear=rear,
        spec=specs(document.spec),
        points=_each("points", document.points, _point),
        speedometer=_speedometer(document.speedometer),
        clearances=_each("clearances", document.clearances, _clearance),
        side_stand=_side_stand(document.side_stand),
        center_stand=_center_stand(document.center_stand),
        mass=part_of("mass", document.mass, machine.WEIGHTLESS),
        approved=_each("approved", document.approved, approved),
        suspension=_suspension(document.suspension),
        positions=_each("positions", document.positions, _position),
        fork_longest_mm=document.fork.longest_mm,
        fork_rated_bead_seat_mm=document.fork.rated_bead_seat_mm,
        frame_material=document.frame_material,
        outfit=document.outfit,
        rider_kg=document.rider_kg,
        luggage_kg=document.luggage_kg,
        design=_design(document.design),
        gearing=_gearing(document.gearing),
        top_speed_kmh=document.top_speed_kmh,
        use=document.use,
        ground=document.ground,
        pedal_edge_mm=document.pedal_edge_mm,
        pedals=document.pedals,
    )


def proposal_of(document: ProposalDocument) -> machine.Proposal:
    """Return the proposal a validated document describes; paths are relative to it."""
    fork, shift = document.fork, document.rear_axle_shift_mm
    with blamed_on("front"):
        front = wheel_change(document.front)
    with blamed_on("rear"):
        rear = wheel_change(document.rear)
    return machine.Proposal(
        name=_named(document.name),
        front=front,
        rear=rear,
        fork_length_mm=fork.length_mm if fork else None,
        fork_offset_mm=fork.offset_mm if fork else None,
        lower_cup_mm=document.lower_cup_mm or 0.0,
        rear_shift_x_mm=shift.x if shift else 0.0,
        rear_shift_y_mm=shift.y if shift else 0.0,
        position=document.position,
        fork_travel_mm=fork.travel_mm if fork else None,
        headset_turn_deg=document.headset_turn_deg or 0.0,
        shock_mm=document.shock_mm,
        link_longer_mm=document.link_longer_mm or 0.0,
        contact=_contact(document.contact),
        front_sprocket=document.gearing.front_sprocket if document.gearing else None,
        rear_sprocket=document.gearing.rear_sprocket if document.gearing else None,
    )


def _contact(document: ContactDocument | None) -> machine.ContactChange:
    if document is None:
        return machine.UNTOUCHED
    with blamed_on("contact"):
        return machine.ContactChange(**document.model_dump())


def proposal_document(proposal: machine.Proposal) -> dict[str, Any]:
    """Return a proposal as a plan document holds it, with only what it changes."""
    contact = proposal.contact
    document: dict[str, Any] = {
        "name": proposal.name,
        "front": _wheel_document(proposal.front),
        "rear": _wheel_document(proposal.rear),
        "fork": {
            "length_mm": proposal.fork_length_mm,
            "offset_mm": proposal.fork_offset_mm,
            "travel_mm": proposal.fork_travel_mm,
        },
        "lower_cup_mm": proposal.lower_cup_mm or None,
        "rear_axle_shift_mm": {"x": proposal.rear_shift_x_mm, "y": proposal.rear_shift_y_mm}
        if proposal.rear_shift_x_mm or proposal.rear_shift_y_mm
        else None,
        "position": proposal.position,
        "headset_turn_deg": proposal.headset_turn_deg or None,
        "shock_mm": proposal.shock_mm,
        "link_longer_mm": proposal.link_longer_mm or None,
        "contact": {name: value for name, value in asdict(contact).items() if value},
        "gearing": {
            "front_sprocket": proposal.front_sprocket,
            "rear_sprocket": proposal.rear_sprocket,
        },
    }
    return {name: part for name, value in document.items() if (part := _kept(value))}


def _kept(value: Any) -> Any:
    """Return a part without what it does not say; an empty part is nothing."""
    if isinstance(value, dict):
        parts = {name: part for name, one in value.items() if (part := _kept(one)) is not None}
        return parts or None
    return value


def _wheel_document(change: wheels.WheelChange) -> dict[str, Any]:
    return {
        "tire": change.tire.text if change.tire else None,
        "overall_diameter_mm": change.overall_diameter_mm,
        "rim": (asdict(change.rim) if change.rim else None),
        "tone_ring_slots": change.tone_ring_slots,
        "fitted": asdict(change.fitted),
        "hub": asdict(change.hub),
        "sensor": asdict(change.sensor),
    }
