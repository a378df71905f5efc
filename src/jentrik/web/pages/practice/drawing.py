"""What a practice machine's change does, drawn as the bench draws it: as found, and as planned."""

from markupsafe import Markup

from jentrik.core.amounts import bare
from jentrik.core.machine.building import bike_of
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.sheet import BUILDS
from jentrik.core.machine.wheel import WheelChange
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.practice.item import Item
from jentrik.core.tire.sidewall import read_code
from jentrik.web.drawing.bench import Dimension, Scene, bench_drawing
from jentrik.web.drawing.skeleton import skeleton_of
from jentrik.web.figures import fixed
from jentrik.web.pages.jobs.scene import drawing_in_words, rim_radius

MAGNIFIED = 3  # times the change as drawn: some are too small to be seen


def change_drawing(item: Item) -> Markup | None:
    """Return an item's machine before and after its change; None where it has no machine."""
    if not item.machine:
        return None
    bike = bike_of(dict(item.machine))
    found = as_measured(bike)
    front, rear = (_change(item, end) for end in ENDS)
    outcome = outcome_of(found, Proposal("A", front=front, rear=rear))
    before, after = found.figures.geometry, outcome.figures.geometry
    bicycle = bike.kind == "bicycle"
    angle = "head_angle_deg" if bicycle else "rake_deg"
    wheels = outcome.figures.wheels
    bones = skeleton_of(bike)
    trail = _figure("Trail", before.trail_mm, after.trail_mm, 0, "mm")
    head = _figure(
        "Head angle" if bicycle else "Rake", getattr(before, angle), getattr(after, angle), 1, "°"
    )
    height = None
    if before.bb_height_mm is not None:
        height = _figure("BB height", before.bb_height_mm, after.bb_height_mm, 0, "mm")
    return bench_drawing(
        Scene(
            kind=bike.kind,
            build=BUILDS[bike.kind][0],
            bones=bones,
            axles=found.chassis.axles,
            change=outcome.change,
            view="stand",
            magnify=MAGNIFIED,
            front_rim=rim_radius(wheels, "front", bones.front_rim),
            rear_rim=rim_radius(wheels, "rear", bones.rear_rim),
            title="The machine of this question, as found and changed",
            summary=drawing_in_words(found, outcome),
            head=head,
            trail=trail,
            height=height,
        )
    )


def _change(item: Item, end: End) -> WheelChange:
    tire = item.changes.get(end, {}).get("tire")
    return WheelChange(tire=read_code(str(tire))) if tire else WheelChange()


def _figure(name: str, old: object, new: object, digits: int, unit: str) -> Dimension:
    degrees = unit if unit == "°" else ""
    was, now = (bare(fixed(one, digits), unit) + degrees for one in (old, new))
    return Dimension(name, was, now, was == now)
