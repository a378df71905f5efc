"""Proposals that lead to what a machine had on before, or to wheels that are there."""

from collections.abc import Mapping
from typing import Any

from jentrik.core.errors import StoreError
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet
from jentrik.core.machine.setup import Setup
from jentrik.core.plan.proposed_setup import changes_to
from jentrik.store import jobs, machines, wheels
from jentrik.store.journal import Step
from jentrik.store.sheets import sheet_in


def propose_setup(step: Step, job_id: int, machine_id: int, setup: Setup) -> str:
    """Add a proposal that leads to a whole set-up within a step, and return its name."""
    sheet = machines.sheet(machine_id)
    assert sheet.setup is not None
    changes = changes_to(sheet.setup.parts, setup.parts, turned_deg=sheet.turned_deg)
    then = sheet_in(machine_id, setup.id)
    gaps = {
        clearance.name: clearance.gap_mm
        for clearance in then.clearances
        if clearance.provenance is Provenance.MEASURED and not clearance.measured_in
    }
    takes = {"setup": setup.id, "changes": changes, "gaps_mm": gaps}
    return jobs.add_proposal(step, job_id, changes, name=_free(job_id, setup.name), takes=takes)


def propose_set(step: Step, job_id: int, machine_id: int, known: WheelSet) -> str:
    """Add a proposal that puts a wheel set on within a step, and return its name."""
    there = {end: wheels.wheel(number) for end in ENDS if (number := known.wheel(end)) is not None}
    return propose_wheels(step, job_id, machine_id, there, known)


def propose_wheels(
    step: Step, job_id: int, machine_id: int, there: Mapping[End, KeptWheel], known: WheelSet | None
) -> str:
    """Add a proposal that puts wheels on within a step; refuses wheels of another machine."""
    sheet = machines.sheet(machine_id)
    assert sheet.setup is not None
    on = {one.id for one in wheels.wheels_of(sheet) if one.kept == "machine"}
    takes: dict[str, Any] = {}
    for end, wheel in there.items():
        if wheel.id in on:
            continue
        if wheel.kept == "machine":
            raise StoreError(
                f"“{wheel.name}” is on another machine.", expected="a wheel that is off"
            )
        takes[end] = wheel.id
    if not takes:
        raise StoreError(
            "These wheels are on the machine already.", field="set", expected="the other wheels"
        )
    parts = wheels.with_wheels(sheet.setup.parts, machine_id, takes, on=sheet.setup.since)
    changes = changes_to(sheet.setup.parts, parts, turned_deg=sheet.turned_deg)
    takes["changes"] = changes
    name = _free(job_id, known.name) if known else None
    return jobs.add_proposal(step, job_id, changes, name=name, takes=takes)


def _free(job_id: int, name: str) -> str | None:
    """Return a name for a proposal where no other of the job has it."""
    return None if jobs.job(job_id).proposal(name) else name
