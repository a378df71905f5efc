"""The map of pairs: front diameter across, rear diameter up, each point a pair of sizes.

A point's shape says more than its colour: a dot holds the shop's limits, a filled diamond
goes beyond them, a small cross is a pair that a rule stops.  Lines join pairs that leave head
angle, trail or bottom bracket as they are, and a step to each side.  Bands are hatched where one
wheel alone is out.  What is found, proposed and owned has marks of its own, the chosen pair a ring.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, unit_alone
from jentrik.web.drawing import svg
from jentrik.web.drawing.labels import Labels
from jentrik.web.drawing.svg import XY

WIDTH, HEIGHT = 760.0, 560.0
_LEFT, _RIGHT, _TOP, _FLOOR = 58.0, 748.0, 28.0, 510.0
_LETTERING, _ON_A_PHONE = 15.0, 38.0  # as the style sheet has them
_STEPS_MM = (5, 10, 20, 25, 50, 100)
CHOSEN_HERE = "@chosen@"  # stands in the drawing where the ring of the chosen pair goes


@dataclass(frozen=True, slots=True)
class MapPoint:
    """One pair: its diameters, its state, its words, and where a click on it leads."""

    front_mm: float
    rear_mm: float
    state: str  # "holds", "beyond", "stopped"
    words: str
    href: str = ""


@dataclass(frozen=True, slots=True)
class MapMark:
    """A pair that is there: as found, proposed, or a wheel set that is owned."""

    front_mm: float
    rear_mm: float
    kind: str  # "found", "proposed", "owned"
    words: str


@dataclass(frozen=True, slots=True)
class MapLine:
    """Pairs of one figure: its name and where it runs, front and rear diameters."""

    words: str
    kind: str  # "head", "trail", "bracket"
    places: Sequence[XY]


@dataclass(frozen=True, slots=True)
class MapBand:
    """Diameters of one end that a rule stops whatever the other end wears."""

    end: str
    low_mm: float
    high_mm: float
    words: str


@dataclass(frozen=True, slots=True)
class Frame:
    """What part of the diameters the map shows, mm."""

    front: tuple[float, float]
    rear: tuple[float, float]

    def at(self, front_mm: float, rear_mm: float) -> XY:
        """Return where a pair lies on the paper."""
        across = svg.along(front_mm, *self.front)
        up = svg.along(rear_mm, *self.rear)
        return _LEFT + across * (_RIGHT - _LEFT), _FLOOR - up * (_FLOOR - _TOP)

    def holds(self, front_mm: float, rear_mm: float) -> bool:
        """Whether a pair lies on the map."""
        across = self.front[0] <= front_mm <= self.front[1]
        return across and self.rear[0] <= rear_mm <= self.rear[1]


def size_map(
    frame: Frame,
    points: Iterable[MapPoint],
    lines: Iterable[MapLine],
    bands: Iterable[MapBand],
    marks: Iterable[MapMark],
    said: str,
) -> Markup:
    """Return the map; points in the order they are drawn, the best last."""
    labels = Labels((_LEFT, _TOP, _RIGHT, _FLOOR))
    here = [mark for mark in marks if frame.holds(mark.front_mm, mark.rear_mm)]
    for one in here:
        x, y = frame.at(one.front_mm, one.rear_mm)
        labels.keep_free((x - 12, y - 12, x + 12, y + 12))
    marked = [_mark(frame, one, labels) for one in here]  # their words come before the lines'
    parts = [
        *(_band(frame, band) for band in bands),
        *_axes(frame),
        *(_line(frame, line, labels) for line in lines),
        *(_point(frame, point) for point in points),
        *marked,
        CHOSEN_HERE,
    ]
    return Markup(
        f'<svg class="size-map map-drawing" viewBox="0 0 {WIDTH:.0f} {HEIGHT:.0f}" role="group" '
        f'aria-label="{escape(said)}"><title>Map of pairs</title><defs><pattern id="map-hatch" '
        'width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
        '<path class="map-hatch" d="M0 0V8"/></pattern><clipPath id="map-paper">'
        f'<path d="M{_LEFT} {_TOP}H{_RIGHT}V{_FLOOR}H{_LEFT}Z"/></clipPath></defs>'
        f"{''.join(parts)}</svg>"
    )


def chosen_ring(frame: Frame, front_mm: float, rear_mm: float) -> str:
    """Return the ring around the chosen pair, for the place of `CHOSEN_HERE` in a map."""
    if not frame.holds(front_mm, rear_mm):
        return ""
    return svg.circle(frame.at(front_mm, rear_mm), 11, "map-mark chosen")


def _axes(frame: Frame) -> list[str]:
    parts = [
        svg.line((_LEFT, _FLOOR), (_RIGHT, _FLOOR), "plot-axis"),
        svg.line((_LEFT, _TOP), (_LEFT, _FLOOR), "plot-axis"),
        svg.text((_LEFT, 18), [[("rear wheel,", "name"), (unit_alone("mm"), "name")]], "map-text"),
        svg.text(
            (_RIGHT, HEIGHT - 8),
            [[("front wheel,", "name"), (unit_alone("mm"), "name")]],
            "map-text across",
            "end",
        ),
    ]
    for value in _ticks(*frame.front):
        x, _ = frame.at(value, frame.rear[0])
        parts.append(svg.line((x, _FLOOR), (x, _FLOOR + 5), "plot-axis"))
        parts.append(svg.text((x, _FLOOR + 22), [[(_said(value), "figure")]], "map-text", "middle"))
    for value in _ticks(*frame.rear):
        _, y = frame.at(frame.front[0], value)
        parts.append(svg.line((_LEFT - 5, y), (_LEFT, y), "plot-axis"))
        parts.append(svg.text((_LEFT - 9, y + 5), [[(_said(value), "figure")]], "map-text", "end"))
    return parts


def _said(value_mm: float) -> str:
    return bare(f"{value_mm:.0f}", "mm")


def _ticks(low: float, high: float) -> list[float]:
    step = next((one for one in _STEPS_MM if (high - low) / one <= 8), _STEPS_MM[-1])
    first = -(-low // step) * step
    return [first + step * place for place in range(int((high - first) // step) + 1)]


def _band(frame: Frame, band: MapBand) -> str:
    if band.end == "front":
        x, _ = frame.at(max(band.low_mm, frame.front[0]), frame.rear[0])
        to, _ = frame.at(min(band.high_mm, frame.front[1]), frame.rear[0])
        box = (x, _TOP, to, _FLOOR)
    else:
        _, y = frame.at(frame.front[0], min(band.high_mm, frame.rear[1]))
        _, to = frame.at(frame.front[0], max(band.low_mm, frame.rear[0]))
        box = (_LEFT, y, _RIGHT, to)
    left, top, right, floor = (svg.number(one) for one in box)
    return (
        f'<path class="map-band" d="M{left} {top}H{right}V{floor}H{left}Z">'
        f"<title>{escape(band.words)}</title></path>"
    )


def _line(frame: Frame, line: MapLine, labels: Labels) -> str:
    places = [frame.at(*place) for place in line.places if frame.holds(*place)]
    if len(places) < 2:
        return ""
    # Words at the line's upper end; where others stand there, further down beside it.
    candidates = [
        ((x + aside, y + drop), anchor)
        for x, y in reversed(places)
        for aside, drop, anchor in ((0, -6, "start"), (0, -6, "end"), (8, 14, "start"))
    ]
    at, anchor = labels.place(line.words, _LETTERING, candidates)
    return svg.polyline(places, f"map-line {line.kind}") + svg.text(
        at, [[(line.words, "name")]], f"map-text {line.kind}", anchor
    )


def _point(frame: Frame, point: MapPoint) -> str:
    x, y = frame.at(point.front_mm, point.rear_mm)
    css = f"map-point {point.state}"
    if point.state == "stopped":
        return f'<path class="{css}" d="M{svg.number(x - 2)} {svg.number(y)}h4m-2 -2v4"/>'
    if point.state == "holds":
        shape = svg.circle((x, y), 5, css)
    else:
        at = f"M{svg.number(x)} {svg.number(y - 6)}l6 6l-6 6l-6 -6Z"
        shape = f'<path class="{css}" d="{at}"/>'
    words = escape(point.words)
    # The list beside the map holds the best of them for who has no mouse.
    return f'<a href="{escape(point.href)}" tabindex="-1"><title>{words}</title>{shape}</a>'


def _mark(frame: Frame, mark: MapMark, labels: Labels) -> str:
    x, y = frame.at(mark.front_mm, mark.rear_mm)
    shapes = {
        "found": f"M{svg.number(x - 9)} {svg.number(y - 9)}h18v18h-18Z",
        "proposed": f"M{svg.number(x)} {svg.number(y - 12)}l12 12l-12 12l-12 -12Z",
        "owned": f"M{svg.number(x - 10)} {svg.number(y)}h20m-10 -10v20",
    }
    candidates = [
        ((x + side * 13, y + drop), anchor)
        for drop in (-12, 22, -28, 38)
        for side, anchor in ((1, "start"), (-1, "end"))
    ]
    at, anchor = labels.place(mark.words, _ON_A_PHONE, candidates)
    return f'<path class="map-mark {mark.kind}" d="{shapes[mark.kind]}"/>' + svg.text(
        at, [[(mark.words, "figure")]], f"map-text {mark.kind}", anchor
    )
