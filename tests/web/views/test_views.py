"""View-models: words, rounding, and where someone stands."""

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest

from jentrik.core.amounts import bare, in_plain
from jentrik.core.errors import CodeError, OutOfRange
from jentrik.core.machine.figure import Provenance
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.joined import count_in_words
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.change_words import change_in_words
from jentrik.core.work.display_units import METRIC, DisplayUnits, LengthUnit, SpeedUnit
from jentrik.core.work.policy import DEFAULT_POLICY
from jentrik.store import documents, jobs, machines
from jentrik.store.bench_data import bench_data
from jentrik.store.listing import Wanted, jobs_listed, machines_listed
from jentrik.store.machine_data import machine_data
from jentrik.web.figures import change, fixed, plain
from jentrik.web.pages.jobs.bench import BenchView, bench_view
from jentrik.web.pages.jobs.ledger import LedgerRow
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.machines.view import machine_view
from jentrik.web.parts.address import Address
from jentrik.web.parts.columns import chosen_columns, column_links
from jentrik.web.parts.fields import Typed, code_field, complaint_of, figure_fields, strip_of
from jentrik.web.parts.verdict import Verdict
from jentrik.web.parts.words import due_in_words
from jentrik.web.shop import Shop

MONDAY = date(2026, 11, 23)
INCHES = DisplayUnits(length=LengthUnit.INCH, speed=SpeedUnit.MPH)


def bench(job_id: int, **address: Any) -> BenchView:
    there = documents.on_bench(jobs.job(job_id), DEFAULT_POLICY, MONDAY)
    shown = Address(f"/jobs/{job_id}", **address)
    return bench_view(bench_data(there, shown.station), shown)


@pytest.mark.parametrize(
    ("value", "digits", "shown", "moved"),
    [
        (None, 0, "–", "–"),
        (0.0, 0, "0", "0"),
        (-0.04, 1, "0.0", "0"),
        (0.04, 1, "0.0", "0"),
        (-9.6, 0, "−10", "−10"),
        (9.44, 1, "9.4", "+9.4"),
        (1234.5, 1, "1234.5", "+1234.5"),
    ],
)
def test_figures_have_a_true_minus_and_no_signed_zero(
    value: float | None, digits: int, shown: str, moved: str
) -> None:
    assert fixed(value, digits) == shown
    assert change(value, digits) == moved


def test_a_kept_figure_is_shown_as_it_would_be_typed() -> None:
    assert [plain(value) for value in (1046.0, 71.5, -4.0, "37-622")] == [
        "1046",
        "71.5",
        "−4",
        "37-622",
    ]


def test_an_address_names_only_what_is_unusual() -> None:
    address = Address("/jobs/1")
    assert address.at() == "/jobs/1"
    assert address.at(view="road", magnify=3) == "/jobs/1?view=road&magnify=3"
    assert address.at("/jobs/1/undo", station="check") == "/jobs/1/undo?station=check"


@pytest.mark.parametrize(
    "query", [{}, {"station": "nowhere"}, {"view": "side"}, {"magnify": "2"}, {"magnify": "x"}]
)
def test_an_address_that_means_nothing_is_the_usual_one(query: dict[str, Any]) -> None:
    assert Address.of("/jobs/1", query) == Address("/jobs/1")


def test_an_address_comes_back_as_it_was_written() -> None:
    query = {"station": "measure", "proposal": "B", "view": "road", "magnify": "6"}
    address = Address.of("/jobs/1", query)
    assert address.at() == "/jobs/1?station=measure&proposal=B&view=road&magnify=6"


def test_a_complaint_is_cut_at_the_character() -> None:
    complaint = complaint_of(CodeError("No.", position=3), " 37-623 ")
    assert (complaint.before, complaint.at, complaint.after) == ("37-", "6", "23")
    assert complaint.marked
    at_the_end = complaint_of(CodeError("No.", position=3), "37-")
    assert (at_the_end.before, at_the_end.at) == ("37-", "")
    assert not complaint_of(OutOfRange("No."), "x").marked


def test_a_refused_code_stays_as_typed_over_the_last_good_strip() -> None:
    typed = Typed({"proposal:front.tire": "47-58"}, {"proposal:front.tire": CodeError("No.")})
    field = code_field("proposal:front.tire", "Front", "47-584", was="37-622", typed=typed)
    assert field.value == "47-58"
    assert [piece.text for piece in field.strip.pieces] == ["47", "584"]
    assert field.complaint.message == "No."
    assert field.id == "proposal-front-tire"


def test_a_strip_says_what_follows_from_the_code() -> None:
    strip = strip_of(read_code("37-622"))
    assert strip.sums.replace("\u2009", " ") == "bead seat 622 mm, 696 mm tall, rolls 2187 mm"
    assert strip.section is None
    assert "unknown" in strip_of(read_code("700C")).sums
    assert len(strip_of(read_code("20 x 1 3/8")).others) == 2
    assert strip_of(read_code("37-622"), section=True).section


