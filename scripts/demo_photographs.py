"""Draw the demo's two photographs: the harbour-town enduro through a known camera, and a bad one.

    python scripts/demo_photographs.py

A flat machine of tubes and rings stands before a quay wall with some clutter; the picture is
blurred a little, noisy and saved small.  The second one has its bars turned and half its front
wheel outside.
"""

import math
import random
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from jentrik.core.photo.camera import Camera
from jentrik.web.drawing.photo_overlay import picture_places

THERE = Path(__file__).resolve().parents[1] / "src" / "jentrik" / "demo" / "photographs"
SIZE, FILM_MM = (2400, 1800), 50
RIM, TIRE, BASE = 596.0, 700.0, 1196.0
BRACKET, HEAD, FORK, OFFSET = (434.1, 342.0), 66.0, 541.0, 44.0
_EXIF, _FOCAL_35 = 0x8769, 0xA405


def camera(yaw: float, aside_m: float) -> Camera:
    """Return the camera: a little above the axles, four metres away."""
    focal = FILM_MM / 43.27 * math.hypot(*SIZE)
    return Camera(
        np.array([math.radians(2.0), math.radians(yaw), math.radians(0.6)]),
        np.array([-0.6 + aside_m, 0.12, 4.1]),
        focal,
        (SIZE[0] / 2, SIZE[1] / 2),
        math.hypot(*SIZE) / 2,
    )


def on_axis(up: float) -> tuple[float, float]:
    """Return a place on the steering axis, mm forward of the rear axle and above the ground."""
    a = math.radians(HEAD)
    return (
        BASE - OFFSET * math.sin(a) - up * math.cos(a),
        TIRE / 2 - OFFSET * math.cos(a) + up * math.sin(a),
    )


class Scene:
    """A picture being drawn: places in mm forward, above the ground and nearer, in pixels."""

    def __init__(self, seen: Camera, chance: random.Random) -> None:
        self.seen, self.chance = seen, chance
        self.image = Image.new("RGB", SIZE, (186, 180, 164))
        self.pen = ImageDraw.Draw(self.image)

    def at(self, places: list[tuple[float, float, float]]) -> list[tuple[float, float]]:
        """Return places in the picture."""
        return picture_places(self.seen, np.array([(x, y - TIRE / 2, z) for x, y, z in places]))

    def tube(
        self, a: tuple[float, float], b: tuple[float, float], wide: float, ink: tuple[int, int, int]
    ) -> None:
        """Draw a tube between two places in the middle plane, so many mm wide."""
        (x1, y1), (x2, y2) = self.at([(*a, 0.0), (*b, 0.0)])
        thick = max(2, round(wide * self.seen.focal_px / 4100))
        self.pen.line([(x1, y1), (x2, y2)], fill=ink, width=thick)
        for x, y in ((x1, y1), (x2, y2)):
            r = thick / 2
            self.pen.ellipse([x - r, y - r, x + r, y + r], fill=ink)

    def ring(self, x: float, radius: float, ink: tuple[int, int, int], **how: float) -> None:
        """Fill a disc about an axle: rings are discs over discs."""
        turned, near = math.radians(how.get("turned", 0.0)), how.get("near", 0.0)
        places = []
        for step in range(180):
            a = step * math.pi / 90
            out = radius * math.cos(a)
            places.append(
                (
                    x + out * math.cos(turned) + near * math.sin(turned),
                    TIRE / 2 + radius * math.sin(a),
                    near * math.cos(turned) - out * math.sin(turned),
                )
            )
        self.pen.polygon(self.at(places), fill=ink)


def wall(scene: Scene) -> None:
    """Draw the quay: wall, ground, and clutter that is none of the machine."""
    pen, chance = scene.pen, scene.chance
    ground = scene.at([(-2000.0, 30.0, -900.0), (3000.0, 30.0, -900.0)])
    pen.rectangle([0, ground[0][1], *SIZE], fill=(140, 134, 122))
    for row in range(9):
        y = ground[0][1] * row / 9
        pen.line([(0, y), (SIZE[0], y)], fill=(172, 166, 150), width=3)
        for block in range(14):
            x = (block + (row % 2) / 2) * SIZE[0] / 13
            pen.line([(x, y), (x, y + ground[0][1] / 9)], fill=(174, 168, 152), width=3)
    for _ in range(5):
        x, y = chance.uniform(0, SIZE[0]), chance.uniform(0.1, 0.5) * SIZE[1]
        shade = chance.randint(90, 150)
        pen.rectangle([x, y, x + 160, y + 110], fill=(shade, shade - 8, shade - 20))


