"""A section of tire and rim to scale, from the bead seat up, with its dimensions.

The outline is a drawing of the nominal width and height; the true profile is the maker's.
"""

from markupsafe import Markup, escape

from jentrik.core.amounts import mm
from jentrik.core.tire.reading import Reading
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_ROOM = 150.0  # units left for the tire itself, in either direction


def section_drawing(reading: Reading) -> Markup | None:
    """Return the section as SVG; None where width or height is unknown."""
    width, height = reading.width_mm, reading.section_height_mm
    if width is None or height is None:
        return None
    scale = _ROOM / max(width, height)
    half, tall = width * scale / 2, height * scale
    x, base = 130.0, 44 + tall
    bead = half * 0.62
    outer = _tire_outline(x, base, half, tall, bead)
    wall = min(11.0, half * 0.22)
    inner = [
        (x + (px - x) * (1 - wall / half), base + (py - base) * (1 - wall / tall))
        for px, py in outer
    ]
    parts = [
        svg.smooth(outer, "casing"),
        svg.smooth(inner, "cavity"),
        svg.polyline(_rim_outline(x, base, bead), "section-rim"),
        *_dimensions(reading, (x, base), half, tall),
    ]
    said = (
        f"Section of {reading.text}: {fixed(width)} mm wide, {mm(fixed(height))} high on a "
        f"{reading.bead_seat_diameter_mm} mm bead seat"
    )
    return Markup(
        f'<svg class="section-drawing" viewBox="0 0 300 {base + 56:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>{escape(said)}</title>{"".join(parts)}</svg>'
    )


def _tire_outline(x: float, base: float, half: float, tall: float, bead: float) -> list[XY]:
    """Return the tire from bead to bead about its middle; `base` is the bead seat."""
    return [
        (x - bead, base),
        (x - half, base - tall * 0.28),
        (x - half, base - tall * 0.72),
        (x - half * 0.42, base - tall),
        (x + half * 0.42, base - tall),
        (x + half, base - tall * 0.72),
        (x + half, base - tall * 0.28),
        (x + bead, base),
    ]


def _rim_outline(x: float, base: float, bead: float) -> list[XY]:
    return [
        (x - bead - 3, base - 14),
        (x - bead - 3, base + 3),
        (x - bead * 0.55, base + 8),
        (x - bead * 0.45, base + 22),
        (x + bead * 0.45, base + 22),
        (x + bead * 0.55, base + 8),
        (x + bead + 3, base + 3),
        (x + bead + 3, base - 14),
    ]


def _dimensions(reading: Reading, middle: XY, half: float, tall: float) -> list[str]:
    """Return width, height and bead seat with their lines."""
    (x, base), right = middle, middle[0] + half + 22
    width, height = f"{fixed(reading.width_mm)} mm", str(mm(fixed(reading.section_height_mm)))
    seat = f"bead seat {reading.bead_seat_diameter_mm} mm"
    return [
        svg.line((x - half, 22), (x + half, 22), "tape"),
        svg.line((x - half, 16), (x - half, base - tall * 0.5), "tape light"),
        svg.line((x + half, 16), (x + half, base - tall * 0.5), "tape light"),
        svg.line((right, base - tall), (right, base), "tape"),
        svg.text((x, 14), [[(width, "figure")]], "dimension", "middle"),
        svg.text((right + 8, base - tall / 2), [[(height, "figure")]], "dimension"),
        svg.text((x, base + 44), [[(seat, "name")]], "dimension", "middle"),
    ]
