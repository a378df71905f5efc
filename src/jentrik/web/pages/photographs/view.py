"""A picture that is measured on: marks, fitted wheels, what is known, what a mark unlocks."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from markupsafe import Markup

from jentrik.core.amounts import Amount
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, Kind
from jentrik.core.machine.fields import FIELD_BY_KEY, missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.angles import PlaneAngle, angles_in_picture
from jentrik.core.photo.marked import LINES, POINTS, UNLOCKS, ruler_of, whole_document
from jentrik.core.photo.marks import FEWEST_ON_AN_EDGE, PhotoMarks
from jentrik.core.photo.measured import FIGURES, Measured, PhotoFigures, figures_of
from jentrik.core.photo.solve import Solution, solved
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.exchange.photo_marks import PhotoMarksDocument, marks_of
from jentrik.exchange.plan_document import validated
from jentrik.store.documents import OnBench
from jentrik.store.photographs import Photograph
from jentrik.web.drawing.measure import measure_drawing
from jentrik.web.figures import fixed
from jentrik.web.live.undoing import NOTHING_TO_UNDO, UndoView
from jentrik.web.pages.photographs.answers import PhotoAnswers
from jentrik.web.pages.photographs.drawing import photo_drawing, planned_words
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.parts.verdict import found_of, judged

# A figure by photograph and its key on the sheet; a motorcycle's head angle is kept as its rake.
KEYS = {
    "wheelbase_mm": "wheelbase_mm",
    "head_angle_deg": "head_angle_deg",
    "bb_height_mm": "bb_height_mm",
    "chainstay_mm": "chainstay_mm",
    "fork_length_mm": "fork.length_mm",
    "fork_offset_mm": "fork.offset_mm",
    "stack_mm": "stack_mm",
    "reach_mm": "reach_mm",
    "seat_angle_deg": "seat_angle_deg",
}
NEEDS = {
    "wheelbase_mm": "both wheels",
    "head_angle_deg": "the steering axis",
    "bb_height_mm": "the bottom bracket",
    "chainstay_mm": "the bottom bracket",
    "fork_length_mm": "steering axis and crown seat",
    "fork_offset_mm": "steering axis and crown seat",
    "stack_mm": "bottom bracket and head tube top",
    "reach_mm": "bottom bracket and head tube top",
    "seat_angle_deg": "seat tube, or bottom bracket and saddle clamp",
}
ENOUGH = 8  # marks on an edge from which no more are asked for


@dataclass(frozen=True, slots=True)
class Target:
    """Something to mark: its field, words, marks so far, how many are wanted, what it unlocks."""

    key: str
    name: str
    label: str
    value: str
    stored: str
    count: int
    wanted: int
    unlocks: str
    complaint: Complaint | None = None
    where: Markup | str = ""  # a small machine with the place in blue
    beside: tuple[str, str, str, str] | None = None  # a figure of it: label, field, shown, stored

    @property
    def done(self) -> bool:
        """Whether as many marks stand as are wanted."""
        return self.count >= self.wanted


@dataclass(frozen=True, slots=True)
class RulerRow:
    """The ruler of one wheel: which circle, its diameter, ±, how near, and where from."""

    end: str
    mark: str
    mark_name: str
    fields: list[tuple[str, str, str, str, str, Complaint | None]]
    source: str


@dataclass(frozen=True, slots=True)
class FigureRow:
    """One figure: by photograph with its ±, by tape, whether the two agree, what it waits for."""

    name: str
    key: str
    label: str
    says: str
    tape: str
    agrees: str  # "", "agree", "differ"
    waits: str
    offered: bool
    ticked: bool


@dataclass(frozen=True, slots=True)
class PhotoView:
    """Everything a picture's page shows."""

    sheet: Sheet
    picture: Photograph
    targets: list[Target]
    rulers: list[RulerRow]
    faces: str
    click: tuple[str, str]
    focal: tuple[str, str]
    drawing: Markup
    figures: list[FigureRow]
    points: list[tuple[str, str]]
    camera: str
    residual: str
    notes: tuple[str, ...]
    trouble: str
    angles: list[PlaneAngle]
    proposals: list[tuple[str, str]]
    over: str
    view: str
    times: int
    said: str
    undo: UndoView = NOTHING_TO_UNDO
    strays: list[Complaint] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Understood:
    """A picture worked: the solution and its figures, or why there is none."""

    solution: Solution | None = None
    measured: PhotoFigures | None = None
    trouble: str = ""
    off: str = ""  # the path of the mark that is off


