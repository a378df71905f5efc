"""Lists a page at a time: found, sorted, and true of what was changed a moment ago."""

import re
from collections.abc import Callable
from typing import Any

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.tire.sidewall import known_code
from jentrik.store import jobs, logbook, machines, records
from jentrik.store.list_rows import stale_ids
from jentrik.store.listing import (
    JOB_SORTS,
    MACHINE_SORTS,
    PAGE,
    SHELF_SORTS,
    Wanted,
    jobs_listed,
    machines_listed,
    names_like,
    shelf_listed,
)
from jentrik.store.machine_data import due_in_shop
from jentrik.store.rows import first_row
from jentrik.web.drawing.silhouette import kept_silhouette, silhouette
from jentrik.web.drawing.skeleton import skeleton_of
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.jobs.newcomer import start_job
from jentrik.web.pages.logbook.view import shop_due
from jentrik.web.parts.tires_in_use import due_of_machine
from jentrik.web.shop import Shop


@pytest.fixture(name="shop")
def _shop(app: FastAPI) -> Any:
    app.state.shop.ready()
    return app.state.shop


def tags(**wanted: Any) -> list[Any]:
    return [line.tag for line in jobs_listed(Wanted(**wanted)).rows]


def test_jobs_are_found_by_tag_machine_owner_tire_and_what_is_wanted(shop: Shop) -> None:
    with shop.step("x", "x", machine_id=2) as step:
        machines.set_owner(step, 2, "Frauke Ødegård")
    refresh(shop)
    job = next(job for job in jobs.jobs() if job.machine_id == 2)
    for find in (str(job.tag), "fraUKE", "ødeg", "Fish-quay", "fish cargo"):
        assert job.tag in tags(find=find), find
    assert tags(find="650B both") == [17]
    assert tags(find="frauke 650B") == []
    assert tags(find='"') == tags()  # no word: nothing is looked for
    for odd in ("* OR", "NEAR(", "a^2", "'; --", "AND", "{x} : y", "-17"):
        jobs_listed(Wanted(find=odd))
    assert [line.name for line in machines_listed(Wanted(find="37-622")).rows] == ["Green tourer"]
    assert shelf_listed(Wanted(find="47-5")).rows[0].code.startswith("47-5")


@pytest.mark.parametrize(
    ("listed", "sorts"),
    [(jobs_listed, JOB_SORTS), (machines_listed, MACHINE_SORTS), (shelf_listed, SHELF_SORTS)],
)
def test_every_order_holds_every_row_once(
    shop: Shop, listed: Callable[..., Any], sorts: dict[str, str]
) -> None:
    refresh(shop)
    usual = sorted(line.id for line in listed(Wanted()).rows)
    assert len(usual) > 5
    assert len(sorts) >= 3
    for sort in sorts:
        assert sorted(line.id for line in listed(Wanted(sort=sort)).rows) == usual, sort


def test_orders_and_states(shop: Shop) -> None:
    refresh(shop)
    assert tags(sort="tag") == sorted(tags())
    assert set(tags(state="done")) == {9, 10, 11, 12, 14, 15, 16}
    assert set(tags(state="all")) == {*tags(), 9, 10, 11, 12, 14, 15, 16}
    assert tags(state="done") == [10, 9, 14, 12, 16, 15, 11]  # the last closed first
    names = [line.name for line in machines_listed(Wanted()).rows]
    assert names == sorted(names, key=str.casefold)
    weights = [line.severity for line in jobs_listed(Wanted(sort="problem")).rows]
    assert weights == sorted(weights, key=("stop", "caution", "note", "").index)


def test_pages_follow_one_another_without_a_gap(shop: Shop, client: TestClient) -> None:
    for number in range(PAGE + 5):
        start_job(shop, f"Rental {number:02d}", "37-622")
    while refresh(shop):
        pass
    first, second = jobs_listed(Wanted()), jobs_listed(Wanted(page=2))
    assert (len(first.rows), first.more, second.more) == (PAGE, True, False)
    seen = [line.id for line in (*first.rows, *second.rows)]
    assert len(set(seen)) == len(seen) == 13 + PAGE + 5
    page = client.get("/jobs?sort=tag").text
    assert "/jobs?sort=tag&amp;page=2" in page
    assert 'rel="prev"' in client.get("/jobs?page=2").text
    found = client.get("/jobs?find=rental+07", headers={"HX-Request": "true"}).text
    assert set(re.findall(r"Rental \d\d", found)) == {"Rental 07"}
    assert "<html" not in found
    assert "No job has these words" in client.get("/jobs?find=zeppelin").text


