"""Which set-up ran when: a bar a set-up along the days, one row for each name."""

from collections.abc import Sequence
from datetime import date
from textwrap import shorten

from markupsafe import Markup, escape

from jentrik.core.machine.setup import Setup
from jentrik.web.drawing import svg

_W, _LEFT, _RIGHT, _ROW, _BAR = 720.0, 150.0, 712.0, 24.0, 12.0
_SHORTEST, _LONGEST_NAME = 3.0, 20  # px of a bar; letters beside it
MOST_ROWS = 12


def setup_strip(setups: Sequence[Setup], today: date) -> Markup | None:
    """Return the strip; None where a machine had one set-up alone."""
    names = list(dict.fromkeys(_name(one) for one in reversed(setups)))[:MOST_ROWS]
    if len(setups) < 2:
        return None
    first = min(one.since for one in setups)
    days = max((today - first).days, 1)

    def x(day: date) -> float:
        return _LEFT + (day - first).days / days * (_RIGHT - _LEFT)

    height = _ROW * len(names) + 20
    parts = []
    for one in setups:
        if _name(one) in names:
            y = _ROW * names.index(_name(one)) + 6
            start, end = x(one.since), x(one.until or today)
            style = "strip-now" if one.until is None else "strip-then"
            end = max(end, start + _SHORTEST)
            parts.append(svg.line((start, y + _BAR / 2), (end, y + _BAR / 2), style))
    for row, name in enumerate(names):
        shown = shorten(name, _LONGEST_NAME, placeholder="…")
        parts.append(_label((_LEFT - 8, _ROW * row + 17), shown, "end"))
    parts += [
        _label((_LEFT, height - 2), f"{first:%d %b %Y}", "start"),
        _label((_RIGHT, height - 2), f"{today:%d %b %Y}", "end"),
    ]
    said = escape("; ".join(_said(one) for one in setups))
    return Markup(
        f'<svg class="setup-strip" viewBox="0 0 {_W:.0f} {height:.0f}" role="img" '
        f'aria-label="{said}">{"".join(parts)}</svg>'
    )


def _label(at: svg.XY, words: str, anchor: str) -> str:
    return svg.text(at, [[(words, "")]], "strip-name", anchor)


def _name(one: Setup) -> str:
    """Return a set-up's name without the number it has where it was on before."""
    return one.name.rpartition(" (")[0] if one.name.endswith(")") else one.name


def _said(one: Setup) -> str:
    until = f"{one.until:%d %b %Y}" if one.until else "now"
    return f"{one.name} from {one.since:%d %b %Y} to {until}"
