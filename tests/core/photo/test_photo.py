"""Figures by photograph against pictures of an independent projection, and by hand."""

import copy
import json
import math
import random
from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest

from jentrik.core.errors import Refusal
from jentrik.core.photo.camera import Camera, turning, vector_of
from jentrik.core.photo.ellipse import circles_of, distances, ellipse_through
from jentrik.core.photo.solve import facing_right, solved
from jentrik.exchange.photo_marks import marks_from_json, photo_from_json
from tests.core.photo.pictures import Truth, document, machine, seen

TOURER = Truth(
    rim_mm=(634.0, 634.0),
    tire_mm=(696.0, 696.0),
    wheelbase=1046.0,
    bracket=(440.0, 284.0),
    head_angle=71.5,
    offset=50.0,
    fork=393.0,
)


def opencv_pixels(truth: Truth, places: list[tuple[float, float, float]]) -> Any:
    """Return where OpenCV's own projection puts places (forward, height, nearer), px."""
    about = ((0, truth.yaw, 0), (truth.pitch, 0, 0), (0, 0, truth.roll))
    turns = [cv2.Rodrigues(np.radians(np.array(one, dtype=float)))[0] for one in about]
    # The machine has y up and z towards the camera, OpenCV's camera y down and z away from it.
    rotation = np.diag([1.0, -1.0, -1.0]) @ turns[2] @ turns[1] @ turns[0]
    shift = np.array([0, 0, truth.distance]) - rotation @ [truth.wheelbase / 2, 420.0, 0.0]
    width, height = truth.size
    lens = np.array([[truth.focal, 0, width / 2], [0, truth.focal, height / 2], [0, 0, 1]])
    pixels, _ = cv2.projectPoints(
        np.array(places, dtype=float), cv2.Rodrigues(rotation)[0], shift, lens, np.zeros(5)
    )
    return pixels[:, 0, :]


def photo_of(values: dict[str, Any]) -> dict[str, Any]:
    return photo_from_json(json.dumps(values).encode())


@pytest.mark.parametrize("seed", range(20))
def test_the_pictures_are_those_of_opencv(seed: int) -> None:
    chance = random.Random(seed)
    truth = replace(machine(chance), scatter=0.0, bend=0.0)
    places = [
        (chance.uniform(-350, 1600), chance.uniform(0, 1100), chance.uniform(-60, 60))
        for _ in range(40)
    ]
    pixels = np.array(seen(truth, places, chance))
    assert pixels == pytest.approx(opencv_pixels(truth, places), abs=1e-6)


def test_five_hundred_machines_lie_within_what_is_said_of_them() -> None:
    off: dict[str, list[float]] = {}
    for seed in range(500):
        truth = machine(random.Random(seed))
        true = truth.figures()
        for name, one in photo_of(document(truth, seed))["figures"].items():
            if name in true:
                off.setdefault(name, []).append((one["value"] - true[name]) / one["plus_minus"])
    every = [one for those in off.values() for one in those]
    assert len(every) == 500 * 8
    assert sum(abs(one) <= 1 for one in every) / len(every) >= 0.93
    for name, those in off.items():
        assert abs(sum(those)) / len(those) < 0.1, name


@pytest.mark.parametrize("yaw", [0.0, 15.0])
def test_two_pixels_from_three_and_a_half_metres(yaw: float) -> None:
    truth = replace(TOURER, scatter=2.0, focal=4000 * 50 / 36, yaw=yaw, pitch=2, roll=1)
    true, off = truth.figures(), dict[str, list[float]]()
    for seed in range(40):
        for name, one in photo_of(document(truth, seed))["figures"].items():
            off.setdefault(name, []).append(one["value"] - true.get(name, one["value"]))
    rms = {
        name: math.sqrt(sum(one**2 for one in those) / len(those)) for name, those in off.items()
    }
    assert rms["wheelbase_mm"] < 4
    assert rms["bb_height_mm"] < 4
    assert rms["head_angle_deg"] < 0.8


