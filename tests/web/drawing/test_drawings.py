"""Drawings as geometry: parsed back, measured, and compared with the core's figures."""

import math
import re
from collections.abc import Iterator
from datetime import date
from decimal import Decimal
from typing import Any
from xml.etree import ElementTree
from xml.etree.ElementTree import Element

import numpy as np
import pytest
from markupsafe import Markup
from numpy import float64, ndarray

from jentrik.core.amounts import in_plain
from jentrik.core.figures.calibration import Calibration, SpeedPair
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.suspension import State
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.policy import Band
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import jobs, machines
from jentrik.store.practice import Week
from jentrik.web.drawing import svg
from jentrik.web.drawing.bolt_circle import bolt_circle_drawing, chord_mm
from jentrik.web.drawing.edge import edge_drawing
from jentrik.web.drawing.log_strip import LogStrip, log_strip
from jentrik.web.drawing.on_stand import StandLean, stand_drawing
from jentrik.web.drawing.plot import Line, plot
from jentrik.web.drawing.practice_weeks import weeks_drawing
from jentrik.web.drawing.ribbon import ribbon
from jentrik.web.drawing.rungs import Rung, rungs_drawing
from jentrik.web.drawing.section import section_drawing
from jentrik.web.drawing.size_map import Frame, size_map
from jentrik.web.drawing.skeleton import skeleton_of
from jentrik.web.drawing.speed_plot import speed_plot
from jentrik.web.drawing.steadiness_plot import steadiness_plot
from jentrik.web.drawing.wear import wear_drawing
from jentrik.web.drawing.year_bars import YearBar, year_bars
from jentrik.web.pages.jobs.scene import scene_drawing
from jentrik.web.parts.address import Address
from jentrik.web.shop import Shop

SVG = "{http://www.w3.org/2000/svg}"


def parsed(drawing: Markup) -> Element:
    text = str(drawing)
    if "xmlns" not in text:
        text = text.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
    return ElementTree.fromstring(text)  # our own drawing


def matrix_of(transform: str | None) -> ndarray:
    """Return an SVG transform as a 3 x 3 matrix."""
    whole = np.eye(3)
    for name, numbers in re.findall(r"(\w+)\(([^)]*)\)", transform or ""):
        given = [float(number) for number in numbers.split()]
        part = np.eye(3)
        if name == "translate":
            part[:2, 2] = given
        elif name == "scale":
            part[0, 0], part[1, 1] = given
        elif name == "matrix":
            part[:2] = np.array(given).reshape(3, 2).T
        whole = whole @ part
    return whole


def elements(root: Element) -> Iterator[tuple[Element, ndarray]]:
    """Yield every element with the matrix that takes it to the picture."""

    def walk(node: Element, matrix: ndarray) -> Iterator[tuple[Element, ndarray]]:
        matrix = matrix @ matrix_of(node.get("transform"))
        yield node, matrix
        for child in node:
            yield from walk(child, matrix)

    yield from walk(root, np.eye(3))


def circles(root: Element, css: str) -> list[tuple[ndarray, float64]]:
    """Return centers and radii on the picture of the circles of exactly that class."""
    found = []
    for node, matrix in elements(root):
        if node.tag == f"{SVG}circle" and node.get("class") == css:
            center = matrix @ [float(node.get("cx")), float(node.get("cy")), 1]
            scale = abs(np.linalg.det(matrix[:2, :2])) ** 0.5
            found.append((center[:2], float(node.get("r")) * scale))
    return found


def path_ends(root: Element, css: str) -> Any:
    """Return the first and last point on the picture of the path of that class."""
    for node, matrix in elements(root):
        if node.get("class") == css:
            numbers = [float(n) for n in re.findall(r"-?\d+(?:\.\d+)?", node.get("d"))]
            points = np.array(numbers).reshape(-1, 2)
            return [(matrix @ [*point, 1])[:2] for point in (points[0], points[-1])]
    return None


