"""What is written of a thing of the shelf besides its fields."""

import json

from pydantic import Field

from jentrik.core.errors import OutOfRange
from jentrik.core.work.inspection import Inspection, Look
from jentrik.exchange.photo import read_photo
from jentrik.store import jobs, shelf, wheels
from jentrik.store.photo_files import keep_photo
from jentrik.web.live.command import Command
from jentrik.web.shop import Shop


class LookedOver(Command):
    """What a look over a tire found."""

    signs: list[str] = Field(examples=[["moulding whiskers"]])

    def carry_out(self, shop: Shop, tire_id: int) -> None:
        """Write it; refuses signs that cannot go together."""
        signs = tuple(self.signs)
        with shop.step("looked over", f"{shelf.SUBJECT} tire {tire_id} look") as step:
            known = shelf.known_tire(tire_id)
            step.label = f"{known.code} looked over"
            Inspection("front", Look.RECEIVING, shop.today, known.code, signs=signs)  # refuses
            shelf.set_tire(step, tire_id, signs=json.dumps(signs))


class Reserved(Command):
    """The job a tire or a wheel is reserved for; without one it is free."""

    job: int | None = None
    pieces: int | None = Field(default=None, description="Of a line with several, how many")

    def of_tire(self, shop: Shop, tire_id: int) -> int:
        """Reserve pieces of a line, or set them free, and return the line they are."""
        with shop.step("reserved", f"{shelf.SUBJECT} tire {tire_id} reserve") as step:
            known, job_id = shelf.known_tire(tire_id), self._open_job()
            tag = "" if job_id is None else f" for tag {jobs.job(job_id).tag}"
            step.label = f"{known.code} {'reserved' if tag else 'free'}{tag}"
            pieces = known.pieces if self.pieces is None else self.pieces
            return shelf.reserve(step, tire_id, job_id, pieces=pieces)

    def of_wheel(self, shop: Shop, wheel_id: int) -> None:
        """Reserve a wheel, or set it free."""
        with shop.step("reserved", f"{shelf.SUBJECT} wheel {wheel_id} reserve") as step:
            known, job_id = wheels.wheel(wheel_id), self._open_job()
            shelf.refuse_taken(known.job_id, job_id)
            step.label = f"{known.name} {'reserved' if job_id else 'free'}"
            wheels.set_wheel(step, wheel_id, job=job_id)

    def _open_job(self) -> int | None:
        if self.job is not None and jobs.job(self.job).closed_at is not None:
            raise OutOfRange("That job is closed.", field="job", expected="an open job")
        return self.job


def photograph_tire(shop: Shop, tire_id: int, raw: bytes) -> None:
    """Keep a photograph of a tire, written anew without what the camera noted in it."""
    name = keep_photo(shop.folder, read_photo(raw))
    with shop.step("photograph", f"{shelf.SUBJECT} tire {tire_id} photo") as step:
        shelf.set_tire(step, tire_id, photo=name)


def photograph_wheel(shop: Shop, wheel_id: int, raw: bytes) -> None:
    """Keep a photograph of a wheel."""
    name = keep_photo(shop.folder, read_photo(raw))
    with shop.step("photograph", f"{shelf.SUBJECT} wheel {wheel_id} photo") as step:
        wheels.set_wheel(step, wheel_id, photo=name)
