"""What wheels of another circumference do to instruments and to front against rear.

    indicated = true x (1 + reads over) / (circumference ratio of the sensed wheel)

A smaller wheel turns faster and reads higher.  Ratios come from unrounded diameters; nominal
and rolled circumferences differ, but their ratio hardly does.  Source: arithmetic.
"""

from dataclasses import dataclass

from jentrik.core.geometry.frame import Values


@dataclass(frozen=True, slots=True)
class Speed:
    """Circumference ratios (proposed over found), what 100 km/h reads, and the ratio change."""

    circumference_ratio_front: Values
    circumference_ratio_rear: Values
    indicated_at_100_kmh: Values | None
    front_rear_ratio_change_percent: Values


def speed(
    *, front_ratio: Values, rear_ratio: Values, wheel: str | None, reads_over_percent: float | None
) -> Speed:
    """Return the speed figures; the indication is None without a wheel or its percentage."""
    sensed = {"front": front_ratio, "rear": rear_ratio}.get(wheel or "")
    indicated = None
    if sensed is not None and reads_over_percent is not None:
        indicated = (100.0 + reads_over_percent) / sensed
    return Speed(
        circumference_ratio_front=front_ratio,
        circumference_ratio_rear=rear_ratio,
        indicated_at_100_kmh=indicated,
        front_rear_ratio_change_percent=(front_ratio / rear_ratio - 1.0) * 100.0,
    )