def test_a_line_is_true_of_what_was_just_changed(shop: Shop, client: TestClient) -> None:
    refresh(shop)
    assert stale_ids("job", most=9) == stale_ids("machine", most=9) == []
    before = next(line for line in jobs_listed(Wanted()).rows if line.tag == 17)
    assert before.severity == "stop"
    with shop.step("x", "x", job_id=before.id) as step:
        for kept in jobs.job(before.id).proposals:
            jobs.set_changes(step, kept.id, {})
    assert stale_ids("job", most=9) == [before.id]
    page = client.get("/jobs").text
    assert stale_ids("job", most=9) == []
    after = next(line for line in jobs_listed(Wanted()).rows if line.tag == 17)
    assert (after.severity, after.changes) == ("", "nothing changed yet")
    assert "700C to 650B" in page
    with shop.step("x", "x", machine_id=1) as step:
        machines.clear_figure(step, 1, "wheelbase_mm")
    client.get("/machines")
    line = next(line for line in machines_listed(Wanted()).rows if line.id == 1)
    assert line.wheelbase == "–"
    now = next(line for line in jobs_listed(Wanted()).rows if line.tag == 17)
    assert now.says == "waits for figures"


def test_another_limit_or_day_judges_the_open_jobs_anew(shop: Shop, client: TestClient) -> None:
    refresh(shop)
    client.post("/shop/answer", data={"policy:limits.trail_mm.low": "-60"})
    assert len(stale_ids("job", most=99)) == 13
    refresh(shop)
    assert stale_ids("job", most=99) == []
    shop.database.execute_sql("UPDATE job_line SET judged_on = '2020-01-01'")
    refresh(shop)
    row = first_row("SELECT COUNT(*) AS old FROM job_line WHERE judged_on = '2020-01-01'")
    assert row["old"] == 0


def test_what_is_due_in_the_shop_is_what_is_due_of_each_machine(shop: Shop) -> None:
    refresh(shop)
    each = [
        one
        for sheet in machines.sheets()
        for one in due_of_machine(
            sheet, jobs.open_jobs_of(sheet.id), logbook.log(sheet.id), shop.policy, shop.today
        )
    ]
    assert len(each) > 20
    assert shop_due(due_in_shop(), shop.policy, shop.today) == sorted(
        each, key=lambda one: (one.on, one.key)
    )


def test_a_machine_in_the_bin_leaves_the_lists_and_what_is_due(
    shop: Shop, client: TestClient
) -> None:
    refresh(shop)
    machine_id = next(one.machine_id for one in shop_due(due_in_shop(), shop.policy, shop.today))
    with shop.step("x", "x") as step:
        for job in jobs.open_jobs_of(machine_id):
            records.bin_job(step, job.id, at=shop.now())
        records.bin_machine(step, machine_id, at=shop.now())
    client.get("/logbook")
    assert machine_id not in {
        one.machine_id for one in shop_due(due_in_shop(), shop.policy, shop.today)
    }
    assert machine_id not in {line.id for line in machines_listed(Wanted()).rows}


def test_names_are_offered_while_one_is_typed(client: TestClient) -> None:
    assert names_like("gre") == ["Green tourer"]
    assert 'value="Green tourer"' in client.get("/machines/names?what=gre").text
    assert len(names_like("")) == 11


def test_a_code_goes_onto_a_machine_named_by_hand(client: TestClient) -> None:
    client.post(
        "/read/put", data={"where": "named:front", "named": "green TOURER", "code": "40-622"}
    )
    assert machines.sheet(1).text("front.tire") == "40-622"
    refused = client.post(
        "/read/put", data={"where": "named:front", "named": "x", "code": "40-622"}
    )
    assert "No machine has that name" in refused.text


def test_the_owner_is_kept_shown_and_found(client: TestClient) -> None:
    client.post(
        "/machines/1/answer", data={"machine:owner": "Ada Strand"}, headers={"HX-Request": "true"}
    )
    assert 'value="Ada Strand"' in client.get("/machines/1").text
    assert "Ada Strand" in client.get("/machines?find=strand").text
    assert "Ada Strand" in client.get("/jobs?find=ada").text


def test_every_machine_is_drawn_small_from_its_own_figures(shop: Shop, client: TestClient) -> None:
    page = client.get("/machines").text
    drawn = re.findall(r'<svg class="silhouette".*?</svg>', page)
    assert len(drawn) == len(set(drawn)) == 11  # no two machines alike
    wheels = [float(r) for r in re.findall(r'class="wheel" [^>]*r="([\d.]+)"', drawn[0])]
    sheet = min(machines.sheets(), key=lambda one: one.name.casefold())
    radii = [known_code(sheet.text(f"{end}.tire") or "").overall_diameter_mm for end in ENDS]
    assert wheels[1] / wheels[0] == pytest.approx(radii[0] / radii[1], abs=0.08)


def test_a_picture_that_is_not_of_our_making_is_none(shop: Shop) -> None:
    good = str(silhouette(skeleton_of(machine_of(machines.sheet(1))), "bicycle"))
    assert kept_silhouette(good) == good
    for bad in (
        "<script>alert(1)</script>",
        good.replace("<path", '<path onload="x"', 1),
        good + "<b>",
        good.replace('class="frame"', 'class="frame" href="//x"', 1),
        "",
    ):
        assert kept_silhouette(bad) == ""
