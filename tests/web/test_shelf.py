"""The wheel shelf: tires come with their date, go, and come back."""

import sqlite3
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from jentrik.core.errors import Refusal
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.shelf import ShelfTire
from jentrik.store import machines, shelf
from jentrik.store.database import FILE_NAME, WITH_DOCUMENTS, open_database
from jentrik.store.listing import Wanted, same_rims, shelf_listed
from jentrik.store.migrations import MIGRATIONS
from jentrik.store.undo import Scope, undo
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.shelf.shelving import put_on_shelf
from jentrik.web.pages.shelf.view import shelf_view
from jentrik.web.shop import Shop
from tests.conftest import A_MONDAY

TODAY = A_MONDAY.date()


def test_a_tire_comes_with_its_date(shop: Shop) -> None:
    put_on_shelf(shop, "120/70 ZR 17 M/C (58W)\nDOT AB12 CDE 1523\nharbourgrip")
    tire = shelf.tires()[0]
    assert (tire.code, tire.week, tire.year) == ("120/70 ZR 17 M/C (58W)", 15, 2023)
    # The Sunday of week 15 of 2023 is 9 April; to 23 November 2026 that is 1324 days.
    assert tire.age_years(TODAY) == pytest.approx(1324 / 365.2425)


def test_without_a_date_the_age_is_unknown_and_not_nought(shop: Shop) -> None:
    put_on_shelf(shop, "37-622")
    assert shelf.tires()[0].age_years(TODAY) is None
    listed = shelf_listed(Wanted())
    assert shelf_view(listed, Wanted(), "/shelf", TODAY, same_rims={}).rows[0].made == "age unknown"
    assert ShelfTire(1, "37-622", 15, None, TODAY).age_years(TODAY) is None


@pytest.mark.parametrize("text", ["", "1523", "58H", "37-623", "nothing"])
def test_what_names_no_tire_is_refused(shop: Shop, text: str) -> None:
    before = shelf.tires()
    with pytest.raises(Refusal):
        put_on_shelf(shop, text)
    assert shelf.tires() == before


def test_the_same_rim_is_the_same_bead_seat_and_kind(shop: Shop) -> None:
    refresh(shop)

    def ends(code: str, machine_id: int) -> tuple[Any, ...]:
        tire = read_code(code)
        rim = (tire.bead_seat_diameter_mm, str(tire.vehicle))
        found = same_rims([rim], most=50)[rim]
        return next((one[2] for one in found.shown if one[0] == machine_id), ())

    assert ends("47-622", 1) == ("front", "rear")
    assert ends("47-406", 2) == ("front",)
    assert ends("47-507", 2) == ()
    assert ends("120/70-17", 1) == ()


def test_a_tire_taken_off_comes_back(shop: Shop) -> None:
    before = shelf.tires()
    with shop.step("off", "shelf drop") as step:
        shelf.drop_tire(step, before[0].id)
    assert len(shelf.tires()) == len(before) - 1
    scope = Scope(subject=shelf.SUBJECT)
    assert undo(shop.database, None, scope, shop.author, now=A_MONDAY).label == "off"
    assert shelf.tires() == before
    assert undo(shop.database, None, scope, shop.author, now=A_MONDAY) is None


@pytest.mark.parametrize("version", range(1, WITH_DOCUMENTS))  # later ones: a database of each
def test_a_shop_of_any_version_before_keeps_what_it_had(tmp_path: Path, version: int) -> None:
    raw = sqlite3.connect(tmp_path / FILE_NAME)
    raw.create_function("casefold", 1, str.casefold)
    for statements in MIGRATIONS[:version]:
        for statement in statements:
            raw.execute(statement)
    raw.execute(f"PRAGMA user_version = {version}")
    raw.execute(
        "INSERT INTO machine (id, name, kind, drawn_as, created_at)"
        " VALUES (7, 'old', 'bicycle', 'diamond frame', '2026-01-01')"
    )
    raw.execute(
        "INSERT INTO measurement (id, machine_id, key, value, provenance, taken_on) "
        "VALUES (1, 7, 'wheelbase_mm', '1050.5', 'measured', '2026-01-02')"
    )
    raw.commit()
    raw.close()
    database = open_database(tmp_path)
    assert database.execute_sql("PRAGMA user_version").fetchone() == (len(MIGRATIONS),)
    kept = machines.sheet(7)
    assert (kept.name, kept.positions) == ("old", ())
    figure = Figure(1050.5, Provenance.MEASURED, date(2026, 1, 2), None, ())
    assert kept.figures == {"wheelbase_mm": figure}
    assert shelf.tires() == []
    database.close()


def test_the_page_takes_gives_and_takes_back(client: TestClient) -> None:
    page = client.post("/shelf", data={"code": "40-622 DOT AB 1523"})
    assert "week 15 of 2023, from Sunday 9 April 2023; 3.6 years" in page.text.replace(
        "\u2009", " "
    )
    assert "Green tourer, front and rear" in page.text
    tire = shelf.tires()[0]
    assert "40-622 off the shelf" in client.post("/shelf/drop", data={"tire": str(tire.id)}).text
    assert shelf.tires()[0] != tire
    client.post("/shelf/undo")
    assert shelf.tires()[0] == tire


def test_a_refused_tire_stays_as_typed(client: TestClient) -> None:
    refused = client.post("/shelf", data={"code": "40-623"})
    assert refused.status_code == 422
    assert 'value="40-623"' in refused.text
    assert "bead seat" in refused.text
    assert len(shelf.tires()) == 9


def test_a_reading_goes_onto_the_shelf_with_its_date(client: TestClient) -> None:
    text = "47-584\nDOT AB 0826"
    client.post("/read/put", data={"code": "47-584", "text": text, "where": "shelf"})
    assert (shelf.tires()[0].week, shelf.tires()[0].year) == (8, 2026)