def distance_to_line(point: ndarray, start: ndarray, end: ndarray) -> Any:
    along = (end - start) / np.linalg.norm(end - start)
    across = np.array([-along[1], along[0]])
    return abs(across @ (point - start))


def scene(job_id: int, **address: Any) -> tuple[Element, PlanResult, Outcome]:
    job = jobs.job(job_id)
    sheet = machines.sheet(job.machine_id)
    found = as_measured(machine_of(sheet))
    outcome = outcome_of(found, read_proposal(job.proposals[0].values()))
    where = Address(f"/jobs/{job_id}", **address)
    return parsed(scene_drawing(sheet, found, outcome, where)), found, outcome


ALL_VIEWS = [(view, magnify) for view in ("stand", "road") for magnify in (1, 3, 6)]


@pytest.mark.parametrize(("view", "magnify"), ALL_VIEWS)
def test_every_planned_wheel_stands_on_the_planned_ground(
    shop: Shop, view: str, magnify: int
) -> None:
    for job_id in range(1, 12):
        root, _, _ = scene(job_id, view=view, magnify=magnify)
        start, end = path_ends(root, "planned level")
        wheels = circles(root, "planned")
        assert len(wheels) == 2
        for center, radius in wheels:
            assert distance_to_line(center, start, end) == pytest.approx(radius, abs=0.15), job_id


@pytest.mark.parametrize(("view", "magnify"), ALL_VIEWS)
def test_everything_lettered_lies_on_the_picture(shop: Shop, view: str, magnify: int) -> None:
    for job_id in range(1, 12):
        root, _, _ = scene(job_id, view=view, magnify=magnify)
        width, height = (float(n) for n in root.get("viewBox").split()[2:])
        for node, _ in elements(root):
            if node.tag == f"{SVG}text":
                assert 0 <= float(node.get("x")) <= width
                assert 15 <= float(node.get("y")) <= height
        for center, radius in circles(root, "planned"):
            assert radius <= center[0] <= width - radius


def test_the_drawing_is_to_scale(shop: Shop) -> None:
    root, found, outcome = scene(1)
    (rear, rear_radius), (front, front_radius) = circles(root, "planned")
    scale = rear_radius / outcome.figures.geometry.rear_radius_mm
    assert front_radius / scale == pytest.approx(outcome.figures.geometry.front_radius_mm, abs=0.2)
    assert np.linalg.norm(front - rear) / scale == pytest.approx(1046, abs=0.5)
    ghosts = circles(root, "found")
    assert ghosts[0][1] / scale == pytest.approx(found.figures.geometry.rear_radius_mm, abs=0.2)


def test_in_the_stand_the_chassis_stays_and_on_the_road_the_ground(shop: Shop) -> None:
    stand, _, outcome = scene(9, view="stand")
    start, end = path_ends(stand, "planned level")
    slope = np.degrees(np.arctan2(end[1] - start[1], end[0] - start[0]))
    assert slope == pytest.approx(
        outcome.figures.geometry.pitch_deg, abs=0.05
    )  # the picture's y runs down
    road, _, _ = scene(9, view="road")
    start, end = path_ends(road, "planned level")
    assert start[1] == pytest.approx(end[1], abs=0.05)


def test_a_magnified_drawing_says_so_and_triples_the_difference(shop: Shop) -> None:
    true, found, _ = scene(1)
    larger, _, _ = scene(1, magnify=3)
    text = "".join(larger.itertext())
    assert "Differences drawn ×3" in text
    assert "drawn ×" not in "".join(true.itertext())

    def drop(root: Element) -> Any:
        ghost, planned = circles(root, "found")[0][1], circles(root, "planned")[0][1]
        return (ghost - planned) * found.figures.geometry.rear_radius_mm / ghost

    assert drop(true) == pytest.approx(9, abs=0.2)
    assert drop(larger) == pytest.approx(27, abs=0.3)


