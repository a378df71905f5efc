"""What is written after fitting: what was measured, and the fitting itself."""

from collections.abc import Mapping

from pydantic import Field

from jentrik.core.amounts import Amount
from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.plan.uncertainty import tells
from jentrik.core.work.after_fitting import Expectation, expectations
from jentrik.store import after_fitting, jobs
from jentrik.store.fitting import carried_out, fit_job, worked_out
from jentrik.web.live.command import Command
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.shop import Shop

FAR_OFF = 0.25  # of the predicted figure: beyond it a slip in typing


class Measured(Command):
    """What was measured after fitting, by key; null clears."""

    measured: dict[str, float | None] = Field(examples=[{"wheelbase_mm": 1048}])

    def carry_out(self, shop: Shop, job_id: int) -> None:
        """Save measurements after fitting, all of them or none."""
        asked = measured_after(shop, job_id, self.measured)
        for key, value in self.measured.items():
            try:
                check(asked[key], value)
            except Refusal as refusal:
                raise refusal.under(f"measured:{key}") from None
        save(shop, job_id, asked, self.measured)


def measured_after(shop: Shop, job_id: int, keys: Mapping[str, object]) -> dict[str, Expectation]:
    """Return what is measured after a job; refuses the key of anything else."""
    sheet, found, outcome = _carried_out(shop, job_id)
    asked = {
        expectation.key: expectation
        for expectation in expectations(found, outcome, tells(sheet, found, outcome.proposal))
    }
    asked |= {key: one.expected for key, one in after_fitting.measured_of(job_id).items()}
    for key in keys:
        if key not in asked:
            raise OutOfRange(
                f"“{key[:40]}” is not measured after this job.",
                field=f"measured:{key}"[:60],
                expected=f"one of {', '.join(asked)}" if asked else "nothing",
            )
    return asked


def check(one: Expectation, measured: float | None) -> None:
    """Refuse a figure far from the plan's: a slip in typing."""
    far = max(abs(one.predicted) * FAR_OFF, 20.0)
    if measured is not None and abs(measured - one.predicted) > far:
        raise OutOfRange(
            f"{Amount(measured, one.unit)} is far from the "
            f"{Amount(one.predicted, one.unit):.0f} of the plan: read it again.",
            expected=f"a figure near {one.predicted:.0f} {one.unit}",
        )


def save(
    shop: Shop, job_id: int, asked: Mapping[str, Expectation], values: Mapping[str, float | None]
) -> None:
    """Write what was measured; what was not known and is not said stays so."""
    with shop.step("measured after fitting", f"job {job_id} measured", job_id=job_id) as step:
        _carried_out(shop, job_id)
        kept = after_fitting.measured_of(job_id)
        for key, value in values.items():
            if value is not None or key in kept:
                after_fitting.set_measured(
                    step, job_id, asked[key], value, on=shop.today, by=shop.who
                )


def put_on_sheet(shop: Shop, job_id: int) -> None:
    """Let what was fitted follow what was found, and note the fitting in the logbook."""
    machine_id = jobs.job(job_id).machine_id
    with shop.step("fitted", f"job {job_id} fitted", machine_id=machine_id) as step:
        fit_job(step, on_bench(shop, job_id), at=shop.now(), by=shop.who)


def _carried_out(shop: Shop, job_id: int) -> tuple[Sheet, PlanResult, Outcome]:
    """Return the machine as found and the outcome of the proposal on the job's card."""
    there = on_bench(shop, job_id)
    found, outcome = worked_out(there, carried_out(there))
    return there.sheet, found, outcome
