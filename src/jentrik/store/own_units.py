"""The units each person sees figures in, where they are not the shop's."""

from jentrik.core.work.display_units import CHOICES, DisplayUnits
from jentrik.store import journal, models
from jentrik.store.policy import stored_policy
from jentrik.store.rows import first_row, rows


def units_for(who: str) -> DisplayUnits:
    """Return the units someone sees figures in: their own, else the shop's."""
    return stored_policy().units.having(own_units(who))


def own_units(who: str) -> dict[str, str]:
    """Return the units someone chose, by quantity."""
    if not who:
        return {}
    chosen = rows("SELECT quantity, unit FROM own_unit WHERE person = ?", who.casefold())
    return {row["quantity"]: row["unit"] for row in chosen}


def choose_unit(step: journal.Step, who: str, quantity: str, unit: str) -> None:
    """Write a person's unit of one quantity; "" takes the shop's again.

    What is no quantity or none of its units changes nothing.
    """
    if quantity not in CHOICES or (unit and unit not in list(CHOICES[quantity])):
        return
    known = first_row(
        "SELECT id, unit FROM own_unit WHERE person = ? AND quantity = ?", who.casefold(), quantity
    )
    if known is None and unit:
        step.insert(models.OwnUnitTable, person=who.casefold(), quantity=quantity, unit=unit)
    elif known is not None and not unit:
        step.delete(models.OwnUnitTable, known["id"])
    elif known is not None and known["unit"] != unit:
        step.update(models.OwnUnitTable, known["id"], unit=unit)
