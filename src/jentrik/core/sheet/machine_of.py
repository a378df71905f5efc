"""The machine of a sheet: its figures as measured, straight into parts."""

import threading
from dataclasses import replace

from jentrik.core.machine.building import bike_of
from jentrik.core.machine.machine import Bike
from jentrik.core.sheet.sheet import Sheet


class _Last(threading.local):
    """The sheet this thread read last, and its machine: a request asks for it several times."""

    sheet: Sheet | None = None
    bike: Bike | None = None


_last = _Last()


def machine_of(sheet: Sheet) -> Bike:
    """Return the machine of a sheet; refuses one with figures no machine has."""
    if _last.sheet is not sheet or _last.bike is None:
        unproved = {key for key, figure in sheet.figures.items() if figure.provenance.unproved}
        bike = replace(bike_of(sheet.bike_values()), assumed=frozenset(unproved))
        _last.bike, _last.sheet = bike, sheet
    return _last.bike
