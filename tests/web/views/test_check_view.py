"""Station Check's tables and words, by hand on the demo machines."""

import math
import re
from dataclasses import replace
from datetime import date
from typing import Any

import pytest

from jentrik.core.amounts import in_plain
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.rules.case import Severity
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.plan_document import read_bike, read_proposal
from jentrik.store import jobs, machines
from jentrik.web.pages.jobs.check import waiting_for
from jentrik.web.pages.jobs.instruments import InstrumentsView, Table, instruments_view
from jentrik.web.pages.jobs.parking import stands_view
from jentrik.web.shop import Shop
from tests.documents import MOTORCYCLE


def judged(
    job_id: int, name: str = "A", **changes: Any
) -> tuple[PlanResult, Outcome, KeptProposal]:
    job = jobs.job(job_id)
    kept = next(proposal for proposal in job.proposals if proposal.name == name)
    found = as_measured(machine_of(machines.sheet(job.machine_id)), on=date(2026, 11, 23))
    values = {**kept.values(), **changes}
    return found, outcome_of(found, read_proposal(values)), kept


def sheet_of(job_id: int) -> Sheet:
    return machines.sheet(jobs.job(job_id).machine_id)


def table(view: InstrumentsView, caption: str) -> Table:
    return next(one for one in view.tables if one.caption.startswith(caption))


def test_engine_speed_in_every_gear_and_none_beyond_what_the_engine_turns(shop: Shop) -> None:
    found, outcome, _ = judged(6)  # primary 1.78, gears from 2.6, 39 over 17, at most 8200
    result = table(instruments_view(found, outcome), "Engine speed")
    overall = 1.78 * 2.6 * 39 / 17
    assert result.rows[0][1] == f"{overall:.2f}"
    # As found 4.00-18: 457 + 2 x 101.6 = 660.2 mm; at 50 km/h in first.
    rpm = 50 / 3.6 * 60 / (math.pi * 0.6602) * overall
    assert result.rows[0][2].startswith(f"{rpm:.0f} →")
    assert result.rows[0][4] == "–"  # 130 km/h in first is beyond the engine


def test_a_wheel_that_stays_has_no_gear_table_and_a_ring_that_stays_no_choices(shop: Shop) -> None:
    found, outcome, _ = judged(10)  # another front wheel only
    view = instruments_view(found, outcome)
    assert [one.caption for one in view.tables] == ["Tone rings, front and rear together"]
    front = [row[0] for row in table(view, "Tone rings").rows]
    # 633 of 695 mm: 43 to 47 leave 43 x 695 / (47 x 633) = 1.0045, 44 to 48 1.0064; as it is last.
    assert (front[:2], front[-1]) == (["43", "44"], "48")


def test_a_bicycles_development_and_setting(shop: Shop) -> None:
    found, outcome, _ = judged(1)
    view = instruments_view(found, outcome)
    first = table(view, "Development, 48-tooth").rows[0]
    # 48 over 11 on 696 and on 678 mm.
    assert first == ["11", f"{math.pi * 0.696 * 48 / 11:.2f}", f"{math.pi * 0.678 * 48 / 11:.2f}"]
    said = in_plain(" ".join(view.says))
    assert f"{math.pi * 678:.0f} mm from the new tire's size" in said
    assert f"{2155 * 678 / 696:.0f} mm from the roll-out" in said


def test_rungs_stop_at_the_speed_the_machine_is_ridden_at(shop: Shop) -> None:
    found, outcome, _ = judged(7)  # the scooter, 80 km/h
    drawn = in_plain(str(instruments_view(found, outcome).rungs))
    assert "true 80 km/h shows" in drawn
    assert "true 100" not in drawn


def test_the_stand_says_what_brings_the_old_lean_back(shop: Shop) -> None:
    found, outcome, _ = judged(7)  # bigger wheels lift the scooter: it leans further
    view = stands_view(found, outcome, sheet_of(7))
    leans = {row.label: (row.found, row.planned) for row in view.rows}
    assert leans["Lean on the side stand"][0] == "10.0"
    (puck,) = re.findall(r"(\d+) mm of puck", in_plain(" ".join(view.says)))
    # Thin tire: the foot hangs h cos w - b sin w above the ground at the old lean.
    out, up = 190 * math.cos(math.radians(10)), 0.0
    up = out * math.tan(math.radians(float(outcome.figures.parked.lean_deg)))
    above = up * math.cos(math.radians(10)) - out * math.sin(math.radians(10))
    assert int(puck) == round(above)
    assert view.drawing is not None


