"""The parts of a plan document, as they may stand in the file: shapes and types, no judgement."""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from jentrik.core.tirecode.rim_marks import read_rim

MOST_PROPOSALS, MOST_POINTS, MOST_CLEARANCES = 100, 200, 100
MOST_APPROVED, MOST_POSITIONS = 100, 100
Figure = Annotated[float, Field(strict=True)]
Words = Annotated[str, Field(max_length=80)]


class DocumentPart(BaseModel):
    """A part of the document: only known keys, no guessing of types."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True)


class RimDocument(DocumentPart):
    """A rim."""

    bead_seat_diameter_mm: Figure | None = None
    inner_width_mm: Figure | None = None
    tube: Literal["tubeless", "tube-type"] | None = None
    hooks: Literal["hooked", "hookless"] | None = None
    build: Literal["laced", "cast"] | None = None
    most_kpa: Figure | None = None
    most_kpa_at_mm: Figure | None = None
    valve_hole_mm: Figure | None = None
    tape_mm: Figure | None = None
    effective_mm: Figure | None = None


def _as_stamped(rim: object) -> object:
    """Return a rim that is given as it is stamped, like 17M/C x MT3.50, by its figures."""
    if not isinstance(rim, str):
        return rim
    stamped = read_rim(rim)
    known = {
        "bead_seat_diameter_mm": stamped.bead_seat_diameter_mm,
        "inner_width_mm": stamped.inner_width_mm,
        "tube": "tubeless" if stamped.tubeless else None,
        "hooks": {True: "hooked", False: "hookless"}.get(stamped.hooked)
        if stamped.hooked is not None
        else None,
    }
    return {
        name: float(value) if isinstance(value, int) else value for name, value in known.items()
    }


StampedRim = Annotated[RimDocument | None, BeforeValidator(_as_stamped)]


class HubDocument(DocumentPart):
    """A hub: what it needs of frame, fork and brake, and what it carries."""

    spacing_mm: Figure | None = None
    axle_mm: Figure | None = None
    rotor_mm: Figure | None = None
    rotor_mount: Words | None = None
    driver: Words | None = None
    chain_line_mm: Figure | None = None
    runout_mm: Figure | None = None
    left_circle_mm: Figure | None = None
    right_circle_mm: Figure | None = None
    left_flange_mm: Figure | None = None
    right_flange_mm: Figure | None = None
    spokes: Figure | None = None
    crossings: Figure | None = None


class SensorDocument(DocumentPart):
    """What is known of another wheel's speed sensor, against the one as found."""

    face: Literal["same", "other"] | None = None
    kind: Literal["same", "other"] | None = None
    runout_mm: Figure | None = None
    holes: Figure | None = None
    circle_mm: Figure | None = None
    hole_mm: Figure | None = None


class RimBrakeDocument(DocumentPart):
    """A rim brake: bolt to pad, and the caliper's slot."""

    pad_reach_mm: Figure | None = None
    slot_mm: Annotated[list[Figure], Field(min_length=2, max_length=2)] | None = None
    mount: Literal["bolt above", "boss below"] | None = None


class FittedDocument(DocumentPart):
    """A tire beyond its code; `made` is week and year as on the sidewall."""

    make: Words | None = None
    made: str | None = None
    tread_mm: Figure | None = None
    arrow: Literal["with the arrow", "against the arrow"] | None = None
    pressure_kpa: Figure | None = None
    most_kpa: Figure | None = None
    most_load_kg: Figure | None = None
    rated_kmh: Figure | None = None
    valve: Literal["narrow", "wide"] | None = None


class AnyWheelDocument(DocumentPart):
    """What a wheel as found and a wheel as a proposal names it have in common."""

    tire: str | None = None
    overall_diameter_mm: Figure | None = None
    rim: StampedRim = None
    tone_ring_slots: Figure | None = None
    fitted: FittedDocument | None = None
    hub: HubDocument | None = None


class WheelChangeDocument(AnyWheelDocument):
    """A wheel as a proposal names it."""

    sensor: SensorDocument | None = None


class WheelDocument(AnyWheelDocument):
    """A wheel as found."""

    rolled_mm: Figure | None = None
    rim_brake: RimBrakeDocument | None = None
    axle_load_kg: Figure | None = None