@pytest.mark.parametrize("yaw", [-20.0, 0.0, 20.0])
@pytest.mark.parametrize("nearer", [(12.0, 12.0), (12.0, 32.0)])
def test_without_scatter_the_figures_are_exact(yaw: float, nearer: tuple[float, float]) -> None:
    truth = replace(TOURER, yaw=yaw, pitch=3, roll=-2, nearer=nearer)
    values = document(truth)
    for wheel in values["wheels"].values():
        del wheel["axle_px"]  # it counts for halfway between two planes
    figures = photo_of(values)["figures"]
    for name, true in truth.figures().items():
        if name in figures:
            assert figures[name]["value"] == pytest.approx(true, abs=0.05), name
    points = {one["name"]: one for one in photo_of(values)["points"]}
    assert points["peg"]["x_mm"] == pytest.approx(500, abs=0.05)
    assert points["peg"]["height_mm"] == pytest.approx(350, abs=0.05)


def test_a_camera_square_to_the_machine_and_no_focal_length() -> None:
    values = document(replace(TOURER, scatter=1.0))
    del values["image"]["focal_px"]
    answer = photo_of(values)
    wheelbase = answer["figures"]["wheelbase_mm"]
    assert abs(wheelbase["value"] - 1046) < 2 * wheelbase["plus_minus"]
    assert any("focal length" in note for note in answer["notes"])
    aside = document(replace(TOURER, scatter=1.0, yaw=20, pitch=5))
    del aside["image"]["focal_px"]
    assert abs(photo_of(aside)["figures"]["wheelbase_mm"]["value"] - 1046) < 12


def test_a_machine_that_faces_left_is_the_mirrored_one() -> None:
    values = document(replace(TOURER, scatter=1.0, yaw=10))
    left = copy.deepcopy(values)
    left["faces"] = "left"
    width = values["image"]["width_px"]

    def flip(px: list[float]) -> list[float]:
        return [width - px[0], px[1]]

    for wheel in left["wheels"].values():
        wheel["edge_px"] = [flip(px) for px in wheel["edge_px"]]
        wheel["axle_px"] = flip(wheel["axle_px"])
    for point in left["points"]:
        point["px"] = flip(point["px"])
    for line in left["lines"]:
        line["px"] = [flip(px) for px in line["px"]]
    for name, one in photo_of(values)["figures"].items():
        assert photo_of(left)["figures"][name] == pytest.approx(one), name
    marks = marks_from_json(json.dumps(left).encode())
    assert facing_right(marks).faces == "right"


def test_a_turned_front_wheel_is_noticed_and_corrected() -> None:
    truth = replace(TOURER, scatter=1.0, turned=7.0, yaw=8, edge=14)
    answer = photo_of(document(truth))
    assert any("turned about" in note for note in answer["notes"])
    wheelbase = answer["figures"]["wheelbase_mm"]
    assert abs(wheelbase["value"] - 1046) < 1.5 * wheelbase["plus_minus"]
    with pytest.raises(Refusal, match="bars straight"):
        photo_of(document(replace(truth, turned=25.0)))


def test_a_lens_that_bends_is_noticed_and_corrected() -> None:
    truth = replace(TOURER, scatter=0.5, bend=0.12, edge=20, yaw=5, focal=2500)
    answer = photo_of(document(truth))
    assert any("lens bends" in note for note in answer["notes"])
    wheelbase = answer["figures"]["wheelbase_mm"]
    assert abs(wheelbase["value"] - 1046) < 1.5 * wheelbase["plus_minus"]
    few = photo_of(document(replace(TOURER, edge=6)))
    assert any("distortion" in note for note in few["notes"])


