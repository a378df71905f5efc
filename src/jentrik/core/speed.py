"""What wheels of another circumference do to instruments and to front against rear.

    indicated = offset + true x (1 + reads over) / (circumference ratio of the sensed wheel)

A smaller wheel turns faster and reads higher.  The offset is what field pairs leave beside the
slope, nothing where no one took any.  Ratios come from unrounded diameters; nominal and rolled
circumferences differ, but their ratio hardly does.  Source: arithmetic.
"""

from dataclasses import dataclass

from jentrik.core.geometry.frame import Values
from jentrik.core.machine import Speedometer


@dataclass(frozen=True, slots=True)
class Speed:
    """Circumference ratios (proposed over found), what 100 km/h reads, and the ratio change."""

    circumference_ratio_front: Values
    circumference_ratio_rear: Values
    indicated_at_100_kmh: Values | None
    front_rear_ratio_change_percent: Values


def speed(*, front_ratio: Values, rear_ratio: Values, meter: Speedometer | None) -> Speed:
    """Return the speed figures; the indication is None without a wheel or its percentage."""
    return Speed(
        circumference_ratio_front=front_ratio,
        circumference_ratio_rear=rear_ratio,
        indicated_at_100_kmh=shown_kmh(
            100.0, meter, front_ratio=front_ratio, rear_ratio=rear_ratio
        ),
        front_rear_ratio_change_percent=(front_ratio / rear_ratio - 1.0) * 100.0,
    )


def shown_kmh(
    true_kmh: float, meter: Speedometer | None, *, front_ratio: Values, rear_ratio: Values
) -> Values | None:
    """Return what an instrument shows at a true speed, km/h; None where that is not known."""
    if meter is None or meter.reads_over_percent is None:
        return None
    sensed = front_ratio if meter.wheel == "front" else rear_ratio
    return meter.offset_kmh + true_kmh * (1.0 + meter.reads_over_percent / 100.0) / sensed
