"""Write eigenvalues of invented bicycles as another library computes them, for the tests.

Run by hand, in an environment of its own: ``pip install bicycleparameters==1.5.2``, then
``python scripts/steadiness_oracle.py tests/core/figures/eigenvalues.csv``.  The library draws in
matplotlib and five packages more, so the tests read what it answered instead of installing it.
"""

import csv
import math
import random
import sys
from pathlib import Path

import numpy as np
from bicycleparameters.bicycle import ab_matrix, benchmark_par_to_canonical

# Our names, theirs, and the range each is drawn from: metres, kilograms, kg m^2, radians.
PARAMETERS = (
    ("wheelbase", "w", 0.9, 1.3),
    ("trail", "c", -0.02, 0.12),
    ("tilt", "lam", math.radians(14), math.radians(30)),
    ("gravity", "g", 9.78, 9.83),
    ("rear_radius", "rR", 0.19, 0.39),
    ("rear_mass", "mR", 1.2, 4.0),
    ("rear_ixx", "IRxx", 0.03, 0.12),
    ("rear_iyy", "IRyy", 0.06, 0.3),
    ("frame_x", "xB", 0.25, 0.6),
    ("frame_z", "zB", -1.2, -0.7),
    ("frame_mass", "mB", 50.0, 130.0),
    ("frame_ixx", "IBxx", 6.0, 14.0),
    ("frame_ixz", "IBxz", -2.5, 2.5),
    ("frame_izz", "IBzz", 1.5, 5.0),
    ("fork_x", "xH", 0.75, 1.0),
    ("fork_z", "zH", -0.9, -0.5),
    ("fork_mass", "mH", 2.0, 6.0),
    ("fork_ixx", "IHxx", 0.05, 0.3),
    ("fork_ixz", "IHxz", -0.06, 0.01),
    ("fork_izz", "IHzz", 0.005, 0.1),
    ("front_radius", "rF", 0.19, 0.39),
    ("front_mass", "mF", 1.0, 3.5),
    ("front_ixx", "IFxx", 0.03, 0.12),
    ("front_iyy", "IFyy", 0.06, 0.3),
)


def rows(count: int) -> list[list[str]]:
    """Return a row for each bicycle: its parameters, a speed in m/s, four eigenvalues."""
    chance, lines = random.Random(2007), []
    for _ in range(count):
        drawn = [round(chance.uniform(low, high), 5) for _, _, low, high in PARAMETERS]
        speed = round(chance.uniform(0.5, 12), 3)
        theirs = {name: value for (_, name, _, _), value in zip(PARAMETERS, drawn, strict=True)}
        state, _ = ab_matrix(*benchmark_par_to_canonical(theirs), speed, theirs["g"])
        values = sorted(np.linalg.eigvals(state), key=lambda one: (one.real, one.imag))
        parts = [f"{part:.12g}" for value in values for part in (value.real, value.imag)]
        lines.append([*map(str, drawn), str(speed), *parts])
    return lines


def main() -> None:
    """Write the file that is named."""
    with Path(sys.argv[1]).open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        parts = [f"{part}{place}" for place in range(1, 5) for part in ("real", "imaginary")]
        writer.writerow([*(ours for ours, *_ in PARAMETERS), "speed_ms", *parts])
        writer.writerows(rows(60))


if __name__ == "__main__":
    main()
