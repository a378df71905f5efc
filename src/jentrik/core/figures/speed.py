"""What wheels of another circumference do to instruments and to front against rear.

    indicated = offset + true x (1 + reads over) / (circumference ratio of the sensed wheel)

An instrument fed by the gearbox turns with the sprockets, too: its ratio is the rear wheel's
times the change of front over rear teeth.  A smaller wheel turns faster and reads higher.  The
offset is what field pairs leave beside the slope, nothing where no one took any.  Ratios come from
unrounded diameters; nominal and rolled circumferences differ, but their ratio hardly does.
Source: arithmetic.
"""

import math
from dataclasses import dataclass

from jentrik.core.geometry.frame import Values
from jentrik.core.machine.machine import Bike, Speedometer


@dataclass(frozen=True, slots=True)
class Speed:
    """Circumference ratios (proposed over found), what 100 km/h reads, and the ratio change."""

    circumference_ratio_front: Values
    circumference_ratio_rear: Values
    indicated_at_100_kmh: Values | None
    front_rear_ratio_change_percent: Values
    sensed_ratio: Values | None = None  # way for one turn of what feeds the instrument
    counted_ratio: Values | None = None  # the same for one it counts, its signal corrected


def speed(
    *,
    front_ratio: Values,
    rear_ratio: Values,
    meter: Speedometer | None,
    teeth_ratio: float = 1.0,
    corrected_percent: float | None = None,
) -> Speed:
    """Return the speed figures; the indication is None without a wheel or its percentage.

    `teeth_ratio` is front over rear teeth as planned, over the same as found; `corrected_percent`
    what is then added to the instrument's signal, None what is added to it already.
    """
    sensed = None
    if meter is not None:
        sensed = front_ratio if meter.wheel == "front" else rear_ratio
        if meter.wheel == "gearbox":
            sensed = sensed * teeth_ratio
    counted = sensed
    if meter is not None and sensed is not None and corrected_percent is not None:
        counted = sensed * (1 + meter.corrected_percent / 100) / (1 + corrected_percent / 100)
    return Speed(
        circumference_ratio_front=front_ratio,
        circumference_ratio_rear=rear_ratio,
        indicated_at_100_kmh=shown_kmh(100.0, meter, counted_ratio=counted),
        front_rear_ratio_change_percent=(front_ratio / rear_ratio - 1.0) * 100.0,
        sensed_ratio=sensed,
        counted_ratio=counted,
    )


def usual_kmh(bike: Bike) -> float:
    """Return the true speed in km/h an instrument is looked at: one the machine rides at."""
    return min(_USUAL_KMH[bike.kind], bike.riding.top_speed_kmh or math.inf)


_USUAL_KMH = {"bicycle": 30.0, "motorcycle": 100.0}  # common practice


def shown_before_and_after(
    bike: Bike, true_kmh: float, planned: Speed
) -> tuple[Values | None, Values | None]:
    """Return what the instrument shows at a true speed, as found and as planned, km/h."""
    found = shown_kmh(true_kmh, bike.speedometer, counted_ratio=1.0)
    return found, shown_kmh(true_kmh, bike.speedometer, counted_ratio=planned.counted_ratio)


def shown_kmh(
    true_kmh: float, meter: Speedometer | None, *, counted_ratio: Values | None
) -> Values | None:
    """Return what an instrument shows at a true speed, km/h; None where that is not known."""
    if meter is None or meter.reads_over_percent is None or counted_ratio is None:
        return None
    return meter.offset_kmh + true_kmh * (1.0 + meter.reads_over_percent / 100.0) / counted_ratio
