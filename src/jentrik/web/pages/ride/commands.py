"""What is written at station Ride: set-ups, rides on them, and what follows."""

from textwrap import shorten
from typing import Literal

from pydantic import Field

from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.ride import FORM, GROUND, SETUP_FIELDS, WEATHER, Ride
from jentrik.store import jobs, look_again, rides, setups
from jentrik.store.proposing import propose_setup
from jentrik.web.live.command import Command, Day, Name, Note, Words
from jentrik.web.live.typed_values import checked_name, noted, words
from jentrik.web.pages.jobs.proposing_from import job_to_go_on_with
from jentrik.web.shop import Shop


class RideSetup(Command):
    """A set-up under which rides are kept: what of the machine was set otherwise."""

    name: Name = Field(examples=["Softer front"])
    parts: dict[str, str | float] = Field(
        default_factory=dict, examples=[{"front.fitted.pressure_kpa": 220}]
    )

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Keep the set-up."""
        machine_id, name = jobs.job(job_id).machine_id, checked_name(self.name)
        parts: dict[str, str | float] = {}
        for known in SETUP_FIELDS:
            said = self.parts.get(known.key, "")
            if isinstance(said, float | int):
                parts[known.key] = float(said)
            elif (typed := " ".join(said.split())) and known.unit:
                parts[known.key] = shop.figure(typed, unit=known.unit)
            elif typed:
                if known.key.endswith(".tire"):
                    known_code(typed)
                parts[known.key] = words(typed)
        with shop.step(
            f"setup “{name}”", f"machine {machine_id} setup", machine_id=machine_id
        ) as step:
            rides.set_up(step, machine_id, name, parts, on=shop.today, job_id=job_id)


class NewRide(Command):
    """A ride on one set-up of the machine."""

    setup: int
    weather: str = Field(json_schema_extra={"enum": list(WEATHER)})
    ground: str = Field(json_schema_extra={"enum": list(GROUND)})
    form: str = Field(json_schema_extra={"enum": list(FORM)})
    on: Day | None = None
    rider: Words = ""
    trail: Words = ""
    score: dict[str, int] = Field(default_factory=dict, examples=[{"stability": 4}])
    note: Note = ""

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Keep the ride."""
        machine_id = jobs.job(job_id).machine_id
        ride = Ride(
            id=0,
            setup_id=self.setup,
            on=self.on or shop.today,
            weather=self.weather,
            ground=self.ground,
            form=self.form,
            rider=words(" ".join(self.rider.split())),
            trail=words(" ".join(self.trail.split())),
            scores=self.score,
            note=noted(self.note),
            by=shop.who,
            job_id=job_id,
        )
        with shop.step("ride", f"machine {machine_id} ride", machine_id=machine_id) as step:
            rides.add_ride(step, machine_id, ride, today=shop.today)
            look_again.bring_forward(step, machine_id, shop.today)


class Outcome(Command):
    """What follows from the rides."""

    outcome: Literal["keep", "adjust", "go back"]
    setup: int | None = Field(default=None, description="The set-up to go back to")

    def carry_out(self, shop: Shop, job_id: int) -> tuple[int, str] | None:
        """Keep it as it is, or propose and return the job and the proposal it goes on with.

        What was fitted stays as it was: it goes on in another job, where this one was fitted.
        """
        machine_id = jobs.job(job_id).machine_id
        with shop.step(
            f"after the rides: {self.outcome}", f"job {job_id} outcome", machine_id=machine_id
        ) as step:
            job = jobs.job(job_id)
            if self.outcome == "keep":
                if not job.sealed:
                    jobs.want(step, job_id, f"{shorten(job.wanted, 60, placeholder='…')} (kept)")
                return None
            back = self.outcome == "go back"
            goes_on = job_to_go_on_with(
                step, shop, job, wanted="Back to how it was" if back else "Adjust after the rides"
            )
            if back:
                setup = setups.setup(machine_id, self.setup)
                return goes_on, propose_setup(step, goes_on, machine_id, setup)
            return goes_on, jobs.add_proposal(step, goes_on, {})
