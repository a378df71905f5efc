"""Marks on a photograph as a document, and the figures they give.

{"format": "jentrik-photo-marks", "version": 1, "image": {"width_px": 4000, "height_px": 3000, …},
"faces": "right", "click_px": 1.5, "wheels": {"rear": {…}, "front": {…}}, "points": [], "lines": []}
"""

from typing import Annotated, Any, Literal

from pydantic import Field

from jentrik.core.errors import blamed_on
from jentrik.core.photo.marks import LineMarks, PhotoMarks, Picture, PointMark, WheelMarks
from jentrik.core.photo.measured import PhotoFigures, figures_of
from jentrik.core.photo.solve import solved
from jentrik.exchange.plan_document import validated
from jentrik.exchange.plan_parts import DocumentPart, Figure
from jentrik.exchange.strict_json import parse_json

Pixel = Annotated[list[Figure], Field(min_length=2, max_length=2)]
MOST_NAMED = 100


class ImageDocument(DocumentPart):
    """The picture: its size and its focal length in pixels, where it is known."""

    width_px: Annotated[int, Field(ge=1, le=100_000)]
    height_px: Annotated[int, Field(ge=1, le=100_000)]
    focal_px: Figure | None = None
    focal_within_percent: Figure = 5.0


class WheelMarksDocument(DocumentPart):
    """The marks on one wheel."""

    diameter_mm: Figure
    edge_px: Annotated[list[Pixel], Field(max_length=200)]
    mark: str = "rim edge"
    nearer_mm: Figure = 0.0
    diameter_within_mm: Figure = 0.0
    axle_px: Pixel | None = None
    tire_diameter_mm: Figure | None = None


class WheelsDocument(DocumentPart):
    """Both wheels."""

    rear: WheelMarksDocument
    front: WheelMarksDocument


class MarkedPointDocument(DocumentPart):
    """A named place."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    px: Pixel
    nearer_mm: Figure = 0.0


class LineDocument(DocumentPart):
    """A named line through two or more marks."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    px: Annotated[list[Pixel], Field(max_length=200)]
    nearer_mm: Figure = 0.0
    length_mm: Figure | None = None
    length_within_mm: Figure = 1.0


class PhotoMarksDocument(DocumentPart):
    """Everything marked on one picture."""

    format: Literal["jentrik-photo-marks"]
    version: Literal[1]
    image: ImageDocument
    faces: Literal["right", "left"]
    click_px: Figure = 1.5
    wheels: WheelsDocument
    points: list[MarkedPointDocument] = Field(default=[], max_length=MOST_NAMED)
    lines: list[LineDocument] = Field(default=[], max_length=MOST_NAMED)


def marks_from_json(raw: bytes) -> PhotoMarks:
    """Return the marks of a document; refuses it with one sentence and a full path."""
    return marks_of(validated(PhotoMarksDocument, parse_json(raw)))


def marks_of(document: PhotoMarksDocument) -> PhotoMarks:
    """Return the marks of a document; refuses figures no picture has, by their path."""
    with blamed_on("image"):
        picture = Picture(**document.image.model_dump())
    wheels = {}
    for end in ("rear", "front"):
        with blamed_on(f"wheels.{end}"):
            wheels[end] = _wheel(getattr(document.wheels, end))
    points = tuple(
        PointMark(point.name, _pixel(point.px), point.nearer_mm) for point in document.points
    )
    lines = []
    for place, one in enumerate(document.lines):
        with blamed_on(f"lines[{place}]"):
            px, known = tuple(map(_pixel, one.px)), (one.length_mm, one.length_within_mm)
            lines.append(LineMarks(one.name, px, one.nearer_mm, *known))
    return PhotoMarks(
        picture,
        document.faces,
        wheels["rear"],
        wheels["front"],
        points,
        tuple(lines),
        document.click_px,
    )


def _wheel(one: WheelMarksDocument) -> WheelMarks:
    return WheelMarks(
        tuple(map(_pixel, one.edge_px)),
        one.diameter_mm,
        one.nearer_mm,
        one.diameter_within_mm,
        None if one.axle_px is None else _pixel(one.axle_px),
        one.tire_diameter_mm,
        one.mark,
    )


def _pixel(px: list[float]) -> tuple[float, float]:
    return float(px[0]), float(px[1])


def photo_from_json(raw: bytes) -> dict[str, Any]:
    """Return the answer to a document of marks; refuses it with one sentence and a full path."""
    return photo_document(figures_of(solved(marks_from_json(raw))))


def photo_document(measured: PhotoFigures) -> dict[str, Any]:
    """Return figures by photograph as plain values."""
    return {
        "figures": {
            name: {"value": one.value, "plus_minus": one.plus_minus}
            for name, one in measured.figures.items()
        },
        "points": [
            {
                "name": point.name,
                "x_mm": point.x_mm,
                "height_mm": point.height_mm,
                "plus_minus": point.plus_minus,
            }
            for point in measured.points
        ],
        "residual_px": measured.residual_px,
        "notes": list(measured.notes),
    }
