"""Ways on the ellipsoid against a geodesic library."""

import pytest
from geographiclib.geodesic import Geodesic

from jentrik.core.figures.geodesy import way_m


@pytest.mark.parametrize("latitude", [-78.0, -33.5, 0.0, 0.7, 45.0, 60.2, 89.0])
@pytest.mark.parametrize(("north", "east"), [(4e-4, 0.0), (0.0, 4e-4), (-3e-4, 5e-4), (0.0, 0.0)])
@pytest.mark.parametrize("longitude", [10.0, 179.9999])
def test_a_short_way_is_the_geodesics(
    latitude: float, north: float, east: float, longitude: float
) -> None:
    there = (latitude + north, longitude + east)
    exact = Geodesic.WGS84.Inverse(latitude, longitude, *there)["s12"]
    way = way_m(
        latitude_deg=latitude,
        longitude_deg=longitude,
        to_latitude_deg=there[0],
        to_longitude_deg=there[1],
    )
    assert way == pytest.approx(exact, rel=1e-5, abs=1e-4)


def test_a_sphere_would_be_off_north_to_south() -> None:
    # The mean sphere's degree is 111.195 km; at the equator the ellipsoid's is 110.574.
    way = way_m(latitude_deg=-0.0005, longitude_deg=0, to_latitude_deg=0.0005, to_longitude_deg=0)
    assert way == pytest.approx(110.574, abs=0.001)
