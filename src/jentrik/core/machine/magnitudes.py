"""What a figure of a real machine can be, and refusing what no machine has."""

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.frame import within

# What a figure of a real machine can be: (least, most, unit).  Generous on purpose.
LIMITS: dict[str, tuple[float, float, str]] = {
    "wheelbase_mm": (300, 4000, "mm"),
    "head_angle_deg": (20, 90, "degrees"),
    "rake_deg": (0, 70, "degrees"),
    "fork.length_mm": (50, 2000, "mm"),
    "fork.offset_mm": (-300, 300, "mm"),
    "fork.longest_mm": (50, 2000, "mm"),
    "fork.longest_axle_to_crown_mm": (50, 2000, "mm"),
    "travel_mm": (0, 500, "mm"),
    "sag_mm": (0, 500, "mm"),
    "leverage": (0.2, 10, "mm for 1"),
    "link_ratio": (-10, 10, "mm for 1"),
    "shock_mm": (50, 1000, "mm"),
    "pivot_x_mm": (50, 1500, "mm"),
    "pivot_height_mm": (0, 1500, "mm"),
    "position_shift_mm": (-100, 100, "mm"),
    "headset_turn_deg": (-5, 5, "degrees"),
    "chainstay_mm": (100, 2000, "mm"),
    "bb_height_mm": (0, 1500, "mm"),
    "steering_lock_deg": (5, 90, "degrees"),
    "seat_angle_deg": (20, 110, "degrees"),
    "stack_mm": (100, 1500, "mm"),
    "reach_mm": (-200, 1000, "mm"),
    "crank_mm": (50, 300, "mm"),
    "overall_diameter_mm": (80, 2000, "mm"),
    "bead_seat_diameter_mm": (80, 900, "mm"),
    "inner_width_mm": (5, 400, "mm"),
    "x_mm": (-2000, 5000, "mm"),
    "height_mm": (-500, 3000, "mm"),
    "gap_mm": (0, 1000, "mm"),
    "gap_worked_out_mm": (-1000, 1000, "mm"),
    "minimum_mm": (0, 1000, "mm"),
    "bearing_deg": (-180, 360, "degrees"),
    "from_axle_mm": (20, 1000, "mm"),
    "out_mm": (0, 1500, "mm"),
    "top_speed_kmh": (5, 400, "km/h"),
    "pedal_edge_mm": (40, 400, "mm"),
    "lower_cup_mm": (-200, 200, "mm"),
    "rear_axle_shift_mm": (-500, 500, "mm"),
    "pad_reach_mm": (10, 200, "mm"),
    "reads_over_percent": (-50, 100, "%"),
    "lean_deg": (0, 45, "degrees"),
    "foot_out_mm": (10, 1500, "mm"),
    "foot_x_mm": (-2000, 5000, "mm"),
    "offset_kmh": (-20, 20, "km/h"),
    "rolled_mm": (250, 6000, "mm"),
    "tone_ring_slots": (4, 400, "slots"),
    "primary_ratio": (0.5, 10, "to 1"),
    "front_sprocket": (8, 40, "teeth"),
    "rear_sprocket": (8, 90, "teeth"),
    "most_kpa": (10, 1500, "kPa"),
    "pressure_kpa": (10, 1500, "kPa"),
    "tread_mm": (0, 40, "mm"),
    "axle_load_kg": (5, 1000, "kg"),
    "most_load_kg": (5, 1000, "kg"),
    "kg": (3, 1000, "kg"),
    "center_x_mm": (-500, 3000, "mm"),
    "center_height_mm": (50, 1500, "mm"),
    "feet_x_mm": (-500, 2000, "mm"),
    "pivot_out_mm": (0, 600, "mm"),
    "spacing_mm": (40, 350, "mm"),
    "axle_mm": (4, 60, "mm"),
    "chain_line_mm": (10, 250, "mm"),
    "rotor_mm": (80, 400, "mm"),
    "runout_mm": (0, 50, "mm"),
    "holes": (3, 16, "holes"),
    "circle_mm": (20, 400, "mm"),
    "hole_mm": (2, 20, "mm"),
    "most_kpa_at_mm": (10, 200, "mm"),
    "valve_hole_mm": (3, 15, "mm"),
    "tape_mm": (5, 150, "mm"),
    "rated_kmh": (5, 100, "km/h"),
    "rotor_most_mm": (80, 400, "mm"),
    "fork.rated_bead_seat_mm": (80, 900, "mm"),
    "rider_kg": (5, 300, "kg"),
    "luggage_kg": (0, 300, "kg"),
    "effective_mm": (80, 900, "mm"),
    "left_circle_mm": (15, 300, "mm"),
    "right_circle_mm": (15, 300, "mm"),
    "left_flange_mm": (0, 120, "mm"),
    "right_flange_mm": (0, 120, "mm"),
    "spokes": (8, 144, "spokes"),
    "crossings": (0, 6, "crossings"),
    "within_kmh": (0, 50, "km/h"),
    "within_at_kmh": (0, 400, "km/h"),
    "within_percent": (0, 50, "%"),
    "most_rpm": (500, 25000, "rpm"),
    "trail_mm": (-300, 500, "mm"),
    "seat_height_mm": (100, 2000, "mm"),
    "set.instrument_mm": (250, 6000, "mm"),
    "rider.inseam_mm": (200, 1300, "mm"),
    **{f"riding.{one}_percent": (0.0, 100.0, "%") for one in ("gravel", "mud", "wet", "cold")},
    "riding.km_a_year": (10, 300_000, "km"),
    "riding.speed_kmh": (5, 150, "km/h"),
    "rider.height_mm": (600, 2500, "mm"),
    "cross.bb_drop_mm": (-500, 500, "mm"),
    "cross.front_center_mm": (100, 3000, "mm"),
    "cross.trail_mm": (-300, 500, "mm"),
    "cross.head_tube_mm": (30, 800, "mm"),
}


def check_figure(name: str, figure: float | None, *, limit: str | None = None) -> None:
    """Refuse a figure no machine has, naming its field; `limit` where another's decides."""
    if figure is not None:
        least, most, unit = LIMITS[limit or name]
        within(name, figure, least=least, most=most, unit=unit)


def check_figures(value: object, *names: str) -> None:
    """Refuse a figure no machine has: each named attribute against its limit, where known."""
    for name in names:
        check_figure(name, getattr(value, name.replace(".", "_")))


def check_range(pair: tuple[float, float] | None, field: str, *, least: float, most: float) -> None:
    """Refuse a range whose ends no machine has, or that runs backwards."""
    if pair is not None:
        for end in pair:
            within(field, end, least=least, most=most, unit="mm")
        if pair[0] > pair[1]:
            raise OutOfRange(
                f"{pair[0]:g} to {pair[1]:g} runs backwards.",
                field=field,
                expected="the smaller figure first",
            )
