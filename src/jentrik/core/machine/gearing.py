"""Gearing on another wheel: what a turn of the cranks or a speed on the road becomes.

    development = circumference x chainring / sprocket               meters a turn of the cranks
    overall     = primary x gear x rear sprocket / front sprocket    engine turns a wheel turn
    rpm         = speed / circumference x overall

Source: arithmetic.
"""

from dataclasses import dataclass
from typing import Annotated

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import (
    BICYCLE,
    MOTORCYCLE,
    About,
    Declared,
    Part,
    about,
    check_figures,
)

ROAD_SPEEDS_KMH = (50, 90, 130)
MOST_GEARS = 16


@dataclass(frozen=True, slots=True)
class Gearing(Declared, path="gearing", group="Gearing"):
    """Teeth and ratios of a machine; empty or None is not known."""

    chainrings: Annotated[
        tuple[float, ...],
        About("Chainrings", (15, 80), "the gears after", kinds=BICYCLE, part=Part.SPROCKETS),
    ] = ()
    sprockets: Annotated[
        tuple[float, ...],
        About("Sprockets", (8, 60), "the gears after", kinds=BICYCLE, part=Part.SPROCKETS),
    ] = ()
    primary_ratio: Annotated[
        float | None,
        About(
            "Primary ratio", (0.5, 10), "engine speed on the road", counted="to 1", kinds=MOTORCYCLE
        ),
    ] = None
    gear_ratios: Annotated[
        tuple[float, ...],
        About("Gears, first to last", (0.2, 10), "engine speed on the road", kinds=MOTORCYCLE),
    ] = ()
    front_sprocket: Annotated[
        float | None,
        About(
            "Front sprocket",
            (8, 40),
            "the sprockets that bring the gearing back",
            counted="teeth",
            kinds=MOTORCYCLE,
            part=Part.SPROCKETS,
        ),
    ] = None
    rear_sprocket: Annotated[
        float | None,
        About(
            "Rear sprocket",
            (8, 90),
            "the sprockets that bring the gearing back",
            counted="teeth",
            kinds=MOTORCYCLE,
            part=Part.SPROCKETS,
        ),
    ] = None
    most_rpm: Annotated[
        float | None,
        About(
            "Max engine speed",
            (500, 25000),
            "which gears go with which speed",
            counted="rpm",
            kinds=MOTORCYCLE,
        ),
    ] = None

    def __post_init__(self) -> None:
        check_figures(self)
        for name in ("chainrings", "sprockets", "gear_ratios"):
            figures, (least, most) = getattr(self, name), about(Gearing, name).between or (0, 0)
            if len(figures) > MOST_GEARS or not all(least <= figure <= most for figure in figures):
                raise OutOfRange(
                    f"A gearing has at most {MOST_GEARS} figures here, each from {least:g} to "
                    f"{most:g}.",
                    field=name,
                    expected=f"figures from {least:g} to {most:g}",
                )


UNGEARED = Gearing()


@dataclass(frozen=True, slots=True)
class Development:
    """Meters a turn of the cranks with one sprocket, as found and planned."""

    sprocket: float
    found_m: float
    planned_m: float


def developments(
    gearing: Gearing, chainring: float, *, found_mm: float, planned_mm: float
) -> tuple[Development, ...]:
    """Return the development of every sprocket on one chainring; circumferences in mm."""
    return tuple(
        Development(
            sprocket,
            found_mm / 1000 * chainring / sprocket,
            planned_mm / 1000 * chainring / sprocket,
        )
        for sprocket in gearing.sprockets
    )


def overall_ratios(gearing: Gearing) -> tuple[float, ...]:
    """Return engine turns for a turn of the wheel in each gear; empty where a part is unknown."""
    front, rear = gearing.front_sprocket, gearing.rear_sprocket
    if front is None or rear is None or gearing.primary_ratio is None:
        return ()
    return tuple(gearing.primary_ratio * gear * rear / front for gear in gearing.gear_ratios)


def engine_rpm(*, kmh: float, circumference_mm: float, overall: float) -> float:
    """Return the engine's turns a minute at a road speed."""
    return kmh / 3.6 * 60 / (circumference_mm / 1000) * overall


def teeth_ratio(gearing: Gearing, front: float | None, rear: float | None) -> float:
    """Return front over rear teeth as planned, over the same as found; 1 where nothing changes.

    Sprockets no one counted leave the change unknown, and the gearing as it was.
    """
    ratio = 1.0
    if front is not None and gearing.front_sprocket is not None:
        ratio *= front / gearing.front_sprocket
    if rear is not None and gearing.rear_sprocket is not None:
        ratio *= gearing.rear_sprocket / rear
    return ratio


@dataclass(frozen=True, slots=True)
class Sprockets:
    """A pair of sprockets, and how far it leaves the gearing from as found, percent."""

    front: int
    rear: int
    off_percent: float


def sprockets_back(
    front: float, rear: float, *, circumference_ratio: float, best: int = 3
) -> tuple[Sprockets, ...]:
    """Return the pairs that bring the gearing nearest to as found, the nearest first.

    A smaller wheel needs a taller pair: rear over front times the circumference ratio.  Looked
    for within two teeth in front and six at the rear; shorter is a positive percentage.
    """
    wanted = rear / front * circumference_ratio
    pairs = [
        Sprockets(f, r, (r / f / wanted - 1.0) * 100.0)
        for f in range(max(round(front) - 2, 8), round(front) + 3)
        for r in range(max(round(rear) - 6, 8), round(rear) + 7)
    ]

    def far(pair: Sprockets) -> tuple[float, float]:
        teeth = abs(pair.front - front) + abs(pair.rear - rear)
        return round(abs(pair.off_percent), 1), teeth

    return tuple(sorted(pairs, key=far)[:best])


def teeth_of(text: str) -> tuple[float, ...]:
    """Return the figures of a row such as "50/34" or "11-13-15"; refuses anything else."""
    parts = text.replace("/", " ").replace("-", " ").replace("|", " ").split()
    try:
        figures = tuple(float(part.replace(",", ".")) for part in parts)
    except ValueError:
        figures = ()
    if not figures or not all(0 < figure < 1000 for figure in figures):
        raise OutOfRange(
            f"“{text[:40]}” is not a row of teeth or ratios.", expected="figures like 11-13-15-17"
        )
    return figures
