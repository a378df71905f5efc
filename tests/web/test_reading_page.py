"""The reader's page: a sidewall explained, and put where it belongs."""

import pytest
from fastapi.testclient import TestClient

from jentrik.store import jobs, machines
from jentrik.store.listing import where_a_tire_goes
from jentrik.web.pages.reading.view import ReadingView, reading_view
from jentrik.web.security.guard import TOKEN_FIELD, TOKEN_HEADER
from jentrik.web.shop import Shop
from tests.conftest import A_MONDAY

FAST = "120/70 ZR 17 M/C (58W)\nTL FRONT\nDOT AB12 CDE 4525\n290 KPA (42 PSI)\nharbourgrip"
TODAY = A_MONDAY.date()


def view(text: str, *, rim: str = "", window: float = 3.0) -> ReadingView:
    places = {kind: where_a_tire_goes(kind) for kind in ("bicycle", "motorcycle")}
    return reading_view(text, rim=rim, window=window, today=TODAY, places=places)


def test_figures_come_in_both_halves_of_the_world(shop: Shop) -> None:
    figures = {name: text.replace("\u2009", " ") for name, text in view(FAST).figures}
    # 236 kg / 0.45359237 = 520 lb; 270 km/h / 1.609344 = 168 mph; 1e6 / (600 pi) = 531.
    assert figures["Load"] == "236 kg (520 lb) on one tire"
    assert figures["Speed"] == "270 km/h (168 mph) at full load"
    assert figures["Turns"] == "531 a kilometre"
    assert figures["Made"] == "week 45 of 2025, from Sunday 9 November 2025; 1.0 years old"


def test_every_piece_stands_there_and_what_is_not_known_is_unread(shop: Shop) -> None:
    pieces = view(FAST).pieces
    assert [piece.text for piece in pieces if piece.unread] == ["harbourgrip"]
    assert all(piece.means for piece in pieces)


def test_a_name_of_several_rims_is_explained_once(shop: Shop) -> None:
    shown = view("26 x 1 3/8")
    assert len(shown.others) == 1
    assert "several-rims" not in {trap.id for trap in shown.traps}
    assert set(shown.names) == {"26 x 1 3/8", "650A"}


def test_a_wider_window_shows_more_sizes(shop: Shop) -> None:
    narrow, wide = (len(view("110/80-18", window=window).near) for window in (1.0, 5.0))
    assert narrow < wide
    assert view("700C").near == []


def test_the_reading_goes_only_to_machines_of_its_kind_and_end(shop: Shop) -> None:
    front = [target.label for target in view(FAST).targets]
    assert front
    assert front[0] == "the wheel shelf"
    assert all(label.endswith("front") for label in front[1:])
    assert not any("Green tourer" in label for label in front)
    assert any("Green tourer" in target.label for target in view("37-622").targets)


@pytest.mark.parametrize(
    ("rim", "warned", "widths"),
    [("622x19C", 0, "28 to 62"), ("584x19", 1, "28 to 62"), ("622x33", 1, "No table row")],
)
def test_a_rim_mark_is_held_against_the_tire(
    shop: Shop, rim: str, warned: int, widths: str
) -> None:
    shown = view("37-622", rim=rim).rim
    assert (len(shown.warned), shown.judged) == (warned, True)
    assert widths in shown.widths
    assert not view("", rim=rim).rim.judged
    assert view("37-622", rim="nonsense").rim.complaint


def test_the_address_can_be_handed_on(client: TestClient) -> None:
    page = client.get("/read", params={"code": FAST, "rim": "MT 3.50 x 17", "near": "5"}).text
    assert "harbourgrip" in page
    assert "Nothing speaks against the pair" in page
    assert 'value="5" selected' in page


@pytest.mark.parametrize(
    ("params", "said"),
    [
        ({"code": "37-623"}, "bead seat"),
        ({"code": "37-622", "rim": "x"}, "bead seat"),
        ({"code": "y" * 4999}, "at most"),
        ({"code": "<b>x</b>"}, "No tire size is named"),
    ],
)
def test_a_refused_text_stays_as_typed_with_the_reason(
    client: TestClient, params: dict[str, str], said: str
) -> None:
    answer = client.get("/read", params=params)
    assert answer.status_code == 422
    assert said in answer.text
    assert "<b>x" not in answer.text


def test_a_reading_is_put_into_a_proposal_and_on_a_machine(client: TestClient) -> None:
    there = client.post("/read/put", data={"code": "50-584", "where": "proposal:1:B:rear"})
    assert there.url.path == "/jobs/1"
    assert jobs.job(1).proposals[1].changes["rear"] == {"tire": "50-584"}
    there = client.post("/read/put", data={"code": "40-622", "where": "machine:1:front"})
    assert there.url.path == "/machines/1"
    assert machines.sheet(1).text("front.tire") == "40-622"


@pytest.mark.parametrize(
    "where",
    [
        "",
        "machine:1",
        "machine:x:front",
        "machine:1:middle",
        "machine:999:front",
        "shelf:1:x",
        "proposal:1:Z:rear",
        "proposal:1:A",
        "proposal:999:A:rear",
        "proposal:1:A:up",
    ],
)
def test_a_place_that_is_not_there_takes_nothing(client: TestClient, where: str) -> None:
    before = machines.sheet(1), jobs.job(1)
    answer = client.post("/read/put", data={"code": "40-622", "where": where})
    assert answer.status_code in (404, 422)
    assert (machines.sheet(1), jobs.job(1)) == before


def test_a_code_the_machine_cannot_take_is_refused(client: TestClient) -> None:
    answer = client.post("/read/put", data={"code": "700C", "where": "machine:1:front"})
    assert answer.status_code == 422
    assert "names no width" in answer.text
    assert machines.sheet(1).text("front.tire") == "37-622"


def test_putting_wants_the_token(client: TestClient) -> None:
    del client.headers[TOKEN_HEADER]
    form = {"code": "40-622", "where": "machine:1:front", TOKEN_FIELD: "x" * 40}
    assert client.post("/read/put", data=form).status_code == 403
