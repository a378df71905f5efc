"""Tables for a spreadsheet, read back by the standard library and by pandas."""

import csv
import io

import pandas
import pytest
from fastapi.testclient import TestClient

from jentrik.core.amounts import mm
from jentrik.exchange.csv_table import CsvTable, as_csv
from jentrik.store import jobs, machines
from jentrik.web.pages.tables.lists import LISTS, OF_JOB


def table(client: TestClient, address: str, **query: str) -> list[list[str]]:
    answer = client.get(address, params=query)
    assert answer.status_code == 200
    assert answer.headers["content-type"] == "text/csv; charset=utf-8"
    return list(csv.reader(io.StringIO(answer.text), delimiter=";" if query else ","))


def test_a_cell_is_itself_or_safe() -> None:
    rows = [
        ("=1+1", "@SUM(A1)", "+49 40", "-x", "\tx", f"{mm(-3)} left"),
        (-3.5, 7, None, True, 0.1 + 0.2, 'say "x", y\nz'),
    ]
    written = as_csv(CsvTable("x", ("a", "b", "c", "d", "e", "f"), rows))
    _, first, second = csv.reader(io.StringIO(written))
    assert first == ["'=1+1", "'@SUM(A1)", "'+49 40", "'-x", "'\tx", "'-3 mm left"]
    assert second == ["-3.5", "7", "", "yes", "0.3", 'say "x", y\nz']
    comma = as_csv(CsvTable("x", ("a", "b"), [(-3.5, "1,5")]), "comma")
    assert list(csv.reader(io.StringIO(comma), delimiter=";"))[1] == ["-3,5", "1,5"]


@pytest.mark.parametrize("name", LISTS)
def test_every_list_of_the_shop_leaves_as_a_table(client: TestClient, name: str) -> None:
    heads, *rows = table(client, f"/api/tables/{name}.csv")
    assert rows
    assert {len(row) for row in rows} == {len(heads)}
    read = pandas.read_csv(io.StringIO(client.get(f"/api/tables/{name}.csv").text))
    assert list(read.columns) == heads
    assert len(read) == len(rows)


def test_a_list_has_every_line_and_the_figures_of_the_shop(client: TestClient) -> None:
    heads, *rows = table(client, "/api/tables/machines.csv")
    assert len(rows) == len(machines.names())
    tourer = dict(zip(heads, rows[[row[2] for row in rows].index("Green tourer")], strict=True))
    assert tourer["Wheelbase, mm"] == "1046"
    heads, *rows = table(client, "/api/tables/jobs.csv")
    assert len(rows) > len(jobs.jobs())  # those that are done, too
    heads, *comma = table(client, "/api/tables/wear.csv", decimals="comma")
    assert any("," in row[heads.index("Tread left, mm")] for row in comma)


@pytest.mark.parametrize("name", OF_JOB)
def test_what_a_job_comes_to_leaves_as_a_table(client: TestClient, name: str) -> None:
    heads, *rows = table(client, f"/api/jobs/1/tables/{name}.csv")
    assert len(rows) > 3
    assert {len(row) for row in rows} == {len(heads)}


def test_the_ledger_table_has_the_bench_s_figures(client: TestClient) -> None:
    read = pandas.read_csv(io.StringIO(client.get("/api/jobs/1/tables/ledger.csv").text))
    row = read[(read["Proposal"] == "A") & (read["Figure"] == "Bottom-bracket height")].iloc[0]
    # Both radii 348 -> 339: the bottom bracket comes down by nine.
    assert (row["As found"], row["Planned"], row["Change"], row["Unit"]) == (284, 275, -9, "mm")
    assert "\u2009" not in client.get("/api/jobs/1/tables/findings.csv").text


def test_a_table_that_is_none_is_refused(client: TestClient) -> None:
    assert client.get("/api/tables/boats.csv").status_code == 404
    assert client.get("/api/jobs/1/tables/boats.csv").status_code == 404
    assert client.get("/api/jobs/999/tables/ledger.csv").status_code == 404
    assert client.get("/api/tables/jobs.csv?decimals=dot").status_code == 422
