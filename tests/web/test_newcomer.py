"""Starting in two fields, and lines that come and go on a sheet."""

import pytest

from jentrik.core.errors import Refusal
from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import BUILDS, DrawnAs
from jentrik.core.plan.plan import as_measured
from jentrik.store import jobs, machines, records
from jentrik.store.undo import Scope, last_change, undo
from jentrik.web.pages.jobs.newcomer import SameName, copy_machine, start_job
from jentrik.web.pages.machines.places import add_line, drop_line
from jentrik.web.shop import Shop

GAP = {"name": "Crown", "wheel": "front", "direction": "radial", "on": "fork", "gap_mm": "8"}


def test_a_new_machine_wears_the_tire_at_both_ends_and_the_rest_is_assumed(shop: Shop) -> None:
    job = jobs.job(start_job(shop, "  Red   racer ", "28-622"))
    sheet = machines.sheet(job.machine_id)
    assert (sheet.name, sheet.kind) == ("Red racer", "bicycle")
    assert sheet.text("front.tire") == sheet.text("rear.tire") == "28-622"
    for key, figure in sheet.figures.items():
        measured = key == "front.tire"  # no one named the rear one
        usual = Provenance.MEASURED if measured else Provenance.ASSUMED
        computed = key == "fork.axle_to_crown_mm"
        assert figure.provenance is (Provenance.COMPUTED if computed else usual)
    assert [kept.changes for kept in job.proposals] == [{}]


def test_how_a_machine_came_in_is_told_and_never_taken_back(shop: Shop) -> None:
    job = jobs.job(start_job(shop, "Red racer", "28-622"))
    (came_in,) = records.history(job.machine_id)
    assert ("Tire code, rear", "", "28-622 (assumed)") in [
        (one.what, one.before, one.after) for one in came_in.moved
    ]
    scope = Scope(machine_id=job.machine_id, job_id=job.id)
    assert last_change(scope, shop.author) is None
    assert undo(shop.database, came_in.id, scope, shop.author, now=shop.now()) is None
    assert machines.sheet(job.machine_id).name == "Red racer"


def test_a_whole_sidewall_starts_a_job_with_its_code_and_its_limit(shop: Shop) -> None:
    job = jobs.job(start_job(shop, "Gull", "37-622 (700x35C) MAX 6.0 BAR"))
    sheet = machines.sheet(job.machine_id)
    for end in ("front", "rear"):
        assert sheet.text(f"{end}.tire") == "37-622"
        assert sheet.figures[f"{end}.fitted.most_kpa"].value == 600
    named = jobs.job(start_job(shop, "Tern", "Harbour Tern 37-622"))
    assert machines.sheet(named.machine_id).text("front.tire") == "Harbour Tern 37-622"


def test_both_tires_and_a_build_bring_the_usual_figures_of_that_build(shop: Shop) -> None:
    job = jobs.job(start_job(shop, "Ridge", "60-622", "60-584", "full suspension"))
    sheet = machines.sheet(job.machine_id)
    assert (sheet.text("front.tire"), sheet.text("rear.tire")) == ("60-622", "60-584")
    assert sheet.figures["rear.tire"].provenance is Provenance.MEASURED
    assert sheet.figures["suspension.rear.travel_mm"].provenance is Provenance.ASSUMED
    assert sheet.drawn_as == "full suspension"
    with pytest.raises(Refusal) as refused:
        start_job(shop, "Mixed", "60-622", "130/80-17")
    assert refused.value.field == "rear"
    with pytest.raises(Refusal) as refused:
        start_job(shop, "Mixed", "60-622", "", "scooter")
    assert refused.value.field == "build"


@pytest.mark.parametrize("build", list(DrawnAs))
def test_a_machine_of_each_build_stands_on_its_usual_figures(shop: Shop, build: DrawnAs) -> None:
    tire = {"child's bicycle": "47-406", "folding bicycle": "40-406"}.get(build.value, "50-622")
    if build in BUILDS["motorcycle"]:
        tire = "110/80-18"
    sheet = machines.sheet(jobs.job(start_job(shop, "New", tire, "", build.value)).machine_id)
    trail_mm = as_measured(machine_of(sheet)).figures.geometry.trail_mm
    assert 20 < trail_mm < 200


def test_a_copy_of_a_machine_is_assumed_until_it_is_measured(shop: Shop) -> None:
    copied = machines.sheet(copy_machine(shop, 9, "Second enduro"))
    like = machines.sheet(9)
    assert copied.figures["wheelbase_mm"].value == like.figures["wheelbase_mm"].value
    assert not [f for f in copied.figures.values() if f.provenance is Provenance.MEASURED]


def test_a_motorcycle_tire_makes_a_motorcycle(shop: Shop) -> None:
    job = jobs.job(start_job(shop, "Black twin", "120/70 ZR 17"))
    sheet = machines.sheet(job.machine_id)
    assert (sheet.kind, sheet.drawn_as) == ("motorcycle", "upright motorcycle")
    assert "rake_deg" in sheet.figures


