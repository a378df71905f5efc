"""What a stand-in reads for a step of a card: the very wheel and figure the step names."""

from collections.abc import Callable
from typing import Any

import pytest

from jentrik.core.errors import Refusal
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import Outcome, as_measured, outcome_of
from jentrik.core.work.template import steps_of
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import cards, gauges, jobs, machines
from jentrik.web.parts.gauging import step_reading
from jentrik.web.shop import Shop

JOB = 10  # the tall single: another front wheel, whose rim and ring were measured
RIM_MM, RING_MM = 0.8, 0.3  # as its proposal B says of the front


@pytest.fixture(name="read")
def _read(shop: Shop) -> tuple[Callable[..., Any], Outcome]:
    """Return a way to take the reading a step asks for, and the machine as planned."""
    calipers = gauges.gauge("calipers")
    calipers.zero_error = 0.0
    with shop.step("zeroed", "gauge calipers") as step:
        gauges.put_back(step, calipers)
    job = jobs.job(JOB)
    sheet = machines.sheet(job.machine_id)
    kept = next(proposal for proposal in job.proposals if proposal.name == "B")
    outcome = outcome_of(as_measured(machine_of(sheet)), read_proposal(kept.values()))

    def read(line: str, torque_nm: int | None = None, *, planned: bool = True) -> float:
        with shop.step("card", f"card {line}", job_id=JOB) as step:
            cards.make_card(
                step, JOB, proposal="B", template="t", steps=steps_of(line), at=shop.now()
            )
        (one,) = cards.card_of(JOB).steps
        taken = step_reading(shop, sheet, one, outcome if planned else None, torque_nm)
        assert taken.simulated
        return taken.value

    return read, outcome


@pytest.mark.parametrize(
    ("line", "true", "off"),
    [
        ("Wheel spins free and true | reading: rim runout, mm", RIM_MM, 0.24),
        ("Front wheel spins free and true | reading: rim runout, mm", RIM_MM, 0.24),
        ("Sensor gap and ring runout | reading: ring runout, mm", RING_MM, 0.24),
        ("Caliper on | torque: caliper bolts", 40, 2.5),
    ],
)
def test_a_step_reads_the_wheel_it_names_or_else_the_changed_one(
    read: tuple[Callable[..., Any], Outcome], line: str, true: float, off: float
) -> None:
    assert read[0](line, torque_nm=40) == pytest.approx(true, abs=off)


def test_lean_and_gap_come_from_the_plan(read: tuple[Callable[..., Any], Outcome]) -> None:
    taken, outcome = read
    lean = taken("Stand looked at | reading: lean, °")
    assert lean == pytest.approx(outcome.figures.stand_lean_deg, abs=0.5)
    spot = next(
        clearance
        for clearance in outcome.figures.clearances
        if clearance.place.name == "Swingarm front"
    )
    gap = taken(
        "Swingarm front, rear: measure it | reading: gap, mm | measures: place:Swingarm front"
    )
    assert gap == pytest.approx(float(spot.predicted_gap_mm), abs=1)


@pytest.mark.parametrize(
    ("line", "planned", "said"),
    [
        ("Cold pressure set, front | reading: cold pressure, kPa", True, "nothing to measure"),
        ("Rear wheel spins free | reading: rim runout, mm", True, "nothing to measure"),
        ("Wheel spins free | reading: rim runout, mm", False, "nothing to measure"),
        ("Spacers noted | reading: spacers left and right, words", True, "No tool of this shop"),
        ("Caliper on | torque: caliper bolts", True, "maker's torque first"),
    ],
)
def test_what_no_tool_can_read_is_said_and_never_made_up(
    read: tuple[Callable[..., Any], Outcome], line: str, planned: bool, said: str
) -> None:
    with pytest.raises(Refusal, match=said):
        read[0](line, planned=planned)
