"""Into the bin, and out of it."""

from typing import Literal

from jentrik.core.errors import StoreError
from jentrik.store import jobs, machines, records
from jentrik.web.live.command import Command
from jentrik.web.shop import Shop


def bin_machine(shop: Shop, machine_id: int) -> None:
    """Put a machine in the bin; one on the bench stays."""
    with shop.step("", f"bin machine {machine_id}") as step:
        step.label = f"{machines.sheet(machine_id).name} into the bin"
        records.bin_machine(step, machine_id, at=shop.now())


def bin_job(shop: Shop, job_id: int) -> None:
    """Put a job in the bin."""
    with shop.step("", f"bin job {job_id}") as step:
        step.label = f"tag {jobs.job(job_id).tag} into the bin"
        records.bin_job(step, job_id, at=shop.now())


class Restored(Command):
    """What comes back out of the bin."""

    kind: Literal["machine", "job"]
    id: int

    def carry_out(self, shop: Shop) -> None:
        """Bring one thing back; refuses what does not lie there."""
        back = records.bin_machine if self.kind == "machine" else records.bin_job
        there = {(one.kind, one.id): one for one in records.binned()}
        if (self.kind, self.id) not in there:
            raise StoreError("That does not lie in the bin.", expected="something in the bin")
        name = there[self.kind, self.id].name
        with shop.step(f"{name} out of the bin", f"restore {self.kind} {self.id}") as step:
            back(step, self.id, at=None)