def test_a_wheel_that_does_not_change_has_no_ghost(shop: Shop) -> None:
    root, _, _ = scene(4)  # the front alone
    assert len(circles(root, "found")) == 1


def test_the_text_equivalent_carries_the_figures(shop: Shop) -> None:
    root, _, _ = scene(1)
    said = root.get("aria-label")
    assert "Green tourer, proposal A" in said
    assert "Bottom bracket from 284 mm to 275 mm" in in_plain(said)
    assert root.find(f"{SVG}title").text in said


def test_names_are_escaped(shop: Shop) -> None:
    with shop.step("name", "name", machine_id=1) as step:
        machines.rename(step, 1, '<b>&"')
    root, _, _ = scene(1)
    assert root.find(f"{SVG}title").text.startswith('<b>&"')


@pytest.mark.parametrize("job_id", range(1, 12))
def test_every_build_draws_frame_fork_and_cranks_or_seat(shop: Shop, job_id: int) -> None:
    root, found, _ = scene(job_id)
    classes = {name for node, _ in elements(root) for name in (node.get("class") or "").split()}
    if found.bike.kind == "bicycle":
        assert {"tube", "saddle", "crank", "chainring", "bar"} <= classes
    else:
        assert {"slider", "swingarm", "cushion", "grip", "fender"} <= classes
        assert ("stand" in classes) == (found.bike.side_stand is not None)


def test_the_skeleton_hangs_on_the_measured_figures(shop: Shop) -> None:
    bike = machine_of(machines.sheet(1))
    bones = skeleton_of(bike)
    assert bones.front_axle == (1046, 348)
    # From the crown, down the axis and out by the offset, back at the axle.
    foot = bones.forward(bones.up_axis(bones.crown, -bones.fork_length), bones.fork_offset)
    assert foot == pytest.approx(bones.front_axle)
    assert bones.head_top == pytest.approx(
        (bones.bottom_bracket[0] + 381, bones.bottom_bracket[1] + 577)
    )
    assert bones.point("saddle") == (231, 958)
    assert bones.point("sidecar") is None


@pytest.mark.parametrize(
    ("change", "shape"),
    [
        (0, "holds"),
        (-10, "holds"),
        (15, "holds"),
        (-10.1, "outside"),
        (15.1, "outside"),
        (-500, "outside"),
        (500, "outside"),
    ],
)
def test_a_ribbons_peg_changes_shape_outside_the_band(change: float, shape: str) -> None:
    root = parsed(ribbon(change, Band(-10, 15)))
    pegs = [node for node, _ in elements(root) if "peg" in (node.get("class") or "").split()]
    assert [peg.get("class") for peg in pegs] == [f"peg {shape}"]
    numbers = re.findall(r"M(-?[\d.]+)", pegs[0].get("d"))
    assert 0 <= float(numbers[0]) <= 190
    assert ("inside" if shape == "holds" else "outside") in root.get("aria-label")


def test_a_ribbons_band_is_to_scale_with_zero_in_the_middle() -> None:
    drawn = str(ribbon(0, Band(-10, 15)))
    band = re.search(r'class="band" d="M([\d.]+) 11H([\d.]+)"', drawn).groups()
    zero = 95
    low, high = (float(end) for end in band)
    assert (zero - low) / (high - zero) == pytest.approx(10 / 15, abs=0.02)


@pytest.mark.parametrize("code", ["37-622", "130/80 ZR 18", "200/55 R 17", "60-622", "20-622"])
def test_a_section_is_as_wide_and_high_as_the_code_says(code: str) -> None:
    reading = read_code(code)
    root = parsed(section_drawing(reading))
    text = in_plain("".join(root.itertext()))
    assert f"{reading.width_mm:.0f} mm" in text
    assert f"{reading.section_height_mm:.0f} mm" in text
    tapes = [node.get("d") for node, _ in elements(root) if node.get("class") == "tape"]
    across, up = (
        np.ptp(np.array(re.findall(r"-?[\d.]+", d), float).reshape(2, 2), axis=0) for d in tapes
    )
    ratio = reading.section_height_mm / reading.width_mm
    assert up[1] / across[0] == pytest.approx(ratio, abs=0.01)


