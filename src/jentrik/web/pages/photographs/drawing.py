"""What is drawn over a picture that is measured on, through the camera that was found."""

from collections.abc import Mapping
from typing import Any

from markupsafe import Markup

from jentrik.core.machine.declared import ENDS
from jentrik.core.photo.planned import Stance, found_stance, planned_stance
from jentrik.core.photo.solve import Solution
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.store.photographs import Photograph
from jentrik.web.drawing.photo_overlay import Mark, Wheel, overlay


def photo_drawing(
    picture: Photograph,
    marks: Mapping[str, Any],
    known: Solution | None,
    off: str,
    outcome: Outcome | None,
    found: PlanResult | None,
    view: str,
    times: int,
) -> Markup:
    """Return the marks of a picture, the wheels fitted to them, and a proposal's wheels."""
    crosses = list(_crosses(marks, off))
    if known is None:
        return overlay(picture.size, crosses, said="Marks on the photograph")
    solution = known
    camera = solution.camera
    wheels, lines = [], []
    mirrored = marks["faces"] == "left"
    read = solution.marks
    for x, wheel in ((0.0, read.rear), (solution.between_mm, read.front)):
        wheels.append(Wheel(x, 0.0, wheel.diameter_mm / 2, "photo-fit", wheel.nearer_mm))
    lines.append(((0.0, 0.0), (solution.between_mm, 0.0), "photo-axles"))
    said = "Marks on the photograph, with the wheels and the ground fitted to them"
    tires = read.rear.tire_diameter_mm, read.front.tire_diameter_mm
    if tires[0] is not None and tires[1] is not None:
        standing = found_stance(solution.between_mm, (tires[0] / 2, tires[1] / 2))
        lines.append((*standing.ground, "photo-ground"))
        if outcome is not None and found is not None:
            planned = _planned(standing, outcome, found, view, times)
            wheels += [
                Wheel(*axle, radius, "photo-planned")
                for axle, radius in zip(planned.axles, planned.radii, strict=True)
            ]
            lines.append((*planned.ground, "photo-planned ground"))
            said += f"; in blue the wheels of {outcome.proposal.name}"
            crosses = []
    return overlay(
        picture.size,
        crosses,
        camera=camera,
        wheels=wheels,
        lines=lines,
        mirrored=mirrored,
        said=said,
    )


def _planned(
    standing: Stance, outcome: Outcome, found: PlanResult, view: str, times: int
) -> Stance:
    radii = (
        float(outcome.figures.geometry.rear_radius_mm),
        float(outcome.figures.geometry.front_radius_mm),
    )
    return planned_stance(
        standing, found.chassis.axles, outcome.pose, radii, view=view, times=float(times)
    )


def planned_words(outcome: Outcome | None, view: str, times: int) -> str:
    """Return what the blue lines are; nothing where no proposal is drawn."""
    if outcome is None:
        return ""
    where = (
        "in the stand: the chassis stays" if view == "stand" else "on the road: the ground stays"
    )
    larger = f"; differences drawn {times} times as large" if times > 1 else ""
    return f"Blue: {outcome.proposal.name}, {where}{larger}."


def _crosses(marks: Mapping[str, Any], off: str) -> list[Mark]:
    found = []
    for end in ENDS:
        wheel = marks["wheels"][end]
        for place, px in enumerate(wheel["edge_px"]):
            found.append(
                Mark(
                    (px[0], px[1]),
                    f"{end}.edge_px",
                    place,
                    f"{end} wheel's edge, mark {place + 1}",
                    off == f"wheels.{end}.edge_px[{place}]",
                )
            )
        if wheel.get("axle_px"):
            x, y = wheel["axle_px"]
            found.append(
                Mark((x, y), f"{end}.axle_px", 0, f"{end} axle", off == f"wheels.{end}.axle_px")
            )
    for kind in ("points", "lines"):
        for mark in marks[kind]:
            those = mark["px"] or []
            for place, px in enumerate([those] if kind == "points" and those else those):
                key = f"{kind[:-1]}.{mark['name']}"
                found.append(Mark((px[0], px[1]), key, place, mark["name"]))
    return found
