"""Figures to start from where a machine has not been measured yet.

They stand on its sheet as *assumed*, look different everywhere, and wait to be replaced.
Source: common practice; usual machines of each build, from memory.
"""

from dataclasses import dataclass

from jentrik.core.figures.rider import INSEAM_SHARE
from jentrik.core.machine.declared import Kind
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code

FORK_BEYOND_WHEEL_MM = 45.0  # axle to crown seat, beyond the wheel's radius: room for the tire
OFFSET_PER_RADIUS = 0.13  # 45 mm on a full-sized wheel; small wheels have less

SAG_SHARE: dict[str, dict[Kind, float]] = {  # of the travel, with the rider on
    "suspension.front.sag_mm": {"bicycle": 0.2, "motorcycle": 0.28},
    "suspension.rear.sag_mm": {"bicycle": 0.28, "motorcycle": 0.3},
}
_USUAL: dict[Kind, dict[str, float]] = {
    "bicycle": {
        "wheelbase_mm": 1050.0,
        "head_angle_deg": 71.0,
        "chainstay_mm": 445.0,
        "bb_height_mm": 280.0,
        "seat_angle_deg": 73.0,
        "crank_mm": 170.0,
    },
    "motorcycle": {"wheelbase_mm": 1400.0, "rake_deg": 26.0, "fork.offset_mm": 50.0},
}
_MOTORCYCLE_FORK_MM = 600.0
_FRONT, _REAR = "suspension.front.travel_mm", "suspension.rear.travel_mm"


def _bicycle(
    wheelbase: float, head: float, seat: float, stay: float, bracket: float, **more: float
) -> dict[str, float]:
    return {
        "wheelbase_mm": wheelbase,
        "head_angle_deg": head,
        "seat_angle_deg": seat,
        "chainstay_mm": stay,
        "bb_height_mm": bracket,
        **more,
    }


def _motorcycle(wheelbase: float, rake: float, fork: float, offset: float) -> dict[str, float]:
    return {
        "wheelbase_mm": wheelbase,
        "rake_deg": rake,
        "fork.length_mm": fork,
        "fork.offset_mm": offset,
    }


# What is usual of a build where it is not so of its kind.
USUAL_OF_BUILD: dict[DrawnAs, dict[str, float]] = {
    DrawnAs.STEP_THROUGH: _bicycle(1070, 70, 71, 455, 275),
    DrawnAs.HARDTAIL: _bicycle(1160, 66.5, 74.5, 430, 310) | {_FRONT: 120, "fork.offset_mm": 44},
    DrawnAs.FULL_SUSPENSION: _bicycle(1210, 65.5, 76, 435, 340)
    | {_FRONT: 140, _REAR: 130, "fork.offset_mm": 44},
    DrawnAs.FOLDING: _bicycle(1010, 72, 71.5, 420, 285),
    DrawnAs.CARGO: _bicycle(1950, 71, 71, 455, 285),
    DrawnAs.CHILD: _bicycle(880, 69.5, 72, 360, 245, crank_mm=140),
    DrawnAs.TANDEM: _bicycle(1750, 72, 73, 440, 275),
    DrawnAs.RECUMBENT: _bicycle(1120, 70, 35, 1480, 620),
    DrawnAs.TADPOLE: _bicycle(1080, 76, 40, 1440, 380) | {"fork.offset_mm": 0},
    DrawnAs.DELTA: _bicycle(1150, 70, 66, 620, 330),
    DrawnAs.CARGO_TRIKE: _bicycle(1350, 74, 71, 455, 285),
    DrawnAs.HAND_BIKE: _bicycle(1180, 68, 45, 960, 720),
    DrawnAs.OUTFIT: _motorcycle(1500, 28, 640, 45),
    DrawnAs.LEANING: _motorcycle(1450, 26, 520, 35),
    DrawnAs.CRUISER: _motorcycle(1600, 32, 720, 45),
    DrawnAs.TALL: _motorcycle(1500, 27.5, 800, 52) | {_FRONT: 200, _REAR: 190},
    DrawnAs.SCOOTER: _motorcycle(1300, 26, 480, 35),
    DrawnAs.DELIVERY: _motorcycle(1250, 26.5, 560, 45),
}


def assumed_figures(kind: Kind, tire: Reading, build: DrawnAs | None = None) -> dict[str, float]:
    """Return usual figures in their keys' units for a machine with this tire in front.

    Of its build where one is named, else of its kind.  A sprung fork is longer by its travel.
    """
    figures = dict(_USUAL[kind])
    of_build = USUAL_OF_BUILD.get(build, {}) if build else {}
    if kind == "motorcycle":
        return figures | {"fork.length_mm": _MOTORCYCLE_FORK_MM} | of_build
    diameter = tire.overall_diameter_mm or tire.bead_seat_diameter_mm
    radius = diameter / 2
    fork = radius + FORK_BEYOND_WHEEL_MM + of_build.get(_FRONT, 0.0)
    return (
        figures
        | {"fork.length_mm": round(fork, 0), "fork.offset_mm": round(radius * OFFSET_PER_RADIUS, 0)}
        | of_build
    )


def inseam(sheet: Sheet) -> Figure | None:
    """Return the rider's inseam, mm: as measured, else assumed out of the height."""
    known, tall = sheet.figures.get("rider.inseam_mm"), sheet.figures.get("rider.height_mm")
    if known is not None or tall is None:
        return known
    start = round(float(tall.value) * INSEAM_SHARE, 0)
    return Figure(start, Provenance.ASSUMED, tall.taken_on)


@dataclass(frozen=True, slots=True)
class Assumption:
    """A figure to go on with until someone measures it, in its key's unit, and its rule."""

    value: float
    rule: str


def assumption(sheet: Sheet, key: str) -> Assumption | None:
    """Return what may be assumed for a figure of a sheet; None where there is no rule for it.

    Sags are a share of the stated travel; lengths and angles are the usual machine's.
    """
    if key in SAG_SHARE:
        travel = sheet.figures.get(key.replace("sag_mm", "travel_mm"))
        if travel is None:
            return None
        share = SAG_SHARE[key][sheet.kind]
        value = round(float(travel.value) * share, 0)
        return Assumption(value, f"{share * 100:.0f} % of the travel")
    tire = sheet.text("front.tire")
    if tire is None:
        return None
    usual = assumed_figures(sheet.kind, known_code(tire), sheet.drawn_as).get(key)
    return None if usual is None else Assumption(usual, "usual for this build on this tire")
