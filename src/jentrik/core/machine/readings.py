"""Repeated readings of one figure: their mean, their spread, and what the tool can tell.

    typed  =  reading { ";" reading } [ "±" figure ]

Without a stated ±, the tool's usual one stands (common practice).  It does not average out: the
same tape reads every time.  The scatter of several readings does, so the error of their mean, by
Student's t, is added to it as squares.  Every ± is two standard deviations.
"""

import math
import re
from dataclasses import dataclass
from statistics import mean, stdev

from jentrik.core.errors import OutOfRange
from jentrik.core.plus_minus import deviations
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.rim_marks import read_rim_width
from jentrik.core.units import read_figure

MOST_READINGS = 20
OF_SECTION_HEIGHT = 0.05  # a casing's height against its mark (common practice)
FAR_APART = 0.1  # of the largest: beyond it two readings are of two things (common practice)

# key -> what a careful hand reads with the usual tool, in the key's unit (common practice)
USUAL_PLUS_MINUS: dict[str, float] = {
    "wheelbase_mm": 2.0,
    "head_angle_deg": 0.2,
    "rake_deg": 0.2,
    "fork.length_mm": 2.0,
    "fork.offset_mm": 1.5,
    "chainstay_mm": 1.5,
    "bb_height_mm": 1.5,
    "seat_angle_deg": 0.3,
    "stack_mm": 2.0,
    "reach_mm": 2.0,
    "crank_mm": 0.5,
    "front.overall_diameter_mm": 2.0,
    "rear.overall_diameter_mm": 2.0,
    "cross.bb_drop_mm": 2.0,
    "cross.front_center_mm": 2.0,
    "cross.trail_mm": 3.0,
    "cross.head_tube_mm": 1.5,
}


@dataclass(frozen=True, slots=True)
class Readings:
    """Readings as taken, in the figure's unit, and a stated ±."""

    readings: tuple[float, ...]
    plus_minus: float | None = None

    @property
    def mean(self) -> float:
        """The middle of the readings."""
        return mean(self.readings)


RIM_WIDTH = "rim.inner_width_mm"  # the end of every key of a rim's inner width


def read_named(key: str, text: str, *, unit: str = "") -> float:
    """Return the figure that was typed for a key; a rim's width may be typed as it is stamped."""
    return read_rim_width(text) if key.endswith(RIM_WIDTH) else read_figure(text, unit=unit)


def read_readings(text: str, *, unit: str = "", key: str = "") -> Readings:
    """Return the readings someone typed; refuses anything else, and a ± below nothing."""
    said, _, tool = text.replace("+/-", "±").replace("+-", "±").partition("±")
    parts = [part for part in re.split(r";|\s\+\s", said) if part.strip()]
    if len(parts) > MOST_READINGS:
        raise OutOfRange(f"At most {MOST_READINGS} readings of one figure.", expected="fewer")
    readings = tuple(read_named(key, part, unit=unit) for part in parts or [said])
    low, high = min(readings), max(readings)
    if high - low > FAR_APART * max(abs(low), abs(high)):
        raise OutOfRange(
            f"{low:g} and {high:g} are too far apart to be readings of one figure.",
            expected="readings of one figure, a few percent apart at most",
        )
    plus_minus = read_figure(tool, unit=unit) if tool.strip() else None
    if plus_minus is not None and plus_minus < 0:
        raise OutOfRange("A ± is never below nothing.", expected="a ± like 2")
    return Readings(readings, plus_minus)


def worth(key: str, *, plus_minus: float | None, readings: tuple[float, ...]) -> float:
    """Return the ± of a kept figure in its unit: the tool's, and the scatter of the mean."""
    tool = USUAL_PLUS_MINUS.get(key, 0.0) if plus_minus is None else plus_minus
    if len(readings) < 2:
        return tool
    scatter = stdev(readings) / math.sqrt(len(readings))
    return math.hypot(tool, deviations(len(readings) - 1) * scatter)


def nominal_worth(tire: Reading | None) -> float:
    """Return the ± in mm of a diameter known by a tire's code alone."""
    height = tire.section_height_mm if tire else None
    return 2 * OF_SECTION_HEIGHT * (height or 0.0)
