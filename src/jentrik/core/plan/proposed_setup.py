"""A proposal as a set-up, and a set-up as a proposal.

A proposal says what changes; put on what a machine is set up as, it gives the set-up it asks for.
The other way round, what two set-ups differ in is a proposal that leads from one to the other.
What belongs to a tire goes with the tire, what belongs to a wheel goes when another bead seat
means another wheel.  Source: derived; the keys are those of a plan document.
"""

from collections.abc import Iterator, Mapping
from datetime import date
from typing import Any

from jentrik.core.machine.declared import ENDS, End, attributes
from jentrik.core.machine.fields import STRAIGHT_FORK
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.proposal import Proposal
from jentrik.core.machine.restated import turned_by
from jentrik.core.machine.setup import CORRECTED, Parts, number_of
from jentrik.core.machine.what_differs import bead_seat

# What a proposal says with a figure or a word, besides its wheels and contact points.
PLAIN_CHANGES = tuple(
    one for one in attributes(Proposal) if one.type in (float, str) and one.name != "name"
)
# What a proposal says outright: its key, and the set-up's.
OUTRIGHT: dict[str, str] = {
    "fork.length_mm": "fork.length_mm",
    "fork.offset_mm": "fork.offset_mm",
    "fork.rated_bead_seat_mm": "fork.rated_bead_seat_mm",
    "fork.travel_mm": "suspension.front.travel_mm",
    "shock_mm": "suspension.rear.shock_mm",
    "position": "set.position",
    "contact.crank_mm": "crank_mm",
    "gearing.front_sprocket": "gearing.front_sprocket",
    "gearing.rear_sprocket": "gearing.rear_sprocket",
    "speedometer.corrected_percent": CORRECTED,
}
# What it says against the machine as found.
AGAINST_FOUND: dict[str, str] = {
    "lower_cup_mm": "set.lower_cup_mm",
    "headset_turn_deg": "set.headset_turn_deg",
    "link_longer_mm": "set.link_longer_mm",
    "contact.bar_rise_mm": "set.bar_rise_mm",
    "contact.spacers_mm": "set.spacers_mm",
    "contact.saddle_rise_mm": "set.saddle_rise_mm",
}
SHIFT_X, SHIFT_Y = "set.rear_shift_x_mm", "set.rear_shift_y_mm"
_OF_A_TIRE = ("overall_diameter_mm", "width_mm", "fitted.")
_OF_A_WHEEL = ("rim.", "hub.")
_FRAME_TAKES = ("hub.spacing_mm", "hub.axle_mm", "hub.rotor_mm")  # what frame and caliper take
_READ = ("tire", "fitted.")  # of a wheel: what is read off the tire itself


def flat(changes: Mapping[str, Any], above: str = "") -> Iterator[tuple[str, float | str]]:
    """Yield what a proposal changes as dotted keys and values."""
    for name, value in changes.items():
        key = f"{above}.{name}" if above else name
        if isinstance(value, Mapping):
            yield from flat(value, key)
        elif name == "slot_mm" and value is not None:  # a sheet keeps the two ends of a range
            yield key.replace("slot_mm", "slot_least_mm"), value[0]
            yield key.replace("slot_mm", "slot_most_mm"), value[1]
        elif value is not None:
            yield key, value


def nested(values: Mapping[str, Any]) -> dict[str, Any]:
    """Return dotted keys and values as a document nests them."""
    document: dict[str, Any] = {}
    for key, value in values.items():
        *parents, leaf = key.split(".")
        branch = document
        for parent in parents:
            branch = branch.setdefault(parent, {})
        branch[leaf] = value
    return document


def proposed(
    parts: Parts, changes: Mapping[str, Any], *, on: date, turned_deg: float = 0.0
) -> dict[str, Figure]:
    """Return the set-up a proposal makes of the one it starts from.

    `changes` are those of a plan document's proposal; `turned_deg` is how far the machine stands
    turned against the frame as first measured.  What was read off a tire counts as measured, the
    rest is assumed until it is measured on the machine.
    """
    said = dict(flat(changes))
    new = dict(parts)
    for end in ENDS:
        new = _with_wheel(new, end, said, on)
    for key, of_setup in OUTRIGHT.items():
        if key in said:
            new[of_setup] = Figure(said[key], Provenance.ASSUMED, on)
    if "fork.length_mm" in said:
        new.pop(STRAIGHT_FORK, None)
    tubes, length = said.get("fork.tubes_up_mm"), new.get("fork.length_mm")
    if tubes and length is not None:
        shorter = float(length.value) - float(tubes)
        new["fork.length_mm"] = Figure(shorter, Provenance.ASSUMED, on)
    for key, of_setup in AGAINST_FOUND.items():
        if key in said:
            _add(new, of_setup, float(said[key]), on)
    x, y = (float(said.get(f"rear_axle_shift_mm.{axis}", 0.0)) for axis in ("x", "y"))
    if x or y:
        in_frame = turned_by(x, y, -turned_deg)
        _add(new, SHIFT_X, in_frame[0], on)
        _add(new, SHIFT_Y, in_frame[1], on)
    return new


