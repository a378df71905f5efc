r"""The way between two near places on Earth, on the ellipsoid.

    ds^2 = (M dlat)^2 + (N cos(lat) dlon)^2       M, N: radii of curvature along and across the
                                                  meridian, at the middle latitude
    M = a (1 - e^2) / w^3,   N = a / w,   w^2 = 1 - e^2 sin^2(lat)

A sphere is up to 0.7 % off north to south.  Good to a millimetre in a hundred metres, which is
further apart than two fixes of a ride lie; a geodesic library is exact over any distance and a
hundred times slower, so it only checks this one.
Source: WGS 84 (its two defining figures, from memory); derived, differential geometry.
"""

import math

EQUATOR_M, FLATTENING = 6_378_137.0, 1 / 298.257223563
_E2 = FLATTENING * (2 - FLATTENING)


def way_m(
    *, latitude_deg: float, longitude_deg: float, to_latitude_deg: float, to_longitude_deg: float
) -> float:
    """Return the way in metres between two places not far apart."""
    middle = math.radians((latitude_deg + to_latitude_deg) / 2)
    w = math.sqrt(1 - _E2 * math.sin(middle) ** 2)
    across = EQUATOR_M / w
    along = EQUATOR_M * (1 - _E2) / w**3
    east = math.remainder(to_longitude_deg - longitude_deg, 360.0)
    return math.hypot(
        along * math.radians(to_latitude_deg - latitude_deg),
        across * math.cos(middle) * math.radians(east),
    )
