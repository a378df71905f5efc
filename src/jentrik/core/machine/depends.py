"""Which figures of a sheet a geometry figure is computed from: where one is assumed, so is it.

As found a figure rests on those its formula has; as planned also on the whole chassis, because
the machine settles on its new wheels as one.  Source: the formulas of `core/geometry`, which a
test moves one figure at a time.
"""

from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import Sheet

_WHEELS = ("front.tire", "rear.tire", "front.overall_diameter_mm", "rear.overall_diameter_mm")
_FRONT_WHEEL = ("front.tire", "front.overall_diameter_mm")
_HEAD = ("head_angle_deg", "rake_deg")
_STEERING = (*_HEAD, "fork.offset_mm", *_FRONT_WHEEL)
CHASSIS = ("wheelbase_mm", *_HEAD, "fork.length_mm", "fork.offset_mm", *_WHEELS)
_BRACKET = ("chainstay_mm", "bb_height_mm")
FOUND: dict[str, tuple[str, ...]] = {
    "wheelbase_mm": ("wheelbase_mm",),
    "head_angle_deg": _HEAD,
    "rake_deg": _HEAD,
    "trail_mm": _STEERING,
    "mechanical_trail_mm": _STEERING,
    "wheel_flop_mm": _STEERING,
    "front_center_mm": ("wheelbase_mm", *_BRACKET, *_WHEELS),
    "bb_height_mm": ("bb_height_mm",),
    "reach_mm": ("reach_mm",),
    "stack_mm": ("stack_mm",),
    "seat_angle_deg": ("seat_angle_deg",),
    "pitch_deg": (),
    "seat_height_mm": (),
    "saddle_to_bar_mm": (),
    "bar_above_saddle_mm": (),
    "pedal_height_mm": ("bb_height_mm", "crank_mm"),
    "seat_angle_at_saddle_deg": _BRACKET,
    "front_share_percent": ("wheelbase_mm", *_BRACKET),
}
_POINTS: dict[str, tuple[PointRole, ...]] = {
    "seat_height_mm": (PointRole.SADDLE,),
    "saddle_to_bar_mm": (PointRole.SADDLE, PointRole.BAR),
    "bar_above_saddle_mm": (PointRole.SADDLE, PointRole.BAR),
    "seat_angle_at_saddle_deg": (PointRole.SADDLE,),
    "front_share_percent": (PointRole.SADDLE, PointRole.BAR),
}

_TURNED: dict[str, tuple[str, ...]] = {  # what else counts once the chassis turns
    "bb_height_mm": _BRACKET,
    "pedal_height_mm": _BRACKET,
    "reach_mm": ("stack_mm",),
    "stack_mm": ("reach_mm",),
}


def rests_on(figure: str, *, planned: bool) -> tuple[str, ...]:
    """Return the keys of the sheet a figure is computed from, as found or as planned."""
    own = FOUND.get(figure, ())
    if not planned:
        return own
    return tuple(dict.fromkeys((*own, *_TURNED.get(figure, ()), *CHASSIS)))


def is_assumed(sheet: Sheet, figure: str, *, planned: bool) -> bool:
    """Whether a figure is assumed, or computed from one that is."""
    keys = rests_on(figure, planned=planned)
    roles = _POINTS.get(figure, ())
    stated = [sheet.figures[key].provenance for key in keys if key in sheet.figures]
    stated += [point.provenance for point in sheet.points if point.role in roles]
    return any(source.unproved for source in stated)
