"""A tire onto the shelf: as its sidewall reads, or as it came off a machine; and off again."""

import json
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from jentrik.core.errors import CodeError, blamed_on
from jentrik.core.tire.dates import date_of
from jentrik.core.tire.sidewall import read_sidewall
from jentrik.core.work.shelf import ShelfTire
from jentrik.store import logbook, machines, shelf
from jentrik.store.machine_data import tire_that_came_off
from jentrik.web.pages.things.fields import TIRE_FIELDS
from jentrik.web.shop import Shop


def put_on_shelf(shop: Shop, text: str, received: Mapping[str, str] = MappingProxyType({})) -> int:
    """Put the tire whose sidewall this is on the shelf, with its date, and return its id.

    `received` are texts of other fields of a tire; refuses one it cannot hold, by its name.
    """
    sidewall = read_sidewall(text, on=shop.today)
    if sidewall.code is None:
        raise CodeError(
            "No size stands here, and a size names the tire: add it, like 37-622.",
            position=0,
            expected="a tire size",
        )
    made = sidewall.made
    known: dict[str, Any] = {}
    for field in TIRE_FIELDS:
        typed = received.get(field.name, "").strip()
        if typed and field.read is not None:
            with blamed_on(field.name):
                known |= field.read(shop.units.in_kept(typed, field.unit))
    with shop.step(f"{sidewall.code} onto the shelf", f"{shelf.SUBJECT} add") as step:
        dated = {"week": made.week, "year": made.year} if made else {}
        return shelf.add_tire(step, sidewall.code, on=shop.today, **dated, **known)


def put_back(shop: Shop, machine_id: int, number: int) -> int:
    """Put a tire that came off a machine on the shelf as it was last seen; return its id there."""
    subject = f"{shelf.SUBJECT} back"
    with shop.step("", subject, machine_id=machine_id) as step:
        off = tire_that_came_off(machine_id, number)
        step.label = f"{off.code} onto the shelf"
        look, ran = logbook.last_look(number), logbook.log(machine_id).run_km(machine_id, number)
        made = date_of(off.made or (look.made if look and look.made else ""))
        return shelf.add_tire(
            step,
            off.code,
            on=shop.today,
            week=made.week if made else None,
            year=made.year if made else None,
            make=off.make,
            whose=machines.sheet(machine_id).owner,
            price="" if off.price is None else f"{off.price:.2f}",
            tread_mm=look.least_tread_mm if look else None,
            signs=json.dumps(look.signs if look else ()),
            km=round(ran[0]) if ran else None,
            tire_id=number,
        )


def take_off_shelf(shop: Shop, tire_id: int | None) -> ShelfTire | None:
    """Take a tire off the shelf and return it; None where it is gone already."""
    with shop.step("", f"{shelf.SUBJECT} drop") as step:
        tire = shelf.tire(tire_id)
        if tire is not None:
            step.label = f"{tire.code} off the shelf"
            shelf.drop_tire(step, tire.id)
    return tire
