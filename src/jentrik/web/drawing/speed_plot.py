"""What an instrument shows beyond the truth, against the true speed: pairs, line and its band.

Dots are the pairs as taken, the line is the fitted one, the band around it its plus and minus,
which grows away from the pairs; the level line is an instrument that shows the truth.
"""

from collections.abc import Callable

from markupsafe import Markup, escape

from jentrik.core.amounts import bare, kmh, unit_alone
from jentrik.core.figures.calibration import Calibration, SpeedPair
from jentrik.web.drawing import svg
from jentrik.web.drawing.svg import XY

_W, _H = 480.0, 260.0
_LEFT, _RIGHT, _TOP, _FLOOR = 48.0, 468.0, 30.0, 222.0
_STEPS, _GRID_KMH = 24, (5, 10, 20, 25, 50)


def speed_plot(line: Calibration, pairs: list[SpeedPair]) -> Markup:
    """Return the plot; speeds run from a standstill to a little beyond the fastest pair."""
    most = max(*(pair.true_kmh for pair in pairs), 1.0) * 1.08
    speeds = [most * step / _STEPS for step in range(_STEPS + 1)]
    over = [line.shown(speed) - speed for speed in speeds]
    apart = [line.plus_minus_kmh(speed) for speed in speeds]
    taken = [pair.shown_kmh - pair.true_kmh for pair in pairs]
    high = max(*(o + a for o, a in zip(over, apart, strict=True)), *taken, 0.0) + 0.5
    low = min(*(o - a for o, a in zip(over, apart, strict=True)), *taken, 0.0) - 0.5

    def at(true_kmh: float, over_kmh: float) -> XY:
        x = _LEFT + true_kmh / most * (_RIGHT - _LEFT)
        return x, _TOP + (high - over_kmh) / (high - low) * (_FLOOR - _TOP)

    upper = [at(v, o + a) for v, o, a in zip(speeds, over, apart, strict=True)]
    lower = [at(v, o - a) for v, o, a in zip(speeds, over, apart, strict=True)]
    parts = [
        svg.polyline([*upper, *reversed(lower)], "speed-band", closed=True),
        svg.line(at(0, 0), at(most, 0), "speed-truth"),
        svg.line((_LEFT, _TOP), (_LEFT, _FLOOR), "plot-axis"),
        svg.line((_LEFT, _FLOOR), (_RIGHT, _FLOOR), "plot-axis"),
        svg.polyline([at(v, o) for v, o in zip(speeds, over, strict=True)], "planned"),
        *(
            svg.circle(at(pair.true_kmh, beyond), 4, "speed-pair")
            for pair, beyond in zip(pairs, taken, strict=True)
        ),
        *_letters(most, low, high, at),
    ]
    said = (
        f"{len(pairs)} pairs; at a true {kmh(most):.0f} it shows {kmh(over[-1]):+.1f} beyond the "
        f"truth, give or take {kmh(apart[-1]):.1f}"
    )
    return Markup(
        f'<svg class="plot speed-plot" viewBox="0 0 {_W:.0f} {_H:.0f}" role="img" '
        f'aria-label="{escape(said)}"><title>Shown beyond true</title>{"".join(parts)}</svg>'
    )


def _letters(most: float, low: float, high: float, at: Callable[[float, float], XY]) -> list[str]:
    step = next((one for one in _GRID_KMH if most / one <= 8), _GRID_KMH[-1])
    every = 1 if high - low < 8 else 2 if high - low < 16 else 5
    along = [
        svg.text(
            (at(speed, low)[0], _FLOOR + 18),
            [[(bare(f"{speed}", "km/h"), "name")]],
            "plot-text",
            "middle",
        )
        for speed in range(step, int(most) + 1, step)
    ]
    up = [
        svg.text(
            (_LEFT - 6, at(0, over)[1] + 5),
            [[(bare(f"{over:+d}", "km/h"), "name")]],
            "plot-text",
            "end",
        )
        for over in range(int(low) - 1, int(high) + 2)
        if low <= over <= high and over % every == 0
    ]
    heads = [
        svg.text((4, 16), [[(f"Shown beyond true, {unit_alone('km/h')}", "name")]], "plot-text"),
        svg.text((_RIGHT, _H - 4), [[(f"true, {unit_alone('km/h')}", "name")]], "plot-text", "end"),
    ]
    return [*along, *up, *heads]
