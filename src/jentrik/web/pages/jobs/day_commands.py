"""What the day asks of a job: whose it is, when it is promised, whether its customer was rung."""

from typing import Literal

from pydantic import Field

from jentrik.core.days import read_day, read_time
from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.work.order_entries import OrderState, checked_entry
from jentrik.store import costs, jobs
from jentrik.store.list_rows import line_of_job
from jentrik.store.people import listed_name
from jentrik.web.live.command import Command, Words
from jentrik.web.pages.jobs.day import next_day_with_room
from jentrik.web.shop import Shop


class DayChanged(Command):
    """One thing of the day: taken over, given to a person, promised, rung."""

    act: Literal["take", "give", "promise", "next day with room", "rung", "not rung"]
    whose: Words = Field(default="", examples=["Ida Quay"])
    day: str = Field(default="", examples=["2026-12-03"])
    time: str = Field(default="", examples=["16:00"])

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Write it."""
        with shop.step(f"job: {self.act}", f"job {job_id} day", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            job = jobs.job(job_id)
            if self.act == "take":
                step.label = f"taken over by {shop.who}"
                jobs.give_to(step, job_id, self._me(shop))
            elif self.act == "give":
                jobs.give_to(step, job_id, listed_name(self.whose))
            elif self.act == "promise":
                day = read_day(self.day) if self.day.strip() else None
                jobs.set_due(step, job_id, day, read_time(self.time))
            elif self.act == "next day with room":
                hours = line_of_job(job_id).get("hours") or 1.0
                day = next_day_with_room(hours, job.whose, shop.today, shop.policy)
                if day is None:
                    raise StoreError("No day of the next weeks has room.", field="day")
                step.label = f"promised for {day:%d %b}"
                jobs.set_due(step, job_id, day, job.promised_time)
            else:
                jobs.note_rung(step, job_id, shop.now() if self.act == "rung" else None)

    def _me(self, shop: Shop) -> str:
        if not shop.who:
            raise OutOfRange(
                "Say who is at this screen: the job is taken in that name.",
                field="who",
                expected="who you are",
            )
        return shop.who


class PartArrived(Command):
    """A part that is here, and where it was put."""

    part: str = Field(examples=["front tire 47-584"])
    place: Words = Field(default="", examples=["hook 5"])

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Write that a part which was ordered is here."""
        place = checked_entry("place:x", self.place)
        with shop.step(f"arrived: {self.part}"[:120], f"job {job_id} order", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            known = costs.entries(job_id)
            if known.get(f"state:{self.part}") != OrderState.ORDERED:
                raise StoreError(
                    f"“{self.part[:60]}” is not ordered for this job.",
                    field="part",
                    expected="a part that is ordered",
                )
            costs.set_entry(step, job_id, f"state:{self.part}", OrderState.ARRIVED)
            costs.set_entry(step, job_id, f"since:{self.part}", shop.today.isoformat())
            costs.set_entry(step, job_id, f"place:{self.part}", place)
