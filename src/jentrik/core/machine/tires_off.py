"""The tires that were on a machine and are not any more: each by its number, as it came off."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import date

from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.setup import Setup


@dataclass(frozen=True, slots=True)
class TireOff:
    """A tire that came off: its number, where it was, what was known of it, until which day."""

    number: int
    end: End
    code: str
    made: str
    make: str
    price: float | None
    until: date | None


def tires_off(setups: Iterable[Setup], elsewhere: Collection[int] = ()) -> list[TireOff]:
    """Return the tires that earlier set-ups had on and the last one has not, the newest first.

    `setups` come with the oldest first; `elsewhere` are numbers of tires that lie on the shelf or
    are on a wheel that is off.
    """
    found: dict[int, TireOff] = {}
    on: set[int] = set()
    for setup in setups:
        on = set()
        for end in ENDS:
            known = setup.parts.get(f"set.{end}.tire_id")
            if known is None:
                continue
            number, parts = int(float(known.value)), setup.parts
            on.add(number)
            price = parts.get(f"set.{end}.price")
            words = {
                key: str(parts[f"{end}.{key}"].value) if f"{end}.{key}" in parts else ""
                for key in ("tire", "fitted.made", "fitted.make")
            }
            found.pop(number, None)  # the last time it was on counts
            found[number] = TireOff(
                number,
                end,
                words["tire"],
                words["fitted.made"],
                words["fitted.make"],
                None if price is None else float(price.value),
                setup.until,
            )
    left = [one for one in found.values() if one.number not in on and one.number not in elsewhere]
    return list(reversed(left))
