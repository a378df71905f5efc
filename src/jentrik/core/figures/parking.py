"""A machine parked: leaning on its side stand, or with one wheel up on its center stand.

Leans are given twice: for a thin tire, as they are usually measured and planned, and for a round
one, whose crown rolls.  How far it may go before it tips needs the center of mass.
Sources: derived; half the width as crown radius is common practice.
"""

import math
from dataclasses import dataclass

from jentrik.core.figures.contact import Contact
from jentrik.core.figures.strikes import crown_radius
from jentrik.core.geometry.center_stand import feet_place, lifted_over_feet
from jentrik.core.geometry.frame import Point
from jentrik.core.geometry.lean import lean_at_touch
from jentrik.core.geometry.pose import Pose
from jentrik.core.geometry.tipping import (
    OnStand,
    StandWanted,
    gust_share,
    stand_for,
    tips_away_deg,
    tips_over_foot_deg,
)
from jentrik.core.machine.machine import Bike, SideStand
from jentrik.core.machine.wheel import Wheels


@dataclass(frozen=True, slots=True)
class Parked:
    """A machine on its side stand: lean, and the slope it may stand on, degrees; None not known.

    `wanted` is what brings the lean as found back.
    """

    lean_deg: float
    round_lean_deg: float | None
    tips_away_deg: float
    tips_in_gust_deg: float | None
    tips_over_foot_deg: float | None
    wanted: StandWanted | None


def parked(
    bike: Bike,
    wheels: Wheels,
    *,
    touched: Contact,
    lean_deg: float | None,
    pose: Pose | None,
    wind_kmh: float,
) -> Parked | None:
    """Return how the machine stands on its side stand; None without one.

    `pose` leads from the machine as found to the planned one, None where nothing moved.
    Without a center of mass it tips away where its lean is used up.
    """
    stand = bike.side_stand
    if stand is None or lean_deg is None:
        return None
    found = math.radians(stand.lean_deg)
    foot_out, foot_up = stand.foot_out_mm * math.cos(found), stand.foot_out_mm * math.sin(found)
    foot_x, now_up = _placed((stand.foot_x_mm, foot_up), pose)
    base = bike.frame.wheelbase_mm if pose is None else float(pose.wheelbase_mm)
    old, new = (crown_radius(one, x_mm=foot_x, wheelbase_mm=base) for one in (bike.wheels, wheels))
    round_lean = None
    if old is not None and new is not None:
        round_lean = _round_lean(stand.lean_deg, stand.foot_out_mm, now_up - foot_up, old, new)
    wanted = None if pose is None else _wanted(stand, foot_out, now_up, pose)
    center = bike.mass
    if center.center_x_mm is None or center.center_height_mm is None:
        return Parked(lean_deg, round_lean, lean_deg, None, None, wanted)
    x, up = _placed((center.center_x_mm, center.center_height_mm), pose)
    lean = math.radians(lean_deg)
    on = OnStand(
        lean_deg=lean_deg,
        crown_radius_mm=new or 0.0,
        center_x_mm=x,
        center_height_mm=up,
        wheelbase_mm=base,
        foot_x_mm=foot_x,
        foot_out_mm=foot_out * math.cos(lean) + now_up * math.sin(lean),
    )
    in_gust = _in_gust(on, center.kg, touched.seat_height_mm, wind_kmh)
    return Parked(lean_deg, round_lean, tips_away_deg(on), in_gust, tips_over_foot_deg(on), wanted)


def _wanted(stand: SideStand, foot_out_mm: float, foot_up_mm: float, pose: Pose) -> StandWanted:
    """Return what brings the lean as found back on the machine as planned."""
    pivot = None
    if stand.pivot_height_mm is not None:
        _, pivot_up = _placed((stand.foot_x_mm, stand.pivot_height_mm), pose)
        pivot = (stand.pivot_out_mm or 0.0, pivot_up)
    return stand_for(
        wanted_deg=stand.lean_deg, foot_out_mm=foot_out_mm, foot_up_mm=foot_up_mm, pivot=pivot
    )


def _in_gust(
    on: OnStand, kg: float | None, seat_height_mm: float | None, wind_kmh: float
) -> float | None:
    """Return the slope a gust leaves it, degrees; None without its mass or its seat height."""
    if kg is None or seat_height_mm is None:
        return None
    gust = gust_share(on, mass_kg=kg, wind_kmh=wind_kmh, seat_height_mm=seat_height_mm)
    return float(tips_away_deg(on, gust_share=gust))


def _placed(point: Point, pose: Pose | None) -> tuple[float, float]:
    x, y = point if pose is None else pose.place(point)
    return float(x), float(y)


def _round_lean(
    lean_deg: float, foot_out_mm: float, foot_rises_mm: float, old_mm: float, new_mm: float
) -> float:
    """Return the lean on a round tire, the one measured having stood on one too."""
    lean = math.radians(lean_deg)
    # The foot from the crown's center, in the machine's own frame as it stood measured.
    out = foot_out_mm * math.cos(lean) + old_mm * math.sin(lean)
    up = foot_out_mm * math.sin(lean) - old_mm * math.cos(lean)
    return float(
        lean_at_touch(height_mm=up + old_mm + foot_rises_mm, out_mm=out, crown_radius_mm=new_mm)
    )


def center_stand_gap(bike: Bike, wheels: Wheels, pose: Pose) -> float | None:
    """Return the gap in mm under the lifted wheel on the center stand; None without one."""
    there = on_center_stand(bike, wheels, pose)
    return None if there is None else there[0]


def on_center_stand(bike: Bike, wheels: Wheels, pose: Pose) -> tuple[float, float] | None:
    """Return gap and feet of the center stand as measured after a change, mm; None without one.

    The feet forward of the rear axle, as on a sheet.
    """
    stand = bike.center_stand
    if stand is None:
        return None
    radius = {"front": bike.wheels.radius_mm("front"), "rear": bike.wheels.radius_mm("rear")}
    axles = {"front": (bike.frame.wheelbase_mm, radius["front"]), "rear": bike.rear_axle}
    planned = {"front": pose.front_axle, "rear": pose.rear_axle}
    other = "front" if stand.lifts == "rear" else "rear"
    ahead = stand.feet_x_mm
    if stand.lifts == "front":
        rise = axles["front"][1] - axles["rear"][1]
        level = bike.frame.wheelbase_mm**2 + rise**2 - (rise + stand.gap_mm) ** 2
        if level < 0:  # no machine is lifted by more than it is long
            return None
        ahead -= math.sqrt(level)
    feet = feet_place(
        lifted=axles[stand.lifts],
        down=axles[other],
        lifted_radius_mm=radius[stand.lifts],
        gap_mm=stand.gap_mm,
        feet_ahead_mm=ahead,
    )
    lifted, down = planned[stand.lifts], planned[other]
    axle_up, feet_ahead = lifted_over_feet(
        feet=feet,
        lifted=lifted,
        down=down,
        down_radius_mm=wheels.radius_mm("front" if other == "front" else "rear"),
    )
    gap = axle_up - wheels.radius_mm(stand.lifts)
    if stand.lifts == "front":  # the feet are given forward of the rear axle
        apart = math.hypot(float(lifted[0] - down[0]), float(lifted[1] - down[1]))
        rises = axle_up - wheels.radius_mm("rear")
        feet_ahead += math.sqrt(apart**2 - rises**2)
    return gap, feet_ahead
