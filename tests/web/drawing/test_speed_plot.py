"""The plot of an instrument against numpy's line: dots, line and band lie where they belong."""

import re

import numpy as np
import pytest

from jentrik.core.figures.calibration import SpeedPair, calibrate
from jentrik.web.drawing.speed_plot import speed_plot

TRUE, SHOWN = [50.0, 80.0, 100.0, 120.0], [54.0, 87.0, 106.5, 130.0]


def test_dots_line_and_band_lie_on_one_scale() -> None:
    pairs = [SpeedPair(true, shown) for true, shown in zip(TRUE, SHOWN, strict=True)]
    line = calibrate(pairs)
    drawn = speed_plot(line, pairs)
    dots = np.array(re.findall(r'class="speed-pair" cx="([\d.]+)" cy="([\d.]+)"', drawn), float)
    over = np.array(SHOWN) - TRUE
    x_scale, x_zero = np.polyfit(TRUE, dots[:, 0], 1)
    y_scale, y_zero = np.polyfit(over, dots[:, 1], 1)
    assert dots[:, 0] == pytest.approx(x_zero + x_scale * np.array(TRUE), abs=0.1)
    assert dots[:, 1] == pytest.approx(y_zero + y_scale * over, abs=0.1)
    slope, offset = np.polyfit(TRUE, over, 1)  # numpy's own least squares
    path = re.search(r'class="planned" d="M([^"]+)"', drawn)
    assert path is not None
    ends = [[float(one) for one in xy.split()] for xy in path[1].split("L")]
    for x, y in ends:
        true = (x - x_zero) / x_scale
        assert (y - y_zero) / y_scale == pytest.approx(offset + slope * true, abs=0.05)
    band = re.search(r'class="speed-band" d="M([^"]+)Z"', drawn)
    assert band is not None
    edge = [[float(one) for one in xy.split()] for xy in band[1].split("L")]
    upper, lower = edge[: len(edge) // 2], edge[len(edge) // 2 :][::-1]
    for (x, top), (_, bottom) in zip(upper, lower, strict=True):
        true = (x - x_zero) / x_scale
        assert (top - bottom) / y_scale == pytest.approx(2 * line.plus_minus_kmh(true), abs=0.1)
