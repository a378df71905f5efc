"""Answers one by one: what is written, what it is called in the journal, what is refused."""

from collections.abc import Callable
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.core.errors import Refusal
from jentrik.core.machine.figure import Provenance
from jentrik.store import jobs, machines
from jentrik.store.journal import Author
from jentrik.store.undo import Scope, last_change
from jentrik.web.live.answers import KINDS, Answers, changed
from jentrik.web.live.fields import Answered, sent_fields, take_fields
from jentrik.web.shop import Shop


@pytest.fixture(name="given")
def _given(shop: Shop) -> Callable[..., Any]:
    def given(
        job_id: int = 1, *, seen: dict[str, str] | None = None, live: bool = False, **form: Any
    ) -> Answered:
        def load() -> Answers:
            job = jobs.job(job_id)
            return Answers(machines.sheet(job.machine_id), shop.today, job.proposals[0], job)

        fields = {name.replace("__", ":", 1).replace("__", "."): v for name, v in form.items()}
        more = [(f"seen:{name.replace('__', ':', 1)}", v) for name, v in (seen or {}).items()]
        sent = sent_fields([*fields.items(), *more], KINDS)
        return take_fields(shop, sent, load, live=live)[1]

    return given


def test_a_figure_is_written_with_its_day_and_as_measured(
    given: Callable[..., Any], shop: Shop
) -> None:
    given(sheet__bb_height_mm="281,5")
    kept = machines.sheet(1).figures["bb_height_mm"]
    assert (kept.value, kept.provenance) == (281.5, Provenance.MEASURED)
    assert kept.taken_on == shop.today


def test_a_makers_figure_stays_the_makers_when_it_is_corrected(given: Callable[..., Any]) -> None:
    given(6, sheet__rake_deg="27.5")
    assert machines.sheet(6).figures["rake_deg"].provenance is Provenance.MAKER


def test_the_same_figure_again_writes_nothing(given: Callable[..., Any]) -> None:
    assert given(sheet__wheelbase_mm="1046").labels == []
    assert given(proposal__front__tire="47-584").labels == []
    assert given(job__wanted="700C to 650B, both ends").labels == []
    assert given(machine__name="Green tourer").labels == []


def test_a_blank_clears_what_may_be_cleared(given: Callable[..., Any]) -> None:
    given(sheet__crank_mm="")
    assert "crank_mm" not in machines.sheet(1).figures
    assert given(sheet__crank_mm="").labels == []
    assert "needed" in given(sheet__front__tire="").typed.refusals["sheet:front.tire"].message


def test_a_field_of_another_kind_of_machine_is_refused(given: Callable[..., Any]) -> None:
    assert "sheet:rake_deg" in given(sheet__rake_deg="20").typed.refusals
    assert "sheet:nothing" in given(sheet__nothing="20").typed.refusals


def test_what_is_no_answer_is_passed_over(given: Callable[..., Any]) -> None:
    taken = given(csrf_token="x", elsewhere="1")
    assert taken.labels == []
    assert taken.typed.refusals == {}


def test_choices_codes_and_indices_are_held_to_their_lists(given: Callable[..., Any]) -> None:
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
        assert len(given(6, **{name: typed}).typed.refusals) == 1


def test_an_answer_is_judged_against_the_whole_machine(given: Callable[..., Any]) -> None:
    # Each figure is possible by itself; together the wheels would overlap.
    taken = given(sheet__wheelbase_mm="900", sheet__front__overall_diameter_mm="1200")
    assert list(taken.typed.refusals) == ["sheet:front.overall_diameter_mm"]
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1046


def test_a_proposal_takes_changes_apart_and_together(given: Callable[..., Any]) -> None:
    given(proposal__fork__length_mm="400", proposal__rear_axle_shift_mm__y="-6")
    changes = jobs.job(1).proposals[0].changes
    assert changes["fork"] == {"length_mm": 400}
    assert changes["rear_axle_shift_mm"] == {"y": -6}
    given(proposal__fork__length_mm="", proposal__rear_axle_shift_mm__y="")
    assert set(jobs.job(1).proposals[0].changes) == {"front", "rear"}


def test_another_tire_takes_the_measured_diameter_with_it() -> None:
    before = {"front": {"tire": "47-584", "overall_diameter_mm": 676.0}, "lower_cup_mm": 3.0}
    assert changed(before, "front.tire", "50-584")["front"] == {"tire": "50-584"}
    assert changed(before, "front.tire", None)["front"] == {"overall_diameter_mm": 676.0}
    assert changed(before, "lower_cup_mm", None) == {"front": before["front"]}
    assert before["front"]["overall_diameter_mm"] == 676.0  # the old changes stay as they were


@pytest.mark.parametrize(
    "key", ["front", "front.rim", "fork", "name", "rear_axle_shift_mm", "rear_axle_shift_mm.z"]
)
def test_what_a_proposal_does_not_change_is_refused(given: Callable[..., Any], key: str) -> None:
    name = f"proposal__{key.replace('.', '__')}"
    assert len(given(**{name: "5"}).typed.refusals) == 1