class ForkDocument(DocumentPart):
    """A fork: length along the steering axis, offset perpendicular to it."""

    length_mm: Figure | None = None
    axle_to_crown_mm: Figure | None = None
    offset_mm: Figure
    longest_mm: Figure | None = None
    longest_axle_to_crown_mm: Figure | None = None
    rated_bead_seat_mm: Figure | None = None


class ForkChangeDocument(DocumentPart):
    """What a proposal says of the fork."""

    length_mm: Figure | None = None
    offset_mm: Figure | None = None
    travel_mm: Figure | None = None


class TravelDocument(DocumentPart):
    """The travel of a fork, and how much of it the rider takes."""

    travel_mm: Figure | None = None
    sag_mm: Figure | None = None


class RearTravelDocument(TravelDocument):
    """The rear: travel of the axle, the shock's length and ratios, the swingarm's pivot."""

    shock_mm: Figure | None = None
    leverage: Figure | None = None
    link_ratio: Figure | None = None
    pivot_x_mm: Figure | None = None
    pivot_height_mm: Figure | None = None


class SuspensionDocument(DocumentPart):
    """The suspension, and the state the machine was measured in."""

    measured: Literal["unladen", "rider on"] = "unladen"
    front: TravelDocument = TravelDocument()
    rear: RearTravelDocument = RearTravelDocument()


class PositionDocument(DocumentPart):
    """A named chip or dropout position: its shift, and the wheel its maker pairs with it."""

    name: str
    x_mm: Figure
    y_mm: Figure
    bead_seat_diameter_mm: Figure | None = None


class DesignDocument(DocumentPart):
    """What the maker's sheet says of the machine it left the works as."""

    head_angle_deg: Figure | None = None
    rake_deg: Figure | None = None
    trail_mm: Figure | None = None
    wheelbase_mm: Figure | None = None
    bb_height_mm: Figure | None = None
    seat_height_mm: Figure | None = None


class ContactDocument(DocumentPart):
    """What a proposal does to bar, saddle and cranks."""

    bar_rise_mm: Figure = 0.0
    spacers_mm: Figure = 0.0
    saddle_rise_mm: Figure = 0.0
    crank_mm: Figure | None = None


class PointDocument(DocumentPart):
    """A named place on the chassis."""

    name: str
    x_mm: Figure
    height_mm: Figure
    out_mm: Figure | None = None


class WheelSpecDocument(DocumentPart):
    """What the maker asks of a wheel."""

    tire: str | None = None
    load_index: Annotated[int, Field(strict=True, ge=0, le=279)] | None = None
    speed_symbol: str | None = None
    construction: Literal["radial", "bias", "bias-belted"] | None = None
    rim_width_mm: Annotated[list[Figure], Field(min_length=2, max_length=2)] | None = None
    make: Words | None = None
    pressure_kpa: Figure | None = None
    most_load_kg: Figure | None = None
    rotor_most_mm: Figure | None = None


class ApprovedDocument(DocumentPart):
    """One pair of tires on the maker's sheet."""

    name: str
    front: WheelSpecDocument
    rear: WheelSpecDocument
    position: str | None = None


class SpecDocument(DocumentPart):
    """The maker's sheet for both wheels."""

    front: WheelSpecDocument | None = None
    rear: WheelSpecDocument | None = None


class SpeedometerDocument(DocumentPart):
    """The wheel that feeds the instrument."""

    wheel: Literal["front", "rear", "gearbox"]
    reads_over_percent: Figure | None = None
    offset_kmh: Figure = 0.0
    within_kmh: Figure | None = None
    within_at_kmh: Figure | None = None
    within_percent: Figure | None = None
    kind: Literal["type-approved", "computer"] | None = None
    setting_mm: Figure | None = None


class GearingDocument(DocumentPart):
    """Teeth and ratios."""

    chainrings: list[Figure] = []
    sprockets: list[Figure] = []
    primary_ratio: Figure | None = None
    gear_ratios: list[Figure] = []
    front_sprocket: Figure | None = None
    rear_sprocket: Figure | None = None
    most_rpm: Figure | None = None


class ClearanceDocument(DocumentPart):
    """A gap at a named place."""

    name: str
    wheel: Literal["front", "rear"]
    direction: Literal["radial", "side"]
    on: Literal["frame", "fork"] = "frame"
    gap_mm: Annotated[Figure, Field(ge=0)]
    minimum_mm: Figure | None = None
    bearing_deg: Figure | None = None
    from_axle_mm: Figure | None = None
    moves_with: Literal["wheel", "body"] | None = None