def test_what_is_known_worse_is_said_to_be_known_worse() -> None:
    values = document(replace(TOURER, scatter=1.0, yaw=10))
    sharp = photo_of(values)["figures"]["wheelbase_mm"]["plus_minus"]
    loose = copy.deepcopy(values)
    for wheel in loose["wheels"].values():
        wheel["diameter_within_mm"] = 6.0
    assert photo_of(loose)["figures"]["wheelbase_mm"]["plus_minus"] > 1.5 * sharp
    blurred = {**copy.deepcopy(values), "click_px": 4.0}
    assert photo_of(blurred)["figures"]["wheelbase_mm"]["plus_minus"] > 2 * sharp


def test_a_known_length_is_one_more_ruler() -> None:
    truth = replace(TOURER, scatter=0.5, yaw=8)
    values = document(truth)
    for wheel in values["wheels"].values():
        wheel["diameter_mm"] *= 1.02  # a rim nobody knows well
        wheel["diameter_within_mm"] = 30.0
        wheel["tire_diameter_mm"] = 696.0
    loose = photo_of(values)["figures"]["wheelbase_mm"]
    stick = seen(truth, [(100.0, 50.0, 0.0), (1000.0, 50.0, 0.0)], random.Random(1))
    values["lines"].append(
        {"name": "stick", "px": stick, "length_mm": 900.0, "length_within_mm": 0.5}
    )
    sure = photo_of(values)["figures"]["wheelbase_mm"]
    assert sure["plus_minus"] < loose["plus_minus"] / 2
    assert abs(sure["value"] - 1046) < sure["plus_minus"] + 0.5
    assert abs(loose["value"] - 1046) > 10


def test_only_what_the_marks_tell_is_photo_of() -> None:
    values = {**document(TOURER), "points": [], "lines": []}
    assert set(photo_of(values)["figures"]) == {"wheelbase_mm"}
    for wheel in values["wheels"].values():
        del wheel["tire_diameter_mm"]
    answer = photo_of({**document(TOURER), "wheels": values["wheels"]})
    assert "head_angle_deg" not in answer["figures"]
    assert "chainstay_mm" in answer["figures"]
    assert any("ground" in note for note in answer["notes"])


def test_by_hand_a_circle_of_640_mm_seen_square() -> None:
    # f 3000 px, 3 m away: a millimetre is a pixel; wheels 1000 mm apart are 1000 px apart.
    def wheel(x: float) -> dict[str, Any]:
        edge = [
            [x + 320 * math.cos(one * math.pi / 4), 1500 - 320 * math.sin(one * math.pi / 4)]
            for one in range(8)
        ]
        return {"diameter_mm": 640, "edge_px": edge, "tire_diameter_mm": 700}

    values = {
        "format": "jentrik-photo-marks",
        "version": 1,
        "image": {"width_px": 4000, "height_px": 3000, "focal_px": 3000},
        "faces": "right",
        "wheels": {"rear": wheel(1500), "front": wheel(2500)},
        "points": [{"name": "bottom bracket", "px": [1900, 1600]}],
        "lines": [{"name": "steering axis", "px": [[2400, 1200], [2300, 900]]}],
    }
    figures = photo_of(values)["figures"]
    assert figures["wheelbase_mm"]["value"] == pytest.approx(1000, abs=0.1)
    assert figures["bb_height_mm"]["value"] == pytest.approx(250, abs=0.1)
    assert figures["chainstay_mm"]["value"] == pytest.approx(math.hypot(400, 100), abs=0.1)
    head = math.degrees(math.atan2(300, 100))
    assert figures["head_angle_deg"]["value"] == pytest.approx(head, abs=0.05)


