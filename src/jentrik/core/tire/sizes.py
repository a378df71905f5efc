"""What every family of size marks hands on: the size before load, speed and other words."""

from dataclasses import dataclass
from typing import Literal, NamedTuple

Family = Literal[
    "motorcycle-metric",
    "motorcycle-inch",
    "motorcycle-alpha",
    "bicycle-iso",
    "bicycle-inch",
    "bicycle-french",
    "car-metric",
    "flotation",
]
Vehicle = Literal["bicycle", "motorcycle", "car"]
Construction = Literal["radial", "bias", "bias-belted"]

NO_ASPECT_NOTE = (
    "The mark gives no height, so section height and diameter are unknown; measure them."
)


@dataclass(frozen=True, slots=True)
class OtherRim:
    """Another rim that the same mark can name, and how to tell it apart."""

    bead_seat_diameter_mm: int
    note: str


class SizeMark(NamedTuple):
    """A size mark: lengths in mm, aspect in percent; unknown is None.

    `exactness` ranks marks that stand together: 2 for an ISO mark, 1 for one that names a
    single rim and width, 0 for the rest.
    """

    family: Family
    vehicle: Vehicle
    bead_seat_diameter_mm: int
    width_mm: float | None
    section_height_mm: float | None
    rim_code: str | None = None
    aspect_percent: float | None = None
    construction: Construction | None = None
    middle_speed: str | None = None
    markings: tuple[str, ...] = ()
    exactness: int = 1
    notes: tuple[str, ...] = ()
    alternatives: tuple[OtherRim, ...] = ()
