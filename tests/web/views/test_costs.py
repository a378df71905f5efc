"""What work on a machine cost, year by year, by hand from the order lists of its jobs."""

import re
from datetime import datetime
from decimal import Decimal

import pytest
from fastapi.testclient import TestClient

from jentrik.store import documents
from jentrik.store.documents import JobDocument
from jentrik.web.drawing.year_bars import YearBar, year_bars
from jentrik.web.pages.order.costs import cost_of, costs_view
from jentrik.web.shop import Shop

TOURER = 1


def priced(shop: Shop, **more: object) -> JobDocument:
    """Return the tourer's first done job: two tires of 31.90, 0.8 h at 60 an hour."""
    (one,) = [
        document for document in documents.documents_of(TOURER) if document.values["tag"] == 12
    ]
    values = {**one.values, **more}
    return JobDocument(one.id, datetime(2026, 1, 1), "Ida", values)


def test_a_jobs_parts_and_hours_are_those_of_its_order_list(shop: Shop) -> None:
    cost = cost_of(priced(shop))
    assert cost is not None
    assert cost.parts == Decimal("63.80")
    assert cost.whole == Decimal("63.80") + cost.hours * 60
    assert cost.hours == Decimal("0.8")
    assert cost_of(priced(shop, costs={})) is None  # not priced is not free


def test_years_add_up_and_what_lacks_a_price_is_at_least(shop: Shop) -> None:
    half = {"price:front tire 37-622": "31.90", "hours:A:wheels exchanged": "0.8"}
    view = costs_view(
        [
            priced(shop, fitted_on="2025-03-01"),
            priced(shop, fitted_on="2025-09-01"),
            priced(shop, fitted_on="2026-02-01", costs=half),
            priced(shop, fitted_on="2026-02-02", costs={}),
        ],
        "EUR",
    )
    assert view is not None
    # 63.80 + 48 = 111.80, twice; then 31.90 + 48 with the rear tire unpriced.
    assert view.rows == [(2025, "223.60"), (2026, "at least 79.90")]
    assert view.without == 1
    assert costs_view([], "EUR") is None


def test_the_bars_stand_in_proportion(shop: Shop) -> None:
    bars = [YearBar(2023, Decimal(200), at_least=False), YearBar(2025, Decimal(50), at_least=True)]
    drawn = year_bars(bars, "Cost", "EUR")
    heights = [
        float(floor) - float(top)
        for floor, top in re.findall(r'year-bar[^"]*" d="M[\d.]+ ([\d.]+)L[\d.]+ ([\d.]+)L', drawn)
    ]
    assert heights[0] / heights[1] == pytest.approx(4, abs=0.02)
    assert "2024" in drawn  # the year between stands empty


def test_the_demo_shows_what_a_machine_cost(client: TestClient) -> None:
    page = client.get(f"/machines/{TOURER}/log").text
    assert "Cost by year, EUR" in page
    assert "<td>2026</td><td>111.80</td>" in page
