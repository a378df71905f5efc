"""What someone would change on a machine: a proposal, against the machine as found."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Annotated

from jentrik.core.amounts import mm
from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import ENDS, About, Declared, End, about, changed
from jentrik.core.machine.gearing import Gearing
from jentrik.core.machine.machine import (
    WHOLE_MM,
    Bike,
    Cranks,
    Fork,
    Speedometer,
    length_along_axis,
)
from jentrik.core.machine.room_line import at_guard
from jentrik.core.machine.suspension import Shock, Travel
from jentrik.core.machine.wheel import UNCHANGED, WheelChange, Wheels

_RISE = About(between=(-200, 200))


@dataclass(frozen=True, slots=True)
class ContactChange(Declared, path="contact"):
    """What a proposal does to the places the rider touches, mm; the chassis stays as it is.

    Spacers lift the bar along the steering axis, the other two along their own post or straight
    up; a crank is named by its new length.
    """

    bar_rise_mm: Annotated[float, _RISE] = 0.0
    spacers_mm: Annotated[float, _RISE] = 0.0
    saddle_rise_mm: Annotated[float, _RISE] = 0.0
    crank_mm: Annotated[float | None, about(Cranks, "length_mm")] = None


UNTOUCHED = ContactChange()


@dataclass(frozen=True, slots=True)
class Proposal(Declared):
    """What someone would change; None or 0 leaves a thing as found."""

    name: str
    front: WheelChange = UNCHANGED
    rear: WheelChange = UNCHANGED
    fork_length_mm: Annotated[float | None, changed(Fork, "length_mm", "fork.length_mm")] = None
    fork_offset_mm: Annotated[float | None, changed(Fork, "offset_mm", "fork.offset_mm")] = None
    fork_straight_mm: Annotated[
        float | None, About(between=(50, 2000), key="fork.axle_to_crown_mm", unit="mm")
    ] = None
    fork_rated_mm: Annotated[
        float | None, changed(Fork, "rated_bead_seat_mm", "fork.rated_bead_seat_mm")
    ] = None
    tubes_up_mm: Annotated[float, About(between=(-100, 100), key="fork.tubes_up_mm", unit="mm")] = (
        0.0  # the fork kept, its tubes further up in the clamps
    )
    lower_cup_mm: Annotated[float, _RISE] = 0.0
    rear_shift_x_mm: Annotated[
        float, About(between=(-500, 500), key="rear_axle_shift_mm.x", unit="mm")
    ] = 0.0
    rear_shift_y_mm: Annotated[
        float, About(between=(-500, 500), key="rear_axle_shift_mm.y", unit="mm")
    ] = 0.0
    position: str | None = None
    fork_travel_mm: Annotated[float | None, changed(Travel, "travel_mm", "fork.travel_mm")] = None
    headset_turn_deg: Annotated[float, About(between=(-5, 5))] = 0.0
    shock_mm: Annotated[float | None, about(Shock, "length_mm")] = None
    link_longer_mm: Annotated[float, _RISE] = 0.0
    contact: ContactChange = UNTOUCHED
    front_sprocket: Annotated[
        float | None, changed(Gearing, "front_sprocket", "gearing.front_sprocket")
    ] = None
    rear_sprocket: Annotated[
        float | None, changed(Gearing, "rear_sprocket", "gearing.rear_sprocket")
    ] = None
    owned: tuple[End, ...] = ()  # ends whose wheel is there already: nothing is bought for it
    as_before: bool = False  # every part of it was on the machine before
    corrected_percent: Annotated[
        float | None, changed(Speedometer, "corrected_percent", "speedometer.corrected_percent")
    ] = None
    gaps_mm: Mapping[str, float] = field(default_factory=dict)  # by place, as read with it on

    @property
    def another_fork(self) -> bool:
        """Whether another fork goes in, or the old one is set to another length or offset."""
        named = (self.fork_length_mm, self.fork_straight_mm, self.fork_offset_mm)
        return any(figure is not None for figure in named)

    def fork_offset(self, bike: Bike) -> float:
        """Return the fork's offset as the proposal leaves it, mm."""
        return bike.fork.offset_mm if self.fork_offset_mm is None else self.fork_offset_mm

    def fork_length(self, bike: Bike) -> float:
        """Return the fork's length along the axis as the proposal leaves it, mm.

        One stated straight is the longer side of a triangle; tubes raised in the clamps take
        their part off.  Refuses two lengths that do not go together.
        """
        length = bike.fork.length_mm if self.fork_length_mm is None else self.fork_length_mm
        if self.fork_straight_mm is not None:
            along = length_along_axis(
                axle_to_crown_mm=self.fork_straight_mm, offset_mm=self.fork_offset(bike)
            )
            if self.fork_length_mm is not None and abs(along - length) > WHOLE_MM:
                raise OutOfRange(
                    f"A fork of {mm(self.fork_straight_mm):g} axle to crown is {mm(along):.1f} "
                    f"along the axis, not {mm(length):g}.",
                    field="fork.axle_to_crown_mm",
                    expected="one of the two lengths, or both alike",
                )
            length = along
        return length - self.tubes_up_mm

    def without_lost_guards(self, bike: Bike) -> Bike:
        """Return the machine without what was measured at a mudguard that comes off."""
        gone = {end for end in ENDS if bike.wheels.at(end).loses_guard(getattr(self, end))}
        if not gone:
            return bike
        return replace(
            bike,
            clearances=tuple(
                place
                for place in bike.clearances
                if place.wheel not in gone or not at_guard(place.name)
            ),
            room=tuple(
                line for line in bike.room if line.wheel not in gone or not at_guard(line.name)
            ),
        )

    def wheels(self, bike: Bike) -> Wheels:
        """Return both wheels as the proposal leaves them."""
        return Wheels(front=bike.front.changed_by(self.front), rear=bike.rear.changed_by(self.rear))