def _add(parts: dict[str, Figure], key: str, more: float, on: date) -> None:
    value = more + number_of(parts, key)
    if abs(value) < 1e-9:
        parts.pop(key, None)
    else:
        parts[key] = Figure(value, Provenance.ASSUMED, on)


def _with_wheel(
    parts: dict[str, Figure], end: End, said: Mapping[str, float | str], on: date
) -> dict[str, Figure]:
    """Return a set-up with what a proposal says of one wheel."""
    code, old = said.get(f"{end}.tire"), parts.get(f"{end}.tire")
    new = parts
    if code is not None:  # a tire that is named is another one, even of the same size
        gone: tuple[str, ...] = _OF_A_TIRE
        seat = bead_seat(code)
        if old is None or bead_seat(old.value) != seat:
            gone += _OF_A_WHEEL
        new = _without(parts, end, gone)
        if gone != _OF_A_TIRE and seat is not None:
            new[f"{end}.rim.bead_seat_diameter_mm"] = Figure(float(seat), Provenance.ASSUMED, on)
    for key, value in said.items():
        if key.startswith(f"{end}.") and not key.startswith(f"{end}.sensor."):
            leaf = key.removeprefix(f"{end}.")
            read = leaf.startswith(_READ) or leaf == "overall_diameter_mm"
            provenance = Provenance.MEASURED if read else Provenance.ASSUMED
            known = new.get(key)
            if known is None or known.value != value:
                new = {**new, key: Figure(value, provenance, on)}
    if said.get(f"{end}.guard") == "none":
        new = {key: figure for key, figure in new.items() if key != f"{end}.guard_inside_mm"}
    return new


def _without(parts: Parts, end: End, leaves: tuple[str, ...]) -> dict[str, Figure]:
    """Return a set-up without what went with a tire or wheel that came off."""
    own: tuple[str, ...] = (
        f"set.{end}.tire_id",
        f"set.{end}.casing",
        f"set.{end}.compound",
        f"set.{end}.price",
        f"set.{end}.insert",
    )
    if _OF_A_WHEEL[0] in leaves:
        own += (f"set.{end}.wheel",)
    kept = tuple(f"{end}.{leaf}" for leaf in _FRAME_TAKES)
    gone = tuple(f"{end}.{leaf}" for leaf in leaves)
    return {
        key: figure
        for key, figure in parts.items()
        if key in kept or not (key in own or key.startswith(gone))
    }


def changes_to(
    before: Parts, after: Parts, *, turned_deg: float = 0.0, fitted: str = ""
) -> dict[str, Any]:
    """Return the proposal that leads from one set-up to another.

    Only of what a proposal can change; `fitted` is the rear position now on the machine.
    """
    said: dict[str, float | str] = {}
    for end in ENDS:
        said |= _wheel_changes(before, after, end)
    for key, of_setup in OUTRIGHT.items():
        new, old = after.get(of_setup), before.get(of_setup)
        there = old.value if old else fitted if of_setup == "set.position" else None
        if new is not None and new.value != there:
            said[key] = new.value
    if CORRECTED in before and CORRECTED not in after:
        said["speedometer.corrected_percent"] = 0.0
    for key, of_setup in AGAINST_FOUND.items():
        more = number_of(after, of_setup) - number_of(before, of_setup)
        if abs(more) > 1e-9:
            said[key] = more
    x, y = (number_of(after, key) - number_of(before, key) for key in (SHIFT_X, SHIFT_Y))
    if abs(x) > 1e-9 or abs(y) > 1e-9:
        said["rear_axle_shift_mm.x"], said["rear_axle_shift_mm.y"] = turned_by(x, y, turned_deg)
    return nested(said)


def _wheel_changes(before: Parts, after: Parts, end: End) -> dict[str, float | str]:
    said: dict[str, float | str] = {}
    for key, figure in after.items():
        leaf = key.removeprefix(f"{end}.")
        if leaf == key or leaf == "width_mm":
            continue
        old = before.get(key)
        if old is None or old.value != figure.value:
            said[key] = figure.value
    return said
