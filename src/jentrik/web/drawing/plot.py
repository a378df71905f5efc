"""Small plots: one figure through the travel, as found in pencil and planned in marking blue."""

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from jentrik.core.amounts import Amount, bare, mm, unit_alone
from jentrik.web.drawing import svg

_WIDTH, _HEIGHT = 250.0, 128.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 46.0, 8.0, 26.0, 24.0
_TO_END = ("plot-text", "end")


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a plot: places along and up, and whether it is as found or planned."""

    along: Sequence[float]
    up: Sequence[float]
    css: str


def plot(title: str, unit: str, lines: Sequence[Line], *, digits: int, across: str) -> Markup:
    """Return a plot of lines over one axis; its ends are lettered with their figures."""
    low = min(min(line.up) for line in lines)
    high = max(max(line.up) for line in lines)
    room = max((high - low) * 0.1, 10.0**-digits)
    low, high = low - room, high + room
    most = max(max(line.along) for line in lines)

    def place(along: float, up: float) -> svg.XY:
        x = _LEFT + svg.along(along, 0, most) * (_WIDTH - _LEFT - _RIGHT)
        return x, _TOP + (high - up) / (high - low) * (_HEIGHT - _TOP - _BOTTOM)

    floor = _HEIGHT - _BOTTOM
    parts = [
        svg.line((_LEFT, floor), (_WIDTH - _RIGHT, floor), "plot-axis"),
        svg.line((_LEFT, _TOP), (_LEFT, floor), "plot-axis"),
        *[
            svg.polyline([place(a, u) for a, u in zip(one.along, one.up, strict=True)], one.css)
            for one in lines
        ],
        svg.text((4, 15), [[(title, "name"), (unit_alone(unit), "name")]], "plot-text"),
        *(
            svg.text((_LEFT - 4, y), [[(bare(f"{end:.{digits}f}", unit), "name")]], *_TO_END)
            for y, end in ((_TOP + 12, high), (floor, low))
        ),
        svg.text((_LEFT, _HEIGHT - 7), [[("0", "name")]], "plot-text"),
        svg.text(
            (_WIDTH - _RIGHT, _HEIGHT - 7), [[(f"{mm(most):.0f} {across}", "name")]], *_TO_END
        ),
    ]
    said = "; ".join(
        f"{line.css}: from {Amount(line.up[0], unit):.{digits}f} to "
        f"{Amount(line.up[-1], unit):.{digits}f}"
        for line in lines
    )
    return Markup(
        f'<svg class="plot" viewBox="0 0 {_WIDTH:.0f} {_HEIGHT:.0f}" role="img" '
        f'aria-label="{escape(title)}, {escape(said)}"><title>{escape(title)}</title>'
        f"{''.join(parts)}</svg>"
    )