def understood(
    sheet: Sheet, picture: Photograph, marks: Mapping[str, Any] | None = None
) -> Understood:
    """Return what a picture tells, or why it tells nothing yet."""
    marks = picture.marks if marks is None else marks
    for end in ("rear", "front"):
        count = len(marks["wheels"][end]["edge_px"])
        if count < FEWEST_ON_AN_EDGE:
            more = FEWEST_ON_AN_EDGE - count
            return Understood(trouble=f"Mark {more} more round the {end} wheel.")
    try:
        whole = whole_document(marks, sheet, size=picture.size, focal_px=picture.focal_px)
        read: PhotoMarks = marks_of(validated(PhotoMarksDocument, whole))
        solution = solved(read)
        return Understood(solution, figures_of(solution))
    except Refusal as refusal:
        return Understood(trouble=refusal.message, off=refusal.field or "")


def photo_view(
    sheet: Sheet,
    answers: PhotoAnswers,
    asked: Mapping[str, str],
    proposals: Sequence[tuple[str, str]],
    found: PlanResult | None,
    outcome: Outcome | None,
    *,
    undo: UndoView,
    typed: Typed = NOTHING_TYPED,
) -> PhotoView:
    """Return the page of one picture; `proposals` are key and words, `outcome` of the one drawn."""
    picture, marks = answers.picture, answers.marks
    known = understood(sheet, picture, marks)
    texts = answers.texts()
    over = asked.get("over", "")
    view = "road" if asked.get("view") == "road" else "stand"
    times = {"3": 3, "6": 6}.get(asked.get("times", ""), 1)
    shown = {name: typed.shown(f"photo:{name}", text) for name, text in texts.items()}
    return PhotoView(
        sheet,
        picture,
        _targets(sheet.kind, texts, shown),
        [_ruler(sheet, end, marks, texts, shown) for end in ENDS],
        marks["faces"],
        (shown["click_px"][0], texts["click_px"]),
        (shown["focal_px"][0], texts["focal_px"]),
        photo_drawing(picture, marks, known.solution, known.off, outcome, found, view, times),
        figure_rows(sheet, known.measured),
        _points(known.measured),
        _camera_words(known.solution),
        "" if known.measured is None else fixed(known.measured.residual_px, 1),
        known.measured.notes if known.measured is not None else (),
        known.trouble,
        angles_in_picture(marks),
        list(proposals),
        over if outcome is not None else "",
        view,
        times,
        planned_words(outcome, view, times),
        undo,
        typed.strays(f"photo:{name}" for name in texts),
    )


# The small drawing that shows where a mark belongs.
_SHOWN = {
    "rear.edge_px": "rear-rim",
    "front.edge_px": "front-rim",
    "rear.axle_px": "rear-axle",
    "front.axle_px": "front-axle",
    "point.bottom bracket": "bracket",
    "line.steering axis": "axis",
    "point.crown seat": "crown",
    "point.head tube top": "head-top",
    "point.saddle clamp": "clamp",
    "line.seat tube": "seat-tube",
}


@dataclass(frozen=True, slots=True)
class OverPhoto:
    """A photograph of the very machine with a proposal's wheels drawn over it."""

    file: str
    size: tuple[int, int]
    drawing: Markup
    says: str


def over_photograph(
    there: OnBench,
    pictures: Sequence[Photograph],
    name: str,
    *,
    view: str = "stand",
    times: int = 1,
) -> OverPhoto | None:
    """Return a proposal over the first picture of its machine that was measured; None without."""
    kept = there.job.proposal(name)
    sheet = there.sheet
    known = ((one, understood(sheet, one)) for one in pictures)
    picture, solution = next(
        ((one, what.solution) for one, what in known if what.solution is not None), (None, None)
    )
    if kept is None or picture is None or solution is None:
        return None
    found, _ = found_of(sheet, missing_of(sheet), there.policy, there.today)
    outcome = judged(found, kept)
    if not isinstance(outcome, Outcome):
        return None
    drawing = photo_drawing(picture, picture.marks, solution, "", outcome, found, view, times)
    return OverPhoto(picture.file, picture.size, drawing, planned_words(outcome, view, times))


def _targets(
    kind: Kind, texts: Mapping[str, str], shown: Mapping[str, tuple[str, Complaint | None]]
) -> list[Target]:
    """Return what is marked, in the order of a machine: wheels, axles, then points and lines."""
    rows = [
        ("rear.edge_px", "rear wheel, edge", ENOUGH, "camera and wheelbase"),
        ("front.edge_px", "front wheel, edge", ENOUGH, "camera and wheelbase"),
        ("rear.axle_px", "rear axle", 1, "a more exact wheelbase"),
        ("front.axle_px", "front axle", 1, "a more exact wheelbase"),
    ]
    rows += [
        (f"{'line' if name in LINES else 'point'}.{name}", name, 2 if name in LINES else 1, unlocks)
        for name, unlocks in UNLOCKS.items()
    ]
    known = {key for key, *_ in rows}
    rows += [
        (key, key.partition(".")[2], 2 if key.startswith("line.") else 1, "its place")
        for key in texts
        if key.startswith(("point.", "line.")) and key not in known
    ]
    return [
        Target(
            key,
            f"photo:{key}",
            label,
            shown[key][0],
            texts[key],
            len(texts[key].split()),
            wanted,
            unlocks,
            shown[key][1],
            measure_drawing(_SHOWN[key], kind, f"Where the {label} is") if key in _SHOWN else "",
            _beside(key, texts, shown),
        )
        for key, label, wanted, unlocks in rows
    ]


