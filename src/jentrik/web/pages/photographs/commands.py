"""Pictures that are measured on: kept, named on, taken away, and their figures onto the sheet."""

from collections.abc import Iterable
from typing import Literal

from pydantic import Field

from jentrik.core.errors import StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.measured import PhotoFigures
from jentrik.core.photo.together import merged
from jentrik.exchange.photo import read_to_measure
from jentrik.store import machines, photographs
from jentrik.store.journal import Step
from jentrik.store.photo_files import keep_photo
from jentrik.store.photographs import Photograph
from jentrik.web.live.command import Command, Name
from jentrik.web.pages.photographs.answers import PhotoAnswers
from jentrik.web.pages.photographs.view import on_sheet, sheet_key, understood
from jentrik.web.shop import Shop


def add_photograph(shop: Shop, machine_id: int, raw: bytes) -> int:
    """Keep a picture to measure on and return its number."""
    picture = read_to_measure(raw)
    name = keep_photo(shop.folder, picture.jpeg)
    with shop.step(
        "photograph to measure on", f"machine {machine_id} photographs", machine_id=machine_id
    ) as step:
        return photographs.add_photograph(
            step,
            machines.sheet(machine_id).id,
            file=name,
            size=picture.size,
            focal_px=picture.focal_px,
            at=shop.now(),
            by=shop.who,
        )


def drop_photograph(shop: Shop, machine_id: int, photograph_id: int) -> None:
    """Take a picture away; undo brings it back."""
    with shop.step(
        "photograph taken away", f"machine {machine_id} photographs", machine_id=machine_id
    ) as step:
        photographs.drop_photograph(step, photographs.photograph(machine_id, photograph_id).id)


class OwnMark(Command):
    """A point or line of the shop's own."""

    name: Name = Field(examples=["peg"])
    kind: Literal["point", "line"] = "point"

    def carry_out(self, shop: Shop, machine_id: int, photograph_id: int) -> None:
        """Add it to what can be marked."""
        with shop.step(
            "photograph: a mark named", f"machine {machine_id} photographs", machine_id=machine_id
        ) as step:
            answers = PhotoAnswers.of(machine_id, photograph_id)
            answers.add_named(self.kind, self.name)
            photographs.set_marks(step, photograph_id, answers.marks)


class OntoSheet(Command):
    """Figures that go onto the sheet: of one picture, or of all together by their weights."""

    figure: list[str] = Field(examples=[["wheelbase_mm", "bb_height_mm"]])
    photograph: int | None = None

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Write the figures, each as by photograph with its ±."""
        with shop.step(
            "figures by photograph", f"machine {machine_id} photographs", machine_id=machine_id
        ) as step:
            sheet, those = machines.sheet(machine_id), photographs.photographs(machine_id)
            if self.photograph is not None:
                those = [photographs.photograph(machine_id, self.photograph)]
            measured = merged(list(_measured(sheet, those)))
            written = (
                []
                if measured is None
                else [_write(step, shop, sheet, measured, name) for name in self.figure]
            )
            names = [key for key in written if key]
            if not names:
                raise StoreError(
                    "Choose figures that the pictures tell.", field="figure", expected="figures"
                )
            step.label = f"by photograph: {', '.join(names)}"[:200]


def _write(step: Step, shop: Shop, sheet: Sheet, measured: PhotoFigures, name: str) -> str:
    """Write one figure on a sheet and return its key; nothing where no picture tells it."""
    one = measured.figures.get(name)
    if one is None:
        return ""
    key = sheet_key(sheet, name)
    figure = Figure(
        on_sheet(key, one.value), Provenance.PHOTOGRAPH, shop.today, round(one.plus_minus, 1)
    )
    machines.set_figure(step, sheet.id, key, figure)
    return key


def _measured(sheet: Sheet, those: Iterable[Photograph]) -> Iterable[PhotoFigures]:
    for one in those:
        known = understood(sheet, one).measured
        if known is not None:
            yield known
