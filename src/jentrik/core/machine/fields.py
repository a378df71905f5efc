"""Which figures a machine's sheet can hold: those the parts of a machine declare with a label.

Forms, storage and undo follow from them.
"""

from jentrik.core.machine.build import BRAKES, DRIVES
from jentrik.core.machine.catalogue import KNOWN
from jentrik.core.machine.declared import About, Kind
from jentrik.core.machine.sheet import Sheet

STRAIGHT_FORK = "fork.axle_to_crown_mm"  # another way to say the fork's length
INSTRUMENT_SET = "set.instrument_mm"
FIELD_BY_KEY = {key: about for key, about in KNOWN.items() if about.label}
FIELDS = tuple(FIELD_BY_KEY.values())


_BY_KIND: dict[str, dict[Kind, tuple[str, ...]]] = {
    "front.brake": BRAKES,
    "rear.brake": BRAKES,
    "drive": DRIVES,
    "class": {"bicycle": ("pedelec", "pedelec-45"), "motorcycle": ("moped", "motorcycle")},
}


def choices_of(field: About, kind: Kind) -> tuple[str, ...]:
    """Return the words a figure of a sheet is chosen from on a kind of machine."""
    return _BY_KIND[field.key][kind] if field.key in _BY_KIND else field.choices


def fields_of(kind: Kind) -> tuple[About, ...]:
    """Return the figures a sheet of that kind can hold, in the order of the work."""
    return tuple(field for field in FIELDS if kind in field.kinds)


def missing_of(sheet: Sheet) -> tuple[About, ...]:
    """Return the needed figures the sheet lacks."""
    return tuple(
        field for field in fields_of(sheet.kind) if field.needed and field.key not in sheet.figures
    )
