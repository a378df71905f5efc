"""How much of rider, luggage and bicycle one wheel carries, where no one weighed the axles.

    rear    60 % of all of it, front 45 %: shares that overlap, for standing and braking riders

Source: common practice; a weighed axle always wins.
"""

from jentrik.core.machine.declared import End
from jentrik.core.machine.machine import Bike

SHARE = {"front": 0.45, "rear": 0.60}
TWIN_SHARE, LONE_SHARE = 0.33, 0.45  # of each of two wheels on one axle, and of the third
BICYCLE_KG = 15.0  # a plain one, where no one weighed it


def axle_share_kg(bike: Bike, end: End) -> float | None:
    """Return about what one wheel carries in kg.

    None on a motorcycle, without a rider's mass, on a tandem without the second one's, and of
    an assisted cycle no one weighed.
    """
    own = bicycle_kg(bike)
    if bike.kind != "bicycle" or bike.riding.rider_kg is None or own is None:
        return None
    second = bike.riding.stoker_kg
    if bike.build.layout == "tandem" and second is None:
        return None
    share = SHARE[end]
    if bike.build.twin_end is not None:
        share = TWIN_SHARE if end == bike.build.twin_end else LONE_SHARE
    riders = bike.riding.rider_kg + (second or 0.0)
    return share * (riders + (bike.riding.luggage_kg or 0.0) + own)


def bicycle_kg(bike: Bike) -> float | None:
    """Return what a machine weighs in kg; a plain bicycle no one weighed about what they do."""
    plain = bike.vehicle_class == "bicycle"
    return BICYCLE_KG if bike.mass.kg is None and plain else bike.mass.kg