BAD = [
    (lambda v: v["wheels"]["rear"]["edge_px"].__delitem__(slice(4, None)), "5 marks at least"),
    (lambda v: v["wheels"].update(rear=v["wheels"]["front"], front=v["wheels"]["rear"]), "swapped"),
    (lambda v: v.update(faces="left"), "faces the other way"),
    (lambda v: v["wheels"]["front"].update(edge_px=v["wheels"]["rear"]["edge_px"]), "swapped"),
    (
        lambda v: v["wheels"]["front"].update(
            edge_px=[[2600 + 20 * i, 900 + 13 * i] for i in range(8)]
        ),
        "ellipse",
    ),
    (
        lambda v: v["wheels"]["rear"]["edge_px"].__setitem__(
            3, [v["wheels"]["rear"]["edge_px"][3][0] + 90, v["wheels"]["rear"]["edge_px"][3][1]]
        ),
        "pixels off",
    ),
    (lambda v: v["lines"][0].update(px=[[1, 1]]), "2 to 60 marks"),
    (lambda v: v["points"].append(v["points"][0]), "name of its own"),
    (lambda v: v["image"].update(focal_px=10), "outside"),
]


@pytest.mark.parametrize(("change", "says"), BAD)
def test_what_cannot_be_two_wheels_is_refused_in_a_sentence(change: Any, says: str) -> None:
    values = document(replace(TOURER, scatter=1.0))
    change(values)
    with pytest.raises(Refusal, match=says) as refused:
        photo_of(values)
    assert refused.value.field
    assert "\n" not in refused.value.message


def test_half_a_wheel_is_taken_and_a_corner_of_one_is_not() -> None:
    truth = replace(TOURER, scatter=0.5, edge=14)
    values = document(truth)
    edge = sorted(values["wheels"]["rear"]["edge_px"], key=lambda px: px[1])
    values["wheels"]["rear"]["edge_px"] = edge[:8]
    assert abs(photo_of(values)["figures"]["wheelbase_mm"]["value"] - 1046) < 25
    corner = document(truth)
    middle = np.mean(corner["wheels"]["rear"]["edge_px"], axis=0)
    corner["wheels"]["rear"]["edge_px"] = [
        [middle[0] + 540 * math.cos(a), middle[1] + 540 * math.sin(a)]
        for a in np.linspace(0.2, 1.9, 8)
    ]
    with pytest.raises(Refusal, match=r"one side|ellipse|overlap|swapped"):
        photo_of(corner)


def test_the_mark_that_is_off_is_named() -> None:
    values = document(replace(TOURER, scatter=0.5))
    values["wheels"]["front"]["edge_px"][6][1] += 60
    with pytest.raises(Refusal) as refused:
        photo_of(values)
    assert refused.value.field == "wheels.front.edge_px[6]"
    assert refused.value.message.startswith("Mark 7 on the front wheel's edge")


MULLET = replace(TOURER, rim_mm=(634.0, 596.0), tire_mm=(696.0, 658.0))


def from_anywhere(truth: Truth, seed: int, scatter: float) -> Truth:
    chance = random.Random(seed)
    return replace(
        truth,
        distance=chance.uniform(3500, 6000),
        yaw=chance.uniform(-12, 12),
        pitch=chance.uniform(-5, 5),
        roll=chance.uniform(-2, 2),
        focal=4000 * chance.uniform(28, 50) / 36,
        scatter=scatter,
    )


def test_a_ruler_that_is_wrong_is_named_and_the_truth_stays_inside() -> None:
    named, inside = 0, 0
    for seed in range(40):
        values = document(from_anywhere(MULLET, seed, 1.5), seed)
        front = values["wheels"]["front"]
        front["diameter_mm"], front["tire_diameter_mm"] = 634.0, 696.0  # a 584 rim taken as 622
        try:
            answer = photo_of(values)
        except Refusal:
            continue
        if any("a 584 rim in place of 622" in note for note in answer["notes"]):
            named += 1
            wheelbase = answer["figures"]["wheelbase_mm"]
            inside += abs(wheelbase["value"] - 1046) <= wheelbase["plus_minus"]
    assert named >= 35
    assert inside >= 0.95 * named


