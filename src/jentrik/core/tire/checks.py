"""What to look at on the real tire before its marks are believed: common practice."""

from jentrik.core.tire.found import Sidewall
from jentrik.core.tire.reading import Reading


def to_check(sidewall: Sidewall) -> tuple[str, ...]:
    """Return what these marks leave open, each as one thing to do with the tire in hand."""
    size = sidewall.reading if isinstance(sidewall.reading, Reading) else None
    if size is None:
        return ("Find the size mark; it stands larger, often twice, nearer the bead.",)
    lines = []
    if size.exactness < 2 and size.vehicle == "bicycle":
        lines.append("Find the ISO mark, like 37-622: it alone names the rim for sure.")
    if size.width_mm is None:
        lines.append("Measure the width of the mounted tire: the mark gives none.")
    if size.vehicle != "bicycle":
        if size.load_index is None:
            lines.append("Find the load index and speed symbol; the maker's sheet asks for both.")
        if size.tube is None:
            lines.append("Look for TL or TT: with or without a tube.")
        if size.position is None:
            lines.append("Look for FRONT or REAR, and for the arrow of rotation.")
    else:
        lines.append("Look for the arrow of rotation.")
    if sidewall.made is None:
        lines.append(
            "Find the date, the last four digits of the DOT line, on one side only; "
            "where none stands the age is unknown, not zero."
        )
    lines.append("Compare the mark with the rim's own: the diameters must be the same.")
    return tuple(lines)