def test_without_a_width_there_is_no_section() -> None:
    assert section_drawing(read_code("700C")) is None


def test_writing_svg() -> None:
    assert svg.number(12.04) == "12"
    assert svg.number(-0.04) == "0"
    assert svg.number(-3.25) in ("-3.2", "-3.3")
    assert svg.line((0, 0), (1, 2.5), "a") == '<path class="a" d="M0 0L1 2.5"/>'
    assert svg.polyline([(0, 0), (1, 0), (1, 1)], "a", closed=True).endswith('Z"/>')
    assert "&lt;b&gt;" in svg.text((0, 0), [[("<b>", "c")]], "d")
    assert svg.group(["x"], "g", "scale(2)") == '<g class="g" transform="scale(2)">x</g>'
    soft = svg.smooth([(0, 0), (2, 0), (2, 2)], "a")
    assert soft == '<path class="a" d="M0 0Q2 0 2 1L2 2"/>'


@pytest.mark.parametrize("job_id", range(1, 12))
@pytest.mark.parametrize("state", list(State))
def test_lettering_keeps_apart_in_every_state(shop: Shop, job_id: int, state: State) -> None:
    """Lines of a drawing's lettering never lie over each other, at desk size and on a phone."""
    job = jobs.job(job_id)
    sheet = machines.sheet(job.machine_id)
    bike = machine_of(sheet)
    if state not in bike.suspension.states:
        return
    found = as_measured(bike, state)
    outcome = outcome_of(found, read_proposal(job.proposals[0].values()))
    for view in ("stand", "road"):
        root = parsed(scene_drawing(sheet, found, outcome, Address("/", view=view)))
        boxes = [box for text in root.iter(f"{SVG}text") for box in lettered(text, 40)]
        for place, one in enumerate(boxes):
            for other in boxes[place + 1 :]:
                apart = (
                    one[2] <= other[0]
                    or other[2] <= one[0]
                    or one[3] <= other[1]
                    or other[3] <= one[1]
                )
                assert apart, (view, one[4], other[4])


def lettered(text: Element, size: int) -> Iterator[tuple[Any, ...]]:
    """Return a box for each line of a text as a phone shows it: 0.42 em a letter."""
    words: list[str] = []
    x, y, line = float(text.get("x")), float(text.get("y")), 0
    crowded = "crowded" in text.get("class")
    boxes = []
    for span in text:
        if span.get("x") is not None and words:
            boxes.append((y + line * 1.2 * size, " ".join(words)))
            words = []
        line += span.get("dy") == "1.2em"
        hidden = "optional" in span.get("class") or (crowded and "name" in span.get("class"))
        words += [] if hidden else [span.text]
    boxes.append((y + line * 1.2 * size, " ".join(words)))
    for base, said in boxes:
        wide = len(in_plain(said)) * 0.42 * size
        anchor = text.get("text-anchor")
        left = x - (wide if anchor == "end" else wide / 2 if anchor == "middle" else 0)
        if said:
            yield left, base - 0.72 * size, left + wide, base, said


def test_a_measured_pivot_is_where_the_swingarm_turns(shop: Shop) -> None:
    sheet = machines.sheet(next(s.id for s in machines.sheets() if s.name == "Slipway enduro"))
    bones = skeleton_of(machine_of(sheet))
    assert bones.pivot == (424, 398)
    drawn = parsed(scene_drawing(sheet, as_measured(machine_of(sheet)), None, Address("/")))
    pivots = [c for c in drawn.iter(f"{SVG}circle") if c.get("class") == "pivot"]
    assert ("424", "398") in [(c.get("cx"), c.get("cy")) for c in pivots]