def test_complaints_about_fields_elsewhere_are_not_lost() -> None:
    typed = Typed({}, {"a": OutOfRange("One."), "b": OutOfRange("Two.")})
    assert [stray.message for stray in typed.strays(["a"])] == ["Two."]


@pytest.mark.parametrize(
    ("days", "said", "tone"),
    [
        (-3, "3 days late", "stop"),
        (-1, "1 day late", "stop"),
        (0, "today", "caution"),
        (1, "tomorrow", "caution"),
        (4, "Fri 27 Nov", ""),
    ],
)
def test_when_a_job_is_due(days: int, said: str, tone: str) -> None:
    assert due_in_words(MONDAY + timedelta(days=days), MONDAY) == (said, tone)
    assert due_in_words(None, MONDAY) == ("", "")


def finding(severity: str, where: str = "bike", headline: str = "h", message: str = "m") -> Finding:
    return Finding("rule", Severity(severity), where, headline, message, "source")


@pytest.mark.parametrize(
    ("severities", "said"),
    [
        ((), "no findings"),
        (("note",), "notes only"),
        (("stop",), "1 stop"),
        (("stop", "caution", "caution"), "1 stop, 2 cautions"),
    ],
)
def test_findings_are_counted_in_words(severities: tuple[Any, ...], said: str) -> None:
    result = [finding(one, headline=str(nth)) for nth, one in enumerate(severities)]
    result += [replace(one, where="rear") for one in result]  # the same of the other wheel
    assert count_in_words(result) == said


def test_what_is_said_of_both_wheels_is_said_once() -> None:
    verdict = Verdict(
        "A",
        "",
        "",
        (
            finding("stop", "front", message="1"),
            finding("stop", "rear", message="2"),
            finding("note", headline="other"),
        ),
    )
    first, second = verdict.shown
    assert (first.ends, first.messages) == (("front", "rear"), ("1", "2"))
    assert second.ends == ()
    first, second = replace(
        verdict, findings=(finding("stop", "front", message="1"), finding("caution", "rear"))
    ).shown
    assert [first.severity, second.severity] == ["stop", "caution"]  # of one headline, never one


def test_a_change_in_words(shop: Shop) -> None:
    sheet = machines.sheet(1)
    assert change_in_words(sheet, {}) == "nothing changed yet"
    changes = {"rear": {"tire": "47-584"}, "fork": {"length_mm": 400}, "lower_cup_mm": 5}
    assert change_in_words(sheet, changes) == "rear 37-622 → 47-584; fork, lower cup"
    measured = change_in_words(sheet, {"front": {"overall_diameter_mm": 690.0}})
    assert in_plain(measured) == "front measured 690 mm"


def test_the_stations_say_how_far_the_job_is(shop: Shop) -> None:
    view = bench(1)
    far = {link.label: link.hint for link in view.stations}
    assert far["Read"] == "2 of 2 tires read"
    assert far["Propose"] == "A and B drawn"
    assert far["Check"] == "3 stops"  # both brakes, each with its own figure, and a chain stay
    assert (far["Fit"], far["Ride"]) == ("no card yet", "no rides yet")
    assert [link.label for link in view.stations if link.current] == ["Propose"]


def test_a_machine_without_a_needed_figure_waits_and_says_for_what(shop: Shop) -> None:
    with shop.step("off", "off", machine_id=1) as step:
        machines.clear_figure(step, 1, "wheelbase_mm")
    view = bench(1)
    assert [field.label for field in view.doubts.missing] == ["Wheelbase"]
    assert view.drawn.drawing is None
    assert view.drawn.rows == []
    refresh(shop)
    row = next(row for row in jobs_listed(Wanted()).rows if row.id == 1)
    assert (row.says, row.station, row.so_far) == ("waits for figures", "measure", "1 missing")
    sheet = machine_view(machine_data(1), Address("/machines/1"), typed=Typed())
    assert sheet.drawing is None


def test_a_proposal_that_became_impossible_is_named_and_the_others_stay(shop: Shop) -> None:
    with shop.step("big", "big", job_id=1) as step:
        kept = jobs.job(1).proposals[0]
        jobs.set_changes(step, kept.id, {"front": {"overall_diameter_mm": 1500.0}})
    view = bench(1)
    assert "run into each other" in view.choice.verdict.refusal
    assert view.drawn.drawing is not None
    assert bench(1, station="check").choice.verdicts[1].findings
    refresh(shop)
    assert "run into" in next(row for row in jobs_listed(Wanted()).rows if row.id == 1).says


def rows_of(job_id: int, **address: Any) -> dict[str, LedgerRow]:
    view = bench(job_id, **address)
    return {row.label: row for row in [*view.drawn.rows, *view.drawn.more]}


