"""What is marked on a photograph, in pixels: x right, y down from the picture's top left."""

from dataclasses import dataclass, field
from typing import Literal

from jentrik.core.errors import OutOfRange, blamed_on
from jentrik.core.geometry.frame import within

Pixel = tuple[float, float]
FEWEST_ON_AN_EDGE, MOST_MARKS = 5, 60
Faces = Literal["right", "left"]


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture's size and focal length in pixels, the latter within so many percent (2 s.d.).

    Without a focal length the two circles have to fix it.
    """

    width_px: int
    height_px: int
    focal_px: float | None = None
    focal_within_percent: float = 5.0

    def __post_init__(self) -> None:
        for name in ("width_px", "height_px"):
            within(name, getattr(self, name), least=200, most=30_000, unit="px")
        if self.focal_px is not None:
            longest = max(self.width_px, self.height_px)
            within("focal_px", self.focal_px, least=0.3 * longest, most=30 * longest, unit="px")
        within("focal_within_percent", self.focal_within_percent, least=0.1, most=60, unit="%")


@dataclass(frozen=True, slots=True)
class WheelMarks:
    """Marks on one wheel: round the edge of a circle of known diameter, and on its axle.

    `nearer_mm` is how far that circle lies from the machine's middle plane towards the camera,
    `diameter_within_mm` how well its diameter is known (2 s.d.); the tire's own diameter gives the
    ground.
    """

    edge_px: tuple[Pixel, ...]
    diameter_mm: float
    nearer_mm: float = 0.0
    diameter_within_mm: float = 0.0
    axle_px: Pixel | None = None
    tire_diameter_mm: float | None = None
    mark: str = "rim edge"

    def __post_init__(self) -> None:
        within("diameter_mm", self.diameter_mm, least=80, most=2000, unit="mm")
        within("nearer_mm", self.nearer_mm, least=-300, most=300, unit="mm")
        within("diameter_within_mm", self.diameter_within_mm, least=0, most=100, unit="mm")
        if self.tire_diameter_mm is not None:
            within("tire_diameter_mm", self.tire_diameter_mm, least=80, most=2000, unit="mm")
        if len(self.edge_px) > MOST_MARKS:
            raise OutOfRange(
                f"At most {MOST_MARKS} marks are taken on one wheel.",
                field="edge_px",
                expected="fewer marks",
            )
        if len(self.edge_px) < FEWEST_ON_AN_EDGE:
            raise OutOfRange(
                f"{FEWEST_ON_AN_EDGE} marks at least are needed round a wheel's edge; "
                f"there are {len(self.edge_px)}.",
                field="edge_px",
                expected=f"{FEWEST_ON_AN_EDGE} marks or more",
            )


@dataclass(frozen=True, slots=True)
class PointMark:
    """A named place: where it is in the picture, how much nearer than the middle plane, mm."""

    name: str
    px: Pixel
    nearer_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class LineMarks:
    """A named line through two or more marks.

    With a known length, first mark to last, it is one more ruler; `length_within_mm` is 2 s.d.
    """

    name: str
    px: tuple[Pixel, ...]
    nearer_mm: float = 0.0
    length_mm: float | None = None
    length_within_mm: float = 1.0

    def __post_init__(self) -> None:
        if self.length_mm is not None:
            within("length_mm", self.length_mm, least=20, most=5000, unit="mm")
            within("length_within_mm", self.length_within_mm, least=0.05, most=100, unit="mm")
        if not 2 <= len(self.px) <= MOST_MARKS:
            raise OutOfRange(
                f"A line is drawn through 2 to {MOST_MARKS} marks; “{self.name[:40]}” has "
                f"{len(self.px)}.",
                field="px",
                expected="two marks or more",
            )


@dataclass(frozen=True, slots=True)
class PhotoMarks:
    """Everything marked on one picture; `click_px` is one mark's scatter each way (1 s.d.)."""

    picture: Picture
    faces: Faces
    rear: WheelMarks
    front: WheelMarks
    points: tuple[PointMark, ...] = ()
    lines: tuple[LineMarks, ...] = ()
    click_px: float = 1.5
    notes: tuple[str, ...] = field(default=())

    def __post_init__(self) -> None:
        within("click_px", self.click_px, least=0.05, most=50, unit="px")
        for kind, named in (("points", self.points), ("lines", self.lines)):
            names = [one.name.casefold() for one in named]
            for place, name in enumerate(names):
                if not name.strip() or name in names[:place]:
                    with blamed_on(f"{kind}[{place}]"):
                        raise OutOfRange(
                            "Every point and line has a name of its own.",
                            field="name",
                            expected="another name",
                        )

    def point(self, name: str) -> PointMark | None:
        """Return the point of a name; None where it is not marked."""
        return next((point for point in self.points if point.name.casefold() == name), None)

    def line(self, name: str) -> LineMarks | None:
        """Return the line of a name; None where it is not marked."""
        return next((line for line in self.lines if line.name.casefold() == name), None)
