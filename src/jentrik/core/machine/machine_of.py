"""The machine of a sheet: its figures as measured, straight into parts."""

from dataclasses import replace

from jentrik.core.machine.building import bike_of
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.sheet import Sheet
from jentrik.core.remembered import remembered


@remembered
def machine_of(sheet: Sheet) -> Bike:
    """Return the machine of a sheet; refuses one with figures no machine has."""
    unproved = {key for key, figure in sheet.figures.items() if figure.provenance.unproved}
    return replace(bike_of(sheet.bike_values()), assumed=frozenset(unproved))
