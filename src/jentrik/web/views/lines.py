"""The lines of a sheet that come and go: measured gaps, named points, rear positions."""

from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.named_places import still_to_measure
from jentrik.core.sheet import Sheet
from jentrik.web.drawing.measure import place_drawing
from jentrik.web.views.fields import Complaint, FigureField, Typed, choice_field, small_field

NEW_PLACE, NEW_POINT, NEW_POSITION, NEW_PAIR = (
    "new-place", "new-point", "new-position", "new-pair",
)  # fmt: skip


PAIR_COLUMNS = (
    ("front_tire", "front tire"), ("rear_tire", "rear tire"), ("front_rim_mm", "front rim"),
    ("rear_rim_mm", "rear rim"), ("front_make", "front make"), ("rear_make", "rear make"),
    ("position", "rear position"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Line:
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

    places: list[Line]
    points: list[Line]
    positions: list[Line]
    pairs: list[Line]
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
        places=[
            Line(
                place.id,
                place.name,
                f"{place.wheel} {'tread' if place.direction == 'radial' else 'side'}"
                f"{', fork' if place.on == 'fork' else ''}",
                [
                    small_field(f"place:{place.id}:gap_mm", f"{place.name}: gap", place.gap_mm,
                                unit="mm", typed=typed),
                    small_field(f"place:{place.id}:minimum_mm", f"{place.name}: least gap",
                                place.minimum_mm, unit="mm", typed=typed),
                    small_field(f"place:{place.id}:bearing_deg", f"{place.name}: direction",
                                place.bearing_deg, unit="°", typed=typed),
                    small_field(f"place:{place.id}:from_axle_mm", f"{place.name}: from the axle",
                                place.from_axle_mm, unit="mm", typed=typed),
                    choice_field(f"place:{place.id}:moves_with", f"{place.name}: goes with",
                                 place.moves_with or "", ("wheel", "body"), typed),
                ],
            )
            for place in sheet.places
        ],
        points=[
            Line(
                point.id,
                point.name,
                "",
                [
                    small_field(f"point:{point.id}:x_mm", f"{point.name}: ahead of rear axle",
                                point.x_mm, unit="mm", typed=typed),
                    small_field(f"point:{point.id}:height_mm", f"{point.name}: above ground",
                                point.height_mm, unit="mm", typed=typed),
                    small_field(f"point:{point.id}:out_mm", f"{point.name}: out from the middle",
                                point.out_mm, unit="mm", typed=typed),
                ],
            )
            for point in sheet.points
        ],
        positions=[
            Line(
                one.id,
                one.name,
                "fitted" if one.x_mm == 0 and one.y_mm == 0 else "",
                [
                    small_field(f"position:{one.id}:x_mm", f"{one.name}: axle forward", one.x_mm,
                                unit="mm", typed=typed),
                    small_field(f"position:{one.id}:y_mm", f"{one.name}: axle up in the frame",
                                one.y_mm, unit="mm", typed=typed),
                    small_field(f"position:{one.id}:bead_seat_diameter_mm",
                                f"{one.name}: wheel its maker pairs with it",
                                one.bead_seat_diameter_mm, unit="mm", typed=typed),
                ],
            )
            for one in sheet.positions
        ],
        pairs=[
            Line(
                pair.id,
                pair.name,
                "",
                [
                    small_field(f"pair:{pair.id}:{column}", f"{pair.name}: {label}",
                                getattr(pair, column), unit="mm" if "rim" in column else "",
                                typed=typed)
                    for column, label in PAIR_COLUMNS
                ],
            )
            for pair in sheet.pairs
        ],
        cards=[
            PlaceCard(place.name, place.how, place_drawing(place, f"Where {place.name} is taken"))
            for place in still_to_measure(sheet)
        ],
        new_place=_new_line(NEW_PLACE, typed),
        new_point=_new_line(NEW_POINT, typed),
        new_position=_new_line(NEW_POSITION, typed),
        new_pair=_new_line(NEW_PAIR, typed),
    )  # fmt: skip


def _new_line(name: str, typed: Typed) -> NewLine:
    _, complaint = typed.shown(name, "")
    return NewLine(dict(typed.values) if complaint else {}, complaint)