def test_a_turned_headset_turns_the_fork_and_not_the_frame(shop: Shop) -> None:
    sheet = machines.sheet(1)
    found = as_measured(machine_of(sheet))
    slack = outcome_of(found, read_proposal({"name": "A", "headset_turn_deg": -2.0}))
    root = parsed(scene_drawing(sheet, found, slack, Address("/")))
    paths = {p.get("class"): p.get("d") for p in root.iter(f"{SVG}path")}
    x1, y1, x2, y2 = (float(n) for n in re.findall(r"-?[\d.]+", paths["axis"]))
    drawn = np.degrees(np.arctan2(y2 - y1, -(x2 - x1)))
    assert drawn == pytest.approx(71.5 - 2.0, abs=0.02)


def test_the_edge_drawing_touches_floor_and_edge() -> None:
    root = parsed(edge_drawing(found_mm=343, planned_mm=368, step_mm=60))
    wheels = [c for c in root.iter(f"{SVG}circle") if c.get("class") in ("found", "planned")]
    for wheel, radius in zip(wheels, (343, 368), strict=True):
        cx, cy, r = (float(wheel.get(name)) for name in ("cx", "cy", "r"))
        assert r == pytest.approx(radius * 0.24, abs=0.06)
        assert cy + r == pytest.approx(226, abs=0.1)
        assert np.hypot(250 - cx, 226 - 60 * 0.24 - cy) == pytest.approx(r, abs=0.15)
    assert "cannot climb it" in str(edge_drawing(found_mm=50, planned_mm=368, step_mm=60))


def test_a_plot_keeps_its_lines_inside_and_in_order() -> None:
    down = [0.0, 50.0, 100.0]
    lines = [Line(down, [71.0, 72.5, 74.0], "found"), Line(down, [70.0, 71.6, 73.0], "planned")]
    root = parsed(plot("Head angle", "°", lines, digits=1, across="mm down"))
    drawn = {p.get("class"): p.get("d") for p in root.iter(f"{SVG}path")}
    ups = {
        css: [float(y) for y in re.findall(r"[\d.]+ ([\d.]+)", drawn[css])]
        for css in ("found", "planned")
    }
    assert ups["found"] == sorted(ups["found"], reverse=True)
    assert all(f < p for f, p in zip(ups["found"], ups["planned"], strict=True))
    assert all(26 <= y <= 104 for ys in ups.values() for y in ys)


@pytest.mark.parametrize(("holes", "chord"), [(4, 70.711), (6, 50.0), (3, 86.603)])
def test_the_chord_of_a_bolt_circle(holes: int, chord: float) -> None:
    # On 100 mm: a square's side, a hexagon's, a triangle's.
    assert chord_mm(holes=holes, circle_mm=100.0) == pytest.approx(chord, abs=0.001)
    drawn = bolt_circle_drawing(holes=holes, circle_mm=100.0, hole_mm=8.5)
    assert drawn.count('class="bolt-hole"') == holes
    assert f"{chord:.2f} mm" in in_plain(drawn)


def test_the_foot_of_the_stand_drawing_stands_on_the_ground() -> None:
    # A thin tire: the foot lies f cos w out and f sin w up in the machine's own frame.
    feet = []
    for lean in (11.0, 5.4):
        out, up = 240 * math.cos(math.radians(lean)), 240 * math.sin(math.radians(lean))
        drawn = stand_drawing(
            StandLean(lean, out, up),
            StandLean(lean, out, up),
            width_mm=110,
            tall_mm=1080,
            bar_mm=370,
        )
        leg = re.search(r'class="planned stand-leg" d="M[^L]+L([\d.]+) ([\d.]+)"', drawn)
        floor = re.search(r'class="stand-floor" d="M[\d.]+ ([\d.]+)L', drawn)
        feet.append((float(leg[2]), float(floor[1])))
        assert f"{lean:.1f}°" in drawn
    for foot, ground in feet:
        assert foot == pytest.approx(ground, abs=0.1)