class SideStandDocument(DocumentPart):
    """The side stand as it holds the machine now."""

    lean_deg: Figure
    foot_out_mm: Figure
    foot_x_mm: Figure
    pivot_height_mm: Figure | None = None
    pivot_out_mm: Figure | None = None


class CenterStandDocument(DocumentPart):
    """The center stand as it lifts a wheel now."""

    lifts: Literal["front", "rear"] = "rear"
    gap_mm: Figure
    feet_x_mm: Figure


class MassDocument(DocumentPart):
    """The machine without its rider, and its center of mass."""

    kg: Figure | None = None
    center_x_mm: Figure | None = None
    center_height_mm: Figure | None = None


class BikeDocument(DocumentPart):
    """A machine as found."""

    name: str
    kind: Literal["bicycle", "motorcycle"]
    vehicle_class: Annotated[
        Literal["moped", "motorcycle", "car", "pedelec", "pedelec-45"] | None, Field(alias="class")
    ] = None
    wheelbase_mm: Figure
    head_angle_deg: Figure | None = None
    rake_deg: Figure | None = None
    fork: ForkDocument
    chainstay_mm: Figure | None = None
    bb_height_mm: Figure | None = None
    seat_angle_deg: Figure | None = None
    steering_lock_deg: Figure | None = None
    stack_mm: Figure | None = None
    reach_mm: Figure | None = None
    crank_mm: Figure | None = None
    front: WheelDocument
    rear: WheelDocument
    points: Annotated[list[PointDocument], Field(max_length=MOST_POINTS)] = []
    spec: SpecDocument | None = None
    speedometer: SpeedometerDocument | None = None
    clearances: Annotated[list[ClearanceDocument], Field(max_length=MOST_CLEARANCES)] = []
    side_stand: SideStandDocument | None = None
    center_stand: CenterStandDocument | None = None
    mass: MassDocument | None = None
    approved: Annotated[list[ApprovedDocument], Field(max_length=MOST_APPROVED)] = []
    suspension: SuspensionDocument | None = None
    positions: Annotated[list[PositionDocument], Field(max_length=MOST_POSITIONS)] = []
    design: DesignDocument | None = None
    gearing: GearingDocument | None = None
    top_speed_kmh: Figure | None = None
    use: Literal["city", "trekking", "mountain", "youth", "child", "racing"] | None = None
    ground: Literal["paved", "unpaved", "mud"] | None = None
    pedal_edge_mm: Figure | None = None
    pedals: Literal["flat", "foot retention"] | None = None
    frame_material: Literal["steel", "aluminium", "carbon", "titanium"] | None = None
    outfit: Literal["solo", "sidecar", "trailer"] | None = None
    rider_kg: Figure | None = None
    luggage_kg: Figure | None = None


class ShiftDocument(DocumentPart):
    """How far the rear axle moves in the chassis's frame."""

    x: Figure = 0.0
    y: Figure = 0.0


class SprocketsDocument(DocumentPart):
    """The sprockets a proposal names."""

    front_sprocket: Figure | None = None
    rear_sprocket: Figure | None = None


class ProposalDocument(DocumentPart):
    """What someone would change."""

    name: str
    front: WheelChangeDocument | None = None
    rear: WheelChangeDocument | None = None
    fork: ForkChangeDocument | None = None
    lower_cup_mm: Figure | None = None
    rear_axle_shift_mm: ShiftDocument | None = None
    position: str | None = None
    headset_turn_deg: Figure | None = None
    shock_mm: Figure | None = None
    link_longer_mm: Figure | None = None
    contact: ContactDocument | None = None
    gearing: SprocketsDocument | None = None


def _no_truth(value: Any) -> Any:
    """Keep `true` from passing for the number 1."""
    return str(value) if isinstance(value, bool) else value


class PlanDocument(DocumentPart):
    """A machine as found, and proposals."""

    format: Literal["jentrik-plan"]
    version: Annotated[Literal[1], BeforeValidator(_no_truth)]
    on: Annotated[date, Field(strict=False)] | None = None
    bike: BikeDocument
    proposals: Annotated[list[ProposalDocument], Field(max_length=MOST_PROPOSALS)] = []
