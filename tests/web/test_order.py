"""The order list in the browser's words."""

import re

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.core.amounts import in_plain
from jentrik.store import costs
from jentrik.store.listing import Wanted, jobs_listed


@pytest.fixture(autouse=True)
def _ready(app: FastAPI) -> None:
    app.state.shop.ready()


@pytest.fixture(autouse=True)
def _unpriced(app: FastAPI) -> None:
    app.state.shop.database.execute_sql("DELETE FROM cost_entry")


def test_prices_add_up_and_what_has_none_is_named(client: TestClient) -> None:
    page = client.get("/jobs/6/order").text
    assert "front tire 90/90-19 52H, Gull Coaster, rear tire 110/90-18 61H, Gull Coaster" in page
    front, rear = (
        "price:front tire 90/90-19 52h, gull coaster",
        "price:rear tire 110/90-18 61h, gull coaster",
    )
    client.post("/jobs/6/order", data={front: "89,90", rear: "104.50"})
    page = client.get("/jobs/6/order").text
    # 89.90 + 104.50, two wheels at an hour each and 60 an hour.
    assert "<b>314.40</b>" in page
    client.post("/jobs/6/order", data={"source:front tire 90/90-19 52h, gull coaster": "in stock"})
    assert "<b>224.50</b>" in client.get("/jobs/6/order").text
    client.post("/jobs/6/order/undo")
    assert "<b>314.40</b>" in client.get("/jobs/6/order").text
    client.post("/jobs/6/order", data={"life:rear tire 110/90-18 61h, gull coaster": "9000"})
    assert "comes first" in client.get("/jobs/6/order").text


@pytest.mark.parametrize(
    ("key", "typed"),
    [
        ("price:front tire 90/90-19 52h, gull coaster", "cheap"),
        ("quantity:front tire 90/90-19 52h, gull coaster", "0"),
        ("hours:A:wheels exchanged", "-1"),
        ("life:front tire 90/90-19 52h, gull coaster", "far"),
        ("source:front tire 90/90-19 52h, gull coaster", "stolen"),
        ("km-a-year", "1.5"),
        ("years", "51"),
        ("swaps-a-year", "twice"),
    ],
)
def test_a_refused_entry_keeps_nothing_and_what_was_typed(
    client: TestClient, key: str, typed: str
) -> None:
    other = "price:rear tire 110/90-18 61h, gull coaster"
    answer = client.post("/jobs/6/order", data={key: typed, other: "50"})
    assert answer.status_code == 422
    assert typed == "stolen" or f'value="{typed}"' in answer.text
    assert costs.entries(6) == {}


def test_every_demo_job_has_an_order_list(client: TestClient) -> None:
    for job in range(1, 12):
        assert client.get(f"/jobs/{job}/order").status_code == 200
    two = client.get("/jobs/1/order").text
    assert "old hubs laced anew" in two
    assert "a second set" in two


def test_a_second_set_shows_what_a_swap_and_a_year_cost(client: TestClient) -> None:
    tire = "front tire 47-584"
    written = {f"price:{tire}": "40", "source:rear tire 47-584": "in stock", "years": "4"}
    lasting = {f"life:{tire}": "4000", "km-a-year": "2000", "swaps-a-year": "2"}
    client.post("/jobs/1/order?columns=0.1", data={**written, **lasting})
    page = client.get("/jobs/1/order?columns=0.1").text
    swap, year = (re.findall(r"<td>.*?</td>", one) for one in _foot(page)[-2:])
    # Two wheels in an hour at 60; the tire's 40 over two years, the work's 60 over four.
    assert ["the old wheels are gone" in swap[0], swap[1]] == [True, "<td>60.00</td>"]
    assert ["<b>35.00</b>" in year[0], "without swaps" in year[0]] == [True, True]
    assert ["<b>155.00</b>" in year[1], "at least" in year[1]] == [True, True]


def _foot(page: str) -> list[str]:
    return page[page.index("<tfoot>") : page.index("</tfoot>")].split("<tr>")


def test_the_customer_is_handed_one_page_they_understand(client: TestClient) -> None:
    page = in_plain(client.get("/jobs/10/customer?proposal=A").text)
    assert "Offer for Lighthouse keeper: Lighthouse single" in page
    assert "Trail 24 mm less, about 5 times what a rider notices" in page
    assert page.count("Trail 24 mm less") == 1  # not once more among what to mind
    assert "Speed reads 15.3 % high" in page
    assert "Not in it yet: front tire" in page
    for banned in ("fits", "is legal"):
        assert banned not in page
    client.post("/jobs/10/order", data={"price:front tire 110/80-18 58s": "140"})
    assert "200.00 EUR" in client.get("/jobs/10/customer?proposal=A").text  # an hour at 60
    done = jobs_listed(Wanted(state="done")).rows
    assert len(done) > 5
    handed = client.get(f"/jobs/{done[0].id}/customer").text
    assert "Hand-over: " in handed
    assert "What was done" in handed


def test_a_job_waits_for_what_is_ordered_until_it_arrives(client: TestClient) -> None:
    front, rear = "front tire 90/90-19 52h, gull coaster", "rear tire 110/90-18 61h, gull coaster"
    page = client.get("/jobs/6/order/suppliers").text
    assert "No supplier yet" in page
    written = {f"supplier:{front}": "Quay wholesale", f"price:{front}": "89.90"}
    client.post("/jobs/6/order/suppliers", data={**written, f"state:{front}": "ordered"})
    client.post("/jobs/6/order/suppliers", data={f"supplier:{rear}": "Quay wholesale"})
    page = client.get("/jobs/6/order/suppliers").text
    assert "Waits for 1 part." in page
    assert "<h2>Quay wholesale</h2>" in page
    assert "Together, 1 without a price" in page
    assert "<b>89.90</b>" in page
    waits = "waits: Front tire 90/90-19 52H, Gull Coaster since today"
    assert in_plain(client.get("/jobs").text).count(waits) == 1
    client.post("/jobs/6/order/suppliers", data={f"state:{front}": "arrived"})
    assert waits not in in_plain(client.get("/jobs").text)
    client.post("/jobs/6/order/undo?of=suppliers")
    assert waits in in_plain(client.get("/jobs").text)
    for typed in ("lost", ""):
        client.post("/jobs/6/order/suppliers", data={f"state:{front}": typed})
    assert costs.entries(6).get(f"state:{front}") is None  # as it is at first
    client.post("/jobs/6/order", data={f"source:{rear}": "in stock"})
    assert f"From stock: {rear}".casefold() in client.get("/jobs/6/order/suppliers").text.casefold()


@pytest.mark.parametrize(("key", "typed"), [("state", "lost"), ("supplier", "x" * 41)])
def test_a_state_there_is_none_of_and_an_endless_name_are_refused(
    client: TestClient, key: str, typed: str
) -> None:
    answer = client.post(
        "/jobs/6/order/suppliers", data={f"{key}:front tire 90/90-19 52h, gull coaster": typed}
    )
    assert answer.status_code == 422
    assert costs.entries(6) == {}


def test_what_was_priced_before_makes_told_tires_apart_still_counts(client: TestClient) -> None:
    old = {"price:front tire 90/90-19 52h": "70", "price:rear tire 110/90-18 61h": "90"}
    client.patch("/api/jobs/6/order", json={"entries": old})
    assert "<b>280.00</b>" in client.get("/jobs/6/order").text  # 70 + 90 + two hours at 60
    client.post("/jobs/6/order", data={"price:front tire 90/90-19 52h, gull coaster": "80"})
    assert "<b>290.00</b>" in client.get("/jobs/6/order").text
