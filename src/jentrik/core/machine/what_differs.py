"""What was changed between two set-ups, in words: a wheel and what was made for it count as one.

    a wheel   takes its tire, rotor, tone ring and pressure with it; both wheels are one change
    a tire    takes its pressure with it
    a chip whose maker pairs it with the new wheel, a fork made for the new front wheel,
    and the sag or shock pressure set again after either: part of that change

Source: the trade's common practice: one change at a time, its own correction included.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from jentrik.core.amounts import bare, in_words, kept_unit
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, End, Part
from jentrik.core.machine.figure import Figure
from jentrik.core.machine.setup import Difference, Moved, Parts, differences, value_of
from jentrik.core.tire.sidewall import known_code

PRESSURE_SAME = 0.05  # of a pressure: what a gauge tells (common practice)
_WITH_A_WHEEL = (Part.WHEEL, Part.TIRE, Part.ROTOR, Part.TONE_RING, Part.PRESSURE)
_WITH_A_TIRE = (Part.TIRE, Part.PRESSURE)
_MADE_FOR_A_FRONT = (Part.FORK, Part.TRAVEL)
_SET_AGAIN_AFTER = (Part.FORK, Part.TRAVEL, Part.POSITION, Part.LINK, Part.SHOCK)
# key's last part -> words, unit; what is not here is said by its part alone
_WORDS: dict[str, tuple[str, str]] = {
    "tire": ("tire", ""),
    "make": ("make", ""),
    "casing": ("casing", ""),
    "compound": ("compound", ""),
    "insert": ("insert", ""),
    "overall_diameter_mm": ("diameter", "mm"),
    "bead_seat_diameter_mm": ("bead seat", "mm"),
    "inner_width_mm": ("rim inner width", "mm"),
    "build": ("wheel", ""),
    "rotor_mm": ("rotor", "mm"),
    "tone_ring_slots": ("tone ring", "slots"),
    "pressure_kpa": ("pressure", "kPa"),
    "two_up_kpa": ("pressure with two up", "kPa"),
    "length_mm": ("fork length", "mm"),
    "offset_mm": ("fork offset", "mm"),
    "lower_cup_mm": ("lower cup", "mm"),
    "headset_turn_deg": ("angle headset", "°"),
    "position": ("chip or dropout", ""),
    "link_longer_mm": ("link", "mm"),
    "rear_shift_x_mm": ("axle forward in the dropout", "mm"),
    "rear_shift_y_mm": ("axle up in the dropout", "mm"),
    "bar_rise_mm": ("bar", "mm"),
    "spacers_mm": ("spacers below the bar", "mm"),
    "saddle_rise_mm": ("saddle", "mm"),
    "crank_mm": ("cranks", "mm"),
    "front_sprocket": ("front sprocket", "teeth"),
    "rear_sprocket": ("rear sprocket", "teeth"),
    "shock_mm": ("shock", "mm"),
    "shock_kpa": ("shock pressure", "kPa"),
    "travel_mm": ("travel", "mm"),
    "sag_mm": ("sag", "mm"),
    "compression_clicks": ("compression", "clicks"),
    "rebound_clicks": ("rebound", "clicks"),
    "instrument_mm": ("instrument set to", "mm"),
    "corrected_percent": ("instrument's signal corrected by", "%"),
    "guard": ("mudguard", ""),
    "guard_inside_mm": ("mudguard, inside", "mm"),
}
_QUIET = ("wheel", "tire_id", "price", "width_mm", "rated_bead_seat_mm")


@dataclass(frozen=True, slots=True)
class OneChange:
    """One thing that was changed between two set-ups: its parts, and what it is in words."""

    parts: tuple[Difference, ...]
    words: str


def what_differs(
    before: Parts, after: Parts, paired: Mapping[str, float] | None = None
) -> tuple[OneChange, ...]:
    """Return what was changed between two set-ups, each change in words, in the bench's order.

    Where only one of them knows a figure nothing is said of it, but for an insert: none is an
    answer there.  `paired` is the bead seat diameter each rear position is made for.
    """
    left = [difference for difference in differences(before, after) if _said(difference)]
    groups = [*_wheels(left), *_others(left)]
    for group in groups:
        _take_along(group, left, before, after, paired or {})
    groups += [[one] for one in left]
    changes = [OneChange(tuple(group), _group_words(group)) for group in groups]
    return tuple(change for change in changes if change.words)


def _group_words(group: list[Difference]) -> str:
    """Return one change in words; a wheel or tire of the same figures by its end alone."""
    said = [words for one in group if (words := _words(one))]
    if said:
        return "; ".join(said)
    wheels = [str(one.end) for one in group if one.part is Part.WHEEL]
    if wheels:
        return f"{' and '.join(wheels)} wheel{'s' if len(wheels) > 1 else ''}"
    renewed = [str(one.end) for one in group if _renewed(one)]
    return f"{' and '.join(renewed)} tire renewed" if renewed else ""


def _renewed(one: Difference) -> bool:
    """Whether another tire of the same figures went on: both are known by number."""
    numbers = [(moved.before, moved.after) for moved in one.moved if moved.key.endswith("tire_id")]
    return one.part is Part.TIRE and any(None not in pair for pair in numbers)


def _wheels(left: list[Difference]) -> Iterator[list[Difference]]:
    """Yield the change of wheels, taken out of what is left: both ends are one change."""
    ends = [end for end in ENDS if _another_wheel(end, left)]
    group = [one for one in left if one.end in ends and one.part in _WITH_A_WHEEL]
    for one in group:
        left.remove(one)
    if group:
        yield group


def _another_wheel(end: End, all_of_them: list[Difference]) -> bool:
    """Whether another wheel went in, and not only a figure of the old one became known."""
    at_end = [one for one in all_of_them if one.end == end]
    for one in at_end:
        numbered = one.before(f"set.{end}.wheel"), one.after(f"set.{end}.wheel")
        if None not in numbered:
            return numbered[0] != numbered[1]
    codes = [(one.before(f"{end}.tire"), one.after(f"{end}.tire")) for one in at_end]
    return any(bead_seat(old) != bead_seat(new) for old, new in codes if old and new)


def _others(left: list[Difference]) -> Iterator[list[Difference]]:
    for end in ENDS:
        if not any(one.part is Part.TIRE and one.end == end for one in left):
            continue
        group = [one for one in left if one.end == end and one.part in _WITH_A_TIRE]
        for one in group:
            left.remove(one)
        yield group


def _take_along(
    group: list[Difference],
    left: list[Difference],
    before: Parts,
    after: Parts,
    paired: Mapping[str, float],
) -> None:
    """Move what was made for a change of wheels from what is left into it."""
    sizes = {end: (_seat(before, end), _seat(after, end)) for end in ENDS}
    moved = [end for end in ENDS if sizes[end][0] != sizes[end][1]]
    ends = {one.end for one in group if one.part in (Part.WHEEL, Part.TIRE)}
    for one in list(left):
        chip = one.after("set.position") if one.part is Part.POSITION else None
        made_for = chip is not None and paired.get(str(chip)) == sizes["rear"][1]
        fork = one.part in _MADE_FOR_A_FRONT and one.end is None
        if (made_for and "rear" in ends and "rear" in moved) or (
            fork and "front" in ends and "front" in moved
        ):
            left.remove(one)
            group.append(one)
    if any(one.part in _SET_AGAIN_AFTER for one in group):
        for one in list(left):
            if one.part is Part.SAG or (one.part is Part.PRESSURE and one.end is None):
                left.remove(one)
                group.append(one)


def _seat(parts: Parts, end: str) -> int | None:
    code = value_of(parts, f"{end}.tire")
    return None if code is None else bead_seat(code)


def bead_seat(code: object) -> int | None:
    """Return the bead seat diameter of a code in mm; None where it cannot be read."""
    try:
        return known_code(str(code)).bead_seat_diameter_mm
    except Refusal:
        return None


def _said(one: Difference) -> bool:
    """Whether a difference is more than a figure that only one of the two knows."""
    return any(_counts(one, moved) for moved in one.moved)


def _counts(one: Difference, moved: Moved) -> bool:
    key, before, after = moved.key, moved.before, moved.after
    if one.part is Part.INSERT or (
        key.startswith("set.")
        and key.rpartition(".")[2]
        not in ("wheel", "tire_id", "price", "position", "casing", "compound", "shock_kpa")
    ):
        return True  # none is an answer: no insert, no cup, no spacer
    if before is None or after is None:
        return False
    if key.endswith("_kpa"):
        then, now = float(before.value), float(after.value)
        return abs(now - then) > PRESSURE_SAME * max(abs(then), abs(now))
    if isinstance(before.value, str) and isinstance(after.value, str):
        return before.value.casefold().split() != after.value.casefold().split()
    return True


def _words(one: Difference) -> str:
    """Return a difference in words, such as “rear tire 58-622 → 58-584”."""
    said = []
    for moved in one.moved:
        leaf = moved.key.rpartition(".")[2]
        if leaf in _QUIET or leaf not in _WORDS or not _counts(one, moved):
            continue
        name, unit = _WORDS[leaf]
        both = moved.before is not None and moved.after is not None  # the unit is said once
        end = "" if name.startswith(("front", "rear")) else one.end or _sprung_end(moved.key)
        said.append(
            f"{end} {name} {_value(moved.before, leaf, unit, alone=both)} → "
            f"{_value(moved.after, leaf, unit)}".strip()
        )
    return "; ".join(said)


def _sprung_end(key: str) -> str:
    parts = key.split(".")
    return parts[1] if parts[0] == "suspension" and parts[2] != "shock_mm" else ""


def _value(figure: Figure | None, leaf: str, unit: str, *, alone: bool = False) -> str:
    """Return a figure in words; `alone` where its unit stands behind another."""
    if figure is None:
        return "none"
    if isinstance(figure.value, str):
        return figure.value
    value = f"{round(figure.value, 1):g}"
    return bare(value, kept_unit(leaf, unit)) if alone else in_words(leaf, value, unit)
