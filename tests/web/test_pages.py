"""Pages without a browser: every route, the door, answers that save and refusals that do not."""

import hashlib
import html
import re
import runpy
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.core.machine.fields import FIELD_BY_KEY, fields_of
from jentrik.store import jobs, machines
from jentrik.web.app import create_app
from jentrik.web.figures import as_typed
from jentrik.web.pages.handbook.view import CHAPTERS
from jentrik.web.security.guard import SECURITY_HEADERS, TOKEN_FIELD, TOKEN_HEADER
from jentrik.web.templating import STATIC
from tests.documents import plan, raw

PAGES = [
    "/jobs",
    "/machines",
    "/machines/1",
    "/read",
    "/read?code=26 x 1 3/8",
    "/api/docs",
    *(f"/jobs/{job}" for job in range(1, 12)),
    *(f"/jobs/1?station={station}" for station in ("read", "measure", "check", "fit", "ride")),
    "/jobs/9?state=rider+on",
    "/jobs/1/ways?proposal=A",
    "/jobs/9/compare",
    "/logbook",
    "/machines/6/log",
    "/machines/6/history",
    "/bin",
    "/logbook/sizes",
    "/rules",
    "/words",
    "/shop",
    "/shop/cards?name=Tire on",
    "/shop/gauges",
    "/shop/people",
    "/shop/keys",
    "/handbook",
    "/handbook?find=trail",
    *(f"/handbook/{chapter.id}" for chapter in CHAPTERS),
    "/jobs/1/order/suppliers",
    "/jobs/1/tag",
    "/machines/6/paper",
    "/jobs/1?drawings",
    "/machines/10/choose",
    "/machines/6/speed",
    "/jobs/1/order",
    "/jobs/1/card",
    "/jobs/12?station=fit",
    "/jobs/9?station=ride&before=1&after=2",
    "/jobs/10?proposal=B&more=front",
    "/jobs/3?view=road&magnify=6",
    "/jobs/6?proposal=B",
    "/jobs/1?station=nowhere&magnify=999",
]


def live(client: TestClient, path: str, **form: Any) -> Response:
    fields = {name.replace("__", ":", 1).replace("__", "."): text for name, text in form.items()}
    return client.post(path, data=fields, headers={"HX-Request": "true"})


STRUCK = (  # words of before, each with its plain one on every screen
    "what is it?",
    "which tire does it wear",
    "worst so far",
    "ways back",
    "sidewall's most",
    "most turns a minute",
    "a look at a tire",
    "reads over",
    "against the truth",
    "what this shop goes by",
    "hangs on it",
    "would tell",
    "counted km is",
    "mounts otherwise",
    "leaves the frame's size",
    "room for the tire",
    "against their marks",
    "the machine against the plan",
    "somebody",
    "nobody",
    "goes by",
    "held against",
    "someone",
    "no one ",
    "take off",
    "called",
)


@pytest.mark.parametrize("path", [*PAGES, "/jobs/10?station=check", "/jobs/1?station=measure"])
def test_every_page_keeps_its_policy_takes_nothing_from_outside_and_speaks_plainly(
    only_read: TestClient, path: str
) -> None:
    answer = only_read.get(path)
    assert answer.status_code == 200
    for name, value in SECURITY_HEADERS.items():
        assert answer.headers[name] == value
    assert not re.findall(r'(?:src|href)="(?:https?:)?//', answer.text)
    assert "<style" not in answer.text
    assert ' style="' not in answer.text
    assert " onclick" not in answer.text
    text = html.unescape(re.sub(r"<[^>]+>", " ", answer.text)).lower()
    found = [word for word in STRUCK if word in " ".join(text.split())]
    assert found == []


@pytest.mark.parametrize(
    "headers",
    [
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": "http://elsewhere.example"},
        {"Origin": "null"},
    ],
)
def test_a_write_from_elsewhere_is_refused(client: TestClient, headers: dict[str, str]) -> None:
    assert client.post("/jobs", data={"what": "x"}, headers=headers).status_code == 403
    assert client.post("/api/plan", content=b"{}", headers=headers).status_code == 403


def test_a_foreign_name_for_this_machine_is_not_answered(client: TestClient) -> None:
    assert client.get("/jobs", headers={"Host": "rebound.example"}).status_code == 400


def test_with_a_passphrase_nothing_is_answered_without_it(tmp_path: Path) -> None:
    app = create_app(tmp_path, passphrase="low tide at noon")
    client = TestClient(app, base_url="http://shop.local")
    assert client.get("/jobs").status_code == 401
    assert client.get("/api/health", auth=("x", "wrong")).status_code == 401
    assert client.get("/jobs", auth=("anybody", "low tide at noon")).status_code == 200


