"""The width chart: a row for each rim size, a bar from the narrowest to the widest tire that goes.

Beside it the room seen from above: both sides of frame or fork over the distance from the axle,
with the tire that is on it between them.
"""

import math
from collections.abc import Callable, Mapping, Sequence

from markupsafe import Markup, escape

from jentrik.core.figures.room import Room, section_mm
from jentrik.core.machine.declared import End
from jentrik.core.machine.wheel import Wheel
from jentrik.core.plan.width_chart import Tick, WidthRow
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_LEFT, _RIGHT, _ROW, _TOP, _BAR = 76.0, 530.0, 76.0, 32.0, 22.0
_STEP_MM, _PRESS, _FIGURE = 10, 26.0, 48.0
_END, _LETTER = 598.0, 7.6  # the edge of the paper; what a letter takes
Presses = Mapping[tuple[int, str], str]  # what a standard size proposes, by bead seat and mark
_HATCH = (
    '<defs><pattern id="width-hatch" width="8" height="8" patternUnits="userSpaceOnUse" '
    'patternTransform="rotate(40)"><path class="width-hatch" d="M0 0V8"/></pattern></defs>'
)


def width_chart(
    rows: Sequence[WidthRow], end: End, presses: Presses, *, verb: str = "Propose"
) -> Markup:
    """Return the chart of one end, its standard sizes to be pressed."""
    there = [row for row in rows if row.end == end]
    ticks = [tick.width_mm for row in there for tick in row.ticks]
    least = int(min(row.narrowest_mm for row in there) // _STEP_MM * _STEP_MM)
    most = (int(max([*(row.widest_mm for row in there), *ticks])) // _STEP_MM + 1) * _STEP_MM
    tall = _TOP + len(there) * _ROW + 24

    def x(width_mm: float) -> float:
        return _LEFT + (width_mm - least) / (most - least) * (_RIGHT - _LEFT)

    parts = [_HATCH]
    for width in range(least, most + 1, _STEP_MM):
        parts.append(svg.line((x(width), _TOP - 8), (x(width), tall - 22), "plot-axis"))
        label = f"{width} mm" if width == most else f"{width}"
        parts.append(_words((x(width), tall - 2), label, "", "middle"))
    for place, row in enumerate(there):
        parts += _row(row, _TOP + place * _ROW, x)
        parts += _to_press(row, _TOP + place * _ROW, x, presses, verb)
    said = "; ".join(_said(row) for row in there)
    return Markup(
        f'<svg class="plot width-chart" viewBox="0 0 600 {tall:.0f}" role="group" '
        f'aria-label="How wide at the {end}, mm"><desc>{escape(said)}</desc>{"".join(parts)}</svg>'
    )


def _words(at: XY, words: str, css: str = "", anchor: str = "start") -> str:
    return svg.text(at, [[(words, "name")]], f"plot-text {css}".strip(), anchor)


def _small(name: str) -> str:
    return name[:1].lower() + name[1:]


def _said(row: WidthRow) -> str:
    limits = f"{fixed(row.narrowest_mm, 0)} to {fixed(row.widest_mm, 1)} mm, {row.limited_by}"
    return f"{row.bead_seat_diameter_mm}: {limits}{f', {row.missing}' if row.missing else ''}"


def _row(row: WidthRow, top: float, x: Callable[[float], float]) -> list[str]:
    """Return one rim size: its bar, its end, what limits both, and the tires on the chart."""
    floor, left, right = top + _BAR, x(row.narrowest_mm), x(row.widest_mm)
    box: list[XY] = [(left, top), (right, top), (right, floor), (left, floor)]
    below = "; ".join(
        one for one in (row.missing or row.narrowest_by, _small(row.limited_by)) if one
    )
    long = len(below) * _LETTER
    late = left + long > _END
    parts = [
        _words((4, floor - 4), str(row.bead_seat_diameter_mm), "width-size"),
        svg.polyline(box, f"width-bar{' open' if row.missing else ''}", closed=True),
        svg.line((right, top - 4), (right, floor + 4), "width-end"),
        _words((_clear_of(row, right, x) + 6, floor - 5), fixed(row.widest_mm, 1), "width-most"),
    ]
    place = (min(_END, max(right, long)) if late else left, floor + 20)
    parts.append(_words(place, below, "width-words", "end" if late else "start"))
    for number, tick in enumerate(row.ticks):
        at = x(tick.width_mm)
        later = ((x(one.width_mm), _named(one)) for one in row.ticks[number + 1 :])
        needed = len(_named(tick)) * _LETTER / 2
        named = all(abs(at - there) > needed + len(name) * _LETTER / 2 for there, name in later)
        parts.append(_tick(tick, top, at, named=named))
    return parts


def _named(tick: Tick) -> str:
    return f"{tick.name} {fixed(tick.width_mm, 0)}"


def _clear_of(row: WidthRow, right: float, x: Callable[[float], float]) -> float:
    """Return where the widest figure stands: behind the bar, and behind ticks that lie there."""
    there = right
    for at in sorted(x(tick.width_mm) for tick in row.ticks):
        if there - 4 <= at <= there + _FIGURE:
            there = at
    return there


def _tick(tick: Tick, top: float, at: float, *, named: bool) -> str:
    css = "there" if tick.name == "on it" else "goes" if tick.goes else "fouls"
    line = svg.line((at, top - 6), (at, top + _BAR + 3), f"width-tick {css}")
    return (
        line + _words((at, top - 8), _named(tick), f"width-words {css}", "middle")
        if named
        else line
    )


def _to_press(
    row: WidthRow, top: float, x: Callable[[float], float], presses: Presses, verb: str
) -> list[str]:
    """Return a target over each standard size of a row that a finger can tell from the last."""
    parts, taken = [], -_PRESS
    for size in row.sizes:
        value = presses.get((row.bead_seat_diameter_mm, size.text))
        at = x(size.width_mm or 0.0)
        if value is None or at - taken < _PRESS:
            continue
        taken = at
        parts.append(
            f'<foreignObject x="{svg.number(at - _PRESS / 2)}" y="{svg.number(top - 2)}" '
            f'width="{_PRESS:.0f}" height="{_PRESS:.0f}"><button name="pair" '
            f'value="{escape(value)}" title="{escape(size.text)}" '
            f'aria-label="{verb} {escape(size.text)}, {row.end}"></button></foreignObject>'
        )
    return parts


_W, _H, _SIDE = 560.0, 180.0, 1.2  # the last: units for a mm across


def room_drawing(room: Room, wheel: Wheel, end: End) -> Markup:
    """Return the room from above: distance from the axle to the right, width up and down."""
    lines = [line for side in room.sides for line in (side.start, side.end)]
    outer = wheel.diameter_mm / 2
    seat = wheel.tire.bead_seat_diameter_mm / 2 if wheel.tire else outer - 30
    places = [line.from_axle_mm for line in (*lines, *(line for line, _ in room.ahead))]
    low, high = min([*places, seat]) - 12, max([*places, outer]) + 12

    def at(mm: float, half: float) -> XY:
        return (mm - low) / (high - low) * _W, _H / 2 - half * _SIDE

    parts = [svg.line((0, _H / 2), (_W, _H / 2), "room-middle")]
    for side in room.sides:
        for way in (0.5, -0.5):
            ends = [
                at(line.from_axle_mm, way * (line.inside_mm or 0.0))
                for line in (side.start, side.end)
            ]
            parts.append(svg.line(ends[0], ends[1], "room-side"))
            parts += [svg.circle(point, 3, "room-point") for point in ends]
    for line, _ in room.ahead:
        parts.append(svg.line(at(line.from_axle_mm, 30), at(line.from_axle_mm, -30), "room-side"))
    width = section_mm(wheel)
    if width is not None and outer > seat:
        shares = [(1 - math.cos(math.pi * step / 24)) / 2 for step in range(25)]
        edge = [(seat + (outer - seat) * t, width * (t - t * t) ** 0.5) for t in shares]
        around = [at(mm, half) for mm, half in edge]
        around += [at(mm, -half) for mm, half in reversed(edge)]
        parts.append(svg.polyline(around, "room-tire", closed=True))
    floor = _H + 6
    for mm in range(int(low // 40 + 1) * 40, int(high), 40):
        across = at(mm, 0)[0]
        parts.append(svg.line((across, floor - 6), (across, floor), "room-tick"))
        parts.append(_words((across, floor + 14), str(mm), "room-scale", "middle"))
    parts.append(svg.line((0, floor), (_W, floor), "room-tick"))
    said = f"The room at the {end} from above: mm from the axle to the right"
    return Markup(
        f'<svg class="plot room-from-above" viewBox="-10 -4 {_W + 20:.0f} {_H + 30:.0f}" '
        f'role="img" aria-label="{said}">{"".join(parts)}</svg>'
    )
