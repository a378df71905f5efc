"""How wide it may be: the chart of both ends, the same as text, and the lines measured."""

from collections.abc import Mapping
from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.figures.room import room_of
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.room_line import PARTS, RoomPart
from jentrik.core.machine.sheet import Sheet, SheetRoomLine
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.plan.width_chart import Seat, WidthRow, in_words, width_rows
from jentrik.core.work.job import Job
from jentrik.web.drawing.width_chart import room_drawing, width_chart
from jentrik.web.parts.fields import FigureField, Typed, small_field


@dataclass(frozen=True, slots=True)
class WidthRowView:
    """One row as text, and what may be proposed of it: a size and what the press sends."""

    row: WidthRow
    sizes: list[tuple[str, str]]


@dataclass(frozen=True, slots=True)
class RoomLineView:
    """One measured line: what it is, and its fields."""

    line: SheetRoomLine
    cells: list[FigureField]


@dataclass(frozen=True, slots=True)
class EndView:
    """One end: its chart, its room from above, its lines, and the parts worth measuring."""

    end: End
    chart: Markup | None
    rows: list[WidthRowView]
    room: Markup | None
    lines: list[RoomLineView]
    parts: tuple[RoomPart, ...]


@dataclass(frozen=True, slots=True)
class WidthsView:
    """Everything the page shows."""

    sheet: Sheet
    job: Job | None
    says: str
    basis: str
    both: bool
    rare: bool
    ends: list[EndView]
    complaint: str = ""
    refused: str = ""  # why a new line was refused


def widths_view(
    sheet: Sheet,
    result: PlanResult | None,
    outcomes: Mapping[str, Outcome],
    rims_mm: Mapping[Seat, float],
    *,
    job: Job | None,
    both: bool,
    rare: bool,
    typed: Typed,
    complaint: str = "",
) -> WidthsView:
    """Return how wide it may be as a page shows it."""
    rows = width_rows(result, outcomes, rims_mm, rare=rare) if result else ()
    refused = typed.refusals.get("new-room")
    return WidthsView(
        sheet,
        job,
        in_words(rows, outcomes),
        _basis(sheet),
        both,
        rare,
        [_end(sheet, result, rows, end, both, typed) for end in ENDS],
        complaint,
        refused.message if refused else "",
    )


def _basis(sheet: Sheet) -> str:
    """Return what the answer rests on: how many lines, and when the last was measured."""
    if not sheet.room:
        return ""
    last = max(line.taken_on for line in sheet.room)
    count = len(sheet.room)
    return f"From {count} line{'s' if count > 1 else ''} measured by {last:%d %b %Y}."


def _end(
    sheet: Sheet,
    result: PlanResult | None,
    rows: tuple[WidthRow, ...],
    end: End,
    both: bool,
    typed: Typed,
) -> EndView:
    here = [row for row in rows if row.end == end]
    presses = {
        (row.bead_seat_diameter_mm, size.text): _press(size.text, end, both, rows)
        for row in here
        for size in row.sizes
    }
    shown = {key: value for key, value in presses.items() if value}
    room = None
    if result is not None and any(line.wheel == end for line in result.bike.room):
        around = room_of(result.bike, end, result.policy)
        room = room_drawing(around, result.bike.wheels.at(end), end)
    return EndView(
        end,
        width_chart(rows, end, shown) if here else None,
        [
            WidthRowView(
                row,
                [
                    (size.text, value)
                    for size in row.sizes
                    if (value := shown.get((row.bead_seat_diameter_mm, size.text)))
                ],
            )
            for row in here
        ],
        room,
        [_line(line, typed) for line in sheet.room if line.wheel == end],
        PARTS[end],
    )


def _press(code: str, end: End, both: bool, rows: tuple[WidthRow, ...]) -> str:
    """Return what a press on a size proposes: at its end, or at both where it goes at both."""
    if not both:
        return f"{code}|" if end == "front" else f"|{code}"
    ends = {row.end for row in rows if any(size.text == code for size in row.sizes)}
    known = {row.end for row in rows}
    return f"{code}|{code}" if ends == known else ""


def _line(line: SheetRoomLine, typed: Typed) -> RoomLineView:
    of = f"room:{line.id}"
    columns = [("from_axle_mm", "from the axle", line.from_axle_mm)]
    if line.inside_mm is not None:
        columns.append(("inside_mm", "inside width", line.inside_mm))
    return RoomLineView(
        line,
        [
            small_field(f"{of}:{column}", f"{line.name}: {words}", kept, unit="mm", typed=typed)
            for column, words, kept in columns
        ]
        + [
            small_field(
                f"{of}:minimum_mm",
                f"{line.name}: minimum clearance",
                line.minimum_mm,
                unit="mm",
                typed=typed,
            )
        ],
    )
