"""Writing SVG: numbers short, text escaped, nothing else."""

from collections.abc import Iterable
from itertools import pairwise

from markupsafe import escape

XY = tuple[float, float]


def number(value: float) -> str:
    """Return a length as SVG takes it: a tenth of a millimetre, no trailing zero."""
    text = f"{value:.1f}"
    return text.removesuffix(".0") if text != "-0.0" else "0"


def _xy(point: XY) -> str:
    return f"{number(point[0])} {number(point[1])}"


def line(start: XY, end: XY, css: str) -> str:
    """Return a straight line."""
    return f'<path class="{css}" d="M{_xy(start)}L{_xy(end)}"/>'


def polyline(points: Iterable[XY], css: str, *, closed: bool = False) -> str:
    """Return straight lines through points."""
    route = "L".join(_xy(point) for point in points)
    return f'<path class="{css}" d="M{route}{"Z" if closed else ""}"/>'


def bent(start: XY, straight: XY, pull: XY, end: XY, css: str) -> str:
    """Return a straight line that bends once, pulled towards a point, to its end."""
    return f'<path class="{css}" d="M{_xy(start)}L{_xy(straight)}Q{_xy(pull)} {_xy(end)}"/>'


def smooth(points: list[XY], css: str, *, closed: bool = False) -> str:
    """Return a soft line through the middles of the legs, from the first point to the last."""
    if closed:
        start = _middle(points[-1], points[0])
        turns = [*points, points[0]]
    else:
        start, turns = points[0], points[1:]
    route = f"M{_xy(start)}"
    for here, there in pairwise(turns):
        route += f"Q{_xy(here)} {_xy(_middle(here, there))}"
    route += "Z" if closed else f"L{_xy(turns[-1])}"
    return f'<path class="{css}" d="{route}"/>'


def _middle(a: XY, b: XY) -> XY:
    return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2


def circle(center: XY, radius: float, css: str) -> str:
    """Return a circle."""
    return (
        f'<circle class="{css}" cx="{number(center[0])}" cy="{number(center[1])}" '
        f'r="{number(radius)}"/>'
    )


def arc(radius: float, start: XY, end: XY, css: str) -> str:
    """Return an arc of a radius from one point to another, against the clock, y up."""
    round_it = f"A{number(radius)} {number(radius)} 0 0 1 {_xy(end)}"
    return f'<path class="{css}" d="M{_xy(start)}{round_it}"/>'


def group(parts: Iterable[str], css: str = "", transform: str = "") -> str:
    """Return parts as one group."""
    attributes = f' class="{css}"' if css else ""
    attributes += f' transform="{transform}"' if transform else ""
    return f"<g{attributes}>{''.join(parts)}</g>"


def text(
    at: XY, lines: Iterable[Iterable[tuple[str, str]]], css: str, anchor: str = "start"
) -> str:
    """Return lines of (words, class) spans, the first baseline at a point, em by em below it."""
    x = number(at[0])
    spans = []
    for row, words in enumerate(lines):
        place = f' x="{x}" dy="{"1.2em" if row else "0"}"'
        for part, part_css in words:
            spans.append(f'<tspan class="{part_css}"{place}>{escape(part)}</tspan>')
            place = ' dx="0.3em"'
    return (
        f'<text class="{css}" x="{x}" y="{number(at[1])}" text-anchor="{anchor}">'
        f"{''.join(spans)}</text>"
    )


def along(value: float, low: float, high: float) -> float:
    """Return how far a value lies from `low` to `high` as a share; half where both are equal."""
    return (value - low) / (high - low) if high != low else 0.5
