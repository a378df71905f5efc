"""A set-up: everything that is on a machine and how it is set, as figures by key.

Keys are those of a machine's sheet, so a wheel's, a fork's or a shock's figures are written one
way.  What a sheet measures *in* a set-up (wheelbase, angles, gaps) belongs to the frame and is no
part of it.  Keys that begin with ``set.`` are only of the set-up:

    set.lower_cup_mm, set.headset_turn_deg, set.link_longer_mm   against the frame as first measured
    set.rear_shift_x_mm, set.rear_shift_y_mm                     likewise, in the frame as it stood
    set.bar_rise_mm, set.spacers_mm, set.saddle_rise_mm          likewise
    set.position                                                 the chip or dropout, by its name
    set.corrected_percent                                        added to an instrument's signal
    set.front.wheel, set.front.tire_id                           which wheel, which tire, by number
    set.front.insert, set.front.casing, set.front.compound       in words
    set.front.price, set.shock_kpa                               what the tire cost; kPa

Source: the trade's common practice; a set-up is what riders and mechanics compare.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date

from jentrik.core.machine.catalogue import part_of_figure
from jentrik.core.machine.declared import ENDS, End, Part
from jentrik.core.machine.figure import Figure

Parts = Mapping[str, Figure]
CORRECTED = "set.corrected_percent"  # what is added to the signal of the instrument


# What a figure that is only of a set-up belongs to; every other says so with its attribute.
_OF_SET_UP: dict[str, Part] = {
    "set.lower_cup_mm": Part.HEADSET,
    "set.headset_turn_deg": Part.HEADSET,
    "set.rear_shift_x_mm": Part.DROPOUT,
    "set.rear_shift_y_mm": Part.DROPOUT,
    "set.position": Part.POSITION,
    "set.link_longer_mm": Part.LINK,
    "set.bar_rise_mm": Part.BAR,
    "set.spacers_mm": Part.BAR,
    "set.saddle_rise_mm": Part.SEAT,
    "set.shock_kpa": Part.PRESSURE,
    CORRECTED: Part.INSTRUMENT,
}
_SET_OF_AN_END: dict[str, Part] = {
    "wheel": Part.WHEEL,
    "tire_id": Part.TIRE,
    "casing": Part.TIRE,
    "compound": Part.TIRE,
    "price": Part.TIRE,
    "insert": Part.INSERT,
}
_MOVING = (
    Part.TIRE,
    Part.FORK,
    Part.TRAVEL,
    Part.HEADSET,
    Part.POSITION,
    Part.DROPOUT,
    Part.LINK,
    Part.SHOCK,
    Part.BAR,
    Part.SEAT,
)
_TIRE_MOVES = ("tire", "overall_diameter_mm")


def part_of(key: str) -> tuple[Part, End | None] | None:
    """Return which part of a set-up a figure belongs to and at which end; None of none."""
    if key in _OF_SET_UP:
        return _OF_SET_UP[key], None
    for end in ENDS:
        if key.startswith(f"set.{end}."):
            part = _SET_OF_AN_END.get(key.removeprefix(f"set.{end}."))
            return (part, end) if part else None
        if key == f"{end}.width_mm":
            return Part.TIRE, end
    return part_of_figure(key)


def value_of(parts: Parts, key: str) -> float | str | None:
    """Return what a figure of a set-up is; None where it is not known."""
    figure = parts.get(key)
    return None if figure is None else figure.value


def number_of(parts: Parts, key: str) -> float:
    """Return a number of a set-up that is 0 where it is not said: a shift, a rise, a cup."""
    return float(value_of(parts, key) or 0.0)


def in_words(key: str) -> str:
    """Return a figure's key in words, such as “rear insert” or “lower cup”."""
    said = key.removeprefix("set.").removeprefix("line.")
    for unit in ("_mm", "_deg", "_kpa", "_kg", "_kmh", "_percent"):
        said = said.removesuffix(unit)
    return said.replace(".", " ").replace("_", " ")


def only_of_set_up(key: str) -> bool:
    """Whether a figure says how a machine is set up and is no figure of a plan document."""
    return key.startswith("set.")


@dataclass(frozen=True, slots=True)
class Setup:
    """A set-up of one machine, from a day to a day.

    It is open while it is measured, and sealed once it was fitted, ridden or logged: then a
    part that is set otherwise is another set-up that follows it.  `reconstructed` marks one that
    was put together from a history that did not keep it.
    """

    id: int
    name: str
    parts: Parts
    since: date
    until: date | None = None
    sealed: bool = False
    reconstructed: bool = False
    job_id: int | None = None


@dataclass(frozen=True, slots=True)
class Moved:
    """One figure that differs: as it was and as it is; None where it was not known."""

    key: str
    before: Figure | None
    after: Figure | None


@dataclass(frozen=True, slots=True)
class Difference:
    """One part two set-ups differ in, at one end or of the whole machine."""

    part: Part
    end: End | None
    moved: tuple[Moved, ...]

    def before(self, key: str) -> float | str | None:
        """Return what a figure was; None where it did not move or was not known."""
        return self._value(key, "before")

    def after(self, key: str) -> float | str | None:
        """Return what a figure is; None where it did not move or is not known."""
        return self._value(key, "after")

    def _value(self, key: str, side: str) -> float | str | None:
        for one in self.moved:
            if one.key == key:
                figure: Figure | None = getattr(one, side)
                return None if figure is None else figure.value
        return None


def differences(before: Parts, after: Parts) -> tuple[Difference, ...]:
    """Return what two set-ups differ in, part by part, in the order of the bench.

    A figure that only one of them knows is a difference too.
    """
    found: dict[tuple[Part, End | None], list[Moved]] = {}
    for key in dict.fromkeys((*before, *after)):
        old, new = before.get(key), after.get(key)
        known = part_of(key)
        if known is None or (old and old.value) == (new and new.value):
            continue
        found.setdefault(known, []).append(Moved(key, old, new))
    order = list(Part)
    sides = (*ENDS, None)
    return tuple(
        Difference(part, end, tuple(sorted(moved, key=lambda one: one.key)))
        for (part, end), moved in sorted(
            found.items(), key=lambda item: (order.index(item[0][0]), sides.index(item[0][1]))
        )
    )


def with_differences(parts: Parts, changed: tuple[Difference, ...]) -> dict[str, Figure]:
    """Return a set-up's parts with what differs as it is after."""
    new = dict(parts)
    for difference in changed:
        for one in difference.moved:
            if one.after is None:
                new.pop(one.key, None)
            else:
                new[one.key] = one.after
    return new


def stance_of(parts: Parts) -> dict[str, float | str]:
    """Return the figures of a set-up that decide how its machine stands.

    Two set-ups of one machine with the same stance have the same geometry.
    """
    return dict(_stance(parts))


def _stance(parts: Parts) -> Iterator[tuple[str, float | str]]:
    for key in sorted(parts):
        known = part_of(key)
        if known is None or known[0] not in _MOVING:
            continue
        if known[0] is Part.TIRE and key.rpartition(".")[2] not in _TIRE_MOVES:
            continue
        if key in ("fork.rated_bead_seat_mm", "suspension.rear.travel_mm"):
            continue
        value = parts[key].value
        if value not in (0, 0.0):
            yield key, value
