"""A limit ribbon: zero in the middle, the shop's band, a peg where the proposal stands.

The peg's shape changes outside the band, not only its colour: a house inside, a wedge outside
that points the way it left.
"""

from markupsafe import Markup

from jentrik.core.work.policy import Band
from jentrik.web.drawing.svg import number

_WIDTH, _HEIGHT = 190.0, 22.0


def ribbon(change: float, band: Band) -> Markup:
    """Return the ribbon of one figure; its ends lie at twice the wider side of the band."""
    reach = 2 * max(-band.low, band.high) or 1.0  # a shop may accept no change at all
    middle, unit = _WIDTH / 2, (_WIDTH / 2 - 6) / reach
    low, high = middle + band.low * unit, middle + band.high * unit
    x = middle + max(-reach, min(reach, change)) * unit
    holds = band.holds(change)
    said = "inside" if holds else "outside"
    return Markup(
        f'<svg class="ribbon" viewBox="0 0 {_WIDTH:.0f} {_HEIGHT:.0f}" role="img" '
        f'aria-label="{said} the shop limit">'
        f'<path class="track" d="M0 11H{_WIDTH:.0f}"/>'
        f'<path class="band" d="M{number(low)} 11H{number(high)}"/>'
        f'<path class="zero" d="M{number(middle)} 3V19"/>{_peg(x, change, holds)}</svg>'
    )


def _peg(x: float, change: float, holds: bool) -> str:
    if holds:
        left, right = number(x - 5), number(x + 5)
        house = f"M{left} 18V8L{number(x)} 3L{right} 8V18Z"
        return f'<path class="peg holds" d="{house}"/>'
    way = 1 if change > 0 else -1
    wedge = f"M{number(x - 6 * way)} 3V19L{number(x + 6 * way)} 11Z"
    return f'<path class="peg outside" d="{wedge}"/>'
