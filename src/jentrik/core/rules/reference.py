"""The limit of every check, in words, for whoever reads the rules from top to bottom.

Figures are the constants the checks themselves use.  A limit the shop sets is named here and shown
with its value on the page.
"""

from jentrik.core.amounts import bar, mm, published
from jentrik.core.figures import bicycle_pressure
from jentrik.core.figures.rider_load import SHARE
from jentrik.core.rules import condition, feet, handling, hubs, instruments, room, steering
from jentrik.core.rules import parking as stands
from jentrik.core.rules.allowed import FINE_STEPS, WIDER_BY_MM
from jentrik.core.tables.load_at_speed import LOAD_PERCENT
from jentrik.core.tables.rim_width import NARROWEST_LISTED_MM, WIDEST_LISTED_MM
from jentrik.core.tables.speed_symbol import ZR_ABOVE_KMH
from jentrik.core.tirecode.tire_on_rim import (
    HOOKLESS_CLEAR_OVER_MM,
    HOOKLESS_LEAST_OVER_MM,
    HOOKLESS_MOST_KPA,
)

_SHOP = "the shop's figure"
_SHEET = "the maker's figure on the sheet"
_SAME = "any difference"
_HUB = f"a difference above {mm(hubs.CLOSE_MM):g}"
_OVER = ", ".join(
    f"{published(most, 'km/h')} for a {name}"
    for name, most in instruments.OVER_AS_BUILT_KMH.items()
)

