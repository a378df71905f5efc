"""Machines and changes the cases of the rules are made of."""

from typing import Any

from jentrik.exchange.plan_document import plan_from_json
from tests.documents import MOTORCYCLE, PLAN, plan, raw

CAR, TUBE = "195/65R15 91H", {"tire": "110/80-18 58H TT", "rim": {"tube": "tubeless"}}
HEAD_1_SLACKER = {"rear": {"overall_diameter_mm": 696 - 2 * 20}}  # asin(20 / 1050) = 1.09 degrees


def found(*proposals: Any, base: dict[str, Any] = PLAN, **bike: Any) -> set[Any]:
    result = plan_from_json(raw(plan(*proposals, base=base, **bike)))
    return {(f.rule, f.severity.value, f.where) for f in result.outcomes[0].findings}


def rules(*proposals: Any, base: dict[str, Any] = PLAN, **bike: Any) -> set[Any]:
    return {rule for rule, _, _ in found(*proposals, base=base, **bike)}


def front(tire: str) -> dict[str, dict[str, str]]:
    return {"front": {"tire": tire}}


CRANKS = {"crank_mm": 170, "chainstay_mm": 445, "bb_height_mm": 275}
SADDLE = [{"name": "saddle", "x_mm": 120, "height_mm": 600}]


def front_diameter(diameter: float) -> dict[str, Any]:
    return {"front": {"overall_diameter_mm": diameter}}


def rear_tire(tire: str) -> dict[str, dict[str, str]]:
    return {"rear": {"tire": tire}}


def sides(
    inside: float, first: float = 290, last: float = 340, tape_mm: float | None = None, **more: Any
) -> dict[str, list[Any]]:
    line = {"name": "chain stays", "wheel": "rear", "inside_mm": inside, **more}
    tape = {"name": "Chain stays", "wheel": "rear", "direction": "side", "gap_mm": tape_mm}
    return {
        "room": [line | {"from_axle_mm": first}, line | {"from_axle_mm": last}],
        "clearances": [] if tape_mm is None else [tape],
    }


def stated(**figures: Any) -> dict[str, dict[str, dict[str, Any]]]:
    return {"spec": {"front": figures}}


def both(diameter: float) -> dict[str, Any]:
    wheel = {"overall_diameter_mm": diameter}
    return {"front": wheel, "rear": wheel}


def travel(travel_mm: int) -> dict[str, dict[str, int]]:
    return {"front": {"travel_mm": travel_mm, "sag_mm": 30}}


def rear_travel(travel_mm: int) -> dict[str, dict[str, int]]:
    return {"front": {"travel_mm": 0}, "rear": {"travel_mm": travel_mm, "sag_mm": 30}}


def both_travels(travel_mm: int) -> dict[str, dict[str, int]]:
    return {end: {"travel_mm": travel_mm, "sag_mm": 30} for end in ("front", "rear")}


def both_wheels(front_tire: str, rear_tire: str) -> dict[str, dict[str, str]]:
    return {"front": {"tire": front_tire}, "rear": {"tire": rear_tire}}


def made(front_make: str, rear_make: str | None) -> dict[str, dict[str, dict[str, Any]]]:
    return {"front": {"fitted": {"make": front_make}}, "rear": {"fitted": {"make": rear_make}}}


def tread(tread_mm: float | None) -> dict[str, Any]:
    change = {"front": {"tire": "90/90-21 54H", "fitted": {"tread_mm": tread_mm}}}
    return plan(change, base=MOTORCYCLE)


def hookless(pressure_kpa: int | None) -> dict[str, Any]:
    wheel = {
        "tire": "37-622",
        "rim": {"hooks": "hookless" if pressure_kpa else None},
        "fitted": {"pressure_kpa": pressure_kpa},
    }
    return plan({"front": wheel})


def hub(
    name: str, found_as: float | str, planned: float | str, alike: float | str
) -> tuple[dict[str, Any], dict[str, Any], dict[str, Any]]:
    """Return plans of a rear hub that differs, that is alike, and of one no one knows."""
    rear = {"tire": "37-622", "hub": {name: found_as}}
    return (
        plan({"rear": {"hub": {name: planned}}}, rear=rear),
        plan({"rear": {"hub": {name: alike}}}, rear=rear),
        plan({"rear": {"hub": {name: planned}}}),
    )


def sensor(
    name: str, bad: float | str, good: float | str
) -> tuple[dict[str, Any], dict[str, Any], dict[str, Any]]:
    def answered(value: float | str | None) -> dict[str, Any]:
        return plan({"front": {"sensor": {name: value}}}, base=MOTORCYCLE, front=RING)

    return answered(bad), answered(good), answered(None)


def lower(by_mm: float, **bike: Any) -> dict[str, Any]:
    """Return a plan whose wheels let the whole machine down, level."""
    wheels = {
        "front": {"overall_diameter_mm": 695 - 2 * by_mm},
        "rear": {"overall_diameter_mm": 640 - 2 * by_mm},
    }
    return plan(wheels, base=MOTORCYCLE, **bike)