def machine(scene: Scene, turned: float) -> None:
    """Draw the enduro."""
    dark, mid, light = (38, 41, 45), (62, 84, 98), (216, 220, 220)
    clamp = (
        BRACKET[0] - 520 * math.cos(math.radians(76)),
        BRACKET[1] + 520 * math.sin(math.radians(76)),
    )
    for x, turn in ((0.0, 0.0), (BASE, turned)):
        scene.ring(x, TIRE / 2, dark, turned=turn)
        scene.ring(x, RIM / 2, light, turned=turn, near=17.0)
        scene.ring(x, RIM / 2 - 24, (120, 122, 120), turned=turn, near=14.0)
        scene.ring(x, RIM / 2 - 27, (176, 170, 154), turned=turn)
        for spoke in range(16):
            a = spoke * math.pi / 8 + 0.2
            out = (RIM / 2 - 27) * math.cos(a), (RIM / 2 - 27) * math.sin(a)
            scene.tube((x, TIRE / 2), (x + out[0], TIRE / 2 + out[1]), 3, (150, 150, 148))
        scene.ring(x, 90, (128, 130, 130), turned=turn, near=-20.0)
        scene.ring(x, 26, dark, near=4.0)
        scene.ring(x, 7, light, near=6.0)
    crown, top, low = on_axis(FORK), on_axis(FORK + 105), on_axis(FORK + 10)
    foot = (BASE, TIRE / 2)
    scene.tube(foot, crown, 44, mid)
    scene.tube(crown, top, 52, dark)
    scene.tube(BRACKET, low, 58, mid)
    scene.tube((clamp[0] + 20, clamp[1] - 90), top, 46, mid)
    scene.tube(BRACKET, clamp, 38, mid)
    scene.tube((0.0, TIRE / 2), BRACKET, 30, mid)
    scene.tube((0.0, TIRE / 2), (clamp[0] + 30, clamp[1] - 130), 24, mid)
    scene.tube(clamp, (clamp[0] - 25, clamp[1] + 100), 30, dark)
    scene.tube((clamp[0] - 150, clamp[1] + 108), (clamp[0] + 110, clamp[1] + 112), 34, dark)
    scene.tube(top, on_axis(FORK + 185), 36, dark)
    scene.tube(
        on_axis(FORK + 185), (on_axis(FORK + 185)[0] - 70, on_axis(FORK + 185)[1] + 40), 30, dark
    )
    x, y = BRACKET
    for radius, ink in ((80, (96, 98, 100)), (66, (176, 170, 154)), (26, dark), (8, light)):
        disc = [
            (x + radius * math.cos(a / 20), y + radius * math.sin(a / 20), 0.0) for a in range(126)
        ]
        scene.pen.polygon(scene.at(disc), fill=ink)
    scene.tube((x, y), (x + 160, y - 50), 22, dark)
    cross = scene.at([(*crown, 0.0)])[0]
    scene.pen.line(
        [(cross[0] - 34, cross[1] - 12), (cross[0] + 34, cross[1] + 12)], fill=light, width=5
    )


def drawn(name: str, *, yaw: float, aside_m: float, turned: float, seed: int) -> None:
    """Draw one photograph and write it."""
    chance = random.Random(seed)
    scene = Scene(camera(yaw, aside_m), chance)
    wall(scene)
    machine(scene, turned)
    soft = scene.image.filter(ImageFilter.GaussianBlur(1.4))
    noise = np.random.default_rng(seed).normal(0, 4, (SIZE[1], SIZE[0], 1))
    picture = Image.fromarray(np.clip(np.asarray(soft) + noise, 0, 255).astype(np.uint8))
    exif = Image.Exif()
    exif.get_ifd(_EXIF)[_FOCAL_35] = FILM_MM
    picture.save(THERE / name, "JPEG", quality=58, optimize=True, exif=exif)


if __name__ == "__main__":
    THERE.mkdir(exist_ok=True)
    drawn("enduro.jpg", yaw=11.0, aside_m=0.05, turned=0.0, seed=3)
    drawn("enduro-bad.jpg", yaw=-4.0, aside_m=0.9, turned=28.0, seed=8)
