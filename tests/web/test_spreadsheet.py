"""Tables of a spreadsheet: columns matched, lines imported together or not at all."""

import io
import re

import pytest
from fastapi.testclient import TestClient

from jentrik.core.errors import DocumentError
from jentrik.exchange.csv_reading import matched, read_spreadsheet
from jentrik.store import logbook, machines, shelf, speeds
from jentrik.web.pages.exchange.spreadsheet import KINDS

_CHOSEN = r'<select name="([^"]+)">(?:(?!</select>).)*?value="(\d+)" selected'


def bring(client: TestClient, kind: str, text: str | bytes) -> str:
    raw = text.encode() if isinstance(text, str) else text
    answer = client.post(
        "/shop/exchange/table", data={"kind": kind}, files={"table": ("t.csv", io.BytesIO(raw))}
    )
    return str(answer.text)


def import_it(client: TestClient, page: str, **changed: str) -> tuple[int, str]:
    action = re.search(r'action="(/shop/exchange/table/[0-9a-f]{16})"', page)[1]
    chosen = dict(
        re.findall(r'<select name="([^"]+)">(?:(?!</select>).)*?value="(\d+)" selected', page)
    )
    kind = re.search(r'name="kind" value="(\w+)"', page)[1]
    answer = client.post(action, data={"kind": kind, **chosen, **changed})
    return answer.status_code, answer.text


MACHINES = """Name;Customer;Front tire;Rear tire;Wheelbase, in;Head angle
Dune sled;Ida;37-622;47-584;41,5;71,5
Pier runner;;120/70-17 58W;180/55-17 73W;;
"""


def test_machines_come_in_with_their_figures_and_go_back_together(client: TestClient) -> None:
    page = bring(client, "machines", MACHINES)
    assert "Import 2 lines" in page
    assert import_it(client, page)[0] == 200
    sled = machines.sheet(machines.named("dune sled"))
    assert sled.owner == "Ida"
    assert sled.figures["wheelbase_mm"].value == pytest.approx(1054.1)
    assert sled.figures["head_angle_deg"].provenance == "measured"
    assert sled.figures["fork.offset_mm"].provenance == "assumed"
    assert machines.sheet(machines.named("Pier runner")).kind == "motorcycle"
    assert client.get("/jobs").status_code == 200
    client.post("/shop/exchange/undo")
    assert machines.named("Dune sled") is None
    assert machines.named("Pier runner") is None
    client.post("/shop/exchange/undo", data={"act": "redo"})
    assert machines.sheet(machines.named("Dune sled")).figures["wheelbase_mm"].value > 1054


def test_one_bad_line_keeps_all_out_and_is_named(client: TestClient) -> None:
    lines = "Tire,DOT,Count\n37-622,0824,3\n\nround,0824,1\n47-584,9924,1\n47-584,,\n"
    page = bring(client, "tires", lines)
    before = len(shelf.tires())
    status, refused = import_it(client, page)
    assert status == 422
    assert "2 of 4 lines cannot be imported" in refused
    assert "<b>Line 4</b>" in refused
    assert "<b>Line 5</b> “9924” is no week and year" in refused
    assert len(shelf.tires()) == before
    page = bring(client, "tires", lines.replace("round", "700x38C").replace("9924", "0924"))
    assert import_it(client, page)[0] == 200
    assert [tire.pieces for tire in shelf.tires()[: len(shelf.tires()) - before]] == [1, 1, 1, 3]


def test_pairs_and_readings_in_the_unit_of_their_head(client: TestClient) -> None:
    pairs = 'Machine,GPS (mph),"Shown, km/h"\nBreakwater twin,31,53\n'
    import_it(client, bring(client, "pairs", pairs))
    (kept,) = speeds.pairs(6)
    assert (kept.pair.true_kmh, kept.pair.shown_kmh) == (pytest.approx(49.89, abs=0.01), 53)
    import_it(
        client, bring(client, "odometer", "Machine\tDate\tkm\nBreakwater twin\t2026-11-20\t99000\n")
    )
    assert logbook.log(6).odometer[6][-1].km == 99000
    page = bring(client, "odometer", "Machine,Date,km\nNo such,2026-11-20,1\n")
    assert "There is no machine “No such”" in import_it(client, page)[1]


def test_a_column_that_is_needed_is_asked_for(client: TestClient) -> None:
    page = bring(client, "tires", "What,Stock\n37-622,2\n")
    status, said = import_it(client, page)
    assert status == 422
    assert "Say which column is: Tire code" in said
    assert import_it(client, page, code="0")[0] == 200


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "no line below"),
        (b"Tire\n", "no line below"),
        (b"Tire\n\x00\n", "no text"),
        (b'Tire\n"open\n', "Line 2 cannot be read"),
        (b"Tire\n" + b"x" * 600 + b"\n", "Line 2 has a cell longer"),
        (b"a," * 70 + b"b\n1\n", "60 columns"),
        (b"x\n" * 20_002, "20000 lines"),
        (b"x" * 5_000_001, "at most 5 MB"),
    ],
)
def test_a_file_that_is_no_table_is_refused(raw: bytes, said: str) -> None:
    with pytest.raises(DocumentError, match=said):
        read_spreadsheet(raw)


def test_heads_are_matched_by_their_words() -> None:
    names = KINDS["machines"].names()
    found = matched(("Bike name?", "name", "REAR TIRE", "front-tire code", "Wheelbase (mm)"), names)
    assert found == {"machine": 0, "rear.tire": 2, "front.tire": 3, "wheelbase_mm": 4}
    sheet = read_spreadsheet("Näme,Wheelbase (in)\nx,1\n".encode("cp1252"))
    assert (sheet.heads[0], sheet.unit(1), sheet.unit(0)) == ("Näme", "in", "")


@pytest.mark.parametrize(("kind", "table"), [("machines", "machines"), ("tires", "shelf")])
def test_the_shops_own_table_comes_back_and_changes_nothing(
    client: TestClient, kind: str, table: str
) -> None:
    before = client.get("/api/export").json()
    text = client.get(f"/api/tables/{table}.csv").text
    page = bring(client, kind, text)
    assert import_it(client, page)[0] == 200
    after = client.get("/api/export").json()
    for one in (before, after):
        one.pop("exported_at")
    assert after == before


def test_a_line_is_known_by_another_programs_key_and_changes_what_it_says(
    client: TestClient,
) -> None:
    tire = client.post("/api/shelf", json={"code": "37-622", "external_id": "sku-7"}).json()
    lines = "Tire,External id,Pieces,Price,Hangs at\n37-622,sku-7,5,39.90,hook 9\n"
    assert import_it(client, bring(client, "tires", lines))[0] == 200
    now = client.get(f"/api/shelf/{tire['id']}").json()
    assert (now["pieces"], now["price"], now["place"]) == (5, "39.90", "hook 9")
    assert client.get("/api/shelf", params={"external_id": "sku-7"}).json()["total"] == 1