def test_lines_of_the_sheet_change_in_place(given: Callable[..., Any]) -> None:
    place, point = machines.sheet(1).clearances[0], machines.sheet(1).points[0]
    given(**{f"place__{place.id}:gap_mm": "9", f"point__{point.id}:height_mm": "970"})
    assert machines.sheet(1).clearances[0].gap_mm == 9
    assert machines.sheet(1).points[0].height_mm == 970
    given(**{f"place__{place.id}:minimum_mm": ""})
    assert machines.sheet(1).clearances[0].minimum_mm is None
    for name in (f"place__{place.id}:gap_mm", f"point__{point.id}:x_mm", f"place__{place.id}:on"):
        assert len(given(**{name: ""}).typed.refusals) == 1


def test_a_place_cannot_take_anothers_name(given: Callable[..., Any], shop: Shop) -> None:
    first, second = machines.sheet(1).clearances[:2]
    job = jobs.job(1)
    with pytest.raises(Refusal, match="twice"):
        Answers(machines.sheet(1), shop.today, None, job).read(
            f"place:{second.id}:name", first.name
        )


def test_words_of_job_and_machine(given: Callable[..., Any], shop: Shop) -> None:
    given(job__wanted="650B", job__due_on="2026-12-01", machine__drawn_as="step-through frame")
    job = jobs.job(1)
    assert (job.wanted, str(job.due_on)) == ("650B", "2026-12-01")
    assert machines.sheet(1).drawn_as == "step-through frame"
    given(job__due_on="")
    assert jobs.job(1).due_on is None
    for name, typed in (
        ("job__wanted", "x" * 81),
        ("job__due_on", "2026-02-30"),
        ("job__state", "done"),
        ("machine__drawn_as", "scooter"),
        ("machine__kind", "motorcycle"),
    ):
        assert len(given(**{name: typed}).typed.refusals) == 1


def test_the_journal_says_what_changed_in_words(given: Callable[..., Any]) -> None:
    given(sheet__wheelbase_mm="1050")
    label = last_change(Scope(machine_id=1), Author()).label
    assert in_plain(label) == "wheelbase 1046 → 1050"


def test_without_a_proposal_or_job_the_sentence_says_so(shop: Shop) -> None:
    for name in ("proposal:front.tire", "job:wanted"):
        with pytest.raises(Refusal, match="any more"):
            Answers(machines.sheet(1), shop.today).read(name, "47-584")


def test_what_was_changed_since_it_was_seen_is_refused_with_both_values(
    given: Callable[..., Any],
) -> None:
    given(sheet__wheelbase_mm="1050")
    for live in (True, False):
        late = given(sheet__wheelbase_mm="1052", seen={"sheet__wheelbase_mm": "1046"}, live=live)
        refusal = late.typed.refusals["sheet:wheelbase_mm"]
        assert ("“1050”" in refusal.message, "“1052”" in refusal.message) == (True, True)
        assert refusal.suggestions == ("1050", "1052")
    assert late.fields == {}
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1050
    same = given(sheet__wheelbase_mm="1050", seen={"sheet__wheelbase_mm": "1046"}, live=True)
    assert same.fields["sheet:wheelbase_mm"]["state"] == "stored"  # both want the same


def test_a_plain_form_leaves_what_its_writer_left(given: Callable[..., Any]) -> None:
    given(sheet__wheelbase_mm="1050")
    given(
        sheet__wheelbase_mm="1046",
        sheet__crank_mm="165",
        seen={"sheet__wheelbase_mm": "1046", "sheet__crank_mm": "172.5"},
    )
    figures = machines.sheet(1).figures
    assert (figures["wheelbase_mm"].value, figures["crank_mm"].value) == (1050, 165)


def test_live_fields_are_stored_or_refused_each_for_itself(given: Callable[..., Any]) -> None:
    taken = given(sheet__wheelbase_mm="1050", sheet__stack_mm="tall", job__wanted="650B", live=True)
    states = {name: one["state"] for name, one in taken.fields.items()}
    assert states == {
        "sheet:wheelbase_mm": "stored",
        "sheet:stack_mm": "refused",
        "job:wanted": "stored",
    }
    assert taken.fields["sheet:stack_mm"]["text"] == "577"  # what is stored still
    assert "not a figure" in taken.fields["sheet:stack_mm"]["why"]
    assert jobs.job(1).wanted == "650B"


def test_a_fork_is_measured_straight_and_kept_along_the_axis(shop: Shop) -> None:
    answers = Answers(machines.sheet(9), shop.today)
    offset = machines.sheet(9).figures["fork.offset_mm"].value
    (write,) = answers.read("sheet:fork.axle_to_crown_mm", "541")
    # Along the axis: the other side of a right triangle.
    expected = (541**2 - offset**2) ** 0.5
    assert answers.sheet.figures["fork.length_mm"].value == pytest.approx(expected)
    assert answers.sheet.figures["fork.axle_to_crown_mm"].value == pytest.approx(541)
    assert answers.stored("sheet:fork.axle_to_crown_mm") == "541"
    assert "541" in write.label


def test_a_fork_is_proposed_straight_with_the_offset_it_comes_with(client: TestClient) -> None:
    given = {"proposal:fork.offset_mm": "51"}
    client.post("/jobs/9/answer?proposal=A", data=given, headers={"HX-Request": "true"})
    given = {"proposal:fork.axle_to_crown_mm": "551"}
    client.post("/jobs/9/answer?proposal=A", data=given, headers={"HX-Request": "true"})
    fork = jobs.job(9).proposal("A").changes["fork"]
    assert fork["length_mm"] == pytest.approx((551**2 - 51**2) ** 0.5)
    assert 'value="551"' in client.get("/jobs/9?proposal=A&more=more").text