def test_a_machine_the_shop_knows_is_taken_as_it_is(shop: Shop) -> None:
    before = machines.sheet(1)
    for tire in ("", "37-622", "700x37C"):
        job = jobs.job(start_job(shop, "GREEN TOURER", tire))
        assert job.machine_id == 1
        assert machines.sheet(1) == before


def test_a_known_name_with_other_tires_is_a_question(shop: Shop) -> None:
    count = len(jobs.jobs())
    with pytest.raises(SameName) as asked:
        start_job(shop, "Green tourer", "47-584", "50-584")
    assert "front 37-622 → 47-584, rear 37-622 → 50-584" in asked.value.message
    assert len(jobs.jobs()) == count
    other = jobs.job(start_job(shop, "Green tourer", "47-584", same="another"))
    assert machines.sheet(other.machine_id).name == "Green tourer (2)"
    assert machines.sheet(other.machine_id).text("front.tire") == "47-584"
    same = jobs.job(start_job(shop, "Green tourer", "47-584", "50-584", same="same"))
    assert same.machine_id == 1
    sheet = machines.sheet(1)
    assert (sheet.text("front.tire"), sheet.text("rear.tire")) == ("47-584", "50-584")
    with pytest.raises(Refusal) as refused:
        start_job(shop, "Green tourer", "47-58")
    assert refused.value.field == "tire"


@pytest.mark.parametrize(
    ("what", "tire", "field"),
    [
        ("", "28-622", "name"),
        ("x" * 81, "28-622", "name"),
        ("x", "", "tire"),
        ("x", "28-62", "tire"),
        ("x", "650B", "tire"),
        ("x", "P205/55R16", "tire"),
    ],
)
def test_what_is_refused_starts_nothing(shop: Shop, what: str, tire: str, field: str) -> None:
    with pytest.raises(Refusal) as refused:
        start_job(shop, what, tire)
    assert refused.value.field == field
    assert (len(jobs.jobs()), len(machines.sheets())) == (13, 11)


def test_starting_cannot_be_undone_from_the_bench(shop: Shop) -> None:
    job = jobs.job(start_job(shop, "Red racer", "28-622"))
    scope = Scope(machine_id=job.machine_id, job_id=job.id)
    assert last_change(scope, shop.author) is None


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"name": " "}, "few words"),
        ({"name": "fork CROWN"}, "already has"),
        ({"wheel": "middle"}, "front, rear"),
        ({"direction": "up"}, "radial, side"),
        ({"on": "moon"}, "frame, fork"),
        ({"gap_mm": ""}, "not a figure"),
        ({"gap_mm": "-1"}, "outside"),
        ({"minimum_mm": "some"}, "not a figure"),
        ({"wheel": "rear"}, "No place on the fork"),
    ],
)
def test_a_refused_gap_is_not_written_and_says_why(
    shop: Shop, change: dict[str, str], said: str
) -> None:
    before = machines.sheet(1)
    typed = add_line(shop, 1, "places", GAP | change)
    assert said in typed.refusals["new-place"].message
    assert typed.values["wheel"] == (GAP | change)["wheel"]
    assert machines.sheet(1) == before


def test_a_gap_and_a_point_come_go_and_come_back(shop: Shop) -> None:
    before = machines.sheet(1)
    assert add_line(shop, 1, "places", GAP).refusals == {}
    assert (
        add_line(shop, 1, "points", {"name": "Bell", "x_mm": "790", "height_mm": "990"}).refusals
        == {}
    )
    after = machines.sheet(1)
    assert (after.clearances[-1].name, after.points[-1].name) == ("Crown", "Bell")
    drop_line(shop, 1, {"place": str(after.clearances[-1].id)})
    drop_line(shop, 1, {"point": str(after.points[-1].id)})
    assert machines.sheet(1) == before
    undo(shop.database, None, Scope(machine_id=1), shop.author, now=shop.now())
    assert machines.sheet(1).points[-1].name == "Bell"


def test_a_refused_point_keeps_what_was_typed(shop: Shop) -> None:
    typed = add_line(shop, 1, "points", {"name": "Bell", "x_mm": "far", "height_mm": "1"})
    assert typed.values["x_mm"] == "far"
    assert "not a figure" in typed.refusals["new-point"].message


def test_a_line_that_is_gone_already_is_no_trouble(shop: Shop) -> None:
    before = machines.sheet(1)
    drop_line(shop, 1, {"place": "99999", "point": "x"})
    assert machines.sheet(1) == before


def test_a_sheet_holds_only_so_many_lines(shop: Shop) -> None:
    for number in range(60):
        typed = add_line(shop, 1, "points", {"name": f"p{number}", "x_mm": "1", "height_mm": "1"})
    assert "at most 60" in typed.refusals["new-point"].message
    assert len(machines.sheet(1).points) == 60
