"""How a rider of a known inseam reaches the ground and the pedals, and stands over the frame.

Source: common practice; the inseam out of the body height is from memory, and only a start.
"""

from dataclasses import dataclass

from jentrik.core.figures.contact import Contact

INSEAM_SHARE = 0.46  # of the body height (from memory; people differ by some 20 mm)
SADDLE_SHARE = 0.883  # of the inseam, crank axle to saddle top (common practice)


@dataclass(frozen=True, slots=True)
class RiderReach:
    """mm; None where the machine's point is not known.

    The seat above the inseam: below 0 the feet stand flat, the machine upright.  Room between
    the frame's stand-over point and the crotch.  Saddle top to crank axle, and what is usual.
    """

    seat_above_mm: float | None
    standover_room_mm: float | None
    saddle_to_cranks_mm: float | None
    usual_to_cranks_mm: float


def rider_reach(touched: Contact, inseam_mm: float) -> RiderReach:
    """Return how a rider reaches a machine; both mm above level ground."""
    seat, frame = touched.seat_height_mm, touched.standover_height_mm
    return RiderReach(
        seat_above_mm=None if seat is None else seat - inseam_mm,
        standover_room_mm=None if frame is None else inseam_mm - frame,
        saddle_to_cranks_mm=touched.saddle_to_cranks_mm,
        usual_to_cranks_mm=SADDLE_SHARE * inseam_mm,
    )