def test_a_code_saves_and_redraws_and_stays_after_a_reload(client: TestClient) -> None:
    answer = live(client, "/jobs/1/answer?proposal=A", proposal__front__tire="50-584")
    assert answer.status_code == 200
    assert '<div id="bench"' in answer.text
    assert "<!DOCTYPE" not in answer.text
    assert 'value="50-584"' in client.get("/jobs/1").text
    assert jobs.job(1).proposals[0].changes["front"]["tire"] == "50-584"


# A list offers no wrong choice, a day has its own picker; the sentence still comes back.
UNTYPABLE = {"sheet:class", "from:wheelbase_mm", "place:999:gap_mm", "machine:name", "job:due_on"}


@pytest.mark.parametrize(
    ("name", "typed", "said"),
    [
        ("proposal:front.tire", "50-58", "bead seat"),
        ("proposal:front.tire", "<b>37-622", "No tire size is named"),
        ("proposal:front.overall_diameter_mm", "9999", "outside"),
        ("proposal:front.overall_diameter_mm", "1900", "run into each other"),
        ("proposal:fork.length_mm", "abc", "not a figure"),
        ("proposal:fork.length_mm", "1e400", "not a figure"),
        ("sheet:wheelbase_mm", "500", "run into each other"),
        ("sheet:wheelbase_mm", "", "needed"),
        ("sheet:head_angle_deg", "95", "outside"),
        ("sheet:chainstay_mm", "50", "outside"),
        ("sheet:bb_height_mm", "900", "chain stay must be longer"),
        ("sheet:front.tire", "700C", "names no width"),
        ("sheet:class", "tank", "not one of"),
        ("sheet:speedometer.reads_over_percent", "lots", "not a figure"),
        ("from:wheelbase_mm", "guessed", "measured"),
        ("place:1:gap_mm", "-3", "outside"),
        ("place:999:gap_mm", "3", "not on the sheet"),
        ("machine:name", " ", "few words"),
        ("job:due_on", "tomorrow", "not a day"),
    ],
)
def test_a_refused_answer_changes_nothing_and_keeps_what_was_typed(
    client: TestClient, name: str, typed: str, said: str
) -> None:
    before = machines.sheet(1), jobs.job(1)
    station = "measure" if name.startswith(("sheet", "from", "place", "machine")) else "propose"
    path = f"/jobs/1/answer?station={station}"
    answer = client.post(path, data={name: typed}, headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert (machines.sheet(1), jobs.job(1)) == before
    assert said in answer.text
    if typed and name not in UNTYPABLE:
        kept = typed.replace("<", "&lt;").replace(">", "&gt;")
        assert f'value="{kept}"' in answer.text
    assert "Traceback" not in answer.text


def test_several_answers_are_taken_all_or_none(client: TestClient) -> None:
    form = {"sheet:wheelbase_mm": "1060", "sheet:head_angle_deg": "95"}
    assert client.post("/jobs/1/answer", data=form).status_code == 422
    assert machines.sheet(1).figures["wheelbase_mm"].value == 1046
    form["sheet:head_angle_deg"] = "71,0"
    assert client.post("/jobs/1/answer", data=form, follow_redirects=False).status_code == 303
    sheet = machines.sheet(1)
    assert (sheet.figures["wheelbase_mm"].value, sheet.figures["head_angle_deg"].value) == (
        1060,
        71,
    )


def test_every_field_of_every_sheet_takes_its_own_figure_back(client: TestClient) -> None:
    for sheet in machines.sheets():
        for field in fields_of(sheet.kind):
            text = client.get(f"/machines/{sheet.id}").text
            assert f'name="sheet:{field.key}"' in text
            break
        figures = {
            f"sheet:{key}": as_typed(f) for key, f in sheet.figures.items() if key in FIELD_BY_KEY
        }
        answer = client.post(f"/machines/{sheet.id}/answer", data=figures, follow_redirects=False)
        assert answer.status_code == 303
        assert machines.sheet(sheet.id) == sheet


def test_undo_takes_the_last_change_back(client: TestClient) -> None:
    before = jobs.job(1)
    live(client, "/jobs/1/answer", proposal__rear__tire="54-584")
    answer = live(client, "/jobs/1/undo")
    assert "Taken back" in answer.text
    assert jobs.job(1) == before


def test_a_typed_figure_is_measured_and_provenance_can_be_said(client: TestClient) -> None:
    live(client, "/jobs/5/answer", sheet__fork__length_mm="380")
    assert machines.sheet(5).figures["fork.length_mm"].provenance == "measured"
    live(client, "/jobs/5/answer", from__fork__length_mm="maker's sheet")
    assert machines.sheet(5).figures["fork.length_mm"].provenance == "maker's sheet"


def test_a_new_job_in_two_fields_has_an_answer_at_once(client: TestClient) -> None:
    form = {"what": "Blue racer", "tire": "28-622"}
    bench = client.post("/jobs", data=form)
    assert bench.status_code == 200
    assert "Assumed, not measured" in bench.text
    assert "bench-drawing" in bench.text
    again = client.post("/jobs", data={"what": "blue RACER", "tire": ""})
    assert "Blue racer" in again.text
    assert len(machines.sheets()) == 12


@pytest.mark.parametrize(
    ("what", "tire"),
    [("", "28-622"), ("x", ""), ("x", "28-62"), ("x", "700C"), ("x", "205/55R16"), ("n" * 99, "1")],
)
def test_a_refused_new_job_keeps_what_was_typed(client: TestClient, what: str, tire: str) -> None:
    answer = client.post("/jobs", data={"what": what, "tire": tire})
    assert answer.status_code == 422
    assert f'value="{what}"' in answer.text
    assert f'value="{tire}"' in answer.text
    assert (len(jobs.jobs()), len(machines.sheets())) == (13, 11)


def test_lines_are_added_and_taken_off(client: TestClient) -> None:
    place = {
        "name": "Crown bolt",
        "wheel": "front",
        "direction": "radial",
        "on": "fork",
        "gap_mm": "8,5",
        "minimum_mm": "",
    }
    client.post("/jobs/1/lines/places?station=measure", data=place)
    added = machines.sheet(1).clearances[-1]
    assert (added.name, added.gap_mm, added.minimum_mm) == ("Crown bolt", 8.5, None)
    client.post("/jobs/1/lines/drop", data={"place": str(added.id)})
    assert machines.sheet(1).clearances[-1].name != "Crown bolt"
    bad = client.post("/machines/1/lines/places", data={**place, "on": "fork", "wheel": "rear"})
    assert bad.status_code == 422
    client.post(
        "/machines/1/lines/points", data={"name": "Bell", "x_mm": "700", "height_mm": "1000"}
    )
    assert machines.sheet(1).points[-1].name == "Bell"


def test_proposals_come_and_go(client: TestClient) -> None:
    there = client.post("/jobs/1/proposals", follow_redirects=False)
    assert there.headers["location"] == "/jobs/1?proposal=C"
    client.post("/jobs/1/proposals/drop?proposal=C")
    assert [kept.name for kept in jobs.job(1).proposals] == ["A", "B"]
    for _ in range(26):
        client.post("/jobs/1/proposals")
    assert [kept.name for kept in jobs.job(1).proposals][-3:] == ["Z", "A2", "B2"]


def test_an_address_that_is_not_there_says_so(client: TestClient) -> None:
    for path in ("/jobs/999", "/machines/999", "/jobs/x", "/nothing", "/static/../app.py"):
        answer = client.get(path)
        assert answer.status_code in (404, 422)
        assert "Traceback" not in answer.text
    error = client.get("/api/nothing").json()["error"]
    assert error["message"]


def test_an_empty_shop_offers_a_job_or_the_demo(tmp_path: Path) -> None:
    with TestClient(create_app(tmp_path), base_url="http://127.0.0.1") as client:
        page = client.get("/jobs").text
        assert "Start the job" in page
        token = re.search(f'{TOKEN_HEADER}": "([^"]+)"', page).group(1)
        assert "Green tourer" in client.post("/demo", data={TOKEN_FIELD: token}).text


def test_the_json_interface_by_its_contract(client: TestClient) -> None:
    assert client.get("/api/health").json()["status"] == "ok"
    reading = client.get("/api/read", params={"code": "26 x 1 3/8"}).json()
    assert reading["alternatives"][0]["bead_seat_diameter_mm"] == 597
    refused = client.get("/api/read", params={"code": "37-623"})
    assert refused.status_code == 422
    assert refused.json()["error"]["position"] == 3
    assert client.get("/api/read").json()["error"]["field"] == "code"
    answer = client.post("/api/plan", content=raw(plan({"rear": {"tire": "47-584"}}))).json()
    assert answer["proposals"][0]["delta"]["head_angle_deg"] < 0
    bad = client.post("/api/plan", content=raw(plan({"rear": {"tire": "x"}})))
    assert (bad.status_code, bad.json()["error"]["field"]) == (422, "proposals[0].rear.tire")
    assert client.post("/api/plan", content=b" " * 1_000_001).status_code == 413
    assert client.post("/api/plan", content=b" " * 3_000_000).status_code == 413
    assert "/api/plan" in client.get("/api/openapi.json").json()["paths"]


def test_shipped_files_are_the_ones_listed() -> None:
    listed = (STATIC / "vendor" / "README.md").read_text(encoding="utf-8")
    rows = re.findall(r"^\| (\S+) \| .*\| ([0-9a-f]{64}) \|$", listed, re.MULTILINE)
    shipped = {
        str(file.relative_to(STATIC))
        for folder in ("vendor", "fonts")
        for file in (STATIC / folder).iterdir()
        if file.suffix in (".js", ".css", ".woff2")
    }
    assert {name for name, _ in rows} == shipped
    for name, mark in rows:
        assert hashlib.sha256((Path(STATIC) / name).read_bytes()).hexdigest() == mark


def test_the_part_of_bulma_is_cut_out_of_the_whole() -> None:
    script = runpy.run_path(str(Path(__file__).parents[2] / "scripts" / "trim_bulma.py"))
    part = script["PART"].read_text()
    assert part == script["trimmed"]()
    for used in (".input", ".select", ".button", ".table", ".is-sr-only"):
        assert used in part
    assert ".navbar" not in part


def test_readings_are_averaged_kept_as_typed_and_carried_to_the_ledger(client: TestClient) -> None:
    live(client, "/jobs/1/answer", sheet__wheelbase_mm="1046; 1048; 1050 ± 4")
    kept = machines.sheet(1).figures["wheelbase_mm"]
    assert (kept.value, kept.plus_minus, kept.readings) == (1048, 4, (1046, 1048, 1050))
    page = client.get("/jobs/1?station=measure").text
    assert 'value="1046; 1048; 1050 ± 4"' in page
    assert "mean 1048.0" in page
    assert "± 2" in client.get("/jobs/1").text.replace("\u2009", " ")
    refused = live(client, "/jobs/1/answer", sheet__wheelbase_mm="1046; wide")
    assert refused.status_code == 422
    assert machines.sheet(1).figures["wheelbase_mm"] == kept


def test_a_contradiction_is_named_where_the_figures_stand(client: TestClient) -> None:
    live(client, "/jobs/1/answer", sheet__cross__bb_drop_mm="40")
    page = client.get("/jobs/1?station=measure").text
    assert "contradict each other" in page
    assert "would fit" in page
    assert "would fit" in client.get("/machines/1").text


def test_a_cleared_figure_that_the_others_fix_comes_back_computed(client: TestClient) -> None:
    live(client, "/jobs/6/answer", sheet__cross__trail_mm="120")
    answer = live(client, "/jobs/6/answer", sheet__fork__offset_mm="")
    assert answer.status_code == 200
    assert machines.sheet(6).figures["fork.offset_mm"].provenance.value == "computed"
    assert "computed from the others" in client.get("/machines/6").text
    live(client, "/jobs/6/undo")
    assert machines.sheet(6).figures["fork.offset_mm"].provenance.value == "measured"


def test_rear_positions_come_go_and_are_proposed(client: TestClient) -> None:
    form = {"name": "Short", "x_mm": "0", "y_mm": "-6", "bead_seat_diameter_mm": "622"}
    client.post("/jobs/1/lines/positions?station=measure", data=form)
    (added,) = machines.sheet(1).positions
    live(client, "/jobs/1/answer?proposal=A", proposal__position="Short")
    assert jobs.job(1).proposals[0].changes["position"] == "Short"
    assert "belongs to 622" in client.get("/jobs/1").text
    refused = live(client, "/jobs/1/answer?proposal=A", proposal__position="Nowhere")
    assert refused.status_code == 422
    name = f"position:{added.id}:y_mm"
    client.post("/jobs/1/answer", data={name: "-7"}, headers={"HX-Request": "true"})
    assert machines.sheet(1).positions[0].y_mm == -7
    assert (
        client.post("/machines/1/lines/positions", data=form | {"x_mm": "far"}).status_code == 422
    )
    client.post("/machines/1/lines/drop", data={"position": str(added.id)})
    assert machines.sheet(1).positions == ()


def test_an_unknown_sag_is_assumed_by_its_rule_until_it_is_measured(client: TestClient) -> None:
    live(client, "/jobs/4/answer", sheet__suspension__front__sag_mm="")
    page = client.get("/jobs/4?station=measure&field=suspension.front.sag_mm").text
    assert "Assume 20\u2009mm, 20 % of the travel" in page  # of 100 mm
    live(client, "/jobs/4/answer", assume__suspension__front__sag_mm="yes")
    kept = machines.sheet(4).figures["suspension.front.sag_mm"]
    assert (kept.value, kept.provenance.value) == (20, "assumed")
    live(client, "/jobs/4/answer", assume__wheelbase_mm="yes")
    assert machines.sheet(4).figures["wheelbase_mm"].provenance.value == "measured"
    assert live(client, "/jobs/4/answer", assume__rider__inseam_mm="yes").status_code == 422


def test_the_riders_inseam_tells_how_the_feet_reach(client: TestClient) -> None:
    live(client, "/jobs/10/answer", sheet__rider__inseam_mm="860")
    page = client.get("/jobs/10?proposal=A").text
    # Seat 890 as found, 879 with the smaller front: 30 and 19 mm above.
    assert re.search(r"Seat above the inseam.*?>30<.*?>19<", page, re.DOTALL)


def test_the_riders_height_gives_an_inseam_to_start_from_for_stand_over_and_saddle(
    client: TestClient,
) -> None:
    live(client, "/jobs/9/answer", sheet__rider__height_mm="1750")
    live(client, "/jobs/9/answer", sheet__rider__height_mm="17500")  # refused, and changes nothing
    assert machines.sheet(9).figures["rider.height_mm"].value == 1750
    form = {"name": "Top tube", "x_mm": "500", "height_mm": "760"}
    client.post("/jobs/9/lines/points", data=form)
    page = in_plain(client.get("/jobs/9?proposal=A").text)
    assert re.search(r"Stand-over room.*?>45<", page, re.DOTALL)
    assert "711 mm is usual for this inseam" in page


def test_pairs_of_the_makers_sheet_come_go_and_judge(client: TestClient) -> None:
    form = {
        "name": "Wide",
        "front_tire": "100/90-19 57H",
        "rear_tire": "120/90-18 65H",
        "front_rim_mm": "54 - 63",
    }
    client.post("/machines/6/lines/pairs", data=form)
    added = machines.sheet(6).pairs[-1]
    assert (added.front_rim_mm, added.rear_make, added.provenance) == (
        "54 - 63",
        None,
        "maker's sheet",
    )
    page = client.get("/jobs/6?proposal=B&station=check").text
    assert "not on the maker’s sheet" not in page.replace("&#39;", "’")
    assert "sheet 54 mm to 63 mm" in in_plain(page)  # 47 mm rim
    live(client, "/machines/6/answer", **{f"pair__{added.id}__front_rim_mm".replace("__", ":"): ""})
    assert machines.sheet(6).pairs[-1].front_rim_mm is None
    for wrong in ({"front_tire": "100/90"}, {"front_rim_mm": "wide"}, {"front_rim_mm": "63-54"}):
        answer = client.post("/machines/6/lines/pairs", data={**form, "name": "Other", **wrong})
        assert answer.status_code == 422
        assert next(iter(wrong.values())) in answer.text
    client.post("/machines/6/lines/drop", data={"pair": str(added.id)})
    assert "not on the maker" in client.get("/jobs/6?proposal=B&station=check").text


@pytest.mark.parametrize(
    ("key", "typed", "kept"),
    [
        ("front.fitted.made", "1523", "1523"),
        ("front.fitted.pressure_kpa", "2,2 bar", 220.0),
        ("front.fitted.pressure_kpa", "2.2", 220.0),
        ("front.hub.runout_mm", "0.8", 0.8),
        ("front.fitted.arrow", "with the arrow", "with the arrow"),
        ("front.fitted.made", "6023", None),
        ("front.fitted.arrow", "sideways", None),
        ("front.fitted.make", "x" * 61, None),
        ("front.fitted.pressure_kpa", "9000", None),
        ("front.hub.colour", "red", None),
    ],
)
def test_what_is_known_of_a_wheel_to_be_fitted_is_kept_or_refused(
    client: TestClient, key: str, typed: str, kept: float | str | None
) -> None:
    data = {f"proposal:{key}": typed}
    answer = client.post("/jobs/11/answer?proposal=B", data=data, headers={"HX-Request": "true"})
    branch = jobs.job(11).proposals[1].changes
    for step in key.split("."):
        branch = branch.get(step, {}) if isinstance(branch, dict) else {}
    assert (answer.status_code, branch or None) == ((200, kept) if kept else (422, None))
    if kept is None and "colour" not in key:
        assert f'value="{typed}"' in answer.text or "Choose one of" in answer.text
