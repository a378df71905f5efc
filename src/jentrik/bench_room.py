"""How wide it may be: the time of every rim size of a machine with twelve lines of room."""

from jentrik.bench_finder import best_seconds
from jentrik.core.figures.room import widest_tires
from jentrik.core.machine.building import bike_of
from jentrik.core.work.policy import DEFAULT_POLICY

_ROUNDS = 30


def widest_ms() -> float:
    """Return the milliseconds of all rim sizes at both ends, the best of some rounds."""
    room = [
        {"name": name, "wheel": end, "from_axle_mm": 250 + 40 * step, "inside_mm": 70 - 4 * step}
        for end in ("front", "rear")
        for name in ("stays", "guard")
        for step in range(3)
    ]
    wheel = {"tire": "37-622"}
    bike = bike_of(
        {
            "name": "measured",
            "kind": "bicycle",
            "wheelbase_mm": 1050,
            "head_angle_deg": 71,
            "fork": {"length_mm": 395, "offset_mm": 50},
            "front": wheel,
            "rear": wheel,
            "room": room,
        }
    )
    return best_seconds(lambda: widest_tires(bike, DEFAULT_POLICY), _ROUNDS) * 1000
