"""Answers one by one: what is written, what it is called in the journal, what is refused."""

import pytest

from jentrik.core.sheet import Provenance
from jentrik.store import jobs, journal, machines
from jentrik.web.answers import Answers, changed, read_answers


@pytest.fixture(name="given")
def _given(shop):
    def given(job_id=1, **form):
        job = jobs.job(job_id)
        sheet = machines.sheet(job.machine_id)
        fields = {name.replace("__", ":", 1).replace("__", "."): v for name, v in form.items()}
        taken = read_answers(Answers(sheet, job.proposals[0], job), fields, shop.today)
        if not taken.refusals and taken.writes:
            with shop.step("; ".join(taken.labels), "test", job_id=job_id) as step:
                for write in taken.writes:
                    write(step)
        return taken

    return given


def test_a_figure_is_written_with_its_day_and_as_measured(given, shop):
    given(sheet__bb_height_mm="281,5")
    kept = machines.sheet(1).figures["bb_height_mm"]
    assert (kept.value, kept.provenance) == (281.5, Provenance.MEASURED)
    assert kept.taken_on == shop.today


def test_a_makers_figure_stays_the_makers_when_it_is_corrected(given):
    given(6, sheet__rake_deg="27.5")
    assert machines.sheet(6).figures["rake_deg"].provenance is Provenance.MAKER


def test_the_same_figure_again_writes_nothing(given):
    assert given(sheet__wheelbase_mm="1046").writes == []
    assert given(proposal__front__tire="47-584").writes == []
    assert given(job__wanted="700C to 650B, both ends").writes == []
    assert given(machine__name="Green tourer").writes == []


def test_a_blank_clears_what_may_be_cleared(given):
    given(sheet__crank_mm="")
    assert "crank_mm" not in machines.sheet(1).figures
    assert given(sheet__crank_mm="").writes == []
    assert "needed" in given(sheet__front__tire="").refusals["sheet:front.tire"].message


def test_a_field_of_another_kind_of_machine_is_refused(given):
    assert "sheet:rake_deg" in given(sheet__rake_deg="20").refusals
    assert "sheet:nothing" in given(sheet__nothing="20").refusals


def test_what_is_no_answer_is_passed_over(given):
    taken = given(csrf_token="x", elsewhere="1")
    assert taken.writes == []
    assert taken.refusals == {}


def test_choices_codes_and_indices_are_held_to_their_lists(given):
    given(6, sheet__spec__front__speed_symbol="h", sheet__spec__front__load_index="55")
    figures = machines.sheet(6).figures
    assert figures["spec.front.speed_symbol"].value == "H"
    assert figures["spec.front.load_index"].value == 55
    for name, typed in (
        ("sheet__spec__front__speed_symbol", "?"),
        ("sheet__spec__front__load_index", "54.5"),
        ("sheet__spec__front__load_index", "300"),
        ("sheet__spec__front__construction", "cross-ply"),
    ):
        assert len(given(6, **{name: typed}).refusals) == 1


def test_an_answer_is_judged_against_the_whole_machine(given):
    # Each figure is possible by itself; together the wheels would overlap.
    taken = given(sheet__wheelbase_mm="900", sheet__front__overall_diameter_mm="1200")
    assert list(taken.refusals) == ["sheet:front.overall_diameter_mm"]
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1046


def test_a_proposal_takes_changes_apart_and_together(given):
    given(proposal__fork__length_mm="400", proposal__rear_axle_shift_mm__y="-6")
    changes = jobs.job(1).proposals[0].changes
    assert changes["fork"] == {"length_mm": 400}
    assert changes["rear_axle_shift_mm"] == {"y": -6}
    given(proposal__fork__length_mm="", proposal__rear_axle_shift_mm__y="")
    assert set(jobs.job(1).proposals[0].changes) == {"front", "rear"}


def test_another_tire_takes_the_measured_diameter_with_it():
    before = {"front": {"tire": "47-584", "overall_diameter_mm": 676.0}, "lower_cup_mm": 3.0}
    assert changed(before, "front.tire", "50-584")["front"] == {"tire": "50-584"}
    assert changed(before, "front.tire", None)["front"] == {"overall_diameter_mm": 676.0}
    assert changed(before, "lower_cup_mm", None) == {"front": before["front"]}
    assert before["front"]["overall_diameter_mm"] == 676.0  # the old changes stay as they were


@pytest.mark.parametrize(
    "key", ["front", "front.rim", "fork", "name", "rear_axle_shift_mm", "rear_axle_shift_mm.z"]
)
def test_what_a_proposal_does_not_change_is_refused(given, key):
    name = f"proposal__{key.replace('.', '__')}"
    assert len(given(**{name: "5"}).refusals) == 1


def test_lines_of_the_sheet_change_in_place(given):
    place, point = machines.sheet(1).places[0], machines.sheet(1).points[0]
    given(**{f"place__{place.id}:gap_mm": "9", f"point__{point.id}:height_mm": "970"})
    assert machines.sheet(1).places[0].gap_mm == 9
    assert machines.sheet(1).points[0].height_mm == 970
    given(**{f"place__{place.id}:minimum_mm": ""})
    assert machines.sheet(1).places[0].minimum_mm is None
    for name in (f"place__{place.id}:gap_mm", f"point__{point.id}:x_mm", f"place__{place.id}:on"):
        assert len(given(**{name: ""}).refusals) == 1


def test_a_place_cannot_take_anothers_name(given, shop):
    first, second = machines.sheet(1).places[:2]
    job = jobs.job(1)
    taken = read_answers(
        Answers(machines.sheet(1), None, job),
        {f"place:{second.id}:name": first.name},
        shop.today,
    )
    assert "twice" in taken.refusals[f"place:{second.id}:name"].message


def test_words_of_job_and_machine(given, shop):
    given(job__wanted="650B", job__due_on="2026-12-01", machine__drawn_as="step-through frame")
    job = jobs.job(1)
    assert (job.wanted, str(job.due_on)) == ("650B", "2026-12-01")
    assert machines.sheet(1).drawn_as == "step-through frame"
    given(job__due_on="")
    assert jobs.job(1).due_on is None
    for name, typed in (
        ("job__wanted", "x" * 81), ("job__due_on", "2026-02-30"), ("job__state", "done"),
        ("machine__drawn_as", "scooter"), ("machine__kind", "motorcycle"),
    ):  # fmt: skip
        assert len(given(**{name: typed}).refusals) == 1


def test_the_journal_says_what_changed_in_words(given):
    given(sheet__wheelbase_mm="1050")
    assert journal.last_label(job_id=1) == "wheelbase 1046 → 1050"


def test_without_a_proposal_or_job_the_sentence_says_so(shop):
    taken = Answers(machines.sheet(1))
    for name in ("proposal:front.tire", "job:wanted"):
        taken.take(name, "47-584", shop.today)
    assert all("any more" in refusal.message for refusal in taken.refusals.values())
    assert len(taken.refusals) == 2
