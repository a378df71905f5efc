"""Room for the tire at every measured place, and what else can touch."""

from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.card.proofs import predicted_in_words, prove_by_hand
from jentrik.core.figures.strikes import leans, pedal_lean, toe_room
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.web.drawing.room import room_drawing
from jentrik.web.views.figures import THIN, change, fixed


@dataclass(frozen=True, slots=True)
class RoomSpot:
    """One place: its drawing, what is predicted, what the road takes, what no one gave."""

    name: str
    wheel: str
    drawing: Markup | None
    says: str
    takes: str
    not_counted: str


@dataclass(frozen=True, slots=True)
class TouchRow:
    """One way to touch something: as found, as planned, what it changes."""

    label: str
    unit: str
    found: str
    planned: str
    moved: str


@dataclass(frozen=True, slots=True)
class RoomView:
    """Station Check's room: places, touches, and what is to be proved by hand."""

    spots: list[RoomSpot]
    touches: list[TouchRow]
    prove: tuple[str, ...]


def room_view(found: PlanResult, outcome: Outcome) -> RoomView:
    """Return the room of one proposal."""
    bike = found.bike
    spots = [
        RoomSpot(
            name=spot.place.name,
            wheel=spot.place.wheel,
            drawing=room_drawing(
                spot, bike.wheels.at(spot.place.wheel), outcome.wheels.at(spot.place.wheel)
            ),
            says=predicted_in_words(spot),
            takes=", ".join(f"{take.name} {fixed(take.mm, 1)}{THIN}mm" for take in spot.takes),
            not_counted=", ".join(spot.not_counted),
        )
        for spot in outcome.clearances
    ]
    return RoomView(spots, _touches(found, outcome), prove_by_hand(bike, outcome.clearances))


def _touches(found: PlanResult, outcome: Outcome) -> list[TouchRow]:
    bike, proposal = found.bike, outcome.proposal
    rows = []
    offset = bike.fork_offset_mm if proposal.fork_offset_mm is None else proposal.fork_offset_mm
    crank = proposal.contact.crank_mm or bike.crank_mm
    old = toe_room(
        bike, bike.wheels, found.baseline, crank_mm=bike.crank_mm, offset_mm=bike.fork_offset_mm
    )
    new = toe_room(bike, outcome.wheels, outcome.geometry, crank_mm=crank, offset_mm=offset)
    if old and new:
        rows.append(
            touch_row("Pedal axle to front tire", "mm", old.straight_mm, new.straight_mm, 0)
        )
        if old.turned and new.turned:
            rows.append(
                touch_row(
                    f"The same, bar turned {new.turned.bar_deg:.0f}°",
                    "mm",
                    old.turned.room_mm,
                    new.turned.room_mm,
                    0,
                )
            )
    lean = pedal_lean(bike, bike.wheels, found.baseline, found.contact)
    leaning = pedal_lean(bike, outcome.wheels, outcome.geometry, outcome.contact)
    if lean is not None and leaning is not None:
        rows.append(touch_row("Pedal: lean at touch", "°", lean, leaning, 1))
    before = leans(bike, bike.wheels, found.baseline)
    after = leans(bike, outcome.wheels, outcome.geometry)
    rows += [
        touch_row(f"{name}: lean at touch", "°", before[name], after[name], 1)
        for name in after
        if name in before
    ]
    if outcome.full is not None:
        rows += [
            TouchRow(f"{name}: height at full travel", "mm", "", fixed(height), "")
            for name, height in outcome.full.heights.items()
            if height < _LOW_MM
        ]
        if outcome.full.saddle_room_mm is not None:
            rows.append(
                TouchRow(
                    "Saddle to rear tire at full travel",
                    "mm",
                    "",
                    fixed(outcome.full.saddle_room_mm),
                    "",
                )
            )
    return rows


_LOW_MM = 300.0  # what stands higher never meets the ground


def touch_row(label: str, unit: str, old: float, new: float, digits: int) -> TouchRow:
    """Return a figure before and after."""
    return TouchRow(label, unit, fixed(old, digits), fixed(new, digits), change(new - old, digits))
