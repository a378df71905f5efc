"""Measuring by photograph: the solution, a redraw of the page, a phone's picture coming in."""

import io
import math
import time

import httpx2 as httpx
import numpy as np
from PIL import Image

from jentrik.core.photo.camera import Camera
from jentrik.core.photo.marks import PhotoMarks, Picture, WheelMarks
from jentrik.core.photo.measured import figures_of
from jentrik.core.photo.solve import solved

MARKS_EACH, ROUNDS = 20, 21


def _marks(seed: int) -> PhotoMarks:
    camera = Camera(
        np.array([0.02, 0.15, 0.01]), np.array([-0.5, 0.1, 4.0]), 3000.0, (2000.0, 1500.0), 2500.0
    )
    chance = np.random.default_rng(seed)

    def wheel(x: float) -> WheelMarks:
        turns = np.arange(MARKS_EACH) * 2 * math.pi / MARKS_EACH
        places = np.column_stack(
            [x + 0.32 * np.cos(turns), 0.32 * np.sin(turns), np.full(MARKS_EACH, 0.012)]
        )
        seen = camera.seen(places) + chance.normal(0, 1.5, (MARKS_EACH, 2))
        edge = tuple((float(u), float(v)) for u, v in seen)
        return WheelMarks(edge, 640.0, 12.0, tire_diameter_mm=700.0)

    return PhotoMarks(Picture(4000, 3000, 3000.0), "right", wheel(0.0), wheel(1.05))


def solution_ms() -> float:
    """Return the median time of a solution with its figures, 40 marks, in milliseconds.

    Every round is of other pixels: a camera is remembered while its marks stay.
    """
    times = []
    for turn in range(ROUNDS):
        marks = _marks(turn)
        start = time.perf_counter()
        figures_of(solved(marks))
        times.append(time.perf_counter() - start)
    return sorted(times)[ROUNDS // 2] * 1000


def upload_seconds(client: httpx.Client, headers: dict[str, str]) -> float:
    """Return how long a picture of 12 megapixels takes until its page can be marked, in seconds."""
    chance = np.random.default_rng(2).integers(0, 255, (300, 400, 3), dtype=np.uint8)
    written = io.BytesIO()
    Image.fromarray(chance).resize((4000, 3000)).save(written, "JPEG", quality=90)
    start = time.perf_counter()
    answer = client.post(
        "/machines/1/photographs",
        files={"photo": ("a.jpg", written.getvalue(), "image/jpeg")},
        headers=headers,
        follow_redirects=True,
    )
    assert "data-photo" in answer.text
    return time.perf_counter() - start
