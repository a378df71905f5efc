"""`jentrik read`: one tire code."""

import argparse
from datetime import date

from jentrik.cli.printing import print_json, print_lines
from jentrik.core.tire.found import Sidewall
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_sidewall
from jentrik.exchange.reading_document import sidewall_document


def read(options: argparse.Namespace) -> int:
    """Read one tire code."""
    # A date in the future is one whatever day an age is counted to.
    day = options.on or date.today()
    sidewall = read_sidewall(options.code, vehicle=options.vehicle, on=day)
    if options.json:
        print_json(sidewall_document(sidewall, on=options.on))
    else:
        print_lines(_sidewall_lines(sidewall, options.on))
    return 0


def _sidewall_lines(sidewall: Sidewall, on: date | None) -> list[str]:
    reading = sidewall.reading
    kind = f", {reading.vehicle}" if reading and reading.vehicle else ""
    family = reading.family if reading else "lines without a size"
    lines = [f"{sidewall.text}: {family}{kind}"]
    lines += [f"  {token.text:<8} {token.means}" for token in sidewall.tokens]
    if isinstance(reading, Reading):
        lines += _size_lines(reading)
    age = sidewall.made.age_years(on) if sidewall.made and on else None
    if age is not None:
        lines.append(f"  {age:.1f} years old")
    return lines + [f"  note: {note}" for note in sidewall.notes]


def _size_lines(reading: Reading) -> list[str]:
    lines = [f"  bead seat {reading.bead_seat_diameter_mm} mm"]
    if reading.overall_diameter_mm is not None and reading.circumference_mm is not None:
        lines.append(
            f"  overall diameter {reading.overall_diameter_mm:.1f} mm, circumference "
            f"{reading.circumference_mm:.0f} mm (nominal, unloaded)"
        )
    lines += [f"  also {other.text}: {other.family}" for other in reading.also]
    lines += [f"  or: {other.note}" for other in reading.alternatives]
    return lines
