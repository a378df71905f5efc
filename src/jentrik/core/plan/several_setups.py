"""A machine measured in several set-ups: one sheet, as it is in one of them.

What was measured in the set-up asked for stands as it was read.  What was measured only in others
is worked out from them; of two readings of one figure each counts by the inverse square of its ±.
Where a reading here and one from elsewhere differ by more than both ± together, that is said.
Source: derived; weighing by the ± is the usual least-squares mean.
"""

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from jentrik.core.amounts import Amount
from jentrik.core.errors import Refusal
from jentrik.core.machine.consistency import completed
from jentrik.core.machine.fields import FIELD_BY_KEY, missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.readings import worth
from jentrik.core.machine.setup import Setup, stance_of
from jentrik.core.machine.sheet import (
    Sheet,
    SheetClearance,
    SheetPoint,
    SheetPosition,
    SheetRoomLine,
)
from jentrik.core.plan.restating import OF_THE_FRAME, restate, sheet_in

_LINE = "line."


@dataclass(frozen=True, slots=True)
class MeasuredIn:
    """What was measured of the frame in one set-up."""

    setup: Setup
    figures: Mapping[str, Figure]
    clearances: tuple[SheetClearance, ...] = ()
    points: tuple[SheetPoint, ...] = ()
    positions: tuple[SheetPosition, ...] = ()
    room: tuple[SheetRoomLine, ...] = ()


def sheet_of(bare: Sheet, current: Setup, measured: Iterable[MeasuredIn]) -> Sheet:
    """Return a machine's sheet as it is in its current set-up.

    `bare` holds what belongs to no set-up, `measured` what was measured in each, the oldest
    first.
    """
    groups = _with_places_read_again(_by_stance(measured))
    own = groups.pop(_stance(current), None)
    known: Sheet | None = None
    for group in groups.values():
        there = _in_setup(bare, group.setup) if known is None else _moved(known, group)
        known = _overlaid(there, group, weigh=True)
    if known is None:
        there = _in_setup(bare, current)
        return there if own is None else _overlaid(there, own, weigh=False)
    there = _moved(known, MeasuredIn(current, {}))
    if own is None:
        return there
    sheet = _overlaid(there, own, weigh=False)
    return replace(sheet, disagreements=tuple(_disagreements(there, own)))


def _stance(setup: Setup) -> tuple[tuple[str, Any], ...]:
    return tuple(stance_of(setup.parts).items())


def _by_stance(measured: Iterable[MeasuredIn]) -> dict[Any, MeasuredIn]:
    """Return what was measured, joined where a machine stood the same; the last reading counts."""
    groups: dict[Any, MeasuredIn] = {}
    for one in measured:
        key = _stance(one.setup)
        known = groups.get(key)
        groups[key] = (
            one
            if known is None
            else replace(
                known,
                figures={**known.figures, **one.figures},
                clearances=known.clearances + one.clearances,
                points=known.points + one.points,
                positions=known.positions + one.positions,
                room=known.room + one.room,
            )
        )
    return groups


def _with_places_read_again(groups: dict[Any, MeasuredIn]) -> dict[Any, MeasuredIn]:
    """Return each group with the places of others that were read in it again.

    So a gap that no one can predict there is known all the same.
    """
    places = {place.id: place for group in groups.values() for place in group.clearances}
    return {
        key: replace(
            one,
            clearances=one.clearances
            + tuple(
                place
                for place in places.values()
                if place not in one.clearances and f"{_LINE}place.{place.id}.gap_mm" in one.figures
            ),
        )
        for key, one in groups.items()
    }


def _in_setup(bare: Sheet, setup: Setup) -> Sheet:
    return replace(bare, figures={**bare.figures, **setup.parts}, setup=setup)


