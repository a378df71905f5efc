"""The lines of a sheet that come and go: measured gaps, named points, rear positions."""

from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.machine.named_places import still_to_measure
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import Sheet, SheetClearance, SheetPair, SheetPoint, SheetPosition
from jentrik.web.drawing.measure import place_drawing
from jentrik.web.parts.fields import Complaint, FigureField, Typed, choice_field, small_field

NEW_PLACE, NEW_POINT, NEW_POSITION, NEW_PAIR, NEW_ROOM = (
    "new-place",
    "new-point",
    "new-position",
    "new-pair",
    "new-room",
)


PAIR_COLUMNS = (
    ("front_tire", "front tire"),
    ("rear_tire", "rear tire"),
    ("front_rim_mm", "front rim"),
    ("rear_rim_mm", "rear rim"),
    ("front_make", "front make"),
    ("rear_make", "rear make"),
    ("position", "rear position"),
)


@dataclass(frozen=True, slots=True)
class ListedLine:
    """One gap or point: its name, where it is in words, its figures."""

    id: int
    name: str
    where: str
    cells: list[FigureField]


@dataclass(frozen=True, slots=True)
class NewLine:
    """The line to be added: what was typed of it, and why it was refused."""

    values: dict[str, str]
    complaint: Complaint | None

    def value(self, name: str) -> str:
        """Return what was typed in a field of a refused line."""
        return self.values.get(name, "")


@dataclass(frozen=True, slots=True)
class PlaceCard:
    """A named place without a gap yet: how and where the gauge is held."""

    name: str
    how: str
    drawing: Markup


@dataclass(frozen=True, slots=True)
class LinesView:
    """The lists of a sheet and the lines to be added to them."""

    places: list[ListedLine]
    points: list[ListedLine]
    positions: list[ListedLine]
    pairs: list[ListedLine]
    cards: list[PlaceCard]
    new_place: NewLine
    new_point: NewLine
    new_position: NewLine
    new_pair: NewLine

    @property
    def fields(self) -> list[FigureField]:
        """Every cell of the lists."""
        lines = (*self.places, *self.points, *self.positions, *self.pairs)
        return [cell for line in lines for cell in line.cells]


def lines_view(sheet: Sheet, typed: Typed) -> LinesView:
    """Return the gaps and points of a sheet as a page shows them."""
    return LinesView(
        places=[_place_line(clearance, typed) for clearance in sheet.clearances],
        points=[_point_line(point, typed) for point in sheet.points],
        positions=[_position_line(position, typed) for position in sheet.positions],
        pairs=[_pair_line(pair, typed) for pair in sheet.pairs],
        cards=[
            PlaceCard(place.name, place.how, place_drawing(place, f"Where {place.name} is taken"))
            for place in still_to_measure(sheet)
        ],
        new_place=_new_line(NEW_PLACE, typed),
        new_point=_new_line(NEW_POINT, typed),
        new_position=_new_line(NEW_POSITION, typed),
        new_pair=_new_line(NEW_PAIR, typed),
    )


def _place_line(place: SheetClearance, typed: Typed) -> ListedLine:
    of, name = f"place:{place.id}", place.name
    side = "tread" if place.direction == "radial" else "side"
    return ListedLine(
        place.id,
        name,
        f"{place.wheel} {side}{', fork' if place.on == 'fork' else ''}",
        [
            small_field(f"{of}:gap_mm", f"{name}: gap", place.gap_mm, unit="mm", typed=typed),
            small_field(
                f"{of}:minimum_mm",
                f"{name}: minimum clearance",
                place.minimum_mm,
                unit="mm",
                typed=typed,
            ),
            small_field(
                f"{of}:bearing_deg", f"{name}: direction", place.bearing_deg, unit="°", typed=typed
            ),
            small_field(
                f"{of}:from_axle_mm",
                f"{name}: from the axle",
                place.from_axle_mm,
                unit="mm",
                typed=typed,
            ),
            choice_field(
                f"{of}:moves_with",
                f"{name}: goes with",
                place.moves_with or "",
                ("wheel", "body"),
                typed,
            ),
        ],
    )


def _point_line(point: SheetPoint, typed: Typed) -> ListedLine:
    of, name = f"point:{point.id}", point.name
    return ListedLine(
        point.id,
        name,
        "",
        [
            small_field(
                f"{of}:x_mm", f"{name}: ahead of rear axle", point.x_mm, unit="mm", typed=typed
            ),
            small_field(
                f"{of}:height_mm", f"{name}: above ground", point.height_mm, unit="mm", typed=typed
            ),
            small_field(
                f"{of}:out_mm", f"{name}: out from the middle", point.out_mm, unit="mm", typed=typed
            ),
            choice_field(
                f"{of}:role",
                f"{name}: what it is",
                point.role.value,
                tuple(role.value for role in PointRole),
                typed,
            ),
        ],
    )


def _position_line(position: SheetPosition, typed: Typed) -> ListedLine:
    of, name = f"position:{position.id}", position.name
    return ListedLine(
        position.id,
        name,
        "fitted" if position.x_mm == 0 and position.y_mm == 0 else "",
        [
            small_field(
                f"{of}:x_mm", f"{name}: axle forward", position.x_mm, unit="mm", typed=typed
            ),
            small_field(
                f"{of}:y_mm", f"{name}: axle up in the frame", position.y_mm, unit="mm", typed=typed
            ),
            small_field(
                f"{of}:bead_seat_diameter_mm",
                f"{name}: wheel its maker pairs with it",
                position.bead_seat_diameter_mm,
                unit="mm",
                typed=typed,
            ),
        ],
    )


def _pair_line(pair: SheetPair, typed: Typed) -> ListedLine:
    cells = [
        small_field(
            f"pair:{pair.id}:{column}",
            f"{pair.name}: {label}",
            getattr(pair, column),
            unit="mm" if "rim" in column else "",
            typed=typed,
        )
        for column, label in PAIR_COLUMNS
    ]
    return ListedLine(pair.id, pair.name, "", cells)


def _new_line(name: str, typed: Typed) -> NewLine:
    _, complaint = typed.shown(name, "")
    return NewLine(dict(typed.values) if complaint else {}, complaint)
