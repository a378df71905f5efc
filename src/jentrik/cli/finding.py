"""`jentrik find`: what can be put on a machine."""

import argparse

from jentrik.cli.printing import bytes_of, print_json, print_lines
from jentrik.exchange.find_document import find_from_json


def find(options: argparse.Namespace) -> int:
    """Print what can be put on a machine."""
    answer = find_from_json(bytes_of(options.file))
    if options.json:
        print_json(answer)
        return 0
    lines, before = [f"{answer['tried']} combinations tried."], answer["tried"]
    for one in answer["left"]:
        if one["after"] < before:
            lines.append(f"  {one['after']:>9} left after {one['rule']}")
        before = one["after"]
    lines += [
        f"{one['front']} / {one['rear']}"
        + (f", position {one['position']}" if one["position"] else "")
        + (f", fork {one['fork_longer_mm']:+g} mm" if one["fork_longer_mm"] else "")
        + f": head angle {one['head_angle_delta_deg']:+.1f}°, trail {one['trail_delta_mm']:+.0f} mm"
        + ("" if one["bb_delta_mm"] is None else f", BB {one['bb_delta_mm']:+.0f} mm")
        + f"; {one['worst']}"
        for one in answer["pairs"]
    ]
    print_lines(lines)
    return 0
