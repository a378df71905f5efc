"""The demo workshop: eleven machines whose measurements agree with each other."""

import math

import pytest
from fastapi.testclient import TestClient

from jentrik.core.geometry.frame import crown_seat
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.demo.harbour import fill
from jentrik.exchange.plan_document import read_proposal
from jentrik.store import jobs, machines
from jentrik.store.listing import Wanted, jobs_listed
from jentrik.store.records import binned
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.shop import Shop


def test_there_are_eleven_and_a_second_filling_adds_none(shop: Shop) -> None:
    assert len(machines.sheets()) == 11
    assert fill(shop.database, shop.folder, now=shop.now()) == 0


def test_its_jobs_stand_in_every_state(shop: Shop, client: TestClient) -> None:
    refresh(shop)
    rows = jobs_listed(Wanted()).rows
    reached = {row.tag: (row.station, row.so_far) for row in rows}
    assert reached[28] == ("propose", "")
    (came_in,) = [row.id for row in rows if row.tag == 28]
    assert "nothing to buy" in client.get(f"/jobs/{came_in}/order").text
    assert client.get(f"/jobs/{came_in}?station=check").text.count("no proposal yet") == 2
    assert reached[17] == ("check", "")
    assert reached[21] == ("fit", "5 of 33")
    assert reached[29] == ("ride", "first ride")
    assert {line.tag for line in jobs_listed(Wanted(state="done")).rows} == {
        9,
        10,
        11,
        12,
        14,
        15,
        16,
    }
    assert ["Ferry folder" in one.name for one in binned()] == [True]


def test_every_proposal_of_the_demo_can_stand_and_changes_something(shop: Shop) -> None:
    for job in jobs.jobs():
        found = as_measured(machine_of(machines.sheet(job.machine_id)))
        for kept in job.proposals:
            outcome = outcome_of(found, read_proposal(kept.values()))
            assert outcome.figures.geometry.trail_mm != found.figures.geometry.trail_mm


def test_stack_and_reach_lie_on_the_steering_axis(shop: Shop) -> None:
    # Rounded to the millimetre, the head tube's top must lie on the axis through the crown seat.
    measured = 0
    for sheet in machines.sheets():
        bike = machine_of(sheet)
        if bike.frame.stack_mm is None or bike.frame.reach_mm is None:
            continue
        chassis = bike.chassis()
        x, y = crown_seat(
            front_axle=(bike.frame.wheelbase_mm, chassis.axles.front_radius_mm),
            head_angle_deg=bike.frame.head_angle_deg,
            length_mm=bike.fork.length_mm,
            offset_mm=bike.fork.offset_mm,
        )
        top_x = chassis.bottom_bracket[0] + bike.frame.reach_mm
        top_y = chassis.bottom_bracket[1] + bike.frame.stack_mm
        head = math.radians(bike.frame.head_angle_deg)
        off_axis = (top_x - x) * math.sin(head) + (top_y - y) * math.cos(head)
        assert off_axis == pytest.approx(0, abs=1.5), sheet.name
        measured += 1
    assert measured == 5


def test_trails_are_those_of_machines_people_ride(shop: Shop) -> None:
    for sheet in machines.sheets():
        trail = as_measured(machine_of(sheet)).figures.geometry.trail_mm
        assert 30 < trail < 160, sheet.name