def _moved(known: Sheet, group: MeasuredIn) -> Sheet:
    """Return a sheet in another set-up; where it cannot be worked out, as assumed."""
    whole = completed(known)
    if not missing_of(whole):
        try:
            return sheet_in(
                whole, group.setup, restate(whole, machine_of(whole), group.setup.parts)
            )
        except Refusal:
            pass  # it does not stand so; its figures are taken over unmoved, and say so
    name = known.setup.name if known.setup else ""
    figures = {
        key: replace(figure, provenance=Provenance.ASSUMED, measured_in=figure.measured_in or name)
        if key in OF_THE_FRAME
        else figure
        for key, figure in known.figures.items()
        if known.setup is None or key not in known.setup.parts
    }
    return replace(
        known, figures={**figures, **group.setup.parts}, setup=group.setup, clearances=()
    )


def _overlaid(sheet: Sheet, own: MeasuredIn, *, weigh: bool) -> Sheet:
    """Return a sheet with what was measured in its set-up, weighed with what it says or over it."""
    figures = dict(sheet.figures)
    for key, figure in own.figures.items():
        if not key.startswith(_LINE):
            figures[key] = _weighed(key, figures.get(key), figure) if weigh else figure
    return replace(
        sheet,
        figures=figures,
        clearances=_rows(sheet.clearances, own.clearances, own, "place"),
        points=_rows(sheet.points, own.points, own, "point"),
        positions=_rows(sheet.positions, own.positions, own, "position"),
        room=(*sheet.room, *own.room),
    )


def _rows(there: tuple[Any, ...], new: tuple[Any, ...], own: MeasuredIn, kind: str) -> Any:
    """Return the lines of a list with what was measured of them again."""
    lines = []
    known = {line.id: line for line in (*new, *there)}
    for _, line in sorted(known.items()):
        again: dict[str, Any] = {}
        for column in ("gap_mm", "x_mm", "height_mm", "y_mm"):
            figure = own.figures.get(f"{_LINE}{kind}.{line.id}.{column}")
            if figure is not None:
                again |= {column: float(figure.value), "taken_on": figure.taken_on}
        if again and kind == "place":
            read = own.figures[f"{_LINE}place.{line.id}.gap_mm"]
            again |= {"measured_in": "", "provenance": read.provenance}
        lines.append(replace(line, **again) if again else line)
    return tuple(lines)


def _weighed(key: str, there: Figure | None, here: Figure) -> Figure:
    """Return one figure of two readings, each by the inverse square of its ±."""
    if there is None or there.provenance.unproved or here.provenance.unproved:
        return here
    if isinstance(there.value, str) or isinstance(here.value, str):
        return here
    off, doubt = _worth(key, there), _worth(key, here)
    if not off or not doubt:
        return here
    share = off**2 / (off**2 + doubt**2)
    value = there.value + share * (here.value - there.value)
    return replace(here, value=value, plus_minus=off * doubt / math.hypot(off, doubt))


def _worth(key: str, figure: Figure) -> float:
    return worth(key, plus_minus=figure.plus_minus, readings=figure.readings)


def _disagreements(there: Sheet, own: MeasuredIn) -> Iterable[str]:
    """Yield where a reading in this set-up and what follows from another do not go together."""
    for key, here in own.figures.items():
        known, elsewhere = FIELD_BY_KEY.get(key), there.figures.get(key)
        if known is None or elsewhere is None or elsewhere.provenance.unproved:
            continue
        if isinstance(here.value, str) or isinstance(elsewhere.value, str):
            continue
        tells = math.hypot(_worth(key, here), _worth(key, elsewhere))
        if tells and abs(here.value - elsewhere.value) > tells:
            yield (
                f"{known.label}: {Amount(here.value, known.unit)} measured on "
                f"{here.taken_on:%d %b %Y}, but {Amount(elsewhere.value, known.unit):.1f} follows "
                f"from “{elsewhere.measured_in}”, measured on {elsewhere.taken_on:%d %b %Y}. "
                "Measure it again."
            )
