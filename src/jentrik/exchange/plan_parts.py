"""The parts of a plan document, as they may stand in the file: shapes and types, no judgement.

A part's keys, words to choose from and what must be there are those of the machine's own class;
only what a document says otherwise stands here.
"""

from dataclasses import MISSING
from datetime import date
from types import GenericAlias
from typing import TYPE_CHECKING, Annotated, Any, Literal, get_args, get_origin

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, create_model, model_validator

from jentrik.core.machine import build, machine, room_line, suspension, wheel
from jentrik.core.machine.declared import Attribute, Declared, attributes
from jentrik.core.machine.gearing import Gearing
from jentrik.core.machine.proposal import ContactChange
from jentrik.core.plan.proposed_setup import PLAIN_CHANGES
from jentrik.core.tire.rim_marks import read_rim

MOST_PROPOSALS, MOST_POINTS, MOST_CLEARANCES = 100, 200, 100
MOST_APPROVED, MOST_POSITIONS = 100, 100
Figure = Annotated[float, Field(strict=True)]
Words = Annotated[str, Field(max_length=80)]
Named = Annotated[str, Field(json_schema_extra={"pattern": r"\S"})]  # refused in words


class DocumentPart(BaseModel):
    """A part of the document: only known keys, no guessing of types."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True)


def _document(
    name: str,
    says: str,
    /,
    *parts: type[Declared],
    base: type[DocumentPart] = DocumentPart,
    without: tuple[str, ...] = (),
    **more: Any,
) -> type[DocumentPart]:
    """Return the document of parts of a machine.

    `without` are keys that stand elsewhere, `more` those that a document has beside or otherwise.
    """
    known: dict[str, Any] = {}
    for part in parts:
        for attribute in attributes(part):
            shape = _shape(attribute)
            if shape is not None:
                known |= {
                    key: _field(part, attribute, shape)
                    for key in attribute.keys
                    if key not in without
                }
    return create_model(name, __base__=base, __doc__=says, **known | more)


def _shape(one: Attribute) -> Any:
    """Return how a figure, a word or a row of figures stands in a document; None of a part."""
    kind, known = one.type, one.about[0]
    if get_origin(kind) is Literal:
        return kind
    if get_origin(kind) is tuple and get_args(kind)[0] is float:
        if get_args(kind)[-1] is Ellipsis:
            return list[Figure]
        return Annotated[list[Figure], Field(min_length=2, max_length=2)]
    if kind is int and known.between:
        least, most = (int(end) for end in known.between)
        return Annotated[int, Field(strict=True, ge=least, le=most)]
    if known.choices:
        return Literal[known.choices]
    if kind is float:
        return Figure
    if kind is not str:
        return None
    return Named if one.name == "name" else Words if known.words else str


def _field(part: type[Declared], one: Attribute, shape: Any) -> tuple[Any, Any]:
    """Return a key of a document; one of two ways to say a thing may be left out."""
    default = part.__dataclass_fields__[one.name].default
    if default is MISSING and len(one.keys) == 1:
        return shape, ...
    if default is MISSING or default is None:
        return shape | None, None
    return shape, list(default) if isinstance(default, tuple) else default


def _rows(of: type[DocumentPart], most: int) -> tuple[Any, Any]:
    return GenericAlias(list, (of,)), Field(default=[], max_length=most)


class _StampedRim(DocumentPart):
    @model_validator(mode="before")
    @classmethod
    def _as_stamped(cls, rim: object) -> object:
        """Return a rim that is given as it is stamped, like 17M/C x MT3.50, by its figures."""
        if not isinstance(rim, str):
            return rim
        stamped = read_rim(rim)
        hooks = {True: "hooked", False: "hookless"}
        known = {
            "bead_seat_diameter_mm": stamped.bead_seat_diameter_mm,
            "inner_width_mm": stamped.inner_width_mm,
            "tube": "tubeless" if stamped.tubeless else None,
            "hooks": None if stamped.hooked is None else hooks[stamped.hooked],
        }
        return {
            name: float(value) if isinstance(value, int) else value for name, value in known.items()
        }


_TIRE = (str | None, None)
_WHEEL_PARTS: dict[str, Any] = {
    "tire": _TIRE,
    "rim": (_document("RimDocument", "A rim.", wheel.Rim, base=_StampedRim) | None, None),
    "fitted": (
        _document(
            "FittedDocument",
            "A tire beyond its code; `made` is week and year as on the sidewall.",
            wheel.Fitted,
        )
        | None,
        None,
    ),
    "hub": (
        _document(
            "HubDocument",
            "A hub: what it needs of frame, fork and brake, and what it carries.",
            wheel.Hub,
        )
        | None,
        None,
    ),
    "rim_brake": (
        _document(
            "RimBrakeDocument", "A rim brake: bolt to pad, and the caliper's slot.", wheel.RimBrake
        )
        | None,
        None,
    ),
}
_Sensor = _document(
    "SensorDocument",
    "What is known of another wheel's speed sensor, against the one as found.",
    wheel.Sensor,
)
_WheelChange = _document(
    "WheelChangeDocument",
    "A wheel as a proposal names it.",
    wheel.WheelChange,
    **_WHEEL_PARTS,
    sensor=(_Sensor | None, None),
)
_Wheel = _document("WheelDocument", "A wheel as found.", wheel.Wheel, **_WHEEL_PARTS)
_Fork = _document(
    "ForkDocument",
    "A fork: length along the steering axis, offset perpendicular to it.",
    machine.Fork,
)
_Travel = _document(
    "TravelDocument", "The travel of a fork, and how much of it the rider takes.", suspension.Travel
)
_RearTravel = _document(
    "RearTravelDocument",
    "The rear: travel of the axle, the shock's length and ratios, the swingarm's pivot.",
    suspension.Shock,
    base=_Travel,
    pivot_x_mm=(Figure | None, None),
    pivot_height_mm=(Figure | None, None),
)
_Suspension = _document(
    "SuspensionDocument",
    "The suspension, and the state the machine was measured in.",
    suspension.Suspension,
    front=(_Travel, _Travel()),
    rear=(_RearTravel, _RearTravel()),
)
_Position = _document(
    "PositionDocument",
    "A named chip or dropout position: its shift, and the wheel its maker pairs with it.",
    suspension.Position,
)
_Design = _document(
    "DesignDocument",
    "What the maker's sheet says of the machine it left the works as.",
    machine.Design,
)
_Point = _document("PointDocument", "A named place on the chassis.", machine.NamedPoint)
_WheelSpec = _document(
    "WheelSpecDocument",
    "What the maker asks of a wheel.",
    wheel.WheelSpec,
    tire=_TIRE,
    make=(Words | None, None),
)
_Approved = _document(
    "ApprovedDocument",
    "One pair of tires on the maker's sheet.",
    name=(str, ...),
    front=(_WheelSpec, ...),
    rear=(_WheelSpec, ...),
    position=(str | None, None),
)
_Spec = _document(
    "SpecDocument",
    "The maker's sheet for both wheels.",
    front=(_WheelSpec | None, None),
    rear=(_WheelSpec | None, None),
)
_Speedometer = _document(
    "SpeedometerDocument", "The wheel that feeds the instrument.", machine.Speedometer
)
_Gearing = _document("GearingDocument", "Teeth and ratios.", Gearing)
_Clearance = _document(
    "ClearanceDocument",
    "A gap at a named place.",
    machine.Clearance,
    gap_mm=(Annotated[Figure, Field(ge=0)], ...),
)
_RoomLine = _document(
    "RoomLineDocument",
    "The width inside at a distance from the axle, or a limit straight ahead of the tread.",
    room_line.RoomLine,
)
_SideStand = _document(
    "SideStandDocument", "The side stand as it holds the machine now.", machine.SideStand
)
_CenterStand = _document(
    "CenterStandDocument", "The center stand as it lifts a wheel now.", machine.CenterStand
)
_Mass = _document(
    "MassDocument", "The machine without its rider, and its center of mass.", machine.Mass
)
_Bike = _document(
    "BikeDocument",
    "A machine as found.",
    machine.Bike,
    machine.Frame,
    machine.Cranks,
    machine.Riding,
    build.Build,
    without=("class",),
    vehicle_class=(
        Annotated[
            Literal["moped", "motorcycle", "car", "pedelec", "pedelec-45"] | None,
            Field(alias="class"),
        ],
        None,
    ),
    fork=(_Fork, ...),
    front=(_Wheel, ...),
    rear=(_Wheel, ...),
    points=_rows(_Point, MOST_POINTS),
    spec=(_Spec | None, None),
    speedometer=(_Speedometer | None, None),
    clearances=_rows(_Clearance, MOST_CLEARANCES),
    room=_rows(_RoomLine, MOST_CLEARANCES),
    side_stand=(_SideStand | None, None),
    center_stand=(_CenterStand | None, None),
    mass=(_Mass | None, None),
    approved=_rows(_Approved, MOST_APPROVED),
    suspension=(_Suspension | None, None),
    positions=_rows(_Position, MOST_POSITIONS),
    design=(_Design | None, None),
    gearing=(_Gearing | None, None),
    sidecar=(_document("SidecarDocument", "A sidecar's own wheel.", machine.Sidecar) | None, None),
)


class NamedProposal(DocumentPart):
    """What someone would change, by its name."""

    name: str


_GROUPS = {
    "fork": ("ForkChangeDocument", "What a proposal says of the fork."),
    "rear_axle_shift_mm": ("ShiftDocument", "How far the rear axle moves in the chassis's frame."),
    "gearing": ("SprocketsDocument", "The sprockets a proposal names."),
    "speedometer": ("InstrumentChangeDocument", "What a proposal does to the instrument."),
}


def _changes() -> dict[str, Any]:
    """Return what a proposal says besides the wheels, each group in a document of its own."""
    changes: dict[str, Any] = {}
    groups: dict[str, dict[str, Any]] = {}
    for key, shape in ((one.keys[0], _shape(one)) for one in PLAIN_CHANGES):
        group, _, leaf = key.rpartition(".")
        (groups.setdefault(group, {}) if group else changes)[leaf] = (shape | None, None)
    for group, fields in groups.items():
        changes[group] = (_document(*_GROUPS[group], **fields) | None, None)
    return changes


_Proposal = _document(
    "ProposalDocument",
    "What someone would change.",
    base=NamedProposal,
    front=(_WheelChange | None, None),
    rear=(_WheelChange | None, None),
    contact=(
        _document(
            "ContactDocument", "What a proposal does to bar, saddle and cranks.", ContactChange
        )
        | None,
        None,
    ),
    **_changes(),
)
if TYPE_CHECKING:
    BikeDocument = DocumentPart
    ProposalDocument = NamedProposal
else:
    BikeDocument, ProposalDocument = _Bike, _Proposal


def _no_truth(value: Any) -> Any:
    """Keep `true` from passing for the number 1."""
    return str(value) if isinstance(value, bool) else value


class PlanDocument(DocumentPart):
    """A machine as found, and proposals."""

    format: Literal["jentrik-plan"]
    version: Annotated[Literal[1], BeforeValidator(_no_truth)]
    on: Annotated[date, Field(strict=False)] | None = None
    advise: Annotated[bool, Field(description="Whether each proposal gets its answer")] = False
    bike: BikeDocument
    proposals: Annotated[list[ProposalDocument], Field(max_length=MOST_PROPOSALS)] = []
