"""A bar for each year with its figure above it; dashed where it is at least so much."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from markupsafe import Markup, escape

from jentrik.web.drawing import svg

_WIDE, _TALL, _FLOOR, _TOP = 74.0, 150.0, 122.0, 26.0


@dataclass(frozen=True, slots=True)
class YearBar:
    """One year, what it came to, and whether more came that has no figure."""

    year: int
    amount: Decimal
    at_least: bool


def year_bars(bars: Sequence[YearBar], title: str, unit: str) -> Markup:
    """Return the bars from the first year to the last, years without one left empty."""
    known = {bar.year: bar for bar in bars}
    years = range(min(known), max(known) + 1)
    most = max(max(bar.amount for bar in bars), Decimal(1))
    parts = [svg.line((0, _FLOOR), (len(years) * _WIDE, _FLOOR), "plot-axis")]
    said = []
    for place, year in enumerate(years):
        middle = place * _WIDE + _WIDE / 2
        parts.append(svg.text((middle, _TALL - 8), [[(str(year), "name")]], "plot-text", "middle"))
        bar = known.get(year)
        if bar is None:
            continue
        top = _FLOOR - float(bar.amount / most) * (_FLOOR - _TOP)
        left, right = middle - 22, middle + 22
        sides = [(left, _FLOOR), (left, top), (right, top), (right, _FLOOR)]
        parts.append(svg.polyline(sides, f"year-bar{' open' if bar.at_least else ''}", closed=True))
        figure = f"{'≥ ' if bar.at_least else ''}{bar.amount:.0f}"
        parts.append(svg.text((middle, top - 5), [[(figure, "figure")]], "plot-text", "middle"))
        said.append(f"{year}: {'at least ' if bar.at_least else ''}{bar.amount:.2f} {unit}")
    return Markup(
        f'<svg class="plot year-bars" viewBox="0 0 {len(years) * _WIDE:.0f} {_TALL:.0f}" '
        f'role="img" aria-label="{escape(title)}: {escape("; ".join(said))}">'
        f"<title>{escape(title)}</title>{''.join(parts)}</svg>"
    )
