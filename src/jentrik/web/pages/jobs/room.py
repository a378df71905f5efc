"""Room for the tire at every measured place, and what else can touch."""

from collections.abc import Iterator
from dataclasses import dataclass

from markupsafe import Markup

from jentrik.core.amounts import mm
from jentrik.core.figures.strikes import leans, pedal_lean, toe_room
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.work.proofs import predicted_in_words, prove_by_hand
from jentrik.web.drawing.room import room_drawing
from jentrik.web.figures import between, fixed


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
                spot, bike.wheels.at(spot.place.wheel), outcome.figures.wheels.at(spot.place.wheel)
            ),
            says=predicted_in_words(spot),
            takes=", ".join(f"{take.name} {mm(fixed(take.mm, 1))}" for take in spot.takes),
            not_counted=", ".join(spot.not_counted),
        )
        for spot in outcome.figures.clearances
    ]
    return RoomView(
        spots, _touches(found, outcome), prove_by_hand(bike, outcome.figures.clearances)
    )


def _touches(found: PlanResult, outcome: Outcome) -> list[TouchRow]:
    rows = [*_line_rows(found, outcome)]
    rows += _toe_rows(found, outcome) if found.bike.build.toes_meet_wheel else ()
    rows += _lean_rows(found, outcome) if found.bike.leans else ()
    full = outcome.figures.full
    if full is not None:
        rows += [
            TouchRow(f"{name}: height at full travel", "mm", "", fixed(height), "")
            for name, height in full.heights.items()
            if height < _LOW_MM
        ]
        if full.saddle_room_mm is not None:
            label = "Saddle to rear tire at full travel"
            rows.append(TouchRow(label, "mm", "", fixed(full.saddle_room_mm), ""))
    return rows


def _line_rows(found: PlanResult, outcome: Outcome) -> Iterator[TouchRow]:
    """Yield the least room beside the tire at each part whose widths were measured."""
    before = {gap.key: gap.gap_mm for gap in found.figures.room}
    for gap in outcome.figures.room_untaped:
        label = f"{gap.name}, {gap.wheel}: room {mm(fixed(gap.from_axle_mm, 0))} from the axle"
        yield touch_row(label, "mm", before.get(gap.key, gap.gap_mm), gap.gap_mm, 1)


def _toe_rows(found: PlanResult, outcome: Outcome) -> Iterator[TouchRow]:
    bike, proposal = found.bike, outcome.proposal
    offset = bike.fork.offset_mm if proposal.fork_offset_mm is None else proposal.fork_offset_mm
    crank = proposal.contact.crank_mm or bike.cranks.length_mm
    old = toe_room(
        bike,
        bike.wheels,
        found.figures.geometry,
        crank_mm=bike.cranks.length_mm,
        offset_mm=bike.fork.offset_mm,
    )
    new = toe_room(
        bike, outcome.figures.wheels, outcome.figures.geometry, crank_mm=crank, offset_mm=offset
    )
    if not old or not new:
        return
    yield touch_row("Pedal axle to front tire", "mm", old.straight_mm, new.straight_mm, 0)
    if old.turned and new.turned:
        label = f"The same, bar turned {new.turned.bar_deg:.0f}°"
        yield touch_row(label, "mm", old.turned.room_mm, new.turned.room_mm, 0)


def _lean_rows(found: PlanResult, outcome: Outcome) -> Iterator[TouchRow]:
    bike = found.bike
    lean = pedal_lean(bike, bike.wheels, found.figures.geometry, found.figures.contact)
    leaning = pedal_lean(
        bike, outcome.figures.wheels, outcome.figures.geometry, outcome.figures.contact
    )
    if lean is not None and leaning is not None:
        yield touch_row("Pedal: lean at touch", "°", lean, leaning, 1)
    before = leans(bike, bike.wheels, found.figures.geometry)
    after = leans(bike, outcome.figures.wheels, outcome.figures.geometry)
    for name in after:
        if name in before:
            yield touch_row(f"{name}: lean at touch", "°", before[name], after[name], 1)


_LOW_MM = 300.0  # what stands higher never meets the ground


def touch_row(label: str, unit: str, old: float, new: float, digits: int) -> TouchRow:
    """Return a figure before and after."""
    return TouchRow(label, unit, fixed(old, digits), fixed(new, digits), between(old, new, digits))