def test_a_log_strip_meets_its_limit_on_the_expected_day() -> None:
    strip = LogStrip(
        "Rear",
        [(date(2026, 1, 1), 8.0), (date(2026, 7, 1), 5.0)],
        (date(2026, 11, 1), 3.0),
        [("shop", 3.0)],
        date(2024, 1, 1),
        [],
        date(2026, 9, 1),
    )
    drawn = log_strip(strip)
    limit = re.search(r'class="strip-limit" d="M[\d.]+ ([\d.]+)L', drawn)[1]
    expected = re.search(r'class="strip-expected" d="M[^L]+L([\d.]+) ([\d.]+)"', drawn)
    assert expected[2] == limit
    assert drawn.count('class="strip-peg"') == 2
    assert "2.7 years old" in drawn
    assert log_strip(LogStrip("Rear", [], None, [], None, [], date(2026, 9, 1))) is None


def test_figures_on_a_log_strip_do_not_cover_each_other() -> None:
    # Half a year apart on seventeen years is 11 of 360: only the newest is written.
    looks = [(date(2026, 5, 10), 5.0), (date(2026, 11, 6), 4.9)]
    end = (date(2043, 2, 1), 1.6)
    drawn = in_plain(log_strip(LogStrip("Rear", looks, end, [], None, [], date(2026, 11, 25))))
    assert ">4.9<" in drawn
    assert ">5.0<" not in drawn
    near = in_plain(log_strip(LogStrip("Rear", looks, None, [], None, [], date(2026, 11, 25))))
    assert ">5.0<" in near


TODAY = date(2026, 11, 23)
FLAT = Calibration(0.0, 1.0, (0.0, 0.0), 50.0, 100.0)
DEGENERATE: dict[str, Any] = {
    "a tread worn away": lambda: log_strip(
        LogStrip(
            "t", [(TODAY, 0.0), (TODAY, 0.0)], (TODAY, 0.0), [("limit", 0.0)], TODAY, [], TODAY
        )
    ),
    "a tread of nothing across": lambda: wear_drawing((0.0, 0.0, 0.0), "t"),
    "a plot of one point": lambda: plot(
        "t", "mm", [Line([0.0], [0.0], "found")], digits=0, across=""
    ),
    "a plot of equal points": lambda: plot(
        "t", "mm", [Line([5.0, 5.0], [3.0, 3.0], "found")], digits=0, across=""
    ),
    "a pair at a standstill": lambda: speed_plot(FLAT, [SpeedPair(0.0, 0.0)]),
    "equal pairs": lambda: speed_plot(FLAT, [SpeedPair(50.0, 50.0), SpeedPair(50.0, 50.0)]),
    "one speed": lambda: steadiness_plot([10.0], [[0.0] * 4], [[0.0] * 4], "t"),
    "a year without cost": lambda: year_bars([YearBar(2026, Decimal(0), False)], "t", "EUR"),
    "a week without answers": lambda: weeks_drawing([Week(TODAY, 0, 0, 0.0)]),
    "a map of one pair": lambda: size_map(Frame((600, 600), (600, 600)), [], [], [], [], "t"),
    "rungs at a standstill": lambda: rungs_drawing([Rung(0.0, 0.0, 0.0, None)]),
    "no change accepted": lambda: ribbon(0.0, Band(0.0, 0.0)),
    "a change where none is accepted": lambda: ribbon(3.0, Band(0.0, 0.0)),
    "no edge": lambda: edge_drawing(found_mm=300, planned_mm=300, step_mm=0),
    "an upright stand": lambda: stand_drawing(
        StandLean(0, 0, 0), StandLean(0, 0, 0), width_mm=0, tall_mm=0, bar_mm=0
    ),
}


@pytest.mark.parametrize("name", DEGENERATE)
def test_no_drawing_fails_on_zero_one_point_or_equal_points(name: str) -> None:
    drawn = str(DEGENERATE[name]())
    assert parsed(Markup(drawn)) is not None
    assert "nan" not in drawn
    assert "inf" not in drawn