def ring(slots: int | None, diameter: float) -> dict[str, Any]:
    return {"front": {"tone_ring_slots": slots, "overall_diameter_mm": diameter}}


def rim(tire: str, **figures: Any) -> dict[str, dict[str, Any]]:
    return {"front": {"tire": tire, "rim": figures}}


def narrow_or_wide(valve: str, hole_mm: float | None) -> dict[str, Any]:
    return plan({"front": {"fitted": {"valve": valve}, "rim": {"valve_hole_mm": hole_mm}}})


def hookless_pressure(kpa: int | None) -> dict[str, Any]:
    return plan(
        {
            "front": {
                **rim("40-622", hooks="hookless", inner_width_mm=25)["front"],
                "fitted": {"pressure_kpa": kpa},
            }
        }
    )


def on_sidewall(most_load_kg: int) -> dict[str, dict[str, dict[str, Any]]]:
    return {"rear": {"fitted": {"most_load_kg": most_load_kg}}}


def pumped(kpa: int) -> dict[str, dict[str, dict[str, Any]]]:
    return {"rear": {"fitted": {"pressure_kpa": kpa}}}


def pedelec(rated_kmh: int | None) -> dict[str, Any]:
    return plan({"front": {"fitted": {"rated_kmh": rated_kmh}}}, **{"class": "pedelec"})


def rear_hub(spacing_mm: float, material: str | None) -> dict[str, Any]:
    return plan(
        {"rear": {"hub": {"spacing_mm": spacing_mm}}},
        frame_material=material,
        rear={"tire": "37-622", "hub": {"spacing_mm": 126}},
    )


def rated(bead_seat_mm: int | None) -> dict[str, Any]:
    fork = {"length_mm": 395, "offset_mm": 50, "rated_bead_seat_mm": bead_seat_mm}
    return plan(front("47-622"), fork=fork)


def fast_front(axle_kg: int | None) -> dict[str, Any]:
    wheel = {**FRONT, "axle_load_kg": axle_kg}
    return plan(front("90/90-21 54V"), base=MOTORCYCLE, front=wheel, top_speed_kmh=220)


def in_a_gust(by_mm: float, **mass: Any) -> dict[str, Any]:
    return lower(by_mm, mass=mass, points=[{"name": "seat", "x_mm": 450, "height_mm": 820}])


def beside(diameter: float, lock: int | None) -> dict[str, Any]:
    """Return a plan with a place 7 mm behind the front tread and 80 mm to its side."""
    place = {
        "name": "fairing",
        "wheel": "front",
        "direction": "side",
        "gap_mm": 80,
        "bearing_deg": 180,
        "from_axle_mm": 355,
    }
    upright = {"head_angle_deg": 90.0, "fork": {"length_mm": 395, "offset_mm": 0}}
    change = {"front": {"overall_diameter_mm": diameter}}
    return plan(change, clearances=[place], steering_lock_deg=lock, **upright)


def rear_dia(diameter: int, stand: int | None = 20) -> dict[str, Any]:
    center = {"gap_mm": stand, "feet_x_mm": 300} if stand else None
    change = {"rear": {"overall_diameter_mm": diameter}}
    return plan(change, base=MOTORCYCLE, center_stand=center)


FRONT = {"tire": "90/90-21 54H"}
HEAVY = {"kg": 180, "center_x_mm": 700, "center_height_mm": 550}
WIDTHS = stated(rim_width_mm=[47, 60])
APPROVED = [
    {
        "name": "first",
        "front": {"tire": "90/90-21 54H", "make": "Gull A"},
        "rear": {"tire": "130/80-17 65H", "make": "Gull B"},
        "position": "low",
    }
]
RING = {"tire": "90/90-21 54H", "tone_ring_slots": 48}
GAP = [{"name": "crown", "wheel": "front", "direction": "radial", "on": "fork", "gap_mm": 14}]
MOTOR_GAP = [{**GAP[0], "gap_mm": 15}]
BODY = [{**GAP[0], "gap_mm": 60, "bearing_deg": 109, "moves_with": "body"}]
CHAIN = {"name": "chain", "wheel": "rear", "direction": "side", "gap_mm": 7}
LOW_SADDLE = [{"name": "saddle", "x_mm": 20, "height_mm": 848}]
SUMP = [{"name": "sump", "x_mm": 700, "height_mm": 92}]
PEG = [{"name": "pegs", "x_mm": 600, "height_mm": 380, "out_mm": 330}]
LONGEST_405 = {"length_mm": 395, "offset_mm": 50, "longest_mm": 405}
CHIP = [
    {"name": "high", "x_mm": 0, "y_mm": 0, "bead_seat_diameter_mm": 622},
    {"name": "low", "x_mm": 0, "y_mm": 6, "bead_seat_diameter_mm": 584},
]
RIM_559 = {"tire": "37-622", "rim": {"bead_seat_diameter_mm": 559}}
BRAKE = {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52, "slot_mm": [47, 71]}}
SHORT_BRAKE = {"tire": "37-622", "rim_brake": {"pad_reach_mm": 52, "slot_mm": [47, 70.5]}}
