"""What the bench drawing shows: one machine as found, one proposal, words for its figures."""

from dataclasses import replace

from markupsafe import Markup

from jentrik.core.amounts import bare, mm
from jentrik.core.geometry.pose import PoseChange
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.depends import is_assumed
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import Sheet
from jentrik.core.machine.wheel import Wheels
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.web.drawing.bench import Dimension, Scene, bench_drawing
from jentrik.web.drawing.marks import Mark
from jentrik.web.drawing.skeleton import skeleton_of
from jentrik.web.figures import fixed
from jentrik.web.parts.address import Address

_HOLDS_DEG = 0.05  # below what is shown: the figure holds


def scene_drawing(
    sheet: Sheet,
    found: PlanResult,
    outcome: Outcome | None,
    address: Address,
    marks: tuple[Mark, ...] = (),
) -> Markup:
    """Return the bench drawing; without an outcome, of the machine as found, with marks on it."""
    return bench_drawing(_scene(sheet, found, outcome, address, marks))


def plain_drawing(
    sheet: Sheet, found: PlanResult, outcome: Outcome, says: tuple[str, str]
) -> Markup:
    """Return the machine before and after on the road, with words in place of figures."""
    scene = _scene(sheet, found, outcome, Address("", view="road"), ())
    return bench_drawing(replace(scene, says=says))


def _scene(
    sheet: Sheet,
    found: PlanResult,
    outcome: Outcome | None,
    address: Address,
    marks: tuple[Mark, ...],
) -> Scene:
    bones = skeleton_of(found.bike)
    axles = found.chassis.axles
    wheels = outcome.figures.wheels if outcome else found.bike.wheels
    return Scene(
        kind=sheet.kind,
        build=sheet.drawn_as,
        bones=bones,
        axles=axles,
        change=outcome.change
        if outcome
        else PoseChange(axles.front_radius_mm, axles.rear_radius_mm),
        view="road" if address.view == "road" else "stand",
        magnify=address.magnify if outcome else 1,
        front_rim=rim_radius(wheels, "front", bones.front_rim),
        rear_rim=rim_radius(wheels, "rear", bones.rear_rim),
        title=f"{sheet.name}, proposal {outcome.proposal.name}" if outcome else sheet.name,
        summary=drawing_in_words(found, outcome),
        head=_head(sheet, found, outcome),
        trail=_trail(sheet, found, outcome),
        height=_height(sheet, found, outcome),
        ground=_ground(sheet, found, outcome, address),
        marks=marks,
        cast=tuple(end for end in ENDS if (rim := wheels.at(end).rim) and rim.build == "cast"),
    )


def rim_radius(wheels: Wheels, end: str, otherwise: float) -> float:
    """Return the bead seat's radius in mm at one end, or another where none is known."""
    tire = wheels.front.tire if end == "front" else wheels.rear.tire
    return tire.bead_seat_diameter_mm / 2 if tire else otherwise


def _dimension(
    sheet: Sheet, name: str, key: str, old: object, new: object, digits: int = 0, unit: str = ""
) -> Dimension:
    was, now = (bare(fixed(one, digits), unit or "mm") + unit for one in (old, new))
    assumed = is_assumed(sheet, key, planned=False)
    if new is None:
        return Dimension(name, was, assumed=assumed)
    planned = is_assumed(sheet, key, planned=True)
    return Dimension(name, was, now, was == now, assumed, planned)


def _trail(sheet: Sheet, found: PlanResult, outcome: Outcome | None) -> Dimension:
    new = outcome.figures.geometry.trail_mm if outcome else None
    return _dimension(sheet, "Trail", "trail_mm", found.figures.geometry.trail_mm, new)


def _head(sheet: Sheet, found: PlanResult, outcome: Outcome | None) -> Dimension:
    key = "head_angle_deg" if sheet.kind == "bicycle" else "rake_deg"
    name = "Head angle" if sheet.kind == "bicycle" else "Rake"
    new = getattr(outcome.figures.geometry, key) if outcome else None
    return _dimension(sheet, name, key, getattr(found.figures.geometry, key), new, 1, "°")


def _height(sheet: Sheet, found: PlanResult, outcome: Outcome | None) -> Dimension | None:
    if sheet.kind == "bicycle":
        old = found.figures.geometry.bb_height_mm
        if old is None:
            return None
        new = outcome.figures.geometry.bb_height_mm if outcome else None
        return _dimension(
            sheet, "BB height", "bb_height_mm", found.figures.geometry.bb_height_mm, new
        )
    seat = found.bike.place_of(PointRole.SADDLE, found.figures.geometry.points)
    if seat is None:
        return None
    now = outcome and found.bike.place_of(PointRole.SADDLE, outcome.figures.geometry.points)
    return _dimension(sheet, "Seat height", "seat_height_mm", seat[1], now[1] if now else None)


def _ground(
    sheet: Sheet, found: PlanResult, outcome: Outcome | None, address: Address
) -> Dimension | None:
    """Say how far the middle of the wheelbase comes down, and how far the nose turns."""
    if outcome is None:
        return None
    middle = found.bike.frame.wheelbase_mm / 2
    risen = float(outcome.pose.place((middle, 0.0))[1])
    pitch = float(outcome.figures.geometry.pitch_deg)
    turned = None
    if abs(pitch) >= _HOLDS_DEG:
        turned = f"nose {'up' if pitch > 0 else 'down'} {fixed(abs(pitch), 1)}°"
    assumed = is_assumed(sheet, "pitch_deg", planned=True)
    if abs(risen) < 0.5:
        return Dimension("Ground", str(mm(0)) if assumed else "holds", turned, assumed=assumed)
    if address.view == "road":
        name = "Chassis comes up" if risen > 0 else "Chassis comes down"
    else:
        name = "Ground drops" if risen > 0 else "Ground comes up"
    return Dimension(name, str(mm(fixed(abs(risen)))), turned, assumed=assumed)


def drawing_in_words(found: PlanResult, outcome: Outcome | None) -> str:
    """Return the drawing in words, for whoever cannot see it."""
    base = found.figures.geometry
    if outcome is None:
        return (
            f"Wheelbase {mm(fixed(base.wheelbase_mm))}, head angle {fixed(base.head_angle_deg, 1)} "
            f"degrees, trail {mm(fixed(base.trail_mm))}."
        )
    new = outcome.figures.geometry
    heights = ""
    if base.bb_height_mm is not None and new.bb_height_mm is not None:
        heights = (
            f" Bottom bracket from {mm(fixed(base.bb_height_mm))} to {mm(fixed(new.bb_height_mm))}."
        )
    return (
        f"Head angle from {fixed(base.head_angle_deg, 1)} to {fixed(new.head_angle_deg, 1)} "
        f"degrees, trail from {mm(fixed(base.trail_mm))} to {mm(fixed(new.trail_mm))}, wheelbase "
        f"from {mm(fixed(base.wheelbase_mm))} to {mm(fixed(new.wheelbase_mm))}.{heights}"
    )
