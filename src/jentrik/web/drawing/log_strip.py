"""A log strip: the tread of one tire against time, with limits and the day they are reached.

Looks are pegs, the line through them solid, what is expected dashed; limits are lines across.
Below, the tire's age in the same time.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, mm, unit_alone
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY
from jentrik.web.figures import fixed

_W, _H = 420.0, 168.0
_LEFT, _RIGHT, _TOP, _FLOOR, _AGE = 36.0, 396.0, 14.0, 116.0, 138.0
_LEAST_TOP_MM = 1.0  # of the scale, where every tread is worn away
_LABEL_WIDE = 36.0  # a figure like 0.205, and a space


@dataclass(frozen=True, slots=True)
class LogStrip:
    """What is drawn: looks (day, mm), the expected end, limits by name, days of age by name."""

    title: str
    looks: Sequence[tuple[date, float]]
    expected: tuple[date, float] | None
    limits: Sequence[tuple[str, float]]
    made: date | None
    ages: Sequence[tuple[str, date]]
    today: date


def log_strip(strip: LogStrip) -> Markup | None:
    """Return the strip; None where there is nothing to draw."""
    if not strip.looks:
        return None
    first = strip.looks[0][0]
    days = [one for one, _ in strip.looks] + [strip.today]
    if strip.expected is not None:
        days.append(strip.expected[0])
    last = max(days)
    span = max((last - first).days, 30)
    top = (
        max([mm for _, mm in strip.looks] + [mm for _, mm in strip.limits] + [_LEAST_TOP_MM]) * 1.1
    )

    def x(day: date) -> float:
        share = (day - first).days / span
        return _LEFT + min(max(share, 0.0), 1.0) * (_RIGHT - _LEFT)

    def at(day: date, mm: float) -> XY:
        return x(day), _FLOOR - mm / top * (_FLOOR - _TOP)

    parts = [svg.line((_LEFT, _FLOOR), (_RIGHT, _FLOOR), "strip-axis")]
    for name, tread in strip.limits:
        parts += _limit(bare(f"{name} {fixed(tread, 1)}", "mm"), at(first, tread)[1])
    pegs = [at(day, mm) for day, mm in strip.looks]
    if len(pegs) > 1:
        parts.append(svg.polyline(pegs, "strip-line"))
    if strip.expected is not None:
        parts.append(svg.polyline([pegs[-1], at(*strip.expected)], "strip-expected"))
    parts += [svg.circle(peg, 3.4, "strip-peg") for peg in pegs]
    parts += _peg_labels(pegs, [mm for _, mm in strip.looks])
    parts.append(svg.line((x(strip.today), _TOP), (x(strip.today), _FLOOR), "strip-today"))
    parts += _age_row(strip, x, first, last)
    for day, anchor in ((first, "start"), (last, "end")):
        parts.append(svg.text((x(day), _H - 6), [[(f"{day:%b %Y}", "name")]], "plot-text", anchor))
    parts.append(
        svg.text((_LEFT - 6, _TOP + 6), [[(unit_alone("mm"), "name")]], "plot-text", "end")
    )
    return _drawn(strip, parts)


def _drawn(strip: LogStrip, parts: Sequence[str]) -> Markup:
    """Return the parts as one drawing with its text equivalent."""
    said = f"{strip.title}: " + ", ".join(
        f"{mm(fixed(tread, 1))} {day}" for day, tread in strip.looks
    )
    return Markup(
        f'<svg class="log-strip" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>{escape(strip.title)}</title>{"".join(parts)}</svg>'
    )


def _limit(name: str, y: float) -> list[str]:
    """Return a limit across the strip with its name."""
    return [
        svg.line((_LEFT, y), (_RIGHT, y), "strip-limit"),
        svg.text((_LEFT + 4, y - 3), [[(name, "name")]], "plot-text"),
    ]


def _peg_labels(pegs: Sequence[XY], treads: Sequence[float]) -> list[str]:
    """Return the tread beside each peg, from the newest back; none where labels would meet."""
    parts: list[str] = []
    free_until = _W
    for (x, y), tread in zip(reversed(pegs), reversed(treads), strict=True):
        if x + _LABEL_WIDE <= free_until:
            parts.append(
                svg.text((x + 5, y - 5), [[(bare(fixed(tread, 1), "mm"), "figure")]], "plot-text")
            )
            free_until = x
    return parts


def _age_row(strip: LogStrip, x: object, first: date, last: date) -> list[str]:
    assert callable(x)
    if strip.made is None:
        return []
    parts = [svg.line((x(first), _AGE), (x(last), _AGE), "strip-age")]
    for name, day in strip.ages:
        if first <= day <= last:
            parts.append(svg.line((x(day), _AGE - 7), (x(day), _AGE + 7), "strip-limit"))
            parts.append(svg.text((x(day) + 5, _AGE - 5), [[(name, "name")]], "plot-text"))
    years = (strip.today - strip.made).days / 365.2425
    now = [[(f"{fixed(years, 1)} years old today", "figure")]]
    parts.append(svg.text((_RIGHT, _AGE - 5), now, "plot-text", "end"))
    return parts
