"""A tire onto the shelf as its sidewall reads, with its date where one stands, and off again."""

from jentrik.core.errors import CodeError
from jentrik.core.shop.shelf import ShelfTire
from jentrik.core.tirecode.sidewall import read_sidewall
from jentrik.store import shelf
from jentrik.web.shop import Shop


def put_on_shelf(shop: Shop, text: str) -> int:
    """Put the tire whose sidewall this is on the shelf, with its date, and return its id."""
    sidewall = read_sidewall(text, on=shop.today)
    if sidewall.code is None:
        raise CodeError(
            "No size stands here, and a size names the tire: add it, like 37-622.",
            position=0,
            expected="a tire size",
        )
    made = sidewall.made
    with shop.step(f"{sidewall.code} onto the shelf", f"{shelf.SUBJECT} add") as step:
        return shelf.add_tire(
            step,
            sidewall.code,
            week=made.week if made else None,
            year=made.year if made else None,
            on=shop.today,
        )


def take_off_shelf(shop: Shop, tire_id: int | None) -> ShelfTire | None:
    """Take a tire off the shelf and return it; None where it is gone already."""
    with shop.step("", f"{shelf.SUBJECT} drop") as step:
        tire = shelf.tire(tire_id)
        if tire is not None:
            step.label = f"{tire.code} off the shelf"
            shelf.drop_tire(step, tire.id)
    return tire
