"""What the API answers of the shelf: tires, and where a thing can go."""

from pydantic import BaseModel

from jentrik.core.work.shelf import ShelfTire
from jentrik.web.api.answers.base import Figures, Listed, fields_of
from jentrik.web.pages.things.where import WhereRow


class TireOnShelf(fields_of(ShelfTire, "facts", "job_id", "tire_id")):  # type: ignore[misc]
    """A tire on the shelf, or so many that are alike."""

    price: str | None
    reserved_for: int | None
    facts: Figures


class ShelfList(Listed):
    """A page of the tires on the shelf."""

    tires: list[TireOnShelf]


class TiresAdded(BaseModel):
    """The lines that are on the shelf now."""

    tires: list[TireOnShelf]


class WhereMachine(fields_of(WhereRow)):  # type: ignore[misc]
    """A machine with what the rules say of a thing at each end."""


class Where(BaseModel):
    """A page of machines with what the rules say of a thing at each end."""

    machines: list[WhereMachine]
    more: bool
