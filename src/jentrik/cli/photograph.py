"""`jentrik photo`: figures of a machine from marks on a photograph."""

import argparse

from jentrik.cli.printing import bytes_of, print_json
from jentrik.exchange.photo_marks import photo_from_json


def photo(options: argparse.Namespace) -> int:
    """Print the figures that marks on a photograph tell."""
    answer = photo_from_json(bytes_of(options.file))
    if options.json:
        print_json(answer)
        return 0
    for name, one in answer["figures"].items():
        print(f"{name} {one['value']:.1f} ± {one['plus_minus']:.1f}")
    for point in answer["points"]:
        print(
            f"{point['name']}: forward {point['x_mm']:.0f} mm, height {point['height_mm']:.0f} mm "
            f"± {point['plus_minus']:.0f}"
        )
    print(f"Marks lie off by {answer['residual_px']:.1f} px.")
    for note in answer["notes"]:
        print(note)
    return 0