def test_a_machine_without_stand_or_mass_says_what_would_tell(shop: Shop) -> None:
    found, outcome, _ = judged(1)
    assert stands_view(found, outcome, sheet_of(1)).rows == []
    bike = as_measured(read_bike(MOTORCYCLE["bike"]))
    lower = outcome_of(bike, read_proposal({"name": "A", "rear": {"overall_diameter_mm": 620}}))
    view = stands_view(bike, lower, sheet_of(1))
    assert any("center of mass" in one for one in view.says)
    assert not any("tips" in row.label for row in view.rows)


def test_slopes_from_an_assumed_mass_are_shown_as_estimates(shop: Shop) -> None:
    mass = {"kg": 180, "center_x_mm": 700, "center_height_mm": 540}
    bike = as_measured(read_bike({**MOTORCYCLE["bike"], "mass": mass}))
    lower = outcome_of(bike, read_proposal({"name": "A", "rear": {"overall_diameter_mm": 620}}))
    for provenance, marked in ((Provenance.ASSUMED, True), (Provenance.MEASURED, False)):
        figures = {"mass.center_height_mm": Figure(540.0, provenance, date(2026, 11, 23))}
        view = stands_view(bike, lower, replace(sheet_of(1), figures=figures))
        tips = next(row.label for row in view.rows if "tips away" in row.label)
        assert ("estimate" in tips) == marked
        assert any("assumed" in one for one in view.says) == marked


def test_what_waits_names_the_proposals_own_figures(shop: Shop) -> None:
    job = jobs.job(10)
    _, outcome, kept = judged(10)
    waiting = waiting_for(machines.sheet(10), kept, outcome)
    keys = {key for one in waiting for key in one.keys}
    assert "planned.front.hub.axle_mm" in keys  # another wheel, and the old hub is known
    assert not any(key.startswith("planned.rear.hub") for key in keys)  # the rear stays
    assert all(one.label and one.rules for one in waiting)
    assert job.proposals[0].name == "A"


@pytest.mark.parametrize("job_id", range(1, 12))
def test_what_a_mechanic_would_raise_stands_in_the_order_of_what_hurts(
    shop: Shop, job_id: int
) -> None:
    for kept in jobs.job(job_id).proposals:
        _, outcome, _ = judged(job_id, kept.name)
        order = [Severity.STOP, Severity.CAUTION, Severity.NOTE]
        weights = [order.index(finding.severity) for finding in outcome.findings]
        assert weights == sorted(weights)
        result = [(finding.rule, finding.where, finding.headline) for finding in outcome.findings]
        assert len(result) == len(set(result))  # nothing twice
        for finding in outcome.findings:
            assert finding.source
            assert finding.message.endswith((".", "?"))
            assert not re.search(r"\bfits\b|\blegal\b|\bNone\b|nan", finding.message)


@pytest.mark.parametrize(
    ("job_id", "name", "rules"),
    [
        (1, "A", {"rim-brake-reach", "clearance-below-minimum", "computer-setting"}),
        (5, "A", {"rim-name-unclear"}),
        (6, "A", {"age-over-policy"}),
        (6, "B", {"size-not-in-sheet", "tube-type-mismatch"}),
        (
            7,
            "A",
            {
                "clearance-below-minimum",
                "side-stand-lean",
                "speedometer-under-reads",
                "gearing-shift",
            },
        ),
        (9, "A", {"rotor-mount-differs", "position-to-turn"}),
        (9, "B", set()),
        (10, "A", {"sensor-carry-over", "side-stand-lean", "wheel-speed-ratio", "trail-shift"}),
        (11, "A", {"load-index-below-spec", "axle-differs", "sensor-not-read"}),
    ],
)
def test_each_demo_job_raises_what_it_is_there_for(
    shop: Shop, job_id: int, name: str, rules: set[Any]
) -> None:
    _, outcome, _ = judged(job_id, name)
    raised = {finding.rule for finding in outcome.findings if finding.severity is not Severity.NOTE}
    notes = {finding.rule for finding in outcome.findings}
    assert rules <= raised | notes
    if not rules:
        assert raised == set()