def _beside(
    key: str, texts: Mapping[str, str], shown: Mapping[str, tuple[str, Complaint | None]]
) -> tuple[str, str, str, str] | None:
    """Return the figure that goes with a mark: how near a point lies, how long an own line is."""
    kind, _, name = key.partition(".")
    label = {"line": "known length, mm", "point": "nearer than the middle, mm"}.get(kind, "")
    beside = f"{'length' if kind == 'line' else 'nearer'}.{name}"
    if beside not in texts:
        return None
    return label, f"photo:{beside}", shown[beside][0], texts[beside]


def _ruler(
    sheet: Sheet,
    end: Any,
    marks: Mapping[str, Any],
    texts: Mapping[str, str],
    shown: Mapping[str, tuple[str, Complaint | None]],
) -> RulerRow:
    mark = marks["wheels"][end]["mark"]
    known = ruler_of(sheet, end, mark)
    usual = {
        "diameter_mm": known.diameter_mm if known else None,
        "diameter_within_mm": known.within_mm if known else None,
        "nearer_mm": known.nearer_mm if known else None,
    }
    labels = (
        ("diameter_mm", "Diameter, mm"),
        ("diameter_within_mm", "known to ±, mm"),
        ("nearer_mm", "nearer than the middle, mm"),
    )
    fields = []
    for key, label in labels:
        name = f"{end}.{key}"
        about = "" if usual[key] is None else fixed(usual[key], 1)
        fields.append((f"photo:{name}", label, shown[name][0], texts[name], about, shown[name][1]))
    return RulerRow(end, mark, f"photo:{end}.mark", fields, known.source if known else "")


def figure_rows(sheet: Sheet, measured: PhotoFigures | None) -> list[FigureRow]:
    """Return every figure a picture can tell of a machine, beside what the sheet has."""
    rows = []
    for name in FIGURES:
        key = sheet_key(sheet, name)
        known = FIELD_BY_KEY.get(key)
        if known is None or sheet.kind not in known.kinds:
            continue
        value = None if measured is None else measured.figures.get(name)
        figure = sheet.figures.get(key)
        rows.append(_row(name, key, known.label, known.unit, value, figure))
    return rows


def sheet_key(sheet: Sheet, name: str) -> str:
    """Return the key on a sheet of a figure by photograph."""
    if name == "head_angle_deg" and sheet.kind == "motorcycle":
        return "rake_deg"
    return KEYS[name]


def on_sheet(key: str, value: float) -> float:
    """Return a figure by photograph as its key on the sheet has it: a rake is 90 less the angle."""
    return round(90 - value if key == "rake_deg" else value, 1)


def _row(
    name: str, key: str, label: str, unit: str, value: Measured | None, figure: Figure | None
) -> FigureRow:
    digits = 1 if unit == "°" else 0
    tape, agrees = "", ""
    taped = figure is not None and figure.provenance is Provenance.MEASURED
    if figure is not None and figure.provenance is not Provenance.COMPUTED:
        spread = f" ± {fixed(figure.plus_minus, 1)}" if figure.plus_minus else ""
        who = {Provenance.MEASURED: "by tape"}.get(figure.provenance, figure.provenance.value)
        tape = f"{who} {Amount(fixed(figure.value, digits), unit)}{spread}"
    if value is None:
        return FigureRow(name, key, label, "", tape, "", f"needs {NEEDS[name]}", False, False)
    seen = on_sheet(key, value.value)
    says = f"{Amount(fixed(seen, digits), unit)} ± {fixed(value.plus_minus, 1)}"
    if taped and figure is not None:
        apart = abs(float(figure.value) - seen)
        agrees = (
            "agree" if apart <= math.hypot(value.plus_minus, figure.plus_minus or 0) else "differ"
        )
    return FigureRow(name, key, label, says, tape, agrees, "", offered=True, ticked=not taped)


def _points(measured: PhotoFigures | None) -> list[tuple[str, str]]:
    if measured is None:
        return []
    return [
        (
            point.name,
            f"forward {fixed(point.x_mm)}, height {fixed(point.height_mm)} "
            f"± {fixed(point.plus_minus, 1)}",
        )
        for point in measured.points
        if point.name not in POINTS
    ]


def _camera_words(solution: Solution | None) -> str:
    if solution is None:
        return ""
    camera = solution.camera
    eye = -camera.axes.T @ camera.place
    aside = math.degrees(math.atan2(float(eye[0]) - solution.between_mm / 2000, float(eye[2])))
    side = (
        "square to it"
        if abs(aside) < 1.5
        else f"{fixed(abs(aside))}° off square, towards the {'front' if aside > 0 else 'rear'}"
    )
    return f"{fixed(float(eye[2]), 1)} m away, {side}"
