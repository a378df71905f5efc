"""Which figures a machine's sheet can hold: key, words, unit, for which kind, what it unlocks.

Forms, storage and undo follow from these lines.
"""

from jentrik.core.machine.machine import Kind
from jentrik.core.sheet.chassis_fields import CHASSIS
from jentrik.core.sheet.field import SheetField
from jentrik.core.sheet.maker_fields import MAKER, SPEC
from jentrik.core.sheet.sheet import Sheet
from jentrik.core.sheet.use_fields import INSTRUMENTS, USE
from jentrik.core.sheet.wheel_fields import DRIVEN, HUB, WHEEL, at

FIELDS: tuple[SheetField, ...] = (
    *at("front", WHEEL),
    *at("rear", WHEEL),
    *at("front", HUB),
    *at("rear", HUB),
    *DRIVEN,
    *CHASSIS,
    *INSTRUMENTS,
    *USE,
    *MAKER,
    *at("front", SPEC),
    *at("rear", SPEC),
)

FIELD_BY_KEY = {field.key: field for field in FIELDS}


def fields_of(kind: Kind) -> tuple[SheetField, ...]:
    """Return the figures a sheet of that kind can hold, in the order of the work."""
    return tuple(field for field in FIELDS if kind in field.kinds)


def missing_of(sheet: Sheet) -> tuple[SheetField, ...]:
    """Return the needed figures the sheet lacks."""
    return tuple(
        field for field in fields_of(sheet.kind) if field.needed and field.key not in sheet.figures
    )
