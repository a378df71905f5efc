"""Weeks of practice: shares of right answers as bars, the seconds an answer took below."""

from collections.abc import Sequence

from markupsafe import Markup, escape

from jentrik.store.practice import Week
from jentrik.web.drawing import svg

_WIDTH, _HEIGHT, _FLOOR, _BAR, _STEP = 320.0, 170.0, 130.0, 24.0, 39.0


def weeks_drawing(weeks: Sequence[Week]) -> Markup:
    """Return the drawing; each bar names its week, its share and its seconds."""
    said = "; ".join(
        f"week of {week.monday.day} {week.monday:%b}: {week.right} of {week.answers} right, "
        f"{week.seconds:.0f} seconds"
        for week in weeks
    )
    parts = [svg.line((0, _FLOOR), (_WIDTH, _FLOOR), "plot-axis")]
    for place, one in enumerate(weeks):
        x, share = 8 + place * _STEP, one.right / max(one.answers, 1)
        top = _FLOOR - 100 * share
        parts.append(
            f'<rect class="week-bar" x="{svg.number(x)}" y="{svg.number(top)}" '
            f'width="{_BAR:.0f}" height="{svg.number(_FLOOR - top)}"/>'
        )
        middle = x + _BAR / 2
        words = f"{100 * share:.0f} %"
        parts.append(svg.text((middle, top - 6), [[(words, "figure")]], "plot-text", "middle"))
        new_month = place == 0 or weeks[place - 1].monday.month != one.monday.month
        day = f"{one.monday.day} {one.monday:%b}" if new_month else f"{one.monday.day}"
        for down, text in ((16, day), (32, f"{one.seconds:.0f} s")):
            parts.append(
                svg.text((middle, _FLOOR + down), [[(text, "name")]], "plot-text", "middle")
            )
    return Markup(
        f'<svg class="practice-weeks" viewBox="0 0 {_WIDTH:.0f} {_HEIGHT:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>Practice by week</title>{"".join(parts)}</svg>'
    )
