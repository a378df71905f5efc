"""Pictures of machines by an independent projection: matrices of its own, never the program's."""

import math
import random
from dataclasses import dataclass
from typing import Any

import numpy as np


@dataclass(frozen=True)
class Truth:
    """A machine and how it was photographed; lengths mm, angles degrees."""

    rim_mm: tuple[float, float]
    tire_mm: tuple[float, float]
    wheelbase: float
    bracket: tuple[float, float]  # forward of the rear axle, height
    head_angle: float
    offset: float
    fork: float
    distance: float = 3500.0
    yaw: float = 0.0
    pitch: float = 0.0
    roll: float = 0.0
    focal: float = 3000.0
    size: tuple[int, int] = (4000, 3000)
    nearer: tuple[float, float] = (12.0, 12.0)
    scatter: float = 0.0
    turned: float = 0.0
    bend: float = 0.0
    edge: int = 10

    def figures(self) -> dict[str, float]:
        """Return the true figures, by definition."""
        x, height = self.bracket
        radius = self.tire_mm[0] / 2
        crown = self.crown()
        top = self.on_axis(self.fork + 120)
        return {
            "wheelbase_mm": self.wheelbase,
            "head_angle_deg": self.head_angle,
            "bb_height_mm": height,
            "chainstay_mm": math.hypot(x, radius - height),
            "fork_length_mm": self.fork,
            "fork_offset_mm": self.offset,
            "stack_mm": top[1] - height,
            "reach_mm": top[0] - x,
            "crown": crown[0],
        }

    def on_axis(self, up: float) -> tuple[float, float]:
        """Return a place on the steering axis, so far above the front axle's foot on it."""
        a = math.radians(self.head_angle)
        x = self.wheelbase - self.offset * math.sin(a) - up * math.cos(a)
        y = self.tire_mm[1] / 2 - self.offset * math.cos(a) + up * math.sin(a)
        return x, y

    def crown(self) -> tuple[float, float]:
        """Return the crown seat."""
        return self.on_axis(self.fork)


def seen(truth: Truth, places: list[tuple[float, float, float]], chance: random.Random) -> Any:
    """Return where places (forward, height, nearer) come to lie, px, each with its scatter."""
    yaw, pitch, roll = (math.radians(one) for one in (truth.yaw, truth.pitch, truth.roll))
    about_y = np.array(
        [[math.cos(yaw), 0, math.sin(yaw)], [0, 1, 0], [-math.sin(yaw), 0, math.cos(yaw)]]
    )
    about_x = np.array(
        [[1, 0, 0], [0, math.cos(pitch), -math.sin(pitch)], [0, math.sin(pitch), math.cos(pitch)]]
    )
    about_z = np.array(
        [[math.cos(roll), -math.sin(roll), 0], [math.sin(roll), math.cos(roll), 0], [0, 0, 1]]
    )
    target = np.array([truth.wheelbase / 2, 420.0, 0.0])
    result = []
    for x, y, z in places:
        from_target = np.array([x, y, z]) - target
        there = about_z @ about_x @ about_y @ from_target  # x right, y up, z towards the camera
        depth = truth.distance - there[2]
        u = truth.focal * there[0] / depth
        v = -truth.focal * there[1] / depth
        if truth.bend:
            half = math.hypot(*truth.size) / 2
            share = 1.0
            for _ in range(20):  # marked = undistorted / (1 - k r marked^2)
                share = 1 / (1 - truth.bend * (share * math.hypot(u, v) / half) ** 2)
            u, v = u * share, v * share
        result.append(
            [
                truth.size[0] / 2 + u + chance.gauss(0, truth.scatter),
                truth.size[1] / 2 + v + chance.gauss(0, truth.scatter),
            ]
        )
    return result


def wheel_places(truth: Truth, end: str, chance: random.Random) -> list[tuple[float, float, float]]:
    """Return places round a wheel's edge."""
    front = end == "front"
    x, place = (truth.wheelbase, 1) if front else (0.0, 0)
    radius, height = truth.rim_mm[place] / 2, truth.tire_mm[place] / 2
    turned = math.radians(truth.turned) if front else 0.0
    start, places = chance.uniform(0, 2 * math.pi), []
    for number in range(truth.edge):
        angle = start + number * 2 * math.pi / truth.edge + chance.uniform(-0.2, 0.2)
        out, near = radius * math.cos(angle), truth.nearer[place]
        places.append(
            (
                x + out * math.cos(turned) + near * math.sin(turned),
                height + radius * math.sin(angle),
                -out * math.sin(turned) + near * math.cos(turned),
            )
        )
    return places


def document(truth: Truth, seed: int = 0, **more: Any) -> dict[str, Any]:
    """Return the marks of a picture of a machine, as a document."""
    chance = random.Random(seed)
    wheels = {}
    for place, end in enumerate(("rear", "front")):
        x = truth.wheelbase if end == "front" else 0.0
        wheels[end] = {
            "mark": "rim edge",
            "diameter_mm": truth.rim_mm[place],
            "nearer_mm": truth.nearer[place],
            "edge_px": seen(truth, wheel_places(truth, end, chance), chance),
            "axle_px": seen(truth, [(x, truth.tire_mm[place] / 2, 0.0)], chance)[0],
            "tire_diameter_mm": truth.tire_mm[place],
        }
    points = {
        "bottom bracket": truth.bracket,
        "crown seat": truth.crown(),
        "head tube top": truth.on_axis(truth.fork + 120),
        "saddle clamp": (150.0, 900.0),
        "peg": (500.0, 350.0),
    }
    axis = [truth.on_axis(truth.fork + up) for up in (-200.0, 0.0, 100.0)]
    return {
        "format": "jentrik-photo-marks",
        "version": 1,
        "image": {
            "width_px": truth.size[0],
            "height_px": truth.size[1],
            "focal_px": truth.focal,
            "focal_within_percent": 5,
        },
        "faces": "right",
        "click_px": max(truth.scatter, 0.5),
        "wheels": wheels,
        "points": [
            {"name": name, "px": seen(truth, [(*at, 0.0)], chance)[0]}
            for name, at in points.items()
        ],
        "lines": [
            {"name": "steering axis", "px": seen(truth, [(*at, 0.0) for at in axis], chance)}
        ],
        **more,
    }


def machine(chance: random.Random) -> Truth:
    """Return a machine of any kind, photographed from anywhere sane."""
    rim = chance.choice((406.0, 520.0, 571.0, 596.0, 634.0))
    front = chance.choice((rim, rim, rim + 40))
    tire = (rim + chance.uniform(60, 110), front + chance.uniform(60, 110))
    width = chance.choice((1600, 3000, 4000))
    return Truth(
        rim_mm=(rim, front),
        tire_mm=tire,
        wheelbase=chance.uniform(max(960.0, sum(tire) / 2 + 60), 1600.0),
        bracket=(chance.uniform(390, 470), chance.uniform(220, 340)),
        head_angle=chance.uniform(62, 75),
        offset=chance.uniform(25, 60),
        fork=chance.uniform(360, 560),
        distance=chance.uniform(3000, 8000),
        yaw=chance.uniform(-25, 25),
        pitch=chance.uniform(-10, 10),
        roll=chance.uniform(-3, 3),
        focal=width * chance.uniform(24, 85) / 36,
        size=(width, width * 3 // 4),
        nearer=(chance.uniform(0, 20), chance.uniform(0, 20)),
        scatter=chance.uniform(0.5, 4.0),
        edge=chance.randint(6, 14),
    )