LIMITS: dict[str, str] = {
    "rim_diameter_mismatch": "the two diameters must be the same, never nearly",
    "car_tire": "any car, light-truck or all-terrain mark on a machine that leans",
    "car_tire_on_outfit": "any car mark; spares, trailer and all-terrain tires stay a stop",
    "ridden_above_symbol": "the speed of the symbol; ZR without one is its maker's word",
    "not_for_highway": "the mark NHS, on a machine not ridden off the road alone",
    "other_vehicle": "the mark's own vehicle",
    "hookless_too_narrow": f"inner width + {mm(HOOKLESS_LEAST_OVER_MM):g}",
    "another_rim_by_name": "bead seats that differ while an inch name of each is the same",
    "another_rim": "bead seats that differ",
    "rim_name_unclear": "a name of more than one rim, where no rim is stated",
    "load_index_below_spec": _SHEET,
    "speed_symbol_below_spec": _SHEET,
    "construction_differs": f"{_SAME} but bias against bias-belted",
    "construction_mixed": f"{_SAME} but bias against bias-belted",
    "bias_with_belted": "one bias and one bias-belted tire the sheet does not ask for",
    "motorcycle_tire_on_outfit": "any motorcycle tire that goes on with a sidecar or trailer",
    "position_mismatch": "the mark FRONT or REAR",
    "rim_width_outside_makers_list": _SHEET,
    "rim_width_outside_table": "the row of the table; between two rows what both allow",
    "rim_width_outside_its_row": "the row of the table",
    "rim_width_at_its_end": "the narrowest or the widest rim of the row, but the one measured on",
    "rim_width_unlisted": "no row; bicycle rims have some from "
    f"{mm(NARROWEST_LISTED_MM)} to {mm(WIDEST_LISTED_MM)}",
    "tube_type_mismatch": "tube type on a tubeless rim, or tubeless on a rim for tubes",
    "motorcycle_overloads": "the heavier of the axle as weighed and as its maker allows",
    "bicycle_overloads": f"the axle as weighed, else {SHARE['front']:.0%} front and "
    f"{SHARE['rear']:.0%} rear of rider, luggage and bicycle".replace("%", " %"),
    "assisted_not_weighed": "a mass, or a load of the axle, on the sheet",
    "rated_below_assist": "the speed the motor helps until",
    "axle_overloaded": _SHEET,
    "short_near_top_speed": "; ".join(
        f"{symbol}: "
        + ", ".join(f"{percent} % at {published(most, 'km/h')}" for most, percent in rows)
        for symbol, rows in LOAD_PERCENT.items()
    ),
    "less_near_top_speed": "as above, where the tire still carries its axle",
    "size_not_in_sheet": "width, aspect and bead seat of a pair on the sheet, or of its own tires",
    "pair_in_another_position": "the position the sheet names with the pair",
    "makes_mixed": "names that differ",
    "make_not_in_sheet": "names that differ",
    "approval_asked": "another size at either end; the sheet's own sizes are none",
    "load_index_above_spec": f"any step above; {FINE_STEPS} are fine",
    "speed_symbol_above_spec": f"any step above; {FINE_STEPS} are fine",
    "load_index_below_found": "the load of the tire found",
    "speed_symbol_below_found": "the symbol of the tire found",
    "open_speed_symbol": f"any symbol above {published(ZR_ABOVE_KMH, 'km/h')}",
    "maybe_a_car_tire": "the mark M/C, or a maker's word",
    "construction_changed": f"{_SAME} but bias against bias-belted",
    "width_differs": ", ".join(f"{mm(wider):g} on a {kind}" for kind, wider in WIDER_BY_MM.items()),
    "against_the_arrow": "a tire that turns against its arrow",
    "too_old": _SHOP,
    "older_than_policy": _SHOP,
    "tread_below_rule": _SHOP,
    "tread_below_policy": _SHOP,
    "pressure_above_limit": "the lowest of rim maker, sidewall and, without hooks, "
    f"{bar(HOOKLESS_MOST_KPA):g}",
    "pressure_above_width": "the stated pressure x stated width / this width; without hooks "
    f"{bar(HOOKLESS_MOST_KPA):g} x (inner width + {mm(HOOKLESS_CLEAR_OVER_MM):g}) / width",
    "pressure_below_placard": _SHEET,
    "pressure_for_load": f"{condition.USUAL_SHARE[0]:g} to {condition.USUAL_SHARE[1]:g} times the "
    f"pressure of 15 % drop, {mm(bicycle_pressure.NARROWEST_MM):g} to "
    f"{mm(bicycle_pressure.WIDEST_MM):g} wide",
    "tube_tire_on_hookless": "the mark TT",
    "hookless_rim": "every new tire on a hookless rim",
    "arrow_to_look_at": "the mark ROTATION",
    "brake_out_of_reach": "the slot; the pads move by half the change of the bead seat",
    "brake_to_measure": "any move of the brake track",
    "spacing_differs": _HUB,
    "spacing_to_cold_set": f"up to {mm(hubs.COLD_SET_MM):g} at the rear of a steel frame",
    "rotor_over_makers_limit": _SHEET,
    "valve_hole_wrong": f"a hole below {mm(hubs.WIDE_FROM_MM):g} for a wide valve",
    "valve_hole_wide": f"a hole from {mm(hubs.WIDE_FROM_MM):g} on for a narrow valve",
    "tape_narrow": "the rim's inner width",
    "axle_differs": _HUB,
    "sensor_not_read": "what was found out about the sensor",
    "rotor_differs": _HUB,
    "rotor_mounts_otherwise": "words that differ",
    "driver_differs": "words that differ",
    "chain_line_differs": f"{mm(hubs.CHAIN_LINE_MM):g}",
    "ring_mounts_otherwise": "what was found out about the ring's face",
    "ring_out_of_true": f"{mm(hubs.RING_RUNOUT_MM):g}",
    "sensor_to_look_at": "face, kind and run-out not all known while another wheel goes in",
    "out_of_true": f"{mm(hubs.RIM_BRAKE_RUNOUT_MM):g} with rim brakes, else "
    f"{mm(hubs.OTHER_RUNOUT_MM):g}",
    "below_minimum": "the minimum stated for the place",
    "fouls": f"{mm(0)}",
    "meets_at_full_travel": f"{mm(0)} at the tightest spot of the travel, and less than as found",
    "met_at_full_travel_before": f"{mm(0)} at the tightest spot, and no less than as found",
    "meets_turned": f"{mm(0)} before the bar's stop",
    "saddle_meets_tire": f"{mm(0)} at full travel, and no more than as found",
    "below_the_standard": _SHOP,
    "below_the_usual": _SHOP,
    "growth": f"{_SHOP} after growth with the square of speed",
    "touches_on_the_road": f"{mm(0)} after all the road takes, mud apart",
    "touched_on_the_road_before": "the same, and no less than as found",
    "mud_fills": f"{mm(0)} after all the road takes and mud",
    "readings_disagree": f"{mm(room.TWO_TAPES_MM):g}",
    "to_prove": "an axle that moves relative to the place",
    "fork_too_long": _SHEET,
    "fork_wheel_too_large": _SHEET,
    "position_without_its_wheel": "the bead seat its maker pairs the position with",
    "position_to_turn": "a bead seat smaller than the one paired with the position",
    "tips_on_a_slope": _SHOP,
    "tips_in_a_gust": _SHOP,
    "leans_too_far": _SHOP,
    "stand_changes": _SHOP,
    "stays_on_the_ground": f"{mm(0)}",
    "lifts_less": f"{mm(stands.LEAST_LIFT_MM):g}, and less than before",
    "heaved_higher": f"{mm(stands.HEAVED_MM):g}",
    "cranks_into_the_ground": f"{mm(0)}",
    "negative_trail": f"{mm(0)}",
    "high_speed_weave": f"nose down, with more trail lost than is noticed, on a machine of "
    f"{mm(handling.TALL_TRAVEL_MM):g} travel or {mm(handling.TALL_SEAT_MM):g} seat height",
    "trail_shift": _SHOP,
    "head_angle_shift": _SHOP,
    "bb_low": _SHOP,
    "bb_high": _SHOP,
    "wheelbase_shift": _SHOP,
    "reach_shift": _SHOP,
    "seat_height_shift": _SHOP,
    "design_size_left": "one end on another bead seat than the frame was made for",
    "handling": f"a step of any: the shop's of trail, {mm(5)} or {mm(10)} of width, "
    f"{steering.CROWN_STEP_PERCENT:g} % of crown, {steering.MOMENTUM_STEP * 100:g} % of gyroscope",
    "crown_profile": f"{steering.CROWN_STEP_PERCENT:g} % of the front's width over the rear's",
    "set_sag_again": "another bead seat, position, shock or link on a sprung machine",
    "on_the_ground_at_full_travel": f"{mm(0)}, and no higher than as found",
    "toe_overlap": f"{published(feet.TOE_ROOM_MM, 'mm')}, "
    f"{published(feet.HELD_TOE_ROOM_MM, 'mm')} with foot retention "
    "and on child bicycles; only where it gets worse",
    "pedal_strike": f"{_SHOP}, {feet.CHILD_PEDAL_DEG:g}° for child bicycles, with the rider on; "
    "only where it gets worse",
    "touches_earlier": _SHOP,
    "motor_under_reads": "the true speed at 40, 80 and 120 km/h as far as the machine goes, else "
    "at 80 % of its top speed; never below the ± of the pairs",
    "cycle_under_reads": "the same",
    "motor_over_limit": f"10 % over and {_OVER}, at the same speeds",
    "cycle_over_limit": "the same, as for a moped",
    "assist_cut_off": f"{instruments.SETTING_STEP_PERCENT:g} % of the wheel's circumference",
    "tone_ring": _SHOP,
    "over_policy": _SHOP,
    "wheel_speed_ratio": _SHOP,
    "computer_setting": f"{instruments.SETTING_STEP_PERCENT:g} % of the circumference",
    "odometer_drift": f"{instruments.SETTING_STEP_PERCENT:g} % of what feeds the instrument",
    "gearing_shift": f"{instruments.GEARING_STEP_PERCENT:g} % of the rear circumference",
}