def test_one_mark_ten_pixels_off_is_named_and_a_right_picture_names_none() -> None:
    named = blamed = 0
    for seed in range(40):
        values = document(from_anywhere(TOURER, seed, 1.5), seed)
        blamed += bool(photo_of(values)["notes"])
        marks, number = np.array(values["wheels"]["rear"]["edge_px"]), seed % 10
        out = marks[number] - marks.mean(axis=0)
        marks[number] += 10 * (-1) ** (seed // 10) * out / np.hypot(*out)
        values["wheels"]["rear"]["edge_px"] = marks.tolist()
        named += any(
            note.startswith(f"Mark {number + 1} on the rear") for note in photo_of(values)["notes"]
        )
    assert named >= 34
    assert blamed <= 2


def test_marks_that_scatter_more_than_was_said_widen_every_figure() -> None:
    inside = []
    for seed in range(60):
        truth = from_anywhere(TOURER, seed, 3.0)
        answer = photo_of({**document(truth, seed), "click_px": 1.5})
        for name, true in truth.figures().items():
            one = answer["figures"].get(name)
            if one:
                inside.append(abs(one["value"] - true) <= one["plus_minus"])
    assert len(inside) == 60 * 8
    assert sum(inside) / len(inside) >= 0.92


# Textbook results, each by another way.


def test_the_ellipses_middle_is_not_the_wheels() -> None:
    camera = Camera(
        np.array([0.0, 0.5, 0.0]), np.array([0.0, 0.0, 2.0]), 3000.0, (2000.0, 1500.0), 2500.0
    )
    conic = camera.conic(0.0, 0.32)
    at = camera.seen(
        np.array([[0.32 * math.cos(a), 0.32 * math.sin(a), 0.0] for a in np.arange(0, 6.2, 0.3)])
    )
    assert np.abs(distances(conic, at)).max() < 1e-6
    ellipse = ellipse_through(at)
    middle = camera.seen(np.zeros((1, 3)))[0]
    assert math.dist(ellipse.middle, middle) > 5
    # The plane's vanishing line is the polar of the circle's middle.
    polar = ellipse.conic @ np.array([*middle, 1.0])
    away = camera.axes[:, :2] * 1e6
    for direction in away.T:
        vanishing = camera.matrix @ direction
        assert abs(polar @ vanishing) / np.linalg.norm(polar) / np.linalg.norm(vanishing) < 1e-9


def test_the_closed_form_finds_the_circle_again() -> None:
    camera = Camera(
        np.array([0.1, 0.4, 0.02]), np.array([0.3, -0.2, 3.1]), 3000.0, (2000.0, 1500.0), 2500.0
    )
    found = circles_of(camera.conic(0.0, 0.32), camera.matrix, 0.32)
    middles = [np.linalg.norm(center - camera.place) for center, _ in found]
    normals = [float(normal @ camera.axes[:, 2]) for _, normal in found]
    best = int(np.argmin(middles))
    assert middles[best] < 1e-6
    assert normals[best] == pytest.approx(1.0, abs=1e-9)


def test_turning_there_and_back() -> None:
    for vector in (np.array([0.3, -0.2, 0.1]), np.array([1e-9, 0.0, 0.0])):
        assert vector_of(turning(vector)) == pytest.approx(vector, abs=1e-12)
    assert turning(np.array([0.0, 0.0, math.pi / 2])) @ np.array([1.0, 0, 0]) == pytest.approx(
        [0, 1, 0]
    )


def test_places_come_back_from_the_picture() -> None:
    chance = random.Random(4)
    truth = replace(TOURER, yaw=12, pitch=-4)
    solution = solved(marks_from_json(json.dumps(document(truth)).encode()))
    places = [
        (chance.uniform(0, 1000), chance.uniform(0, 900), chance.uniform(-40, 60)) for _ in range(5)
    ]
    pixels = np.array(seen(truth, places, chance))
    back = solution.camera.on_plane(pixels, np.array([z / 1000 for _, _, z in places])) * 1000
    for (x, y, _), (bx, by) in zip(places, back, strict=True):
        assert (bx, by + 348) == pytest.approx((x, y), abs=0.5)