def test_the_ledger_of_the_green_tourer(shop: Shop) -> None:
    rows = rows_of(1)
    # Both radii 348 -> 339; trail (339 cos 71.5 - 50) / sin 71.5 = 60.7.
    height = rows["Bottom-bracket height"]
    assert (height.found, height.planned, height.moved) == ("284", "275", "−9")
    assert rows["Ground trail"].planned == "61"
    assert rows["Head angle"].moved == "0"
    assert "peg holds" in rows["Ground trail"].ribbon
    stays = rows["Chain stays, beside rear"]
    assert (stays.planned, stays.tone, in_plain(stays.remark)) == ("5", "stop", "minimum 6 mm")
    assert rows["Circumference, front"].moved == "−57"


@pytest.mark.parametrize("units", [METRIC, INCHES], ids=["mm", "inches"])
@pytest.mark.parametrize("job_id", range(1, 12))
def test_a_change_is_the_difference_of_what_stands_beside_it(
    shop: Shop, job_id: int, units: DisplayUnits
) -> None:
    def seen(text: str, unit: str) -> float:
        return float(units.restated(bare(text, unit)).replace("−", "-").replace("\u2009", ""))

    rows = [row for row in rows_of(job_id).values() if "–" not in (row.found, row.planned)]
    assert len(rows) > 8
    for row in rows:
        found, planned, moved = (
            seen(text, row.unit) for text in (row.found, row.planned, row.moved)
        )
        assert moved == pytest.approx(planned - found, abs=1e-9), row.label


def test_the_ledger_of_a_motorcycle_speaks_of_rake_and_stand(shop: Shop) -> None:
    rows = rows_of(10)
    assert "Head angle" not in rows
    assert rows["Rake"].moved.startswith("−")
    assert "peg outside" in rows["Rake"].ribbon
    assert rows["Lean on the stand"].found == "13.0"
    assert rows["Seat height"].found == "890"


def test_an_assumed_figure_is_marked_in_the_ledger(shop: Shop) -> None:
    assert rows_of(3)["Seat angle"].assumed
    assert not rows_of(3)["Head angle"].assumed


def test_groups_of_fields_keep_the_order_of_the_work(shop: Shop) -> None:
    names = [group.name for group in figure_fields(machines.sheet(6), typed=Typed())]
    assert names == [
        "Brake and drive",
        "Front wheel",
        "Rear wheel",
        "Hubs and brakes",
        "Chassis",
        "Cross-checks",
        "Rider",
        "Suspension",
        "Instruments and stand",
        "Gearing",
        "How it is used",
        "Maker's sheet",
    ]


def test_machines_are_listed_with_what_is_assumed_and_on_the_bench(shop: Shop) -> None:
    refresh(shop)
    rows = {row.name: row for row in machines_listed(Wanted()).rows}
    assert list(rows) == sorted(rows)
    assert rows["Chandler's shopper"].assumed == 2
    assert [tag for _, tag in rows["Green tourer"].jobs] == [17]
    assert rows["Breakwater twin"].steering == "27.0° rake"


def test_what_is_computed_from_an_assumed_figure_never_holds(shop: Shop) -> None:
    sheet = machines.sheet(1)
    offset = replace(sheet.figures["fork.offset_mm"], provenance=Provenance.ASSUMED)
    with shop.step("assumed", "sheet") as step:
        machines.set_figure(step, 1, "fork.offset_mm", offset)
        jobs.set_changes(step, jobs.job(1).proposals[0].id, {"lower_cup_mm": 0.0})
    view = bench(1)
    rows = {row.label: row for row in [*view.drawn.rows, *view.drawn.more]}
    assert (rows["Ground trail"].assumed, rows["Ground trail"].planned_assumed) == (True, True)
    assert (rows["Wheelbase"].assumed, rows["Wheelbase"].planned_assumed) == (False, True)
    drawn = str(view.drawn.drawing)
    assert 'class="figure assumed"' in drawn  # the trail as found
    assert "holds" not in drawn


@pytest.mark.parametrize(
    ("count", "asked", "shown"),
    [
        (6, "", [0, 1, 2, 3]),
        (6, "5.2", [2, 5]),
        (6, "9.x.-1", [0, 1, 2, 3]),
        (6, "0.1.2.3.4", [0, 1, 2, 3]),
        (2, "1", [1]),
    ],
)
def test_no_more_columns_stand_side_by_side_than_are_read(
    count: int, asked: str, shown: list[int]
) -> None:
    assert chosen_columns(count, asked, range(count)) == shown


def test_a_column_comes_in_and_goes_out_with_a_click(shop: Shop) -> None:
    links = {link.label: link for link in column_links("ABCDE", [0, 1, 2, 3], "/x")}
    assert [link.current for link in links.values()] == [True, True, True, True, False]
    assert links["B"].href == "/x?columns=0.2.3"
    assert links["E"].href == "/x?columns=1.2.3.4"  # the first makes room
    assert column_links("AB", [0, 1], "/x") == []
